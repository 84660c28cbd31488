"""Where a bottle stands: warmth, light, air, walls."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from math import inf

from uptide.core.errors import UptideError

PHOTO_RATE = 0.30  # meq/(kg day) on a sunny sill in clear glass, for a substrate of light value 1; assumption
CHLOROPHYLL_GAIN = 1.5  # green oils take up light that others let through; assumption
OPENED_OXIDATION, OPENED_AGEING = 1.67, 1.25  # a bottle in use against a closed one; assumption from PAO practice
AIR_OXYGEN = 0.2095  # atm
MOLAR_VOLUME = 24.055  # L/mol at 20 °C
DISSOLVED_OXYGEN = 1.3  # mmol/L of oil in air; from memory
CLOSURE_LEAK = 0.002  # cm³ O2 per day through a good closure; assumption
# cm³ mm/(m² day atm): from memory.
PERMEABILITY = {"glass": 0.0, "PET": 2.0, "HDPE": 60.0}
# mg/kg that doubles the rate, in lard at 98 °C: from memory.
METALS = {"Cu": 0.05, "Mn": 0.6, "Fe": 0.6, "Cr": 1.2, "Ni": 2.2, "V": 3.0, "Zn": 19.6, "Al": 50.0}
CHELATED = 0.3


class Light(StrEnum):
    """How much light reaches the bottle."""

    DARK = "dark"
    ROOM = "room"
    BRIGHT = "bright"
    SUNNY = "sunny sill"


class Glass(StrEnum):
    """What the light must pass."""

    CLEAR = "clear"
    BLUE = "blue"
    GREEN = "green"
    AMBER = "amber"
    OPAQUE = "opaque"


LIGHT_LEVEL = {Light.DARK: 0.0, Light.ROOM: 0.10, Light.BRIGHT: 0.30, Light.SUNNY: 1.0}
GLASS_PASSES = {Glass.CLEAR: 1.0, Glass.BLUE: 0.7, Glass.GREEN: 0.5, Glass.AMBER: 0.10, Glass.OPAQUE: 0.0}


COOL_CUPBOARD = "cool cupboard"  # where a thing is taken to stand when nothing is said of it


@dataclass(frozen=True, slots=True)
class Storage:
    """Where and how a product stands: monthly mean temperatures January to December [°C], daily swing ± [K].

    Raises:
        UptideError: not twelve temperatures, one that no kitchen has, or uses, air or a wall that cannot be.
    """

    place: str = COOL_CUPBOARD
    celsius: tuple[float, ...] = (17.0,) * 12
    swing: float = 1.0
    light: Light = Light.DARK
    glass: Glass = Glass.AMBER
    material: str = "glass"
    opened: bool = True
    uses_a_week: float = 7.0
    ml_a_use: float = 0.0
    headspace: float = 0.10  # of the oil's volume: air above it

    def __post_init__(self) -> None:
        if len(self.celsius) != 12 or not all(-30 <= t <= 60 for t in self.celsius):
            shown = ", ".join(f"{t:g}" for t in self.celsius)
            raise UptideError(f"Monthly temperatures are {shown}; wanted are twelve, each from -30 to 60 °C.")
        if not (0 <= self.uses_a_week < inf and 0 <= self.ml_a_use < inf):
            raise UptideError(f"{self.uses_a_week:g} uses a week of {self.ml_a_use:g} mL cannot be; 0 or more can.")
        if not 0 <= self.headspace <= 5:
            raise UptideError(f"Head room of {100 * self.headspace:g} % cannot be; 0 to 500 % can.")
        if self.material not in PERMEABILITY:
            raise UptideError(f"There is no container of “{self.material}”; known are {', '.join(PERMEABILITY)}.")

    @property
    def oxidation_factor(self) -> float:
        """How much faster it oxidises for being opened in use."""
        return OPENED_OXIDATION if self.opened else 1.0

    @property
    def ageing_factor(self) -> float:
        """How much faster it ages for being opened in use."""
        return OPENED_AGEING if self.opened else 1.0


OWN_PLACE = "own temperatures"  # the place of whoever gives their own


def _constant(celsius: float) -> tuple[float, ...]:
    return (celsius,) * 12


# Warmth of the usual places: common practice, no source.
PLACES: Mapping[str, tuple[tuple[float, ...], float, Light]] = {
    COOL_CUPBOARD: (_constant(17.0), 1.0, Light.DARK),
    "bathroom": (_constant(23.0), 4.0, Light.ROOM),
    "fridge": (_constant(4.0), 1.0, Light.DARK),
    "hot car": ((16.0, 17.0, 20.0, 24.0, 28.0, 33.0, 35.0, 35.0, 30.0, 24.0, 19.0, 16.0), 12.0, Light.BRIGHT),
    "sunny shelf": (_constant(24.0), 5.0, Light.SUNNY),
}


def usual_place(name: str, *, opened: bool) -> Storage:
    """How something stands in a place that somebody named; what the model does not know counts as a cool cupboard."""
    key = name.strip().lower()
    celsius, swing, light = PLACES.get(key, PLACES[COOL_CUPBOARD])
    place = key if key in PLACES else COOL_CUPBOARD
    return Storage(place=place, celsius=celsius, swing=swing, light=light, opened=opened)


def photo_rate(light_value: float, level: float, glass: float, chlorophyll: float) -> float:
    """Peroxides that light makes [meq/(kg day)]; tocopherols hardly help against it.

    >>> round(photo_rate(0.6853, 1.0, 1.0, 1.0), 3)
    0.514
    """
    return PHOTO_RATE * level * glass * light_value * (1 + CHLOROPHYLL_GAIN * chlorophyll)


def metal_factor(mg_per_kg: Mapping[str, float], *, chelated: bool = False) -> float:
    """By how much traces of metal [mg/kg] speed oxidation up.

    >>> metal_factor({"Cu": 0.05}), round(metal_factor({"Fe": 0.3}, chelated=True), 2)
    (2.0, 1.15)
    """
    traces = sum(amount / METALS[metal] for metal, amount in mg_per_kg.items())
    return 1 + traces * (CHELATED if chelated else 1.0)


def oxygen_rate_factor(pressure: float) -> float:
    """Rate at an oxygen pressure [atm] against that in air.

    >>> round(oxygen_rate_factor(0.05), 4)
    0.7145
    """
    return pressure / (pressure + 0.03) * (AIR_OXYGEN + 0.03) / AIR_OXYGEN


def headspace_oxygen(headspace_ml: float) -> float:
    """Oxygen [mmol] in the air above the oil.

    >>> round(headspace_oxygen(3), 5)
    0.02613
    """
    return headspace_ml * AIR_OXYGEN / MOLAR_VOLUME


def peroxide_ceiling(headspace_ml: float, oil_ml: float, oil_grams: float) -> float:
    """Rise of the peroxide value [meq/kg] at which a closed glass bottle has used up its oxygen.

    One mmol of oxygen makes two meq of peroxide.

    >>> round(peroxide_ceiling(3, 30, 27.45), 2)
    4.75
    """
    oxygen = headspace_oxygen(headspace_ml) + DISSOLVED_OXYGEN * oil_ml / 1000
    return 2 * oxygen / (oil_grams / 1000)


def oxygen_through(material: str, area_cm2: float, thickness_mm: float) -> float:
    """Oxygen [cm³/day] through wall and closure.

    >>> round(oxygen_through("PET", 55, 0.7), 6), round(oxygen_through("HDPE", 55, 0.7), 4)
    (0.005292, 0.1008)
    """
    return PERMEABILITY[material] * area_cm2 / 10_000 / thickness_mm * AIR_OXYGEN + CLOSURE_LEAK
