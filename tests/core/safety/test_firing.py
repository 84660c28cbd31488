"""One rule and one case: what is said where it holds, where nobody knows, and whom a thing for anyone is not for."""

from __future__ import annotations

from dataclasses import replace

import pytest
from tests.core.safety.conftest import FACTS, TODAY, case_of, purpose

from uptide.core.measures.grammar import read_quantity
from uptide.core.measures.lines import Line
from uptide.core.safety.case import Case
from uptide.core.safety.caution import Caution, Grade
from uptide.core.safety.check import check, is_stopped_in
from uptide.core.safety.figures import safety_findings
from uptide.core.safety.firing import NotFor, fire
from uptide.core.safety.person import alone
from uptide.core.safety.tables import Rule
from uptide.core.safety.words import read_words
from uptide.core.skin.wearer import ANYONE, Wearer

INES = Wearer(name="Ines", pregnant=True)
UNASKED = Wearer(name="Una")


def rule(what: str, who: str = "anyone", grade: str = "stop", **more: object) -> Rule:
    made = Rule(
        "the-rule",
        grade,
        read_words(what),
        read_words(who),
        message="It Burns. Then more.",
        why="because",
        remedy="leave it out",
        label="Not for skin",
        answerable=True,
        source="ifra",
        confidence="high",
    )
    return replace(made, **more)  # type: ignore[arg-type] # each case names what it says


def fired(a_rule: Rule, case: Case) -> tuple[tuple[Caution, ...], tuple[NotFor, ...]]:
    found = fire([a_rule], case)
    return found.cautions, found.not_for


HELD = Caution(
    "the-rule",
    Grade.STOP,
    ("Lavender (true) essential oil",),
    "It Burns. Then more.",
    why="because",
    source="ifra",
    remedy="leave it out",
    confidence="high",
    answerable=True,
    label="Not for skin",
)


def test_what_holds_says_all_that_the_rule_says_and_of_whom_where_it_is_about_somebody() -> None:
    case = case_of({"lavender": 1.0}, wearer=INES)

    assert fired(rule("oil:lavender"), case) == ((HELD,), ())
    assert fired(rule("oil:lavender", "pregnant"), case) == ((replace(HELD, who="Ines"),), ())
    asked = replace(case, wearer=replace(INES, breastfeeding=False))
    assert fired(rule("oil:lavender", "breastfeeding"), asked) == ((), ())


@pytest.mark.parametrize(("grade", "doubted"), [("stop", Grade.WARN), ("warn", Grade.NOTE), ("note", Grade.NOTE)])
def test_what_was_not_asked_of_somebody_is_a_question_one_grade_lower(grade: str, doubted: Grade) -> None:
    case = case_of({"lavender": 1.0}, wearer=UNASKED)
    ((found,), not_for) = fired(rule("oil:lavender", "pregnant", grade), case)

    assert not_for == ()
    assert found == Caution(
        "the-rule",
        doubted,
        ("Lavender (true) essential oil",),
        "Unknown: in pregnancy. If so: it Burns. Then more.",
        why="because",
        who="Una",
        source="ifra",
        remedy="Ask, and write it on the wearer’s card.",
        confidence="high",
        is_unknown=True,
        asks_wearer=True,
        not_asked="in pregnancy",
        grade_if_so=Grade(grade),
    )
    assert found.is_a_question


def test_a_thing_for_anyone_says_whom_it_is_not_for() -> None:
    case = case_of({"lavender": 1.0}, wearer=ANYONE)

    assert fired(rule("oil:lavender", "age<2y", "warn"), case) == (
        (),
        (
            NotFor(
                "under 2 years",
                "Lavender (true) essential oil",
                Grade.WARN,
                "the-rule",
                "It Burns. Then more.",
                label="Not for skin",
                names=("Lavender (true) essential oil",),
                age_below=24.0,
            ),
        ),
    )


def test_what_nobody_knows_of_the_thing_is_said_as_far_as_it_is_known() -> None:
    case = case_of({"tea-tree": 1.0}, wearer=INES)
    (scent,) = (part for part in case.parts if part.key == "tea-tree")
    strange = replace(scent, item=replace(scent.item, key="moss", name="Moss"))
    unknown = replace(case, parts=(*(part for part in case.parts if part.key != "tea-tree"), strange))
    ((found,), _) = fired(rule("has:MENTHOL>5", "pregnant"), unknown)
    assert found.message == "Unknown: what is in Moss. If so: it Burns. Then more."
    assert (found.grade, found.is_unknown, found.asks_wearer, found.not_asked) == (Grade.WARN, True, False, "")
    assert (found.remedy, found.grade_if_so, found.who) == ("", Grade.STOP, "Ines")

    little = replace(unknown, parts=tuple(replace(p, measured=p is not strange) for p in unknown.parts))
    ((found,), _) = fired(rule("has:MENTHOL>5"), little)
    assert found.message == "Unknown: how much Moss is in it. If it is not very little: it Burns. Then more."

    open_row = replace(unknown, waiting=("a cup of something",))
    ((found,), _) = fired(rule("has:MENTHOL>5"), open_row)
    assert found.message == "Unknown: how large a part Moss is. If it is much: it Burns. Then more."


def test_the_same_drops_are_said_for_other_droppers() -> None:
    """12 drops in 100 mL of carrier: at 20 to the mL 0.6 mL, at 30 0.4 mL, by mass of the whole."""
    case = case_of({"lavender": 1.0}, wearer=ANYONE)
    (scent,) = case.scents
    line = Line("12 drops lavender", quantity=read_quantity("12 drops"), name="lavender")
    counted = replace(scent, row=replace(scent.row, line=line, grams=0.5))
    dropped = replace(
        case, parts=(*(part for part in case.parts if part is not scent), counted), total_grams=92.5, today=TODAY
    )
    density = scent.item.density
    (dose,) = (each for each in safety_findings(dropped, check(dropped)) if each.key == "scent_dose")
    (weighed,) = (each for each in safety_findings(case, check(case)) if each.key == "scent_dose")

    shares = [100 * 12 / drops * density / (92.0 + 12 / drops * density) for drops in (20, 30, 45)]
    said = [float(words.split(" %")[0].split()[-1]) for words in dose.other.split(", ")]
    assert said == pytest.approx(shares, rel=2e-3)
    assert dose.other.startswith("The same drops are ")
    assert "at 20 drops to the mL" in dose.other
    assert weighed.other == "Weighed, it is the same in every school."


@pytest.mark.parametrize("percent", [3.0, 100.0])
def test_what_is_stopped_alone_is_what_all_rules_stop(percent: float) -> None:
    use = purpose("facial-oil")
    oils = [item for item in FACTS.ingredients.values() if item.is_fatty]
    whole = {
        item.key
        for item in oils
        if check(replace(alone(item, ANYONE, FACTS.safety, TODAY, percent), purpose=use)).open_stops
    }

    assert whole == {item.key for item in oils if is_stopped_in(item, percent, use, FACTS.safety, TODAY)}
    assert {"mustard"} <= whole < {item.key for item in oils}
