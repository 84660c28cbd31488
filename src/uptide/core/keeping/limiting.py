"""What ends a blend first: oil, light and warmth are taken away in turn, and what that brings is told in months."""

from __future__ import annotations

from dataclasses import fields, replace
from functools import lru_cache

from uptide.core.keeping.mixing import Read
from uptide.core.oxidation import rate
from uptide.core.oxidation.mixture import OilMixture, mix_oils
from uptide.core.oxidation.simulate import MONTHS, Draws, Simulation, simulate
from uptide.core.oxidation.surroundings import GLASS_PASSES, LIGHT_LEVEL, Light, Storage, photo_rate

HALF = 0.5
FEW = 400  # draws are enough to rank what helps
COOL = 17.0  # °C, a cool cupboard


def horizon(oils: OilMixture, storage: Storage, protection: float, reach: float = 3.5) -> int:
    """How many months to follow: so many times the median life in the dark; 3.5 is past what one in ten reach."""
    if oils.induction_hours is None:
        return MONTHS
    median = rate.months_to_limit(
        oils.induction_hours * protection,
        oils.fresh_pv,
        oils.limit_pv,
        sum(storage.celsius) / 12 + 273.15,
        oxidation_factor=storage.oxidation_factor * oils.rancidity,
        ageing_factor=storage.ageing_factor,
    )
    return min(MONTHS, int(reach * median) + 6)


@lru_cache(maxsize=8)
def fewer(draws: Draws) -> Draws:
    """The first few of the draws: enough to rank by."""
    return Draws(**{each.name: getattr(draws, each.name)[:FEW] for each in fields(Draws)})


def median_months(oils: OilMixture, storage: Storage, draws: Draws, protection: float, start_month: int) -> float:
    """Median life [months] of a fresh bottle."""
    months = horizon(oils, storage, protection)
    return simulate(oils, storage, draws, start_month=start_month, protection=protection, months=months).quantile(0.5)


def limited_by(
    read: Read,
    oils: OilMixture,
    storage: Storage,
    draws: Draws,
    protection: float,
    start_month: int,
    result: Simulation,
    cap: float,
    supplier: tuple[float, str] | None,
) -> str:
    """What ends it first: the cap or a supplier's date, ageing, or whichever of oil, light and warmth costs most."""
    if supplier and supplier[0] < min(cap, result.quantile(0.10)):
        return f"a supplier’s best before: {supplier[1]}"
    if result.quantile(0.10) > cap:
        return f"the cap of {cap:.0f} months that no promise passes"
    if oils.induction_hours is None or result.ageing(min(result.months, round(result.quantile(0.5)))) > HALF:
        return "ageing: odours, hydrolysis, packaging"

    def median(mixed: OilMixture, where: Storage) -> float:
        return median_months(mixed, where, fewer(draws), protection, start_month)

    before = median(oils, storage)
    weakest = max(oils.parts, key=lambda part: part.share * part.oil.cox)
    name = next(item.name for _, item in read if item.key == weakest.oil.key)
    others = [part for part in oils.parts if part.oil.key != weakest.oil.key]
    gains = {name: median(mix_oils(others), storage) - before if others else before}
    if photo_rate(oils.light, LIGHT_LEVEL[storage.light], GLASS_PASSES[storage.glass], oils.chlorophyll):
        gains["light"] = median(oils, replace(storage, light=Light.DARK)) - before
    if max(storage.celsius) > COOL:
        cooler = replace(storage, celsius=tuple(min(t, COOL) for t in storage.celsius), swing=0.0)
        gains["warmth"] = median(oils, cooler) - before
    return max(gains, key=lambda key: gains[key])
