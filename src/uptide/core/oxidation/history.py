"""Heat and light that an oil has behind it: every step of a history as a part of its life already spent."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from math import fsum, inf

from uptide.core.errors import UptideError
from uptide.core.months import HOURS_A_MONTH
from uptide.core.oxidation import rate
from uptide.core.oxidation.oil import OilOxidation
from uptide.core.oxidation.surroundings import GLASS_PASSES, LIGHT_LEVEL, Glass, Light, Storage, photo_rate

HOTTEST = 250.0  # °C
YEAR = 12 * HOURS_A_MONTH
MOST_MONTHS = 240.0  # a lot that stood longer is as old as one that stood this long


@dataclass(frozen=True, slots=True)
class HeatStep:
    """Some hours at a temperature [°C], in some light.

    `air` is how much faster it oxidises for being open (1 to 2), `ageing` how much faster it ages for that.

    Raises:
        UptideError: no time, or a temperature that no kitchen reaches.
    """

    celsius: float
    hours: float
    light: Light = Light.DARK
    glass: Glass = Glass.CLEAR
    air: float = 1.0
    ageing: float = 1.0

    def __post_init__(self) -> None:
        if not 0 < self.hours <= 24 * 366 or not -30 <= self.celsius <= HOTTEST:
            raise UptideError(
                f"{self.hours:g} h at {self.celsius:g} °C is no step; up to a year and from -30 to {HOTTEST:g} °C are."
            )
        if not (0 < self.air < inf and 0 < self.ageing < inf):
            raise UptideError(f"Air cannot make an oil {self.air:g} and {self.ageing:g} times as fast.")


def standing(months: float, storage: Storage) -> tuple[HeatStep, ...]:
    """So many months in one place, at its mean warmth over the year, as steps of a year at most."""
    year = HeatStep(
        fsum(storage.celsius) / 12,
        YEAR,
        storage.light,
        storage.glass,
        air=storage.oxidation_factor,
        ageing=storage.ageing_factor,
    )
    return lasting(year, min(months, MOST_MONTHS) * HOURS_A_MONTH)


def lasting(step: HeatStep, hours: float) -> tuple[HeatStep, ...]:
    """A step for so many hours, as steps of a year at most; none for no time.

    >>> [round(part.hours) for part in lasting(HeatStep(20, 1), 10_000)]
    [8766, 1234]
    """
    whole, rest = divmod(hours, YEAR)
    return (*[replace(step, hours=YEAR)] * int(whole), *([replace(step, hours=rest)] if rest > 0 else []))


def ageing_spent(steps: Iterable[HeatStep]) -> float:
    """Part of the life against ageing alone (odours, hydrolysis, packaging) that a history takes.

    >>> round(ageing_spent([HeatStep(20, 730.5)]), 4)
    0.0278
    """
    return fsum(
        step.hours / HOURS_A_MONTH * step.ageing / float(rate.ageing_months(step.celsius + 273.15)) for step in steps
    )


def peroxides_after(oil: OilOxidation, steps: Iterable[HeatStep], pv: float | None = None) -> float:
    """Follow one oil through its history; return its peroxide value [meq/kg] by the median of the model."""
    now = oil.fresh_pv if pv is None else pv
    if oil.osi_hours is None:
        return now
    for part in steps:
        kappa = float(rate.rate_constant(oil.osi_hours, oil.fresh_pv, part.celsius + 273.15)) * part.air
        photo = photo_rate(oil.light, LIGHT_LEVEL[part.light], GLASS_PASSES[part.glass], oil.chlorophyll) / 24
        now = float(rate.step(now, kappa, photo, part.hours))
    return now


def life_spent(oil: OilOxidation, steps: Iterable[HeatStep]) -> float:
    """Part of the oxidation life that a history takes from a fresh lot: 0.0135 is 1.35 %.

    >>> from uptide.core.oxidation.oil import OilOxidation
    >>> sunflower = OilOxidation("sunflower", 4.2, "refined", (11.0, 26.0, 62.0, 0.2, 0.0), 330, 600)
    >>> round(life_spent(sunflower, [HeatStep(50, 6)]), 4)
    0.0135
    """
    return float(rate.life_fraction(peroxides_after(oil, steps), oil.fresh_pv, oil.limit_pv))
