"""The rate law: how the peroxide value grows, at which speed, and what it costs of a life.

Peroxide value PV [meq/kg] grows by a seeded logistic law, dPV/dt = [k (PV + s) + q] (1 - PV/M). Without light (q = 0)
u = ln[(PV + s)/(M - PV)] grows as a straight line, so that any history adds up. The speed comes from the induction
time at 110 °C, stretched to the storage temperature by a law that is anchored at both ends. Beside it runs a slow
ageing clock (hydrolysis, odours, packaging), and the two doses add.

Sources: Özilgen and Özilgen 1990, J Food Sci 55:498, for the logistic law (from memory); the stretch and the ageing
clock are calibrated on the trade's lives of 38 oils, see docs/keeping.md.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from math import log

import numpy as np

from uptide.core.arrays import Array, ArrayLike
from uptide.core.months import HOURS_A_MONTH

GAS_CONSTANT = 8.314462618  # J/(mol K)
SEED_PV = 1.0  # meq/kg: lets a fresh oil start; assumption
CEILING_PV = 300.0  # meq/kg: where the logistic law levels off; assumption
LN_STRETCH = 8.20  # ln of the ratio of induction times 20 °C : 110 °C; calibrated
AGEING_MONTHS = 36.0  # life against ageing alone at 20 °C; calibrated
AGEING_ENERGY = 50e3  # J/mol; assumption
COLD_CREDIT = 2.5  # cold is credited with no more than this over 20 °C; policy
CREDIT_SD = 0.2  # of its ln, downwards: so that doubt about the cold makes no promise longer; policy
SLOWEST = 1e-15  # 1/h: slower than anything that is measured, and no division by zero
MOST_GROWTH = 60.0  # of the ln: far past where it levels off, and no overflow
ENERGY_SD = 22e3  # J/mol: 75 to 95 kJ/mol are all in the literature (from memory); its reach is in docs/keeping.md
OSI_KELVIN, CALIBRATED_KELVIN = (
    383.15,
    293.15,
)  # K: where the induction time is measured, and where lives are calibrated


def progress(pv: ArrayLike, seed: ArrayLike = SEED_PV, ceiling: ArrayLike = CEILING_PV) -> Array:
    """Progress u = ln[(PV + s)/(M - PV)], which grows as a straight line in the dark; all in meq/kg."""
    pv, seed, ceiling = np.asarray(pv, float), np.asarray(seed, float), np.asarray(ceiling, float)
    return np.asarray(np.log((pv + seed) / (ceiling - pv)))


def peroxide_value(u: ArrayLike, seed: ArrayLike = SEED_PV, ceiling: ArrayLike = CEILING_PV) -> Array:
    """The peroxide value [meq/kg] of a progress u: the inverse of `progress`."""
    grown = np.exp(np.asarray(u, float))
    return np.asarray((np.asarray(ceiling, float) * grown - np.asarray(seed, float)) / (1 + grown))


def induction_span(fresh_pv: ArrayLike) -> Array:
    """Progress from fresh to the end of the induction period, by the tangent on the logistic curve.

    >>> round(float(induction_span(1.0)), 3)
    3.021
    """
    return np.asarray(-progress(fresh_pv) - 2 * (CEILING_PV - SEED_PV) / (CEILING_PV + SEED_PV))


def life_span(
    fresh_pv: ArrayLike, limit_pv: ArrayLike, seed: ArrayLike = SEED_PV, ceiling: ArrayLike = CEILING_PV
) -> Array:
    """Progress from fresh to the limit, which is met before the induction period ends.

    >>> round(float(life_span(1.0, 10.0)), 3)
    1.735
    """
    return np.asarray(progress(limit_pv, seed, ceiling) - progress(fresh_pv, seed, ceiling))


def _bend(temperature: ArrayLike, bend: ArrayLike) -> Array:
    """((T/293.15)^λ - 1)/λ, and its limit ln(T/293.15) for λ = 0."""
    bend = np.asarray(bend, float)
    ratio = np.asarray(temperature, float) / CALIBRATED_KELVIN
    safe = np.where(np.abs(bend) < 1e-9, 1.0, bend)
    return np.asarray(np.where(np.abs(bend) < 1e-9, np.log(ratio), (ratio**safe - 1) / safe))


def stretch(temperature: ArrayLike, bend: ArrayLike = 0.0, energy: ArrayLike = 0.0) -> Array:
    """How many times longer the induction is at a temperature [K] than at 110 °C.

    `bend` λ is 0 by default; -1 is the Arrhenius law and +1 the semi-logarithmic one, all through the same two anchors.
    `energy` is how many ENERGY_SD the activation energy lies above the law's; at 20 °C, where lives are calibrated, it
    changes nothing. Cold is credited with COLD_CREDIT times the value at 20 °C at most, and a higher energy, draw by
    draw, with what the law says besides: that cold does more is likely, and nothing to be promised.

    >>> round(float(stretch(323.15)), 1), round(float(stretch(293.15)))
    (184.2, 3641)
    """
    exponent = LN_STRETCH * (1 - _bend(temperature, bend) / _bend(OSI_KELVIN, bend))  # the bend is 0 at 20 °C
    credited = np.minimum(exponent, LN_STRETCH + log(COLD_CREDIT))
    doubt = ENERGY_SD / GAS_CONSTANT * (1 / np.asarray(temperature, float) - 1 / CALIBRATED_KELVIN)
    energy = np.asarray(energy, float)
    higher = credited + energy * (doubt + exponent - credited)
    lower = np.minimum(exponent + energy * doubt, LN_STRETCH + log(COLD_CREDIT) + energy * CREDIT_SD)
    return np.asarray(np.exp(np.where(energy > 0, higher, lower)))


def energy_sd(temperature: float) -> tuple[float, float]:
    """How far the doubt about the activation energy reaches at a temperature [K]: sd of ln rate, faster and slower.

    >>> [round(sd, 3) for sd in energy_sd(293.15) + energy_sd(301.15) + energy_sd(277.15)]
    [0.0, 0.0, 0.24, 0.24, 0.2, 1.324]
    """
    lower, higher = (log(float(stretch(temperature, 0.0, z)) / float(stretch(temperature))) for z in (-1.0, 1.0))
    return max(0.0, -lower, -higher), max(0.0, lower, higher)


def local_energy(temperature: float) -> float:
    """Activation energy [J/mol] that the stretch has at a temperature [K].

    >>> round(local_energy(293.15) / 1000, 2)
    74.65
    """
    return float(GAS_CONSTANT * LN_STRETCH * temperature / _bend(OSI_KELVIN, 0.0))


@cache
def swing_factor(temperature: float, amplitude: float, energy: float | None = None) -> float:
    """By how much a daily swing of ± amplitude [K] around a temperature [K] speeds a reaction up: a Bessel mean.

    >>> round(swing_factor(293.15, 5), 3)
    1.069
    """
    slope = (local_energy(temperature) if energy is None else energy) / (GAS_CONSTANT * temperature**2)
    return float(np.i0(slope * amplitude))


def rate_constant(osi_hours: ArrayLike, fresh_pv: ArrayLike, temperature: ArrayLike) -> Array:
    """κ = du/dt [1/h] in the dark, of an oil with this induction time [h at 110 °C] and fresh PV [meq/kg]."""
    return np.asarray(induction_span(fresh_pv) / (np.asarray(osi_hours, float) * stretch(temperature)))


def ageing_months(temperature: ArrayLike) -> Array:
    """Life against ageing alone [months] at a temperature [K], with the cold credited as for the stretch."""
    warmth = AGEING_ENERGY / GAS_CONSTANT * (1 / np.asarray(temperature, float) - 1 / CALIBRATED_KELVIN)
    return np.asarray(AGEING_MONTHS * np.minimum(np.exp(warmth), COLD_CREDIT))


def step(pv: ArrayLike, rate_constant_per_hour: ArrayLike, photo_rate: ArrayLike, hours: float) -> Array:
    """Take the peroxide value [meq/kg] through some hours at constant κ [1/h] and light q [meq/(kg h)], exactly."""
    grown = lit(rate_constant_per_hour, photo_rate, hours).after(np.exp(progress(pv)))
    return peroxide_value(np.log(grown))


@dataclass(frozen=True, slots=True, eq=False)
class Lit:
    """What some hours in the light do to e^u, whatever it was before: it grows along a straight line."""

    growth: Array
    added: Array

    def after(self, grown: Array) -> Array:
        """The e^u at their end."""
        return np.asarray(self.growth * grown + self.added)


def lit(
    rate_constant_per_hour: ArrayLike,
    photo_rate: ArrayLike,
    hours: float,
    seed: ArrayLike = SEED_PV,
    ceiling: ArrayLike = CEILING_PV,
) -> Lit:
    """What some hours at constant κ [1/h] and light q [meq/(kg h)] do; seed and ceiling are those in the dark [meq/kg].

    With light on, u itself does not add up any more: the law is that of a seed S = s + q/k, of which
    (PV + S)/(M - PV) grows by G = exp[k (M + S) t/M]. As PV = (M e^u - s)/(1 + e^u), so that e^u becomes
    G e^u + (G - 1) (S - s)/(M + S).
    """
    seed, ceiling = np.asarray(seed, float), np.asarray(ceiling, float)
    k = np.asarray(rate_constant_per_hour, float) / (1 + seed / ceiling)
    more = np.asarray(photo_rate, float) / np.maximum(k, SLOWEST)
    all_of_it = ceiling + seed + more
    grows = np.expm1(np.minimum(k * all_of_it * hours / ceiling, MOST_GROWTH))
    return Lit(1 + grows, np.asarray(grows * more / all_of_it))


def life_fraction(pv: ArrayLike, fresh_pv: ArrayLike, limit_pv: ArrayLike) -> Array:
    """Part of an oxidation life that a peroxide value means: 0 fresh, 1 at the limit, below 0 fresher than usual.

    >>> round(float(life_fraction(5.0, 1.0, 10.0)), 4)
    0.6409
    """
    return np.asarray((progress(pv) - progress(fresh_pv)) / life_span(fresh_pv, limit_pv))


def months_to_limit(
    osi_hours: float,
    fresh_pv: float,
    limit_pv: float,
    temperature: float,
    *,
    oxidation_factor: float = 1.0,
    ageing_factor: float = 1.0,
) -> float:
    """Median life [months] of a fresh oil at one temperature [K] in the dark: 1/t = 1/t(oxidation) + 1/t(ageing).

    >>> round(months_to_limit(4.2, 1.0, 10.0, 293.15), 3)
    9.015
    """
    kappa = float(rate_constant(osi_hours, fresh_pv, temperature)) * oxidation_factor
    oxidising = float(life_span(fresh_pv, limit_pv)) / kappa / HOURS_A_MONTH
    return 1 / (1 / oxidising + ageing_factor / float(ageing_months(temperature)))
