"""What of a blend is solid: whether it is clear, or as solid as was asked, and rows along which it comes nearer."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from uptide.core.arrays import Array
from uptide.core.finder.search.oil_table import OilTable
from uptide.core.finder.search.wish import Wish
from uptide.core.physics.solid import CLEAR, Melt, Melting
from uptide.core.tolerance import exceeds, reaches

NUDGE = 1e-3  # of a share: how far it is moved to see what becomes solid
FAR, NEARER = 0.3, 0.05  # the same where more must be solid: by a little of a butter nothing is
HALFWAY = 0.5  # of what must be solid: with less, it is far
EXTRA = 1e-3  # % solid: a row holds by so much


class _Demand(NamedTuple):
    celsius: float
    at_least: bool
    bound: float  # % solid


@dataclass(frozen=True, eq=False)
class Setting:
    """What a wish asks of how solid its blends are; `most` of an oil [g/g] says which can be in them."""

    wish: Wish
    table: OilTable
    most: Array

    def unmet(self, shares: Array) -> Array | None:
        """A row along which a blend comes nearer to what is asked and it does not keep; None where it keeps all."""
        for demand in self._demands():
            solid = self.solid(shares, demand.celsius)
            if demand.at_least and not reaches(solid, demand.bound):
                step = FAR if solid < HALFWAY * demand.bound else NEARER
                return np.asarray(solid - demand.bound - EXTRA + self._slope(shares, solid, demand.celsius, step))
            is_clear = demand.bound == CLEAR
            if not demand.at_least and (reaches(solid, CLEAR) if is_clear else exceeds(solid, demand.bound)):
                return np.asarray(demand.bound - EXTRA - solid - self._slope(shares, solid, demand.celsius, NUDGE))
        return None

    def solid(self, shares: Array, celsius: float) -> float:
        """What of a blend is solid [%]."""
        parts = (
            Melting(float(shares[place]), item.lipid, item.melting, item.cloud_shift)
            for place in np.flatnonzero(shares > 0)
            for item in (self.table.items[place],)
        )
        return Melt.of(parts).solid_at(celsius)

    def _demands(self) -> Iterator[_Demand]:
        if self.wish.clear_at is not None:
            yield _Demand(self.wish.clear_at, at_least=False, bound=CLEAR)
        for limit in self.wish.limits:
            if limit.figure == "solid":
                yield _Demand(limit.celsius, limit.at_least, limit.bound)

    def _slope(self, shares: Array, solid: float, celsius: float, step: float) -> Array:
        """By how much more is solid for a gram of each oil in the place of the blend."""
        slope = np.zeros(len(shares))
        for place in np.flatnonzero(self.most > 0):
            moved = (1 - step) * shares
            moved[place] += step
            slope[place] = (self.solid(moved, celsius) - solid) / step
        return slope
