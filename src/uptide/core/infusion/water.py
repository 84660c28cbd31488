"""Water in a jar of plant and oil: how active it is, what can live there, when oil clouds, and how water leaves.

All figures are from memory or first principles and were not measured on real oil or plant: see the constants.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import exp, log, pi, sqrt

from uptide.core.errors import QuantityError
from uptide.core.physics.density import density_at

GAS_CONSTANT = 8.314462618  # J/(mol K), codata-2018
REFERENCE = 293.15  # K
# Solubility of water in triglycerides: log10 S = 5.332 - 684 K/T, the line given for vegetable insulating liquids; from
# memory, medium. At 20 °C it is rounded to 1 g/kg; the band is 0.5 to 1.5.
SOLUBLE_20C = 0.0010  # g/g
SOLUTION_ENTHALPY = 684 * log(10) * GAS_CONSTANT  # J/mol
BOUGHT_OIL = 0.0004  # g/g of water in oil from the bottle, refined; unrefined to 0.001; from memory, low
# Sorption of water by dry leaf, flower and root (Guggenheim, Anderson, de Boer); from memory, ± 0.05 in activity.
MONOLAYER, GAB_C, GAB_K = 0.0645, 12.0, 0.86
SAFE_ACTIVITY = 0.60  # below it nothing grows; textbook, from memory
OIL_DENSITY = 0.92  # g/mL at 20 °C, where an oil's own is not given
# How fast water leaves through the surface of the oil [m/s], × or ÷ 3: from a guessed diffusivity.
STILL, CONVECTION, STIRRED = 6e-8, 9e-6, 3e-5
TOLERANCE = 1e-12  # of an activity


class Growth(StrEnum):
    """What can live at an activity of water; textbook, from memory."""

    NOTHING = "nothing"
    SLOW_MOULDS = "dry-loving moulds, over months"
    MOULDS = "moulds, within weeks"
    FAST_MOULDS = "moulds within days, and yeasts"
    BACTERIA = "bacteria too"


BOUNDS = (
    (SAFE_ACTIVITY, Growth.NOTHING),
    (0.65, Growth.SLOW_MOULDS),
    (0.75, Growth.MOULDS),
    (0.90, Growth.FAST_MOULDS),
)


def growth_at(activity: float) -> Growth:
    """What can live at an activity.

    >>> growth_at(0.546).value, growth_at(0.962).value
    ('nothing', 'bacteria too')
    """
    return next((growth for bound, growth in BOUNDS if activity < bound), Growth.BACTERIA)


def solubility(celsius: float, soluble_20c: float = SOLUBLE_20C) -> float:
    """Water that an oil can hold dissolved [g/g] at a temperature.

    >>> round(1e6 * solubility(5), 1), round(1e6 * solubility(60))
    (748.5, 1906)
    """
    return soluble_20c * exp(-SOLUTION_ENTHALPY / GAS_CONSTANT * (1 / (celsius + 273.15) - 1 / REFERENCE))


def sorbed(activity: float, sorption: float = 1.0) -> float:
    """Water per gram of dry plant [g/g] at an activity; `sorption` is the plant's own factor (sugary fruit 1.3 to 1.6).

    >>> round(sorbed(0.6), 4)
    0.1236
    """
    held = GAB_K * activity
    return sorption * MONOLAYER * GAB_C * held / ((1 - held) * (1 - held + GAB_C * held))


def activity_of(water_per_dry: float, sorption: float = 1.0) -> float:
    """Activity of water in a plant with so much per gram of dry matter [g/g]: the inverse of `sorbed`, at most 1.

    >>> round(activity_of(0.12 / 0.88), 4)
    0.647
    """
    if not sorption:
        return 1.0 if water_per_dry > 0 else 0.0
    water = water_per_dry / sorption
    b = MONOLAYER * GAB_C - water * (GAB_C - 2)
    return (
        min(1.0, (-b + sqrt(b**2 + 4 * (GAB_C - 1) * water**2)) / (2 * (GAB_C - 1) * water * GAB_K)) if water else 0.0
    )


def water_at(activity: float, sorption: float = 1.0) -> float:
    """Water of a plant [g/g wet] at an activity, as in a room of that relative humidity.

    >>> round(water_at(0.70), 4)
    0.1331
    """
    held = sorbed(activity, sorption)
    return held / (1 + held)


@dataclass(frozen=True, slots=True)
class Plant:
    """Plant matter as it goes in: grams, its water [g/g wet], and its sorption factor."""

    grams: float
    water: float
    sorption: float = 1.0

    def __post_init__(self) -> None:
        if self.grams < 0 or not 0 <= self.water < 1:
            raise QuantityError(f"{self.grams:g} g of plant with {100 * self.water:g} % water cannot be.")

    @property
    def dry(self) -> float:
        """Dry matter [g]."""
        return self.grams * (1 - self.water)


@dataclass(frozen=True, slots=True)
class JarWater:
    """Where the water of a jar is: activity, and grams in the plant, dissolved in the oil, and free."""

    activity: float
    in_plant: float
    in_oil: float
    free: float

    @property
    def grows(self) -> Growth:
        """What can live in it; with free water bacteria, whatever the activity."""
        return Growth.BACTERIA if self.free > 0 else growth_at(self.activity)


def water_of_jar(
    plants: Sequence[Plant],
    oil_grams: float,
    celsius: float = 20.0,
    *,
    oil_water: float = BOUGHT_OIL,
    lost: float = 0.0,
    soluble_20c: float = SOLUBLE_20C,
) -> JarWater:
    """Share the water of a jar out: it spreads until plant and oil have one activity.

    Args:
        plants: what is in it.
        oil_grams: oil [g].
        celsius: temperature of the jar.
        oil_water: water that the oil brings [g/g].
        lost: water that has left it [g].
        soluble_20c: what the oil can hold at 20 °C [g/g].
    """
    water = max(0.0, sum(plant.grams * plant.water for plant in plants) + oil_grams * oil_water - lost)
    holds = oil_grams * solubility(celsius, soluble_20c)

    def held(activity: float) -> float:
        return sum(plant.dry * sorbed(activity, plant.sorption) for plant in plants) + holds * activity

    if held(1.0) <= water:
        return JarWater(1.0, held(1.0) - holds, holds, water - held(1.0))
    low, high = 0.0, 1.0
    while high - low > TOLERANCE:
        middle = (low + high) / 2
        low, high = (middle, high) if held(middle) < water else (low, middle)
    return JarWater(low, held(low) - holds * low, holds * low, 0.0)


def must_leave(plants: Sequence[Plant], oil_grams: float, *, oil_water: float = BOUGHT_OIL) -> float:
    """Water that has to go [g] until nothing can grow, at 20 °C; 0 where the jar is dry enough."""
    held = sum(plant.dry * sorbed(SAFE_ACTIVITY, plant.sorption) for plant in plants)
    brought = sum(plant.grams * plant.water for plant in plants)
    return max(0.0, brought - held - oil_grams * (SAFE_ACTIVITY * SOLUBLE_20C - oil_water))


def clouds_below(strained_at: float, activity: float) -> float:
    """Temperature [°C] below which oil that was strained at one temperature and activity turns hazy.

    The oil's own solubility cancels: what matters is how much less it holds in the cold.

    >>> round(clouds_below(45, 0.6), 2), round(clouds_below(60, 0.6), 2)
    (15.24, 27.51)
    """
    held = activity * solubility(strained_at) / SOLUBLE_20C
    return 1 / (1 / REFERENCE - GAS_CONSTANT / SOLUTION_ENTHALPY * log(held)) - 273.15


def vapour_pressure(celsius: float) -> float:
    """Saturation pressure of water [kPa]; Tetens 1930, from memory.

    >>> round(vapour_pressure(20), 3), round(vapour_pressure(60), 1)
    (2.338, 19.9)
    """
    return 0.61078 * exp(17.27 * celsius / (celsius + 237.3))


def evaporation(
    width_cm: float,
    celsius: float,
    transfer: float,
    *,
    activity: float = 1.0,
    room: float = 20.0,
    humidity: float = 0.5,
) -> float:
    """Water that leaves an open jar or pot through the surface of the oil [g/h]; never less than nothing.

    Args:
        width_cm: inner width of the vessel [cm].
        celsius: temperature of the oil.
        transfer: STILL, CONVECTION or STIRRED [m/s].
        activity: of the water in the jar.
        room: temperature of the room [°C].
        humidity: of the room, relative [0 to 1].
    """
    area = pi / 4 * (width_cm / 100) ** 2  # m²
    drives = activity - humidity * vapour_pressure(room) / vapour_pressure(celsius)
    grams_per_m3 = 1e6 * density_at(OIL_DENSITY, 20, celsius) * solubility(celsius)
    return max(0.0, 3600 * area * transfer * grams_per_m3 * drives)


def dried(grams: float, water: float, down_to: float) -> float:
    """What so many grams weigh once dried from one water content to another [g/g wet].

    >>> round(dried(250, 0.88, 0.10), 2)
    33.33
    """
    return grams * (1 - water) / (1 - down_to)


def water_now(grams_before: float, water_before: float, grams_now: float) -> float:
    """Water that is left [g/g wet] by two weighings; 0.03 in doubt before is many times that when it is nearly dry.

    >>> round(water_now(250, 0.88, 41), 4)
    0.2683
    """
    return max(0.0, 1 - grams_before * (1 - water_before) / grams_now)
