"""Room for a scent: how much of it a bottle bears, in a product and for somebody; what a share of it is in drops."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from itertools import chain
from math import floor

from uptide.core.errors import QuantityError
from uptide.core.finder.by_itself import named_in
from uptide.core.finder.known import BASE, BODY, FACE, LIMITS, Known
from uptide.core.finder.named import MOST_MEANT, each_thing, together
from uptide.core.finder.use import Use, apart, both, meant_use, read_use
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.amounts import unit_size
from uptide.core.measures.grammar import QuantityKind, read_quantity
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import parse_line, split_recipe
from uptide.core.measures.quick import QuickAnswer
from uptide.core.measures.say import say_number
from uptide.core.measures.units import UNITS, Dimension
from uptide.core.safety.maximum_dose import maximum_dose_of
from uptide.core.skin.whom import Whom
from uptide.core.tolerance import exceeds

NEARLY = 0.01  # of a drop: what halving leaves
ALONE = "Of each alone, not of all together"  # they share what one of them may be
PROTECTING = (0.1, 0.5)  # % of mixed tocopherols that an oil is given; common practice
COUNTED = "Counted at {:g} drops to the mL; real droppers give 20 to 45, so weigh it."
SHARE = r"(?P<share>\d[\d.,]*\s*(?:%|per\s?cent))(?:\s+(?:dilution|solution|strength))?(?:\s+of)?"
SIZE = r"(?P<size>\d[\d.,/]*\s*(?:fl\.?\s*)?[a-z]+)"
DROPS = (
    r"(?P<drops>(?:\d[\d.,]*(?:\s?(?:-|–|to)\s?\d+)?|an?|one|two|three|four|five|six|ten|twelve)\s*"
    r"(?:drops?|gtts?)\b)(?:\s+of)?"
)
# So much of a scent in a bottle: a share or drops of it; or the bottle first.
OF_A_BOTTLE = re.compile(
    rf"^(?:{SHARE}|{DROPS})\s+(?P<thing>[^\W\d][^\d,;]*?)\s+(?:(?:in|into|to|per|for)\s+)?{SIZE}"
    r"(?:\s+(?:(?:for|of|in|on)\s+)?(?P<use>.+))?$",
    re.I,
)
BOTTLE_WITH = re.compile(rf"^{SIZE}\s+(?:at|with|of)\s+(?:{SHARE}|{DROPS})\s+(?P<thing>[^\W\d][^,;]*)$", re.I)
# “50 ml face oil with 2% tea tree for a baby” is asked as “2% tea tree in 50 ml face oil for a baby”.
PRODUCT_WITH = re.compile(
    rf"^(?:an?\s+)?{SIZE}\s+(?:bottle\s+)?(?:of\s+)?(?P<product>[^\d,;]+?)\s+(?:with|at)\s+(?P<what>[^,;]+?)"
    r"(?P<whom>\s+(?:for|in|during|while)\s+[^,;]+)?$",
    re.I,
)
SCENTS_IN = re.compile(rf"^(?P<scents>.+?)\s+(?:in|into|to|per)\s+{SIZE}$", re.I | re.S)
MAXIMUM_DOSE = re.compile(
    r"^(?:how (?:much|many)(?: drops)?(?: of)?\s+|drops of\s+)?(?P<thing>\D.*?)\s+(?:in|to|per|for)\s+"
    rf"{SIZE}(?:\s+(?:(?:for|of|in)\s+)?(?P<use>.+))?$",
    re.I,
)


def scent_first(asked: str, known: Known) -> str:
    """What is asked of a scent in a product of some size, with the scent before the bottle; anything else as it is."""
    found = PRODUCT_WITH.match(asked)
    if found is None or read_use(found["product"], known) is None:
        return asked
    return f"{found['what']} in {found['size']} {found['product']}{found['whom'] or ''}"


def room_for(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “bergamot in 30 ml”, “how many drops of lavender in 1 oz for Ines”; None when it asks for no scent."""
    found = MAXIMUM_DOSE.match(asked)
    if found is None:
        return None
    thing, use = apart(found["thing"], known)
    first = next(iter(known.names.match(thing, in_drops=True).keys), "")
    size_ml = _millilitres(found["size"], known.habits)
    if not first or size_ml is None:
        return None
    if known.ingredients[first].protects:
        use = both(use, meant_use(found["use"] or "", known))
        return _say_protection(known.ingredients[first], size_ml, use, known)
    if known.ingredients[first].phase is not Phase.SCENT:
        return None
    asked_of = each_thing(thing, known, in_drops=True)
    if any(items[0].phase is not Phase.SCENT for items in asked_of):
        return None
    use = both(use, meant_use(found["use"] or "", known))
    items = chain.from_iterable(asked_of)
    found_out = together([_say_maximum(item, size_ml, use, known) for item in items])
    return replace(found_out, answer=f"{ALONE}: {found_out.answer}") if len(asked_of) > 1 else found_out


