"""Judge a thing for a person: the one place where what is in a bottle meets what is known of who wears it.

The bench judges a whole blend, and the card, the shelf, the quick line and all that proposes an oil judge one thing by
itself; both by `of_person`.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property, lru_cache

from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.lines import Line
from uptide.core.recipe.recipe import Row, RowStatus
from uptide.core.safety.case import Case, Part
from uptide.core.safety.caution import Caution, Grade
from uptide.core.safety.firing import Fired, fire, meet
from uptide.core.safety.judge import Answer, evaluate
from uptide.core.safety.tables import Rule, SafetyTables
from uptide.core.safety.words import asks_for
from uptide.core.skin.verdicts import suits_skin
from uptide.core.skin.wearer import ANYONE, Wearer

TRACE = 0.01  # % of a scent, so that nothing is said here that depends on how much there is of it
NAMED, NOT_UNDERSTOOD = "named-allergy", "allergy-not-understood"


def of_person(case: Case, held: Iterable[tuple[Rule, Answer]] | None = None) -> Fired:
    """Everything that depends on who wears it: the rules, the allergies and dislikes in their own words.

    `held` are the rules whose thing is in the case, where that was found out before.
    """
    fired = meet(held, case) if held is not None else fire(case.tables.personal_rules, case)
    return Fired((*fired.cautions, *_of_allergies(case), *_of_dislikes(case)), fired.not_for)


def _of_allergies(case: Case) -> Iterator[Caution]:
    for named in case.named_allergies:
        held = [part.item.name for part in case.parts if named.names(part.item, case.facts(part))]
        if held:
            yield Caution(
                NAMED,
                Grade.STOP,
                tuple(dict.fromkeys(held)),
                f"“{named.said}” is named as an allergy.",
                who=case.wearer.name,
                source="person",
                remedy="Take it out.",
                confidence="high",
            )
        unknown = [part.item.name for part in case.scents if named.may_hold(part.item, case.facts(part))]
        if unknown:
            yield Caution(
                NAMED,
                Grade.WARN,
                tuple(dict.fromkeys(unknown)),
                f"Unknown: nobody knows whether it holds “{named.said}”, which is named as an allergy.",
                who=case.wearer.name,
                source="person",
                remedy="Take one that is known.",
                is_unknown=True,
            )
        if not named.understood:
            yield Caution(
                NOT_UNDERSTOOD,
                Grade.WARN,
                (),
                f"“{named.said}” is named as an allergy and not understood here: ask what it is, and look for it in "
                "every ingredient.",
                who=case.wearer.name,
                source="person",
                is_unknown=True,
                remedy="Write it on the card as a plant, an oil, a constituent or a food.",
            )


def _of_dislikes(case: Case) -> Iterator[Caution]:
    for named in case.dislikes:
        held = [part.item.name for part in case.parts if named.names(part.item, case.facts(part))]
        if held:
            yield Caution(
                "dislike",
                Grade.NOTE,
                tuple(dict.fromkeys(held)),
                f"“{named.said}” is not liked.",
                who=case.wearer.name,
                source="person",
                remedy="Take it out.",
                confidence="high",
            )


@dataclass(frozen=True)
class Heeded:
    """What is to be heeded of something: what holds, what may hold, and how grave it is.

    `allergy_rules` are the rules that ask about an allergy: of those a doubt counts though it is the wearer's.
    """

    cautions: tuple[Caution, ...]
    allergy_rules: frozenset[str]

    @cached_property
    def holds(self) -> tuple[Caution, ...]:
        """What surely holds."""
        return tuple(c for c in self.cautions if not c.is_unknown)

    @cached_property
    def doubts(self) -> tuple[Caution, ...]:
        """What may hold and counts: what it is made of is not known, or nobody asked about an allergy to it.

        Whatever else was not asked holds for every oil alike, and the card lists it.
        """
        return tuple(
            c
            for c in self.cautions
            if c.is_unknown
            and c.grade_if_so is not Grade.NOTE
            and (not c.asks_wearer or (c.who and c.rule in self.allergy_rules))
        )

    @property
    def grade(self) -> Grade | None:
        """The gravest of what surely holds."""
        held = {c.grade for c in self.holds}
        return next((grade for grade in Grade if grade in held), None)


@dataclass(frozen=True)
class Judged(Heeded):
    """One thing by itself for one person: what is to be heeded, and whether it suits their skin.

    `suits` is None where the kind of skin was not said, or nobody knows how the thing feels.
    """

    item: Ingredient
    suits: bool | None

    @property
    def allowed(self) -> bool | None:
        """Whether nothing stops it or warns of it, and it suits the skin that was said; None when that is unknown."""
        if self.grade in (Grade.STOP, Grade.WARN) or self.suits is False:
            return False
        return None if self.doubts else True


def judge(item: Ingredient, wearer: Wearer, tables: SafetyTables, today: date) -> Judged:
    """Judge one thing by itself for a person, left on the body; a scent as a trace.

    Rules that depend on the whole blend (how much scent, the sun) are for the bench.
    """
    fits = suits_skin(item, wearer.skin) if wearer.skin and item.is_fatty else None
    fired = of_person(alone(item, wearer, tables, today), _held_by(item, tables))
    return Judged(fired.cautions, allergy_rules(tables), item=item, suits=fits)


@lru_cache(maxsize=4096)
def _held_by(item: Ingredient, tables: SafetyTables) -> tuple[tuple[Rule, Answer], ...]:
    """The rules about a wearer whose thing an item is or may be: the same whoever wears it."""
    case = alone(item, ANYONE, tables, date.min)
    found = ((rule, evaluate(rule.what, case)) for rule in tables.personal_rules)
    return tuple((rule, what) for rule, what in found if what.answer is not False)


@lru_cache(maxsize=16)
def allergy_rules(tables: SafetyTables) -> frozenset[str]:
    """The rules that ask about an allergy."""
    return frozenset(rule.key for rule in tables.rules if asks_for(rule.who, "allergy")) | {NAMED, NOT_UNDERSTOOD}


def alone(item: Ingredient, wearer: Wearer, tables: SafetyTables, today: date, percent: float = 100.0) -> Case:
    """A case of nothing but one thing, in plastic, for no product in particular; a mixture is unfolded."""
    share = TRACE if item.phase is Phase.SCENT else percent
    row = Row(
        0,
        item.name,
        status=RowStatus.READ,
        line=Line(item.name),
        ingredient=item,
        grams=share,
        percent_mass=share,
        past=item.past,
    )
    parts = tuple(
        Part(replace(row, plant=part.infused_with), part, share * held, share * held)
        for part, held in item.parts or ((item, 1.0),)
    )
    words = "\n".join((item.name, item.infused_with, *(part.row.plant for part in parts), item.said)).lower()
    return Case(parts, wearer=wearer, tables=tables, today=today, words=words, material="PET")
