"""Jars under way: begun from a plan, followed by notes, strained, binned or put away; nothing of them is deleted."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import Field

from uptide.core.errors import QuantityError, UptideError
from uptide.core.infusion.following import BEFORE, EARLIEST, ENDS, JarNote, JarUnderWay, NoteKind, may_begin_on
from uptide.core.infusion.plan import JarAsk
from uptide.store.jars import Jar, add_note, begin_jar, load_jar, remove_note
from uptide.store.preferences import led_to, remember_form
from uptide.store.readings import take_thermometer_out
from uptide.web.base.dependencies import Facts, OnShelf, Store
from uptide.web.base.forms import FieldError, TokenForm, day_of, in_field, number_of
from uptide.web.base.security import check_token, sending
from uptide.web.steeping.jar_form import JarForm, read_jar
from uptide.web.steeping.jar_page import LONGEST_WORDS, NoteForm, draw_jar
from uptide.web.steeping.jar_views import jars_today
from uptide.web.steeping.plan import draw_plan
from uptide.workshop.clock import today
from uptide.workshop.jars import ask_to_json, jar_today, lots_poured_on, pour_on
from uptide.workshop.trace import refuse_held

router = APIRouter(prefix="/steeping/jars", include_in_schema=False)

SAID = {
    "begun": "Begun.",
    "noted": "Noted.",
    "unnoted": "Taken out of the account.",
    "read": "Noted.",
    "unread": "Taken out of the account.",
}


class BeginForm(JarForm):
    """A jar that is begun: the plan as its form says it, the day, and a name."""

    token: str = ""
    begun_on: str = Field("", max_length=12)
    name: str = Field("", max_length=120)


@router.post("")
def begin(request: Request, form: Annotated[BeginForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Begin a jar as it is planned; a form sent twice begins one."""
    number = sending(request, form)
    target = led_to(store, number)
    facts = shelf.facts
    if target is None:
        asked = JarForm.model_validate(form.model_dump(exclude={"token", "begun_on", "name"}))
        try:
            jar = read_jar(asked, facts)
            refuse_held(store, shelf, (code for code, _ in lots_poured_on(jar)))
            begun = begun_on(form.begun_on)
        except UptideError as error:
            return draw_plan(request, facts, store, asked, begin_problem=str(error), begun_on=form.begun_on)
        name = form.name.strip() or usual_name(jar)
        jar_id = begin_jar(store, name, begun, ask_to_json(jar))
        pour_on(store, jar_id, name, jar)
        target = f"/steeping/jars/{jar_id}?said=begun"
        remember_form(store, number, target)
    return RedirectResponse(target, 303)


def usual_name(jar: JarAsk) -> str:
    """What a jar is called that nobody named: its plants in its oil."""
    plants = " and ".join(dict.fromkeys([jar.plant.name, *(each.plant.name for each in jar.also)]))
    return f"{plants} in {jar.oil.name[:1].lower()}{jar.oil.name[1:]}"


def begun_on(text: str) -> date:
    """The day that is said, today where none is; raise QuantityError for one on which no jar was begun."""
    day = day_of(text, "day") or today()
    if not may_begin_on(day, today()):
        raise QuantityError(
            f"{text} is no day on which a jar was begun; one of the last ten years can be, up to today."
        )
    return day


@router.get(".ics")
def feed(store: Store, facts: Facts) -> Response:
    """All jars under way as a calendar; a calendar program can ask for this address again and again."""
    return _calendar(jars_today(store, facts), "steeping.ics")


@router.get("/{jar_id}.ics")
def calendar(jar_id: int, store: Store, facts: Facts) -> Response:
    """One jar as a calendar file."""
    jar = load_jar(store, jar_id)
    return _calendar([(jar, jar_today(jar, facts, today()))], f"jar-{jar_id}.ics")


def _calendar(jars: list[tuple[Jar, JarUnderWay | None]], name: str) -> Response:
    from uptide.formats.calendar_ics import write_calendar  # with its rules of time: few starts need them

    content = write_calendar((jar.id, jar.name, under_way) for jar, under_way in jars if under_way is not None)
    how = {"content-disposition": f'inline; filename="{name}"'}
    return Response(content, media_type="text/calendar; charset=utf-8", headers=how)


@router.get("/{jar_id}")
def show(request: Request, jar_id: int, store: Store, facts: Facts, said: str = "") -> HTMLResponse:
    """Show a jar: how it stands, what is due, what was noted, and the plan behind it."""
    return draw_jar(request, load_jar(store, jar_id), store, facts, said=SAID.get(said, ""))


@router.post("/{jar_id}/notes")
def note(request: Request, jar_id: int, form: Annotated[NoteForm, Form()], store: Store, facts: Facts) -> Response:
    """Note something of a jar; what cannot be read stands beside its field, and nothing typed is lost."""
    number = sending(request, form)
    target = f"/steeping/jars/{jar_id}?said=noted"
    if led_to(store, number) is None:
        jar = load_jar(store, jar_id)
        try:
            noted = note_said(form, jar.begun_on)
        except UptideError as error:
            return draw_jar(request, load_jar(store, jar_id), store, facts, noting=form, error=error)
        add_note(store, jar_id, noted)
        if noted.kind in ENDS:
            take_thermometer_out(store, jar_id)
        remember_form(store, number, target)
    return RedirectResponse(target, 303)


def note_said(form: NoteForm, begun_on: date) -> JarNote:
    """Read a note; raise an UptideError that says what was wrong, what was found and what can be."""
    if form.kind not in {kind.value for kind in NoteKind}:
        raise FieldError("kind", f"“{form.kind}” cannot be noted; known are {', '.join(NoteKind)}.")
    if len(form.words) > LONGEST_WORDS:
        raise FieldError("words", f"This has {len(form.words)} characters; up to {LONGEST_WORDS} fit.")
    with in_field("on"):
        kind = NoteKind(form.kind)
        earliest = begun_on - EARLIEST if kind in BEFORE else begun_on
        on = day_of(form.on, "day", earliest=earliest, latest=today()) or today()
    with in_field("grams"):
        grams = number_of(form.grams, "weight in grams", most=100_000) if form.grams.strip() else None
        return JarNote(on, kind, grams, form.words.strip())


@router.post("/{jar_id}/notes/{note_id}/remove")
def unnote(request: Request, jar_id: int, note_id: int, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Take a note out of the account."""
    check_token(request, form.token)
    remove_note(store, jar_id, note_id)
    return RedirectResponse(f"/steeping/jars/{jar_id}?said=unnoted", 303)
