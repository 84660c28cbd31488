"""The room of people: wearers' cards, what they mean on the shelf, and patch tests."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, date, datetime
from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import Field
from sqlalchemy.orm import Session

from uptide.catalogue.load import Catalogue
from uptide.core.blend.assessment import Assessment
from uptide.core.blend.ingredient import Phase
from uptide.core.errors import UptideError
from uptide.core.finder.variants import OF_ALLERGY
from uptide.core.safety.card import CardSays, Heeds, card_says
from uptide.core.safety.caution import Grade
from uptide.core.skin.patch import BEFORE, IF_IT_REACTS, PROTOCOLS, REACTIONS, SITES, WHAT_IT_CANNOT, Outcome, Saw
from uptide.core.skin.wearer import ANYONE, GROUPS, SKINS, TONES, Wearer
from uptide.formats.people_json import contents_of, write_people
from uptide.store.blends import list_blends, load_version
from uptide.store.people import (
    add_person,
    begin_test,
    change_person,
    delete_person,
    end_test,
    list_people,
    load_person,
    made_for,
    note_look,
    suspect,
)
from uptide.store.preferences import led_to, remember_form
from uptide.store.records import PatchTest, Person
from uptide.web.dependencies import Facts, Store
from uptide.web.drawings import View
from uptide.web.pages import day, render
from uptide.web.security import check_token
from uptide.web.sheet import TokenForm
from uptide.web.workshop import assess_here, today

router = APIRouter(prefix="/people", include_in_schema=False)

YES_NO: Mapping[str, bool | None] = {"": None, "yes": True, "no": False}
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


class PersonForm(TokenForm):
    """A card as a form. A group counts as asked when something is ticked or when `asked` names it."""

    name: str = Field("", max_length=200)
    born: str = ""
    skin: str = ""
    sensitive: str = ""
    tone: str = ""
    pregnant: str = ""
    planning: str = ""
    breastfeeding: str = ""
    allergies: list[str] = Field(default_factory=list)
    conditions: list[str] = Field(default_factory=list)
    medicines: list[str] = Field(default_factory=list)
    health: list[str] = Field(default_factory=list)
    uses: list[str] = Field(default_factory=list)
    asked: list[str] = Field(default_factory=list)
    procedure_on: str = ""
    procedure: str = Field("", max_length=200)
    other_allergies: str = Field("", max_length=400)
    dislikes: str = Field("", max_length=400)
    note: str = Field("", max_length=1000)


class TestForm(TokenForm):
    """A patch test to begin: of which version (as `3.2`), how, where, since when."""

    blend: str = ""
    protocol: str = "two-days"
    site: str = SITES[0]
    begun: str = ""
    note: str = Field("", max_length=400)


class LookForm(TokenForm):
    """What was seen."""

    step: int = 0
    saw: Saw = Saw.NOTHING
    note: str = Field("", max_length=400)


class SuspectForm(TokenForm):
    """What of a blend may be to blame."""

    keys: list[str] = Field(default_factory=list)


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


class HeedView(View):
    """A rule that holds for somebody, and what it is about."""

    grade: str
    message: str
    why: str
    named: tuple[tuple[str, str], ...]
    more: tuple[tuple[str, str], ...]


class PersonLine(View):
    """Somebody as a line of the list."""

    id: int
    name: str
    skin: str
    heed: str
    test: str
    due: bool


def read_form(form: PersonForm) -> Wearer:
    """A card from its form; raise UptideError for a day that is none or something that is not known."""
    groups = {
        name: frozenset(ticked) if (ticked := getattr(form, name)) or name in form.asked else None for name in GROUPS
    }
    return Wearer(
        name=form.name,
        born=_day(form.born, "day of birth"),
        skin=form.skin,
        sensitive=YES_NO.get(form.sensitive),
        tone=form.tone,
        pregnant=YES_NO.get(form.pregnant),
        planning=YES_NO.get(form.planning),
        breastfeeding=YES_NO.get(form.breastfeeding),
        procedure_on=_day(form.procedure_on, "day of a procedure"),
        procedure=form.procedure.strip(),
        other_allergies=form.other_allergies.strip(),
        dislikes=form.dislikes.strip(),
        note=form.note.strip(),
        allergies=groups["allergies"],
        conditions=groups["conditions"],
        medicines=groups["medicines"],
        health=groups["health"],
        uses=groups["uses"],
    )


def _day(text: str, what: str) -> date | None:
    try:
        found = date.fromisoformat(text.strip()) if text.strip() else None
    except ValueError as error:
        raise UptideError(f"“{text}” is no {what}; write it as 1990-05-31.") from error
    if found is not None and what == "day of birth" and not 0 <= (today() - found).days < 120 * 366:
        raise UptideError(f"{text} cannot be a day of birth; one of the last 120 years can.")
    return found


def form_of(wearer: Wearer) -> PersonForm:
    """A card as a form to change."""
    said = {True: "yes", False: "no", None: ""}
    groups = {name: sorted(getattr(wearer, name) or ()) for name in GROUPS}
    return PersonForm(
        name=wearer.name,
        born=wearer.born.isoformat() if wearer.born else "",
        skin=wearer.skin,
        sensitive=said[wearer.sensitive],
        tone=wearer.tone,
        pregnant=said[wearer.pregnant],
        planning=said[wearer.planning],
        breastfeeding=said[wearer.breastfeeding],
        asked=[name for name in GROUPS if getattr(wearer, name) is not None],
        procedure_on=wearer.procedure_on.isoformat() if wearer.procedure_on else "",
        procedure=wearer.procedure,
        other_allergies=wearer.other_allergies,
        dislikes=wearer.dislikes,
        note=wearer.note,
        **groups,
    )


@router.get("")
def list_all(request: Request, store: Store, said: str = "") -> HTMLResponse:
    """List everybody, with what holds for them and which patch test waits for a look."""
    people = list_people(store)
    now = wall_clock()
    due = [(person, test, look) for person in people for test in person.tests
           if test.outcome is Outcome.RUNNING for look in test.looks if look.is_due(now)]  # fmt: skip
    return render(
        request,
        "people/list.html",
        people=[_line(person, now) for person in people],
        due=[(p.id, p.wearer.name, t.blend_name, look.words) for p, t, look in due],
        said=SAID.get(said, ""),
    )


def wall_clock() -> datetime:
    """The hour on the wall where this runs, as patch tests are timed by."""
    return datetime.now(UTC).astimezone().replace(tzinfo=None)


def _line(person: Person, now: datetime) -> PersonLine:
    wearer = person.wearer
    running = [test for test in person.tests if test.outcome is Outcome.RUNNING]
    return PersonLine(
        id=person.id,
        name=wearer.name,
        skin=", ".join(filter(None, [SKINS.get(wearer.skin, ""), "sensitive" if wearer.sensitive else ""])),
        heed="; ".join(heed_words(wearer)),
        test="; ".join(f"{test.blend_name}, {test.outcome}" for test in running),
        due=any(look.is_due(now) for test in running for look in test.looks),
    )


def heed_words(wearer: Wearer) -> list[str]:
    """What was ticked on a card, group by group, in words."""
    said = [
        words
        for holds, words in (
            (wearer.pregnant, "pregnant"), (wearer.planning, "planning a pregnancy"),
            (wearer.breastfeeding, "breastfeeding"),
        )
        if holds
    ]  # fmt: skip
    leads = {"allergies": "allergic to ", "medicines": "uses ", "uses": ""}
    for group, known in GROUPS.items():
        ticked = [words for key, words in known.items() if key in (getattr(wearer, group) or ())]
        if ticked:
            said.append(leads.get(group, "") + ", ".join(ticked))
    if wearer.other_allergies:
        said.append(f"allergic to {wearer.other_allergies}")
    return said


@router.get(".json")
def everybody_out(store: Store) -> Response:
    """Everybody with everything, as JSON."""
    return _json(write_people(list_people(store)), "people.json")


@router.get("/new")
def new_person(request: Request) -> HTMLResponse:
    """Show an empty card."""
    return _form(request, form_of(ANYONE), None)


@router.post("")
def create(request: Request, form: Annotated[PersonForm, Form()], store: Store) -> Response:
    """Make a card; a form sent twice makes one."""
    number = f"{check_token(request, form.token)}:{form.name}"
    known = led_to(store, number)
    if known:
        return RedirectResponse(known, 303)
    try:
        target = f"/people/{add_person(store, read_form(form))}?said=kept"
    except UptideError as error:
        return _form(request, form, None, str(error))
    remember_form(store, number, target)
    return RedirectResponse(target, 303)


@router.get("/{person_id}.json")
def person_out(person_id: int, store: Store) -> Response:
    """Everything that is kept of somebody, as JSON."""
    return _json(write_people([load_person(store, person_id)]), f"person-{person_id}.json")


@router.get("/{person_id}")
def show(request: Request, person_id: int, store: Store, facts: Facts, said: str = "") -> HTMLResponse:
    """Show a card: what stops, warns and suits, the patch tests, the blends."""
    return _card(request, load_person(store, person_id), store, facts, said=SAID.get(said, ""))


def _card(
    request: Request, person: Person, store: Session, facts: Catalogue, *, said: str = "", problem: str = ""
) -> HTMLResponse:
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
        ticked=heed_words(person.wearer),
        says=says,
        skin=SKINS.get(person.wearer.skin, ""),
        heeds=[heed_view(each, scents) for each in says.heeds],
        suits=_suits(says, facts),
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
        earlier=[(since, heed_words(card)) for since, card in person.earlier],
        said=said,
        problem=problem,
    )


def heed_view(heeds: Heeds, scents: frozenset[str]) -> HeedView:
    """A rule in words; the first few things by name, and every scent as just that."""
    if {item.key for item in heeds.items} >= scents:
        return HeedView(
            grade=heeds.grade.value, message=f"Every scent. {heeds.rule.message}", why=heeds.rule.why, named=(), more=()
        )
    named = tuple((item.key, item.name) for item in heeds.items)
    return HeedView(
        grade=heeds.grade.value, message=heeds.rule.message, why=heeds.rule.why, named=named[:NAMED], more=named[NAMED:]
    )


def _suits(says: CardSays, facts: Catalogue) -> tuple[tuple[str, str, bool], ...]:
    """What suits, with what is on hand first."""
    found = [(item.key, item.name, item.key in facts.on_hand) for item in says.suits]
    return tuple(sorted(found, key=lambda each: (not each[2], each[1])))


def test_view(test: PatchTest, facts: Catalogue, now: datetime) -> TestView:
    """A patch test in words, with the contents of its blend where it went wrong."""
    looks = tuple(
        LookView(
            step=look.step,
            when=f"{day(look.due)}, {look.due:%H:%M}",
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
        protocol=PROTOCOLS[test.protocol].name,
        site=test.site,
        begun=f"{day(test.begun_at)}, {test.begun_at:%H:%M}",
        note=test.note,
        outcome=test.outcome.value,
        running=test.outcome is Outcome.RUNNING,
        reacted=reacted,
        looks=looks,
        suspects=suspects if reacted else (),
    )


@router.get("/{person_id}/edit")
def edit(request: Request, person_id: int, store: Store) -> HTMLResponse:
    """Show a card to change."""
    return _form(request, form_of(load_person(store, person_id).wearer), person_id)


@router.post("/{person_id}")
def change(request: Request, person_id: int, form: Annotated[PersonForm, Form()], store: Store) -> Response:
    """Put a new card on top; the earlier one stays below it."""
    check_token(request, form.token)
    load_person(store, person_id)
    try:
        change_person(store, person_id, read_form(form))
    except UptideError as error:
        return _form(request, form, person_id, str(error))
    return RedirectResponse(f"/people/{person_id}?said=kept", 303)


@router.post("/{person_id}/delete")
def delete(request: Request, person_id: int, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Delete a card with everything on it."""
    check_token(request, form.token)
    delete_person(store, person_id)
    return RedirectResponse("/people?said=deleted", 303)


