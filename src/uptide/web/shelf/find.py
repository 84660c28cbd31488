"""The finder: say what it should be, and get blends that keep it."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Iterator, Sequence
from itertools import islice
from threading import Event
from typing import Annotated, Any

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import RedirectResponse, Response
from fastapi.sse import EventSourceResponse, ServerSentEvent
from pydantic import Field

from uptide.core.assessment.assessment import Assessment
from uptide.core.finder.search.bounding import Bound
from uptide.core.finder.search.conflicts import Conflicts
from uptide.core.finder.search.measuring import Measure
from uptide.core.finder.search.offers import Offer
from uptide.core.finder.search.wish_clauses import with_bound
from uptide.core.finder.search.wish_words import LONGEST_WISH, ReadWish
from uptide.core.recipe.recipe import Recipe
from uptide.store.preferences import load_habits
from uptide.store.wishes import forget_wish, keep_wish, kept_wishes
from uptide.web.base.dependencies import Facts, Measures, OnShelf, Store
from uptide.web.base.forms import TokenForm, amount_of
from uptide.web.base.pages import render
from uptide.web.base.security import browser_id, check_token
from uptide.web.drawing.view import View
from uptide.web.shelf.find_view import (
    AnswersView,
    FindQuery,
    KeptView,
    LineView,
    WhyView,
    answers_view,
    kept_view,
    lines_of,
    why_view,
)
from uptide.workshop.assessment import assess_here
from uptide.workshop.finding import conflicts_of, find, wish_here

router = APIRouter(prefix="/shelf/find", include_in_schema=False)

OTHERS = "others are looked for, and how much better any could be"
BOUNDS = "how much better any could be is looked for"
WHY = "which limits exclude one another is looked for"
GIVES = "how far each alone must give is looked for"
AGAINST = "what can be had together is looked for"
NOT_MEASURED = "its limits do not exclude one another, but no amounts that can be measured keep them all"


class SearchEnded(Exception):  # noqa: N818 - nothing went wrong
    """Nobody waits for the answers any more: the page was left, or another wish was asked."""


class FindView(View):
    """The page: what was understood and what not, the answers, and why there are none."""

    lines: tuple[LineView, ...]
    not_read: tuple[tuple[str, str], ...]
    ask_why: str
    others: str  # the address of all answers, where there may be more than the first
    stream: str  # the address from which they come one by one
    kept: KeptView | None  # this wish, where it is kept
    wishes: tuple[KeptView, ...]  # all that are kept, where nothing is asked


@router.get("")
def find_page(
    request: Request, store: Store, facts: Facts, shelf: OnShelf, habits: Measures, asked: Annotated[FindQuery, Query()]
) -> Response:
    """Read a wish and show blends that keep it, each confirmed by the one road: the first, or all with their bounds."""
    read, wearer = wish_here(asked.wish, facts, store)
    if asked.to.strip() and 0 <= asked.limit < len(read.wish.limits):
        changed = amount_of(asked.to, "limit")
        wish = with_bound(asked.wish, read.wish.limits[asked.limit], changed, read.wish.storage.place)
        return RedirectResponse(asked.address(wish=wish), 303)
    found: tuple[Offer, ...] = ()
    why: WhyView | None = None
    is_asked = bool(asked.wish.strip()) and not read.not_read
    if is_asked:

        def look(recipe: Recipe) -> Assessment:
            return assess_here(recipe, facts, store, wearer=read.described)

        against: list[tuple[str, ...]] = []
        offers = find(read, facts, look, habits, asked.measure, wearer=wearer, refused=against.append)
        found = tuple(offers if asked.all else islice(offers, 1))
        if not found:
            why = WhyView.nothing(WHY)
        if not found and asked.why:
            *_, why = _why(read, asked, conflicts_of(read, facts), against)
    bounds = [offer.bound() for offer in found] if asked.all else []
    is_begun = is_asked and not (asked.all or asked.why)
    kept = tuple(map(kept_view, kept_wishes(store)))
    view = FindView(
        lines=tuple(lines_of(read, asked)) if asked.wish.strip() else (),
        not_read=read.not_read if asked.wish.strip() else (),
        ask_why=asked.address(why=True) if is_begun and not found else "",
        others=asked.address(all=True) if is_begun and found else "",
        stream=asked.address("/shelf/find/stream") if is_begun else "",
        kept=next((each for each in kept if each.said == asked.wish.strip()), None),
        wishes=() if asked.wish.strip() else kept,
    )
    answers = answers_view(found, bounds, read, OTHERS if is_begun and found else "")
    measures = [each.value for each in Measure]
    around: dict[str, Any] = {"measures": measures, "longest": LONGEST_WISH, "count": len(shelf.standing)}
    return render(request, "shelf/find.html", view=view, answers=answers, why=why, asked=asked, **around)


class KeepForm(TokenForm):
    """A wish that is kept, or no longer."""

    wish: Annotated[str, Field(min_length=1, max_length=LONGEST_WISH)]
    measure: Measure = Measure.GRAMS
    kept: bool = True


@router.post("/keep")
def keep(request: Request, form: Annotated[KeepForm, Form()], store: Store) -> RedirectResponse:
    """Keep a wish, to be asked again, or keep it no longer; either can be undone on the page that it leads to."""
    check_token(request, form.token)
    if form.kept:
        keep_wish(store, form.wish.strip(), form.measure.value)
    else:
        forget_wish(store, form.wish.strip())
    return RedirectResponse(FindQuery(wish=form.wish.strip(), measure=form.measure).address(), 303)


@router.get("/stream", response_class=EventSourceResponse)
async def stream(request: Request, asked: Annotated[FindQuery, Query()]) -> AsyncIterator[ServerSentEvent]:
    """Say the answers as they are found and then their bounds; a new wish of the same browser ends the search."""
    running: dict[str, Event] = request.app.state.searches
    ended, browser = Event(), browser_id(request)
    if browser in running:
        running[browser].set()
    running[browser] = ended
    loop, said = asyncio.get_running_loop(), asyncio.Queue[str | None]()

    def work() -> None:
        try:
            for said_now in _search(request, asked, ended):
                if isinstance(said_now, WhyView):
                    page = render(request, "shelf/_why.html", why=said_now, view=None)
                else:
                    page = render(request, "shelf/_answers.html", answers=said_now, view=None)
                loop.call_soon_threadsafe(said.put_nowait, bytes(page.body).decode())
        except SearchEnded:
            pass
        finally:
            loop.call_soon_threadsafe(said.put_nowait, None)

    searching = loop.run_in_executor(None, work)
    try:
        while (html := await said.get()) is not None:
            yield ServerSentEvent(event="answers", raw_data=html)
        await searching  # what went wrong in it is not passed over
        yield ServerSentEvent(event="done", raw_data="")
    finally:
        ended.set()
        if running.get(browser) is ended:
            del running[browser]


def _search(request: Request, asked: FindQuery, ended: Event) -> Iterator[AnswersView | WhyView]:
    """The answers as they are found, and then their bounds, or why there are none; the database is let go each time."""
    state = request.app.state

    def go_on() -> None:
        if ended.is_set():
            raise SearchEnded

    with state.sessions() as store:
        facts, habits = state.shelf.of(store).facts, load_habits(store)
        read, wearer = wish_here(asked.wish, facts, store)

    def look(recipe: Recipe) -> Assessment:
        with state.sessions() as store:
            return assess_here(recipe, facts, store, wearer=read.described)

    if read.not_read:
        return
    found: list[Offer] = []
    bounds: list[Bound] = []
    against: list[tuple[str, ...]] = []
    for offer in find(read, facts, look, habits, asked.measure, wearer=wearer, go_on=go_on, refused=against.append):
        found.append(offer)
        yield answers_view(found, bounds, read, OTHERS if read.objective is None else BOUNDS)
    for offer in found:
        bounds.append(offer.bound())
        yield answers_view(found, bounds, read, BOUNDS if len(bounds) < len(found) else "")
    if not found:
        yield from _why(read, asked, conflicts_of(read, facts, go_on), against)


def _why(
    read: ReadWish, asked: FindQuery, conflicts: Conflicts, against: Sequence[tuple[str, ...]]
) -> Iterator[WhyView]:
    """What was against what was found; or which limits exclude one another, and two of them against each other."""
    if against:
        yield WhyView.refused(against[0])
        return
    conflict = None
    points: list[tuple[float, float]] = []
    for conflict in conflicts.steps():
        yield why_view(conflict, points, read, asked, GIVES)
    if conflict is None:
        yield WhyView.nothing(NOT_MEASURED)
        return
    for point in conflicts.frontier(*conflict.pair) if conflict.pair else ():
        points.append(point)
        yield why_view(conflict, points, read, asked, AGAINST)
    yield why_view(conflict, points, read, asked)
