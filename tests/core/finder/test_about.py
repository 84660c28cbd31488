"""What is asked of one thing by its name is answered from its own assessment, and nothing else is taken for a name."""

from __future__ import annotations

from dataclasses import replace

import pytest
from tests.core.finder.asking import known_of

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import QuantityError
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.about import INSTEAD, about_one
from uptide.core.finder.ask import ask
from uptide.core.finder.known import BODY
from uptide.core.finder.named import of_that_name
from uptide.core.finder.substitutes import substitutes
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.quick import QuickAnswer
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.skin.wearer import ANYONE

FACTS = shipped_catalogue()
KNOWN = known_of(FACTS)


def one(question: str) -> QuickAnswer:
    (found,) = about_one(question, KNOWN)
    return found


@pytest.mark.parametrize("question", ["argan", "Argan oil", "what is argan", "what’s argan oil", "tell me about argan"])
def test_a_name_is_answered_with_what_it_is(question: str) -> None:
    found, alone = ask(question, KNOWN), KNOWN.assess(Recipe((Entry("100 g argan"),), BODY), ANYONE)
    clogs, keeps = alone.finding("comedogenicity").value, alone.finding("keeps_months").value

    assert found.answer == (
        f"Argan oil: feels {alone.finding('feel').word}; keeps {keeps:.0f} months; "
        f"{alone.finding('skin_fit').word}; clog rating {clogs:g} of 5"
    )
    own = oil_profile(FACTS.ingredient("argan"))
    said = f"{own.linoleic:.0f} % linoleic, {own.oleic:.0f} % oleic, {own.saturated:.0f} % saturated"
    assert found.working == f"Of its acids {said}."
    assert found.about == "argan"
    assert dict(found.lines)["Warn"].startswith("Argan oil: Ask about food allergies")
    assert {label for label, _ in found.lines} == {"Keeps", "Feels", "Warn", "Not", "With care"}


@pytest.mark.parametrize("name", ["coconut", "argan", "castor", "cocoa butter"])
def test_how_it_clogs_is_said_once(name: str) -> None:
    assert one(name).answer.count("clog rating") == 1


def test_a_name_of_several_things_is_answered_for_each() -> None:
    found = about_one("bergamot", KNOWN)

    assert [each.about for each in found] == ["bergamot", "bergamot-fcf"]
    assert found[0].answer == "Bergamot (expressed) essential oil: at most 0.4 % of a body oil"
    assert found[1].answer.endswith(": at most 3 % of a body oil, 1.5 % is suggested")
    assert "Near" not in str(found[0].lines)  # it is not judged at its limit
    assert "burn" in dict(found[0].lines)["With care"] + dict(found[0].lines)["Not"] + found[0].working
    together = ask("bergamot", KNOWN)
    assert together.answer == "; ".join(each.answer for each in found)
    assert set(together.lines) >= {line for each in found for line in each.lines}  # no caution is lost between them
    assert {label for label, _ in together.lines} >= {"Not", "With care"}


def test_a_scent_that_is_for_no_skin_says_why() -> None:
    found = one("lemon verbena (oil)")

    assert found.answer == "Lemon verbena (oil): none on skin"
    assert found.working.startswith("Too much of oils that burn in the sun")


@pytest.mark.parametrize(
    "question",
    [
        "is coconut comedogenic",
        "does coconut oil clog pores",
        "will coconut clog my pores",
        "is coconut non-comedogenic",
        "coconut clog rating",
        "what is the comedogenic rating of coconut",
        "what’s comedogenicity of coconut oil",
        "clogging scale for coconut",
        "coconut oil comedogenicity",
        "comedogenic rating of coconut",
    ],
)
def test_whether_it_clogs_is_its_rating(question: str) -> None:
    found = one(question)

    assert found.answer == "Coconut oil: clog rating 4 of 5, high"  # lists, from memory; common practice
    assert "rabbit ears" in found.remark
    assert "linoleic balance" in found.working


