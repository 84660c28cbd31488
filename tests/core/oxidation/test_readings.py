"""A reading that shows rancidity never lengthens a promise, and teaches nothing that the model cannot explain."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.errors import UptideError
from uptide.core.keeping.shelf_life import ShelfLife, StorageHistory
from uptide.core.oxidation.learning import Reading, ReadingKind
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.safety.caution import Grade

FACTS = shipped_catalogue()
TODAY = date(2026, 11, 26)


def shelf_life(*readings: Reading, rows: tuple[str, ...] = ("100 g sunflower oil high linoleic",)) -> ShelfLife:
    recipe = Recipe(tuple(Entry(row) for row in rows))
    found = assess(
        recipe,
        FACTS.ingredients,
        FACTS.names,
        draws=standard_draws(),
        history=StorageHistory(10, readings=readings),
        usage=FACTS.usage_context(recipe, TODAY),
    )
    assert found.shelf_life is not None
    return found.shelf_life


# Of a life: two thousand draws are not more exact; and where readings contradict one another, as no oil can have them.
DRAWN, AT_ODDS = 0.002, 0.05


def longer_by(one: ShelfLife, other: ShelfLife) -> float:
    """By how much one promise is longer than another, as a part of it; both not yet in whole months."""
    return (one.low - other.low) / max(other.low, 0.1)


def titration(months: float, pv: float) -> Reading:
    return Reading(months, ReadingKind.TITRATION, pv, pv)


def strip(months: float, low: float, high: float) -> Reading:
    return Reading(months, ReadingKind.STRIP, low, high)


def test_peroxides_of_30_after_a_month_end_it_and_teach_nothing() -> None:
    before, after = shelf_life(), shelf_life(titration(1.0, 30.0))

    assert (before.months or 0) >= 3
    assert after.months == 0
    assert "It was read at 30 meq/kg, and 10 is its limit" in after.reason
    assert after.posterior is not None
    assert not after.posterior.is_explained
    assert after.posterior.carried_over == 0.0
    assert any("cannot explain" in remark for remark in after.remarks)


@pytest.mark.parametrize("reading", [titration(2, 10.1), strip(2, 10, 25)], ids=["titration", "strip"])
def test_any_reading_above_the_limit_is_a_stop(reading: Reading) -> None:
    recipe = Recipe((Entry("100 g sunflower oil high linoleic"),))
    found = assess(
        recipe,
        FACTS.ingredients,
        FACTS.names,
        draws=standard_draws(),
        history=StorageHistory(10, readings=(reading,)),
        usage=FACTS.usage_context(recipe, TODAY),
    )

    assert "rancid" in {c.rule for c in found.cautions if c.grade is Grade.STOP}
    assert found.shelf_life is not None
    assert found.shelf_life.months == 0


def test_exactly_at_the_limit_a_titration_has_not_passed_it() -> None:
    assert not titration(2, 10.0).is_past(10.0)
    assert not strip(2, 5, 10).is_past(10.0)
    assert strip(2, 10, 25).is_past(10.0)


def test_what_smells_off_is_over_whatever_it_is_made_of() -> None:
    off = Reading(1.0, ReadingKind.SMELL, off=True)
    for rows in (("100 g squalane",), ("100 g sunflower oil high linoleic", "20 g water")):
        assert "smelled off" in shelf_life(off, rows=rows).turned


@settings(max_examples=50)
@given(st.floats(0.3, 18), st.floats(0, 40), st.floats(0.01, 40), st.lists(st.floats(0.5, 9), max_size=2))
def test_a_higher_titration_never_gives_a_longer_promise(
    months: float, pv: float, more: float, earlier: list[float]
) -> None:
    alone = shelf_life(titration(months, pv)), shelf_life(titration(months, pv + more))
    others = tuple(titration(0.2 * (place + 1), value) for place, value in enumerate(earlier))
    after = shelf_life(*others, titration(months, pv)), shelf_life(*others, titration(months, pv + more))

    assert longer_by(alone[1], alone[0]) <= DRAWN
    assert longer_by(after[1], after[0]) <= AT_ODDS


@settings(max_examples=50)
@given(st.floats(0.3, 18), st.integers(0, 5), st.integers(1, 5))
def test_a_higher_strip_never_gives_a_longer_promise(months: float, place: int, more: int) -> None:
    colours = [
        (0, 2),
        (2, 5),
        (5, 10),
        (10, 25),
        (25, 50),
        (50, 100),
        (100, 150),
        (150, 200),
        (200, 300),
        (300, 400),
        (400, 500),
    ]
    lower, higher = shelf_life(strip(months, *colours[place])), shelf_life(strip(months, *colours[place + more]))

    assert longer_by(higher, lower) <= DRAWN


@pytest.mark.parametrize("value", [float("nan"), float("inf")])
def test_a_reading_is_made_of_numbers(value: float) -> None:
    for months, pv in ((value, 5.0), (1.0, value)):
        with pytest.raises(UptideError, match=r"made of numbers|cannot be read"):
            titration(months, pv)


def test_a_reading_as_the_model_expects_it_changes_little_and_is_carried_over() -> None:
    usual = shelf_life(titration(4, 3.2))

    assert usual.posterior is not None
    assert usual.posterior.is_explained
    assert abs((usual.months or 0) - (shelf_life().months or 0)) <= 2
    assert replace(usual.posterior, surprise=9.0).carried_over == 0.0
