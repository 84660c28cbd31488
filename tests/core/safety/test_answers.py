"""One thing for one person, in a line: each verdict, why, and what was never asked; all else was asked and is no."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from tests.core.safety.conftest import FACTS, TODAY

from uptide.core.safety.card import answer_for, scent_limits
from uptide.core.skin.wearer import ALLERGIES, CONDITIONS, HEALTH, MEDICINES, USES, Ticks, Wearer
from uptide.core.skin.whom import Whom

ASKED: dict[str, Any] = {
    "sensitive": False, "pregnant": False, "planning": False, "breastfeeding": False, "skin": "oily", "tone": "fair",
    "born": date(1990, 1, 1), "procedure": "none", "allergies": Ticks.answered(ALLERGIES),
    "conditions": Ticks.answered(CONDITIONS), "medicines": Ticks.answered(MEDICINES), "health": Ticks.answered(HEALTH),
    "uses": Ticks.answered(USES),
}  # fmt: skip
SUN = Ticks.answered(USES, "sun")
CHECKS = "The bench checks the whole blend."


@pytest.mark.parametrize(
    ("key", "said", "verdict", "why", "remark"),
    [
        ("grapeseed", {}, "yes, for Ines", "By itself it suits oily skin; common practice.", ""),
        ("olive", {}, "not for Ines", "By itself it does not suit oily skin.", ""),
        ("olive", {"skin": "normal"}, "yes, for Ines", "By itself it suits normal skin; common practice.", ""),
        (
            "grapeseed",
            {"skin": "dry"},
            "light for Ines",
            "By itself it is light for dry skin; with something richer it serves.",
            "",
        ),
        ("grapeseed", {"skin": ""}, "nothing known stops it for Ines", CHECKS, "Not asked: kind of skin"),
        ("lavender", {}, "nothing known stops it for Ines", CHECKS, ""),
        ("lavender", {"pregnant": True}, "with care for Ines", "Scent: 1 % at most.", ""),
        (
            "lemon",
            {"uses": SUN},
            "not for Ines",
            "It burns there: 2 % at most on skin that sees the sun, and none is better.",
            "",
        ),
        (
            "lemon-verbena",
            {"uses": SUN},
            "not for Ines",
            "It burns there: none of it on skin that sees the sun, and none is better.",
            "",
        ),
        (
            "opopanax",
            {"uses": SUN},
            "with care for Ines",
            "Nobody is sure whether it burns there: keep that skin covered.",
            "",
        ),
        (
            "almond-sweet",
            {"allergies": Ticks.answered(ALLERGIES, "tree_nut")},
            "not for Ines",
            "A nut oil. Not for somebody with a tree-nut allergy.",
            "",
        ),
        (
            "sesame",
            {"allergies": Ticks()},
            "unknown for Ines",
            "Unknown: with an allergy to sesame. If so: sesame oil. Not for somebody with a sesame allergy.",
            "Not asked: allergies",
        ),
    ],
)
def test_each_verdict_says_why_and_what_was_not_asked(
    key: str, said: dict[str, Any], verdict: str, why: str, remark: str
) -> None:
    item = FACTS.ingredients[key]
    found = answer_for(item, Whom(Wearer(name="Ines", **{**ASKED, **said}), "for Ines"), FACTS.safety, TODAY)

    assert found.answer == f"{item.name}: {verdict}"
    assert found.working.endswith(why)
    assert found.remark == (f"{remark}; unknown is never no." if remark else "")
    assert found.about == key


def test_a_child_below_the_age_near_its_face_is_warned_and_on_that_birthday_no_more() -> None:
    def near_the_face(born: date) -> bool:
        child = Wearer(name="Bo", **{**ASKED, "born": born, "skin": ""})
        found = answer_for(FACTS.ingredients["eucalyptus-globulus"], Whom(child, "for Bo"), FACTS.safety, TODAY)
        return "Near the face: not under 10 years." in found.working

    facts = FACTS.safety.scents["eucalyptus-globulus"]
    assert facts.least_age_near_face == 10
    assert [near_the_face(born) for born in (date(2016, 11, 26), date(2016, 11, 25), date(1990, 1, 1))] == [
        True,
        False,
        False,
    ]


def test_the_least_of_a_wearer_s_limits_counts() -> None:
    def limits(**said: Any) -> tuple[float | None, float | None]:
        return scent_limits(Wearer(name="Ines", **{**ASKED, **said}), FACTS.safety, TODAY)

    assert limits() == (None, None)
    known = {limit.whom: (limit.most, limit.suggested) for limit in FACTS.safety.dose_limits if limit.for_wearer}
    each = [limits(pregnant=True), limits(sensitive=True), limits(born=date(2026, 10, 1))]
    assert set(each) <= set(known.values())
    both = limits(pregnant=True, sensitive=True)
    assert both == (min(each[0][0] or 9, each[1][0] or 9), min(each[0][1] or 9, each[1][1] or 9))
    assert limits(born=None) == (None, None)  # what may be so is no limit yet
