"""Assess a recipe: the one road from what was typed to every figure that is shown."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from math import fsum

from uptide.core.assessment.assessment import Assessment, Bottle, Pour
from uptide.core.assessment.readings import over_readings
from uptide.core.figures.citing import listed
from uptide.core.figures.dispensing import dispensing
from uptide.core.figures.fat import acid_findings, acids_of, fatty_mean
from uptide.core.figures.finding import Finding, Looks
from uptide.core.figures.physical import colour_in_glass, refractive_index, tint, tints, viscosity
from uptide.core.figures.setting import setting, setting_finding
from uptide.core.figures.settling import settles, settling
from uptide.core.figures.specs import IODINE_VALUE, SAPONIFICATION_VALUE
from uptide.core.figures.whole import cost, scent, totals
from uptide.core.ingredients.ingredient import Ingredient, Phase, Price
from uptide.core.keeping.findings import fit_to_sell, shelf_life_findings
from uptide.core.keeping.shelf_life import School, ShelfLife, StorageHistory, shelf_life_of
from uptide.core.measures.amounts import grams_of
from uptide.core.measures.grammar import Quantity
from uptide.core.measures.lines import Line
from uptide.core.measures.names import NameIndex
from uptide.core.measures.say import say_number
from uptide.core.measures.units import UNITS, Dimension
from uptide.core.oxidation.simulate import Draws
from uptide.core.physics.bottle import LARGEST, SMALLEST, USUAL_SIZES, Container
from uptide.core.recipe.naming import NONE_OF_THESE
from uptide.core.recipe.order import PourOrder, in_order
from uptide.core.recipe.recipe import Recipe, Resolution, Row, RowStatus
from uptide.core.recipe.resolve import resolve
from uptide.core.safety.case import Case, UsageContext, parts_of
from uptide.core.safety.check import Safety, Said, check
from uptide.core.safety.figures import safety_findings
from uptide.core.skin.verdicts import OnSkin
from uptide.core.skin.wearer import ANYONE
from uptide.core.tolerance import exceeds

SO_FAR = frozenset({"total_mass", "total_volume", "cost"})  # sums that are true of what was read
# 0 where nothing of it is there.
ABSENT = frozenset({"scent_share", "scent_dose", "phototoxicity", "allergens_declared"})
# Words by which something that is usually rinsed off stays on: it then counts as left on.
STAYS_ON = re.compile(r"\b(?:overnight|over night|leave[- ]?(?:in|on)|left (?:in|on)|not rinsed|without rinsing)\b")
NOT_ASSESSED = (
    "This blend could not be worked out: the application failed on it. What was typed is all here; change a row, or "
    "its storage, and it is tried again."
)
ON_TOP = ("comes on top of it", "come on top of it")
TOTAL_TOLERANCE = 0.05  # of a stated total: people round
PLAIN = "bottle"  # the container where nothing says which
FULL = 0.005  # of the container: less than this past the shoulder is rounding, not overfilling
PERCENT_TOLERANCE = 0.05  # percentage points: three thirds of 33.3 make a hundred


def assess(
    recipe: Recipe,
    ingredients: Mapping[str, Ingredient],
    names: NameIndex,
    prices: Mapping[str, Price] | None = None,
    *,
    draws: Draws | None = None,
    history: StorageHistory | None = None,
    usage: UsageContext | None = None,
) -> Assessment:
    """Weigh a recipe and work out everything that follows from it.

    Args:
        recipe: what was typed, with its answers, container and measures.
        ingredients: what may stand in a row, by key.
        names: how those are called.
        prices: what a gram costs, by ingredient key, where that is known.
        draws: what is uncertain about how long it keeps; without them that is not worked out.
        history: what befell this bottle since it was made.
        usage: what it is for, who wears it and what is known of safety; without it nothing is checked.

    What was typed may be open to more than one reading. It is worked out by the likeliest, and by every other: figures
    then span them all, and the gravest caution of any stands, saying of which.
    """

    def work_out(read: Recipe, *, keeps: bool = True) -> Assessment:
        return _as_read(
            read,
            ingredients,
            names,
            prices,
            draws=draws if keeps else None,
            history=history,
            usage=usage,
        )

    return over_readings(work_out(recipe), work_out)


def _as_read(
    recipe: Recipe,
    ingredients: Mapping[str, Ingredient],
    names: NameIndex,
    prices: Mapping[str, Price] | None,
    *,
    draws: Draws | None,
    history: StorageHistory | None,
    usage: UsageContext | None,
) -> Assessment:
    """Work a recipe out by one reading of its rows."""
    if usage is not None:
        recipe = replace(recipe, usual_ml=usage.purpose.usual_ml)
    resolution = resolve(recipe, ingredients, names)
    waiting = dict.fromkeys(row.typed for row in resolution.waiting)
    # The largest first: sums then come out alike to the last digit, in whatever order the rows stand.
    read = sorted(resolution.parts, key=lambda part: (-(part[0].grams or 0.0), part[1].key))
    fatty = [(row.grams or 0.0, item) for row, item in read if item.is_fatty]
    acids = acids_of(fatty, resolution.total_grams)
    shelf_life = None
    if draws is not None and not waiting:
        shelf_life = shelf_life_of(
            read, recipe.storage, School(recipe.habits.keeps_by), draws, history or StorageHistory()
        )
    everything = [(row.grams or 0.0, item) for row, item in read]
    sets = setting(fatty)
    warmth = fsum(recipe.storage.celsius) / 12
    case, safety = None, Safety()
    if usage is not None:
        case = _case(read, recipe, resolution, usage, shelf_life, ingredients)
        case = replace(case, settles=settles(everything, warmth))
        safety = check(case, Said(usage.texts, recipe.reasons))
    wearer, day = (usage.wearer, usage.today) if usage is not None else (ANYONE, date(2026, 1, 1))
    on_skin = OnSkin(fatty)
    shades = tints(everything) if everything else {}
    bottle = _bottle(resolution, usage.purpose.usual_container if usage is not None else PLAIN)
    area = usage.purpose.area if usage is not None else ""
    findings = (
        *totals(resolution, read),
        *acid_findings(acids, fatty),
        fatty_mean(IODINE_VALUE, fatty),
        fatty_mean(SAPONIFICATION_VALUE, fatty),
        viscosity(fatty),
        setting_finding(fatty, sets, everything),
        refractive_index(fatty),
        on_skin.feel,
        on_skin.comedogenicity,
        on_skin.fit(wearer, case.scent_total if case else 0.0),
        on_skin.penetration(wearer),
        on_skin.slip,
        *settling(everything, warmth),
        *(
            dispensing(everything, bottle.container.kind, recipe.storage, area, is_assumed=bottle.is_assumed)
            if bottle is not None
            else ()
        ),
        tint(everything, wearer.tone, shades),
        *(safety_findings(case, safety) if case else ()),
        scent(read, case.scent_left_open if case else ""),
        cost(read, prices or {}),
        *(shelf_life_findings(shelf_life, {item.key: item.name for _, item in read}) if shelf_life else ()),
        *(fit_to_sell(shelf_life) if shelf_life and recipe.use.for_sale else ()),
    )
    if waiting:
        open_ = _until_settled(recipe, resolution, findings, safety, list(dict.fromkeys(waiting)))
        return replace(open_, wearer=wearer, day=day)
    return Assessment(
        recipe,
        resolution,
        findings=findings,
        cautions=safety.cautions,
        remarks=_remarks(recipe, resolution),
        acids=acids,
        bottle=bottle,
        shelf_life=shelf_life,
        setting=sets,
        looks=Looks(colour_in_glass(everything), shades) if everything else None,
        safety=safety,
        wearer=wearer,
        day=day,
        on_skin=on_skin,
    )


def unassessed(
    recipe: Recipe, ingredients: Mapping[str, Ingredient], names: NameIndex, usage: UsageContext
) -> Assessment:
    """A recipe that could not be assessed: its rows as they were typed, and not one figure.

    The page of what is stored never depends on its figures: it opens, says what failed, and lets it be mended.
    """
    empty = assess(Recipe((), recipe.product, habits=recipe.habits), ingredients, names, usage=usage)
    rows = tuple(
        Row(index, entry.typed, RowStatus.NOT_UNDERSTOOD, Line(entry.typed), reason=NOT_ASSESSED)
        for index, entry in enumerate(recipe.entries)
    )
    typed = tuple(entry.typed for entry in recipe.entries)
    findings = tuple(replace(finding, remark=NOT_ASSESSED) for finding in empty.findings)
    return replace(
        empty,
        recipe=recipe,
        resolution=Resolution(rows, 0.0, 0.0),
        findings=findings,
        remarks=(NOT_ASSESSED,),
        bottle=None,
        shelf_life=ShelfLife(None, School.COMPUTED, NOT_ASSESSED),
        safety=Safety(unsettled=typed),
    )


def _until_settled(
    recipe: Recipe, resolution: Resolution, findings: tuple[Finding, ...], safety: Safety, waiting: list[str]
) -> Assessment:
    """What is known while a row is open that may be a large part of the whole: amounts so far, and no share of it.

    The share of what happens to be read is not its share of the blend, and a stop on it would be an artefact.
    """
    rows = listed([f"“{typed}”" for typed in waiting])
    why = f"Unknown until {rows} {'is' if len(waiting) == 1 else 'are'} settled."
    known = tuple(
        replace(f, remark=f"So far, without {rows}. {f.remark}".strip())
        if f.key in SO_FAR and f.value is not None
        else f
        if f.key in ABSENT and f.value == 0 and not f.inputs
        else replace(f, value=None, low=None, high=None, inputs=(), word="", other="", remark=why)
        for f in findings
    )
    plain = tuple(replace(row, percent_mass=None, percent_volume=None) for row in resolution.rows)
    return Assessment(
        recipe,
        replace(resolution, rows=plain, stated_percent=None),
        findings=known,
        cautions=safety.cautions,
        remarks=_remarks(recipe, resolution),
        acids=(),
        bottle=_bottle(resolution) if resolution.container is not None else None,
        shelf_life=ShelfLife(None, School(recipe.habits.keeps_by), why),
        safety=safety,
    )


def _case(
    read: list[tuple[Row, Ingredient]],
    recipe: Recipe,
    resolution: Resolution,
    usage: UsageContext,
    shelf_life: ShelfLife | None,
    ingredients: Mapping[str, Ingredient],
) -> Case:
    """The case that safety is checked on: with what has turned, by its own peroxides or by a person's nose."""
    oils = shelf_life.mixture.parts if shelf_life is not None and shelf_life.mixture is not None else ()
    past_limit = {part.oil.key for part in oils if part.pv is not None and part.pv > part.oil.limit_pv}
    turned = [item.name for _, item in read if item.key in past_limit]
    if shelf_life is not None and shelf_life.turned:
        turned.append("the whole bottle")
    old = []
    for _, item in read:
        scent = usage.tables.scents.get(item.base_key)
        oxidises = scent is not None and "sensitiser_if_oxidised" in scent.flags
        if oxidises and scent and scent.opened_months and (item.opened_months or 0.0) > scent.opened_months:
            old.append(item.name)
    said = [row.ingredient.said for row in resolution.rows if row.ingredient is not None]
    words = [*usage.texts.values(), *(row.typed for row in resolution.rows), *filter(None, said)]
    unsettled = resolution.unsettled
    purpose = usage.purpose
    if purpose.rinsed and any(STAYS_ON.search(text.lower()) for text in words):
        purpose = replace(purpose, rinsed=False)
    return Case(
        parts_of(read, resolution.unmeasured),
        purpose,
        wearer=usage.wearer,
        tables=usage.tables,
        today=usage.today,
        words="\n".join(words).lower(),
        material=recipe.storage.material,
        turned=tuple(dict.fromkeys(turned)),
        old_scents=tuple(dict.fromkeys(old)),
        total_grams=resolution.total_grams,
        unsettled=tuple(row.typed for row in unsettled),
        may_be_scent=tuple(row.typed for row in unsettled if _may_be_scent(row, ingredients)),
        waiting=tuple(row.typed for row in resolution.waiting),
        held=tuple(
            (row.ingredient.name, row.ingredient.held)
            for row in resolution.rows
            if row.ingredient is not None and row.ingredient.held
        ),
    )


