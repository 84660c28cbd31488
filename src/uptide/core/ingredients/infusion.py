"""What an oil was steeped with, as its lot keeps it: the plants, what the jar cost the oil, and where it came from."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from math import fsum

from uptide.core.errors import QuantityError
from uptide.core.oxidation.history import HeatStep
from uptide.core.physics.colour import through, written

AND = re.compile(r"[,&+]|\band\b", re.IGNORECASE)
MOST_SCENT = 100  # %
COLOUR_AT = 1 / 8  # g of dry plant for each g of oil at which colours of plants are given; assumption


@dataclass(frozen=True, slots=True)
class Steeped:
    """A plant that was in a jar.

    `strength` is its dry matter for each gram of oil [g/g], 0 where nobody weighed it; `colour` what oil of it looks
    like in 1 cm at 1 to 8, empty where nobody knows; `dissolved` the part of the strained oil that is plant [g/g], and
    `dissolved_as` the oil that this is, empty for what is no oil. `scent` is the key of the scent that is distilled
    from it, `scent_percent` the most of it that can have passed into the oil [%].
    """

    name: str
    botanical_name: str = ""
    inci: str = ""
    strength: float = 0.0
    colour: str = ""
    dissolved: float = 0.0
    dissolved_as: str = ""
    scent: str = ""
    scent_percent: float = 0.0

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise QuantityError("A plant without a name was steeped in nothing.")
        if not 0 <= self.strength <= 10:
            raise QuantityError(f"{self.strength:g} g of plant in a gram of oil cannot be; 0 to 10 can.")
        if not 0 <= self.scent_percent < MOST_SCENT:
            raise QuantityError(f"{self.scent_percent:g} % of scent in an oil cannot be; 0 to {MOST_SCENT} can.")
        if not 0 <= self.dissolved < 1:
            raise QuantityError(f"{self.dissolved:g} of an oil cannot be dissolved plant; 0 to 1 can.")


@dataclass(frozen=True, slots=True)
class Infusion:
    """How the oil of a lot was infused.

    `steps` are heat and light of the jar, `fresh_plant` that water may be left in it. `oil_lot` is the code of the lot
    that was poured on, `jar` the number of the jar, where it was steeped here. `picked` says where, when and by whom,
    in a person's words.
    """

    plants: tuple[Steeped, ...]
    steps: tuple[HeatStep, ...] = ()
    fresh_plant: bool = False
    begun_on: date | None = None
    oil_lot: str = ""
    jar: int | None = None
    picked: str = ""

    def __post_init__(self) -> None:
        if not self.plants:
            raise QuantityError("An infused oil was infused with something: name the plant.")
        if self.dissolved >= 1:
            raise QuantityError("More plant cannot be dissolved in an oil than there is oil.")

    @property
    def plant_names(self) -> str:
        """The plants in words."""
        return " and ".join(plant.name for plant in self.plants)

    @property
    def dissolved(self) -> float:
        """The part of the oil that is plant [g/g]."""
        return fsum(plant.dissolved for plant in self.plants)

    @property
    def said(self) -> str:
        """What is read for cautions: every name that its plants have."""
        named = (
            f"{plant.name} ({plant.botanical_name})" if plant.botanical_name else plant.name for plant in self.plants
        )
        return f"infused with {', '.join(named)}"

    def colour(self, base: str) -> str:
        """What the oil looks like in 1 cm, over the colour that it had: absorbance adds.

        >>> Infusion((Steeped("Calendula", strength=0.125, colour="#e8a31e"),)).colour("#f6ecb4")
        '#e09612'
        """
        return tinted(base, ((plant.strength, plant.colour) for plant in self.plants))


def tinted(base: str, plants: Iterable[tuple[float, str]]) -> str:
    """An oil's colour with plants in it, each (g dry for each g of oil, its colour at 1 to 8)."""
    seen = [(strength / COLOUR_AT, colour) for strength, colour in plants if colour and strength > 0]
    return written(through([(1.0, base), *seen])) if seen else base


def each_plant(words: str) -> tuple[str, ...]:
    """The plants that words name, one by one.

    >>> each_plant("calendula, rose petals and St John's wort")
    ('calendula', 'rose petals', "St John's wort")
    """
    return tuple(filter(None, (part.strip() for part in AND.split(words))))
