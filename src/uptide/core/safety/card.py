"""What a wearer's card means on the shelf: which oils stop, warn or suit, and what was never asked."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date

from uptide.core.blend.ingredient import Ingredient, Phase
from uptide.core.blend.recipe import Row, RowStatus
from uptide.core.finder.portrait import allergens_of, is_linoleic
from uptide.core.measures.lines import Line
from uptide.core.measures.quick import QuickAnswer
from uptide.core.safety.book import Rule, SafetyBook
from uptide.core.safety.case import Case, Part
from uptide.core.safety.caution import Grade
from uptide.core.safety.check import RANK, Safety, check
from uptide.core.safety.dose import evaluate_limit
from uptide.core.safety.judge import evaluate
from uptide.core.safety.words import read_words
from uptide.core.skin.verdicts import UNSUITED, suits_skin
from uptide.core.skin.wearer import SKINS, Wearer
from uptide.core.skin.whom import Whom

FOR_ALL = frozenset({"anyone", "nobody-named"})
A_BASE = 30.0  # % up to which an oil must be used somewhere to count as a base; policy
INFANT, YEAR = 24.0, 12.0  # months
TRACE = 0.01  # % of a scent, so that nothing is said here that depends on how much there is of it
CARRIERS = frozenset({"carrier", "butter", "ester", "hydrocarbon", "liquid_wax"})
ASKED = {
    "born": "age", "skin": "kind of skin", "sensitive": "sensitive or not", "pregnant": "pregnancy",
    "planning": "planning a pregnancy", "breastfeeding": "breastfeeding", "allergies": "allergies",
    "conditions": "conditions of the skin", "medicines": "medicines", "health": "health", "uses": "habits",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Heeds:
    """One rule that holds for a wearer: its grade and words, and what on the list it is about (empty: everything)."""

    rule: Rule
    grade: Grade
    items: tuple[Ingredient, ...]


@dataclass(frozen=True, slots=True)
class CardSays:
    """What a card means: rules that hold, how much scent at most [%] by which limit, what suits, what is unknown."""

    heeds: tuple[Heeds, ...]
    scent_most: float | None
    scent_suggested: float | None
    suits: tuple[Ingredient, ...]
    not_asked: tuple[str, ...]
    in_doubt: frozenset[str] = frozenset()  # keys of things of which it is not known whether a stop or warning holds

    def allows(self, item: Ingredient, skin: str) -> bool | None:
        """Whether nothing stops or warns of a thing and it suits a skin (any, when empty); None when it is unknown."""
        serious = [each for each in self.heeds if each.grade is not Grade.NOTE]
        fits = suits_skin(item, skin) if skin and item.is_fatty else True
        if fits is False or any(not each.items or item in each.items for each in serious):
            return False
        return None if fits is None or item.key in self.in_doubt else True


def card_says(wearer: Wearer, items: Iterable[Ingredient], book: SafetyBook, today: date) -> CardSays:
    """Work out what a card means for single oils, each looked at by itself and left on the body.

    Rules that depend on the whole blend (how much scent, the sun) are for the bench.
    """
    empty = Case((), wearer=wearer, book=book, today=today)
    alone = [(item, _alone(item, empty)) for item in items]
    heeds = []
    stopped: set[str] = set()
    in_doubt: set[str] = set()
    for rule in book.rules:
        if rule.who in FOR_ALL or "region" in rule.who:
            continue
        about, everything = [], "any" in rule.what.split("|")
        for item, case in alone:
            who = evaluate(read_words(rule.who), case).answer
            if not who:
                continue
            if everything:
                break
            held = evaluate(read_words(rule.what), case).answer
            if held:
                about.append(item)
            elif held is None and rule.grade != "note":
                in_doubt.add(item.key)
        holds = evaluate(read_words(rule.who), empty).answer
        if about or (everything and holds):
            heeds.append(Heeds(rule, Grade(rule.grade), tuple(about)))
            stopped |= {item.key for item in about} if rule.grade != "note" else set()
    limits = [limit for limit in book.dose_limits if limit.for_wearer and evaluate_limit(limit, empty)]
    touchy = bool(wearer.allergies or wearer.other_allergies)
    weak = bool({"eczema", "rosacea", "psoriasis", "peeling"} & (wearer.conditions or frozenset()))
    months = wearer.age_months(today)
    weak = weak or (months is not None and months < INFANT)
    fitting = [
        item
        for item, _ in alone
        if (item.use is None or item.use.high >= A_BASE)
        and not (weak and not (is_linoleic(item) or item.kind in ("hydrocarbon", "liquid_wax")))
        and not (touchy and allergens_of(item))  # one allergy to food seldom comes alone
        and wearer.skin
        and item.is_fatty
        and item.kind in CARRIERS
        and item.key not in stopped
        and item.key not in in_doubt
        and suits_skin(item, wearer.skin)
    ]
    return CardSays(
        tuple(sorted(heeds, key=lambda each: RANK[each.grade])),
        min((limit.most for limit in limits), default=None),
        min((limit.suggested for limit in limits), default=None),
        tuple(fitting),
        tuple(words for name, words in ASKED.items() if getattr(wearer, name) in (None, "")),
        frozenset(in_doubt),
    )


def single(item: Ingredient, book: SafetyBook, today: date) -> Safety:
    """What is found of one thing by itself, for anyone, left on the body; a scent as a trace.

    What holds of every oil (broken skin, a procedure) is left out, and so is the usual care.
    """
    found = check(_alone(item, Case((), book=book, today=today)))
    return replace(
        found,
        cautions=tuple(c for c in found.cautions if item.name in c.names),
        not_for=tuple(n for n in found.not_for if item.name in n.about),
    )


def _alone(item: Ingredient, empty: Case) -> Case:
    share = TRACE if item.phase is Phase.SCENT else 100.0
    row = Row(0, item.name, RowStatus.READ, Line(item.name), item, grams=share, percent_mass=share)
    part = Part(row, item, share, share)
    return Case((part,), empty.purpose, empty.wearer, empty.book, empty.today, words=item.name.lower(), wall="PET")


def answer_for(item: Ingredient, whom: Whom, book: SafetyBook, today: date) -> QuickAnswer:
    """Whether one thing suits somebody, in a line: no, with care, yes, or that nothing known stops it."""
    wearer = whom.wearer
    says = card_says(wearer, [item], book, today)
    held = {grade: [each.rule.message for each in says.heeds if each.grade is grade] for grade in Grade}
    asked = f"Not asked: {', '.join(says.not_asked)}; unknown is never no." if wearer.name and says.not_asked else ""
    fits = suits_skin(item, wearer.skin) if wearer.skin and item.is_fatty else None
    skin = SKINS.get(wearer.skin, "")
    scent = (
        f" Scent: {says.scent_most:g} % at most." if item.phase is Phase.SCENT and says.scent_most is not None else ""
    )
    facts = book.scents.get(item.base_key)
    months, least = wearer.age_months(today), facts.least_age_near_face if facts is not None else None
    if months is not None and least is not None and months < YEAR * least:
        scent += f" Near the face: not under {least:g} years."
    burns = facts.sun if facts is not None and {"sun", "sunbed"} & (wearer.uses or frozenset()) else "no"
    if held[Grade.STOP]:
        verdict, why = f"not {whom.words}", " ".join(held[Grade.STOP])
    elif facts is not None and burns == "yes":
        most = f"{facts.sun_limit:g} % at most" if facts.sun_limit else "none of it"
        verdict, why = f"not {whom.words}", f"It burns there: {most} on skin that sees the sun, and none is better."
    elif burns == "uncertain":
        verdict, why = f"with care {whom.words}", "Nobody is sure whether it burns there: keep that skin covered."
    elif fits is False:
        verdict, why = f"{UNSUITED[wearer.skin]} {whom.words}", f"By itself it does not suit {skin} skin."
        if UNSUITED[wearer.skin] == "light":
            why = f"By itself it is light for {skin} skin; with something richer it serves."
    elif item.key in says.in_doubt:
        verdict, why = f"unknown {whom.words}", "Nobody said what it holds: its allergens or its acids are not known."
    elif held[Grade.WARN]:
        verdict, why = f"with care {whom.words}", " ".join(held[Grade.WARN]) + scent
    elif fits:
        verdict, why = f"yes, {whom.words}", f"By itself it suits {skin} skin; common practice."
    else:
        notes = " ".join(held[Grade.NOTE])
        verdict, why = (
            f"nothing known stops it {whom.words}",
            f"{notes} The bench checks the whole blend.{scent}".strip(),
        )
    return QuickAnswer(f"{item.name}: {verdict}", why, asked, about=item.key)
