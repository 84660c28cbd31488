"""How warm a jar is: typed or read by a thermometer, as it happens, against the warmest that is wanted."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from datetime import UTC, datetime, timedelta
from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse
from fastapi.sse import EventSourceResponse, ServerSentEvent

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import UptideError
from uptide.core.infusion.following import JarUnderWay
from uptide.core.infusion.temperature import Reading, TemperatureLog
from uptide.store.jars import Jar, load_jar
from uptide.store.preferences import led_to, remember_form
from uptide.store.readings import add_reading, count_readings, put_thermometer, remove_last_typed, thermometer_stands_in
from uptide.web.base.dependencies import Facts, Store
from uptide.web.base.forms import FieldError, TokenForm, in_field, number_of
from uptide.web.base.pages import piece
from uptide.web.base.security import check_token, sending
from uptide.web.steeping.jar_page import draw_jar
from uptide.web.steeping.warmth_view import WHEN, ReadingForm, warmth_of
from uptide.workshop.clock import today
from uptide.workshop.desk import Desk
from uptide.workshop.jars import jar_today

router = APIRouter(prefix="/steeping/jars", include_in_schema=False)

NOW = "steeping/_warmth.html"
EVERY = 1.0  # s between two looks at the thermometer; at most five a second are wanted
AS_LONG = 3600  # looks until a page is told to ask again


class PlaceForm(TokenForm):
    """Whether the thermometer goes into this jar."""

    into: bool = False


@router.post("/{jar_id}/readings")
def type_reading(
    request: Request, jar_id: int, form: Annotated[ReadingForm, Form()], store: Store, facts: Facts
) -> Response:
    """Keep a reading that was typed; what cannot be read stands beside its field."""
    sent = sending(request, form)
    target = f"/steeping/jars/{jar_id}?said=read#warmth"
    if led_to(store, sent) is None:
        jar = load_jar(store, jar_id)
        try:
            reading = _reading(form, jar)
        except UptideError as error:
            return draw_jar(request, jar, store, facts, typed=form, error=error)
        add_reading(store, jar_id, reading)
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)


def _reading(form: ReadingForm, jar: Jar) -> Reading:
    now = datetime.now(UTC)
    try:
        at = datetime.strptime(form.at, WHEN).astimezone() if form.at.strip() else now
    except ValueError as error:
        raise FieldError("at", f"“{form.at}” is no time; write it as {now.astimezone().strftime(WHEN)}.") from error
    if at.date() < jar.begun_on or at > now + timedelta(minutes=1):
        raise FieldError("at", f"{form.at} is no time of this jar; from {jar.begun_on.isoformat()} to now can be.")
    with in_field("celsius"):
        return Reading(at, number_of(form.celsius, "temperature in °C"), typed=True)


@router.post("/{jar_id}/readings/undo")
def untype(request: Request, jar_id: int, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Take the last typed reading out of the account."""
    check_token(request, form.token)
    remove_last_typed(store, jar_id)
    return RedirectResponse(f"/steeping/jars/{jar_id}?said=unread#warmth", 303)


@router.post("/{jar_id}/thermometer")
def place(request: Request, jar_id: int, form: Annotated[PlaceForm, Form()], store: Store) -> Response:
    """Put the thermometer into this jar, or take it out."""
    check_token(request, form.token)
    if form.into or thermometer_stands_in(store) == jar_id:
        put_thermometer(store, jar_id if form.into else None)
    return RedirectResponse(f"/steeping/jars/{jar_id}#warmth", 303)


@router.get("/{jar_id}/warmth", response_class=EventSourceResponse)
async def follow(request: Request, jar_id: int) -> AsyncIterator[ServerSentEvent]:
    """Say what the thermometer says as it happens, and draw the picture anew when a reading was kept."""
    desk: Desk = request.app.state.desk
    drawn, log = -1, TemperatureLog(())
    for _ in range(AS_LONG):
        now = desk.warmth()
        if now is None or await request.is_disconnected():
            return
        count = await asyncio.to_thread(_count, request, jar_id)
        if count is None:
            yield ServerSentEvent(event="now", raw_data=str(piece(NOW, "gone")))
            return
        if count != drawn:
            drawn = count
            jar, under_way = await asyncio.to_thread(_look, request, jar_id)
            log = under_way.log if under_way is not None else TemperatureLog(jar.readings)
            view = warmth_of(jar, under_way, request, jar_id)
            yield ServerSentEvent(event="picture", raw_data=str(piece(NOW, "picture", view)))
        says = log.says(now.celsius) if now.celsius is not None else None
        grade, warning = (says[0].value, says[1]) if says else ("", "")
        yield ServerSentEvent(
            event="now",
            raw_data=str(piece(NOW, "now", now.celsius, now.silent, now.fault, log.allowed, grade, warning)),
        )
        await asyncio.sleep(EVERY)


def _count(request: Request, jar_id: int) -> int | None:
    """How many readings a jar has; None where the thermometer does not stand in it. The database is let go at once."""
    with request.app.state.sessions() as session:
        return count_readings(session, jar_id) if thermometer_stands_in(session) == jar_id else None


def _look(request: Request, jar_id: int) -> tuple[Jar, JarUnderWay | None]:
    """A jar as it stands; the database is let go at once."""
    state = request.app.state
    with state.sessions() as session:
        jar = load_jar(session, jar_id)
        facts: Catalogue = state.shelf.of(session).facts
        return jar, jar_today(jar, facts, today())
