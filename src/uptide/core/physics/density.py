"""Density of oils and blends, and how it follows the temperature."""

from __future__ import annotations

from collections.abc import Iterable

REFERENCE_TEMPERATURE = 20.0  # °C at the edge of the core: all stored densities are brought to this
LIQUID_SLOPE = 0.00065  # g/(mL K), liquid glycerides; lipid-literature, from memory
SLOPES = {"castor": 0.00068, "squalane": 0.00060, "mct": 0.00075}  # g/(mL K); from memory, low confidence
DENSITY_ERROR = 0.002  # g/mL, spread between lots of one oil; policy, from the width of Codex ranges


def slope_of(key: str) -> float:
    """By how much a liquid oil's density falls with each kelvin [g/(mL K)]."""
    return SLOPES.get(key, LIQUID_SLOPE)


def density_at(density: float, measured_at: float, temperature: float, key: str = "") -> float:
    """Bring a density [g/mL] from one temperature [°C] to another along a straight line.

    Valid for liquids between about 10 and 60 °C. For a fat that is solid at the wanted temperature it gives the
    density of the supercooled liquid, about 0.02 g/mL below the solid's.

    >>> round(density_at(0.909, 40, 20), 4)
    0.922
    """
    return density - slope_of(key) * (temperature - measured_at)


def lund_density(saponification_value: float, iodine_value: float) -> float:
    """Estimate the density [g/mL at 20 °C] of a triglyceride oil from its saponification and iodine value.

    Not for castor, waxes, hydrocarbons or resinous oils. Source: lund; mean error
    0.003 g/mL against handbook densities of 82 glycerides.

    >>> round(lund_density(192, 130), 5)
    0.91922
    """
    specific_gravity_15 = 0.8475 + 0.00030 * saponification_value + 0.00014 * iodine_value
    water_15 = 0.99910  # g/mL
    return specific_gravity_15 * water_15 - LIQUID_SLOPE * 5


def blend_density(parts: Iterable[tuple[float, float]]) -> float:
    """Mix (mass [g], density [g/mL]) pairs: volumes add.

    >>> round(blend_density([(60, 0.917), (40, 0.864)]), 5)
    0.89504
    """
    pairs = list(parts)
    return sum(mass for mass, _ in pairs) / sum(mass / density for mass, density in pairs)
