"""What a wearer's card means on the shelf: which oils stop, warn or suit, and what was never asked."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date

from uptide.core.figures.oil_profile import allergens_of, is_linoleic
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.quick import QuickAnswer
from uptide.core.safety.case import Case
from uptide.core.safety.caution import RANK, Caution, Grade
from uptide.core.safety.check import Safety, check
from uptide.core.safety.judge import evaluate
from uptide.core.safety.person import NOT_UNDERSTOOD, Judged, alone, judge
from uptide.core.safety.tables import SafetyTables
from uptide.core.skin.verdicts import UNSUITED
from uptide.core.skin.wearer import ANYONE, GROUPS, SKINS, Wearer
from uptide.core.skin.whom import Whom

A_BASE = 30.0  # % up to which an oil must be used somewhere to count as a base; policy
INFANT, YEAR = 24.0, 12.0  # months
CARRIERS = frozenset({"carrier", "butter", "ester", "hydrocarbon", "liquid_wax"})
ASKED = {
    "born": "age", "skin": "kind of skin", "sensitive": "sensitive or not", "pregnant": "pregnancy",
    "planning": "planning a pregnancy", "breastfeeding": "breastfeeding", "allergies": "allergies",
    "conditions": "conditions of the skin", "medicines": "medicines", "health": "health", "uses": "habits",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class ApplicableRule:
    """One thing that holds for a wearer: rule, grade, words, and what on the list it is about (empty: all)."""

    rule: str
    grade: Grade
    message: str
    why: str
    items: tuple[Ingredient, ...]


@dataclass(frozen=True, slots=True)
class CardSays:
    """What a card means: what holds, how much scent at most [%] by which limit, what suits, what is unknown.

    `not_understood` are allergies, as typed, that nobody here understands: while there is one, nothing suits.
    """

    applicable_rules: tuple[ApplicableRule, ...]
    scent_most: float | None
    scent_suggested: float | None
    suits: tuple[Ingredient, ...]
    not_asked: tuple[str, ...]
    not_understood: tuple[Caution, ...] = ()


def card_says(wearer: Wearer, items: Iterable[Ingredient], tables: SafetyTables, today: date) -> CardSays:
    """Work out what a card means for single things, each judged by itself and left on the body."""
    judged = [judge(item, wearer, tables, today) for item in items]
    most, suggested = scent_limits(wearer, tables, today)
    found: dict[tuple[str, str], tuple[Caution, list[Ingredient]]] = {}
    for each in judged:
        for caution in each.holds:
            found.setdefault((caution.rule, caution.message), (caution, []))[1].append(each.item)
    applicable_rules = [
        ApplicableRule(
            c.rule, c.grade, message=c.message, why=c.why, items=() if len(about) == len(judged) else tuple(about)
        )
        for c, about in found.values()
    ]
    return CardSays(
        tuple(sorted(applicable_rules, key=lambda each: RANK[each.grade])),
        most,
        scent_suggested=suggested,
        suits=tuple(each.item for each in judged if wearer.skin and suits(each, wearer, today)),
        not_asked=not_asked(wearer),
        not_understood=tuple(c for c in judged[0].cautions if c.rule == NOT_UNDERSTOOD) if judged else (),
    )


def suits(judged: Judged, wearer: Wearer, today: date) -> bool:
    """Whether a thing may be named among what suits somebody: a base that nothing at all speaks against."""
    item = judged.item
    months = wearer.age_months(today)
    weak = bool(wearer.weak_skin) or (months is not None and months < INFANT)
    touchy = bool(wearer.allergies.yes or wearer.other_allergies.strip())
    return bool(
        judged.allowed
        and judged.suits
        and item.kind in CARRIERS
        and (item.use is None or item.use.high >= A_BASE)
        and not (weak and not (is_linoleic(item) or item.kind in ("hydrocarbon", "liquid_wax")))
        and not (touchy and allergens_of(item))  # one allergy to food seldom comes alone
    )


def scent_limits(wearer: Wearer, tables: SafetyTables, today: date) -> tuple[float | None, float | None]:
    """The most and the suggested scent [%] that the wearer's own limits leave; None where none applies."""
    empty = Case((), wearer=wearer, tables=tables, today=today)
    limits = [limit for limit in tables.dose_limits if limit.for_wearer and evaluate(limit.whom, empty).answer]
    return min((limit.most for limit in limits), default=None), min((limit.suggested for limit in limits), default=None)


