"""The same model for thousands of bottles that could be this one: what is uncertain is drawn, and draws are kept."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from math import log, sqrt
from types import MappingProxyType

import numpy as np

from uptide.core.arrays import Array
from uptide.core.months import HOURS_A_MONTH
from uptide.core.oxidation import rate
from uptide.core.oxidation.mixture import OilMixture
from uptide.core.oxidation.oil import BOOK_SD
from uptide.core.oxidation.protection import LN_SD
from uptide.core.oxidation.surroundings import GLASS_PASSES, LIGHT_LEVEL, Storage, photo_rate

EXTRAPOLATION_SD, STORAGE_SD = 0.25, 0.20  # ln rate: from 110 °C down to a shelf; how it is really kept
BEND_SD, AGEING_SD, LIGHT_SD = 0.5, 0.20, 0.6
DILUENT_CREDIT = 0.5  # an inert diluent is credited with x^c, c drawn evenly from 0 to this; assumption
LEVELS_OFF = 0.999  # of where the rate law levels off: never quite reached
MONTHS = 60
MOST_PARTS = 12


def total_sd(osi_sd: float = BOOK_SD) -> float:
    """Standard deviation of the ln rate of a lot: induction time, extrapolation, storage.

    >>> round(total_sd(), 4), round(total_sd(0.10), 4)
    (0.4743, 0.3354)
    """
    return sqrt(osi_sd**2 + EXTRAPOLATION_SD**2 + STORAGE_SD**2)


@dataclass(frozen=True, slots=True, eq=False)
class Draws:
    """Standard draws that all simulations share, so that a page does not flicker and sensitivities compare like."""

    rate: Array
    bend: Array
    ageing: Array
    light: Array
    protection: Array
    diluent: Array
    peroxide: Array  # one row for each part of a blend

    @property
    def count(self) -> int:
        """How many bottles are drawn."""
        return len(self.rate)


def make_draws(generator: np.random.Generator, count: int = 2000) -> Draws:
    """Draw once; `generator` is passed in, so that the core itself knows no chance."""
    normal = generator.standard_normal((5, count))
    return Draws(
        normal[0],
        normal[1],
        normal[2],
        normal[3],
        normal[4],
        generator.random(count),
        generator.standard_normal((MOST_PARTS, count)),
    )


@dataclass(frozen=True, slots=True)
class Simulation:
    """Lives [months] of all draws, and the peroxide value [meq/kg] month by month; rows are months 0 to MONTHS."""

    lives: Array
    peroxides: Array
    oxidation_fraction: Array
    ageing_fraction: Array

    def quantile(self, probability: float) -> float:
        """Life [months] that this part of the bottles does not reach."""
        ordered = np.sort(self.lives)
        place = probability * (len(ordered) - 1)
        below = min(int(place), len(ordered) - 2)
        return float(ordered[below] + (place - below) * (ordered[below + 1] - ordered[below]))


@dataclass(frozen=True, slots=True)
class Learnt:
    """What readings taught, draw by draw: the ln rate error, and the ln of PV at the start over its book value.

    The two are drawn together, because a bottle that started fresher and turned faster reads the same.
    """

    rate: Array
    start: Array


def book_peroxide(mixture: OilMixture) -> float:
    """Peroxide value [meq/kg] of the blend at the start by the book: each lot's own or its class's, mixed by mass."""
    return sum(p.share * (p.oil.fresh_pv if p.pv is None else p.pv) for p in mixture.parts if not p.oil.is_inert)


def start_peroxides(mixture: OilMixture, draws: Draws) -> Array:
    """Peroxide value [meq/kg] of the blend now, in every draw: each lot's own, mixed by mass; inert oils bring none."""
    total = np.zeros(draws.count)
    for place, part in enumerate(part for part in mixture.parts if not part.oil.is_inert):
        pv = part.oil.fresh_pv if part.pv is None else max(part.pv, 0.05)
        total += part.share * np.exp(log(pv) + part.pv_sd * draws.peroxide[place % MOST_PARTS])
    return total


