"""What goes into a jar of one plant: so many grams of it, in what state, with how much water."""

from __future__ import annotations

from dataclasses import dataclass

from uptide.core.errors import QuantityError
from uptide.core.infusion.extraction import CLASSES, ExtractionClass
from uptide.core.infusion.packing import FORMS, PlantForm
from uptide.core.infusion.plants import PlantFacts, State
from uptide.core.infusion.straining import Straining

MOST_GRAMS = 50_000
POWDER_BULK = 0.35  # g/mL of loose powder; assumption, from handling
WET = 0.20  # g/g of water from which the plant keeps oil as fresh plant does


@dataclass(frozen=True, slots=True)
class Charge:
    """So much of a plant as it goes in [g]; its water [g/g] as is usual where it was not measured.

    Raises:
        QuantityError: an amount that cannot be.
    """

    plant: PlantFacts
    state: State
    grams: float
    water: float | None = None

    def __post_init__(self) -> None:
        if not 0 < self.grams <= MOST_GRAMS:
            raise QuantityError(f"{self.grams:g} g of plant cannot be planned; up to {MOST_GRAMS:,} can.")
        if self.water is not None and not 0 <= self.water < 1:
            raise QuantityError(f"Plant with {100 * self.water:g} % water cannot be; 0 to 99 can.")

    @property
    def moisture(self) -> float:
        """Water of it [g/g]."""
        return self.plant.water_in(self.state) if self.water is None else self.water

    @property
    def dry(self) -> float:
        """Dry matter [g]."""
        return self.grams * (1 - self.moisture)

    @property
    def form(self) -> PlantForm:
        """How it fills a jar."""
        return FORMS["powder"] if self.state is State.POWDERED else self.plant.form

    @property
    def extraction(self) -> ExtractionClass:
        """How fast it gives what it has: ground it gives it in hours."""
        return CLASSES["powder"] if self.state is State.POWDERED else self.plant.extraction

    @property
    def bulk(self) -> float:
        """Density as it lies loose in the jar [g/mL]; ground it lies denser, and never below its own whole pieces."""
        loose = self.plant.bulk[1]
        return max(loose, POWDER_BULK) if self.state is State.POWDERED else loose

    def bulk_at(self, end: int) -> float:
        """The same of the loosest (0) or the densest (2) such plant [g/mL]."""
        return self.bulk * self.plant.bulk[end] / self.plant.bulk[1]

    def keeps(self, how: Straining) -> float:
        """Oil that it keeps [g], by a way of straining; of fresh plant once its water has left."""
        uptake = self.plant.uptake
        return self.grams * (uptake.of_fresh(self.moisture) if self.moisture > WET else uptake).by(how)


@dataclass(frozen=True, slots=True)
class RestrictedBound:
    """A substance that is limited on skin: the most of it that can be in the oil, and its limit [%].

    `parts_within` is how many parts of oil to one of plant keep it surely within.
    """

    name: str
    at_most: float
    limit: float
    parts_within: float
