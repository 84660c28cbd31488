"""What is asked of one thing by its name: what it is, whether it clogs, how long it keeps, what can stand in for it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from uptide.core.errors import QuantityError
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.by_itself import alone, in_a_line, limits, lower, of_itself
from uptide.core.finder.known import NOBODY, Known
from uptide.core.finder.named import of_that_name
from uptide.core.finder.substitutes import LIKE_ENOUGH, changes, scent_likeness, substitutes
from uptide.core.finder.use import Use, apart
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.keeping.storage_history import placed
from uptide.core.measures.quick import QuickAnswer
from uptide.core.oxidation.surroundings import COOL_CUPBOARD, PLACES, Storage
from uptide.core.safety.caution import Grade
from uptide.core.safety.person import judge
from uptide.core.safety.tables import SafetyTables

INSTEAD = 3  # stand-ins that are named
ALSO_CALLED = {
    "cupboard": COOL_CUPBOARD,
    "dark": COOL_CUPBOARD,
    "refrigerator": "fridge",
    "car": "hot car",
    "windowsill": "sunny shelf",
    "window": "sunny shelf",
    "sun": "sunny shelf",
    "shower": "bathroom",
}
BY = {"sunny shelf": "on a"}


def _asked_as(*words: str) -> tuple[re.Pattern[str], ...]:
    return tuple(re.compile(each, re.IGNORECASE) for each in words)


OF_ITSELF = _asked_as(r"^(?:(?:what(?:[’']s| is| are)|tell me about|about)\s+)?(?P<of>[^\W\d].*)$")
CLOGGING = _asked_as(
    r"^(?:is|are|does|do|will|can)\s+(?P<of>.+?)\s+(?:non[- ]?)?"
    r"(?:comedogenic|clogging|(?:clog|block)s?(?:\s+(?:the\s+|my\s+)?pores)?)$",
    r"^(?P<of>.+?)\s+(?:comedogenic(?:ity)?|clog(?:ging)?)(?:\s+(?:rating|risk|scale))?$",
    r"^(?:what(?:[’']s|\s+is)\s+)?(?:the\s+)?(?:comedogenic(?:ity)?|clog(?:ging)?)(?:\s+(?:rating|risk|scale))?\s+"
    r"(?:of|for)\s+(?P<of>.+)$",
)
TURNS = (
    r"(?:keeps?|lasts?|be kept|stays? (?:fresh|good)|go(?:es)? (?:off|bad|rancid)|turns?(?: rancid)?|expires?|spoils?)"
)
PLACE = r"(?:\s+(?:well\s+)?(?:in|on|at|by)\s+(?P<place>.+))?"
KEEPING = _asked_as(
    rf"^(?:(?:how long|when)\s+)?(?:does|do|will|can)\s+(?P<of>.+?)\s+{TURNS}{PLACE}$",
    r"^(?:is|has|are|have)\s+(?:my\s+|the\s+)?(?P<of>.+?)\s+"
    r"(?:still\s+(?:good|fresh|ok(?:ay)?|usable)|gone\s+(?:off|bad|rancid)|rancid|expired|turned)$",
    r"^(?P<of>.+?)\s+(?:keeps|lasts)\s+(?:in|on|at|by)\s+(?P<place>.+)$",
    r"^(?:the\s+)?(?:shelf[- ]?life|keeping time)\s+of\s+(?P<of>.+)$",
    r"^(?P<of>.+?)(?:[’']s)?\s+(?:shelf[- ]?life|keeping time)$",
)
STANDING_IN = _asked_as(
    r"^(?:what (?:else )?(?:can|could|should|do|to)\s+(?:I\s+)?(?:use|take)\s+)?(?:instead|in place) of\s+(?P<of>.+)$",
    r"^(?:an?\s+|the\s+)?(?:substitute|replacement|alternative|stand[- ]?in|swap)s?\s+(?:for|to|of)\s+(?P<of>.+)$",
    r"^(?:what\s+(?:can\s+)?(?:replaces?|substitutes?)|replace|substitute)\s+(?P<of>.+)$",
    r"^(?P<of>.+?)\s+(?:substitute|replacement|alternative|stand[- ]?in)s?$",
)
BESIDE = _asked_as(
    r"^(?:(?:can|could|may|should)\s+(?:i|we|one|you)\s+)?(?:(?:use|take)\s+)?(?P<of>.+?)\s+(?:instead|in place) of\s+"
    r"(?P<other>.+)$",
    r"^(?:compare\s+)?(?P<of>.+?)\s+(?:vs\.?|versus|compared (?:to|with)|or)\s+(?P<other>.+)$",
    r"^(?:compare|(?:what is the )?difference between)\s+(?P<of>.+?)\s+(?:and|with|to|&)\s+(?P<other>.+)$",
)


def about_one(asked: str, known: Known) -> list[QuickAnswer]:
    """What is asked of one thing, or of two side by side; several answers where a name may mean several things.

    Empty where nothing of the sort is asked, or the catalogue has nothing of that name.

    Raises:
        QuantityError: a name that is often taken for another's, with what it is.
    """
    for pattern in KEEPING:
        found = pattern.match(asked)
        if found is not None and (items := of_that_name(found["of"], known)):
            place = place_of(found.groupdict().get("place") or "")
            return [_keeps(item, place, known) for item in items]
    if items := _named(asked, CLOGGING, known):
        return [_clogs(item, known) for item in items]
    for pattern in STANDING_IN:
        if (found := pattern.match(asked)) is None:
            continue
        thing, use = apart(found["of"], known)  # “instead of almond for Ines”
        if items := of_that_name(thing, known):
            return [_instead(item, use, known) for item in items]
    for pattern in BESIDE:
        found = pattern.match(asked)
        both = found and (of_that_name(found["of"], known), of_that_name(found["other"], known))
        if both and all(both):
            return [_beside(both[0][0], both[1][0], known)]
    return [of_itself(item, Use(), known) for item in _named(asked, OF_ITSELF, known)]


def _named(asked: str, patterns: Sequence[re.Pattern[str]], known: Known) -> list[Ingredient]:
    """What is named by the first of the patterns that names anything."""
    for pattern in patterns:
        found = pattern.match(asked)
        if found is not None and (items := of_that_name(found["of"], known)):
            return items
    return []


def _clogs(item: Ingredient, known: Known) -> QuickAnswer:
    found = alone(item, known).finding("comedogenicity") if item.is_fatty else None
    if found is None or found.value is None:
        return QuickAnswer(f"{item.name}: nobody rates it", "" if found is None else found.remark, about=item.key)
    return QuickAnswer(
        f"{item.name}: clog rating {found.value:g} of 5, {found.word}", found.other, found.remark, about=item.key
    )


def place_of(words: str) -> Storage:
    """Where a bottle stands, by words as “the fridge”; a cool cupboard where nothing is said.

    Raises:
        QuantityError: a place that is not known.
    """
    said = re.sub(r"^(?:an?|the|my)\s+", "", words.strip().lower())
    if not said:
        return Storage()
    named = ALSO_CALLED.get(said, said)
    if named not in PLACES:
        raise QuantityError(f"“{words}” is no place known here; known are {', '.join(PLACES)}.")
    return placed(Storage(), named)


def _keeps(item: Ingredient, storage: Storage, known: Known) -> QuickAnswer:
    if not item.is_fatty:
        return QuickAnswer(f"{item.name}: how long it keeps is not worked out here", "", about=item.key)
    whole = alone(item, known, storage=storage)
    life = whole.shelf_life
    if life is None or life.months is None:
        why = whole.finding("keeps_months").remark
        return QuickAnswer(f"{item.name}: how long it keeps is unknown", why, about=item.key)
    fresh = life.undated
    months = f"{fresh} {'month' if fresh == 1 else 'months'}"
    where = f"In nine bottles of ten, in use, {BY.get(storage.place, 'in a')} {storage.place}."
    return QuickAnswer(
        f"{item.name}: keeps {months} from fresh", f"{where} {limits(whole, item)}".strip(), about=item.key
    )


def _instead(item: Ingredient, use: Use, known: Known) -> QuickAnswer:
    tables = known.usage_of(use.product, use.whom.wearer).tables
    # In pregnancy every scent is warned of: what stands in for one may bring the warnings that the other has.
    is_scent = item.phase is Phase.SCENT
    own = {each for each in _against(item, use, tables, known) if is_scent and each[1] is Grade.WARN}
    others = [
        other
        for other in known.ingredients.values()
        if not other.lot and other.base_key != item.base_key and _against(other, use, tables, known) <= own
    ]
    if item.phase is Phase.SCENT:
        like = sorted(((scent_likeness(tables, item, each), each.name) for each in others), reverse=True)
        alike = [(name, f"{100 * share:.0f} % alike by what they hold") for share, name in like if share >= LIKE_ENOUGH]
    else:
        by_use = substitutes(oil_profile(item), map(oil_profile, others), INSTEAD)[1] if item.is_fatty else ()
        alike = [(each.oil_profile.item.name, ", ".join(each.changes) or "hardly a change") for each in by_use]
    if not alike:
        return QuickAnswer(f"{item.name}: nothing here is near it{use.who}", "", about=item.key)
    lines = tuple(alike[:INSTEAD])
    said = "Nearest by its constituents" if item.phase is Phase.SCENT else "Nearest in use"
    return QuickAnswer(
        f"Instead of {lower(item.name)}{use.who}: {', '.join(name for name, _ in lines)}",
        f"{said}.",
        about=item.key,
        lines=lines,
    )


def _against(item: Ingredient, use: Use, tables: SafetyTables, known: Known) -> frozenset[tuple[str, Grade | None]]:
    """What speaks against a thing for who was named, by rule: stops, warnings, doubts, allergens, an unfit skin."""
    wearer = use.whom.wearer
    if use.whom is NOBODY:
        return frozenset()
    judged = judge(item, wearer, tables, known.today)
    found: set[tuple[str, Grade | None]] = {(c.rule, c.grade) for c in judged.holds if c.grade is not Grade.NOTE}
    found |= {(caution.rule, None) for caution in judged.doubts}
    if wearer.allergies.yes and oil_profile(item).allergens != frozenset():
        found.add(("allergen", None))  # who bears one nut badly is offered no other
    if judged.suits is False:
        found.add(("skin", None))
    return frozenset(found)


def _beside(item: Ingredient, other: Ingredient, known: Known) -> QuickAnswer:
    lines = [(each.name, in_a_line(each, known)) for each in (item, other)]
    if not (item.is_fatty and other.is_fatty):
        return QuickAnswer(f"{item.name} beside {lower(other.name)}", "", lines=tuple(lines))
    # How long each keeps stands in its line, for a bottle in use; a profile has it for one that is closed.
    changed = ", ".join(changes(replace(oil_profile(item), keeps=None), oil_profile(other))) or "hardly a change"
    return QuickAnswer(
        f"{item.name} beside {lower(other.name)}",
        "",
        about=item.key,
        beside=other.key,
        lines=(*lines, ("From first to second", changed)),
    )
