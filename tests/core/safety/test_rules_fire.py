"""Every row of the table of cautions fires: a case is made from its own words, for each of its alternatives."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import date, timedelta
from functools import lru_cache
from random import Random
from typing import Any

import pytest
from hypothesis import Phase, find, settings
from hypothesis.strategies import from_regex
from tests.core.safety.conftest import FACTS, TODAY, case_of
from tests.core.safety.test_worked_examples import ADULT

from uptide.core.ingredients.ingredient import LotPast
from uptide.core.oxidation.history import HeatStep
from uptide.core.safety.case import Case, Part
from uptide.core.safety.check import check
from uptide.core.safety.judge import holds
from uptide.core.safety.tables import Rule
from uptide.core.safety.words import Condition
from uptide.core.skin.wearer import ANYONE, Ticks, Wearer

TABLES = FACTS.safety
WAYS = [
    (f"{rule.key}-{i}-{j}", rule, what, who)
    for rule in TABLES.rules
    for i, what in enumerate(rule.what)
    for j, who in enumerate(rule.who)
]
OF_A_WEARER = [way for way in WAYS if not {c.word for c in way[3]} & {"anyone", "nobody-named", "region"}]
# On the card itself: nothing there means that nothing happened.
NEVER_UNKNOWN = {"reacted", "procedure"}
ASKED = [way for way in OF_A_WEARER if not {c.word for c in way[3]} & NEVER_UNKNOWN]


def each(ways: list[tuple[str, Rule, tuple[Condition, ...], tuple[Condition, ...]]]) -> pytest.MarkDecorator:
    return pytest.mark.parametrize(("rule", "what", "who"), [w[1:] for w in ways], ids=[w[0] for w in ways])


SHARE_OF = {"scent": "lavender", "antioxidant": "mixed-tocopherols", "phototoxic": "bergamot",
            "phototoxic-unsure": "opopanax", "emulsified": "polysorbate-80"}  # fmt: skip
BASES = {"oleic": "olive", "poly": "grapeseed"}
# Genera that a thing is known by under its INCI name alone.
GENERA = {"Anthemis": "chamomile-hydrosol", "Chamomilla": "chamomile-german"}
GROUPS = {"allergy": "allergies", "skin": "conditions", "medicine": "medicines", "health": "health", "uses": "uses"}


def first(wanted: Any) -> str:
    return next(key for key, item in FACTS.ingredients.items() if wanted(key, item))


def scent_that(wanted: Any) -> str:
    return next(key for key, facts in TABLES.scents.items() if wanted(facts))


@lru_cache
def text_for(pattern: re.Pattern[str]) -> str:
    """A text that a pattern finds, the same in every run."""
    plain = from_regex(pattern.pattern.lower(), alphabet="abcdefghijklmnopqrstuvwxyz 0123456789-.%°&’'")
    # Only made, not made short: that would take most of the time.
    quick = settings(phases=[Phase.generate], database=None, max_examples=500)
    return find(plain, lambda text: pattern.search(text.lower()) is not None, settings=quick, random=Random(1))  # noqa: S311 - nothing secret


class Maker:
    """Puts together a case that meets conditions."""

    def __init__(self) -> None:
        self.shares: dict[str, float] = {}
        self.base, self.product, self.material = "sunflower-high-oleic", "body-oil", "PET"
        self.words: list[str] = []
        self.use: dict[str, Any] = {}
        self.changes: dict[str, Any] = {}
        self.past: LotPast | None = None
        self.plant = ""
        self.wearer = ADULT
        self.phototoxicity: list[Condition] = []

    def meet(self, condition: Condition) -> None:
        word = condition.word
        if condition.turned:
            assert word in ("oils", "emulsified"), condition
            self.base = "" if word == "oils" else self.base
        elif condition.sign:
            self._number(condition)
        elif word in SHARE_OF:
            self.shares[SHARE_OF[word]] = 1.0
        elif word in ("oil", "family", "kind", "flag", "has", "may-have", "genus", "over-law"):
            self._scent_or_oil(word, condition)
        elif word in ("product", "area", "rinsed", "material", "for-sale", "region"):
            self._use(word, condition.names)
        elif word == "plant":
            self.plant = next(name for name, flags in TABLES.plants.items() if set(condition.names) & flags)
        elif word in ("text", "claim", "past", "turned", "old-scent"):
            self._said(word, condition)
        elif word == "settles":
            self.shares["kaolin"] = 5.0
            self.changes["settles"] = True
        elif word not in ("any", "oils", "left_on"):
            self._wear(condition)

    def _use(self, word: str, names: tuple[str, ...]) -> None:
        if word == "material":
            self.material = names[0]
        elif word in ("for-sale", "region"):
            self.use |= {"for_sale": True} if word == "for-sale" else {"region": names[0]}
        else:
            fitting = [
                key
                for key, p in FACTS.products.items()
                if {"product": key, "area": p.area}.get(word, "") in names or (word == "rinsed" and not p.left_on)
            ]
            self.product = self.product if self.product in fitting else fitting[0]

    def _said(self, word: str, condition: Condition) -> None:
        names = condition.names
        if condition.pattern is not None:
            self.words.append(text_for(condition.pattern))
        elif word == "claim":
            self.words.append(text_for(next(c.pattern for c in TABLES.claims if names[0] in (c.kind, c.grade))))
        elif word == "past":
            heated = (HeatStep(60.0, 4.0),) if names[0] in ("heated", "infused") else ()
            self.past = LotPast(steps=heated, fresh_plant=names[0] == "fresh")
        else:
            self.changes["turned" if word == "turned" else "old_scents"] = ("Lemon",)

    def _number(self, condition: Condition) -> None:
        word, bound = condition.word, condition.bound
        if word == "age":
            months = bound / 2 if condition.sign == "<" else bound + 12
            self.wearer = replace(self.wearer, born=TODAY - timedelta(days=30.4375 * months))
        elif word == "phototoxicity":
            self.phototoxicity.append(condition)
        elif word in BASES:
            self.base = BASES[word]
        elif word == "mass":
            self.changes["total_grams"] = bound + 1
        elif word == "tint":
            self.shares[first(lambda _, i: i.appearance is not None and i.appearance.tint >= bound)] = 1.0
        elif condition.sign in (">", ">="):
            key = {"water": "aloe-gel", "re": "retinol", "scent": "lavender", "vitamin-e": "mixed-tocopherols"}[word]
            self.shares[key] = bound + 0.1

    def _scent_or_oil(self, word: str, condition: Condition) -> None:
        if condition.shares:
            wanted = condition.shares[0]
            self.shares[scent_that(lambda s: holds(s, wanted, at_most=word == "may-have"))] = 0.5
            return
        name = condition.names[0]
        if word == "oil":
            self.shares[name] = 1.0
        elif word == "family":
            key = first(lambda k, i: i.allergen_family == name and k not in condition.excepting)
            self.shares[key] = 5.0
        elif word == "kind":
            self.shares[first(lambda _, i: i.kind == name)] = 5.0
        elif word == "flag":
            self.shares[scent_that(lambda s: name in s.flags)] = 0.5
        elif word == "genus":
            self.shares[GENERA.get(name) or first(lambda _, i: i.botanical_name.startswith(name))] = 0.5
        else:
            most = max(
                TABLES.scents.values(), key=lambda s: s.constituents[name].typical if name in s.constituents else 0
            )
            self.shares[most.key] = 40.0

    def _wear(self, condition: Condition) -> None:
        word, names = condition.word, condition.names
        if word in GROUPS:
            self.wearer = self.wearer.with_ticks(GROUPS[word], "other" if names[0] == "any" else names[0])
        elif word in ("sun", "sunbed"):
            self.wearer = replace(self.wearer, uses=Ticks(frozenset({word})))
        elif word == "procedure":
            self.wearer = replace(self.wearer, procedure_on=TODAY)
        elif word == "younger-than":
            young = scent_that(lambda s: (s.least_age if names[0] == "any" else s.least_age_near_face) not in (None, 0))
            self.shares[young] = 0.5
            self.wearer = replace(self.wearer, born=TODAY - timedelta(days=40))
        elif word == "reacted":
            self.wearer = replace(self.wearer, reacted_to=frozenset({self.base}))
        elif word == "nobody-named":
            self.wearer = ANYONE
        elif word != "anyone":
            said: dict[str, Any] = {word: True}
            self.wearer = replace(self.wearer, **said)

    def case(self, wearer: Wearer | None = None) -> Case:
        if self.phototoxicity:
            low = max((c.bound for c in self.phototoxicity if c.sign == ">"), default=0.0)
            high = min((c.bound for c in self.phototoxicity if c.sign == "<="), default=low + 0.5)
            limit = TABLES.scents["lemon"].phototoxic_limit
            assert limit is not None
            self.shares["lemon"] = limit * (low + high) / 2
        made = case_of(
            self.shares,
            self.product,
            wearer or self.wearer,
            base=self.base,
            words=" ".join(self.words),
            material=self.material,
            **self.use,
        )
        made = replace(made, **self.changes)
        if self.past is None and not self.plant:
            return made
        said: dict[str, Any] = {"past": self.past, "plant": self.plant}
        parts = tuple(Part(replace(p.row, **said), p.item, p.typical, p.high) for p in made.parts)
        return replace(made, parts=parts)


def made_of(rule: Rule, what: tuple[Condition, ...], who: tuple[Condition, ...]) -> Maker:
    maker = Maker()
    for condition in (*what, *who):
        maker.meet(condition)
    return maker


@each(WAYS)
def test_a_caution_fires_for_each_of_its_alternatives(
    rule: Rule, what: tuple[Condition, ...], who: tuple[Condition, ...]
) -> None:
    maker = made_of(rule, what, who)
    fired = {c.rule: c for c in check(maker.case()).cautions}

    assert rule.key in fired
    caution = fired[rule.key]
    assert (caution.grade.value, caution.message) == (rule.grade, rule.message)
    assert not caution.is_unknown
    assert caution.source == rule.source
    assert caution.answerable == rule.answerable
    assert caution.who == (maker.wearer.name if rule.is_personal else "")


@each(OF_A_WEARER)
def test_it_does_not_fire_for_somebody_who_was_asked_and_has_none_of_it(
    rule: Rule, what: tuple[Condition, ...], who: tuple[Condition, ...]
) -> None:
    maker = made_of(rule, what, who)

    assert rule.key not in {c.rule for c in check(maker.case(wearer=ADULT)).cautions}


@each(ASKED)
def test_what_was_never_asked_is_said_to_be_unknown(
    rule: Rule, what: tuple[Condition, ...], who: tuple[Condition, ...]
) -> None:
    maker = made_of(rule, what, who)
    unasked = check(maker.case(wearer=Wearer("Tove"))).cautions
    anyone = check(maker.case(wearer=ANYONE))

    assert [c.is_unknown for c in unasked if c.rule == rule.key] == [True]
    assert rule.key in {n.rule for n in anyone.not_for} | {c.rule for c in anyone.cautions}


def test_a_plain_oil_for_a_healthy_adult_raises_nothing_but_the_usual_care() -> None:
    plain = check(case_of({}, wearer=ADULT, base="sunflower-high-oleic"))

    assert [c.rule for c in plain.cautions] == ["usual-care"]
    assert plain.not_for == ()
    assert plain.open_stops == ()


def test_rules_are_of_every_grade_and_each_can_be_told_by_its_key() -> None:
    assert len({rule.key for rule in TABLES.rules}) == len(TABLES.rules) >= 130
    assert {rule.grade for rule in TABLES.rules} == {"stop", "warn", "note"}


def test_the_day_of_a_limit_is_read_by_months() -> None:
    two = replace(ADULT, born=date(2024, 11, 25))
    almost = replace(ADULT, born=date(2024, 11, 28))

    assert two.age_months(TODAY) == pytest.approx(24.0, abs=0.05)
    assert "bath-child" not in {c.rule for c in check(case_of({"lavender": 1.0}, "bath-oil-floating", two)).cautions}
    assert "bath-child" in {c.rule for c in check(case_of({"lavender": 1.0}, "bath-oil-floating", almost)).cautions}