def _may_be_scent(row: Row, ingredients: Mapping[str, Ingredient]) -> bool:
    """Whether a row that nobody understands yet may name a scent: it may, unless all it could mean are none."""
    meant = [
        ingredients.get(option.value)
        for asked in row.questions
        if asked.key == "name"
        for option in asked.options
        if option.value != NONE_OF_THESE
    ]
    return not meant or any(item is None or item.phase is Phase.SCENT for item in meant)


def _remarks(recipe: Recipe, resolution: Resolution) -> tuple[str, ...]:
    remarks = []
    if resolution.stated_percent is not None and exceeds(abs(resolution.stated_percent - 100), PERCENT_TOLERANCE):
        remarks.append(
            f"The stated percents make {say_number(resolution.stated_percent)} %, not 100 %. "
            "The shares beside the rows are of what would be in the bottle."
        )
    remarks += _of_amounts(recipe, resolution)
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
    container = resolution.container
    if container is not None and resolution.is_container_assumed:
        remarks.append(
            f"No size of container is given: worked out for {say_number(container.size_ml)} mL, as it usually comes in."
        )
    if container is not None:
        over = resolution.total_millilitres - container.size_ml
        if exceeds(over, FULL * container.size_ml):
            stands, holds = say_number(resolution.total_millilitres, 3), say_number(container.size_ml)
            remarks.append(
                f"{say_number(over, 3)} mL too much for the container: {stands} mL stands past the "
                f"shoulder of {holds} mL."
            )
    return tuple(remarks)