def test_what_nobody_rates_is_said() -> None:
    assert one("is lavender comedogenic").answer == "Lavender (true) essential oil: nobody rates it"
    unrated = next(
        item
        for item in FACTS.ingredients.values()
        if item.is_fatty and oil_profile(item).comedogenicity is None and len(about_one(item.name, KNOWN)) == 1
    )
    assert one(f"is {unrated.name} comedogenic").answer == f"{unrated.name}: nobody rates it"


@pytest.mark.parametrize(
    "question",
    [
        "how long does grapeseed keep",
        "when will grapeseed go rancid",
        "is my grapeseed still good",
        "has the grapeseed gone off",
        "shelf life of grapeseed oil",
        "the keeping time of grapeseed",
        "grapeseed shelf-life",
        "grapeseed’s shelf life",
    ],
)
def test_how_long_it_keeps_is_told_from_fresh(question: str) -> None:
    alone = KNOWN.assess(Recipe((Entry("100 g grapeseed"),), BODY), ANYONE)
    months = alone.finding("keeps_months").value

    assert one(question).answer == f"Grapeseed oil: keeps {months:.0f} months from fresh"
    assert one(question).working == "In nine bottles of ten, in use, in a cool cupboard. The trade says 6 months."


def test_a_date_on_the_shelf_is_told_beside() -> None:
    fresh = one("how long does grapeseed keep").answer

    def dated(recipe: Recipe, wearer: object) -> object:
        found = KNOWN.assess(recipe, ANYONE)
        assert found.shelf_life is not None
        limit = "a supplier’s best before: lot G-1 of Grapeseed oil, 1 Dec 2026"
        return replace(found, shelf_life=replace(found.shelf_life, months=0, limited_by=limit))

    (found,) = about_one("how long does grapeseed keep", replace(KNOWN, assess=dated))  # type: ignore[arg-type]

    assert found.answer == fresh
    assert "Limited by a supplier’s best before: lot G-1 of Grapeseed oil, 1 Dec 2026." in found.working


def test_what_does_not_oxidise_says_what_ends_it() -> None:
    assert dict(one("squalane").lines)["Keeps"] == (
        "Limited by ageing: odours, hydrolysis, packaging. The trade says 24 months."
    )
    assert dict(one("grapeseed").lines)["Keeps"] == "The trade says 6 months."
    assert "is not worked out" in one("how long does rose water keep").answer


@pytest.mark.parametrize(
    "question",
    [
        "instead of argan",
        "what can I use instead of argan oil",
        "what to use in place of argan",
        "a substitute for argan",
        "alternatives to argan",
        "what replaces argan",
        "replace argan",
        "argan substitute",
    ],
)
def test_what_stands_in_is_nearest_in_use(question: str) -> None:
    others = [oil_profile(each) for each in FACTS.ingredients.values()]
    near = substitutes(oil_profile(FACTS.ingredient("argan")), others, INSTEAD)[1]
    found = one(question)

    assert found.answer == f"Instead of argan oil: {', '.join(each.oil_profile.item.name for each in near)}"
    assert [words for _, words in found.lines] == [", ".join(each.changes) or "hardly a change" for each in near]
    assert len(found.lines) == 3


def test_a_scent_is_stood_in_for_by_what_holds_the_same() -> None:
    found = one("instead of lavender")

    assert found.lines[0] == ("Lavandin essential oil", "98 % alike by what they hold")
    assert found.working == "Nearest by its constituents."
    assert one("instead of rose water").answer.endswith("nothing here is near it")


@pytest.mark.parametrize(
    "question",
    ["jojoba vs argan", "jojoba or argan", "compare jojoba with argan", "difference between jojoba and argan"],
)
def test_two_oils_are_laid_side_by_side(question: str) -> None:
    found = one(question)

    assert (found.about, found.beside) == ("jojoba", "argan")
    assert dict(found.lines)["Argan oil"] == one("argan").answer.partition(": ")[2]
    assert dict(found.lines)["Jojoba oil (liquid wax)"] == one("jojoba").answer.partition(": ")[2]
    assert "linoleic +" in dict(found.lines)["From first to second"]
    assert "brings the tree nut family" in dict(found.lines)["From first to second"]
    assert "months" not in dict(found.lines)["From first to second"]  # of another kind than those in the lines


