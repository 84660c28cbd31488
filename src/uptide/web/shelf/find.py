"""The finder: say what it should be, and get blends that keep it."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Annotated, Any
from urllib.parse import urlencode

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse
from pydantic import BaseModel

from uptide.core.finder.search.measuring import Measure
from uptide.core.finder.search.offers import Offer
from uptide.core.finder.search.wish import Wish
from uptide.core.finder.search.wish_words import LONGEST_WISH, ReadWish, without_clause
from uptide.core.skin.wearer import ANYONE
from uptide.store.preferences import carried_over
from uptide.web.base.dependencies import Facts, Measures, OnShelf, Store
from uptide.web.base.pages import number, render
from uptide.web.drawing.view import View
from uptide.workshop.assessment import assess_here
from uptide.workshop.finding import find, why_none, wish_said

router = APIRouter(prefix="/shelf/find", include_in_schema=False)

# Figures that answers are laid side by side in: decimals, and whether more of it is marked as the best.
COMPARED: dict[str, tuple[int, bool | None]] = {
    "keeps": (1, True),
    "linoleic": (0, None),
    "oleic": (0, None),
    "saturated": (0, None),
    "feel": (1, False),
    "thickness": (0, None),
    "clog": (0, False),
    "inert": (0, False),
    "cost": (2, False),
}


class FindQuery(BaseModel):
    """What is wished, and how it is to be measured."""

    wish: str = ""
    measure: Measure = Measure.GRAMS
    all: bool = False  # every answer, and not only the first
    why: bool = False  # which limits exclude one another, where nothing keeps them all


class LineView(View):
    """A limit as understood, and the address of the wish without the clause that said it, on its last line."""

    words: str
    drop: str
    without: str


class OfferView(View):
    """A blend: what it is best at, its rows with their shares, and the address of a new blend of it."""

    title: str
    rows: tuple[tuple[str, str], ...]
    typed: str
    address: str


class FigureRow(View):
    """One figure of all answers: its name, and each value with whether it is the best of them."""

    title: str
    cells: tuple[tuple[str, bool], ...]


class FindView(View):
    """The page: what was understood and what not, the answers, and why there are none."""

    lines: tuple[LineView, ...]
    not_read: tuple[tuple[str, str], ...]
    offers: tuple[OfferView, ...]
    figures: tuple[FigureRow, ...]
    nothing: bool
    excluded: tuple[str, ...]
    gives: tuple[str, ...]
    ask_why: str
    others: str  # the address of all answers, where there may be more than the first


@router.get("")
def find_page(
    request: Request, store: Store, facts: Facts, shelf: OnShelf, habits: Measures, asked: Annotated[FindQuery, Query()]
) -> HTMLResponse:
    """Read a wish and show blends that keep it, each confirmed by the one road."""
    text = asked.wish
    read = wish_said(text, facts, carried_over(store, None))
    found: tuple[Offer, ...] = ()
    excluded = None
    is_asked = bool(text.strip()) and not read.not_read
    if is_asked:
        look = partial(assess_here, catalogue=facts, store=store, wearer=ANYONE)
        found = find(read, facts, look, habits, asked.measure, first=not asked.all)
        if not found and asked.why:
            excluded = why_none(read, facts)
    view = FindView(
        lines=tuple(_lines(read, asked)) if text.strip() else (),
        not_read=read.not_read if text.strip() else (),
        offers=tuple(_offer(offer, read) for offer in found),
        figures=tuple(_figures(found, read.wish)),
        nothing=is_asked and not found,
        excluded=excluded.words if excluded else (),
        gives=excluded.gives if excluded else (),
        ask_why="" if asked.why else _address(asked, text, why=True),
        others="" if asked.all or not found or read.objective is not None else _address(asked, text, all=True),
    )
    around: dict[str, Any] = {
        "measures": [each.value for each in Measure],
        "longest": LONGEST_WISH,
        "count": len(shelf.standing),
    }
    page = "shelf/_answers.html" if request.headers.get("x-filter") == "fragment" else "shelf/find.html"
    return render(request, page, view=view, asked=asked, **around)


def _address(asked: FindQuery, wish: str, **more: bool) -> str:
    said = {"wish": wish, "measure": asked.measure.value} | {
        name: "true" for name, is_asked in more.items() if is_asked
    }
    return f"/shelf/find?{urlencode(said)}"


def _lines(read: ReadWish, asked: FindQuery) -> Iterator[LineView]:
    said = [clause for _, clause in read.lines]
    for place, (words, clause) in enumerate(read.lines):
        is_last = bool(clause) and clause not in said[place + 1 :]
        yield LineView(
            words=words,
            drop=("drop" if said.count(clause) == 1 else f"drop “{clause}”") if is_last else "",
            without=_address(asked, without_clause(asked.wish, clause)) if is_last else "",
        )


def _offer(offer: Offer, read: ReadWish) -> OfferView:
    rows = tuple(
        (entry.typed, number(row.percent_mass, 1))
        for entry, row in zip(offer.recipe.entries, offer.assessment.rows, strict=True)
    )
    typed = "\n".join(words for words, _ in rows)
    made = {"recipe": typed, "product": read.product or "body-oil"}
    return OfferView(title=offer.objective.value, rows=rows, typed=typed, address=f"/blends/new?{urlencode(made)}")


def _figures(found: tuple[Offer, ...], wish: Wish) -> Iterator[FigureRow]:
    """The figures of all answers side by side; what nobody knows of any of them is left out."""
    for name, (decimals, more) in COMPARED.items():
        figures = [offer.figure(name, wish) for offer in found]
        values = [None if value is None else round(value, decimals) for value in figures]  # alike is what looks alike
        known = [value for value in values if value is not None]
        if not known:
            continue
        best = None if more is None or len(set(known)) == 1 else max(known) if more else min(known)
        title, unit = wish.titled(name)
        cells = tuple((number(value, decimals), value is not None and value == best) for value in values)
        yield FigureRow(title=f"{title}, {unit}" if unit else title, cells=cells)