def share_of(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “2% lavender in 30 ml”, “10 drops lavender in 30 ml for a child of 4”; None for what is no scent’s."""
    found = OF_A_BOTTLE.match(asked) or BOTTLE_WITH.match(asked)
    if found is None:
        return None
    thing, use = apart(found["thing"], known)
    match = known.names.match(thing, in_drops=True)
    items = [known.ingredients[key] for key in match.keys[: 1 if match.sure else MOST_MEANT]]
    size_ml = _millilitres(found["size"], known.habits)
    if not items or size_ml is None or any(item.phase is not Phase.SCENT for item in items):
        return None
    said = found.groupdict().get("use") or ""
    behind = read_use(said, known) if said else Use()
    if behind is None:  # “2% lavender in 30 ml jojoba” is a recipe
        return None
    use, share = both(use, behind), found["share"]
    amount = read_quantity((share or found["drops"]).strip()).terms[0].high  # of “5 to 10 drops” the more
    ml = amount / 100 * size_ml if share else amount / known.habits.drops_per_ml
    return together([_say_share(item, ml, size_ml, use, known, in_drops=not share) for item in items])


def with_carrier(recipe: str, known: Known) -> tuple[str, str]:
    """A recipe of scents in a bottle of nothing that is named, with an oil; and what that assumes, else nothing.

    Alone they would be all of the bottle: “10 drops lavender and 5 drops rose in 30 ml” is no 100 % of scent.
    """
    found = SCENTS_IN.match(recipe)
    rows = split_recipe(found["scents"]) if found else ()
    if found is None or len(rows) < len(("one", "another")) or _millilitres(found["size"], known.habits) is None:
        return recipe, ""
    for line in map(parse_line, rows):
        keys = known.names.match(line.name, in_drops=True).keys if line.is_complete else ()
        if not keys or any(known.ingredients[key].phase is not Phase.SCENT for key in keys):
            return recipe, ""
    carrier = known.ingredients[BASE].name
    return "\n".join((*rows, f"{carrier} up to {found['size']}")), f"{carrier}, since no oil is named."


def _say_share(item: Ingredient, ml: float, size_ml: float, use: Use, known: Known, *, in_drops: bool) -> QuickAnswer:
    """So much of a bottle [mL], the other way than it was asked, by volume or in drops, and whether it is too much."""
    base = known.ingredients[BASE]
    percent = 100 * ml * item.density / (ml * item.density + (size_ml - ml) * base.density)
    room = maximum_dose_of(item, base, known.usage_of(use.product, use.whom.wearer))
    share = f"{say_number(100 * ml / size_ml, 3)} %"
    drops = say_number(ml * known.habits.drops_per_ml, 3)
    counted = f"{drops} {'drop' if drops == '1' else 'drops'}"
    is_over = exceeds(percent, room.most)
    by = f"{say_number(percent, 2)} % by mass" if is_over else f"{share} by volume"  # limits are by mass
    asked, found = (f"{counted} in", by) if in_drops else (f"{share} of", counted)
    most = _drops(item, size_ml, known, room.most)
    count = _in_drops(most) if most else "less than one drop"
    limit = f"{say_number(room.most, 2)} % at most, {count}" if room.most else "none of it"
    verdict = f", too much{use.who}: {limit}" if is_over else use.who
    return QuickAnswer(
        f"{item.name}: {found}{verdict}",
        f"{asked} {say_number(size_ml, 3)} mL of {known.products[use.product].lower()} is "
        f"{say_number(ml, 3)} mL, {say_number(ml * item.density, 3)} g, {say_number(percent, 2)} % by mass. "
        f"{'' if is_over else f'{limit[:1].upper()}{limit[1:]}. '}Beyond it: {room.why}",
        f"{COUNTED.format(known.habits.drops_per_ml)} {LIMITS}",
        about=item.key,
    )


def _millilitres(words: str, habits: Habits) -> float | None:
    try:
        quantity = read_quantity(words)
    except QuantityError:
        return None
    term = quantity.terms[0] if len(quantity.terms) == 1 else None
    if term is None or quantity.kind is not QuantityKind.MEASURE:
        return None
    unit = UNITS["fl_oz" if term.unit == "oz" else term.unit]  # bottles go by volume
    return term.typical * unit_size(unit, habits, term.system) if unit.dimension is Dimension.VOLUME else None


def _say_protection(item: Ingredient, size_ml: float, use: Use, known: Known) -> QuickAnswer | None:
    """How much vitamin E a bottle takes; None for another antioxidant, whose share its maker states."""
    substance = item.protects[0] if item.protects else ""
    if substance == "tocopheryl_acetate":
        why = "It is for the skin; take mixed tocopherols."
        return QuickAnswer(f"{named_in(item, use, known)}: protects no oil", why, about=item.key)
    if substance != "mixed_tocopherols":
        return None
    whole = size_ml * known.ingredients[BASE].density
    low, high = (say_number(share / 100 * whole, 2) for share in PROTECTING)
    drops = [say_number(share / 100 * whole / item.density * known.habits.drops_per_ml, 2) for share in PROTECTING]
    return QuickAnswer(
        f"{named_in(item, use, known)}: {low} to {high} g, {drops[0]} to {drops[1]} drops",
        f"{PROTECTING[0]:g} to {PROTECTING[1]:g} % by mass of {say_number(size_ml, 3)} mL, {say_number(whole, 3)} g; "
        "common practice. It slows rancidity and keeps no germs off; the bench says by how many months.",
        COUNTED.format(known.habits.drops_per_ml),
        about=item.key,
    )


def _drops(item: Ingredient, size_ml: float, known: Known, percent: float) -> int:
    """Whole drops of a scent that make no more than a share by mass of a bottle."""
    share, base = percent / 100, known.ingredients[BASE]
    grams = share * size_ml / (share / item.density + (1 - share) / base.density)
    return floor(grams / item.density * known.habits.drops_per_ml + NEARLY)


def _say_maximum(item: Ingredient, size_ml: float, use: Use, known: Known) -> QuickAnswer:
    product, whom = use.product, use.whom
    drops = partial(_drops, item, size_ml, known)
    room = maximum_dose_of(item, known.ingredients[BASE], known.usage_of(product, whom.wearer))
    where = f"{say_number(size_ml, 3)} mL of {known.products[product].lower()}"
    if not room.most:
        return QuickAnswer(f"{item.name}: none{use.who}", room.why, about=item.key)
    most, usual = drops(room.most), drops(room.suggested)
    count = f"{_in_drops(most)} at most" if most else "less than one drop: dilute it first"
    said = f"{say_number(room.most, 2)} % by mass in {where}"
    said += f"; {say_number(room.suggested, 2)} % is suggested, {_in_drops(usual)}." if usual else "."
    other = "" if product != BODY else f"On the face: {_face_words(item, whom, known, drops)}. "
    return QuickAnswer(
        f"{item.name}: {count}{use.who}",
        f"{said} {other}Beyond it: {room.why}",
        f"{COUNTED.format(known.habits.drops_per_ml)} {LIMITS}",
        about=item.key,
    )


def _face_words(item: Ingredient, whom: Whom, known: Known, drops: Callable[[float], int]) -> str:
    room = maximum_dose_of(item, known.ingredients[BASE], known.usage_of(FACE, whom.wearer))
    most = drops(room.most)
    return _in_drops(most) if most else "less than a drop" if room.most else "none"


def _in_drops(count: int) -> str:
    return f"{count} {'drop' if count == 1 else 'drops'}"
