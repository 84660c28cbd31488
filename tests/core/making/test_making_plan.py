"""What was poured, as a recipe: every amount is read as it was, whatever its digits."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.conftest import Weigh

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.making.making_plan import LotOnHand, MakingAsk, MakingPlan, PouredOf, made_of, poured_of
from uptide.core.making.picking import OnHand
from uptide.core.making.rounding import How
from uptide.core.making.sizes import Amount, Containers
from uptide.core.recipe.order import PourOrder
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.recipe.resolve import resolve

FACTS = shipped_catalogue()
DAY = date(2026, 11, 27)


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


def lot(code: str, left_g: float) -> LotOnHand:
    return LotOnHand(OnHand(code, round(1000 * left_g), round(1000 * left_g), None), None, "")


def diluted(weigh: Weigh, lots: dict[str, tuple[LotOnHand, ...]]) -> tuple[MakingPlan, dict[str, float]]:
    """A batch of 20 mL whose scents are poured as tenths, and what it comes to by key [g]."""
    found = weigh("30 ml jojoba\n60 ml olive\n2 drops lavender\n3 drops rose", ml=90)
    amount = Amount((Containers(1, 20.0),), 0.9)
    plan = MakingPlan(MakingAsk(amount, PourOrder.CARRIERS_FIRST, DAY, step_g=0.1, small=How.DILUTED), found, lots)
    poured: dict[str, float] = {}
    for each in poured_of(plan.lines):
        poured[each.key] = poured.get(each.key, 0.0) + each.grams
    return plan, poured


def test_the_rest_of_every_dilution_is_the_carrier_that_there_is_most_of(weigh: Weigh) -> None:
    plan, poured = diluted(weigh, {})
    tenths = [line for line in plan.lines if line.target.how is How.DILUTED]
    olive = next(line for line in plan.lines if line.item.key == "olive")
    assert len(tenths) == 2

    rest = sum(line.target.mg - line.target.holds_mg for line in tenths) / 1000
    assert rest == pytest.approx(0.9 * sum(line.target.mg for line in tenths) / 1000, abs=0.002)
    assert poured["olive"] == pytest.approx(olive.target.mg / 1000 + rest)
    assert poured["lavender"] == pytest.approx(0.1 * tenths[0].target.mg / 1000, abs=0.001)
    assert sum(poured.values()) == pytest.approx(sum(line.target.mg for line in plan.lines) / 1000)


def test_the_rest_of_a_dilution_comes_from_the_first_lot_of_its_carrier(weigh: Weigh) -> None:
    of_lots = {"olive": (lot("O-1", 5.0), lot("O-2", 900.0)), "lavender": (lot("L-1", 9.0),)}
    plan, poured = diluted(weigh, of_lots)
    olive = next(line for line in plan.lines if line.item.key == "olive")
    taken = {each.code: each.mg / 1000 for each in olive.picked.picks}
    rest = sum(line.target.mg - line.target.holds_mg for line in plan.lines) / 1000

    first = olive.picked.picks[0].code
    assert rest > 0
    assert poured[f"lot:{first}"] == pytest.approx(taken[first] + rest)
    assert poured["lot:L-1"] == pytest.approx(0.01, abs=0.02)
    assert "olive" not in poured
    assert sum(poured.values()) == pytest.approx(sum(line.target.mg for line in plan.lines) / 1000)
