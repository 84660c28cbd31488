"""Bounds: what no blend can be better than, the rows they are made of, and what cannot be at all.

Bounds beside the instances were computed with a prototype of another program and the core of some weeks ago.
"""

from __future__ import annotations

import random
from dataclasses import replace
from itertools import combinations
from typing import Any

import numpy as np
import pytest
from tests.core.finder.wishes import BRIEF, DRAWS, EVERY_OIL, NEVER, NOT_DEAR, cost, limits, look, table

from uptide.core.arrays import Array
from uptide.core.finder.search import offers as offers_module
from uptide.core.finder.search.bounding import bound_of
from uptide.core.finder.search.box_rows import Box, BoxRows
from uptide.core.finder.search.boxes import Boxes
from uptide.core.finder.search.oil_table import SUMS, OilTable
from uptide.core.finder.search.rows import Ratio
from uptide.core.finder.search.search import Dive, dive_for
from uptide.core.finder.search.wish import Objective, Wish
from uptide.core.measures.habits import Habits
from uptide.core.oxidation.surroundings import PLACES, Glass, Storage

BATHROOM = Storage("bathroom", *PLACES["bathroom"], Glass.AMBER)
CAPACITY, COX = SUMS.index("capacity"), SUMS.index("cox")


def dive(wish: Wish, oils: OilTable | None = None) -> Dive:
    found = dive_for(wish, oils or table(), DRAWS)
    assert found is not None
    return found


def blends(oils: OilTable, count: int, seed: int) -> list[Array]:
    drawn, found = random.Random(seed), []  # noqa: S311 - blends, no secrets
    for _ in range(count):
        places = drawn.sample(range(len(oils)), drawn.randint(2, 4))
        shares = np.zeros(len(oils))
        shares[places] = [drawn.random() + 0.02 for _ in places]
        found.append(shares / shares.sum())
    return found


@pytest.mark.parametrize("place", [Storage(), BATHROOM])
@pytest.mark.parametrize("months", [3.0, 4.5])
def test_with_the_induction_time_that_is_needed_it_keeps_as_long(place: Storage, months: float) -> None:
    keeping = dive(Wish(limits("linoleic >= 1"), storage=place)).keeping
    for shares in blends(table(), 4, seed=1):
        sums = shares @ table().keeping
        sums[CAPACITY] = keeping.needed_hours(sums, months) * sums[COX]

        assert keeping._of_sums(sums, DRAWS) == pytest.approx(months, abs=0.01)


@pytest.mark.parametrize(("place", "count"), [(Storage(), 40), (BATHROOM, 6)])
def test_no_blend_is_cut_off_by_the_rows_of_a_box_it_lies_in(place: Storage, count: int) -> None:
    """The rows are a bound: a blend that keeps 0.05 months more than is asked breaks none of them, wherever the box."""
    drawn = random.Random(2)  # noqa: S311 - boxes, no secrets
    found = dive(Wish(limits("linoleic >= 1"), storage=place))
    for shares in blends(table(), count, seed=3):
        rows = BoxRows(found.program, found.keeping, found.keeping.months(shares) - 0.05)
        forms = rows.sums.forms @ shares
        sides = np.array([1.0, 0.3, 0.3])[: len(forms)]
        low = forms - [drawn.random() * side for side in sides]
        high = forms + [drawn.random() * side for side in sides]
        made = rows.of(Box(np.maximum(low, 0.0), np.minimum(high, [5.0, 1.0, 2.0][: len(forms)])))

        assert made is not None
        assert min(float(row @ shares) for row in made) >= -1e-9


def test_a_box_that_is_a_point_bounds_as_well() -> None:
    """Refined oils that can oxidise are all alike in the sums of a box, so that it cannot be halved."""
    oils = table(["grapeseed", "sunflower", "sunflower-high-oleic", "rice-bran"])
    found = dive(Wish(limits("feel >= 1;keeps >= 6"), most=4), oils)
    gain = oils.acids["linoleic"]
    shares = found.furthest(Ratio(gain, np.ones(len(oils))))
    assert shares is not None
    bound = found.boxes().most(gain)

    assert gain @ shares <= bound.most <= 1.02 * (gain @ shares)


