"""Assess a recipe: the one road from what was typed to every figure that is shown."""

from __future__ import annotations

from collections.abc import Mapping

from uptide.core.blend.assessment import Assessment, Bottle, Looks, Pour
from uptide.core.blend.fat import acid_findings, acids_of, fatty_mean
from uptide.core.blend.figures import cost, scent, totals
from uptide.core.blend.ingredient import Ingredient, Price
from uptide.core.blend.keeping import BottleLife, School, keep
from uptide.core.blend.keeping_figures import keeping_findings
from uptide.core.blend.order import PourOrder, in_order
from uptide.core.blend.physical import (
    colour_in_glass,
    refractive_index,
    setting,
    setting_finding,
    tint,
    tints,
    viscosity,
)
from uptide.core.blend.recipe import Recipe, Resolution, RowStatus
from uptide.core.blend.resolve import resolve
from uptide.core.measures.names import NameIndex
from uptide.core.measures.say import say_number
from uptide.core.oxidation.simulate import Draws
from uptide.core.safety.usual import usual_cautions

FULL = 0.005  # of the container: less than this past the shoulder is rounding, not overfilling
PERCENT_TOLERANCE = 0.05  # percentage points: three thirds of 33.3 make a hundred


def assess(
    recipe: Recipe,
    ingredients: Mapping[str, Ingredient],
    names: NameIndex,
    prices: Mapping[str, Price] | None = None,
    *,
    draws: Draws | None = None,
    life: BottleLife | None = None,
) -> Assessment:
    """Weigh a recipe and work out everything that follows from it.

    Args:
        recipe: what was typed, with its answers, container and measures.
        ingredients: what may stand in a row, by key.
        names: how those are called.
        prices: what a gram costs, by ingredient key, where that is known.
        draws: what is uncertain about how long it keeps; without them that is not worked out.
        life: what befell this bottle since it was made.
    """
    resolution = resolve(recipe, ingredients, names)
    read = list(resolution.parts)
    fatty = [(row.grams or 0.0, item) for row, item in read if item.is_fatty]
    acids = acids_of(fatty, resolution.total_grams)
    keeping = None
    if draws is not None:
        keeping = keep(read, recipe.storage, School(recipe.habits.keeps_by), draws, life or BottleLife())
    everything = [(row.grams or 0.0, item) for row, item in read]
    sets = setting(fatty)
    findings = (
        *totals(resolution, read),
        *acid_findings(acids, fatty),
        fatty_mean("iodine_value", "Iodine value", "g I₂/100 g", "aocs_cd_1c_85", fatty),
        fatty_mean("saponification_value", "Saponification value", "mg KOH/g", "aocs_cd_3a_94", fatty),
        viscosity(fatty),
        setting_finding(fatty, sets),
        refractive_index(fatty),
        tint(everything),
        scent(read, resolution.total_grams),
        cost(read, prices or {}),
        *(keeping_findings(keeping, {item.key: item.name for _, item in read}) if keeping else ()),
    )
    return Assessment(
        recipe,
        resolution,
        findings,
        usual_cautions(read),
        _remarks(recipe, resolution),
        acids,
        _bottle(recipe, resolution),
        keeping,
        sets,
        Looks(colour_in_glass(everything), tints(everything)) if everything else None,
    )


def _remarks(recipe: Recipe, resolution: Resolution) -> tuple[str, ...]:
    remarks = []
    if resolution.stated_percent is not None and abs(resolution.stated_percent - 100) > PERCENT_TOLERANCE:
        remarks.append(
            f"The stated percents make {say_number(resolution.stated_percent)} %, not 100 %. "
            "The shares beside the rows are of what would be in the bottle."
        )
    waiting = sum(row.status is RowStatus.ASKED for row in resolution.rows)
    unread = sum(row.status in (RowStatus.NOT_UNDERSTOOD, RowStatus.UNMEASURED) for row in resolution.rows)
    if waiting == 1:
        remarks.append("1 row waits for an answer; the figures leave it out.")
    elif waiting:
        remarks.append(f"{waiting} rows wait for an answer; the figures leave them out.")
    if unread == 1:
        remarks.append("1 row is not counted; the reason stands beside it.")
    elif unread:
        remarks.append(f"{unread} rows are not counted; the reason stands beside each.")
    if recipe.container is not None:
        over = resolution.total_millilitres - recipe.container.size_ml
        if over > FULL * recipe.container.size_ml:
            stands, holds = say_number(resolution.total_millilitres, 3), say_number(recipe.container.size_ml)
            remarks.append(
                f"{say_number(over, 3)} mL too much for the container: {stands} mL stands past the "
                f"shoulder of {holds} mL."
            )
    return tuple(remarks)


def _bottle(recipe: Recipe, resolution: Resolution) -> Bottle | None:
    if recipe.container is None:
        return None
    container = recipe.container
    pours: list[Pour] = []
    filled = 0.0
    for row, item in in_order(resolution.read, PourOrder.CARRIERS_FIRST):
        volume = row.millilitres or 0.0
        pours.append(
            Pour(
                row,
                item,
                item.phase,
                volume,
                filled + volume,
                container.height_mm(filled),
                container.height_mm(filled + volume),
            )
        )
        filled += volume
    over = filled - container.size_ml
    return Bottle(container, tuple(pours), over if over > FULL * container.size_ml else 0.0, max(0.0, -over))