def _of_amounts(recipe: Recipe, resolution: Resolution) -> list[str]:
    """What is to be said of how its amounts add up."""
    remarks = []
    if resolution.on_top:
        rows = listed([f"“{row.typed}”" for row in resolution.on_top])
        remarks.append(f"The percents make 100 % by themselves; {rows} {ON_TOP[len(resolution.on_top) > 1]}.")
    for total in (row.line.total for row in resolution.rows if row.line.total is not None):
        remarks += _against_total(total, recipe, resolution)
    return remarks


def _against_total(total: Quantity, recipe: Recipe, resolution: Resolution) -> list[str]:
    """Whether the rows make the total that the recipe states; nothing where they do."""
    terms = [replace(t, unit="fl_oz") if t.unit == "oz" else t for t in total.terms]
    if not resolution.total_millilitres or any(UNITS[t.unit].dimension is Dimension.UNCLEAR for t in terms):
        return []
    density = resolution.total_grams / resolution.total_millilitres
    wanted = grams_of(terms, density, recipe.habits).typical
    if abs(wanted - resolution.total_grams) <= TOTAL_TOLERANCE * wanted:
        return []
    made = f"{say_number(resolution.total_millilitres, 3)} mL, {say_number(resolution.total_grams, 3)} g"
    return [f"The recipe says a total of {total.words}; its rows make {made}."]


def _bottle(resolution: Resolution, kind: str = PLAIN) -> Bottle | None:
    """The container with its pours; of a recipe without one, the smallest usual one that holds it."""
    container = resolution.container
    is_assumed = container is None
    if container is None:
        held = resolution.total_millilitres
        size = next((size for size in USUAL_SIZES if held <= size * (1 + FULL)), held)
        if not SMALLEST <= size <= LARGEST or not held:
            return None
        container = Container(kind, size)
    pours: list[Pour] = []
    filled = 0.0
    for row, item in in_order(resolution.read, PourOrder.CARRIERS_FIRST):
        volume = row.millilitres or 0.0
        pours.append(
            Pour(
                row,
                item,
                phase=item.phase,
                millilitres=volume,
                fill_to_ml=filled + volume,
                bottom_mm=container.height_mm(filled),
                top_mm=container.height_mm(filled + volume),
            )
        )
        filled += volume
    over = filled - container.size_ml
    past_shoulder = over if exceeds(over, FULL * container.size_ml) else 0.0
    return Bottle(
        container, tuple(pours), past_shoulder_ml=past_shoulder, room_ml=max(0.0, -over), is_assumed=is_assumed
    )
