"""Limits over the lots that oils may come as: in how many they hold, and what it costs that they hold in nine of ten.

Figures beside the instances were computed with a prototype of another program and the core of some weeks ago.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tests.core.finder.wishes import ARGAN_LIKE, DRAWS, EVERY_OIL, EVERYTHING, FACTS, cost, limits, look, table

from uptide.core.finder.search.lots import LotRows
from uptide.core.finder.search.offers import offers
from uptide.core.finder.search.search import Dive, dive_for
from uptide.core.finder.search.wish import Objective, Wish
from uptide.core.finder.search.wish_words import read_wish
from uptide.core.finder.use import PRODUCTS
from uptide.core.lipids.draws import draws_of
from uptide.core.measures.habits import Habits

BALANCED = Wish(
    limits(
        "saturated >= 15;saturated <= 20;monounsaturated >= 40;monounsaturated <= 50;polyunsaturated >= 30;"
        "polyunsaturated <= 40;keeps >= 6;clog <= 2;clear >= 15"
    ),
    100,
    fewest=3,
    most=6,
)


def dive(wish: Wish) -> Dive:
    found = dive_for(wish, EVERY_OIL if wish.limits == ARGAN_LIKE.limits else table(), DRAWS)
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("wish", "objective", "held"),
    [
        (EVERYTHING, Objective.CHEAPEST, 0.10),
        (BALANCED, Objective.CHEAPEST, 0.47),
        (ARGAN_LIKE, Objective.LONGEST, 0.39),
    ],
)
def test_what_is_best_for_typical_lots_holds_in_as_few_as_another_program_found(
    wish: Wish, objective: Objective, held: float
) -> None:
    hunt = dive(wish)
    found = hunt.answer(objective)

    assert found is not None
    assert hunt.lots.held(found.shares) == pytest.approx(held, abs=0.04)


@pytest.mark.parametrize(("wish", "typical", "for_lots"), [(EVERYTHING, 0.2352, 0.285), (BALANCED, 0.4545, 0.574)])
def test_what_holds_for_nine_lots_in_ten_costs_about_as_much_more(wish: Wish, typical: float, for_lots: float) -> None:
    hunt = dive(replace(wish, lots=0.9))
    found = hunt.answer(Objective.CHEAPEST)

    assert found is not None
    assert hunt.lots.held(found.shares) >= 0.9
    assert cost(found, wish, table()) / for_lots == pytest.approx(1, abs=0.05)
    assert cost(found, wish, table()) > 1.1 * typical


def test_what_keeps_longest_gives_half_a_month_for_it() -> None:
    """Another program: 11.43 months for typical lots, 11.01 for nine in ten."""
    hunt = dive(replace(ARGAN_LIKE, lots=0.9))
    found = hunt.answer(Objective.LONGEST)

    assert found is not None
    assert hunt.lots.held(found.shares) >= 0.9
    assert found.months == pytest.approx(11.01, abs=0.15)


def test_a_blend_of_one_oil_holds_in_the_lots_of_it_that_hold() -> None:
    """The share of argan lots with 33 % of linoleic and more, counted beside the search."""
    oils = table(["argan", "jojoba"])
    argan = draws_of(FACTS.ingredient("argan").lipid)
    assert argan is not None
    (place,) = [n for n, acid in enumerate(argan.acids) if acid.code == "18:2n6"]
    counted = float((argan.shares[:, place] >= 0.33).mean())
    rows = LotRows.of(Wish(limits("linoleic >= 33")), oils)

    assert rows.held(np.array([1.0, 0.0])) == pytest.approx(counted, abs=0.005)
    assert LotRows.of(Wish(), oils).held(np.array([1.0, 0.0])) == 1


def test_every_offer_holds_after_rounding_as_well_and_says_what_that_costs() -> None:
    read = read_wish("60 ml, linoleic over 45, linoleic under 54, holds for nine lots in ten", FACTS.names, PRODUCTS)
    assert read.not_read == ()
    found = list(offers(read.wish, table(), DRAWS, look, habits=Habits(), objectives=(Objective.CHEAPEST,)))

    assert len(found) == 1
    assert found[0].held >= 0.9
    typical = found[0].for_typical_lots()
    assert typical is not None
    assert cost(typical, read.wish, table()) < cost(found[0].answer, read.wish, table())


def test_coarse_measures_do_not_round_it_out_of_its_lots() -> None:
    for wish in (replace(EVERYTHING, lots=0.9), replace(BALANCED, lots=0.9, millilitres=20.0)):
        found = list(offers(wish, table(), DRAWS, look, habits=Habits(), objectives=(Objective.CHEAPEST,)))

        assert all(offer.held >= 0.9 for offer in found)
        assert found
