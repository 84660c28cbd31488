"""The shares that are best for a row, among those that keep all rows and have so many oils: a mixed-integer program.

HiGHS through scipy, which is read when the first wish is asked: it takes as long as a start.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from uptide.core.arrays import Array
from uptide.core.finder.search.rows import Rows
from uptide.core.finder.search.wish import Wish

GAP = 1e-4  # of the best: nearer, nothing is looked for
MOST_ROOM, CHOSEN = 10.0, 0.5  # steps to spare; of a column that is 0 or 1
TINY = 1e-12  # of a gain: with less, nothing is gained
TIE = 1e-5  # of the gain, from the first oil to the last: what stands first is taken where nothing else tells apart


@dataclass(frozen=True, eq=False)
class Program:
    """What a wish asks of shares, with rows that were learnt on the way and companies that were shown already."""

    wish: Wish
    rows: Rows
    must: Mapping[int, float]
    shown: tuple[tuple[int, ...], ...] = ()
    more: tuple[Array, ...] = ()  # rows that must hold besides
    go_on: Callable[[], None] = lambda: None  # asked before each solution; what it raises ends the search

    def best(self, gain: Array, learnt: Sequence[Array] = (), *, room: float = 0.0) -> Array | None:
        """The shares with the most gain; None where nothing keeps all rows.

        Args:
            gain: of each oil.
            learnt: rows that were learnt on the way; each is to hold by a unit of 1 for a step that is felt.
            room: how much is gained for each step that every limit has to spare; 0 where nobody asks for room.
        """
        found = self.bounded(gain, learnt, room=room)
        return None if found is None else found[0]

    def bounded(
        self, gain: Array, learnt: Sequence[Array] = (), *, room: float = 0.0, relaxed: bool = False
    ) -> tuple[Array, float] | None:
        """The same, with a gain that no shares pass; `relaxed` lets an oil be partly in it, which is quicker."""
        from scipy.optimize import Bounds, LinearConstraint, milp

        self.go_on()
        count, ways = len(gain), sum(map(len, self.rows.one_of))
        spare = 2 * count + ways  # the column of what every limit has to spare
        width = spare + 1
        lines, low = self._lines([*self.more, *learnt], count, width, spare)
        identity, none = np.eye(count), np.zeros((count, ways + 1))
        least = np.full(count, self.wish.least)
        for oil, share in self.must.items():
            least[oil] = max(share, self.wish.least)
        whole = np.zeros((2, width))
        whole[0, :count], whole[1, count : 2 * count] = 1.0, 1.0
        constraints = [
            LinearConstraint(np.hstack([-identity, np.diag(self.rows.most), none]), 0.0, np.inf),
            LinearConstraint(np.hstack([identity, -np.diag(least), none]), 0.0, np.inf),
            LinearConstraint(whole, [1.0, self.wish.fewest], [1.0, self.wish.most]),
        ]
        if lines:
            constraints.append(LinearConstraint(np.array(lines), low, np.inf))
        lower, upper = np.zeros(width), np.concatenate([self.rows.most, np.ones(count + ways), [MOST_ROOM]])
        for oil in self.must:
            lower[oil], lower[count + oil] = least[oil], 1.0
        if np.any(lower > upper):
            return None
        size = max(float(np.abs(gain).max(initial=0.0)), room, TINY)
        found = milp(
            c=np.concatenate([TIE * np.arange(count) / count - gain / size, np.zeros(count + ways), [-room / size]]),
            constraints=constraints,
            integrality=np.concatenate([np.zeros(count), np.full(count + ways, 0 if relaxed else 1), [0.0]]),
            bounds=Bounds(lower, upper),
            options={"mip_rel_gap": GAP, "presolve": False},
        )
        if found.x is None:
            return None
        shares = found.x[:count] if relaxed else np.where(found.x[count : 2 * count] > CHOSEN, found.x[:count], 0.0)
        if shares.sum() <= 0:
            return None
        least_of_all = found.fun if found.mip_dual_bound is None else found.mip_dual_bound
        return np.asarray(shares / shares.sum()), float(size * (TIE - least_of_all))

    def within(self, places: Sequence[int]) -> Program:
        """The same with some of the oils alone, all of which must be in it."""
        kept = np.zeros(len(self.rows.most))
        kept[list(places)] = 1.0
        must = {place: self.must.get(place, self.wish.least) for place in places}
        return replace(self, rows=replace(self.rows, most=self.rows.most * kept), must=must, shown=())

    def _lines(self, learnt: Sequence[Array], count: int, width: int, spare: int) -> tuple[list[Array], list[float]]:
        """The rows over all columns, and what each is at least."""
        lines: list[Array] = []
        low: list[float] = []

        def add(row: Array, least: float) -> Array:
            line = np.zeros(width)
            line[: len(row)] = row
            lines.append(line)
            low.append(least)
            return line

        for row, unit in zip(self.rows.all_of, self.rows.units, strict=True):
            add(row, 0.0)[spare] = -unit
        for row in learnt:
            size = max(float(np.abs(row).max(initial=0.0)), GAP)
            add(row / size, 0.0)[spare] = -1.0 / size
        place = 2 * count
        for way in self.rows.one_of:  # one of its rows must hold: the others give way by as much as they ever could
            for row in way:
                give = max(0.0, -float(row.min()))
                add(row, -give)[place] = -give
                place += 1
            add(np.zeros(0), 1.0)[place - len(way) : place] = 1.0
        for company in self.shown:
            add(np.zeros(0), 1.0 - len(company))[[count + each for each in company]] = -1.0
        return lines, low
