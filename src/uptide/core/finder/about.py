"""What is asked of one thing by its name: what it is, whether it clogs, how long it keeps, what can stand in for it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from uptide.core.assessment.assessment import Assessment
from uptide.core.assessment.brief import in_brief
from uptide.core.errors import QuantityError
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.known import BASE, BODY, NOBODY, Known
from uptide.core.finder.substitutes import LIKE_ENOUGH, changes, scent_likeness, substitutes
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.quick import QuickAnswer
from uptide.core.measures.say import say_number
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.safety.maximum_dose import MaximumDose, maximum_dose_of
from uptide.core.skin.verdicts import CLOGS_PLAINLY
from uptide.core.tolerance import reaches

MOST_MEANT = 3  # things that a name may mean before one has to say which
INSTEAD = 3  # stand-ins that are named
WHOLE = 100.0  # g of one oil, or of a base with a scent in it
HEEDED = ("Stop", "Warn", "Not", "With care")


def _asked_as(*words: str) -> tuple[re.Pattern[str], ...]:
    return tuple(re.compile(each, re.IGNORECASE) for each in words)


OF_ITSELF = _asked_as(r"^(?:(?:what(?:[’']s| is| are)|tell me about|about)\s+)?(?P<of>[^\W\d].*)$")
CLOGGING = _asked_as(
    r"^(?:is|are|does|do|will|can)\s+(?P<of>.+?)\s+(?:non[- ]?)?"
    r"(?:comedogenic|clogging|(?:clog|block)s?(?:\s+(?:the\s+|my\s+)?pores)?)$",
    r"^(?P<of>.+?)\s+(?:comedogenic(?:ity)?|clog(?:ging)?)(?:\s+(?:rating|risk|scale))?$",
    r"^(?:comedogenic|clog)(?:ity)?(?:\s+(?:rating|risk))?\s+of\s+(?P<of>.+)$",
)
KEEPING = _asked_as(
    r"^(?:how long|when)\s+(?:does|do|will|can)\s+(?P<of>.+?)\s+"
    r"(?:keep|last|be kept|stay (?:fresh|good)|go (?:off|bad|rancid)|turn(?: rancid)?|expire)$",
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
    r"^(?:compare\s+)?(?P<of>.+?)\s+(?:vs\.?|versus|compared (?:to|with)|or)\s+(?P<other>.+)$",
    r"^(?:compare|(?:what is the )?difference between)\s+(?P<of>.+?)\s+(?:and|with|to|&)\s+(?P<other>.+)$",
)


def about_one(asked: str, known: Known) -> list[QuickAnswer]:
    """What is asked of one thing, or of two side by side; several answers where a name may mean several things.

    Empty where nothing of the sort is asked, or the catalogue has nothing of that name.

    Raises:
        QuantityError: a name that is often taken for another's, with what it is.
    """
    for patterns, say in ((CLOGGING, _clogs), (KEEPING, _keeps), (STANDING_IN, _instead)):
        if items := _named(asked, patterns, known):
            return [say(item, known) for item in items]
    for pattern in BESIDE:
        found = pattern.match(asked)
        both = found and (_of_that_name(found["of"], known), _of_that_name(found["other"], known))
        if both and all(both):
            return [_beside(both[0][0], both[1][0], known)]
    return [_of_itself(item, known) for item in _named(asked, OF_ITSELF, known)]


def _named(asked: str, patterns: Sequence[re.Pattern[str]], known: Known) -> list[Ingredient]:
    """What is named by the first of the patterns that names anything."""
    for pattern in patterns:
        found = pattern.match(asked)
        if found is not None and (items := _of_that_name(found["of"], known)):
            return items
    return []


def _of_that_name(words: str, known: Known) -> list[Ingredient]:
    """All that bears a name; what is merely near one is not meant."""
    match = known.names.exactly(re.sub(r"^(?:an?|the|my)\s+", "", words.strip(), flags=re.IGNORECASE))
    if match.is_taken_for_another:
        raise QuantityError(match.remark)
    return [known.ingredients[key] for key in match.keys[: 1 if match.sure else MOST_MEANT]]


def _alone(item: Ingredient, known: Known) -> Assessment:
    return known.assess(Recipe((Entry(f"{WHOLE:g} g {item.name}", {"name": item.key}),), BODY), NOBODY.wearer)


def _of_itself(item: Ingredient, known: Known) -> QuickAnswer:
    if item.phase is Phase.SCENT:
        return _of_scent(item, known)
    if not item.is_fatty:
        return QuickAnswer(f"{item.name}: {_in_a_line(item, known)}", "", about=item.key)
    found = _alone(item, known)
    keeps = _limits(found, item)
    said = (each for each in in_brief(found, "").lines if each[0] in ("Feels", *HEEDED))
    lines = (*([("Keeps", keeps)] if keeps else []), *said)
    return QuickAnswer(f"{item.name}: {_verdicts(found)}", _acids(item), about=item.key, lines=lines)


def _in_a_line(item: Ingredient, known: Known) -> str:
    """What a thing is: an oil by its verdicts, a scent by how much of it may be, anything else by its kind."""
    if item.phase is Phase.SCENT:
        return _most(_room(item, known))
    return _verdicts(_alone(item, known)) if item.is_fatty else item.kind.replace("_", " ")


def _verdicts(found: Assessment) -> str:
    """An oil by itself in a line; its clog rating is said where whom it suits does not say it."""
    rating, fit = found.finding("comedogenicity").value, found.finding("skin_fit").word
    is_said = rating is None or (bool(fit) and reaches(rating, CLOGS_PLAINLY))
    return _lower(in_brief(found, "").answer) + ("" if is_said else f"; clog rating {rating:g} of 5")


def _limits(found: Assessment, item: Ingredient) -> str:
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


def _room(item: Ingredient, known: Known) -> MaximumDose:
    return maximum_dose_of(item, known.ingredients[BASE], known.usage_of(BODY, NOBODY.wearer))


def _most(room: MaximumDose) -> str:
    is_less = bool(room.suggested) and not reaches(room.suggested, room.most)
    suggested = f", {say_number(room.suggested, 2)} % is suggested" if is_less else ""
    return f"at most {say_number(room.most, 2)} % of a body oil{suggested}" if room.most else "none on skin"


def _of_scent(item: Ingredient, known: Known) -> QuickAnswer:
    room = _room(item, known)
    said = f"{item.name}: {_most(room)}"
    if not room.most:
        return QuickAnswer(said, room.why, about=item.key)
    part = min(room.suggested or room.most, room.most / 2)  # well within: what warns of coming near says nothing of it
    rows = (f"{WHOLE - part:g} g base", f"{part:g} g {item.name}")
    keys = (BASE, item.key)
    blend = Recipe(tuple(Entry(row, {"name": key}) for row, key in zip(rows, keys, strict=True)), BODY)
    heeded = tuple(each for each in in_brief(known.assess(blend, NOBODY.wearer), "").lines if each[0] in HEEDED)
    return QuickAnswer(
        said,
        f"Beyond it: {room.why}",
        "Limits are from memory; its page names their sources, and local law comes first.",
        about=item.key,
        lines=heeded,
    )


def _clogs(item: Ingredient, known: Known) -> QuickAnswer:
    found = _alone(item, known).finding("comedogenicity") if item.is_fatty else None
    if found is None or found.value is None:
        return QuickAnswer(f"{item.name}: nobody rates it", "" if found is None else found.remark, about=item.key)
    return QuickAnswer(
        f"{item.name}: clog rating {found.value:g} of 5, {found.word}", found.other, found.remark, about=item.key
    )


def _keeps(item: Ingredient, known: Known) -> QuickAnswer:
    if not item.is_fatty:
        return QuickAnswer(f"{item.name}: how long it keeps is not worked out here", "", about=item.key)
    whole = _alone(item, known)
    life = whole.shelf_life
    if life is None or life.months is None:
        why = whole.finding("keeps_months").remark
        return QuickAnswer(f"{item.name}: how long it keeps is unknown", why, about=item.key)
    fresh = life.undated
    months = f"{fresh} {'month' if fresh == 1 else 'months'}"
    where = f"In nine bottles of ten, in use, in a {whole.recipe.storage.place}."
    return QuickAnswer(
        f"{item.name}: keeps {months} from fresh", f"{where} {_limits(whole, item)}".strip(), about=item.key
    )


def _instead(item: Ingredient, known: Known) -> QuickAnswer:
    others = [other for other in known.ingredients.values() if not other.lot and other.base_key != item.base_key]
    if item.phase is Phase.SCENT:
        tables = known.usage_of(BODY, NOBODY.wearer).tables
        like = sorted(((scent_likeness(tables, item, each), each.name) for each in others), reverse=True)
        alike = [(name, f"{100 * share:.0f} % alike by what they hold") for share, name in like if share >= LIKE_ENOUGH]
    else:
        by_use = substitutes(oil_profile(item), map(oil_profile, others), INSTEAD)[1] if item.is_fatty else ()
        alike = [(each.oil_profile.item.name, ", ".join(each.changes) or "hardly a change") for each in by_use]
    if not alike:
        return QuickAnswer(f"{item.name}: nothing here is near it", "", about=item.key)
    lines = tuple(alike[:INSTEAD])
    said = "Nearest by its constituents" if item.phase is Phase.SCENT else "Nearest in use"
    return QuickAnswer(
        f"Instead of {_lower(item.name)}: {', '.join(name for name, _ in lines)}",
        f"{said}.",
        about=item.key,
        lines=lines,
    )


def _beside(item: Ingredient, other: Ingredient, known: Known) -> QuickAnswer:
    lines = [(each.name, _in_a_line(each, known)) for each in (item, other)]
    if not (item.is_fatty and other.is_fatty):
        return QuickAnswer(f"{item.name} beside {_lower(other.name)}", "", lines=tuple(lines))
    # How long each keeps stands in its line, for a bottle in use; a profile has it for one that is closed.
    changed = ", ".join(changes(replace(oil_profile(item), keeps=None), oil_profile(other))) or "hardly a change"
    return QuickAnswer(
        f"{item.name} beside {_lower(other.name)}",
        "",
        about=item.key,
        beside=other.key,
        lines=(*lines, ("From first to second", changed)),
    )


def _lower(words: str) -> str:
    return words[:1].lower() + words[1:]
