"""The plants that are steeped: their table, read and checked."""

from __future__ import annotations

from collections.abc import Mapping
from importlib.resources.abc import Traversable
from pathlib import Path
from types import MappingProxyType
from typing import Annotated, Literal

from pydantic import Field, model_validator

from uptide.catalogue.rows import Confidence, Key, Percent
from uptide.catalogue.tables import TableError, TableRow, read_rows
from uptide.core.infusion.extraction import CLASSES
from uptide.core.infusion.judging import FLAG_WORDS
from uptide.core.infusion.packing import FORMS
from uptide.core.infusion.plants import PlantFacts, Restricted, State
from uptide.core.infusion.straining import Uptake
from uptide.core.ingredients.infusion import Steeped
from uptide.core.ingredients.plant_names import NO_NAME
from uptide.core.measures.names import normalise

Share = Annotated[float, Field(ge=0, le=1)]
Density = Annotated[float, Field(gt=0, lt=1.5)]


class PlantRow(TableRow):
    """A plant that is steeped; low confidence unless weighed."""

    key: Key
    name: str
    botanical_name: str
    family: str
    part: str
    form: Literal["flower", "leaf", "needle", "root", "seed", "powder", "resin"]
    extraction_class: Literal["powder", "leaf", "heads", "seed", "root"]
    usual_state: State
    water_fresh_percent: Percent
    bulk_low_g_ml: Density
    bulk_typical_g_ml: Density
    bulk_high_g_ml: Density
    sorption_factor: Annotated[float, Field(ge=0, le=3)]
    uptake_drained_g_per_g: Annotated[float, Field(ge=0, le=10)]
    uptake_pressed_g_per_g: Annotated[float, Field(ge=0, le=10)]
    parts_of_oil: Annotated[float, Field(ge=1, le=50)]
    dissolves_g_per_g: Share
    extract_in_oil_percent: Percent
    essential_oil_low_percent: Percent
    essential_oil_high_percent: Percent
    scent: str = ""
    restricted: str = ""
    restricted_share_low: Share | Literal[""] = ""
    restricted_share_high: Share | Literal[""] = ""
    restricted_limit_percent: Percent | Literal[""] = ""
    months_dried: Annotated[float, Field(gt=0, le=36)]
    months_fresh: Annotated[float, Field(gt=0, le=12)]
    colour: Annotated[str, Field(pattern=r"^(#[0-9a-f]{6})?$")] = ""
    dissolves_as: str = ""
    inci: str
    flags: str = ""
    heed: str = ""
    source: Key
    confidence: Confidence

    @model_validator(mode="after")
    def _in_order(self) -> PlantRow:
        if not self.bulk_low_g_ml <= self.bulk_typical_g_ml <= self.bulk_high_g_ml:
            raise ValueError("a loose density stands outside its own range")
        if self.essential_oil_low_percent > self.essential_oil_high_percent:
            raise ValueError("the scent’s low end stands above its high end")
        if strange := set(self.flags.split()) - set(FLAG_WORDS):
            raise ValueError(f"{', '.join(sorted(strange))} is no flag; known are {', '.join(FLAG_WORDS)}")
        held = (self.restricted_share_low, self.restricted_share_high, self.restricted_limit_percent)
        if ("" in held) is bool(self.restricted):
            raise ValueError("a restricted substance has a name, two shares and a limit, or none of them")
        return self


def load_plants(file: Path | Traversable) -> Mapping[str, PlantFacts]:
    """Read the table of plants.

    Raises:
        TableError: a row that is malformed, or a key that stands twice.
    """
    rows = read_rows(file, PlantRow)
    found: dict[str, PlantFacts] = {}
    for place, row in rows:
        if row.key in found:
            raise TableError([f"{place}: the plant {row.key} stands twice"])
        found[row.key] = _plant(row)
    return MappingProxyType(found)


