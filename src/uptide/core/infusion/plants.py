"""A plant that is steeped: how it fills a jar, what it holds, what it gives, and what has to be known of it.

All of it is common practice, from memory, and low in confidence unless weighed: the pages say so.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from uptide.core.infusion.extraction import ExtractionClass
from uptide.core.infusion.packing import PlantForm
from uptide.core.infusion.straining import Uptake

DRIED_WATER = 0.10  # g/g of plant that snaps; common practice


class State(StrEnum):
    """How the plant goes in."""

    DRIED = "dried"
    WILTED = "wilted"
    FRESH = "fresh"
    ROASTED = "roasted"
    POWDERED = "powdered"


DAMP = frozenset({State.WILTED, State.FRESH})
ROASTED_WATER = 0.03  # g/g; common practice


@dataclass(frozen=True, slots=True)
class Restricted:
    """A substance of its scent that is limited on skin: its share of the scent [g/g], low and high; the limit [%]."""

    name: str
    low: float
    high: float
    limit: float


@dataclass(frozen=True, slots=True, eq=False)
class PlantFacts:
    """What is known of a plant; shares in g/g, densities in g/mL, lives in months.

    `scent` is the key of the scent that is distilled from it, empty where none is known; `colour` what oil of it looks
    like in 1 cm at 1 to 8, empty where nobody knows; `dissolves_as` the key of the oil that what dissolves of it is.
    `flags` are single words that say whom or what it is not for, `heed` a sentence on picking and using it; `as_part`
    is the part that is taken where it is another than the table is of.
    """

    key: str
    name: str
    botanical_name: str
    family: str
    part: str
    form: PlantForm
    extraction: ExtractionClass
    usual_state: State
    water_fresh: float
    bulk: tuple[float, float, float]
    sorption: float
    uptake: Uptake
    parts_of_oil: float
    dissolves: float
    extract_in_oil: float
    essential_oil: tuple[float, float]
    scent: str
    restricted: Restricted | None
    months_dried: float
    months_fresh: float
    colour: str
    dissolves_as: str
    inci: str
    flags: frozenset[str]
    heed: str
    source: str
    confidence: str
    as_part: str = ""

    @property
    def called(self) -> str:
        """Its name, with the part where that is another than the table is of."""
        return f"{self.name} {self.as_part}".strip()

    def water_in(self, state: State) -> float:
        """Water of it as it goes in [g/g]: dried until it snaps, wilted to half of its weight, or as picked."""
        if state is State.ROASTED:
            return min(ROASTED_WATER, self.water_fresh)
        if state not in DAMP:
            return min(DRIED_WATER, self.water_fresh)
        if state is State.FRESH:
            return self.water_fresh
        return max(DRIED_WATER, 1 - 2 * (1 - self.water_fresh))

    def life(self, state: State) -> float:
        """How long an oil of it keeps from the day it is strained [months], whatever the oil itself would."""
        return self.months_fresh if state in DAMP else self.months_dried
