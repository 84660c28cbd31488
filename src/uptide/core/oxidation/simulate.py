"""The same model for thousands of bottles that could be this one: what is uncertain is drawn, and draws are kept."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, lru_cache
from math import exp, expm1, inf, log, log1p, sqrt
from types import MappingProxyType

import numpy as np

from uptide.core.arrays import Array, IndexArray, quantiles
from uptide.core.errors import QuantityError
from uptide.core.months import HOURS_A_DAY, HOURS_A_MONTH
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
BOTTLES = 2000  # that are drawn


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


def make_draws(generator: np.random.Generator, count: int = BOTTLES) -> Draws:
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
class Doses:
    """What progress and age take of a life, in every draw; the two doses add.

    `per_progress` is the part of a life that a step of progress takes, `per_age` the part that the whole life against
    ageing takes, and `before` what is spent where neither has begun.
    """

    per_progress: Array
    per_age: Array
    before: Array

    def spent(self, progress: Array, aged: float) -> Array:
        """Part of the life that is spent at a progress, after a part of the life against ageing."""
        spent = progress * self.per_progress
        spent += self.before
        spent += aged * self.per_age
        return spent


@dataclass(frozen=True, slots=True, eq=False)
class Stretch:
    """Some months in which nothing changes: progress at their beginning and end, and what each takes of the ageing."""

    months: int
    progress: Array
    reached: Array
    ages: float

    def after(self, months: float) -> Array:
        """Progress after so many of its months: along a straight line."""
        return np.asarray(self.progress + (self.reached - self.progress) * (months / self.months))


@dataclass(frozen=True, slots=True, eq=False)
class Simulation:
    """Lives [months] of all draws, and the stretches of months that led to them; `seed`, `ceiling` in meq/kg.

    `aged` is the part of the life against ageing that the middle draw had spent before, and `middle` how much more of
    it than 1 that draw spends.
    """

    lives: Array
    stretches: tuple[Stretch, ...]
    seed: Array
    ceiling: Array
    doses: Doses
    aged: float
    middle: float

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
            found += [
                quantiles(rate.peroxide_value(stretch.after(month), self.seed, self.ceiling), TIDE)
                for month in range(min(months, last + 1 - len(found)))
            ]
        return np.array(found)

    def spent(self, months: float) -> Array:
        """Part of the life that every draw has spent after so many months; they must have been followed."""
        began, aged = 0, 0.0
        for stretch in self.stretches:
            if months <= began + stretch.months:
                gone = months - began
                return self.doses.spent(stretch.after(gone), aged + gone * stretch.ages)
            began, aged = began + stretch.months, aged + stretch.months * stretch.ages
        raise ValueError(f"{months:g} months were not followed, but {began}")

    def ageing(self, month: int) -> float:
        """Part of the life against ageing that is spent in the middle draw after so many months."""
        spent = self.aged
        for stretch in self.stretches:
            spent += stretch.ages * self.middle * min(month, stretch.months)
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
        learnt: the rate error and start when readings taught them.
        moves: where it stands from a month on, by month.
        heated: progress that heat makes in a month, by month.
        months: how far to go.
        rate_shift: ln rate that other bottles taught; where this one has readings of its own they say it all.
        until: part of the draws after whose ends nothing is followed on: for a quantile below it that is enough.
    """
    (faster, middle), aged = _ageing(draws), mixture.ageing_spent

    def followed(
        progress: Array, after: Callable[[Array, _Spell], Array], doses: Doses, seed: Array, ceiling: Array
    ) -> Simulation:
        spells = _spells(mixture, storage, start_month, months, moves, heated)
        lives, stretches = _follow(spells, progress, after, doses=doses, until=until)
        return Simulation(lives, stretches, seed=seed, ceiling=ceiling, doses=doses, aged=middle * aged, middle=middle)

    if mixture.induction_hours is None:  # nothing can oxidise: ageing alone ends it
        still = np.zeros(draws.count)
        return followed(still, lambda progress, _: progress, Doses(still, faster, aged * faster), still, still)
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
    u = rate.progress(np.minimum(start, 0.9 * ceiling), seed, ceiling)
    per_progress = mixture.rancidity / span
    doses = Doses(per_progress, faster, aged * faster - rate.progress(fresh, seed, ceiling) * per_progress)
    bottles = _Bottles(
        seed, ceiling, speed=base, dazzle=np.exp(LIGHT_SD * draws.light) / HOURS_A_DAY, stretched=stretched
    )
    return followed(u, bottles.after, doses, seed, ceiling)