def simulate(
    mixture: OilMixture,
    storage: Storage,
    draws: Draws,
    *,
    start_month: int = 0,
    osi_hours: float | None = None,
    protection: float = 1.0,
    life_fraction_spent: float = 0.0,
    months_old: float = 0.0,
    learnt: Learnt | None = None,
    moves: Mapping[int, Storage] = MappingProxyType({}),
    heated: Mapping[int, float] = MappingProxyType({}),
    months: int = MONTHS,
    rate_shift: float = 0.0,
) -> Simulation:
    """Follow all draws month by month.

    Args:
        mixture: the oils.
        storage: where it stands; its temperatures follow the calendar from `start_month` (0 is January).
        draws: what is uncertain.
        start_month: month of the year in which it starts.
        osi_hours: induction time to use [h at 110 °C]; the pooled one by default.
        protection: factor of the antioxidants.
        life_fraction_spent: part of the oxidation life that heat took before.
        months_old: how long it stood at 20 °C in the dark before, with unknown peroxides: the same draws are aged.
        learnt: the rate error and start when readings taught them.
        moves: where it stands from a month on, by month.
        heated: part of the oxidation life that heat takes in a month, by month.
        months: how far to go.
        rate_shift: ln rate that other bottles taught; where this one has readings of its own they say it all.
    """
    ageing = np.exp(AGEING_SD * draws.ageing)
    if mixture.induction_hours is None:
        return _inert(mixture, storage, ageing, start_month, months, moves)
    bend = BEND_SD * draws.bend
    error = learnt.rate if learnt else rate_shift + total_sd(mixture.osi_sd) * draws.rate
    factor = np.exp(log(protection) * (1 + LN_SD * draws.protection))
    hours = osi_hours or mixture.induction_hours
    thinned = mixture.oxidisable ** (DILUENT_CREDIT * draws.diluent)
    seed, ceiling, fresh = rate.SEED_PV * thinned, rate.CEILING_PV * thinned, mixture.fresh_pv * thinned
    # A trace in an inert oil levels off before the limit of the whole: it then takes a very long time to come near.
    limit = np.minimum(mixture.limit_pv, LEVELS_OFF * ceiling)
    span = rate.life_span(fresh, limit, seed, ceiling)
    base = rate.induction_span(mixture.fresh_pv) * np.exp(error) / (hours * factor)

    start = book_peroxide(mixture) * np.exp(learnt.start) if learnt else start_peroxides(mixture, draws)
    pv = np.minimum(start, 0.9 * ceiling)
    u = rate.progress(pv, seed, ceiling) + life_fraction_spent * span
    aged = mixture.ageing_spent / ageing
    if months_old:
        u = u + base / rate.stretch(rate.CALIBRATED_KELVIN, bend) * months_old * HOURS_A_MONTH
        aged = aged + months_old / (rate.AGEING_MONTHS * ageing)
    pv = rate.peroxide_value(u, seed, ceiling)
    dazzle = np.exp(LIGHT_SD * draws.light) / 24
    fresh_u = rate.progress(fresh, seed, ceiling)
    peroxides, oxidation, spent = [pv], [(rate.progress(pv, seed, ceiling) - fresh_u) / span], [aged]
    rate_constants: dict[tuple[Storage, float], Array] = {}
    for month in range(months):
        storage = moves.get(month, storage)
        celsius = storage.celsius[(start_month + month) % 12]
        if (storage, celsius) not in rate_constants:
            factor_here = _swing(storage, celsius) * storage.oxidation_factor
            rate_constants[storage, celsius] = base / rate.stretch(celsius + 273.15, bend) * factor_here
        photo = photo_rate(mixture.light, LIGHT_LEVEL[storage.light], GLASS_PASSES[storage.glass], mixture.chlorophyll)
        if month in heated:
            u = u + heated[month] * span
        if photo > 0:
            pv = rate.peroxide_value(u, seed, ceiling)
            lit = rate.step(pv, rate_constants[storage, celsius], photo * dazzle, HOURS_A_MONTH, seed, ceiling)
            u = rate.progress(np.minimum(lit, LEVELS_OFF * ceiling), seed, ceiling)
        else:
            u = u + rate_constants[storage, celsius] * HOURS_A_MONTH
        peroxides.append(rate.peroxide_value(u, seed, ceiling))
        oxidation.append((u - fresh_u) / span)
        spent.append(spent[-1] + _ageing_step(storage, celsius) / ageing)
    return _simulation(np.array(peroxides), np.array(oxidation), np.array(spent))


def _swing(storage: Storage, celsius: float) -> float:
    return rate.swing_factor(celsius + 273.15, storage.swing) if storage.swing else 1.0


def _ageing_step(storage: Storage, celsius: float) -> float:
    kelvin = celsius + 273.15
    swing = rate.swing_factor(kelvin, storage.swing, rate.AGEING_ENERGY) if storage.swing else 1.0
    return storage.ageing_factor * swing / float(rate.ageing_months(kelvin))


def _inert(
    mixture: OilMixture,
    storage: Storage,
    ageing: Array,
    start_month: int,
    months: int,
    moves: Mapping[int, Storage],
) -> Simulation:
    """Nothing can oxidise: ageing alone ends it."""
    spent = [mixture.ageing_spent / ageing]
    for month in range(months):
        storage = moves.get(month, storage)
        celsius = storage.celsius[(start_month + month) % 12]
        spent.append(spent[-1] + _ageing_step(storage, celsius) / ageing)
    flat = np.zeros((months + 1, len(ageing)))
    return _simulation(flat, flat, np.array(spent))


def _simulation(peroxides: Array, oxidation: Array, ageing: Array) -> Simulation:
    """Find when the two doses together reach 1: between months, and past the end, along a straight line."""
    both = oxidation + ageing
    over = both >= 1
    last = len(both) - 1
    first = np.where(over.any(axis=0), over.argmax(axis=0), last)
    columns = np.arange(both.shape[1])
    before = np.maximum(first - 1, 0)
    low, high = both[before, columns], both[first, columns]
    lives = before + (1 - low) / np.maximum(high - low, 1e-12)
    lives = np.where(both[0] >= 1, 0.0, lives)
    return Simulation(np.asarray(lives, float), peroxides, oxidation, ageing)


def risk_word(median_months: float) -> str:
    """The oxidation risk in a word, by the median life [months] under the storage that was asked for."""
    for limit, word in ((3, "very high"), (6, "high"), (12, "moderate"), (24, "low")):
        if median_months < limit:
            return word
    return "very low"


def headline_months(simulation: Simulation, caps: Sequence[float]) -> int:
    """Whole months that may be promised: nine bottles in ten reach them, and no cap is passed."""
    return max(0, int(min(simulation.quantile(0.10), *caps) + 1e-9))


STANDARD_SEED = 20261124


@cache
def standard_draws() -> Draws:
    """The draws that page, print, command line and API share: always the same, so that they always agree."""
    return make_draws(np.random.default_rng(STANDARD_SEED))
