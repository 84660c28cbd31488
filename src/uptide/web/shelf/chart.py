"""The chart of oils, where near means alike; a place on it is pointed at, and a blend is looked for that lies there."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse, RedirectResponse

from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.search.charted import nearest_place
from uptide.core.finder.search.reach import aimed
from uptide.core.finder.search.wish_clauses import clauses_of
from uptide.core.oxidation.simulate import standard_draws
from uptide.store.blends import load_blend
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.pages import render
from uptide.web.drawing.chart import HEIGHT, WIDTH, chart_view, frame_of
from uptide.web.shelf.find_view import FindQuery, usual_wish
from uptide.web.shelf.search import (
    ShelfQuery,
    Understood,
    candidates,
    conditions_view,
    filtered,
    unknown_words,
)
from uptide.workshop.assessment import assess_here
from uptide.workshop.charting import chart_of
from uptide.workshop.finding import oils_for, wish_here

router = APIRouter(prefix="/shelf/chart", include_in_schema=False)


class PlaceQuery(FindQuery):
    """A place on the chart: where it was pointed at, in units of the picture, or that of an oil."""

    px: float = WIDTH / 2
    py: float = HEIGHT / 2
    oil: str = ""


@router.get("")
def show_chart(
    request: Request, store: Store, shelf: OnShelf, asked: Annotated[ShelfQuery, Query()], blend: int | None = None
) -> HTMLResponse:
    """Show all oils on one picture where near means alike; with a blend, where it lies and what its oils can reach."""
    asked_filter, found, _ = filtered(asked, shelf, store)
    shown = None
    if blend is not None:
        kept = load_blend(store, blend)
        shown = (kept.name, assess_here(kept.newest.recipe, shelf.facts, store).acids)
    return render(
        request,
        "shelf/chart.html",
        chart=chart_view(
            shelf, tuple(candidates(shelf).values()), frozenset(p.key for p in found.oils), tuple(asked.oil), shown
        ),
        view_of=Understood(
            conditions=conditions_view(asked_filter, asked, "/shelf/chart"),
            not_read=asked_filter.not_read,
            unknown=unknown_words(found),
        ),
        asked=asked,
        count=len(shelf.standing),
    )


@router.get("/aim")
def aim(store: Store, shelf: OnShelf, asked: Annotated[PlaceQuery, Query()]) -> RedirectResponse:
    """Go and find a blend that lies at a place, or as near to it as what is on hand can come."""
    chart, frame = chart_of(shelf.facts), frame_of(shelf, tuple(candidates(shelf).values()))
    text, place = usual_wish(shelf), frame.place(min(max(0.0, asked.px), WIDTH), min(max(0.0, asked.py), HEIGHT))
    if asked.oil:
        item = shelf.facts.ingredient(asked.oil)
        place = chart.place(oil_profile(item).shares)
        text += f", without {' '.join(clauses_of(item.name))}"
    read, _ = wish_here(text, shelf.facts, store)
    oils = oils_for(read.wish, shelf.facts)
    at = nearest_place(read.wish, oils, standard_draws(), chart.percent(place))
    return RedirectResponse(asked.address(wish=aimed(text, read.wish.limits, at)), 303)
