"""The same model for thousands of bottles that could be this one: what is uncertain is drawn, and draws are kept."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from math import exp, expm1, inf, log, log1p, sqrt
from types import MappingProxyType

import numpy as np

from uptide.core.arrays import Array, IndexArray, quantiles
from uptide.core.errors import QuantityError
from uptide.core.months import HOURS_A_MONTH
from uptide.core.oxidation import rate
from uptide.core.oxidation.mixture import OilMixture
from uptide.core.oxidation.oil import BOOK_SD
from uptide.core.oxidation.protection import LN_SD
from uptide.core.oxidation.rate import CALIBRATED_KELVIN
from uptide.core.oxidation.surroundings import GLASS_PASSES, LIGHT_LEVEL, Storage, photo_rate
from uptide.core.tolerance import TOLERANCE, reaches

EXTRAPOLATION_SD, STORAGE_SD = 0.25, 0.20  # ln rate: from 110 °C down to a shelf; how it is really kept
BEND_SD, AGEING_SD, LIGHT_SD = 0.5, 0.20, 0.6
DILUENT_CREDIT = 0.5  # an inert diluent is credited with x^c, c drawn evenly from 0 to this; assumption
LEVELS_OFF = 0.999  # of where the rate law levels off: never quite reached
LEAST_START = 0.05  # meq/kg: a certificate that says 0 has found less than it can see
LEAST_DOSE = 1e-12  # in a stretch of months: with less the end never comes
TIDE = (0.10, 0.50, 0.90)  # of the draws: what is drawn of them
MONTHS = 60


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
    peroxide: Array
    energy: Array

    @property
    def count(self) -> int:
        """How many bottles are drawn."""
        return len(self.rate)


def make_draws(generator: np.random.Generator, count: int = 2000) -> Draws:
    """Draw once; `generator` is passed in, so that the core itself knows no chance.

    Raises:
        QuantityError: less than one bottle is drawn.
    """
    if count < 1:
        raise QuantityError(f"{count} bottles cannot be drawn; 1 or more can.")
    rate, bend, ageing, light, protection = generator.standard_normal((5, count))
    diluent = generator.random(count)
    peroxide, energy = generator.standard_normal((2, count))
    return Draws(
        rate=rate,
        bend=bend,
        ageing=ageing,
        light=light,
        protection=protection,
        diluent=diluent,
        peroxide=peroxide,
        energy=energy,
    )


@dataclass(frozen=True, slots=True, eq=False)
class Stretch:
    """Some months in which nothing changes: progress at their beginning, and by how much it grows in each."""

    months: int
    progress: Array
    grows: Array
    ages: float  # part of the life against ageing that each takes in the middle draw
    spent: Array  # part of the whole life that is spent at their end


@dataclass(frozen=True, slots=True, eq=False)
class Simulation:
    """Lives [months] of all draws, and the stretches of months that led to them; `seed`, `ceiling` in meq/kg.

    `aged` is the part of the life against ageing that the middle draw had spent before, and `spent_before` the part of
    the whole life that each draw had.
    """

    lives: Array
    stretches: tuple[Stretch, ...]
    seed: Array
    ceiling: Array
    aged: float
    spent_before: Array

    @property
    def months(self) -> int:
        """How many months were followed."""
        return sum(stretch.months for stretch in self.stretches)

    def quantile(self, probability: float) -> float:
        """Life [months] that this part of the bottles does not reach."""
        return float(quantiles(self.lives, (probability,))[0])

    def peroxides(self, last: int) -> Array:
        """Peroxide value [meq/kg] that TIDE of the draws stay below, from month 0 to `last` (months x quantiles)."""
        found: list[Array] = []
        for stretch in self.stretches:
            months = stretch.months + (stretch is self.stretches[-1])  # the last one shows where it ends as well
            for month in range(min(months, last + 1 - len(found))):
                reached = stretch.progress + month * stretch.grows
                found.append(quantiles(rate.peroxide_value(reached, self.seed, self.ceiling), TIDE))
        return np.array(found)

    def spent(self, months: float) -> Array:
        """Part of the life that every draw has spent after so many months; they must have been followed."""
        before, began = self.spent_before, 0
        for stretch in self.stretches:
            if months <= began + stretch.months:
                return np.asarray(before + (stretch.spent - before) * (months - began) / stretch.months)
            before, began = stretch.spent, began + stretch.months
        raise ValueError(f"{months:g} months were not followed, but {began}")

    def ageing(self, month: int) -> float:
        """Part of the life against ageing that is spent in the middle draw after so many months."""
        spent = self.aged
        for stretch in self.stretches:
            spent += stretch.ages * min(month, stretch.months)
            month -= min(month, stretch.months)
        return spent


class _Lives:
    """When the dose of every draw reaches 1: within a stretch of months, and past the end, along a straight line."""

    def __init__(self, dose: Array) -> None:
        self._since = self._until = 0  # months
        self._low, self._high = dose, dose
        self._lives = np.zeros(len(dose))
        self._open = dose < 1
        self.ended = 0  # draws

    def follow(self, dose: Array, months: int) -> None:
        """Take the dose after so many more months."""
        self._since, self._until = self._until, self._until + months
        self._low, self._high = self._high, dose
        reached = np.flatnonzero(self._open & (dose >= 1))
        if len(reached):
            self._end(reached)
            self._open[reached] = False
            self.ended += len(reached)

    def found(self) -> Array:
        """Lives [months]; those that the last stretch did not end go on as they went in it."""
        self._end(np.flatnonzero(self._open))
        return self._lives

    def _end(self, draws: IndexArray) -> None:
        low, high = self._low[draws], self._high[draws]
        along = (1 - low) / np.maximum(high - low, LEAST_DOSE)
        self._lives[draws] = self._since + (self._until - self._since) * along


@dataclass(frozen=True, slots=True)
class Learnt:
    """What readings taught, draw by draw: the ln rate error, and the ln of PV at the start over its book value.

    The two are drawn together, because a bottle that started fresher and turned faster reads the same. The rate is that
    at `kelvin`, the warmth in which the readings were taken: only where it is colder or warmer is its energy in doubt.
    """

    rate: Array
    start: Array
    kelvin: float = CALIBRATED_KELVIN

    def stretch(self, temperature: float, draws: Draws) -> Array:
        """How many times longer the induction is at a temperature [K] than at 110 °C, in every draw."""
        bend = BEND_SD * draws.bend
        there, here = (rate.stretch(kelvin, bend, draws.energy) for kelvin in (temperature, self.kelvin))
        return np.asarray(rate.stretch(self.kelvin) * there / here)


def book_peroxide(mixture: OilMixture) -> float:
    """Peroxide value [meq/kg] of the blend at the start by the book: each lot's own or its class's, mixed by mass."""
    return sum(p.share * (p.oil.fresh_pv if p.pv is None else p.pv) for p in mixture.parts if not p.oil.is_inert)


def start_peroxides(mixture: OilMixture, draws: Draws) -> Array:
    """Peroxide value [meq/kg] of the blend now, in every draw: each lot's own, mixed by mass; inert oils bring none.

    All parts start alike in a draw, a fresh one with fresh ones, so that neither their order nor a row that is split
    changes anything; the sum is a lognormal of the mean and the spread that such parts have together.
    """
    mean = spread = 0.0
    for part in mixture.parts:
        if not part.oil.is_inert:
            pv = part.oil.fresh_pv if part.pv is None else max(part.pv, LEAST_START)
            variance = part.pv_sd**2
            mean += part.share * pv * exp(variance / 2)
            spread += part.share * pv * sqrt(exp(variance) * expm1(variance))
    if mean == 0:
        return np.zeros(draws.count)
    variance = log1p((spread / mean) ** 2)
    return np.asarray(mean * np.exp(sqrt(variance) * draws.peroxide - variance / 2))


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
    until: float = inf,
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
        until: part of the draws after whose ends nothing is followed on: for a quantile below it that is enough.
    """
    ageing, middle = _ageing(draws)
    if mixture.induction_hours is None:
        return _inert(mixture, storage, draws, start_month, months, moves)
    error = learnt.rate if learnt else rate_shift + total_sd(mixture.osi_sd) * draws.rate

    def stretched(kelvin: float) -> Array:
        return learnt.stretch(kelvin, draws) if learnt else _stretch(kelvin, draws)

    factor = np.exp(log(protection) * (1 + LN_SD * draws.protection))
    hours = osi_hours or mixture.induction_hours
    thinned = mixture.oxidisable ** (DILUENT_CREDIT * draws.diluent)
    seed, ceiling, fresh = rate.SEED_PV * thinned, rate.CEILING_PV * thinned, mixture.fresh_pv * thinned
    # A trace in an inert oil levels off before the limit of the whole: it then takes a very long time to come near.
    limit = np.minimum(mixture.limit_pv, LEVELS_OFF * ceiling)
    span = rate.life_span(fresh, limit, seed, ceiling)
    base = rate.induction_span(mixture.fresh_pv) * np.exp(error) / (hours * factor)

    start = book_peroxide(mixture) * np.exp(learnt.start) if learnt else start_peroxides(mixture, draws)
    u = rate.progress(np.minimum(start, 0.9 * ceiling), seed, ceiling) + life_fraction_spent * span
    aged = mixture.ageing_spent / ageing
    if months_old:
        u = u + base / stretched(CALIBRATED_KELVIN) * months_old * HOURS_A_MONTH
        aged = aged + months_old / (rate.AGEING_MONTHS * ageing)
    dazzle = np.exp(LIGHT_SD * draws.light) / 24
    fresh_u = rate.progress(fresh, seed, ceiling)
    before = middle * (mixture.ageing_spent + months_old / rate.AGEING_MONTHS)
    dose = mixture.rancidity / span  # of the life, for each step of progress
    began = (u - fresh_u) * dose + aged
    lives, stretches = _Lives(began), []
    warmth: dict[float, Array] = {}  # progress an hour where it stands, by the temperature [°C]
    for spell in _spells(mixture, storage, start_month, months, moves, heated):
        if spell.storage is not storage:
            storage, warmth = spell.storage, {}
        if spell.celsius not in warmth:
            slower = stretched(spell.celsius + 273.15)
            warmth[spell.celsius] = base / slower * (_swing(storage, spell.celsius) * storage.oxidation_factor)
        constant, ages = warmth[spell.celsius], _ageing_step(storage, spell.celsius)
        grows = constant * HOURS_A_MONTH + spell.heat * span
        if spell.photo > 0:
            unlit = rate.peroxide_value(u + spell.heat * span, seed, ceiling)
            lit = rate.step(unlit, constant, spell.photo * dazzle, HOURS_A_MONTH, seed, ceiling)
            grows = rate.progress(np.minimum(lit, LEVELS_OFF * ceiling), seed, ceiling) - u
        aged = aged + spell.months * ages / ageing
        spent = (u + spell.months * grows - fresh_u) * dose + aged
        stretches.append(Stretch(spell.months, u, grows=grows, ages=ages * middle, spent=spent))
        u = u + spell.months * grows
        lives.follow(spent, spell.months)
        if lives.ended >= until * draws.count:
            break
    return Simulation(lives.found(), tuple(stretches), seed=seed, ceiling=ceiling, aged=before, spent_before=began)


