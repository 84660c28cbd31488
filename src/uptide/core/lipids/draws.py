"""What an oil may be made of: its published ranges as many possible lots, from which every band is read.

A range is read as ± 2 standard deviations on either side of the typical value. The acids of one lot are bound to sum to
100 %: a surplus is taken back from each acid in proportion to its own variance (the conditional law of independent
normals whose sum is known), so that the acids that vary most trade off against one another, as oleic and linoleic do
in real harvests. No source gives the true covariances.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from zlib import crc32

import numpy as np

from uptide.core.arrays import Array, quantiles
from uptide.core.errors import ProfileError
from uptide.core.lipids.fatty_acids import FattyAcid, FattyAcidProfile
from uptide.core.lipids.lipid import (
    GLYCEROL_MOLAR_MASS,
    IODINE_MOLAR_MASS,
    KOH_MOLAR_MASS,
    WATER_MOLAR_MASS,
    Lipid,
)

COUNT = 1000  # lots; the 2.5th percentile then stands on 25 of them
RANGE_TO_SIGMA = 4.0  # a published low-high range is ± 2 standard deviations: policy, no source
BAND = (0.025, 0.975)  # part of the lots below the low and the high of a band


@dataclass(frozen=True, slots=True)
class LipidDraws:
    """One fat in COUNT possible lots: shares of its acids [g/g], titration values, grams of acid per gram."""

    acids: tuple[FattyAcid, ...]
    shares: Array  # lots x acids
    iodine_value: Array
    saponification_value: Array
    fatty_acid_yield: Array
    double_bonds: Array  # per acid, mole mean
    carbons: Array  # per acid, mole mean


def closed_shares(profile: FattyAcidProfile, generator: np.random.Generator, count: int = COUNT) -> Array:
    """Draw lots of a profile [g/g, lots x acids in the order of `fractions`]; every lot sums to 1."""
    typical = np.array(list(profile.fractions.values()))
    spread = generator.standard_normal((count, len(typical)))
    below = np.array([max(0.0, share.typical - share.low) for share in profile.shares])
    above = np.array([max(0.0, share.high - share.typical) for share in profile.shares])
    sigma = (below + above) / RANGE_TO_SIGMA
    moved = spread * np.where(spread < 0, below, above) / (RANGE_TO_SIGMA / 2)
    variance = sigma**2
    if variance.sum() > 0:
        moved -= np.outer(moved.sum(axis=1), variance / variance.sum())
    drawn = np.maximum(typical + moved, 0.0)
    closed: Array = drawn / drawn.sum(axis=1, keepdims=True)
    return closed


def _mean_molar_mass(shares: Array, acids: tuple[FattyAcid, ...]) -> Array:
    inverse = np.array([1 / acid.molar_mass for acid in acids])
    mean: Array = 1 / (shares @ inverse)
    return mean


def _mole_mean(shares: Array, acids: tuple[FattyAcid, ...], figures: list[float]) -> Array:
    inverse = np.array([1 / acid.molar_mass for acid in acids])
    mean: Array = (shares @ (inverse * np.array(figures))) / (shares @ inverse)
    return mean


@lru_cache(maxsize=1024)
def draws_of(lipid: Lipid) -> LipidDraws | None:
    """The lots of a fat, the same ones each time: they are drawn from a seed that its acids make; None without acids.

    The means agree with `iodine_value`, `saponification_value` and `fatty_acid_yield` of the typical profile, which
    remain the figures shown; the draws give the bands.
    """
    if lipid.acids is None:
        return None
    acids = tuple(lipid.acids.fractions)
    generator = np.random.default_rng(crc32(repr([(a.code, p) for a, p in lipid.acids.fractions.items()]).encode()))
    shares = closed_shares(lipid.acids, generator)
    mass = _mean_molar_mass(shares, acids)
    unsaturation = _mole_mean(shares, acids, [float(acid.double_bonds) for acid in acids])
    esters = 3 if lipid.alcohols is None else 1
    if lipid.alcohols is None:
        whole, double = 3 * mass + GLYCEROL_MOLAR_MASS - 3 * WATER_MOLAR_MASS, 3 * unsaturation
    else:
        alcohols = tuple(lipid.alcohols.fractions)
        other = closed_shares(lipid.alcohols, generator)
        whole = mass + _mean_molar_mass(other, alcohols) - WATER_MOLAR_MASS
        double = unsaturation + _mole_mean(other, alcohols, [float(acid.double_bonds) for acid in alcohols])
    kept = 1 - lipid.unsaponifiable
    return LipidDraws(
        acids,
        shares,
        iodine_value=100 * IODINE_MOLAR_MASS * double / whole,
        saponification_value=1000 * esters * KOH_MOLAR_MASS / whole * kept,
        fatty_acid_yield=esters * mass / whole * kept,
        double_bonds=unsaturation,
        carbons=_mole_mean(shares, acids, [float(acid.carbons) for acid in acids]),
    )


@lru_cache(maxsize=1024)
def sum_of(lipid: Lipid, columns: tuple[int, ...]) -> Array:
    """Sum of some of its acids [g/g] in every lot of a fat, by their places in `LipidDraws.acids`.

    Raises:
        ProfileError: a fat without acids has no lots.
    """
    draws = draws_of(lipid)
    if draws is None:
        raise ProfileError(f"A {lipid.lipid_class.replace('_', ' ')} has no fatty acids to sum.")
    return np.asarray(draws.shares[:, list(columns)].sum(axis=1))


def band(lots: Array) -> tuple[float, float]:
    """Low and high of a figure over its lots."""
    low, high = quantiles(lots, BAND)
    return float(low), float(high)
