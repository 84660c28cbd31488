"""Rows for a box of sums: in it, a blend that keeps so many months has an induction time above a plane.

A blend keeps m months where its induction time is at least h, and h depends on three sums of its shares (how stale its
oils are, how much of it can oxidise, how much light harms it) and on how uncertain its oils are. In a box of the three
h is no less than a plane, and that is a row, with each product of two sums replaced by the planes under it (McCormick).
The plane lies under h at the corners, the sides and the centre of its box, not proved to lie under it between them: a
bound holds to about 0.1 months.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import product
from math import inf

import numpy as np

from uptide.core.arrays import Array, BoolArray
from uptide.core.finder.search.keeping import Keeping
from uptide.core.finder.search.oil_table import SUMS, OilTable
from uptide.core.finder.search.solving import Program

UNDER = 5e-4  # of h: how far a plane is lowered
BETWEEN = 0.25  # of the way from the least spread to the greatest: h bends most near the least
LEAST_FRESH = 1e-6  # meq/kg of what can oxidise: floats may leave a corner below nothing
NARROW = 1e-4  # of a side: what is not wider is a point
ROOM = 1e-5  # of a box: what floats may leave a blend outside


@dataclass(frozen=True, eq=False)
class Box:
    """Bounds on the three sums of a blend."""

    low: Array
    high: Array

    def points(self) -> Array:
        """Its corners, the middles of its sides, and its centre."""
        centre = (self.low + self.high) / 2
        wide = np.flatnonzero(self.high - self.low > NARROW)
        found = [centre]
        for ends in product((0, 1), repeat=len(wide)):
            corner = centre.copy()
            corner[wide] = np.where(ends, self.high[wide], self.low[wide])
            found.append(corner)
        for place, end in product(wide, (self.low, self.high)):
            middle = centre.copy()
            middle[place] = end[place]
            found.append(middle)
        return np.array(found)


@dataclass(frozen=True, eq=False)
class Sums:
    """What the sums of a blend can be at a point of a box: each of the others as is best for its months."""

    table: OilTable
    allowed: BoolArray
    is_lit: bool

    def column(self, name: str) -> Array:
        """What each oil brings to a sum, by the gram."""
        return self.table.keeping[:, SUMS.index(name)]

    @property
    def forms(self) -> Array:
        """The sums as rows over the oils: peroxides of fresh oils above 1, what can oxidise, and in the light that."""
        oxidisable = self.column("oxidisable")
        found = [self.column("fresh") - oxidisable, oxidisable]
        return np.array([*found, self.column("light")] if self.is_lit else found)

    def least(self, name: str, under: str) -> float:
        """The least of a ratio among the oils that can oxidise."""
        can = self.allowed & (self.column("oxidisable") > 0)
        return float((self.column(name)[can] / self.column(under)[can]).min(initial=inf))

    @property
    def spreads(self) -> tuple[float, ...]:
        """The least and the greatest spread of an induction time, and in the dark one between them, where h bends."""
        can = self.allowed & (self.column("cox") > 0)
        if not can.any():
            return (0.0,)  # nothing in it can oxidise
        each = self.column("spread")[can] / self.column("cox")[can]
        least, most = float(each.min()), float(each.max())
        if most - least <= NARROW:
            return (least,)
        return (least, most) if self.is_lit else (least, least + BETWEEN * (most - least), most)

    def at(self, point: Array, spread: float) -> Array:
        """The sums at a point, with what it does not say as good for keeping as it can be."""
        stale, oxidisable = float(point[0]), float(point[1])
        fresh = max(stale + oxidisable, LEAST_FRESH * oxidisable)
        start = self.least("start", "fresh") * fresh if fresh > 0 else 0.0
        sums = {
            "capacity": 1.0,
            "cox": 1.0,
            "spread": spread,
            "fresh": fresh,
            "oxidisable": oxidisable,
            "limit": self._limit(stale, oxidisable),
            "light": float(point[2]) if self.is_lit else 0.0,
            "chlorophyll": float(self.column("chlorophyll")[self.allowed].min()),
            "start": start,
            "start_spread": self.least("start_spread", "start") * start if start > 0 else 0.0,
            "aged": float(self.column("aged")[self.allowed].min()),
        }
        return np.array([sums[name] for name in SUMS])

    def _limit(self, stale: float, oxidisable: float) -> float:
        """The highest limit that oils so stale can have [meq/kg]: the upper hull of what they have one by one."""
        can = self.column("oxidisable") > 0
        inert = float(self.column("limit")[self.allowed & ~can].max(initial=0.0))
        known = sorted(
            {
                (float(a), float(b))
                for a, b in zip(
                    self.forms[0][self.allowed & can], self.column("limit")[self.allowed & can], strict=True
                )
            }
        )
        hull: list[tuple[float, float]] = []
        for point in known:
            while hull and hull[-1][0] == point[0]:
                hull.pop()
            while len(hull) > 1 and _is_under(hull[-2], hull[-1], point):
                hull.pop()
            hull.append(point)
        stale_each = stale / oxidisable if oxidisable > 0 else 0.0
        of_oils = float(np.interp(stale_each, [a for a, _ in hull], [b for _, b in hull])) if hull else 0.0
        return (1 - oxidisable) * inert + oxidisable * of_oils


def _is_under(before: tuple[float, float], it: tuple[float, float], after: tuple[float, float]) -> bool:
    return (it[1] - before[1]) * (after[0] - before[0]) <= (after[1] - before[1]) * (it[0] - before[0])


@dataclass(eq=False)
class BoxRows:
    """The rows of boxes, for blends that keep the rows of a program and so many months."""

    program: Program
    keeping: Keeping
    months: float
    known: dict[tuple[tuple[float, ...], float], float] = field(default_factory=dict)  # h [h], by point and spread
    near: float = 0.0  # h that was found last

    def __post_init__(self) -> None:
        self.sums = Sums(self.keeping.table, self.program.rows.most > 0, self.keeping.is_lit)

    def whole(self, more: list[Array]) -> Box | None:
        """The box of all blends that keep the rows, and some more; None where there are none."""
        ends = [[self._end(form, more, way) for form in self.sums.forms] for way in (-1, 1)]
        if any(end is None for side in ends for end in side):
            return None
        low, high = (np.array(side, float) for side in ends)
        return Box(low, high)

    def _end(self, form: Array, rows: list[Array], way: int) -> float | None:
        """The least or the most of a sum, by rows alone."""
        found = self.program.bounded(way * form, rows, relaxed=True)
        return None if found is None else way * found[1]

    def of(self, box: Box) -> list[Array] | None:
        """The rows of a box; None where nothing in it keeps so long."""
        sums, ends = self.sums, []
        for form, low, high in zip(sums.forms, box.low, box.high, strict=True):
            ends += [form - low + ROOM, high - form + ROOM]
        if not self.months:
            return ends
        capacity, cox = sums.column("capacity"), sums.column("cox")
        spreads, points = sums.spreads, box.points()
        hours = np.array([self.hours(points, spread) for spread in spreads])
        lowest = float(hours.min())
        if lowest == inf:
            return None
        rows = [*ends, capacity - lowest * (1 - UNDER) * cox]
        if np.isinf(hours).any():  # here and there nothing is enough: a plane can't lie under that
            return rows
        ranges = self._end(cox, rows, -1), self._end(cox, rows, 1)
        if ranges[0] is None or ranges[1] is None:
            return None
        for height, sideways, slopes in _under(points, hours, box, spreads):
            base = capacity - height * (1 - UNDER) * cox - sideways * (sums.column("spread") - spreads[0] * cox)
            rows += [base - held for held in self._products(box, slopes, (ranges[0], ranges[1]))]
        return rows

    def hours(self, points: Array, spread: float) -> Array:
        """The induction time [h at 110 °C] that is needed at each point."""
        return np.array([self._needed(tuple(point), spread) for point in points.tolist()])

    def _needed(self, point: tuple[float, ...], spread: float) -> float:
        """The induction time that a blend needs at a point; boxes share their corners."""
        if (point, spread) not in self.known:
            needed = self.keeping.needed_hours(self.sums.at(np.array(point), spread), self.months, self.near)
            self.known[point, spread] = needed
            self.near = needed if 0 < needed < inf else self.near
        return self.known[point, spread]

    def _products(self, box: Box, slopes: Array, cox: tuple[float, float]) -> Iterator[Array]:
        """What a plane's slopes come to, times cox, at the least: each product by both of the planes under it."""
        low_cox, high_cox = cox
        ways: list[tuple[Array, Array]] = []
        for form, slope, low, high in zip(self.sums.forms, slopes, box.low, box.high, strict=True):
            if high - low <= NARROW or slope == 0:
                continue
            along, wide, mine = form - low, high - low, self.sums.column("cox")
            near, far = (low_cox, high_cox) if slope > 0 else (high_cox, low_cox)
            ways.append((slope * near * along, slope * (far * along + wide * mine - wide * far)))
        for way in product(*ways):
            yield sum(way, np.zeros(len(self.sums.table)))


def _under(points: Array, hours: Array, box: Box, spreads: tuple[float, ...]) -> Iterator[tuple[float, float, Array]]:
    """Planes under h at all points of a box and all spreads: height at the low corner, slope by spread, slopes.

    `hours` are spreads x points; there is a plane for each stretch between two spreads, along h there.
    """
    slopes = np.zeros(points.shape[1])
    for place, (low, high) in enumerate(zip(box.low, box.high, strict=True)):
        if high - low > NARROW:
            at_low, at_high = np.isclose(points[:, place], low), np.isclose(points[:, place], high)
            slopes[place] = (hours[0, at_high].mean() - hours[0, at_low].mean()) / (high - low)
    flat = hours - (points - box.low) @ slopes
    moved = np.array(spreads) - spreads[0]
    for first in range(max(1, len(spreads) - 1)):
        sideways = 0.0
        if len(spreads) > 1:
            sideways = float((hours[first + 1] - hours[first]).mean() / (moved[first + 1] - moved[first]))
        yield float((flat - sideways * moved[:, None]).min()), sideways, slopes