@lru_cache(maxsize=16)
def _ageing(draws: Draws) -> tuple[Array, float]:
    """How much longer the life against ageing is in every draw, and how much more of it the middle draw spends."""
    ageing = np.exp(AGEING_SD * draws.ageing)
    return ageing, float(np.median(1 / ageing))


@lru_cache(maxsize=128)
def _stretch(kelvin: float, draws: Draws) -> Array:
    """How many times longer the induction is at a temperature [K] than at 110 °C, in every draw."""
    return rate.stretch(kelvin, BEND_SD * draws.bend, draws.energy)


@dataclass(frozen=True, slots=True)
class _Spell:
    """Months on end in which a bottle stands alike: where, how warm [°C], how much heat and light take in each."""

    months: int
    storage: Storage
    celsius: float
    heat: float  # part of the oxidation life
    photo: float  # meq/(kg day)


def _spells(
    mixture: OilMixture,
    storage: Storage,
    start_month: int,
    months: int,
    moves: Mapping[int, Storage],
    heated: Mapping[int, float],
) -> Iterator[_Spell]:
    """The months that are to be followed, those that are alike in one; in the light every month is its own."""
    began, spell = 0, _Spell(0, storage, celsius=0.0, heat=0.0, photo=0.0)
    photo = _photo(mixture, storage)
    for month in range(months):
        if month in moves:
            storage = moves[month]
            photo = _photo(mixture, storage)
        celsius, heat = storage.celsius[(start_month + month) % 12], heated.get(month, 0.0)
        alike = storage is spell.storage and (celsius, heat) == (spell.celsius, spell.heat)
        if not month or photo or not alike:
            if month > began:
                yield replace(spell, months=month - began)
            began, spell = month, _Spell(0, storage, celsius=celsius, heat=heat, photo=photo)
    if months > began:
        yield replace(spell, months=months - began)


