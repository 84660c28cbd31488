"""The room of people: wearers' cards, what they mean on the shelf, and patch tests."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, datetime
from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import ConfigDict, Field

from uptide.core.errors import UptideError
from uptide.core.skin.patch import Outcome
from uptide.core.skin.wearer import ANYONE, GROUPS, SKINS, TONES, Ticks, Wearer
from uptide.formats.people_json import write_people
from uptide.store.people import (
    add_person,
    change_person,
    delete_person,
    list_people,
    load_person,
)
from uptide.store.preferences import led_to, remember_form
from uptide.store.records import Person
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.forms import FieldError, TokenForm, day_of, errors_of, in_field
from uptide.web.base.meanwhile import Both, SeenForm, merged, opened
from uptide.web.base.pages import render
from uptide.web.base.security import check_token, sending
from uptide.web.drawing.view import View
from uptide.web.people.card import SAID, draw_card, ticked_words
from uptide.workshop.clock import today, wall_clock

router = APIRouter(prefix="/people", include_in_schema=False)

LONGEST = {
    "procedure": ("What was done", 200),
    "other_allergies": ("The list of allergies", 400),
    "dislikes": ("The list of dislikes", 400),
    "note": ("The note", 1000),
}
CHOICES = ("sensitive", "pregnant", "planning", "breastfeeding")
YES_NO: Mapping[str, bool | None] = {"": None, "yes": True, "no": False}


class PersonForm(SeenForm):
    """A card as a form.

    Each thing of a group has a field of its own, `allergies-peanut`, that is yes, no or empty for not asked; a group
    that `others` names was asked about, and has none of what is left empty.
    """

    model_config = ConfigDict(extra="allow")

    name: str = ""
    born: str = ""
    skin: str = ""
    sensitive: str = ""
    tone: str = ""
    pregnant: str = ""
    planning: str = ""
    breastfeeding: str = ""
    others: list[str] = Field(default_factory=list)
    procedure_on: str = ""
    procedure: str = ""
    other_allergies: str = ""
    dislikes: str = ""
    note: str = ""

    def said(self, group: str, key: str) -> str:
        """What was said of one thing of a group: yes, no, or nothing."""
        return str((self.model_extra or {}).get(f"{group}-{key}", ""))

    def ticks(self, group: str) -> Ticks:
        """What was asked of a group."""
        rest = "no" if group in self.others else ""
        said = {key: self.said(group, key) or rest for key in GROUPS[group]}
        return Ticks(
            frozenset(key for key, answer in said.items() if answer == "yes"),
            frozenset(key for key, answer in said.items() if answer == "no"),
        )


class PersonLine(View):
    """Somebody as a line of the list."""

    id: int
    name: str
    skin: str
    heed: str
    test: str
    due: bool


def read_form(form: PersonForm) -> Wearer:
    """A card from its form; raise UptideError for a day that is none, or something that is not known or too long."""
    for field, (words, most) in LONGEST.items():
        text = getattr(form, field)
        if len(text) > most:
            raise FieldError(field, f"{words} has {len(text)} characters; up to {most} fit on a card.")
    for field in CHOICES:
        if getattr(form, field) not in YES_NO:
            raise UptideError(f"“{getattr(form, field)}” is no answer to {field}; yes, no or nothing is.")
    with in_field("born"):
        born = _day(form.born, "day of birth")
    with in_field("procedure_on"):
        procedure_on = _day(form.procedure_on, "day of a procedure")
    return Wearer(
        name=form.name,
        born=born,
        skin=form.skin,
        sensitive=YES_NO.get(form.sensitive),
        tone=form.tone,
        pregnant=YES_NO.get(form.pregnant),
        planning=YES_NO.get(form.planning),
        breastfeeding=YES_NO.get(form.breastfeeding),
        procedure_on=procedure_on,
        procedure=form.procedure.strip(),
        other_allergies=form.other_allergies.strip(),
        dislikes=form.dislikes.strip(),
        note=form.note.strip(),
        allergies=form.ticks("allergies"),
        conditions=form.ticks("conditions"),
        medicines=form.ticks("medicines"),
        health=form.ticks("health"),
        uses=form.ticks("uses"),
    )


def _day(text: str, what: str) -> date | None:
    found = day_of(text, what)
    if found is not None and what == "day of birth" and not 0 <= (today() - found).days < 120 * 366:
        raise UptideError(f"{text} cannot be a day of birth; one of the last 120 years can.")
    if found is not None and abs((today() - found).days) > 120 * 366:
        raise UptideError(f"{text} cannot be a {what}; one of this life can.")
    return found


def form_of(wearer: Wearer) -> PersonForm:
    """A card as a form to change."""
    said = {True: "yes", False: "no", None: ""}
    answers = {
        f"{group}-{key}": said[wearer.ticks(group).holds(key)] for group, known in GROUPS.items() for key in known
    }
    plain = PersonForm(
        name=wearer.name,
        born=wearer.born.isoformat() if wearer.born else "",
        skin=wearer.skin,
        sensitive=said[wearer.sensitive],
        tone=wearer.tone,
        pregnant=said[wearer.pregnant],
        planning=said[wearer.planning],
        breastfeeding=said[wearer.breastfeeding],
        procedure_on=wearer.procedure_on.isoformat() if wearer.procedure_on else "",
        procedure=wearer.procedure,
        other_allergies=wearer.other_allergies,
        dislikes=wearer.dislikes,
        note=wearer.note,
    )
    return PersonForm.model_validate(plain.model_dump() | answers)


@router.get("")
def list_all(request: Request, store: Store, said: str = "") -> HTMLResponse:
    """List everybody, with what holds for them and which patch test waits for a look."""
    people = list_people(store)
    now = wall_clock()
    due = [
        (person, test, look)
        for person in people
        for test in person.tests
        if test.outcome is Outcome.RUNNING
        for look in test.looks
        if look.is_due(now)
    ]
    return render(
        request,
        "people/list.html",
        people=[_line(person, now) for person in people],
        due=[(p.id, p.wearer.name, t.blend_name, look.words) for p, t, look in due],
        said=SAID.get(said, ""),
    )


def _line(person: Person, now: datetime) -> PersonLine:
    wearer = person.wearer
    running = [test for test in person.tests if test.outcome is Outcome.RUNNING]
    return PersonLine(
        id=person.id,
        name=wearer.name,
        skin=", ".join(filter(None, [SKINS.get(wearer.skin, ""), "sensitive" if wearer.sensitive else ""])),
        heed="; ".join(ticked_words(wearer)),
        test="; ".join(f"{test.blend_name}, {test.outcome}" for test in running),
        due=any(look.is_due(now) for test in running for look in test.looks),
    )


@router.get(".json")
def everybody_out(store: Store) -> Response:
    """Everybody with everything, as JSON."""
    return _json(write_people(list_people(store), store), "people.json")


@router.get("/new")
def new_person(request: Request) -> HTMLResponse:
    """Show an empty card."""
    return _form(request, form_of(ANYONE), None)


@router.post("")
def create(request: Request, form: Annotated[PersonForm, Form()], store: Store) -> Response:
    """Make a card; a form sent twice makes one."""
    number = sending(request, form)
    known = led_to(store, number)
    if known:
        return RedirectResponse(known, 303)
    try:
        target = f"/people/{add_person(store, read_form(form))}?said=kept"
    except UptideError as error:
        return _form(request, form, None, error)
    remember_form(store, number, target)
    return RedirectResponse(target, 303)


@router.get("/{person_id}.json")
def person_out(person_id: int, store: Store) -> Response:
    """Everything that is kept of somebody, as JSON."""
    return _json(write_people([load_person(store, person_id)], store), f"person-{person_id}.json")


@router.get("/{person_id}")
def show(
    request: Request, person_id: int, store: Store, shelf: OnShelf, said: str = "", blend: int = 0
) -> HTMLResponse:
    """Show a card: what stops, warns and suits, the patch tests, the blends, and what they have."""
    return draw_card(request, load_person(store, person_id), store, shelf, said=SAID.get(said, ""), of_blend=blend)


@router.get("/{person_id}/edit")
def edit(request: Request, person_id: int, store: Store) -> HTMLResponse:
    """Show a card to change."""
    return _form(request, opened(form_of(load_person(store, person_id).wearer)), person_id)


@router.post("/{person_id}")
def change(request: Request, person_id: int, form: Annotated[PersonForm, Form()], store: Store) -> Response:
    """Put a new card on top; the earlier one stays below it."""
    check_token(request, form.token)
    theirs = form_of(load_person(store, person_id).wearer)
    try:
        mine, both = merged(form_of(read_form(form)).model_copy(update={"seen": form.seen}), theirs)
        if both:
            return _form(request, mine, person_id, both=both)
        change_person(store, person_id, read_form(mine))
    except UptideError as error:
        return _form(request, form, person_id, error)
    return RedirectResponse(f"/people/{person_id}?said=kept", 303)


@router.post("/{person_id}/delete")
def delete(request: Request, person_id: int, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Delete a card with everything on it."""
    number = sending(request, form)
    target = led_to(store, f"delete:{number}")
    if target is None:
        delete_person(store, person_id)
        target = "/people?said=deleted"
        remember_form(store, f"delete:{number}", target)
        request.state.wipe = True
    return RedirectResponse(target, 303)


def _form(
    request: Request,
    form: PersonForm,
    person_id: int | None,
    error: UptideError | None = None,
    both: Sequence[Both] = (),
) -> HTMLResponse:
    return render(
        request,
        "people/form.html",
        422 if error or both else 200,
        form=form,
        person_id=person_id,
        problem=str(error or ""),
        both=both,
        errors=errors_of(error),
        groups=GROUPS,
        skins=SKINS,
        tones=TONES,
    )


def _json(text: str, name: str) -> Response:
    return Response(
        text, media_type="application/json", headers={"content-disposition": f'attachment; filename="{name}"'}
    )
