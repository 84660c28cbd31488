"""What readings teach: peroxide strips, titrations and the nose narrow what is not known about a bottle.

A grid over the error of its speed (ln) and its peroxides at the start (ln); each reading weighs the grid. Strips of one
person share a bias, which is integrated out: without it three biased strips would make the model falsely sure.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import log

import numpy as np
from scipy.special import ndtr

from uptide.core.errors import UptideError
from uptide.core.oxidation import rate
from uptide.core.oxidation.rate import Array
from uptide.core.oxidation.simulate import EXTRAPOLATION_SD, STORAGE_SD, Draws, Learnt

RATE_POINTS, START_POINTS = 161, 61
RATE_REACH, START_REACH = 3.5, 3.0  # standard deviations that the grid spans to either side
STRIP_SD, STRIP_BIAS_SD, BIAS_POINTS = 0.30, 0.30, 7
TITRATION_SD, TITRATION_FLOOR = 0.10, 0.2  # ln; meq/kg
NOSE_MIDDLE, NOSE_SD = 12.0, 0.5  # meq/kg at which half the noses say "off"; ln; assumption
HIGHEST_PV = 500.0


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
        if self.months < 0:
            raise UptideError(f"A reading {self.months:g} months after making is from before it was made.")
        if self.kind is not ReadingKind.SMELL and not 0 <= self.low <= self.high <= HIGHEST_PV:
            raise UptideError(
                f"A peroxide value from {self.low:g} to {self.high:g} cannot be read; from 0 to "
                f"{HIGHEST_PV:g} can, low first."
            )
        if self.kind is ReadingKind.STRIP and self.low == self.high:
            raise UptideError("A strip is read as from … to …, the two colours it lies between.")


@dataclass(frozen=True, slots=True, eq=False)
class Posterior:
    """What is believed after the readings: mean and sd of the ln rate error and of ln PV at the start, and the grid."""

    rate_mean: float
    rate_sd: float
    start_mean: float
    start_sd: float
    says_off: bool
    errors: Array
    starts: Array
    belief: Array

    def sample(self, draws: Draws) -> Learnt:
        """Draw rate error and start together from the grid, by the draws that every simulation shares."""
        order = np.cumsum(self.belief.ravel())
        cells = np.minimum(np.searchsorted(order, ndtr(draws.rate) * order[-1]), self.belief.size - 1)
        rows, columns = np.unravel_index(cells, self.belief.shape)
        return Learnt(self.errors[rows], self.starts[columns])

    def carried_over(self, prior_sd: float) -> float:
        """Shift of the ln rate that other lots of the same person share: the storage's part of it, shrunk."""
        return self.rate_mean * (EXTRAPOLATION_SD**2 + STORAGE_SD**2) / prior_sd**2


def learn(
    readings: Sequence[Reading],
    progress_at: Callable[[float], float],
    start_pv: float,
    *,
    rate_sd: float,
    start_sd: float = 0.5,
    seed: float = rate.SEED_PV,
    ceiling: float = rate.CEILING_PV,
) -> Posterior:
    """Weigh the grid by the readings.

    Args:
        readings: what was read; of smells at most one a month counts, since noses repeat themselves.
        progress_at: by how much u has grown after so many months at the median speed.
        start_pv: peroxide value at the start by the book [meq/kg].
        rate_sd: standard deviation of the ln rate error before any reading.
        start_sd: that of ln PV at the start: 0.5 for a class, 0.15 when it was measured.
        seed: the rate law's seed [meq/kg].
        ceiling: where the rate law levels off [meq/kg].
    """
    errors = np.linspace(-RATE_REACH * rate_sd, RATE_REACH * rate_sd, RATE_POINTS)
    starts = np.linspace(-START_REACH * start_sd, START_REACH * start_sd, START_POINTS)
    error, start = np.meshgrid(errors, starts, indexing="ij")
    weight = -0.5 * (error / rate_sd) ** 2 - 0.5 * (start / start_sd) ** 2
    nodes, node_weights = np.polynomial.hermite_e.hermegauss(BIAS_POINTS)
    strips = np.zeros((*error.shape, BIAS_POINTS))
    first = rate.progress(np.minimum(start_pv * np.exp(start), 0.9 * ceiling), seed, ceiling)
    for reading in _one_smell_a_month(readings):
        pv = rate.peroxide_value(first + progress_at(reading.months) * np.exp(error), seed, ceiling)
        ln_pv = np.log(np.maximum(pv, 1e-6))
        if reading.kind is ReadingKind.STRIP:
            strips += _strip(reading, ln_pv[..., None] + STRIP_BIAS_SD * nodes)
        elif reading.kind is ReadingKind.TITRATION:
            spread = TITRATION_SD + TITRATION_FLOOR / np.maximum(pv, 0.2)
            weight = weight - 0.5 * ((log(max(reading.low, 0.05)) - ln_pv) / spread) ** 2 - np.log(spread)
        else:
            off = 0.05 + 0.90 * ndtr((ln_pv - log(NOSE_MIDDLE)) / NOSE_SD)
            weight = weight + np.log(off if reading.off else 1 - off)
    top = strips.max()
    blind = np.log((np.exp(strips - top) * node_weights).sum(axis=-1))
    belief = np.exp(weight + blind - (weight + blind).max())
    belief /= belief.sum()
    rate_mean = float((belief * error).sum())
    start_mean = float((belief * start).sum())
    return Posterior(
        rate_mean,
        float(np.sqrt((belief * (error - rate_mean) ** 2).sum())),
        start_mean,
        float(np.sqrt((belief * (start - start_mean) ** 2).sum())),
        any(reading.off for reading in readings),
        errors,
        starts,
        belief,
    )


def _strip(reading: Reading, ln_shown: Array) -> Array:
    """Natural logarithm of the likelihood of a strip between two colours, with a little room for a slip."""
    upper = ndtr((log(max(reading.high, 1e-6)) - ln_shown) / STRIP_SD)
    lower = ndtr((log(reading.low) - ln_shown) / STRIP_SD) if reading.low > 0 else 0.0
    return np.asarray(np.log(0.98 * (upper - lower) + 0.004))


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
