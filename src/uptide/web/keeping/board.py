"""The board: all that stands on a shelf or with somebody, what turns first on top."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import BaseModel

from uptide.core.keeping.board import Kind, Section, Shown, Thing
from uptide.core.months import say_day
from uptide.store.records import NotFoundError
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.pages import number, render
from uptide.web.drawing.keeping_lines import LineView, draw_ebb, line_of, ticks
from uptide.web.drawing.view import View
from uptide.web.views.things import thing_href, thing_until, thing_what
from uptide.workshop.board import OF_ONE, PER_SECTION, Board, board_of
from uptide.workshop.clock import today
from uptide.workshop.found import number_leads_to

router = APIRouter(prefix="/keeping", include_in_schema=False)

KINDS = (("", "everything"), *((kind.value, f"{kind.value}s") for kind in Kind if kind is not Kind.BATCH))
# What is noted with one tap where it is seen: the words, the kind, and how it smells.
QUICK_NOTES = (
    ("looks and smells fine", "smell", "fine"),
    ("smells off", "smell", "off"),
    ("opened", "opened", ""),
    ("used up", "used up", ""),
)
OF_TIME = {"month", "section"}
OPEN_LINES = 60  # of the stretches on top; later ones are folded


class BoardForm(BaseModel):
    """Which things are asked for, in the address."""

    kind: str = ""
    place: str = ""
    holder: str = ""
    soon: bool = False
    open: bool = False
    look: bool = False
    month: str = ""
    section: str = ""

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
    bottle: str  # the number of the one that is noted of here, or of the first of several; nothing for what is none


class SectionView(View):
    """A stretch of time with what ends in it."""

    key: str
    title: str
    things: tuple[ThingView, ...]
    count: str
    more: str
    is_open: bool


@router.get("")
def show(request: Request, store: Store, shelf: OnShelf, form: Annotated[BoardForm, Query()]) -> HTMLResponse:
    """Show what is asked for on one picture of time."""
    board = board_of(store, shelf, form.shown, OF_ONE if form.section else PER_SECTION)
    sections, lines = [], 0
    for each in board.stretches:
        lines += len(each.things)
        sections.append(
            SectionView(
                key=each.section.name.lower(),
                title=each.section.value,
                things=tuple(_thing(thing) for thing in each.things),
                count=number(each.count, 0),
                more=number(each.more, 0) if each.more > 0 else "",
                is_open=each.section is Section.NOW or lines <= OPEN_LINES or bool(form.section),
            )
        )
    return render(
        request,
        "keeping/board.html",
        form=form,
        sections=sections,
        sentence=_sentence(board),
        ebb=draw_ebb(board.ebb, today()),
        ticks=ticks(today()),
        kinds=KINDS,
        here=f"/keeping?{request.url.query}",
        notes=QUICK_NOTES,
        places=[("", "every place"), *((each, each) for each in board.places)],
        holders=[("", "here or anywhere"), *((each, f"with {each}") for each in board.holders)],
        asked=urlencode({name: value for name, value in form.model_dump(exclude=OF_TIME).items() if value}),
        today=today(),
    )


@router.get("/find")
def find(store: Store, number: str = "") -> RedirectResponse:
    """Lead to the bottle, batch or lot of a number, as it was scanned or typed."""
    found = number_leads_to(store, number)
    if found is None:
        raise NotFoundError(f"“{number}” is the number of no bottle, batch or lot.")
    return RedirectResponse(found, 303)


def _sentence(board: Board) -> str:
    """How all of it stands, in a line."""
    if not board.count:
        return ""
    by = {each.section: each.count for each in board.stretches}
    parts = [f"{number(board.count, 0)} thing{'s' if board.count != 1 else ''}"]
    parts += [f"{number(by[Section.NOW], 0)} over, off or to be tested"] if by.get(Section.NOW) else []
    soon = by.get(Section.MONTH, 0) + by.get(Section.TWO_MONTHS, 0)
    parts += [f"{number(soon, 0)} to be used within two months"] if soon else []
    parts += [f"{number(board.looks, 0)} want{'s' if board.looks == 1 else ''} a look"] if board.looks else []
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
        bottle=thing.key if thing.kind is Kind.BOTTLE else "",
    )
