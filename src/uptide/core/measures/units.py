"""Volumes and masses of the kitchen, through a small `pint` registry of our own.

The registry holds only what is poured and weighed here: pint's own file would take a second to read and would know a
hundred ounces that nobody means.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import cache

import pint

# Sources: nist-sp-811 (US), uk-weights-1985 (UK), metric-spoons; pinch and dash are common practice.
DEFINITIONS = """
gram = [mass] = g
milligram = 0.001 gram
kilogram = 1000 gram
ounce_weight = 28.349523125 gram
pound = 453.59237 gram
millilitre = [liquid] = mL
centilitre = 10 millilitre
decilitre = 100 millilitre
litre = 1000 millilitre
us_gallon = 3785.411784 millilitre
us_quart = us_gallon / 4
us_pint = us_gallon / 8
us_cup = us_gallon / 16
us_fluid_ounce = us_gallon / 128
us_tablespoon = us_gallon / 256
us_dessertspoon = us_gallon / 384
us_teaspoon = us_gallon / 768
metric_cup = 250 millilitre
metric_tablespoon = 15 millilitre
metric_dessertspoon = 10 millilitre
metric_teaspoon = 5 millilitre
uk_gallon = 4546.09 millilitre
uk_quart = uk_gallon / 4
uk_pint = uk_gallon / 8
uk_fluid_ounce = uk_gallon / 160
"""


class Dimension(StrEnum):
    """What a unit counts."""

    VOLUME = "volume"
    MASS = "mass"
    DROPS = "drops"
    DROPPERS = "droppers"
    CAPSULES = "capsules"
    BLOBS = "blobs"
    UNCLEAR = "unclear"  # means one of several units: the person is asked


@dataclass(frozen=True, slots=True)
class Unit:
    """A unit as people say it: its singular and plural word and how it becomes millilitres or grams.

    `by_system` names the registry's unit for each system of spoons or ounces it may belong to.
    """

    key: str
    singular: str
    plural: str
    dimension: Dimension
    by_system: tuple[tuple[str, str], ...] = ()

    def say(self, amount: float) -> str:
        """The word for this many."""
        return self.singular if amount <= 1 else self.plural


def _volume(key: str, singular: str, plural: str, **systems: str) -> Unit:
    return Unit(key, singular, plural, Dimension.VOLUME, tuple(systems.items()))


UNITS = {
    unit.key: unit
    for unit in (
        _volume("tsp", "tsp", "tsp", us="us_teaspoon", metric="metric_teaspoon"),
        _volume("dessertspoon", "dessertspoon", "dessertspoons", us="us_dessertspoon", metric="metric_dessertspoon"),
        _volume("tbsp", "tbsp", "tbsp", us="us_tablespoon", metric="metric_tablespoon"),
        _volume("cup", "cup", "cups", us="us_cup", metric="metric_cup"),
        _volume("fl_oz", "fl oz", "fl oz", us="us_fluid_ounce", uk="uk_fluid_ounce"),
        _volume("pint", "pint", "pints", us="us_pint", uk="uk_pint"),
        _volume("quart", "quart", "quarts", us="us_quart", uk="uk_quart"),
        _volume("gallon", "gallon", "gallons", us="us_gallon", uk="uk_gallon"),
        _volume("ml", "mL", "mL", any="millilitre"),
        _volume("cl", "cL", "cL", any="centilitre"),
        _volume("dl", "dL", "dL", any="decilitre"),
        _volume("l", "L", "L", any="litre"),
        Unit("mg", "mg", "mg", Dimension.MASS, (("any", "milligram"),)),
        Unit("g", "g", "g", Dimension.MASS, (("any", "gram"),)),
        Unit("kg", "kg", "kg", Dimension.MASS, (("any", "kilogram"),)),
        Unit("oz_weight", "oz by weight", "oz by weight", Dimension.MASS, (("any", "ounce_weight"),)),
        Unit("lb", "lb", "lb", Dimension.MASS, (("any", "pound"),)),
        Unit("oz", "oz", "oz", Dimension.UNCLEAR),
        Unit("spoon", "spoon", "spoons", Dimension.UNCLEAR),
        Unit("drop", "drop", "drops", Dimension.DROPS),
        Unit("dropper", "dropper", "droppers", Dimension.DROPPERS),
        Unit("capsule", "capsule", "capsules", Dimension.CAPSULES),
        Unit("blob", "blob", "blobs", Dimension.BLOBS),
    )
}


@cache
def _registry() -> pint.UnitRegistry[float]:
    registry: pint.UnitRegistry[float] = pint.UnitRegistry(None)
    registry.load_definitions(DEFINITIONS.strip().splitlines())
    return registry


@cache
def size_of(registry_unit: str) -> float:
    """Size of one of the registry's units, in mL if it is a volume and in g if it is a mass.

    >>> round(size_of("us_teaspoon"), 3), round(size_of("uk_fluid_ounce"), 3)
    (4.929, 28.413)
    """
    return float(_registry().Quantity(1.0, registry_unit).to_root_units().magnitude)
