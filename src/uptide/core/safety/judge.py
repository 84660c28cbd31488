"""Evaluate the words of the rules on a case: yes, no, or unknown, and what in the bottle it is about."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from uptide.core.ingredients.infusion import each_plant
from uptide.core.ingredients.ingredient import Phase
from uptide.core.ingredients.plant_names import named_plants
from uptide.core.oxidation.protection import VITAMIN_E
from uptide.core.safety.case import RETINOL_EQUIVALENT, Case, Part
from uptide.core.safety.limits import over_limits
from uptide.core.safety.phototoxicity import phototoxicity_of
from uptide.core.safety.tables import SafetyTables, ScentFacts
from uptide.core.safety.words import Alternatives, Condition, Share
from uptide.core.skin.wearer import MEDICINES, WEAK_SKIN, Ticks, Wearer
from uptide.core.tolerance import exceeds, reaches

YEARS = 12.0  # months
GROWN = 12 * YEARS  # months: nobody is pregnant younger
HEATED_FROM = 30.0  # °C: a lot that was kept warmer than this was heated
SIGNS: Mapping[str, Callable[[float, float], bool]] = {
    "<": lambda value, bound: not reaches(value, bound),
    "<=": lambda value, bound: not exceeds(value, bound),
    ">": lambda value, bound: exceeds(value, bound),
    ">=": lambda value, bound: reaches(value, bound),
}


@dataclass(frozen=True, slots=True)
class Answer:
    """Yes, no or unknown (None), and the names of what it is about.

    `waits` says that it is unknown because a row is open that may weigh, so that no share of the whole is known.
    """

    answer: bool | None
    about: tuple[str, ...] = ()
    waits: bool = False


NO = Answer(answer=False)


def evaluate(alternatives: Alternatives, case: Case) -> Answer:
    """Whether any alternative holds; unknown when none surely does and one may."""
    unknown: Answer | None = None
    about: list[str] = []
    found = False
    for way in alternatives:
        answers = _met(way, case)
        if answers is None:
            continue
        if all(a.answer for a in answers):
            found = True
            about += [name for a in answers for name in a.about]
        else:
            waits = any(a.waits for a in answers)
            if unknown is None or (unknown.waits and not waits):
                unknown = Answer(None, tuple(name for a in answers for name in a.about), waits)
    if found:
        return Answer(answer=True, about=tuple(dict.fromkeys(about)))
    return unknown or NO


def _met(way: Sequence[Condition], case: Case) -> list[Answer] | None:
    """The answers to conditions that must all hold; None as soon as one surely does not."""
    answers = []
    for condition in way:
        found = _turn(condition, judge(condition, case))
        if found.answer is False:
            return None
        answers.append(found)
    return answers


def _turn(condition: Condition, found: Answer) -> Answer:
    if not condition.turned or found.answer is None:
        return found
    return Answer(not found.answer)


def judge(condition: Condition, case: Case) -> Answer:
    """Judge one condition."""
    if condition.sign:
        return _compared(condition, case)
    if condition.word in JUDGES:
        return JUDGES[condition.word](condition, case)
    return _of_wearer(condition, case)


def is_grown(case: Case) -> bool:
    """Whether somebody whose age was not asked is surely no child."""
    wearer = case.wearer
    return bool(wearer.pregnant or wearer.planning or wearer.breastfeeding)


def _names(parts: tuple[Part, ...] | list[Part]) -> Answer:
    return Answer(answer=True, about=tuple(dict.fromkeys(part.item.name for part in parts))) if parts else NO


def _compared(condition: Condition, case: Case) -> Answer:
    if condition.word == "age":
        months = case.wearer.age_months(case.today)
        if months is None and condition.sign == "<" and condition.bound <= GROWN and is_grown(case):
            return NO
        return Answer(None if months is None else SIGNS[condition.sign](months, condition.bound))
    value = NUMBERS[condition.word](case)
    parts = ABOUT[condition.word](case) if condition.word in ABOUT else ()
    if case.waiting and not (condition.bound == 0 and condition.sign == ">" and value):
        # What is there at all is known, and how much of the whole it is, is not.
        named = tuple(part.item.name for part in parts) if condition.word in NAMED_WHILE_WAITING else ()
        return Answer(None, named, waits=not named)
    if value is None:
        return Answer(None)
    about = tuple(part.item.name for part in parts)
    holds_so_far = SIGNS[condition.sign](value, condition.bound)
    # What has no amount can only make a sum greater: above a bound stays so, and nothing else is sure.
    open_names = tuple(part.item.name for part in parts if not part.measured)
    if condition.word in LITTLE_MATTERS and open_names and not (holds_so_far and condition.sign in (">", ">=")):
        return Answer(None, open_names)
    return Answer(holds_so_far, about)


def _tint(case: Case) -> float:
    return float(max((p.item.appearance.tint for p in case.parts if p.item.appearance and p.high >= 0.1), default=0))


NUMBERS: Mapping[str, Callable[[Case], float | None]] = {
    "oleic": lambda case: case.share_of_acids("18:1n9"),
    "poly": lambda case: case.polyunsaturated(),
    "water": lambda case: case.water,
    "re": lambda case: case.retinol,
    "phototoxicity": lambda case: phototoxicity_of(case).total,
    "scent": lambda case: case.scent_total,
    "tint": _tint,
    "mass": lambda case: case.total_grams,
    "vitamin-e": lambda case: sum(p.high for p in case.parts if p.item.protects and p.item.protects[0] in VITAMIN_E),
}
NAMED_WHILE_WAITING = ("water", "re")  # asks to be settled by its presence, however much the whole will be
# A blob of it may pass the bound; for the others `not-measured` speaks.
LITTLE_MATTERS = ("water", "re", "phototoxicity")
ABOUT: Mapping[str, Callable[[Case], tuple[Part, ...]]] = {
    "water": lambda case: tuple(
        p for p in case.parts if p.item.phase is Phase.WATER or p.key in case.tables.emulsifiers
    ),
    "re": lambda case: tuple(p for p in case.parts if p.key in RETINOL_EQUIVALENT),
    "phototoxicity": lambda case: tuple(each.part for each in phototoxicity_of(case).parts),
    "scent": lambda case: case.scents,
    "tint": lambda case: tuple(p for p in case.parts if p.item.appearance and p.item.appearance.tint >= 8),
    "oleic": lambda case: tuple(p for p in case.oils if _oleic(p) > 0.5),
}


def _oleic(part: Part) -> float:
    acids = part.item.lipid.acids if part.item.lipid else None
    return acids.share_of("18:1n9") if acids else 0.0


def _family(condition: Condition, case: Case) -> Answer:
    found = [p for name in condition.names for p in case.of_family(name) if p.key not in condition.excepting]
    if found:
        return _names(found)
    strangers = case.of_unknown_family()
    return Answer(None, tuple(p.item.name for p in strangers)) if strangers else NO


def _flag(condition: Condition, case: Case) -> Answer:
    known = [(part, case.facts(part)) for part in case.scents]
    found = [part for part, facts in known if facts is not None and set(condition.names) & facts.flags]
    if found:
        return _names(found)
    strangers = tuple(part.item.name for part, facts in known if facts is None)
    return Answer(None, strangers) if strangers else NO


def _has(condition: Condition, case: Case) -> Answer:
    at_most = condition.word == "may-have"
    known = [(part, case.facts(part)) for part in case.scents]
    found = [
        part
        for part, facts in known
        if facts is not None and any(holds(facts, share, at_most=at_most) for share in condition.shares)
    ]
    if found:
        return _names(found)
    strangers = tuple(part.item.name for part, facts in known if facts is None)
    return Answer(None, strangers) if strangers else NO


def holds(scent: ScentFacts, wanted: Share, *, at_most: bool = False) -> bool:
    """Whether a scent holds as much of a constituent as is asked, typically or at most."""
    part = scent.constituents.get(wanted.constituent)
    if part is None:
        return False
    return SIGNS[wanted.sign](part.high if at_most else part.typical, wanted.percent)


def _genus(condition: Condition, case: Case) -> Answer:
    """Plants of a genus, by botanical name or INCI: what is of the family crosses over, whatever it is sold as."""
    wanted = {name.casefold() for name in condition.names}
    return _names(
        [
            part
            for part in case.parts
            if wanted & set(re.findall(r"[a-z]+", f"{part.item.botanical_name} {part.item.inci}".casefold()))
        ]
    )


def _plant(condition: Condition, case: Case) -> Answer:
    """Oils that were infused with a plant of which the table says so."""
    wanted = set(condition.names)
    return _names([part for part in case.parts if wanted & flags_of(part.row.plant, case.tables)])


@lru_cache(maxsize=1024)
def flags_of(plants: str, tables: SafetyTables) -> frozenset[str]:
    """What plants are not for, in a person's words, all of them together."""
    named = [name for words in each_plant(plants) for name in named_plants(words, tables.plants).names]
    return frozenset[str]().union(*(tables.plants[name] for name in named))


