"""What no blend can have more of: boxes are halved until nothing that can be left in them is better."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from heapq import heappop, heappush
from itertools import count
from math import inf

import numpy as np

from uptide.core.arrays import Array
from uptide.core.finder.search.box_rows import NARROW, Box, BoxRows
from uptide.core.finder.search.keeping import Keeping
from uptide.core.finder.search.solving import Program

BOXES = 10  # that are halved for one bound
FAR_IN = 0.25  # of a side: a box is halved no nearer to its ends
CLOUDED = 3  # times that a box is solved again since what was found in it is cloudy
MOST_HOURS = 1e6  # h at 110 °C: more than any oil has


@dataclass(frozen=True, eq=False)
class Most:
    """No blend has more of a gain than `most`; `met` is the best that was met and keeps the wish."""

    most: float
    met: Array | None

    @property
    def is_none(self) -> bool:
        """Whether it is shown that no blend keeps the wish."""
        return self.most == -inf


@dataclass(eq=False)
class Boxes:
    """Bounds for one wish: how much of a gain a blend can have that keeps its rows, is clear, and keeps so long.

    `cloudy` gives a row along which a blend grows clearer, or None where it is clear.
    """

    program: Program
    keeping: Keeping
    cloudy: Callable[[Array], Array | None]
    months: float
    more: list[Array] = field(default_factory=list)  # rows that must hold besides

    def __post_init__(self) -> None:
        self.rows = BoxRows(self.program, self.keeping, self.months)
        self.clear: list[Array] = []  # learnt where a blend was cloudy

    def most(self, gain: Array, known: float = -inf, tolerance: float = 0.0) -> Most:
        """No blend has more of a gain than this; looked for until it is nearer than a tolerance to what is `known`."""
        met: Array | None = None
        stuck = -inf
        heap: list[tuple[float, int, Box, Array]] = []
        numbers = count()

        def opened(box: Box) -> None:
            nonlocal met, known
            solved = self._solved(box, gain)
            if solved is None:
                return
            shares, most = solved
            if not self._keeps(shares):
                heappush(heap, (-most, next(numbers), box, shares))
            elif gain @ shares > known:
                met, known = shares, float(gain @ shares)

        whole = self.rows.whole(self.more)
        if whole is not None:
            opened(whole)
        for _ in range(BOXES):
            if not heap or -heap[0][0] <= known + tolerance:
                break
            most, _, box, shares = heappop(heap)
            halves = self._halves(box, shares)
            stuck = stuck if halves else max(stuck, -most)
            for half in halves:
                opened(half)
        return Most(max(known, stuck, -heap[0][0] if heap else -inf), met)

    def any(self) -> Most:
        """One blend that keeps the wish for so long, if one is met, or that none does."""
        sums, whole = self.rows.sums, self.rows.whole(self.more)
        if whole is None:
            return Most(-inf, None)
        hours = float(self.rows.hours(whole.points()[:1], sums.spreads[0])[0]) if self.months else 0.0
        return self.most(sums.column("capacity") - min(hours, MOST_HOURS) * sums.column("cox"), tolerance=inf)

    def _keeps(self, shares: Array) -> bool:
        long_enough = not self.months or self.keeping.months(shares) >= self.months
        return long_enough and self.cloudy(shares) is None

    def _solved(self, box: Box, gain: Array) -> tuple[Array, float] | None:
        """The best shares by the rows of a box, and a gain that none in it pass; None where none is in it."""
        rows = self.rows.of(box)
        if rows is None:
            return None
        solved = None
        for _ in range(CLOUDED):
            solved = self.program.bounded(gain, [*self.more, *rows, *self.clear])
            cloudy = None if solved is None else self.cloudy(solved[0])
            if cloudy is None:
                break
            self.clear.append(cloudy)
        return solved

    def _halves(self, box: Box, shares: Array) -> list[Box]:
        """A box in two, along the sum with which h differs most, near where its best lies; none of what is a point."""
        wide, centre = box.high - box.low, (box.low + box.high) / 2
        differs = np.where(wide > NARROW, 0.0, -1.0)
        for place in np.flatnonzero(wide > NARROW):
            ends = np.array([centre, centre])
            ends[:, place] = box.low[place], box.high[place]
            low, high = self.rows.hours(ends, self.rows.sums.spreads[0])
            differs[place] = inf if inf in (low, high) else abs(high - low)
        place = np.argmax(differs)
        if differs[place] < 0:
            return []
        inside = FAR_IN * wide[place]
        at = float(self.rows.sums.forms[place] @ shares)
        below, above = box.high.copy(), box.low.copy()
        below[place] = above[place] = min(max(at, box.low[place] + inside), box.high[place] - inside)
        return [Box(box.low, below), Box(above, box.high)]
