"""What was poured, as a recipe: every amount is read as it was, whatever its digits."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.making.making_plan import PouredOf, made_of
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.recipe.resolve import resolve

FACTS = shipped_catalogue()


@given(st.lists(st.integers(1, 90_000_000), min_size=1, max_size=4))
def test_every_amount_is_read_as_it_was_poured(amounts: list[int]) -> None:
    oils = ("olive", "jojoba", "castor", "lavender")
    poured = [PouredOf(key, FACTS.ingredients[key].name, mg / 1000) for key, mg in zip(oils, amounts, strict=False)]
    recipe = made_of(Recipe((Entry("1 oz argan"),), "facial-oil"), poured)
    found = resolve(recipe, FACTS.ingredients, FACTS.names)
    assert [row.grams for row, _ in found.parts] == pytest.approx([mg / 1000 for mg in amounts])
    assert [item.key for _, item in found.parts] == list(oils[: len(amounts)])
    assert found.not_for_good == ()
    assert recipe.product == "facial-oil"


@pytest.mark.parametrize("grams", [80.0, 1.234, 20.5, 1000.0, 0.001, 12_345.678])
def test_no_digits_are_taken_for_thousands(grams: float) -> None:
    recipe = made_of(Recipe(()), [PouredOf("olive", "Olive oil (virgin)", grams)])
    ((row, _),) = resolve(recipe, FACTS.ingredients, FACTS.names).parts
    assert row.grams == pytest.approx(grams)


def test_two_pours_of_one_lot_are_one_row() -> None:
    poured = [PouredOf("olive", "Olive oil (virgin)", 20.0), PouredOf("olive", "Olive oil (virgin)", 5.0)]
    ((row, _),) = resolve(made_of(Recipe(()), poured), FACTS.ingredients, FACTS.names).parts
    assert row.grams == 25
