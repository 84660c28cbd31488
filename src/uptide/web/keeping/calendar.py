"""Everything that wants doing as a calendar: as a file, and as a feed at an address that only its owner knows."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from hmac import compare_digest
from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from sqlalchemy.orm import Session

from uptide.core.keeping.board import Freshness, Kind, Shown
from uptide.core.skin.patch import Outcome
from uptide.formats.calendar_ics import Due, write_calendar
from uptide.store.jars import list_jars
from uptide.store.people import list_people
from uptide.store.preferences import calendar_secret, renew_calendar_secret
from uptide.store.records import NotFoundError
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.forms import TokenForm
from uptide.web.base.pages import render
from uptide.web.base.security import check_token
from uptide.web.views.things import thing_what
from uptide.workshop.board import board_of, checks_due
from uptide.workshop.clock import today
from uptide.workshop.jars import jar_today
from uptide.workshop.shelf import Shelf

router = APIRouter(prefix="/keeping", include_in_schema=False)

NAME = "Up Tide"


@router.get("/calendar")
def show(request: Request, store: Store, shelf: OnShelf, said: str = "") -> HTMLResponse:
    """Show what is due and where a calendar program asks for it."""
    secret = calendar_secret(store)
    base = str(request.base_url).rstrip("/")
    return render(
        request,
        "keeping/calendar.html",
        address=f"{base}/keeping/feed/{secret}.ics" if secret else "",
        due=sorted(_due(store, shelf), key=lambda each: each.on),
        said="It has another address now; the one before leads nowhere." if said else "",
    )


@router.post("/calendar/renew")
def renew(request: Request, form: Annotated[TokenForm, Form()], store: Store) -> RedirectResponse:
    """Give the feed another address."""
    check_token(request, form.token)
    had_one = bool(calendar_secret(store))
    renew_calendar_secret(store)
    return RedirectResponse(f"/keeping/calendar{'?said=renewed' if had_one else ''}", 303)


@router.get("/calendar.ics")
def as_file(store: Store, shelf: OnShelf) -> Response:
    """All of it as a file, as it stands today."""
    return _calendar(store, shelf, "attachment")


@router.get("/feed/{secret}.ics")
def feed(secret: str, store: Store, shelf: OnShelf) -> Response:
    """All of it for a calendar program that knows the address; raise NotFoundError for any other."""
    known = calendar_secret(store)
    if not known or not compare_digest(secret.encode(), known.encode()):
        raise NotFoundError("There is no calendar at this address.")
    return _calendar(store, shelf, "inline")


def _calendar(store: Session, shelf: Shelf, how: str) -> Response:
    jars = [(jar, jar_today(jar, shelf.facts, today())) for jar in list_jars(store)]
    content = write_calendar(
        ((jar.id, jar.name, under_way) for jar, under_way in jars if under_way is not None), _due(store, shelf), NAME
    )
    headers = {"content-disposition": f'{how}; filename="up-tide.ics"'}
    return Response(content, media_type="text/calendar; charset=utf-8", headers=headers)


def _due(store: Session, shelf: Shelf) -> Iterator[Due]:
    """Looks at bottles, looks at patch tests, and the days on which things end."""
    for each in checks_due(store, shelf, date.max):
        if each.look_on is not None:
            what = f"Look at {each.name}, {thing_what(each)}"
            yield Due(f"look-{each.key}-{each.look_on.isoformat()}", each.look_on, what, each.look)
    for person in list_people(store):
        for test in person.tests:
            if test.outcome is Outcome.RUNNING:
                for look in (each for each in test.looks if each.saw is None):
                    what = f"Patch test, {person.wearer.name}: {test.blend_name}"
                    yield Due(f"test-{test.id}-{look.step}", look.due.date(), what, look.words)
    for each in board_of(store, shelf, Shown()).things:
        if each.ends_on is not None and each.freshness(today()) not in (Freshness.OFF, Freshness.OVER):
            what = f"{each.name} ends, {thing_what(each)}"
            kind = "bottle" if each.kind is Kind.BOTTLE else "lot"
            yield Due(f"end-{kind}-{each.key}", each.ends_on, what, each.limited_by)
