"""The shares that are best for a row, among those that keep all rows and have so many oils: a mixed-integer program.

HiGHS through scipy, which is read when the first wish is asked: it takes as long as a start.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from uptide.core.arrays import Array, IndexArray
from uptide.core.finder.search.rows import Rows
from uptide.core.finder.search.wish import Wish

GAP = 1e-4  # of the best: nearer, nothing is looked for
MOST_ROOM, CHOSEN = 10.0, 0.5  # steps to spare; of a column that is 0 or 1
TINY = 1e-12  # of a gain: with less, nothing is gained
ROUNDING = 1e-6  # of a row: what HiGHS takes as held
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
        """The same, with a gain that no shares pass; `relaxed` lets an oil be partly in it, which is quicker.

        Mostly what is best where oils may be partly in it has each of them wholly in it or not at all: then nothing is
        better, and the slow search among whole ones is spared.
        """
        self.go_on()
        oils = np.flatnonzero(self.rows.most > 0)  # the others have no column: there may be none of them
        model = self._model(oils, [*self.more, *learnt])
        if model is None:
            return None
        count, gains = len(oils), gain[oils]
        size = max(float(np.abs(gains).max(initial=0.0)), room, TINY)
        cost = np.zeros(len(model.lower))
        cost[:count], cost[-1] = TIE * np.arange(count) / count - gains / size, -room / size
        solved = model.least(cost, whole=False)
        if solved is not None and not relaxed:
            found = model.made_whole(solved[0])
            solved = model.least(cost, whole=True) if found is None else (found, solved[1])
        if solved is None:
            return None
        columns, least = solved
        is_in = relaxed | (columns[count : 2 * count] > CHOSEN)
        shares = np.zeros(len(gain))
        shares[oils] = np.where(is_in, columns[:count], 0.0)
        return None if shares.sum() <= 0 else (shares / shares.sum(), float(size * (TIE - least)))

    def within(self, places: Sequence[int]) -> Program:
        """The same with some of the oils alone, all of which must be in it."""
        kept = np.zeros(len(self.rows.most))
        kept[list(places)] = 1.0
        must = {place: self.must.get(place, self.wish.least) for place in places}
        return replace(self, rows=replace(self.rows, most=self.rows.most * kept), must=must, shown=())

    def _model(self, oils: IndexArray, learnt: Sequence[Array]) -> _Model | None:
        """All rows over the columns of some of the oils; None without one that must be in it."""
        count, ways = len(oils), sum(map(len, self.rows.one_of))
        width = 2 * count + ways + 1
        must = np.array([oil in self.must for oil in oils], dtype=bool)
        least = np.array([max(self.must.get(oil, 0.0), self.wish.least) for oil in oils])
        most = self.rows.most[oils]
        if must.sum() < len(self.must):
            return None
        lines, low = self._lines(oils, learnt, width)
        identity, none = np.eye(count), np.zeros((count, ways + 1))
        whole = np.zeros((2, width))
        whole[0, :count], whole[1, count : 2 * count] = 1.0, 1.0
        nothing = np.zeros(2 * count)
        return _Model(
            rows=np.vstack(
                [
                    np.hstack([-identity, np.diag(most), none]),
                    np.hstack([identity, -np.diag(least), none]),
                    whole,
                    *lines,
                ]
            ),
            low=np.concatenate([nothing, [1.0, self.wish.fewest], low]),
            high=np.concatenate([nothing + np.inf, [1.0, self.wish.most], np.full(len(low), np.inf)]),
            lower=np.concatenate([np.where(must, least, 0.0), must, np.zeros(ways + 1)]),
            upper=np.concatenate([most, np.ones(count + ways), [MOST_ROOM]]),
            one_of=tuple(way[:, oils] for way in self.rows.one_of),
        )

    def _lines(self, oils: IndexArray, learnt: Sequence[Array], width: int) -> tuple[list[Array], list[float]]:
        """The rows of the wish over so many columns, and what each is at least."""
        count = len(oils)
        lines: list[Array] = []
        low: list[float] = []

        def add(row: Array, least: float) -> Array:
            line = np.zeros(width)
            line[: len(row)] = row
            lines.append(line)
            low.append(least)
            return line

        for row, unit in zip(self.rows.all_of, self.rows.units, strict=True):
            add(row[oils], 0.0)[-1] = -unit
        for row in learnt:
            size = max(float(np.abs(row).max(initial=0.0)), GAP)
            add(row[oils] / size, 0.0)[-1] = -1.0 / size
        place = 2 * count
        for way in self.rows.one_of:  # one of its rows must hold: the others give way by as much as they ever could
            for row in way[:, oils]:
                give = max(0.0, -float(row.min(initial=0.0)))
                add(row, -give)[place] = -give
                place += 1
            add(np.zeros(0), 1.0)[place - len(way) : place] = 1.0
        for company in self.shown:
            columns = count + np.flatnonzero(np.isin(oils, company))
            add(np.zeros(0), 1.0 - len(company))[columns] = -1.0
        return lines, low


@dataclass(frozen=True, eq=False)
class _Model:
    """Rows that hold between two bounds each, over columns between theirs.

    The columns are the shares, as many that are 1 of what is in it, one of each way that is gone, and the room.
    """

    rows: Array
    low: Array
    high: Array
    lower: Array
    upper: Array
    one_of: tuple[Array, ...]

    def least(self, cost: Array, *, whole: bool) -> tuple[Array, float] | None:
        """The columns that cost least, and what none costs less than; None where nothing keeps all rows."""
        from scipy.optimize import Bounds, LinearConstraint, milp

        integrality = np.zeros(len(cost))
        integrality[self._shares : -1] = 1.0 if whole else 0.0
        found = milp(
            c=cost,
            constraints=LinearConstraint(self.rows, self.low, self.high),
            integrality=integrality,
            bounds=Bounds(self.lower, self.upper),
            options={"mip_rel_gap": GAP, "presolve": whole},  # it takes longer than to solve what is not whole
        )
        if found.x is None:
            return None
        return found.x, float(found.fun if found.mip_dual_bound is None else found.mip_dual_bound)

    def made_whole(self, columns: Array) -> Array | None:
        """The same shares with each oil that has one wholly in it; None where rows do not hold so."""
        shares = columns[: self._shares]
        gone = [way @ shares >= -ROUNDING for way in self.one_of]
        made = np.concatenate([shares, shares > ROUNDING, *gone, columns[-1:]])
        held = self.rows @ made
        kept = np.all(held >= self.low - ROUNDING) and np.all(held <= self.high + ROUNDING)
        return made if kept and np.all(made >= self.lower - ROUNDING) else None

    @property
    def _shares(self) -> int:
        """How many of the columns are shares."""
        return (len(self.lower) - 1 - sum(map(len, self.one_of))) // 2
