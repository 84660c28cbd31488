"""Changing a share, making percents 100, and laying two versions beside each other."""

from __future__ import annotations

import pytest
from tests.conftest import Weigh

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.compare import compare
from uptide.core.errors import QuantityError
from uptide.core.physics.bottle import Container
from uptide.core.recipe.edit import normalise_percents, set_share
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.recipe.resolve import resolve


def recipe(*rows: str, ml: float | None = None) -> Recipe:
    return Recipe(tuple(Entry(row) for row in rows), container=Container("bottle", ml) if ml else None)


@pytest.mark.parametrize(
    ("before", "index", "percent", "after"),
    [
        (recipe("75 g jojoba", "25 g argan"), 1, 50, ["75 g jojoba", "75 g argan"]),
        (recipe("60% almond", "40% jojoba"), 0, 80, ["80 % almond", "20 % jojoba"]),
        (recipe("2 parts castor", "2 parts castor oil"), 0, 25, ["0.6667 parts castor", "2 parts castor oil"]),
        (recipe("1% neroli", "99 g jojoba"), 0, 2, ["2 % neroli", "99 g jojoba"]),
        (
            recipe("2 tbsp grapeseed", "1 tbsp jojoba", "12 drops lavender"),
            2,
            3,
            ["2 tbsp grapeseed", "1 tbsp jojoba", "28 drops lavender"],
        ),
        (recipe("1/10 bottle argan", "top up with jojoba", ml=100), 0, 50, ["48.65 mL argan", "top up with jojoba"]),
    ],
)
def test_a_share_is_met_in_the_unit_it_was_typed_in(
    before: Recipe, index: int, percent: float, after: list[str], catalogue: Catalogue
) -> None:
    changed = set_share(before, index, percent, catalogue.ingredients, catalogue.names)

    assert [entry.typed for entry in changed.entries] == after


def test_a_share_is_near_the_wanted_one_after_rounding_to_drops(catalogue: Catalogue) -> None:
    changed = set_share(recipe("2 tbsp jojoba", "12 drops lavender"), 1, 2.0, catalogue.ingredients, catalogue.names)
    row = assess(changed, catalogue.ingredients, catalogue.names).rows[1]

    assert row.percent_mass == pytest.approx(2.0, abs=0.1)  # half a drop in 30 mL


@pytest.mark.parametrize(
    ("before", "index", "percent", "message"),
    [
        (recipe("2 tbsp jojoba", "1 tbsp argan"), 0, 100, "above 0 and below 100"),
        (recipe("2 tbsp jojoba"), 0, 50, "only this row"),
        (recipe("2 tbsp argan", "top up with jojoba", ml=100), 1, 50, "takes what is left"),
        (recipe("2 tbsp argan", "zorgblat"), 1, 50, "Only a row that was read"),
        (recipe("1 part argan", "90% jojoba", ml=100), 0, 50, "cannot be reached"),
    ],
)
def test_a_share_that_cannot_be_set_says_why(
    before: Recipe, index: int, percent: float, message: str, catalogue: Catalogue
) -> None:
    with pytest.raises(QuantityError, match=message):
        set_share(before, index, percent, catalogue.ingredients, catalogue.names)


def test_percents_are_made_100_by_one_factor(catalogue: Catalogue) -> None:
    changed = normalise_percents(
        recipe("60% almond", "40% jojoba", "10% argan"), catalogue.ingredients, catalogue.names
    )

    assert [entry.typed for entry in changed.entries] == ["54.55 % almond", "36.36 % jojoba", "9.091 % argan"]
    with pytest.raises(QuantityError, match="stated in percents"):
        normalise_percents(recipe("2 tbsp jojoba"), catalogue.ingredients, catalogue.names)


def test_two_versions_show_what_is_new_gone_and_moved(weigh: Weigh) -> None:
    comparison = compare(weigh("50 g jojoba\n50 g olive"), weigh("60 g jojoba\n40 g argan\n???"))
    changes = {change.name: change for change in comparison.rows}

    assert changes["Jojoba oil (liquid wax)"].percent_change == pytest.approx(10)
    assert changes["Argan oil"].before is None
    assert changes["Olive oil (virgin)"].after is None
    assert changes["???"].is_changed
    iodine = next(change for change in comparison.findings if change.after.key == "iodine_value")
    assert iodine.change == pytest.approx((iodine.after.value or 0) - (iodine.before.value or 0))


def test_a_version_beside_itself_shows_no_change(weigh: Weigh) -> None:
    same = weigh("2 tbsp grapeseed\n2 tbsp grapeseed\n12 drops lavender")

    assert not any(change.is_changed for change in compare(same, same).rows)


def test_percents_with_drops_on_top_are_made_a_hundred_with_them(weigh: Weigh, catalogue: Catalogue) -> None:
    found = weigh("60% jojoba\n40% argan\n20 drops lavender")
    made = normalise_percents(found.recipe, catalogue.ingredients, catalogue.names)
    after = resolve(made, catalogue.ingredients, catalogue.names)

    assert [row.typed for row in found.resolution.on_top] == ["20 drops lavender"]
    assert "“20 drops lavender” comes on top of it" in " ".join(found.remarks)
    assert after.on_top == ()
    assert sum(row.percent_mass or 0 for row in after.read) == pytest.approx(100)
    assert after.rows[0].percent_mass == pytest.approx(found.rows[0].percent_mass, rel=1e-3)
    assert after.rows[0].typed != "60% jojoba"