def _follow(
    spells: Iterable[_Spell],
    progress: Array,
    after: Callable[[Array, _Spell], Array],
    *,
    doses: Doses,
    until: float,
) -> tuple[Array, tuple[Stretch, ...]]:
    """Lives [months], and the stretches that led to them; `after` gives the progress at the end of a spell."""
    lives, stretches, age = _Lives(doses.spent(progress, 0.0)), [], 0.0
    for spell in spells:
        reached, ages = after(progress, spell), _ages(spell.celsius, spell.storage.swing, spell.storage.ageing_factor)
        stretches.append(Stretch(spell.months, progress, reached, ages))
        progress, age = reached, age + spell.months * ages
        if lives.ended < len(progress):  # where none is left, the months are followed for the curve alone
            lives.follow(doses.spent(progress, age), spell.months)
        if lives.ended >= until * len(progress):
            break
    return lives.found(), tuple(stretches)


class _Bottles:
    """How progress goes on in every draw; what is the same wherever it is as warm is worked out once for each place."""

    def __init__(
        self,
        seed: Array,
        ceiling: Array,
        *,
        speed: Array,
        dazzle: Array,
        stretched: Callable[[float], Array],
    ) -> None:
        self._seed, self._ceiling, self._speed, self._dazzle = seed, ceiling, speed, dazzle
        self._stretched = stretched
        self._storage: Storage | None = None
        # By the temperature [°C]: progress an hour, and what a month does in the light.
        self._constants: dict[float, Array] = {}
        self._light: dict[float, rate.Lit] = {}
        self._most = (LEVELS_OFF * ceiling + seed) / (ceiling - LEVELS_OFF * ceiling)  # of e^u
        self._least_most = float(self._most.min())
        self._grown: Array | None = None  # e^u, from one month in the light to the next

    def after(self, progress: Array, spell: _Spell) -> Array:
        """Progress at the end of a spell."""
        if spell.storage is not self._storage:
            self._storage, self._constants, self._light = spell.storage, {}, {}
        if spell.photo > 0:
            return self._lit(progress, spell)
        self._grown = None
        return progress + spell.months * (self._constant(spell) * HOURS_A_MONTH + spell.heat)

    def _lit(self, progress: Array, spell: _Spell) -> Array:
        """Through one month in the light, its heat first."""
        if spell.celsius not in self._light:
            self._light[spell.celsius] = rate.lit(
                self._constant(spell), spell.photo * self._dazzle, HOURS_A_MONTH, self._seed, self._ceiling
            )
        grown = self._grown
        if grown is None or spell.heat:
            grown = np.exp(progress + spell.heat)
        grown = self._light[spell.celsius].after(grown)
        if grown.max() > self._least_most:
            grown = np.minimum(grown, self._most)
        self._grown = grown
        return np.log(grown)

    def _constant(self, spell: _Spell) -> Array:
        if spell.celsius not in self._constants:
            place = _swing(spell.storage, spell.celsius) * spell.storage.oxidation_factor
            self._constants[spell.celsius] = self._speed / self._stretched(spell.celsius + 273.15) * place
        return self._constants[spell.celsius]


@lru_cache(maxsize=16)
def _ageing(draws: Draws) -> tuple[Array, float]:
    """How much more of the life against ageing every draw spends, and how much more the middle one."""
    faster = np.exp(-AGEING_SD * draws.ageing)
    return faster, float(np.median(faster))


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
    heat: float  # progress
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
    lit = _photo(mixture, storage)
    began, now = 0, (storage, 0.0, 0.0, lit)
    for month in range(months):
        if month in moves:
            storage = moves[month]
            lit = _photo(mixture, storage)
        here = (storage, storage.celsius[(start_month + month) % 12], heated.get(month, 0.0), lit)
        if month and (lit or here != now):
            yield _Spell(month - began, *now)
            began = month
        now = here
    if months:
        yield _Spell(months - began, *now)


def _photo(mixture: OilMixture, storage: Storage) -> float:
    """Peroxides that light makes in a mixture where it stands [meq/(kg day)]."""
    return photo_rate(mixture.light, LIGHT_LEVEL[storage.light], GLASS_PASSES[storage.glass], mixture.chlorophyll)


def _swing(storage: Storage, celsius: float) -> float:
    return rate.swing_factor(celsius + 273.15, storage.swing) if storage.swing else 1.0


@lru_cache(maxsize=128)
def _ages(celsius: float, swing: float, factor: float) -> float:
    """Part of the life against ageing that a month takes where it is so warm and swings so far every day [°C]."""
    kelvin = celsius + 273.15
    faster = rate.swing_factor(kelvin, swing, rate.AGEING_ENERGY) if swing else 1.0
    return factor * faster / float(rate.ageing_months(kelvin))


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
