"""The case that the rules look at: what is in the bottle, what it is for, who wears it, and what was said about it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from functools import cached_property

from uptide.core.figures.fat import share_of_acids
from uptide.core.figures.oil_profile import allergens_of
from uptide.core.figures.whole import ScentMass
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.recipe.recipe import Row
from uptide.core.safety.allergies import NamedAllergy, read_allergies
from uptide.core.safety.tables import EMPTY, Constituent, SafetyTables, ScentFacts
from uptide.core.skin.wearer import ANYONE, Ticks, Wearer

REGIONS = ("EU", "UK", "US", "other")
TIMES = ("day or night", "night only")
# g of retinol in a gram, by molar masses 286.45 of retinol, 328.49 of the acetate and 524.86 of the palmitate.
RETINOL_MOST_ON_BODY, RETINOL_MOST = 0.05, 0.3  # % as retinol: meant for the body, and all else; eu-1223-2009
RETINOL_EQUIVALENT = {"retinol": 1.0, "retinyl-acetate": 286.45 / 328.49, "retinyl-palmitate": 286.45 / 524.86}


@dataclass(frozen=True, slots=True)
class Purpose:
    """What a product is for: where on the body, rinsed or left on, which law, sold or not, first sold when.

    `usual_ml` is the size of container it usually comes in, where that is known, and `usual_container` its kind.
    """

    product: str = "body-oil"
    area: str = "body"
    rinsed: bool = False
    region: str = "EU"
    for_sale: bool = False
    placed_on: date | None = None
    night_only: bool = False
    usual_ml: float | None = None
    usual_container: str = "bottle"


@dataclass(frozen=True, slots=True)
class UsageContext:
    """What is around a recipe: the tables of safety, what it is for, who wears it, the day, and what is said of it."""

    tables: SafetyTables
    purpose: Purpose = field(default_factory=Purpose)
    wearer: Wearer = ANYONE
    today: date = date(2026, 1, 1)
    texts: Mapping[str, str] = field(default_factory=dict)  # name, note and the like, by what they are


@dataclass(frozen=True, slots=True, eq=False)
class Part:
    """One thing in it: its row, its share [% by mass], typical and at most; both 0 where nobody measured it."""

    row: Row
    item: Ingredient
    typical: float
    high: float
    measured: bool = True

    @property
    def key(self) -> str:
        """The key under which tables know it."""
        return self.item.base_key


@dataclass(frozen=True, eq=False)
class Case:
    """Everything that a rule may ask about. Shares count the upper end of every range, because they are for safety."""

    parts: tuple[Part, ...]
    purpose: Purpose = field(default_factory=Purpose)
    wearer: Wearer = ANYONE
    tables: SafetyTables = EMPTY
    today: date = date(2026, 1, 1)
    words: str = ""  # name, note and rows as typed, in small letters
    material: str = "glass"
    turned: tuple[str, ...] = ()  # names of oils that are past their peroxide limit
    old_scents: tuple[str, ...] = ()  # names of scents that were opened too long ago
    total_grams: float = 0.0
    unsettled: tuple[str, ...] = ()  # rows as typed of which nobody knows yet what they name
    may_be_scent: tuple[str, ...] = ()  # those among them that may name a scent
    waiting: tuple[str, ...] = ()  # rows as typed that may weigh and are open: until then no share is known
    held: tuple[tuple[str, str], ...] = ()  # lots that are poured into nothing, and why
    settles: bool = False  # it holds solids that nothing keeps up

    @cached_property
    def is_weighed(self) -> bool:
        """Whether anything in it has an amount."""
        return any(part.measured for part in self.parts)

    @cached_property
    def allergies(self) -> Ticks:
        """What the wearer is allergic to of the known families, ticked or in their own words."""
        meant = [key for named in self.named_allergies for key in named.meaning.allergies]
        return self.wearer.allergies.also(*meant)

    @cached_property
    def named_allergies(self) -> tuple[NamedAllergy, ...]:
        """What the wearer named as an allergy in their own words."""
        return read_allergies(self.wearer.other_allergies, self.tables)

    @cached_property
    def dislikes(self) -> tuple[NamedAllergy, ...]:
        """What the wearer does not like, in their own words; read like an allergy."""
        return read_allergies(self.wearer.dislikes, self.tables)

    @cached_property
    def scent_left_open(self) -> str:
        """What the figures of scent leave out, in words: scents without an amount, and rows that may be one."""
        unmeasured = [part.item.name for part in self.scents if not part.measured]
        said = [("Not measured", unmeasured), ("Not counted", [f"“{typed}”" for typed in self.may_be_scent])]
        return " ".join(f"{words}: {', '.join(dict.fromkeys(names))}." for words, names in said if names)

    @cached_property
    def scents(self) -> tuple[Part, ...]:
        """The scented parts."""
        return tuple(part for part in self.parts if part.item.phase is Phase.SCENT)

    @cached_property
    def oils(self) -> tuple[Part, ...]:
        """The fatty parts."""
        return tuple(part for part in self.parts if part.item.is_fatty)

    def facts(self, part: Part) -> ScentFacts | None:
        """What is known of a scented part, with what its certificate says put in its place; None if nothing is."""
        known = self.tables.scents.get(part.key)
        if known is None or not part.item.constituents:
            return known
        return certified(known, part.item.constituents)

    @cached_property
    def scent_by_mass(self) -> float:
        """Scent of the whole, at most [% by mass]."""
        return sum(part.high for part in self.scents)

    @cached_property
    def scent_total(self) -> float:
        """Scent of the whole, at most [%], by mass or by volume, whichever is less.

        What a product or a wearer bears comes from counting drops (common practice): ten drops in 10 mL are 5 %, and
        a recipe that keeps to that is not over it because its carrier is light. An oil’s own limit goes by mass alone.
        """
        scents = sum(part.high / part.item.density for part in self.scents)
        rest = [part for part in self.parts if part.item.phase is not Phase.SCENT]
        held = sum(part.typical for part in rest)
        if not held or not scents:
            return self.scent_by_mass
        density = held / sum(part.typical / part.item.density for part in rest)
        return min(self.scent_by_mass, 100 * scents / (scents + (100 - self.scent_by_mass) / density))

    @cached_property
    def water(self) -> float:
        """What mixes with water [% by mass]: the water phase, and half of what emulsifiers bring dissolved."""
        wet = sum(part.typical for part in self.parts if part.item.phase is Phase.WATER)
        return wet + sum(
            AQUEOUS * part.typical
            for part in self.parts
            if part.key in self.tables.emulsifiers and self.tables.emulsifiers[part.key].brings_water
        )

    @cached_property
    def is_emulsified(self) -> bool:
        """Whether something in it makes oil part in water."""
        return any(part.key in self.tables.emulsifiers for part in self.parts)

    @cached_property
    def retinol(self) -> float:
        """Vitamin A as retinol equivalents [% by mass]."""
        return sum(RETINOL_EQUIVALENT.get(part.key, 0.0) * part.high for part in self.parts)

    def share_of_acids(self, *codes: str) -> float | None:
        """Mean share of acids in the carriers [%], weighed by mass; None when too much of them is unknown.

        Of a part without fatty acids it is 0; the acids of an oil are taken as they are known typically.
        """
        if not any(part.typical for part in self.oils):
            return 0.0 if self.parts and not self.oils else None
        return share_of_acids([(part.typical, part.item) for part in self.oils], *codes)

    def polyunsaturated(self) -> float | None:
        """Share of acids with two double bonds and more in the carriers [%]; None when too much is unknown."""
        codes = {
            acid.code
            for part in self.oils
            if part.item.lipid and part.item.lipid.acids
            for acid in part.item.lipid.acids.fractions
            if acid.double_bonds >= 2
        }
        return self.share_of_acids(*codes) if self.parts else None

    def of_family(self, family: str) -> tuple[Part, ...]:
        """The parts that are known to be of an allergen family."""
        return tuple(part for part, families in self._families if families is not None and family in families)

    def of_unknown_family(self) -> tuple[Part, ...]:
        """The parts of which nobody said whether they hold an allergen."""
        return tuple(part for part, families in self._families if families is None)

    @cached_property
    def _families(self) -> tuple[tuple[Part, frozenset[str] | None], ...]:
        """The allergen families of every part; None where nobody said."""
        return tuple((part, allergens_of(part.item)) for part in self.parts)


def certified(scent: ScentFacts, constituents: Mapping[str, float]) -> ScentFacts:
    """A scent with what a certificate says of its lot [%] in the place of what is usual."""
    measured = {name: Constituent(value, value, value, "high", certified=True) for name, value in constituents.items()}
    return replace(scent, constituents={**scent.constituents, **measured})


AQUEOUS = 0.5  # g/g of water in glucosides and liquid soaps; common practice


def parts_of(
    read: Sequence[tuple[Row, Ingredient]], unmeasured: Sequence[tuple[Row, Ingredient]] = ()
) -> tuple[Part, ...]:
    """The parts of a recipe with their shares; at most counts all scents at their upper end together.

    What is in it unmeasured is a part with no share: who must not have it is stopped, however little it is.
    """
    total = sum(row.grams or 0.0 for row, _ in read)
    if total <= 0:
        return ()
    scent = ScentMass.of(read)
    most = scent.rest + scent.high
    found = []
    for row, item in read:
        grams = row.grams or 0.0
        high = (
            100 * (row.grams_high or grams) / most
            if item.phase is Phase.SCENT
            else 100 * (row.grams_high or grams) / total
        )
        # A part without an amount is one of a lot that was put on the shelf with it unmeasured.
        found.append(Part(row, item, 100 * grams / total, min(100.0, high), measured=grams > 0))
    found += [Part(row, item, 0.0, 0.0, measured=False) for row, item in unmeasured]
    return tuple(found)
