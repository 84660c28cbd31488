"""What readings teach: peroxide strips, titrations and the nose narrow what is not known about a bottle.

A grid over the error of its speed (ln) and its peroxides at the start (ln); each reading weighs the grid. Strips of one
person share a bias, which is integrated out: without it three biased strips would make the model falsely sure.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import partial
from math import hypot, isfinite, log, sqrt

import numpy as np

from uptide.core.arrays import Array, ArrayLike
from uptide.core.errors import UptideError
from uptide.core.oxidation import rate
from uptide.core.oxidation.simulate import EXTRAPOLATION_SD, STORAGE_SD, Draws, Learnt
from uptide.core.tolerance import exceeds

RATE_POINTS, START_POINTS = 161, 61
RATE_REACH, START_REACH = 3.5, 3.0  # standard deviations that the grid spans to either side, at least
BEYOND = 1.0  # standard deviations past what a reading asks for, so that the grid reaches it
BELIEVED, FINER = 1e-6, 4  # of the likeliest: less is left out of a finer grid; how often it is made finer
MOST_REACH = 15.0  # standard deviations: what lies beyond is no oil of this kind
STRIP_SD, STRIP_BIAS_SD, BIAS_POINTS = 0.30, 0.30, 7
TITRATION_SD, TITRATION_FLOOR = 0.10, 0.2  # part of the peroxide value; meq/kg
UNEXPLAINED = 3.0  # standard deviations of the prior: readings that ask for more are not explained by the model
NOSE_MIDDLE, NOSE_SD = 12.0, 0.5  # meq/kg at which half the noses say "off"; ln; assumption
LEAST_PV, HIGHEST_PV = 1e-6, 500.0  # meq/kg


def _below(x: ArrayLike) -> Array:
    """The normal distribution Φ; scipy is read when the first reading asks: it takes as long as a start."""
    from scipy.special import ndtr

    return np.asarray(ndtr(x))


def _ln_below(x: ArrayLike) -> Array:
    """Its natural logarithm, exact in the far tail too."""
    from scipy.special import log_ndtr

    return np.asarray(log_ndtr(x))


class ReadingKind(StrEnum):
    """How a bottle was looked at."""

    STRIP = "strip"
    TITRATION = "titration"
    SMELL = "smell"


@dataclass(frozen=True, slots=True)
class Reading:
    """One look at a bottle, `months` after it was made.

    A strip says its peroxide value is from `low` to `high` [meq/kg]; a titration gives `low` = `high`; a smell is
    `off` or fine.

    Raises:
        UptideError: a reading that cannot be.
    """

    months: float
    kind: ReadingKind
    low: float = 0.0
    high: float = 0.0
    off: bool = False

    def __post_init__(self) -> None:
        if not all(isfinite(value) for value in (self.months, self.low, self.high)):
            raise UptideError("A reading is made of numbers; infinity and what is none cannot be read.")
        if self.months < 0:
            raise UptideError(f"A reading {self.months:g} months after making is from before it was made.")
        if self.kind is not ReadingKind.SMELL and not 0 <= self.low <= self.high <= HIGHEST_PV:
            raise UptideError(
                f"A peroxide value from {self.low:g} to {self.high:g} cannot be read; from 0 to "
                f"{HIGHEST_PV:g} can, low first."
            )
        if self.kind is ReadingKind.STRIP and self.low == self.high:
            raise UptideError("A strip is read as from … to …, the two colours it lies between.")

    def is_past(self, limit: float) -> bool:
        """Whether it surely says that the oil has turned: an off smell, or peroxides above their limit [meq/kg]."""
        if self.kind is ReadingKind.SMELL:
            return self.off
        return self.low >= limit if self.kind is ReadingKind.STRIP else self.low > limit


@dataclass(frozen=True, slots=True, eq=False)
class Posterior:
    """What is believed after the readings: mean and sd of the ln rate error and of ln PV at the start, and the grid.

    `surprise` is how far the likeliest of all bottles lies from what was believed before, in standard deviations;
    `prior_sd` is that of the ln rate error then, on the side to which it was learnt; `kelvin` the warmth it is for.
    """

    rate_mean: float
    rate_sd: float
    start_mean: float
    start_sd: float
    surprise: float
    prior_sd: float
    kelvin: float
    errors: Array
    starts: Array
    belief: Array

    @property
    def is_explained(self) -> bool:
        """Whether the model can make sense of the readings at all."""
        return not exceeds(self.surprise, UNEXPLAINED)

    def sample(self, draws: Draws) -> Learnt:
        """Draw rate error and start together from the grid, by the draws that every simulation shares.

        The error by its own distribution and the start by what it is at that error, both along straight lines between
        the points, so that a reading a little higher moves every bottle a little.
        """
        of_rate = np.cumsum(self.belief.sum(axis=1))
        wanted = _below(draws.rate) * of_rate[-1]
        middles = of_rate - self.belief.sum(axis=1) / 2  # half of what is believed of a point lies below it
        rows = np.minimum(np.searchsorted(of_rate, wanted), len(self.errors) - 1)
        held = np.cumsum(self.belief, axis=1)[rows]
        within = _below(draws.peroxide) * held[:, -1]
        columns = np.minimum((held < within[:, None]).sum(axis=1), len(self.starts) - 1)
        picked = np.arange(len(rows))
        below = np.where(columns > 0, held[picked, np.maximum(columns - 1, 0)], 0.0)
        part = (within - below) / np.maximum(held[picked, columns] - below, 1e-300)
        step = self.starts[1] - self.starts[0]
        starts = self.starts[columns] + (part - 0.5) * step
        return Learnt(np.interp(wanted, middles, self.errors), starts, self.kelvin)

    @property
    def carried_over(self) -> float:
        """Shift of the ln rate that other lots of the same person share: the storage's part of it, shrunk.

        Nothing when the model cannot explain the readings: then it is not their storage that they tell of.
        """
        if not self.is_explained:
            return 0.0
        return self.rate_mean * (EXTRAPOLATION_SD**2 + STORAGE_SD**2) / self.prior_sd**2


def learn(
    readings: Sequence[Reading],
    progress_at: Callable[[float], float],
    start_pv: float,
    *,
    rate_sd: float,
    start_sd: float = 0.5,
    seed: float = rate.SEED_PV,
    ceiling: float = rate.CEILING_PV,
    kelvin: float = rate.CALIBRATED_KELVIN,
) -> Posterior:
    """Weigh the grid by the readings.

    Args:
        readings: what was read; of smells at most one a month counts, since noses repeat themselves.
        progress_at: by how much u has grown after so many months at the median speed.
        start_pv: peroxide value at the start by the book [meq/kg].
        rate_sd: standard deviation of the ln rate error before any reading, at 20 °C.
        start_sd: that of ln PV at the start: 0.5 for a class, 0.15 when it was measured.
        seed: the rate law's seed [meq/kg].
        ceiling: where the rate law levels off [meq/kg].
        kelvin: where it was read [K]: away from 20 °C its energy is in doubt as well.
    """
    faster, slower = (hypot(rate_sd, sd) for sd in rate.energy_sd(kelvin))
    nose = _one_smell_a_month(readings)
    asked = [_asked_for(r, progress_at, start_pv, seed, ceiling) for r in readings if r.kind is not ReadingKind.SMELL]
    errors = _axis(RATE_REACH, [error for error, _ in asked], max(faster, slower), RATE_POINTS)
    starts = _axis(START_REACH, [began for _, began in asked], start_sd, START_POINTS)
    for _ in range(FINER):
        error, start = np.meshgrid(errors, starts, indexing="ij")
        prior = _ln_rate_prior(error, rate_sd, rate.energy_sd(kelvin)) - 0.5 * (start / start_sd) ** 2
        first = rate.progress(np.minimum(start_pv * np.exp(start), 0.9 * ceiling), seed, ceiling)
        grown = partial(_grown, first=first, error=error, progress_at=progress_at)
        weight = prior + _likelihood(nose, grown, seed, ceiling)
        belief = np.exp(weight - weight.max())
        finer = _narrowed(errors, belief.max(axis=1)), _narrowed(starts, belief.max(axis=0))
        if finer[0] is errors and finer[1] is starts:
            break
        errors, starts = finer
    likeliest = np.unravel_index(int(belief.argmax()), belief.shape)
    belief /= belief.sum()
    rate_mean = float((belief * error).sum())
    start_mean = float((belief * start).sum())
    return Posterior(
        rate_mean,
        float(np.sqrt((belief * (error - rate_mean) ** 2).sum())),
        start_mean=start_mean,
        start_sd=float(np.sqrt((belief * (start - start_mean) ** 2).sum())),
        surprise=sqrt(2 * max(0.0, float(prior.max() - prior[likeliest]))),
        prior_sd=faster if rate_mean > 0 else slower,
        kelvin=kelvin,
        errors=error[:, 0],
        starts=start[0],
        belief=belief,
    )


def _ln_rate_prior(error: Array, rate_sd: float, energy_sd: tuple[float, float]) -> Array:
    """Natural logarithm of what is believed of the ln rate error before any reading, but for a constant.

    What is in doubt at 20 °C is normal; the energy's doubt adds as a half-normal to either side, as likely to the one
    as to the other. The sum of a normal and a half-normal is skew-normal: Azzalini 1985, Scand J Stat 12:171 (from
    memory).
    """
    parts = []
    for sd, side in zip(energy_sd, (1.0, -1.0), strict=True):
        whole = hypot(rate_sd, sd)
        parts.append(-0.5 * (error / whole) ** 2 - log(whole) + _ln_below(side * sd / (rate_sd * whole) * error))
    return np.asarray(np.logaddexp(*parts))


def _grown(months: float, *, first: Array, error: Array, progress_at: Callable[[float], float]) -> Array:
    return np.asarray(first + progress_at(months) * np.exp(error))


def _likelihood(readings: Sequence[Reading], at: Callable[[float], Array], seed: float, ceiling: float) -> Array:
    """Natural logarithm of the likelihood of all readings over the grid; `at` gives the progress after months."""
    nodes, node_weights = np.polynomial.hermite_e.hermegauss(BIAS_POINTS)
    weight = np.zeros(at(0.0).shape)
    strips = np.zeros((*weight.shape, BIAS_POINTS))
    for reading in readings:
        pv = rate.peroxide_value(at(reading.months), seed, ceiling)
        ln_pv = np.log(np.maximum(pv, LEAST_PV))
        if reading.kind is ReadingKind.STRIP:
            strips += _strip(reading, ln_pv[..., None] + STRIP_BIAS_SD * nodes)
        elif reading.kind is ReadingKind.TITRATION:
            weight = weight - 0.5 * ((_steadied(reading.low) - _steadied(pv)) / TITRATION_SD) ** 2
        else:
            off = 0.05 + 0.90 * _below((ln_pv - log(NOSE_MIDDLE)) / NOSE_SD)
            weight = weight + np.log(off if reading.off else 1 - off)
    top = strips.max(axis=-1, keepdims=True)
    return np.asarray(weight + np.log((np.exp(strips - top) * node_weights).sum(axis=-1)) + top[..., 0])


def _narrowed(axis: Array, belief: Array) -> Array:
    """The part of an axis on which anything is believed, as finely divided; the same where that is most of it."""
    held = np.flatnonzero(belief > BELIEVED)
    if len(held) >= len(axis) / 2:
        return axis
    low, high = max(held[0] - 1, 0), min(held[-1] + 1, len(axis) - 1)
    return np.linspace(axis[low], axis[high], len(axis))


def _steadied(pv: ArrayLike) -> Array:
    """The scale on which a titration is equally sure everywhere: ln of the peroxide value and its floor.

    Its error is a part of the value and a floor, s = 0.10 PV + 0.2; the scale is the integral of dPV/s, times 0.10.
    Only on such a scale does a higher reading always speak for a faster oil.
    """
    return np.asarray(np.log(np.asarray(pv, float) + TITRATION_FLOOR / TITRATION_SD))


def _strip(reading: Reading, ln_shown: Array) -> Array:
    """Natural logarithm of the likelihood of a strip between two colours.

    No room is left for a slip of the eye: it would take the highest readings for slips, and say that all is well.
    """
    upper = (log(max(reading.high, LEAST_PV)) - ln_shown) / STRIP_SD
    if reading.low <= 0:
        return _ln_below(upper)
    lower = (log(max(reading.low, LEAST_PV)) - ln_shown) / STRIP_SD
    # ln[Φ(b) − Φ(a)], from whichever tail both are nearer to, so that nothing cancels.
    low, high = np.where(lower > 0, -upper, lower), np.where(lower > 0, -lower, upper)
    above, below = _ln_below(high), _ln_below(low)
    return np.asarray(above + np.log1p(-np.exp(np.minimum(below - above, -1e-12))))


def _asked_for(
    reading: Reading, progress_at: Callable[[float], float], start_pv: float, seed: float, ceiling: float
) -> tuple[float, float]:
    """Which ln rate error, or which ln PV at the start, would explain a reading by itself."""
    middle = max((reading.low + reading.high) / 2, LEAST_PV)
    began = log(middle / max(start_pv, LEAST_PV))
    first, then = (
        float(rate.progress(min(pv, 0.9 * ceiling), seed, ceiling)) for pv in (start_pv, min(middle, 0.99 * ceiling))
    )
    grown = progress_at(reading.months)
    return (log((then - first) / grown) if grown > 0 and then > first else 0.0), began


def _axis(reach: float, asked: Sequence[float], spread: float, points: int) -> Array:
    """The grid along one error: as wide as is usual, and wide enough for what the readings ask for."""
    low = min([-reach * spread, *(one - BEYOND * spread for one in asked)])
    high = max([reach * spread, *(one + BEYOND * spread for one in asked)])
    most = MOST_REACH * spread
    return np.linspace(max(low, -most), min(high, most), points)


def _one_smell_a_month(readings: Sequence[Reading]) -> list[Reading]:
    kept: list[Reading] = []
    months: set[int] = set()
    for reading in sorted(readings, key=lambda r: r.months):
        if reading.kind is ReadingKind.SMELL:
            if int(reading.months) in months:
                continue
            months.add(int(reading.months))
        kept.append(reading)
    return kept


MOST_SHIFT = log(10)  # ln rate: what a house can change about a rate, and more than any can


def is_shift(value: object) -> bool:
    """Whether something can be an ln rate at all: a number, and no more than a tenfold change."""
    return isinstance(value, int | float) and isfinite(value) and abs(value) <= MOST_SHIFT


def shift_of_a_house(shifts: Sequence[float]) -> float:
    """The ln rate that bottles taught of where they all stand: their mean, as if one more had taught nothing.

    >>> shift_of_a_house([]), shift_of_a_house([0.3]), shift_of_a_house([0.3, 0.3])
    (0.0, 0.15, 0.2)
    """
    return sum(shifts) / (len(shifts) + 1)