def _photo(mixture: OilMixture, storage: Storage) -> float:
    """Peroxides that light makes in a mixture where it stands [meq/(kg day)]."""
    return photo_rate(mixture.light, LIGHT_LEVEL[storage.light], GLASS_PASSES[storage.glass], mixture.chlorophyll)


def _swing(storage: Storage, celsius: float) -> float:
    return rate.swing_factor(celsius + 273.15, storage.swing) if storage.swing else 1.0


def _ageing_step(storage: Storage, celsius: float) -> float:
    kelvin = celsius + 273.15
    swing = rate.swing_factor(kelvin, storage.swing, rate.AGEING_ENERGY) if storage.swing else 1.0
    return storage.ageing_factor * swing / float(rate.ageing_months(kelvin))


def _inert(
    mixture: OilMixture,
    storage: Storage,
    draws: Draws,
    start_month: int,
    months: int,
    moves: Mapping[int, Storage],
) -> Simulation:
    """Nothing can oxidise: ageing alone ends it."""
    ageing, middle = _ageing(draws)
    began, still = mixture.ageing_spent / ageing, np.zeros(len(ageing))
    aged = began
    before = middle * mixture.ageing_spent
    lives, stretches = _Lives(aged), []
    for spell in _spells(mixture, storage, start_month, months, moves, {}):
        ages = _ageing_step(spell.storage, spell.celsius)
        aged = aged + spell.months * ages / ageing
        stretches.append(Stretch(spell.months, still, grows=still, ages=ages * middle, spent=aged))
        lives.follow(aged, spell.months)
    return Simulation(lives.found(), tuple(stretches), seed=still, ceiling=still, aged=before, spent_before=began)


def risk_word(median_months: float) -> str:
    """The oxidation risk in a word, by the median life [months] under the storage that was asked for."""
    for limit, word in ((3, "very high"), (6, "high"), (12, "moderate"), (24, "low")):
        if not reaches(median_months, limit):
            return word
    return "very low"


def headline_months(simulation: Simulation, caps: Sequence[float]) -> int:
    """Whole months that may be promised: nine bottles in ten reach them, and no cap is passed."""
    return max(0, int(min(simulation.quantile(0.10), *caps) + TOLERANCE))


STANDARD_SEED = 20261124


@cache
def standard_draws() -> Draws:
    """The draws that page, print, command line and API share: always the same, so that they always agree."""
    return make_draws(np.random.default_rng(STANDARD_SEED))
