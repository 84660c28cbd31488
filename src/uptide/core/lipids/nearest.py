"""How alike two fatty acid profiles are, and which known oil a measured profile is."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from uptide.core.lipids.draws import RANGE_TO_SIGMA
from uptide.core.lipids.fatty_acids import FattyAcidProfile

LOT_SPREAD = 0.01  # g/g: no acid is known better, from lot to lot and from one laboratory to another


def shares_by_code(profile: FattyAcidProfile) -> dict[str, float]:
    """Mass fractions [g/g] by the code of each acid."""
    return {acid.code: part for acid, part in profile.fractions.items()}


def displaced(first: Mapping[str, float], second: Mapping[str, float]) -> float:
    """The part of the fatty acids [g/g] that would have to change for one profile to become the other: 0 to 1.

    >>> displaced({"18:1n9": 0.7, "18:2n6": 0.3}, {"18:1n9": 0.5, "18:2n6": 0.5})
    0.2
    """
    codes = set(first) | set(second)
    return round(sum(abs(first.get(code, 0.0) - second.get(code, 0.0)) for code in codes) / 2, 9)


def strangeness(measured: Mapping[str, float], oil: FattyAcidProfile) -> float:
    """How far a measured profile is from an oil, in that oil's own ranges: the root mean square of the distances.

    Args:
        measured: mass fractions [g/g] of the acids that were measured, by code; others are not compared.
        oil: the known oil, whose low and high say how much it varies.

    Returns:
        About 1 for a usual lot, several for another oil [standard deviations].
    """
    known = {share.acid.code: share for share in oil.shares}
    total = 0.0
    for code, part in measured.items():
        share = known.get(code)
        typical = share.typical if share else 0.0
        sigma = max((share.high - share.low) / RANGE_TO_SIGMA if share else 0.0, LOT_SPREAD)
        total += ((part - typical) / sigma) ** 2
    return float((total / len(measured)) ** 0.5) if measured else 0.0


def most_like(
    measured: Mapping[str, float], oils: Iterable[tuple[str, FattyAcidProfile]], count: int = 3
) -> list[tuple[str, float]]:
    """The keys of the oils that a measured profile is most like, with its strangeness to each, the best first."""
    ranked = sorted((strangeness(measured, oil), key) for key, oil in oils)
    return [(key, distance) for distance, key in ranked[:count]]
