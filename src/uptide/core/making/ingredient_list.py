"""The ingredients of a label: by INCI in descending order of mass, in the names and by the one percent of a region."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from math import fsum

from uptide.core.assessment.assessment import Assessment
from uptide.core.infusion.plants import PlantFacts
from uptide.core.ingredients.infusion import each_plant
from uptide.core.ingredients.ingredient import Ingredient

US = "US"
LITTLE = 1.0  # %: below this (EU and UK), or at it and below (US), the order is free (eu-1223-2009; 21 CFR 701.3)
LITTLE_WITHIN = 5e-4  # %: nearer to one percent than this is one percent
# What a list calls by a trivial name in the EU and in English in the US (INCI practice, from memory).
IN_ENGLISH = {
    "Acetum": "Vinegar",
    "Aqua": "Water",
    "Cera Alba": "Beeswax",
    "Lac": "Milk",
    "Maris Sal": "Sea Salt",
    "Mel": "Honey",
    "Paraffinum Liquidum": "Mineral Oil",
    "Parfum": "Fragrance",
}
# Extracts that colour what they are in, and what each is as a colourant: these stand last (from memory).
COLOURANTS = {"Bixa Orellana Seed Extract": ("CI 75120", "Annatto")}
# The words of a botanical INCI name that are no part of the plant's own name.
PARTS = re.compile(
    r" (?=(?:Seed|Kernel|Fruit|Leaf|Flower|Peel|Root|Bark|Herb|Bud|Bran|Germ|Bean|Wood|Resin|Gum|Branch|Rhizome|Needle"
    r"|Oil|Butter|Wax|Extract|Water|Juice|Starch|Flour|Powder)\b)"
)
# What a name in plain words has beside the plant: kind, part and what stands in brackets.
BESIDE = re.compile(
    r"\([^)]*\)|\b(?:essential|absolute|resinoid|hydrosol|antioxidant|CO2|FCF|oil|butter|wax|balsam|gel|water|powder"
    r"|seed|kernel|nut|bran|germ|bean|berry|leaf|needle|bark|bud|fruit|root|flower|starch)\b|/.*|(?<=[a-z])seed\b",
    re.IGNORECASE,
)

PlantOf = Callable[[str], PlantFacts | None]


@dataclass(frozen=True, slots=True)
class Listed:
    """One ingredient as it is printed; `percent` of the whole, None where nobody measured it."""

    name: str
    percent: float | None
    is_colourant: bool = False


def of_no_plant(_: str) -> None:
    """What a plant is where no table is at hand."""


def listed_ingredients(assessment: Assessment, plant_of: PlantOf = of_no_plant) -> tuple[Listed, ...]:
    """What it is made of, each once, the most on top; what nobody measured after it, and colourants last."""
    region = assessment.recipe.use.region
    grams: dict[str, float] = {}
    english: dict[str, str] = {}
    for row, item in assessment.resolution.parts:
        for printed in _printed(item, row.plant, plant_of):
            grams[printed.inci] = grams.get(printed.inci, 0.0) + printed.share * (row.grams or 0.0)
            english.setdefault(printed.inci, printed.plain)
    for row, item in assessment.resolution.unmeasured:
        for printed in _printed(item, row.plant, plant_of):
            english.setdefault(printed.inci, printed.plain)
    whole = fsum(grams.values())
    in_order = sorted(grams, key=lambda inci: (-grams[inci], inci))
    found = [_listed(inci, english[inci], region, 100 * grams[inci] / whole if whole else None) for inci in in_order]
    found += [_listed(inci, english[inci], region, None) for inci in english if not grams.get(inci)]
    return tuple(sorted(found, key=lambda each: each.is_colourant))


def _listed(inci: str, plain: str, region: str, percent: float | None) -> Listed:
    if inci in COLOURANTS:
        number, name = COLOURANTS[inci]
        return Listed(name if region == US else number, percent, is_colourant=True)
    return Listed(name_in(inci, plain, region), percent)


def name_in(inci: str, plain: str, region: str) -> str:
    """What a region calls an ingredient; in the US a plant's English name stands in the botanical one.

    >>> name_in("Helianthus Annuus Seed Oil", "Sunflower oil (high oleic)", "US"), name_in("Aqua", "", "US")
    ('Helianthus Annuus (Sunflower) Seed Oil', 'Water')
    >>> name_in("Helianthus Annuus Seed Oil", "Sunflower oil (high oleic)", "EU")
    'Helianthus Annuus Seed Oil'
    """
    if region != US:
        return inci
    common = " ".join(BESIDE.sub(" ", plain).split()).title()
    botanical, *rest = PARTS.split(inci, maxsplit=1)
    if not common or not rest or set(common.split()) <= set(inci.split()):
        return IN_ENGLISH.get(inci, inci)
    return f"{botanical} ({common}) {rest[0]}"


def in_any_order(listed: Sequence[Listed], region: str) -> tuple[str, ...]:
    """What is so little that a region lets it stand in any order after the rest."""
    most = LITTLE + LITTLE_WITHIN if region == US else LITTLE - LITTLE_WITHIN
    return tuple(
        each.name for each in listed if each.percent is not None and each.percent < most and not each.is_colourant
    )


@dataclass(frozen=True, slots=True)
class _Printed:
    """What a list calls a thing, its plain English where that is a plant's, and the share of it that this name has."""

    inci: str
    plain: str
    share: float


def _printed(item: Ingredient, plant: str, plant_of: PlantOf) -> Iterator[_Printed]:
    """The names of an ingredient: an infused oil is oil and extract; a plant of no table stands in plain words."""
    strange: list[str] = []
    extracts: list[_Printed] = []
    for words in each_plant(plant):
        known = plant_of(words)
        if known is None:
            strange.append(words)
        else:
            extracts.append(_Printed(known.inci, known.name, known.extract_in_oil / 100))
    name = item.inci or item.name
    if strange:
        name = f"{name} (infused with {' and '.join(strange)})"
    plain = item.name.removesuffix(f", lot {item.lot}") if item.botanical_name else ""
    yield _Printed(name, plain, 1 - fsum(each.share for each in extracts))
    yield from extracts