def _past(condition: Condition, case: Case) -> Answer:
    wanted = condition.names[0]
    found = []
    for part in case.parts:
        past = part.row.past
        if past is None:
            if wanted == "infused" and part.key == "infused-oil":
                found.append(part)
            continue
        # Of a lot that was warmed before it came here nobody warms anything now.
        heated = not part.item.lot and any(step.celsius > HEATED_FROM for step in past.steps)
        infused = bool(past.steps) or past.fresh_plant or part.key == "infused-oil"
        if {"heated": heated, "fresh": past.fresh_plant, "infused": infused}[wanted]:
            found.append(part)
    return _names(found)


def _text(condition: Condition, case: Case) -> Answer:
    match = condition.pattern.search(case.words) if condition.pattern is not None else None
    return Answer(match is not None, (f"“{match[0].strip()}”",) if match else ())


def _over_law(condition: Condition, case: Case) -> Answer:
    over = [o for o in over_limits(case) if o.limit.law and o.surely and o.limit.name == condition.names[0]]
    return Answer(bool(over), tuple(part.item.name for o in over for part in o.amount.bringers))


def _claim(condition: Condition, case: Case) -> Answer:
    wanted = condition.names[0]
    patterns = [c for c in case.tables.claims if (c.kind if c.kind == "spf" else c.grade) == wanted]
    found = [match[0].strip() for c in patterns if (match := c.pattern.search(case.words))]
    return Answer(bool(found), tuple(f"“{words}”" for words in found))


