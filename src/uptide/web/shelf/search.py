"""The room of the shelf: every oil, filtered by what is asked in words; a few of them or of the lots side by side."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping
from datetime import date
from functools import lru_cache
from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse
from markupsafe import Markup
from pydantic import BaseModel, ConfigDict
from sqlalchemy.orm import Session

from uptide.core.errors import UptideError
from uptide.core.figures.oil_profile import OilProfile, oil_profile
from uptide.core.finder.filter import Filter, Filtered, apply_filter, read_filter
from uptide.core.finder.filter_reader import ANY_STATE
from uptide.core.finder.filter_words import FIGURES
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.safety.person import judge
from uptide.core.skin.wearer import Wearer
from uptide.core.skin.whom import read_whom
from uptide.store.people import wearers
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.pages import number, piece, render
from uptide.web.drawing.ribbon import draw_ribbon
from uptide.web.drawing.view import View
from uptide.web.shelf.side_by_side import MOST, side_by_side
from uptide.workshop.clock import today
from uptide.workshop.shelf import Shelf

router = APIRouter(prefix="/shelf", include_in_schema=False)

LONGEST_QUESTION = 500  # characters asked of the shelf
LOTS_SHOWN = 4
Rank = Callable[[OilProfile], float | None]

# What the shelf can be sorted by: the heading of the column, whether the greatest stands on top, and the figure.
SORTS: Mapping[str, tuple[str, bool, Rank]] = {
    "linoleic": ("Linoleic %", True, lambda p: p.linoleic),
    "oleic": ("Oleic %", True, lambda p: p.oleic),
    "saturated": ("Saturated %", True, lambda p: p.saturated),
    "omega_3": ("Omega-3 %", True, lambda p: p.omega_3),
    "keeps": ("Keeps, months", True, lambda p: p.keeps),
    "feel": ("Feel", False, lambda p: p.feel),
    "clog": ("Clog, 0–5", False, lambda p: p.comedogenicity),
    "tint": ("Colour, 1–10", False, lambda p: p.tint),
}


class ShelfQuery(BaseModel):
    """What is asked of the shelf: all of it stands in the address, so that a view can be kept."""

    model_config = ConfigDict(extra="ignore")
    q: str = ""
    sort: str = ""
    oil: list[str] = []


class OilLine(View):
    """One oil as a line of the shelf, every cell already in words."""

    key: str
    name: str
    on_hand: bool
    marked: bool
    ribbon: Markup
    figures: tuple[str, ...]
    feel: str
    comedogenicity: str
    tint: str
    colour: str
    allergens: str
    price: str


class ConditionView(View):
    """A condition as understood, and the address of the view without it."""

    words: str
    without: str


class Understood(View):
    """How the question was read."""

    conditions: tuple[ConditionView, ...]
    not_read: tuple[tuple[str, str], ...]
    unknown: str


class FilteredView(Understood):
    """What was found, and how the question was read."""

    lines: tuple[OilLine, ...]
    marked: tuple[tuple[str, str], ...]
    heads: tuple[tuple[str, str, str, str], ...]  # key, words, address, aria-sort
    by_name: str


@router.get("")
def list_oils(request: Request, store: Store, shelf: OnShelf, asked: Annotated[ShelfQuery, Query()]) -> HTMLResponse:
    """List every oil with its fatty acids as a ribbon, filtered by what is asked; as one types, only what was found."""
    view = _filtered_view(asked, shelf, store)
    fragment = request.headers.get("x-filter") == "fragment"
    return render(
        request,
        "shelf/_found.html" if fragment else "shelf/list.html",
        view=view,
        asked=asked,
        lots=shelf.standing[:LOTS_SHOWN],
        count=len(shelf.standing),
    )


def candidates(shelf: Shelf) -> dict[str, OilProfile]:
    """Every oil of the shelf by key; lots stand beside it and are not among them."""
    return {key: oil_profile(item) for key, item in shelf.facts.ingredients.items() if not item.lot and item.is_fatty}


@lru_cache(maxsize=64)
def fitting(shelf: Shelf, wearer: Wearer, day: date) -> Mapping[str, bool | None]:
    """By key, whether an oil of the shelf is for a wearer: nothing stops or warns of it, and it suits their skin."""
    oils = [p.item for p in candidates(shelf).values()]
    return {item.key: judge(item, wearer, shelf.facts.safety, day).allowed for item in oils}


def filtered(asked: ShelfQuery, shelf: Shelf, store: Session) -> tuple[Filter, Filtered, dict[str, float]]:
    """Read what is asked and filter: only a name finds what is no oil."""
    costs = {key: 100 * price.per_gram for key, price in shelf.facts.prices.items()}
    oils = candidates(shelf)

    def whom(words: str) -> tuple[str, Callable[[OilProfile], bool | None]] | None:
        meant = read_whom(words, {wearer.name: wearer for wearer in wearers(store)}, today())
        if meant is None:
            return None
        taken = fitting(shelf, meant.wearer, today())
        return f"nothing known against it {meant.words}", lambda p: taken.get(p.key)

    asked_filter = read_filter(asked.q[:LONGEST_QUESTION], oils, shelf.facts.names, shelf.on_hand, costs, whom)
    if asked_filter.names:
        oils = {key: oil_profile(item) for key, item in shelf.facts.ingredients.items() if not item.lot}
    found = apply_filter(asked_filter, oils, shelf.facts.names)
    return (
        asked_filter,
        Filtered(_sorted(found.oils, asked.sort, costs, asked_filter, shelf.on_hand), found.unknown),
        costs,
    )


def _sorted(
    oils: Iterable[OilProfile], by: str, costs: Mapping[str, float], asked_filter: Filter, on_hand: Collection[str]
) -> tuple[OilProfile, ...]:
    """Sort by a figure, the unknown last, equals by name; without one as it answers what was asked.

    Nearest first where an oil was named; else what is on hand goes first, by name.
    """
    rank: Rank | None = None
    falling = False
    if by in SORTS:
        _, falling, rank = SORTS[by]
    elif asked_filter.order is not None:
        figure, falling = asked_filter.order
        rank = (lambda p: costs.get(p.key)) if figure == "price" else FIGURES[figure][2]
    if rank is None and (asked_filter.likeness or asked_filter.example):
        return tuple(oils)
    if rank is None:
        asked = not asked_filter.is_empty
        return tuple(sorted(oils, key=lambda p: (asked and p.key not in on_hand, p.item.name)))

    def place(p: OilProfile) -> tuple[bool, float, str]:
        value = rank(p)
        return (value is None, (-value if falling else value) if value is not None else 0.0, p.item.name)

    return tuple(sorted(oils, key=place))


def address(asked: ShelfQuery, path: str = "/shelf", **changes: object) -> str:
    """The address of a view; what is empty is left out."""
    said = {**asked.model_dump(), **changes}
    query = urlencode({name: value for name, value in said.items() if value}, doseq=True)
    return f"{path}?{query}" if query else path


def _filtered_view(asked: ShelfQuery, shelf: Shelf, store: Session) -> FilteredView:
    asked_filter, found, costs = filtered(asked, shelf, store)
    marked = tuple(key for key in dict.fromkeys(asked.oil) if key in shelf.facts.ingredients)
    currency = next((price.currency for price in shelf.facts.prices.values()), "")
    heads = [
        (key, title, address(asked, sort=key), _direction(key == asked.sort, falling=falling))
        for key, (title, falling, _) in SORTS.items()
    ]
    cost = (
        "price",
        f"100 g, {currency}" if currency else "100 g",
        address(asked, sort="price"),
        _direction(asked.sort == "price", falling=False),
    )
    return FilteredView(
        lines=tuple(_line(p, shelf.on_hand, marked, costs) for p in found.oils),
        conditions=conditions_view(asked_filter, asked, "/shelf"),
        not_read=asked_filter.not_read,
        unknown=unknown_words(found),
        marked=tuple((key, shelf.facts.ingredients[key].name) for key in marked),
        heads=(*heads, cost),
        by_name=address(asked, sort=""),
    )


def conditions_view(asked_filter: Filter, asked: ShelfQuery, path: str) -> tuple[ConditionView, ...]:
    """Every condition and name that was understood, with the address of the view without it."""
    clauses = [(c.typed, c.words) for c in asked_filter.conditions] + [
        (name, f"called “{name}”") for name in asked_filter.names
    ]

    def without(typed: str) -> str:
        left = [other for other, _ in clauses if other and other != typed]
        return address(asked, path, q=", ".join(left if typed else [*left, ANY_STATE]))

    return tuple(ConditionView(words=words, without=without(typed)) for typed, words in clauses)


def unknown_words(found: Filtered) -> str:
    """Which oils were left out because something that was asked is unknown of them."""
    names = sorted(p.item.name for p in found.unknown)
    if not names:
        return ""
    shown = ", ".join(names[:6]) + (f" and {len(names) - 6} more" if len(names) > 6 else "")
    return f"Left out, because what is asked is unknown of them: {shown}."


def _direction(chosen: bool, *, falling: bool) -> str:  # noqa: FBT001 - reads as a sentence where it is called
    return ("descending" if falling else "ascending") if chosen else ""


def _line(p: OilProfile, on_hand: frozenset[str], marked: tuple[str, ...], costs: Mapping[str, float]) -> OilLine:
    return OilLine(
        key=p.key,
        name=p.item.name,
        on_hand=p.key in on_hand,
        marked=p.key in marked,
        ribbon=ribbon_of(p.item),
        figures=tuple(_dash(rank(p)) for _, _, rank in list(SORTS.values())[:5]),
        feel=p.feel_word if p.feel else "–",
        comedogenicity=_dash(p.comedogenicity),
        tint=_dash(p.tint),
        colour=p.item.colour,
        allergens=", ".join(sorted(f.replace("_", " ") for f in p.allergens)) if p.allergens else _none(p),
        price=number(costs[p.key], 2) if p.key in costs else "–",
    )


def _none(p: OilProfile) -> str:
    return "not said" if p.allergens is None else ""


def _dash(value: float | None) -> str:
    return "–" if value is None else number(value, 0)


@lru_cache(maxsize=1024)
def ribbon_of(item: Ingredient) -> Markup:
    """The small ribbon of an oil, drawn once; in words where there is nothing to draw."""
    acids = oil_profile(item).acids
    if acids:
        return piece("drawing/_ribbon.html", "mini", draw_ribbon(acids, strips=False), f"Fatty acids of {item.name}")
    words = "no fatty acids" if item.kind == "hydrocarbon" else "composition unknown" if item.is_fatty else item.kind
    return Markup('<span class="quiet">{}</span>').format(words.replace("_", " "))


@router.get("/compare")
def compare_oils(
    request: Request, shelf: OnShelf, oil: Annotated[list[str], Query(default_factory=list)]
) -> HTMLResponse:
    """Lay two to five oils or lots side by side, the figure they differ in most on top."""
    keys = list(dict.fromkeys(oil))
    if not 2 <= len(keys) <= MOST:
        raise UptideError(f"{len(keys)} oils cannot be laid side by side; 2 to {MOST} can. Mark them on the shelf.")
    return render(request, "shelf/compare.html", view=side_by_side(keys, shelf))