def test_what_costs_least_is_within_a_percent_of_what_is_shown() -> None:
    """Another program found 0.4576 and showed that nothing costs less than 0.4575, a per cent of the core ago."""
    found = dive(BRIEF).answer(Objective.CHEAPEST)
    assert found is not None
    bound = bound_of(dive(BRIEF), found).value

    assert bound is not None
    assert 0.99 * cost(found, BRIEF, table()) <= bound <= cost(found, BRIEF, table()) + 1e-6
    assert bound == pytest.approx(0.4575, rel=0.01)


@pytest.mark.parametrize(("wish", "oils"), [(BRIEF, table()), (NOT_DEAR, EVERY_OIL)])
def test_nothing_keeps_a_quarter_of_a_month_longer_than_the_longest(wish: Wish, oils: OilTable) -> None:
    found = dive(wish, oils).answer(Objective.LONGEST)
    assert found is not None
    assert bound_of(dive(wish, oils), found).value == pytest.approx(found.months + 0.25)


def test_nothing_has_a_tenth_of_a_step_more_to_spare_than_the_steadiest() -> None:
    rows_alone = Wish(limits("linoleic >= 45;feel <= 2.8;saturated <= 14;inert <= 20"), 30)
    for wish, more in ((rows_alone, 0.1), (BRIEF, 0.1)):
        hunt = dive(wish)
        found = hunt.answer(Objective.STEADIEST)
        assert found is not None
        assert bound_of(hunt, found).value == pytest.approx(hunt.room(found.shares) + more)


def test_fewer_oils_than_the_fewest_cannot_be() -> None:
    """Brute force beside it: no pair of eight oils by two percent keeps this wish."""
    oils = table(["grapeseed", "jojoba", "rosehip", "squalane", "sunflower", "mct", "castor", "hemp-seed"])
    wish = Wish(limits("linoleic >= 50;keeps >= 6.3;feel <= 2.8;inert <= 20"), 30, most=5)
    hunt = dive(wish, oils)
    found = hunt.answer(Objective.FEWEST)
    assert found is not None
    assert len(found.places) == 3
    assert bound_of(hunt, found).value == 3
    for one, other in combinations(range(len(oils)), 2):
        for part in np.arange(0.02, 0.99, 0.02):
            shares = np.zeros(len(oils))
            shares[[one, other]] = part, 1 - part
            in_rows = (hunt.program.rows.all_of @ shares >= 0).all() and (shares <= hunt.program.rows.most).all()
            assert not (in_rows and hunt.keeping.months(shares) >= 6.3)


def test_what_cannot_be_is_shown_and_what_can_be_is_met() -> None:
    assert dive(NEVER, EVERY_OIL).boxes().any().is_none
    met = dive(BRIEF).boxes().any().met
    assert met is not None
    assert dive(BRIEF).holds(met)


def test_what_is_cloudy_is_not_met_and_bounds_all_the_same() -> None:
    """As if every blend were cloudy and no row could help it: the box, which is a point, still bounds what is in it."""
    oils = table(["grapeseed", "sunflower", "sunflower-high-oleic", "rice-bran"])
    found = dive(Wish(limits("feel >= 1;keeps >= 6"), most=4), oils)
    gain = oils.acids["linoleic"]
    clear = found.boxes().most(gain)
    cloudy = Boxes(found.program, found.keeping, lambda _: np.zeros(len(oils)), 6.0).most(gain)

    assert clear.met is not None
    assert cloudy.met is None
    assert cloudy.most == pytest.approx(clear.most, rel=0.01)


def test_oils_whose_price_nobody_knows_are_not_the_cheapest() -> None:
    oils = replace(table(), price=np.where([item.key == "sunflower" for item in table().items], np.nan, table().price))
    found = dive(NOT_DEAR, oils).answer(Objective.CHEAPEST)

    assert found is not None
    assert all(oils.items[place].key != "sunflower" for place in found.places)


def test_what_is_shown_to_be_none_is_looked_for_once(monkeypatch: pytest.MonkeyPatch) -> None:
    """Not for each thing that could be best; one that something keeps is looked for in all of them."""
    asked: list[Wish] = []

    def counted(wish: Wish, *rest: Any) -> Dive | None:
        asked.append(wish)
        return dive_for(wish, *rest)

    monkeypatch.setattr(offers_module, "dive_for", counted)
    assert list(offers_module.offers(NEVER, EVERY_OIL, DRAWS, look, habits=Habits())) == []
    assert asked == [NEVER]
    assert len(list(offers_module.offers(BRIEF, table(), DRAWS, look, habits=Habits()))) == 5
    assert len(asked) == 6
