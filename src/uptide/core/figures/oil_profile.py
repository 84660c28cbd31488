"""One oil in the figures by which oils are chosen, worked out once; a figure is None when it is unknown."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from math import fsum

from uptide.core.figures.fat import acids_of
from uptide.core.figures.finding import AcidPart
from uptide.core.figures.physical import ROOM_CELSIUS, viscosity_of
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.lipids.lipid import iodine_value
from uptide.core.oxidation import rate
from uptide.core.oxidation.mixture import MixturePart, mix_oils
from uptide.core.physics.solid import SKIN_CELSIUS
from uptide.core.physics.viscosity import blend_viscosity
from uptide.core.tolerance import exceeds, reaches

FEELS = {1: "dry", 2: "fast", 3: "medium", 4: "rich"}
LINOLEIC_RICH, FEW_SATURATED = 50.0, 18.0  # % of its acids; common practice
OMEGA_3 = ("18:3n3", "18:4n3")


@dataclass(frozen=True, slots=True, eq=False)
class OilProfile:
    """What an oil is chosen by.

    Acids in percent of fatty acids; `keeps` is the median life [months] of a fresh lot, closed, dark, at 20 °C;
    `thickness` the viscosity [mPa s] on skin, `viscosity` that at 25 °C; `feel` 1 (dry) to 4 (rich) as listed;
    `comedogenicity` the highest rating that any source lists, 0 to 5; `tint` 1 to 10, `odour` 0 to 3. `allergens` is
    None where nobody has said.
    """

    item: Ingredient
    acids: tuple[AcidPart, ...]
    linoleic: float | None
    oleic: float | None
    saturated: float | None
    omega_3: float | None
    iodine: float | None
    keeps: float | None
    thickness: float | None
    viscosity: float | None
    feel: int | None
    comedogenicity: float | None
    tint: int | None
    odour: int | None
    allergens: frozenset[str] | None

    @property
    def key(self) -> str:
        """Key of the oil."""
        return self.item.key

    @property
    def shares(self) -> Mapping[str, float]:
        """Mass fractions [g/g] of the fatty acids by code; empty when there are none or they are unknown."""
        return {part.acid.code: part.percent / 100 for part in self.acids}

    @property
    def is_charted(self) -> bool:
        """Whether it has a place among the oils: it has fatty acids, and they are no ester's of one acid or two."""
        return bool(self.acids) and self.item.kind != "ester"

    @property
    def feel_word(self) -> str:
        """How it feels on dry skin, in a word."""
        return FEELS.get(self.feel or 0, "unknown")


def is_linoleic(item: Ingredient) -> bool:
    """Rich in linoleic acid and poor in saturated ones: what lean skin care wants; common practice."""
    known = oil_profile(item)
    return reaches(known.linoleic or 0.0, LINOLEIC_RICH) and not exceeds(known.saturated or 0.0, FEW_SATURATED)


def parts_of(item: Ingredient) -> list[tuple[float, Ingredient]]:
    """A hundred grams of it as (g, ingredient) pairs: itself, or what a mixture is made of."""
    return [(100 * share, part) for part, share in item.parts] or [(100.0, item)]


@lru_cache(maxsize=4096)
def oil_profile(item: Ingredient) -> OilProfile:
    """Work out what an oil is chosen by."""
    fatty = [(grams, part) for grams, part in parts_of(item) if part.is_fatty]
    acids = acids_of(fatty, 100.0)
    known = bool(acids) and all(part.lipid is not None for _, part in fatty)
    shares = {part.acid.code: part.percent for part in acids}

    def total(*codes: str) -> float | None:
        return fsum(shares.get(code, 0.0) for code in codes) if known else None

    saturated = fsum(part.percent for part in acids if part.acid.double_bonds == 0) if known else None
    return OilProfile(
        item,
        acids,
        linoleic=total("18:2n6"),
        oleic=total("18:1n9"),
        saturated=saturated,
        omega_3=total(*OMEGA_3),
        iodine=_iodine(fatty),
        keeps=_keeps(fatty),
        thickness=_viscosity(fatty, SKIN_CELSIUS),
        viscosity=_viscosity(fatty, ROOM_CELSIUS),
        feel=listed_feel(item),
        comedogenicity=listed_comedogenicity(item),
        tint=item.appearance.tint if item.appearance else None,
        odour=item.appearance.odour if item.appearance else None,
        allergens=allergens_of(item),
    )


def _iodine(fatty: list[tuple[float, Ingredient]]) -> float | None:
    grams = fsum(mass for mass, _ in fatty)
    values = [(mass, iodine_value(part.lipid)) for mass, part in fatty if part.lipid is not None]
    return fsum(mass * value for mass, value in values) / grams if grams and len(values) == len(fatty) else None


def _keeps(fatty: list[tuple[float, Ingredient]]) -> float | None:
    oils = [MixturePart(part.oxidation, mass) for mass, part in fatty if part.oxidation is not None]
    if not oils or len(oils) < len(fatty):
        return None
    mixed = mix_oils(oils)
    if mixed.induction_hours is None:
        return rate.AGEING_MONTHS
    return rate.months_to_limit(mixed.induction_hours, mixed.fresh_pv, mixed.limit_pv, rate.CALIBRATED_KELVIN)


def _viscosity(fatty: list[tuple[float, Ingredient]], celsius: float) -> float | None:
    found = [(mass, viscosity_of(part, celsius)) for mass, part in fatty]
    known = [(mass, value) for mass, value in found if value is not None]
    return blend_viscosity(known) if known and len(known) == len(found) else None


def listed_feel(item: Ingredient) -> int | None:
    """The class of feel that the trade lists for an oil: 1 dry to 4 rich; None where no list has it."""
    listed = item.properties.get("absorption", ())
    return int(listed[0].typical) if listed and listed[0].typical else None


def listed_comedogenicity(item: Ingredient) -> float | None:
    """The highest clog rating, 0 to 5, that any list gives it; None where none does."""
    names = ("comedogenicity", "comedogenicity_fulton")
    found = [m.typical for name in names for m in item.properties.get(name, ()) if m.typical is not None]
    return max(found, default=None)


def allergens_of(item: Ingredient) -> frozenset[str] | None:
    """Its allergen families, nut relatives among them; None for an oil of one's own of which nothing was said."""
    if item.parts:
        found = [allergens_of(part) for part, _ in item.parts]
        return None if None in found else frozenset().union(*(known for known in found if known))
    families = (item.allergen_relatives | {item.allergen_family}) - {""}
    return None if not families and item.base_key.startswith("own:") else families
