"""What one thing is by itself: an oil by its verdicts, a scent by how much of it may be; in a product, for somebody."""

from __future__ import annotations

from uptide.core.assessment.assessment import Assessment
from uptide.core.assessment.brief import in_brief
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.known import BASE, LIMITS, NOBODY, Known
from uptide.core.finder.use import Use
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.quick import QuickAnswer
from uptide.core.measures.say import say_number
from uptide.core.oxidation.surroundings import Storage
from uptide.core.recipe.naming import UNNAMED_INFUSION
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.safety.card import answer_for
from uptide.core.safety.maximum_dose import MaximumDose, maximum_dose_of
from uptide.core.skin.verdicts import CLOGS_PLAINLY
from uptide.core.tolerance import reaches

WHOLE = 100.0  # g of one oil, or of a base with a scent in it
HEEDED = ("Stop", "Warn", "Not", "With care")
ANY_USE, IN_A_CUPBOARD = Use(), Storage()
NOT_NEAT = "not neat; "  # no scent is worn undiluted; common practice


def alone(item: Ingredient, known: Known, use: Use = ANY_USE, storage: Storage = IN_A_CUPBOARD) -> Assessment:
    """What is found of nothing but one thing; of an oil that nobody named, by what was steeped in it."""
    is_unnamed = item.key == UNNAMED_INFUSION and bool(item.infused_with)
    said = f"{item.infused_with} oil" if is_unnamed else item.name
    recipe = Recipe((Entry(f"{WHOLE:g} g {said}", {"name": item.key}),), use.product, storage=storage)
    return known.assess(recipe, use.whom.wearer)


def of_itself(item: Ingredient, use: Use, known: Known, *, is_neat: bool = False) -> QuickAnswer:
    """What a thing is, in a line and what is to be heeded; of a body oil for anyone unless a use was said.

    `is_neat` says that it was asked about undiluted.
    """
    if item.phase is Phase.SCENT:
        return _of_scent(item, use, known, is_neat=is_neat)
    if not item.is_fatty:
        return QuickAnswer(f"{named_in(item, use, known)}: {in_a_line(item, known)}", "", about=item.key)
    found = alone(item, known, use)
    keeps = limits(found, item)
    said = (each for each in in_brief(found, "").lines if each[0] in ("Feels", *HEEDED))
    lines = (*([("Keeps", keeps)] if keeps else []), *said)
    return QuickAnswer(f"{named_in(item, use, known)}: {_verdicts(found)}", _acids(item), about=item.key, lines=lines)


def named_in(item: Ingredient, use: Use, known: Known) -> str:
    """A thing with what was said of its use, and whether it is for somebody: “Argan oil: with care for Ines”."""
    said = item.name
    if use.whom is not NOBODY:
        tables = known.usage_of(use.product, use.whom.wearer).tables
        said = answer_for(item, use.whom, tables, known.today).answer
    return f"{said}{';' if use.whom is not NOBODY else ''} as {known.products[use.said].lower()}" if use.said else said


def in_a_line(item: Ingredient, known: Known) -> str:
    """What a thing is: an oil by its verdicts, a scent by how much of it may be, anything else by its kind."""
    if item.phase is Phase.SCENT:
        return _most(_room(item, ANY_USE, known), ANY_USE, known)
    return _verdicts(alone(item, known)) if item.is_fatty else item.kind.replace("_", " ")


def _verdicts(found: Assessment) -> str:
    """An oil by itself in a line; its clog rating is said where whom it suits does not say it."""
    rating, fit = found.finding("comedogenicity").value, found.finding("skin_fit").word
    is_said = rating is None or (bool(fit) and reaches(rating, CLOGS_PLAINLY))
    return lower(in_brief(found, "").answer) + ("" if is_said else f"; clog rating {rating:g} of 5")


def limits(found: Assessment, item: Ingredient) -> str:
    """What ends an oil by itself, where it is not its own rancidity, and what the trade gives it."""
    life = found.shelf_life
    if life is None:
        return ""
    ends = f"Limited by {life.limited_by}." if life.limited_by not in ("", item.name) else ""
    trade = f"The trade says {life.trade_months:.0f} months." if life.trade_months is not None else ""
    return " ".join(filter(None, (ends, trade)))


def _acids(item: Ingredient) -> str:
    """Its acids in a line; nothing where none are known."""
    own = oil_profile(item)
    parts = (("linoleic", own.linoleic), ("oleic", own.oleic), ("saturated", own.saturated))
    said = [f"{value:.0f} % {name}" for name, value in parts if value is not None]
    return f"Of its acids {', '.join(said)}." if said else ""


def _room(item: Ingredient, use: Use, known: Known) -> MaximumDose:
    return maximum_dose_of(item, known.ingredients[BASE], known.usage_of(use.product, use.whom.wearer))


def _most(room: MaximumDose, use: Use, known: Known) -> str:
    if not room.most:
        return f"none in {known.products[use.said].lower()}{use.who}" if use.said else f"none on skin{use.who}"
    is_less = bool(room.suggested) and not reaches(room.suggested, room.most)
    suggested = f", {say_number(room.suggested, 2)} % is suggested" if is_less else ""
    of = f"of a {known.products[use.product].lower()}" if not use.said else f"in {known.products[use.said].lower()}"
    return f"at most {say_number(room.most, 2)} % {of}{use.who}{suggested}"


def _of_scent(item: Ingredient, use: Use, known: Known, *, is_neat: bool) -> QuickAnswer:
    room = _room(item, use, known)
    said = f"{item.name}: {NOT_NEAT if is_neat else ''}{_most(room, use, known)}"
    if not room.most:
        return QuickAnswer(said, room.why, about=item.key)
    part = min(room.suggested or room.most, room.most / 2)  # well within: what warns of coming near says nothing of it
    rows = (f"{WHOLE - part:g} g base", f"{part:g} g {item.name}")
    keys = (BASE, item.key)
    blend = Recipe(tuple(Entry(row, {"name": key}) for row, key in zip(rows, keys, strict=True)), use.product)
    heeded = tuple(each for each in in_brief(known.assess(blend, use.whom.wearer), "").lines if each[0] in HEEDED)
    return QuickAnswer(
        said,
        f"Beyond it: {room.why}",
        LIMITS,
        about=item.key,
        lines=heeded,
    )


def lower(words: str) -> str:
    """Words as they stand in a sentence."""
    return words[:1].lower() + words[1:]
