"""A simple label: what stands on a bottle made at home or given away."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from math import floor

from uptide.core.assessment.assessment import Assessment
from uptide.core.ingredients.infusion import each_plant
from uptide.core.ingredients.ingredient import Phase
from uptide.core.making.ingredient_list import US, Listed, PlantOf, in_any_order, listed_ingredients, of_no_plant
from uptide.core.making.sheets import in_fluid_ounces
from uptide.core.months import months_later
from uptide.core.safety.case import RETINOL_EQUIVALENT
from uptide.core.safety.caution import Grade
from uptide.core.safety.check import Safety
from uptide.core.safety.firing import whom
from uptide.core.tolerance import exceeds, reaches

FITS = 0.02  # of the bottles: less than this too much or too little is rounding
WITH_SYMBOLS = ("EU", "UK")
NEEDS_NO_END = 30  # months: what keeps longer bears no end (eu-1223-2009, Article 19)
LARGE_ML = 100  # from here contents are stated in steps of 5 mL; common practice


class Symbol(StrEnum):
    """What stands beside the date in the EU and the UK (eu-1223-2009, Annex VII)."""

    HOURGLASS = "hourglass"
    OPEN_JAR = "open jar"


@dataclass(frozen=True, slots=True)
class Label:
    """The words of a label; `open_points` must be settled before it is stuck on anything.

    `open_months` is how long it keeps once it is opened, where that is said instead of an end.
    """

    name: str
    product: str
    contents: str
    ingredients: tuple[str, ...]
    allergens: tuple[str, ...]
    cautions: tuple[str, ...]
    batch_code: str
    made_on: date
    best_before: date | None
    open_points: tuple[str, ...]
    bottles: int = 1
    size_ml: float = 0.0
    directions: str = ""
    maker: str = ""
    symbol: Symbol | None = None
    open_months: int | None = None
    numbered: bool = False  # whether each of its bottles has a number of its own

    @property
    def dated(self) -> str:
        """Batch, day of making, and the month of its best before, or a line to write that on."""
        made = f"{self.made_on.day} {self.made_on:%b %Y}"
        if self.symbol is Symbol.OPEN_JAR:
            return f"Batch {self.batch_code}. Made {made}. Once opened, use within {self.open_months} months"
        until = f"{self.best_before:%b %Y}" if self.best_before else "______________"
        return f"Batch {self.batch_code}. Made {made}. Best before {until}"

    def code_of(self, place: int) -> str:
        """What the code on the label of one bottle says: its number, by which its page is found."""
        return f"{self.batch_code}-{place}" if self.numbered else self.batch_code

    @property
    def missing(self) -> tuple[str, ...]:
        """What the usual rules want on a bottle that is given to others, and is not said; law decides."""
        said = []
        if not self.maker:
            said.append("Who answers for it: name and address of the maker, also on what is given away in trade.")
        if not self.directions:
            said.append("How it is used.")
        if self.best_before is None and self.symbol is None:
            said.append("Until when it keeps.")
        return tuple(said)


def symbol_of(months: int | None, region: str) -> Symbol | None:
    """Which symbol a product of so many months bears: up to 30 its end, beyond that how long it keeps once opened."""
    if region not in WITH_SYMBOLS or not months:
        return None
    return Symbol.OPEN_JAR if months > NEEDS_NO_END else Symbol.HOURGLASS


def stated_contents(millilitres: float, region: str = "EU") -> str:
    """Contents as stated: rounded down to whole mL, above 100 mL to steps of 5; 21.74 mL is stated as 21 mL.

    In the US both units stand there.

    >>> stated_contents(21.7391), stated_contents(153)
    ('21 mL', '150 mL')
    >>> stated_contents(100, "US")
    '100 mL (3.38 fl oz)'
    """
    step = 5 if reaches(millilitres, LARGE_ML) else 1
    stated = floor(millilitres / step + 1e-9) * step
    return f"{stated} mL ({in_fluid_ounces(stated)})" if region == "US" else f"{stated} mL"


def make_label(
    name: str,
    product: str,
    *,
    left_on: bool,
    assessment: Assessment,
    size_ml: float,
    batch_code: str,
    made_on: date,
    bottles: int = 1,
    is_made: bool = False,
    plant_of: PlantOf = of_no_plant,
) -> Label:
    """Write the label of a blend: ingredients by INCI in descending order of mass, each once.

    Args:
        name: of the blend.
        product: its kind, in words.
        left_on: whether it stays on the skin.
        assessment: what is in it and what follows.
        size_ml: what a bottle holds [mL].
        batch_code: of this making.
        made_on: the day of making; the best before counts from it.
        bottles: how many are made.
        is_made: whether this is what was really poured for these bottles, and no recipe that may be of another size.
        plant_of: the plant that words name, None where no table has it; its extract is an ingredient of its own.
    """
    listed = listed_ingredients(assessment, plant_of)
    ingredients = tuple(each.name for each in listed if not each.is_colourant)
    unmeasured = [item for _, item in assessment.resolution.unmeasured]
    safety = assessment.safety or Safety()
    printed = {words.casefold() for words in ingredients}
    declared = safety.allergens.declared if safety.allergens is not None else ()
    # Allergens follow the ingredients, each unless it is printed already.
    ingredients += tuple(each.name.capitalize() for each in declared if each.name.casefold() not in printed)
    ingredients += tuple(each.name for each in listed if each.is_colourant)
    held = [*(item for _, item in assessment.resolution.parts), *unmeasured]
    families = {item.allergen_family.replace("_", " ") for item in held if item.allergen_family}
    cautions = ["For external use only.", "Patch test before use.", "Keep from eyes and children."]
    if not left_on:
        cautions.append("Slippery in bath and shower.")
    cautions += _warnings(assessment, safety, left_on=left_on)
    cautions.append("Store cool and dark.")
    sized = () if is_made else _of_the_bottle(assessment, size_ml, bottles)
    open_points = [*sized, *_of_the_plants(assessment, plant_of), *_of_the_names(listed, assessment.recipe.use.region)]
    shelf_life = assessment.shelf_life
    best_before = None
    if shelf_life is not None and shelf_life.months:
        best_before = months_later(made_on, shelf_life.months)
        since = "the day of making" if is_made else "this printing"
        open_points.append(
            f"The best before is worked out for where the blend is said to live, from {since} on; see its working."
        )
    elif shelf_life is not None and shelf_life.months == 0:
        open_points.append("Best before: it keeps less than a month from now, as the working says. Do not bottle it.")
    else:
        why = shelf_life.reason if shelf_life is not None else ""
        open_points.append(f"Best before: not worked out; write it by hand. {why}".strip())
    if unmeasured:
        names = ", ".join(dict.fromkeys(item.name for item in unmeasured))
        open_points.append(
            f"Not measured: {names}. It stands last among the ingredients, and what it may hold of allergens is not "
            "counted: weigh it."
        )
    if safety.allergens is not None and any(
        item.phase is Phase.SCENT or item.scented_by for _, item in assessment.resolution.parts
    ):
        open_points.append(
            f"Fragrance allergens are named above {safety.allergens.threshold:g} %, by {safety.allergens.list_name}, "
            "at the most that their scents may hold; a certificate of the lot can take names off."
        )
    return Label(
        name,
        product,
        contents=stated_contents(size_ml, assessment.recipe.use.region),
        ingredients=ingredients,
        allergens=tuple(sorted(families)),
        cautions=tuple(cautions),
        batch_code=batch_code,
        made_on=made_on,
        best_before=best_before,
        open_points=tuple(open_points),
        bottles=bottles,
        size_ml=size_ml,
        numbered=is_made,
    )


def _of_the_plants(assessment: Assessment, plant_of: PlantOf) -> Iterator[str]:
    """What has to be said of the plants that its oils were infused with."""
    resolution = assessment.resolution
    rows = [row for row, _ in (*resolution.parts, *resolution.unmeasured)]
    for plant in dict.fromkeys(words for row in rows for words in each_plant(row.plant)):
        known = plant_of(plant)
        if known is None:
            yield f"“{plant}” is named in plain words: add the INCI name of its extract."
        else:
            yield (
                f"“{plant}” is printed as {known.inci}, as about {known.extract_in_oil:g} % of its oil, from memory: "
                f"put it right if it was another plant than {known.botanical_name}, or another part of it."
            )


def _of_the_names(listed: Sequence[Listed], region: str) -> Iterator[str]:
    """By whose rules the list is written, and what of it may stand in another order."""
    free = in_any_order(listed, region)
    if free:
        little = "1 % or less" if region == US else "less than 1 %"
        yield (
            f"What is {little} may stand in any order after the others: {', '.join(free)}. Here all stand by weight, "
            "and what is there for its colour stands last."
        )
    if region == US:
        yield (
            "English names stand in the botanical ones, put together from the names of the catalogue: check them "
            "against the INCI dictionary. Essential oils may be named as Fragrance instead."
        )


def _of_the_bottle(assessment: Assessment, size_ml: float, bottles: int) -> Iterator[str]:
    """What has to be said of the size: a recipe that fills its bottle twice, or not at all, is scaled by hand."""
    made = assessment.resolution.total_millilitres
    wanted = size_ml * bottles
    if made and exceeds(abs(made - wanted), FITS * wanted):
        bottle = f"{bottles} bottles of {size_ml:g} mL" if bottles > 1 else f"a bottle of {size_ml:g} mL"
        yield (
            f"The recipe as it stands makes {made:.0f} mL, and {bottle} {'hold' if bottles > 1 else 'holds'} "
            f"{wanted:g} mL: make it by a batch sheet of that size."
        )


def _warnings(assessment: Assessment, safety: Safety, *, left_on: bool) -> list[str]:
    """What its contents ask the label to say: whom it is not for, the sun, vitamin A (eu-1223-2009, Annex III)."""
    said = []
    stopped = whom([each for each in safety.not_for if each.grade is Grade.STOP])
    if stopped:
        said.append(f"Not {'; not '.join(stopped)}.")
    if left_on and safety.phototoxicity is not None and safety.phototoxicity.total > 0:
        said.append("Keep this skin out of the sun for 12 hours.")
    said += [caution.label for caution in assessment.cautions if caution.label and not caution.is_unknown]
    said += [each.label for each in safety.not_for if each.label]
    vitamin_a = any(item.base_key in RETINOL_EQUIVALENT for _, item in assessment.resolution.parts)
    if vitamin_a and assessment.recipe.use.region in ("EU", "UK"):
        said.append("Contains Vitamin A. Consider your daily intake before use.")
    return list(dict.fromkeys(said))
