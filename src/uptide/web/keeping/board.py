"""The board: all that stands on a shelf or with somebody, what turns first on top."""

from __future__ import annotations

from itertools import groupby
from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import BaseModel

from uptide.core.keeping.board import Kind, Section, Shown, Thing
from uptide.core.months import say_day
from uptide.store.records import NotFoundError
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.pages import render
from uptide.web.drawing.keeping_lines import LineView, draw_ebb, line_of, ticks
from uptide.web.drawing.view import View
from uptide.web.views.things import thing_href, thing_until, thing_what
from uptide.workshop.board import board_of
from uptide.workshop.clock import today
from uptide.workshop.found import number_leads_to

router = APIRouter(prefix="/keeping", include_in_schema=False)

KINDS = (("", "everything"), *((kind.value, f"{kind.value}s") for kind in Kind if kind is not Kind.BATCH))
OPEN_LINES = 60  # of the sections on top; later ones are folded


class BoardForm(BaseModel):
    """Which things are asked for, in the address."""

    kind: str = ""
    place: str = ""
    holder: str = ""
    soon: bool = False
    open: bool = False
    look: bool = False
    month: str = ""

    @property
    def shown(self) -> Shown:
        """The same for the core."""
        return Shown(**self.model_dump())


class ThingView(View):
    """A line of the board."""

    href: str
    name: str
    what: str
    until: str
    freshness: str
    line: LineView
    look: str


class SectionView(View):
    """A stretch of time with what ends in it."""

    title: str
    things: tuple[ThingView, ...]
    count: int
    is_open: bool


@router.get("")
def show(request: Request, store: Store, shelf: OnShelf, form: Annotated[BoardForm, Query()]) -> HTMLResponse:
    """Show what is asked for on one picture of time."""
    board = board_of(store, shelf, form.shown)
    sections, lines = [], 0
    for section, found in groupby(board.things, key=lambda each: each.section(today())):
        things = tuple(_thing(each) for each in found)
        lines += len(things)
        sections.append(
            SectionView(
                title=section.value,
                things=things,
                count=len(things),
                is_open=section is Section.NOW or lines <= OPEN_LINES,
            )
        )
    return render(
        request,
        "keeping/board.html",
        form=form,
        sections=sections,
        sentence=_sentence(board.things, board.count),
        more=board.more,
        ebb=draw_ebb(board.ebb, today()),
        ticks=ticks(today()),
        kinds=KINDS,
        places=[("", "every place"), *((each, each) for each in board.places)],
        holders=[("", "here or anywhere"), *((each, f"with {each}") for each in board.holders)],
        asked=urlencode({name: value for name, value in form.model_dump(exclude={"month"}).items() if value}),
        today=today(),
    )


@router.get("/find")
def find(store: Store, number: str = "") -> RedirectResponse:
    """Lead to the bottle, batch or lot of a number, as it was scanned or typed."""
    found = number_leads_to(store, number)
    if found is None:
        raise NotFoundError(f"“{number}” is the number of no bottle, batch or lot.")
    return RedirectResponse(found, 303)


def _sentence(things: tuple[Thing, ...], count: int) -> str:
    """How all of it stands, in a line."""
    if not count:
        return ""
    parts = [f"{count} thing{'s' if count != 1 else ''}"]
    by = {section: sum(each.count for each in things if each.section(today()) is section) for section in Section}
    parts += [f"{by[Section.NOW]} over, off or to be tested"] if by[Section.NOW] else []
    soon = by[Section.MONTH] + by[Section.TWO_MONTHS]
    parts += [f"{soon} to be used within two months"] if soon else []
    looks = sum(each.count for each in things if each.look_on is not None and each.look_on <= today())
    parts += [f"{looks} want{'s' if looks == 1 else ''} a look"] if looks else []
    return f"{', '.join(parts)}."


def _thing(thing: Thing) -> ThingView:
    look = ""
    if thing.look_on is not None and thing.look_on <= today():
        look = f"look: {thing.look}, since {say_day(thing.look_on)}"
    return ThingView(
        href=thing_href(thing),
        name=thing.name,
        what=thing_what(thing),
        until=thing_until(thing, today()),
        freshness=thing.freshness(today()).value,
        line=line_of(thing, today()),
        look=look,
    )
