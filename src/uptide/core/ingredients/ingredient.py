"""An ingredient as the core knows it: what it is, what it weighs, what fat it is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum

from uptide.core.lipids.lipid import Lipid
from uptide.core.oxidation.history import HeatStep
from uptide.core.oxidation.oil import OilOxidation
from uptide.core.physics.solid import MeltingCurve

CONFIDENCES = ("low", "medium", "high")


class Phase(StrEnum):
    """The part a row plays in a blend, in the order in which the trade weighs them."""

    CARRIERS = "carriers"
    CHARACTER = "character"
    PROTECTION = "protection"
    SCENT = "scent"
    WATER = "water"


PHASE_OF_KIND = {
    "carrier": Phase.CARRIERS,
    "butter": Phase.CARRIERS,
    "liquid_wax": Phase.CARRIERS,
    "hydrocarbon": Phase.CARRIERS,
    "ester": Phase.CARRIERS,
    "wax": Phase.CARRIERS,
    "active": Phase.CHARACTER,
    "powder": Phase.CHARACTER,
    "emulsifier": Phase.CHARACTER,
    "antioxidant": Phase.PROTECTION,
    "essential_oil": Phase.SCENT,
    "absolute": Phase.SCENT,
    "co2_extract": Phase.SCENT,
    "resinoid": Phase.SCENT,
    "water_phase": Phase.WATER,
    "mixture": Phase.CARRIERS,
}
FATTY_KINDS = frozenset({"carrier", "butter", "liquid_wax", "hydrocarbon", "ester", "wax"})


@dataclass(frozen=True, slots=True)
class Measured:
    """A published or measured number with its range, unit, source and how far it is to be trusted."""

    typical: float | None
    low: float | None
    high: float | None
    unit: str
    source: str
    locator: str = ""
    confidence: str = "medium"
    temperature: float | None = None  # °C
    is_of_class: bool = False  # worked out for its class of oils from their usual acids


@dataclass(frozen=True, slots=True)
class Appearance:
    """How strongly a thing colours (1 pale to 10 deep) and smells (0 nothing to 3 strongly), and the words for it."""

    tint: int
    words: str
    odour: int


@dataclass(frozen=True, slots=True)
class UsualShare:
    """What it is usually taken for, and which share of a blend it usually is [%]; common practice.

    `price_level` is 1 for what is bought by the litre, 2 for a usual oil, 3 for a dear and 4 for a very dear one.
    """

    low: float
    high: float
    role: str
    price_level: int


@dataclass(frozen=True, slots=True)
class Tradition:
    """What people hold of an oil: warming, cooling or neither, when it is chosen, and how; nobody has measured it."""

    temper: str
    seasons: tuple[str, ...]  # nothing for all year round
    practice: str

    @property
    def words(self) -> str:
        """In a sentence, marked as what it is."""
        felt = {"warming": "felt as warming", "cooling": "felt as cooling"}.get(
            self.temper, "neither warming nor cooling"
        )
        when = f"chosen in {' and '.join(self.seasons)}" if self.seasons else "chosen all year round"
        return f"{felt}, {when}; {self.practice}"


@dataclass(frozen=True, slots=True)
class LotPast:
    """What a lot has behind it: age [months], measured peroxide value [meq/kg], heat and light, plant.

    `aged` is how it stood since it was received, or since the peroxide value was measured; `ageing` the part of its
    life against ageing alone that it has spent since it was received.
    """

    months_old: float = 0.0
    peroxide_value: float | None = None
    steps: tuple[HeatStep, ...] = ()
    fresh_plant: bool = False
    aged: tuple[HeatStep, ...] = ()
    ageing: float = 0.0

    def after(self, earlier: LotPast | None) -> LotPast:
        """The same, said of something of which this was known before: fresh plant stays, whatever else is said."""
        if earlier is None or not earlier.fresh_plant or self.fresh_plant:
            return self
        return replace(self, fresh_plant=True)


@dataclass(frozen=True, slots=True, eq=False)
class Ingredient:
    """Anything that can stand in a row; one and the same thing only if it is the same object.

    `density` is in g/mL at 20 °C, of a powder that of its grains, as they lie in oil; `lipid` is None where the
    composition is not known or the thing is no fat.
    A lot on somebody's shelf is an ingredient of its own: `lot` is its code, `base` the key of what it is a lot of.
    A mixture is made of `parts`, (ingredient, g/g) that sum to 1, and is unfolded into them before all computation.
    """

    key: str
    name: str
    kind: str
    inci: str
    density: float
    density_basis: Measured
    state: str = "liquid"
    botanical_name: str = ""
    allergen_family: str = ""
    allergen_note: str = ""
    allergen_relatives: frozenset[str] = frozenset()  # families whose allergies may answer to it as well
    colour: str = "#f3efd6"
    lipid: Lipid | None = None
    confidence: str = "medium"
    source: str = "person"
    properties: Mapping[str, tuple[Measured, ...]] = field(default_factory=dict)
    oxidation: OilOxidation | None = None
    melting: MeltingCurve | None = None
    cloud_shift: float = 0.0  # K: how much warmer than the melting model says its crystals melt, by its cloud point
    appearance: Appearance | None = None
    use: UsualShare | None = None
    tradition: Tradition | None = None
    protects: tuple[str, float] | None = None  # an antioxidant's substance, and how much of the product it is [g/g]
    grade: str = ""  # how it was made, where somebody said: refined, unrefined, by CO2
    lot: str = ""
    base: str = ""
    past: LotPast | None = None
    parts: tuple[tuple[Ingredient, float], ...] = ()
    constituents: Mapping[str, float] = field(default_factory=dict)  # % of a scent, as certified of this lot
    opened_months: float | None = None  # since this lot was opened
    infused_with: str = ""  # the plant, in a person's words
    scented_by: tuple[tuple[str, float], ...] = ()  # (scent, the most of it that passed over from a plant [%])
    said: str = ""  # what was written of a lot of a blend: read for cautions as a row is
    held: str = ""  # why a lot is poured into nothing

    @property
    def phase(self) -> Phase:
        """The part it plays."""
        return PHASE_OF_KIND[self.kind]

    @property
    def base_key(self) -> str:
        """The key under which rules and tables know it: a lot is what it is a lot of."""
        return self.base or self.key

    @property
    def spoon_density(self) -> float:
        """Grams in a millilitre of a spoon [g/mL]: of a powder with the air between its grains."""
        loose = self.properties.get("bulk_density", ())
        return loose[0].typical if loose and loose[0].typical else self.density

    @property
    def is_infused(self) -> bool:
        """Whether a plant was steeped in it, or in something that it was made of."""
        return bool(self.infused_with) or any(part.is_infused for part, _ in self.parts)

    @property
    def stock_key(self) -> str:
        """What another lot must be of to be poured in its place: an infused oil or a dilution is only itself.

        What is said to be of a grade is poured from no other; what is not, from any.
        """
        if self.parts or self.is_infused:
            return self.key
        return f"{self.base_key}~{self.grade}" if self.grade and not self.lot else self.base_key

    @property
    def stands_for(self) -> tuple[str, ...]:
        """The stock keys that a lot of it can be poured for; without a grade it may be of any."""
        if self.parts or self.is_infused:
            return (self.key,)
        grades = (self.grade,) if self.grade else ("refined", "unrefined", "co2")
        return (self.base_key, *(f"{self.base_key}~{grade}" for grade in grades))

    @property
    def is_fatty(self) -> bool:
        """Whether it belongs to the oil phase, whose iodine value and acids are asked for."""
        return self.kind in FATTY_KINDS or any(part.is_fatty for part, _ in self.parts)

    @property
    def is_solid(self) -> bool:
        """Whether it is solid at 20 °C, so that an ounce of it is an ounce on the scale."""
        return self.state == "solid"


@dataclass(frozen=True, slots=True)
class Price:
    """What a gram costs, and where that is known from."""

    per_gram: float
    currency: str
    origin: str
