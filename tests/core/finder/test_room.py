"""Room for a scent: how much of it a bottle bears, what a share of it is, and what is never worn undiluted."""

from __future__ import annotations

import pytest
from tests.core.finder.asking import TODAY

from uptide.catalogue.catalogue import Catalogue
from uptide.core.finder.ask import ask
from uptide.core.finder.known import BASE, Known
from uptide.core.ingredients.ingredient import Phase
from uptide.core.safety.case import Case, UsageContext
from uptide.core.safety.check import check
from uptide.core.safety.maximum_dose import maximum_dose_of, mixed_in


def test_what_a_child_bears_on_the_body_and_not_near_the_face(known: Known) -> None:
    assert "Near the face: not under 6 years." in ask("peppermint for a 3 year old", known).working
    assert "Near the face" not in ask("peppermint for a 7 year old", known).working


def test_citrus_by_the_ounce(known: Known) -> None:
    # Common practice: a limit of 0.4 % is two drops to the fluid ounce.
    both = ask("bergamot in 1 fl oz", known)

    assert both.answer.startswith("Bergamot (expressed) essential oil: 2 drops at most; Bergamot FCF")
    assert "burn in the sun" in dict(both.lines)["Bergamot (expressed) essential oil"]


@pytest.mark.parametrize(
    "asked",
    [
        "10 drops lavender and 5 drops rose otto in 30 ml",
        "10 drops lavender 5 drops rose otto in 30 ml",
        "10 drops lavender, 5 drops rose otto into 30 ml for a baby",
    ],
)
def test_scents_in_a_bottle_of_nothing_are_thought_into_an_oil(asked: str, known: Known) -> None:
    """10 and 5 drops at 20 to the mL: 0.442 and 0.214 g, in 29.25 mL of an oil of 0.912: 0.656 of 27.3 g."""
    found = ask(asked, known)
    lines = dict(found.lines)

    assert lines["Assumed"] == "Sunflower oil (high oleic), since no oil is named."
    assert lines["Scent"].startswith("2.39 % at most.")
    assert found.recipe.splitlines()[-1] == "Sunflower oil (high oleic) up to 30 ml"
    assert ("at 6 months" in found.working) == asked.endswith("baby")


@pytest.mark.parametrize(
    "asked",
    [
        "10 drops lavender, 5 drops rose otto in 30 ml jojoba",
        "5 ml jojoba, 3 drops rose otto",
        "20 ml jojoba, 10 ml argan in 30 ml",
    ],
)
def test_where_an_oil_is_named_none_is_assumed(asked: str, known: Known) -> None:
    assert "Assumed" not in dict(ask(asked, known).lines)


@pytest.mark.parametrize(
    "recipe",
    [
        "12 drops lavender in 30 ml jojoba",
        "2% lavender in 30 ml jojoba",
        "2% lavender, 1% tea tree, 30 ml jojoba",
        "30 ml jojoba, 2% lavender",
    ],
)
def test_a_share_among_rows_is_a_recipe(recipe: str, known: Known) -> None:
    assert ask(recipe, known).answer.startswith("Feels")


@pytest.mark.parametrize("words", ["peppermint and lavender", "peppermint, lavender", "peppermint + lavender"])
def test_the_most_of_each_of_several_is_not_of_all_together(words: str, known: Known) -> None:
    said = ask(f"{words} in 100 ml", known).answer

    assert said.startswith("Of each alone, not of all together: Peppermint essential oil: ")
    assert "; Lavender (true) essential oil: " in said
    assert ask(f"{words} for Ines", known).answer.count("for Ines") == 2
    assert not ask("bergamot in 100 ml", known).answer.startswith("Of each")


def test_room_ends_where_the_first_stop_begins(catalogue: Catalogue) -> None:
    base = catalogue.ingredient(BASE)
    usage = catalogue.usage_of("body-oil", TODAY)

    def stops(percent: float, key: str, where: UsageContext = usage) -> bool:
        made: Case = mixed_in(percent, catalogue.ingredient(key), base, where)
        return bool(check(made).open_stops)

    for key in list(catalogue.safety.scents)[::6]:
        if catalogue.ingredient(key).phase is not Phase.SCENT:
            continue  # rosemary extract against oxidation
        room = maximum_dose_of(catalogue.ingredient(key), base, usage)
        assert room.why, key
        assert stops(room.most * 1.002 or 0.001, key), key
        assert not room.most or not stops(room.most * 0.998, key), key
        assert room.suggested <= room.most


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ("tea tree neat", "Tea tree essential oil: not neat; at most 2 % of a body oil"),
        ("can I use lavender undiluted on the face", "not neat; at most 1 % in facial oil"),
        ("5 ml of tea tree neat", "not neat; at most 2 % of a body oil"),
        ("1 drop tea tree neat", "not neat; at most 2 % of a body oil"),
        ("is lavender safe undiluted for a baby", "not neat; at most 0.5 % of a body oil at 6 months"),
        ("neat lavender on my skin", "not neat; at most 3 % of a body oil"),
        ("jojoba neat", "Jojoba oil (liquid wax): feels medium"),
    ],
)
def test_no_scent_is_worn_undiluted(asked: str, said: str, known: Known) -> None:
    assert said in ask(asked, known).answer


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ("50 ml face oil with 2% tea tree for a baby", "20 drops, too much at 6 months: 0.5 % at most, 5 drops"),
        ("50 ml face oil at 2% tea tree", "20 drops, too much: 1 % at most"),
        ("a 30 ml bottle of facial oil with lavender", "6 drops at most"),
        ("100 ml massage oil with lavender in pregnancy", "20 drops at most in pregnancy"),
        ("50 ml body oil with sage for a pregnant woman", "none in pregnancy"),
    ],
)
def test_a_bottle_of_a_product_with_a_scent_asks_for_the_room_of_the_scent(asked: str, says: str, known: Known) -> None:
    assert says in ask(asked, known).answer


@pytest.mark.parametrize("asked", ["30 ml jojoba with 6 drops lavender", "30 ml jojoba with 2% lavender for Ines"])
def test_a_bottle_of_an_oil_with_a_scent_is_a_recipe(asked: str, known: Known) -> None:
    assert ask(asked, known).recipe
