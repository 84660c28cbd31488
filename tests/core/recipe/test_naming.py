"""Which thing a name means: infused oils by their base, scents that nobody measures in spoons."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import assess
from uptide.core.ingredients.ingredient import LotPast
from uptide.core.ingredients.past import TREATMENTS
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Entry, Recipe, Row, RowStatus

Reading = Callable[..., Row]


def past_of(read: Row) -> LotPast:
    assert read.past is not None
    return read.past


@pytest.fixture
def row(catalogue: Catalogue) -> Reading:
    def _row(typed: str, **answers: str) -> Row:
        return assess(Recipe((Entry(typed, answers),)), catalogue.ingredients, catalogue.names).rows[0]

    return _row


@pytest.mark.parametrize(
    ("typed", "key"),
    [
        ("10 ml rosemary infused olive oil", "olive"),
        ("10 ml rosemary-infused olive oil", "olive"),
        ("50 g olive oil infused with St John's wort", "olive"),
        ("calendula infusion in sunflower high oleic 50 g", "sunflower-high-oleic"),
        ("2 tbsp yarrow macerated in jojoba", "jojoba"),
    ],
)
def test_an_infused_oil_is_its_base_with_six_weeks_behind_it(row: Reading, typed: str, key: str) -> None:
    read = row(typed)

    assert read.status is RowStatus.READ
    assert read.ingredient is not None
    assert read.ingredient.key == key
    assert read.past is not None
    assert read.past.steps == TREATMENTS["dark shelf, 6 weeks"]
    assert "infused with dried plant" in read.remark


def test_fresh_plant_counts_as_fresh(row: Reading) -> None:
    fresh, dried = (past_of(row(f"30 g {how}elderflower infused grapeseed")) for how in ("fresh ", ""))

    assert fresh.fresh_plant
    assert not dried.fresh_plant


def test_what_was_said_of_the_lot_wins_over_the_usual_infusion(row: Reading) -> None:
    hot = "oven, 80 °C for 4 h"
    assert past_of(row("30 g elderflower infused grapeseed", past=hot)).steps == TREATMENTS[hot]


def test_a_base_with_two_meanings_is_assumed_and_the_answer_is_infused_too(row: Reading) -> None:
    assumed = row("100 g calendula infused sunflower")
    answered = row("100 g calendula infused sunflower", name="sunflower")

    assert (assumed.status, assumed.questions[0].assumed) == (RowStatus.READ, "sunflower")
    assert {option.value for option in assumed.questions[0].options} == {
        "sunflower",
        "sunflower-mid-oleic",
        "sunflower-high-oleic",
        "none",
    }
    assert answered.past is not None
    assert "infused" in answered.remark


@pytest.mark.parametrize("typed", ["2 tbsp calendula oil", "2 tsp lavender", "1 cup chamomile roman"])
def test_a_scent_in_spoons_is_asked_about(row: Reading, typed: str) -> None:
    read = row(typed)

    assert read.status is RowStatus.ASKED
    assert "infused-oil" in {option.value for option in read.questions[0].options}


@pytest.mark.parametrize("typed", ["2 tsp lavender essential oil", "2 ml lavender", "12 drops lavender", "1% lavender"])
def test_a_scent_by_its_own_measures_is_not_asked_about(row: Reading, typed: str) -> None:
    read = row(typed).ingredient

    assert read is not None
    assert read.key == "lavender"


def test_a_plant_in_oil_that_nobody_knows_says_how_to_write_it(row: Reading) -> None:
    assert "“mugwort infused olive oil”" in row("5 ml mugwort oil").reason


def test_an_infused_oil_keeps_less_long_than_its_base(catalogue: Catalogue) -> None:
    def months(typed: str) -> float:
        recipe = Recipe((Entry(typed),))
        found = assess(recipe, catalogue.ingredients, catalogue.names, draws=standard_draws())
        return found.finding("keeps_months").value or 0.0

    assert months("100 g rosemary infused olive oil") < months("100 g olive oil")
