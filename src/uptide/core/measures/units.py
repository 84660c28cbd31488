"""Volumes and masses of the kitchen: what is poured and weighed here, and nothing else."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

US_GALLON, UK_GALLON = 3785.411784, 4546.09  # mL, by definition: nist-sp-811, uk-weights-1985
# mL of a volume and g of a mass, exactly. Sources: nist-sp-811 (US), uk-weights-1985 (UK), metric-spoons.
SIZES: Mapping[str, float] = {
    "gram": 1.0,
    "milligram": 0.001,
    "kilogram": 1000.0,
    "ounce_weight": 28.349523125,
    "pound": 453.59237,
    "millilitre": 1.0,
    "centilitre": 10.0,
    "decilitre": 100.0,
    "litre": 1000.0,
    "us_gallon": US_GALLON,
    "us_quart": US_GALLON / 4,
    "us_pint": US_GALLON / 8,
    "us_cup": US_GALLON / 16,
    "us_fluid_ounce": US_GALLON / 128,
    "us_tablespoon": US_GALLON / 256,
    "us_dessertspoon": US_GALLON / 384,
    "us_teaspoon": US_GALLON / 768,
    "metric_cup": 250.0,
    "metric_tablespoon": 15.0,
    "metric_dessertspoon": 10.0,
    "metric_teaspoon": 5.0,
    "uk_gallon": UK_GALLON,
    "uk_quart": UK_GALLON / 4,
    "uk_pint": UK_GALLON / 8,
    "uk_fluid_ounce": UK_GALLON / 160,
    "uk_cup": UK_GALLON / 16,  # half an imperial pint
    "old_uk_tablespoon": UK_GALLON / 256,  # five eighths of a fluid ounce
    "au_tablespoon": 20.0,  # Australian standard AS 1325, from memory
}


class Dimension(StrEnum):
    """What a unit counts."""

    VOLUME = "volume"
    MASS = "mass"
    DROPS = "drops"
    HELD = "held"  # what a dropper, a pump or a cap holds
    CAPSULES = "capsules"
    IU = "international units"  # of vitamin E
    BLOBS = "blobs"
    UNCLEAR = "unclear"  # means one of several units: the person is asked


@dataclass(frozen=True, slots=True)
class Unit:
    """A unit as people say it: its singular and plural word and how it becomes millilitres or grams.

    `by_system` names the unit of SIZES for each system of spoons or ounces it may belong to.
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
    return Unit(key, singular, plural=plural, dimension=Dimension.VOLUME, by_system=tuple(systems.items()))


UNITS = {
    unit.key: unit
    for unit in (
        _volume("tsp", "tsp", "tsp", us="us_teaspoon", metric="metric_teaspoon"),
        _volume("dessertspoon", "dessertspoon", "dessertspoons", us="us_dessertspoon", metric="metric_dessertspoon"),
        _volume(
            "tbsp",
            "tbsp",
            "tbsp",
            us="us_tablespoon",
            metric="metric_tablespoon",
            au="au_tablespoon",
        ),
        _volume("tbsp_15", "tbsp of 15 mL", "tbsp of 15 mL", any="metric_tablespoon"),
        _volume("tbsp_18", "tbsp of 17.8 mL", "tbsp of 17.8 mL", any="old_uk_tablespoon"),
        Unit("uk_tbsp", "UK tbsp", "UK tbsp", Dimension.UNCLEAR),
        _volume("cup", "cup", "cups", us="us_cup", metric="metric_cup", au="metric_cup", uk="uk_cup"),
        _volume("fl_oz", "fl oz", "fl oz", us="us_fluid_ounce", uk="uk_fluid_ounce"),
        _volume("pint", "pint", "pints", us="us_pint", uk="uk_pint"),
        _volume("quart", "quart", "quarts", us="us_quart", uk="uk_quart"),
        _volume("gallon", "gallon", "gallons", us="us_gallon", uk="uk_gallon"),
        _volume("ml", "mL", "mL", any="millilitre"),
        _volume("cl", "cL", "cL", any="centilitre"),
        _volume("dl", "dL", "dL", any="decilitre"),
        _volume("l", "L", "L", any="litre"),
        Unit("mg", "mg", plural="mg", dimension=Dimension.MASS, by_system=(("any", "milligram"),)),
        Unit("g", "g", plural="g", dimension=Dimension.MASS, by_system=(("any", "gram"),)),
        Unit("kg", "kg", plural="kg", dimension=Dimension.MASS, by_system=(("any", "kilogram"),)),
        Unit(
            "oz_weight",
            "oz by weight",
            plural="oz by weight",
            dimension=Dimension.MASS,
            by_system=(("any", "ounce_weight"),),
        ),
        Unit("lb", "lb", plural="lb", dimension=Dimension.MASS, by_system=(("any", "pound"),)),
        Unit("oz", "oz", "oz", Dimension.UNCLEAR),
        Unit("spoon", "spoon", "spoons", Dimension.UNCLEAR),
        Unit("drop", "drop", "drops", Dimension.DROPS),
        Unit("dropper", "dropper", "droppers", Dimension.HELD),
        Unit("capsule", "capsule", "capsules", Dimension.CAPSULES),
        Unit("iu", "IU", "IU", Dimension.IU),
        Unit("pump", "pump", "pumps", Dimension.HELD),
        Unit("capful", "capful", "capfuls", Dimension.HELD),
        Unit("blob", "blob", "blobs", Dimension.BLOBS),
    )
}


def size_of(name: str) -> float:
    """Size of a unit of SIZES, in mL if it is a volume and in g if it is a mass.

    >>> round(size_of("us_teaspoon"), 3), round(size_of("uk_fluid_ounce"), 3)
    (4.929, 28.413)
    """
    return SIZES[name]
