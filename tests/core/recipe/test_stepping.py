"""A row goes a step up or down, as its unit is measured."""

from __future__ import annotations

import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import QuantityError
from uptide.core.recipe.edit import step_row
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.recipe.resolve import resolve

FACTS = shipped_catalogue()


@pytest.mark.parametrize(
    ("typed", "more", "less"),
    [
        ("2 tbsp grapeseed", "2 tbsp + ¼ tsp grapeseed", "1 tbsp + 2¾ tsp grapeseed"),
        ("1/4 tsp argan", "½ tsp argan", ""),
        ("3 droppers jojoba", "3½ droppers jojoba", "2½ droppers jojoba"),
        ("12 drops lavender", "13 drops lavender", "11 drops lavender"),
        ("20 g argan", "20.5 g argan", "19.5 g argan"),
        ("80 g argan", "81 g argan", "79 g argan"),
        ("0.4 g argan", "0.9 g argan", ""),
        ("30 ml argan", "31 ml argan", "29 ml argan"),
        ("2 parts argan", "2.5 parts argan", "1.5 parts argan"),
    ],
)
def test_a_row_goes_a_step_up_and_down_as_it_is_measured(typed: str, more: str, less: str) -> None:
    recipe = Recipe((Entry(typed), Entry("3 parts olive" if "parts" in typed else "30 g olive")))
    row = resolve(recipe, FACTS.ingredients, FACTS.names).rows[0]

    assert step_row(recipe, row, 1, FACTS.ingredients, FACTS.names).entries[0].typed.lower() == more
    if less:
        assert step_row(recipe, row, -1, FACTS.ingredients, FACTS.names).entries[0].typed.lower() == less
    else:
        with pytest.raises(QuantityError, match="nothing would be left"):
            step_row(recipe, row, -1, FACTS.ingredients, FACTS.names)


def test_a_recipe_in_percents_keeps_to_a_hundred_when_a_row_goes_a_step_up() -> None:
    recipe = Recipe((Entry("40 % argan"), Entry("60 % olive")))
    row = resolve(recipe, FACTS.ingredients, FACTS.names).rows[0]

    assert [entry.typed for entry in step_row(recipe, row, 1, FACTS.ingredients, FACTS.names).entries] == [
        "41 % argan",
        "59 % olive",
    ]


def test_what_takes_what_is_left_goes_no_step() -> None:
    recipe = Recipe((Entry("30 % argan"), Entry("olive to 100 %")))
    row = resolve(recipe, FACTS.ingredients, FACTS.names).rows[1]

    with pytest.raises(QuantityError, match="takes what is left"):
        step_row(recipe, row, 1, FACTS.ingredients, FACTS.names)