def not_asked(wearer: Wearer) -> tuple[str, ...]:
    """What was never asked, in words; of a group that was asked in part, what is missing of it."""
    said = []
    for name, words in ASKED.items():
        if name not in GROUPS:
            said += [words] if getattr(wearer, name) in (None, "") else []
            continue
        missing = wearer.not_asked_of(name)
        if len(missing) == len(GROUPS[name]):
            said.append(words)
        elif missing:
            said.append(f"{words} ({', '.join(missing)})")
    return tuple(said)


def single(item: Ingredient, tables: SafetyTables, today: date) -> Safety:
    """What is found of one thing by itself, for anyone, left on the body; a scent as a trace.

    What holds of every oil (broken skin, a procedure) is left out, and so is the usual care.
    """
    found = check(alone(item, ANYONE, tables, today))
    return replace(
        found,
        cautions=tuple(c for c in found.cautions if item.name in c.names),
        not_for=tuple(n for n in found.not_for if item.name in n.about),
    )


def answer_for(item: Ingredient, whom: Whom, tables: SafetyTables, today: date) -> QuickAnswer:
    """Whether one thing suits somebody, in a line: no, with care, yes, or that nothing known stops it."""
    wearer = whom.wearer
    judged = judge(item, wearer, tables, today)
    held = {grade: [each.message for each in judged.holds if each.grade is grade] for grade in Grade}
    missing = not_asked(wearer) if wearer.name else ()
    asked = f"Not asked: {', '.join(missing)}; unknown is never no." if missing else ""
    skin = SKINS.get(wearer.skin, "")
    most, _ = scent_limits(wearer, tables, today)
    scent = f" Scent: {most:g} % at most." if item.phase is Phase.SCENT and most is not None else ""
    facts = tables.scents.get(item.base_key)
    months, least = wearer.age_months(today), facts.least_age_near_face if facts is not None else None
    if months is not None and least is not None and months < YEAR * least:
        scent += f" Near the face: not under {least:g} years."
    burns = facts.phototoxic if facts is not None and wearer.uses.holds("sun", "sunbed") else "no"
    if held[Grade.STOP]:
        verdict, why = f"not {whom.words}", " ".join(held[Grade.STOP])
    elif facts is not None and burns == "yes":
        limit = f"{facts.phototoxic_limit:g} % at most" if facts.phototoxic_limit else "none of it"
        verdict, why = f"not {whom.words}", f"It burns there: {limit} on skin that sees the sun, and none is better."
    elif judged.doubts:
        verdict, why = f"unknown {whom.words}", " ".join(dict.fromkeys(each.message for each in judged.doubts))
    elif burns == "uncertain":
        verdict, why = f"with care {whom.words}", "Nobody is sure whether it burns there: keep that skin covered."
    elif judged.suits is False:
        verdict, why = f"{UNSUITED[wearer.skin]} {whom.words}", f"By itself it does not suit {skin} skin."
        if UNSUITED[wearer.skin] == "light":
            why = f"By itself it is light for {skin} skin; with something richer it serves."
    elif held[Grade.WARN]:
        verdict, why = f"with care {whom.words}", " ".join(held[Grade.WARN]) + scent
    elif judged.suits:
        verdict, why = f"yes, {whom.words}", f"By itself it suits {skin} skin; common practice."
    else:
        notes = " ".join(held[Grade.NOTE])
        verdict, why = (
            f"nothing known stops it {whom.words}",
            f"{notes} The bench checks the whole blend.{scent}".strip(),
        )
    return QuickAnswer(f"{item.name}: {verdict}", why, asked, about=item.key)
