"""How long a blend of such shares keeps, by the model that every promise is made by, and which way it grows."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from math import ceil, exp, inf, log

import numpy as np

from uptide.core.arrays import Array, quantiles
from uptide.core.finder.search.oil_table import OXIDISABLE, OilTable, mixture_of_sums
from uptide.core.finder.search.wish import Wish
from uptide.core.keeping.limiting import fewer, horizon
from uptide.core.keeping.shelf_life import cap_months
from uptide.core.oxidation.simulate import Draws, simulate
from uptide.core.oxidation.surroundings import GLASS_PASSES, LIGHT_LEVEL, photo_rate

STEP = 0.02  # of a sum: how far it is moved to see what it does to the months
PROMISED = 0.10  # of the draws: nine in ten reach it
ENDED = 0.11  # of the draws: once they have ended, the promise is known
NEAR, BESIDE, AROUND = 5e-4, 0.05, 6.0  # of the logarithm of an induction time: near enough, a step, and too far
PAST_THE_PROMISE = 1.6  # median lives: far enough where only the promise is asked for


@dataclass(frozen=True, eq=False)
class Keeping:
    """Months that nine in ten bottles of a blend reach, as a function of the shares of its oils."""

    table: OilTable
    wish: Wish
    draws: Draws
    go_on: Callable[[], None] = lambda: None  # asked before each step; what it raises ends the search

    def months(self, shares: Array) -> float:
        """Months of a blend, before they are made whole."""
        return self._of_sums(shares @ self.table.keeping, self.draws)

    def _of_sums(self, sums: Array, draws: Draws) -> float:
        self.go_on()
        mixture, storage = mixture_of_sums(sums), self.wish.storage
        months = horizon(mixture, storage, 1.0, reach=PAST_THE_PROMISE)
        found = simulate(
            mixture,
            storage,
            draws,
            start_month=self.wish.start_month,
            months=months,
            rate_shift=self.wish.rate_shift,
            until=ENDED,
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

    def needed_hours(self, sums: Array, months: float, guess: float = 0.0) -> float:
        """Induction time [h at 110 °C] with which a blend of such sums keeps so many months; inf where none does.

        In the dark each draw needs b/(1 - a) of it, where a is spent without any oxidation and b by it in an oil of
        one hour; in the light it is searched, from a `guess` if there is one.
        """
        self.go_on()
        whole = ceil(months)
        mixture, storage = mixture_of_sums(sums), self.wish.storage
        if mixture.induction_hours is None:
            return 0.0 if self._of_sums(sums, self.draws) >= months else inf
        if cap_months(mixture) < months:
            return inf

        def spent(hours: float) -> Array:
            return simulate(
                mixture,
                storage,
                self.draws,
                start_month=self.wish.start_month,
                osi_hours=hours,
                months=whole,
                rate_shift=self.wish.rate_shift,
            ).spent(months)

        def short(hours: float) -> float:
            return float(quantiles(spent(hours), (1 - PROMISED,))[0]) - 1

        if guess and self.is_lit and mixture.light and (found := _root(short, guess)) is not None:
            return found
        stood = spent(inf)
        with np.errstate(divide="ignore"):
            needs = np.where(stood < 1, (spent(1.0) - stood) / (1 - stood), inf)
        dark = float(np.sort(needs)[ceil((1 - PROMISED) * (len(needs) - 1))])
        if not self.is_lit or not mixture.light or dark == inf:
            return dark
        return _bracketed(short, dark)

    @cached_property
    def is_lit(self) -> bool:
        """Whether light reaches it where it stands."""
        storage = self.wish.storage
        return photo_rate(1.0, LIGHT_LEVEL[storage.light], GLASS_PASSES[storage.glass], 0.0) > 0

    @cached_property
    def is_asked(self) -> bool:
        """Whether it must keep for any time at all."""
        return self.wish.months > 0


def _root(short: Callable[[float], float], guess: float) -> float | None:
    """The induction time [h at 110 °C] at which nothing is short, near a guess; None where it is not near."""
    from scipy.optimize import newton

    start = log(guess)
    found, told = newton(
        lambda ln_hours: short(exp(ln_hours)), start, x1=start + BESIDE, tol=NEAR, full_output=True, disp=False
    )
    return exp(found) if told.converged and abs(found - start) < AROUND else None


def _bracketed(short: Callable[[float], float], dark: float) -> float:
    """The same in the light, where no less than in the dark is needed."""
    from scipy.optimize import brentq

    start = log(dark)
    return exp(brentq(lambda ln_hours: short(exp(ln_hours)), start - NEAR, start + AROUND, xtol=NEAR))
