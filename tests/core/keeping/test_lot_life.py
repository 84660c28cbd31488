"""Until when a lot keeps, and what says so: the oil, its supplier, the plants in it, or the cap."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from math import log

import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.catalogue.stock import stocked
from uptide.core.ingredients.ingredient import LotPast
from uptide.core.ingredients.lot import Lot
from uptide.core.ingredients.mixture import mixture
from uptide.core.ingredients.own_oil import OwnOil
from uptide.core.keeping.lot_life import LotLife, lot_life
from uptide.core.months import DAYS_A_MONTH
from uptide.core.oxidation.simulate import standard_draws

FACTS = shipped_catalogue()
TODAY = date(2026, 11, 25)
UNKNOWN = {"own:balm": OwnOil("balm")}  # of which nobody said what it is made of


def life_of(ingredient: str, today: date = TODAY, **changes: object) -> LotLife:
    lot = replace(Lot("A-1", ingredient, bought_g=100.0, left_g=50.0), **changes)  # type: ignore[arg-type]
    facts = stocked(FACTS, UNKNOWN, [lot], {}, today)
    return lot_life(lot, facts.ingredients["lot:A-1"], today, standard_draws())


def test_of_what_is_not_known_the_supplier_says_all_or_nobody_does() -> None:
    ends = TODAY + timedelta(days=61)
    dated, undated = life_of("own:balm", best_before=ends), life_of("own:balm")

    assert dated == LotLife(
        None,
        61 / DAYS_A_MONTH,
        ends_on=ends,
        limited_by="the supplier’s best before",
        typical=61 / DAYS_A_MONTH,
    )
    assert undated == LotLife(None, None, ends_on=None, limited_by="nothing is known of it")
    assert not undated.ends_soon


def test_the_supplier_s_day_counts_where_it_comes_first() -> None:
    ends = TODAY + timedelta(days=30)
    life, alone = life_of("jojoba", best_before=ends), life_of("jojoba")

    assert (life.ends_on, life.limited_by) == (ends, "the supplier’s best before")
    assert life.months_left == life.typical == pytest.approx(30 / DAYS_A_MONTH)
    assert (life.spent, life.peroxides, life.limit) == (alone.spent, alone.peroxides, alone.limit)
    assert alone.spent is not None
    assert alone.peroxides is not None
    assert (
        life_of("grapeseed", best_before=TODAY + timedelta(days=3000)).limited_by
        == "the oil itself, in nine lots of ten"
    )


def test_the_oil_itself_ends_it_and_the_day_follows_from_the_months() -> None:
    life = life_of("rosehip")

    assert life.limited_by == "the oil itself, in nine lots of ten"
    assert life.months_left is not None
    assert life.typical is not None
    assert life.typical > life.months_left > 0
    assert life.ends_on == TODAY + timedelta(days=int(life.months_left * DAYS_A_MONTH))
    fresh = FACTS.ingredients["rosehip"].oxidation
    assert fresh is not None
    assert (life.spent, life.limit) == (0.0, fresh.limit_pv)
    assert life.peroxides == pytest.approx(fresh.fresh_pv)


def test_what_is_spent_is_what_the_peroxides_and_the_ageing_took_of_it() -> None:
    """By the printed worked numbers sunflower at 5 meq/kg has spent 0.6409 of its life, at 0.5 less than none."""
    spent = {}
    for pv in (5.0, 0.5):
        item = replace(FACTS.ingredients["sunflower"], past=LotPast(peroxide_value=pv, ageing=0.05))
        life = lot_life(Lot("A-1", "sunflower"), item, TODAY, standard_draws())
        spent[pv] = life.spent
        assert life.peroxides == pv

    assert spent == {5.0: pytest.approx(0.6409 + 0.05, abs=0.002), 0.5: 0.0}


def test_a_diluent_brings_no_peroxides_and_what_is_spent_is_where_its_own_curve_begins() -> None:
    rosehip, mct = FACTS.ingredients["rosehip"], FACTS.ingredients["mct"]
    half = mixture("own:half", "half", [(replace(rosehip, past=LotPast(peroxide_value=8.0)), 50.0), (mct, 50.0)])
    life = lot_life(Lot("A-1", "own:half"), half, TODAY, standard_draws())

    assert life.peroxides == pytest.approx(4.0)
    # With what it is diluted in credited with half of the most, x^0.25: seed, ceiling and the fresh value of rosehip
    # (1, 300 and 2.5 meq/kg) are 0.841 times as much; the limit of the whole is (15 + 10)/2 meq/kg; what can oxidise is
    # all that is smelled but for (1 + 0.02²)·0.5²/(0.5² + 0.02²).
    thin = 0.5**0.25
    now, fresh, limit = (log((pv + thin) / (300 * thin - pv)) for pv in (4.0, 2.5 * thin, 12.5))
    assert life.spent == pytest.approx((now - fresh) / (limit - fresh) * 1.0004 * 0.25 / 0.2504, rel=0.01)


def test_half_of_its_life_is_gone_where_half_of_such_lots_have_turned() -> None:
    old = life_of("rosehip", received_on=TODAY - timedelta(days=900), opened_on=TODAY - timedelta(days=900))

    assert old.limited_by == "the oil itself, typically"
    assert old.is_over
    assert (old.spent or 0) >= 1
    assert (old.peroxides or 0) > (old.limit or 0)


def test_no_promise_passes_the_cap() -> None:
    life = life_of("squalane", place="fridge")

    assert (life.months_left, life.limited_by) == (36.0, "the cap of 36 months that no promise passes")
    assert life.ends_on == TODAY + timedelta(days=int(36 * DAYS_A_MONTH))
    first = life_of("squalane", place="fridge", best_before=TODAY + timedelta(days=1000))
    assert first.limited_by == "the supplier’s best before"


def test_it_begins_in_the_month_of_today() -> None:
    """In a car, which is 35 °C in July and August and 16 °C in December and January, an oil turns within weeks."""
    lives = [life_of("rosehip", date(2026, month, 1), place="hot car").months_left or 0 for month in range(1, 13)]

    assert max(lives[6], lives[7]) < 1  # no other month is reached
    assert lives[6] == pytest.approx(lives[7])
    assert all(life > lives[6] for place, life in enumerate(lives) if place not in (6, 7))
    assert max(lives) == max(lives[11], lives[0])
