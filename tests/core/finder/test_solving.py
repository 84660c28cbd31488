"""The best shares are those that scipy.optimize.linprog finds in one company of oils after the other."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

import numpy as np
import pytest
from scipy.optimize import linprog

from uptide.core.arrays import Array
from uptide.core.finder.search.rows import Rows
from uptide.core.finder.search.solving import GAP, Program
from uptide.core.finder.search.wish import Wish

OILS, LEAST = 6, 0.05
NEAR = 2 * GAP  # of the largest gain: how far from the best HiGHS may stop, and what ties are told apart by


@dataclass(frozen=True)
class Case:
    """A wish drawn at random: what each oil gains, and what must hold."""

    gain: Array
    program: Program


def drawn(seed: int) -> Case:
    draws = np.random.default_rng(seed)
    rows = Rows(
        all_of=draws.uniform(-1, 1, (2, OILS)),
        units=draws.uniform(0.01, 0.1, 2),
        one_of=(draws.uniform(-1, 1, (2, OILS)),) if seed % 2 else (),
        most=np.where(draws.random(OILS) < 0.2, 0.0, draws.uniform(0.3, 1.0, OILS)),
    )
    fewest = int(draws.integers(1, 3))
    must = {int(draws.integers(OILS)): 0.15} if seed % 3 == 0 else {}
    shown = (tuple(int(oil) for oil in draws.choice(OILS, 2, replace=False)),) if seed % 5 == 0 else ()
    wish = Wish(fewest=fewest, most=fewest + int(draws.integers(0, 2)), least=LEAST)
    return Case(draws.uniform(-1, 1, OILS), Program(wish, rows, must, shown))


def best_by_company(case: Case, room: float) -> float | None:
    """The most that any company gains, one linear program for each and for each way to go."""
    program, found = case.program, []
    rows, wish = program.rows, program.wish
    for count in range(wish.fewest, wish.most + 1):
        for company in combinations(range(OILS), count):
            places = list(company)
            if set(program.must) - set(company) or any(set(each) <= set(company) for each in program.shown):
                continue
            bounds = [(max(LEAST, program.must.get(oil, 0.0)), rows.most[oil]) for oil in company]
            if any(low > high for low, high in bounds):
                continue
            for way in rows.one_of[0] if rows.one_of else [np.zeros(OILS)]:
                solved = linprog(
                    np.append(-case.gain[places], -room),
                    A_ub=-np.vstack([np.column_stack([rows.all_of[:, places], -rows.units]), [*way[places], 0.0]]),
                    b_ub=np.zeros(len(rows.all_of) + 1),
                    A_eq=[[1.0] * count + [0.0]],
                    b_eq=[1.0],
                    bounds=[*bounds, (0.0, 10.0)],
                )
                if solved.status == 0:
                    found.append(-solved.fun)
    return max(found, default=None)


@pytest.mark.parametrize("room", [0.0, 0.3])
@pytest.mark.parametrize("seed", range(30))
def test_no_company_of_oils_gains_more(seed: int, room: float) -> None:
    case = drawn(seed)
    most = best_by_company(case, room)
    found = case.program.bounded(case.gain, room=room)

    if most is None or found is None:
        assert found is None
        assert most is None
        return
    shares, bound = found
    spare = min(float((case.program.rows.all_of @ shares / case.program.rows.units).min()), 10.0) if room else 0.0
    assert case.gain @ shares + room * spare == pytest.approx(most, abs=NEAR)
    assert most - 1e-9 <= bound <= most + NEAR
    assert case.program.wish.fewest <= np.count_nonzero(shares) <= case.program.wish.most


def test_both_roads_are_gone() -> None:
    """Of these wishes some are best in parts already, some only among whole oils, and some cannot be."""
    roads = set()
    for seed in range(30):
        case = drawn(seed)
        in_parts, whole = (case.program.bounded(case.gain, relaxed=how) for how in (True, False))
        if in_parts is None or whole is None:
            roads.add("none")
        else:
            roads.add("the same" if np.allclose(in_parts[0], whole[0], atol=1e-9) else "another")

    assert roads == {"none", "the same", "another"}


@pytest.mark.parametrize(("most", "must"), [([0.0, 0.0], {}), ([1.0, 0.0], {1: 0.1}), ([1.0, 0.4], {1: 0.5})])
def test_without_an_oil_that_there_may_be_enough_of_there_is_nothing(most: list[float], must: dict[int, float]) -> None:
    rows = Rows(np.zeros((0, 2)), np.zeros(0), (), np.array(most))

    assert Program(Wish(), rows, must).best(np.ones(2)) is None