@router.post("/{person_id}/tests")
def begin(request: Request, person_id: int, form: Annotated[TestForm, Form()], store: Store, facts: Facts) -> Response:
    """Begin a patch test, unless the blend is stopped for this person: a test lifts no stop."""
    number = f"{check_token(request, form.token)}:{form.model_dump_json()}"
    target = f"/people/{person_id}?said=begun#tests"
    if led_to(store, number) is None:
        person = load_person(store, person_id)
        try:
            blend = _blend_of(form.blend)
            begun = _moment(form.begun)
            may_be_tested(person.wearer, blend, store, facts, person_id)
            begin_test(store, person_id, blend, form.protocol, form.site, begun, contents_of(facts, store, *blend),
                       form.note)  # fmt: skip
        except UptideError as error:
            return _card(request, person, store, facts, problem=str(error))
        remember_form(store, number, target)
    return RedirectResponse(target, 303)


def _blend_of(text: str) -> tuple[int, int]:
    blend, _, version = text.partition(".")
    if not (blend.isdigit() and version.isdigit()):
        raise UptideError("Choose the blend that is tested.")
    return int(blend), int(version)


def _moment(text: str) -> datetime:
    try:
        return datetime.fromisoformat(text).replace(tzinfo=None)
    except ValueError as error:
        raise UptideError(f"“{text}” is no day and hour; write it as 2026-11-25T18:30.") from error