def _phototoxic(_: Condition, case: Case) -> Answer:
    return _names([each.part for each in phototoxicity_of(case).parts])


def _unsure(_: Condition, case: Case) -> Answer:
    return _names(list(phototoxicity_of(case).unsure))


JUDGES: Mapping[str, Callable[[Condition, Case], Answer]] = {
    "any": lambda _, case: Answer(bool(case.parts)),
    "oils": lambda c, case: Answer(any(p.key not in c.excepting for p in case.oils)),
    "scent": lambda _, case: _names(case.scents),
    "rinsed": lambda _, case: Answer(case.purpose.rinsed),
    "left_on": lambda _, case: Answer(not case.purpose.rinsed),
    "emulsified": lambda _, case: Answer(case.is_emulsified),
    "settles": lambda _, case: _names([p for p in case.parts if p.item.kind == "powder"] if case.settles else []),
    "antioxidant": lambda _, case: _names([p for p in case.parts if p.item.protects]),
    "turned": lambda _, case: Answer(bool(case.turned), case.turned),
    "old-scent": lambda _, case: Answer(bool(case.old_scents), case.old_scents),
    "for-sale": lambda _, case: Answer(case.purpose.for_sale),
    "phototoxic": _phototoxic,
    "phototoxic-unsure": _unsure,
    "family": _family,
    "oil": lambda c, case: _names([p for p in case.parts if p.key in c.names]),
    "kind": lambda c, case: _names([p for p in case.parts if p.item.kind in c.names]),
    "flag": _flag,
    "has": _has,
    "may-have": _has,
    "genus": _genus,
    "product": lambda c, case: Answer(case.purpose.product in c.names),
    "area": lambda c, case: Answer(case.purpose.area in c.names),
    "material": lambda c, case: Answer(case.material in c.names),
    "region": lambda c, case: Answer(case.purpose.region in c.names),
    "plant": _plant,
    "past": _past,
    "text": _text,
    "over-law": _over_law,
    "claim": _claim,
}


TICKS: Mapping[str, Callable[[Case], Ticks]] = {
    "allergy": lambda case: case.allergies,
    "skin": lambda case: case.wearer.conditions,
    "medicine": lambda case: case.wearer.medicines,
    "health": lambda case: case.wearer.health,
    "uses": lambda case: case.wearer.uses,
}


def _of_wearer(condition: Condition, case: Case) -> Answer:
    """What is asked of the wearer; what they did not say is unknown."""
    wearer = case.wearer
    if condition.word in TICKS:
        ticks = TICKS[condition.word](case)
        if "any" in condition.names:
            return Answer(ticks.holds_any(MEDICINES))
        return Answer(ticks.holds(*condition.names))
    if condition.word == "younger-than":
        return _younger(condition.names[0], case)
    if condition.word == "reacted":
        return _names([p for p in case.parts if p.key in wearer.reacted_to])
    return Answer(OF_WEARER[condition.word](case))


OF_WEARER: Mapping[str, Callable[[Case], bool | None]] = {
    "pregnant": lambda case: case.wearer.pregnant,
    "planning": lambda case: case.wearer.planning,
    "breastfeeding": lambda case: case.wearer.breastfeeding,
    "procedure": lambda case: case.wearer.within_procedure(case.today),
    "sensitive": lambda case: _is_sensitive(case.wearer),
    "sun": lambda case: case.wearer.uses.holds("sun"),
    "sunbed": lambda case: case.wearer.uses.holds("sunbed"),
    "anyone": lambda _: True,
    "nobody-named": lambda case: not case.wearer.name,
}


def _is_sensitive(wearer: Wearer) -> bool | None:
    weak = wearer.conditions.holds(*WEAK_SKIN)
    if wearer.sensitive or weak:
        return True
    return None if wearer.sensitive is None or weak is None else False


def _younger(where: str, case: Case) -> Answer:
    months = case.wearer.age_months(case.today)
    limits = []
    for part in case.scents:
        facts = case.facts(part)
        least = None if facts is None else facts.least_age_near_face if where == "face" else facts.least_age
        if least is not None:
            limits.append((part, least))
    if not limits:
        return NO
    if months is None and is_grown(case):
        months = GROWN
    if months is None:
        return Answer(None, tuple(part.item.name for part, _ in limits))
    return _names([part for part, least in limits if months < YEARS * least])
