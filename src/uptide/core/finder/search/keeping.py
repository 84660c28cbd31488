"""How long a blend of such shares keeps, by the model that every promise is made by, and which way it grows."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from uptide.core.arrays import Array
from uptide.core.finder.search.oil_table import OXIDISABLE, OilTable, mixture_of_sums
from uptide.core.finder.search.wish import Wish
from uptide.core.keeping.shelf_life import cap_months, fewer, horizon
from uptide.core.oxidation.simulate import Draws, simulate

STEP = 0.02  # of a sum: how far it is moved to see what it does to the months
PROMISED = 0.10  # of the draws: nine in ten reach it
PAST_THE_PROMISE = 1.6  # median lives: far enough where only the promise is asked for


@dataclass(frozen=True, eq=False)
class Keeping:
    """Months that nine in ten bottles of a blend reach, as a function of the shares of its oils."""

    table: OilTable
    wish: Wish
    draws: Draws

    def months(self, shares: Array) -> float:
        """Months of a blend, before they are made whole."""
        return self._of_sums(shares @ self.table.keeping, self.draws)

    def _of_sums(self, sums: Array, draws: Draws) -> float:
        mixture, storage = mixture_of_sums(sums), self.wish.storage
        months = horizon(mixture, storage, 1.0, reach=PAST_THE_PROMISE)
        found = simulate(
            mixture, storage, draws, start_month=self.wish.start_month, months=months, rate_shift=self.wish.rate_shift
        )
        return min(found.quantile(PROMISED), cap_months(mixture))

    def slope(self, shares: Array) -> Array:
        """By how much the months grow with a gram of each oil in a gram of the blend, the others as they are.

        Which way they grow, a few of the draws tell as well.
        """
        sums, few = shares @ self.table.keeping, fewer(self.draws)
        slopes = np.zeros(len(sums))
        for place, value in enumerate(sums):
            step = STEP * abs(value)
            if step > 0:
                more, less = sums.copy(), sums.copy()
                more[place], less[place] = value + step, value - step
                if more[OXIDISABLE] > 1:  # no more than all of it can oxidise
                    more[OXIDISABLE], step = 1.0, (1.0 - less[OXIDISABLE]) / 2
                slopes[place] = (self._of_sums(more, few) - self._of_sums(less, few)) / (2 * step) if step > 0 else 0.0
        return np.asarray(self.table.keeping @ slopes)

    def row(self, shares: Array, months: float) -> Array:
        """A row that holds where the months would be enough, were they as steep everywhere as here; no bound."""
        slope = self.slope(shares)
        return np.asarray(slope + (self.months(shares) - months - slope @ shares))

    @cached_property
    def is_asked(self) -> bool:
        """Whether it must keep for any time at all."""
        return self.wish.months > 0
