"""The card of a wearer as a page: what stops, warns and suits, the patch tests, the blends."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Protocol

from fastapi import Request
from fastapi.responses import HTMLResponse
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.keeping.bottle import State
from uptide.core.months import say_day
from uptide.core.safety.card import ASKED, ApplicableRule, card_says
from uptide.core.skin.patch import BEFORE, IF_IT_REACTS, PROTOCOLS, SITES, UNKNOWN, WHAT_IT_CANNOT, Outcome, Saw
from uptide.core.skin.wearer import GROUPS, SKINS, Wearer
from uptide.store.blends import list_blends, load_blend
from uptide.store.bottles import bottles_of_person, worked_of
from uptide.store.people import made_for
from uptide.store.records import PatchTest, Person
from uptide.web.base.pages import render
from uptide.web.drawing.view import View
from uptide.workshop.clock import today, wall_clock
from uptide.workshop.shelf import Shelf
from uptide.workshop.trace import held_batches

NAMED = 8  # things that are named of a rule before the rest is folded away
SAID = {
    "kept": "Kept.",
    "begun": "The test is begun; the times to look stand below.",
    "looked": "Noted.",
    "reacted": "Noted. Wash it off now; what it was tested with is stopped for them from now on.",
    "ended": "Broken off; what was seen stays.",
    "narrowed": "Kept: what is left ticked is stopped for them from now on.",
    "deleted": "The card is deleted, with its earlier entries and patch tests.",
}


class LookView(View):
    """One look of a test."""

    step: int
    when: str
    words: str
    saw: str
    note: str
    state: str  # seen, now, late, later


class TestView(View):
    """A patch test in words."""

    id: int
    blend: str
    href: str
    protocol: str
    site: str
    begun: str
    note: str
    outcome: str
    running: bool
    reacted: bool
    looks: tuple[LookView, ...]
    suspects: tuple[tuple[str, str, bool], ...]


class BeginTest(Protocol):
    """A patch test as somebody typed it."""

    blend: str
    protocol: str
    site: str
    begun: str
    note: str


class NotedLook(Protocol):
    """A look as somebody typed it."""

    step: int
    saw: Saw
    note: str


class RuleView(View):
    """A rule that holds for somebody, and what it is about."""

    grade: str
    message: str
    why: str
    named: tuple[tuple[str, str], ...]
    more: tuple[tuple[str, str], ...]


class HasView(View):
    """A bottle that somebody has: until when it keeps, and what is the matter with it."""

    number: str
    words: str
    until: str
    trouble: str


def _what_they_have(store: Session, shelf: Shelf, person_id: int) -> tuple[HasView, ...]:
    """The bottles that somebody has, the first to end on top."""
    bottles = bottles_of_person(store, person_id)
    held = held_batches(store, shelf) if bottles else {}
    found = []
    for bottle in bottles:
        worked = worked_of(store, bottle.number)
        trouble = [f"do not use it: {held[bottle.batch]}"] if bottle.batch in held else []
        trouble += ["it smelled off"] if bottle.state is State.OFF else []
        trouble += [f"a reaction on {say_day(each.on)}" for each in bottle.reactions]
        is_past = worked.ends_on is not None and worked.ends_on <= today()
        until = say_day(worked.ends_on) if worked.ends_on is not None else "not known"
        found.append(
            HasView(
                number=bottle.number,
                words=f"{load_blend(store, bottle.blend_id).name}, {bottle.size_ml:g} mL",
                until=f"past {until}: test it" if is_past else f"until {until}",
                trouble="; ".join(trouble),
            )
        )
    return tuple(found)


def ticked_words(wearer: Wearer) -> list[str]:
    """What was ticked on a card, group by group, in words."""
    said = [
        words
        for holds, words in (
            (wearer.pregnant, "pregnant"),
            (wearer.planning, "planning a pregnancy"),
            (wearer.breastfeeding, "breastfeeding"),
        )
        if holds
    ]
    leads = {"allergies": "allergic to ", "medicines": "uses ", "uses": ""}
    for group, known in GROUPS.items():
        ticked = [words for key, words in known.items() if key in wearer.ticks(group).yes]
        if ticked:
            said.append(leads.get(group, "") + ", ".join(ticked))
    if wearer.other_allergies:
        said.append(f"allergic to {wearer.other_allergies}")
    return said


def draw_card(
    request: Request,
    person: Person,
    store: Session,
    shelf: Shelf,
    *,
    said: str = "",
    problem: str = "",
    begin: BeginTest | None = None,
    look: NotedLook | None = None,
    of_blend: int = 0,
) -> HTMLResponse:
    """Draw somebody's card; with a problem it is the answer to a form that was refused, which keeps what was typed.

    `of_blend` is the number of a blend that is to be tested, where somebody reacted to it.
    """
    facts = shelf.facts
    scents = frozenset(key for key, item in facts.ingredients.items() if item.phase is Phase.SCENT and not item.lot)
    shipped = [item for item in facts.ingredients.values() if not item.lot]
    says = card_says(person.wearer, shipped, facts.safety, today())
    now = wall_clock()
    return render(
        request,
        "people/card.html",
        422 if problem else 200,
        person=person,
        wearer=person.wearer,
        age=person.wearer.age_words(today()),
        ticked=ticked_words(person.wearer),
        says=says,
        has=_what_they_have(store, shelf, person.id),
        skin=SKINS.get(person.wearer.skin, ""),
        half_asked=tuple(ASKED[name] for name in person.half_asked),
        applicable_rules=[rule_view(each, scents) for each in says.applicable_rules],
        suits=says.suits,
        suits_here=_named(item for item in says.suits if item.key in facts.on_hand),
        suits_else=_named(item for item in says.suits if item.key not in facts.on_hand),
        tests=[test_view(test, facts, now) for test in reversed(person.tests)],
        made=made_for(store, person.id),
        blends=[(blend.id, blend.versions, blend.name) for blend in list_blends(store)],
        protocols=PROTOCOLS.values(),
        sites=SITES,
        before=BEFORE,
        if_it_reacts=IF_IT_REACTS,
        cannot=WHAT_IT_CANNOT,
        seen=[each.value for each in Saw],
        now=now.strftime("%Y-%m-%dT%H:%M"),
        earlier=[(since, ticked_words(card)) for since, card in person.earlier],
        said=said,
        problem=problem,
        begin=begin,
        of_blend=of_blend,
        look=look,
    )


def rule_view(applicable_rules: ApplicableRule, scents: frozenset[str]) -> RuleView:
    """A rule in words; the first few things by name, and every scent as just that."""
    if applicable_rules.items and {item.key for item in applicable_rules.items} >= scents:
        return RuleView(
            grade=applicable_rules.grade.value,
            message=f"Every scent. {applicable_rules.message}",
            why=applicable_rules.why,
            named=(),
            more=(),
        )
    named = tuple((item.key, item.name) for item in applicable_rules.items)
    return RuleView(
        grade=applicable_rules.grade.value,
        message=applicable_rules.message,
        why=applicable_rules.why,
        named=named[:NAMED],
        more=named[NAMED:],
    )


def _named(items: Iterable[Ingredient]) -> tuple[tuple[str, str], ...]:
    """Keys and names, by name."""
    return tuple(sorted(((item.key, item.name) for item in items), key=lambda each: each[1]))


def test_view(test: PatchTest, facts: Catalogue, now: datetime) -> TestView:
    """A patch test in words, with the contents of its blend where it went wrong."""
    looks = tuple(
        LookView(
            step=look.step,
            when=f"{say_day(look.due)}, {look.due:%H:%M}",
            words=look.words,
            saw=look.saw.value if look.saw else "",
            note=look.note,
            state="seen" if look.saw else "late" if look.is_late(now) else "now" if look.is_due(now) else "later",
        )
        for look in test.looks
    )
    reacted = test.outcome is Outcome.REACTED
    suspects = tuple(
        (key, facts.ingredients[key].name if key in facts.ingredients else key, True) for key in test.suspects
    )
    return TestView(
        id=test.id,
        blend=f"{test.blend_name}, version {test.version}",
        href=f"/blends/{test.blend_id}/versions/{test.version}",
        protocol=PROTOCOLS.get(test.protocol, UNKNOWN).name,
        site=test.site,
        begun=f"{say_day(test.begun_at)}, {test.begun_at:%H:%M}",
        note=test.note,
        outcome=test.outcome.value,
        running=test.outcome is Outcome.RUNNING,
        reacted=reacted,
        looks=looks,
        suspects=suspects if reacted else (),
    )