def test_what_is_no_oil_is_told_beside_an_oil_too() -> None:
    found = one("jojoba vs lavender")

    assert (found.about, found.beside) == ("", "")
    assert [name for name, _ in found.lines] == ["Jojoba oil (liquid wax)", "Lavender (true) essential oil"]


@pytest.mark.parametrize(
    "question",
    ["zorgblat", "argn", "the best oil for me", "oils high in linoleic", "2% of 30 ml", "", "instead of joy"],
)
def test_what_names_nothing_is_not_answered(question: str) -> None:
    assert about_one(question, KNOWN) == []


@pytest.mark.parametrize(("name", "why"), [("squalene", "six double bonds"), ("what is kanuka", "another plant")])
def test_what_is_often_taken_for_another_says_what_it_is(name: str, why: str) -> None:
    with pytest.raises(QuantityError, match=why):
        ask(name, KNOWN)


def test_the_sums_are_answered_as_before() -> None:
    assert ask("2 tbsp jojoba", KNOWN).answer.startswith("25.55 g")
    assert ask("half of 250 ml", KNOWN).answer == "125 mL"
    assert ask("a third of 30 ml", KNOWN).answer == "10 mL"
    assert ask("2 % dilution in 100 ml", KNOWN).answer == "2 mL"
    assert ask("convert 3 tbsp to ml", KNOWN).answer == "44.36 mL"
    assert ask("is lavender safe for babies", KNOWN).answer.endswith("at 6 months")
    with pytest.raises(QuantityError, match="no measured amount"):
        ask("oils high in linoleic", KNOWN)


def test_everything_that_has_a_name_is_answered() -> None:
    """By its own full name each thing is found, and said something of."""
    silent = [item.name for item in FACTS.ingredients.values() if not _answered(item)]

    assert silent == []


def _answered(item: Ingredient) -> bool:
    return any(each.about == item.key and each.answer.startswith(item.name) for each in about_one(item.name, KNOWN))


def test_what_stands_in_for_somebody_is_for_them() -> None:
    plain, hers = ask("instead of almond", KNOWN), ask("instead of almond for Ines", KNOWN)

    assert {"Peanut (arachis) oil", "Brazil nut oil"} <= set(dict(plain.lines))
    assert hers.answer.startswith("Instead of sweet almond oil for Ines: ")
    assert len(hers.lines) == INSTEAD
    for name in dict(hers.lines):  # no tree nut, nor an allergen that nobody asked her about
        assert oil_profile(of_that_name(name, KNOWN)[0]).allergens == frozenset(), name
        assert "not for Ines" not in ask(f"{name} for Ines", KNOWN).answer


def test_what_stands_in_for_a_scent_may_bring_its_warnings_and_no_stop() -> None:
    found = dict(ask("instead of lavender in pregnancy", KNOWN).lines)

    assert ask("instead of lavender for Ines", KNOWN).lines  # an allergy to nuts is none to scents
    assert "Lavandin essential oil" in found  # warned of in pregnancy, as lavender is
    assert ask("instead of lavender for a newborn", KNOWN).answer.endswith("nothing here is near it at 1 month")
    assert "nothing here is near it" in ask("instead of wintergreen with blood thinners", KNOWN).answer


def test_what_stands_in_for_a_skin_suits_it() -> None:
    found = dict(ask("instead of avocado for oily skin", KNOWN).lines)

    assert len(found) == INSTEAD
    assert not [name for name in found if "not for oily skin" in ask(f"{name} for oily skin", KNOWN).answer]
    assert [name for name in dict(ask("instead of avocado", KNOWN).lines) if name not in found]


def test_what_stands_in_for_somebody_who_is_not_known_is_said() -> None:
    with pytest.raises(QuantityError, match="neither a product nor somebody"):
        ask("instead of almond for Zed", KNOWN)