def _plant(row: PlantRow) -> PlantFacts:
    restricted = None
    if row.restricted:
        shares = float(row.restricted_share_low), float(row.restricted_share_high)
        restricted = Restricted(row.restricted, *shares, limit=float(row.restricted_limit_percent))
    return PlantFacts(
        key=row.key,
        name=row.name,
        botanical_name=row.botanical_name,
        family=row.family,
        part=row.part,
        form=FORMS[row.form],
        extraction=CLASSES[row.extraction_class],
        usual_state=row.usual_state,
        water_fresh=row.water_fresh_percent / 100,
        bulk=(row.bulk_low_g_ml, row.bulk_typical_g_ml, row.bulk_high_g_ml),
        sorption=row.sorption_factor,
        uptake=Uptake(row.uptake_drained_g_per_g, row.uptake_pressed_g_per_g),
        parts_of_oil=row.parts_of_oil,
        dissolves=row.dissolves_g_per_g,
        extract_in_oil=row.extract_in_oil_percent,
        essential_oil=(row.essential_oil_low_percent, row.essential_oil_high_percent),
        scent=row.scent,
        restricted=restricted,
        months_dried=row.months_dried,
        months_fresh=row.months_fresh,
        colour=row.colour,
        dissolves_as=row.dissolves_as,
        inci=row.inci,
        flags=frozenset(row.flags.split()),
        heed=row.heed,
        source=row.source,
        confidence=row.confidence,
    )


def called(words: str, plants: Mapping[str, PlantFacts]) -> tuple[str, ...]:
    """Keys of the plants that are called so: by name or botanical name, or by a name that stands within the words.

    >>> from uptide.catalogue.shipped import shipped_plants
    >>> called("rose petals", shipped_plants()), called("Hypericum perforatum", shipped_plants())
    (('rose',), ('st-johns-wort',))
    """
    said = normalise(words)
    exact = _named(said, plants)
    if exact:
        return exact
    within = {
        key: max((len(name) for name in _names(plant) if f" {name} " in f" {said} "), default=0)
        for key, plant in plants.items()
    }
    most = max(within.values())
    return tuple(key for key, length in within.items() if length == most) if most else ()


def plant_named(words: str, plants: Mapping[str, PlantFacts]) -> PlantFacts | None:
    """The plant that these words name and nothing else; None for none, for several, and for one among other words.

    >>> from uptide.catalogue.shipped import shipped_plants
    >>> plants = shipped_plants()
    >>> plant_named("St John's wort", plants).inci, plant_named("calendula and rose", plants)
    ('Hypericum Perforatum Flower Extract', None)
    """
    keys = _named(normalise(words), plants)
    return plants[keys[0]] if len(keys) == 1 else None


def steeped(name: str, plants: Mapping[str, PlantFacts]) -> Steeped:
    """A plant as a lot keeps it that was not steeped here; nobody knows how much of it there was."""
    plant = plant_named(name, plants)
    if plant is None:
        return Steeped(name)
    return Steeped(plant.name, plant.botanical_name, plant.inci, colour=plant.colour)


def _named(said: str, plants: Mapping[str, PlantFacts]) -> tuple[str, ...]:
    return tuple(key for key, plant in plants.items() if said in _names(plant))


def _names(plant: PlantFacts) -> tuple[str, ...]:
    """What a plant is called, in normal form: without “German” and the like, by its genus, and by its key."""
    name, botanical = normalise(plant.name), normalise(plant.botanical_name)
    key = normalise(plant.key.rpartition(":")[2].replace("-", " "))
    last = name.split()[-1]
    short = () if last in NO_NAME else (last,)
    return (name, key, *short, *((botanical, botanical.split()[0]) if botanical else ()))


def flags_by_name(plants: Mapping[str, PlantFacts]) -> Mapping[str, frozenset[str]]:
    """What each plant is not for, by every name that it has; a name of several has what any of them has."""
    found: dict[str, frozenset[str]] = {}
    for plant in plants.values():
        for name in _names(plant):
            found[name] = found.get(name, frozenset()) | plant.flags
    return MappingProxyType(found)