def may_be_tested(wearer: Wearer, blend: tuple[int, int], store: Session, facts: Catalogue, person_id: int) -> None:
    """Refuse a test of what is stopped for somebody, or may hold what they are allergic to.

    Raises:
        UptideError: says which stop holds.
    """
    assessment = assessed_for(blend, store, facts, person_id)
    against = [
        c
        for c in assessment.cautions
        if (c.grade is Grade.STOP and not c.is_answered) or (c.rule in OF_ALLERGY and c.who and not c.is_unknown)
    ]
    if against:
        said = " ".join(f"{c.about}: {c.message}" if c.about else c.message for c in against)
        raise UptideError(
            f"Do not test this on {wearer.name}. {said} A patch test lifts no stop, and a food allergy is never tried "
            "out on skin: ask an allergist."
        )


def assessed_for(blend: tuple[int, int], store: Session, facts: Catalogue, person_id: int) -> Assessment:
    """A version of a blend, checked for somebody whoever it was made for."""
    recipe = replace(load_version(store, *blend).recipe, wearer=person_id)
    return assess_here(recipe, facts, store)


@router.post("/{person_id}/tests/{test_id}/looks")
def look(request: Request, person_id: int, test_id: int, form: Annotated[LookForm, Form()], store: Store) -> Response:
    """Note what was seen."""
    check_token(request, form.token)
    note_look(store, person_id, test_id, form.step, form.saw, form.note)
    said = "reacted" if form.saw in REACTIONS else "looked"
    return RedirectResponse(f"/people/{person_id}?said={said}#test-{test_id}", 303)


@router.post("/{person_id}/tests/{test_id}/end")
def end(request: Request, person_id: int, test_id: int, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Break a test off."""
    check_token(request, form.token)
    end_test(store, person_id, test_id)
    return RedirectResponse(f"/people/{person_id}?said=ended#test-{test_id}", 303)


@router.post("/{person_id}/tests/{test_id}/suspects")
def narrow(
    request: Request, person_id: int, test_id: int, form: Annotated[SuspectForm, Form()], store: Store
) -> Response:
    """Narrow down what somebody reacted to."""
    check_token(request, form.token)
    suspect(store, person_id, test_id, tuple(form.keys))
    return RedirectResponse(f"/people/{person_id}?said=narrowed#test-{test_id}", 303)


def _form(request: Request, form: PersonForm, person_id: int | None, problem: str = "") -> HTMLResponse:
    return render(
        request, "people/form.html", 422 if problem else 200, form=form, person_id=person_id, problem=problem,
        groups=GROUPS, skins=SKINS, tones=TONES,
    )  # fmt: skip


def _json(text: str, name: str) -> Response:
    return Response(text, media_type="application/json",
                    headers={"content-disposition": f'attachment; filename="{name}"'})  # fmt: skip
