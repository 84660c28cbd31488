"""What the finder shows: a wish as lines, answers side by side on the same axes, and how near they are to the best."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from urllib.parse import urlencode

from pydantic import BaseModel

from uptide.core.finder.search.bounding import Bound
from uptide.core.finder.search.comparing import bound_said, gives_up
from uptide.core.finder.search.measuring import Measure
from uptide.core.finder.search.offers import Offer
from uptide.core.finder.search.wish import Wish
from uptide.core.finder.search.wish_words import ReadWish, without_clause
from uptide.web.base.pages import number
from uptide.web.drawing.view import View

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
STRIP = (3.0, 77.0)  # px: where the least and the most of a figure stand on its strip


class FindQuery(BaseModel):
    """What is wished, and how it is to be measured."""

    wish: str = ""
    measure: Measure = Measure.GRAMS
    all: bool = False  # every answer, and not only the first
    why: bool = False  # which limits exclude one another, where nothing keeps them all

    def address(self, page: str = "/shelf/find", wish: str | None = None, **more: bool) -> str:
        """The address of a wish, this one or another, on a page of the finder."""
        said = {"wish": self.wish if wish is None else wish, "measure": self.measure.value}
        return f"{page}?{urlencode(said | {name: 'true' for name, is_asked in more.items() if is_asked})}"


class LineView(View):
    """A limit as understood, and the address of the wish without the clause that said it, on its last line."""

    words: str
    drop: str
    without: str


class OfferView(View):
    """A blend: what it is best at and gives up, its rows with their shares, and the address of a new blend of it."""

    title: str
    rows: tuple[tuple[str, str], ...]
    typed: str
    address: str
    gives_up: str
    bound: str


class CellView(View):
    """A figure of one answer, whether it is the best of them, and where it stands between the others [px]."""

    value: str
    is_best: bool
    at: float | None
    others: tuple[float, ...]


class FigureRow(View):
    """One figure of all answers."""

    title: str
    cells: tuple[CellView, ...]


class AnswersView(View):
    """Answers side by side; `more` is what is still looked for."""

    offers: tuple[OfferView, ...]
    figures: tuple[FigureRow, ...]
    more: str = ""


def lines_of(read: ReadWish, asked: FindQuery) -> Iterator[LineView]:
    """A wish as it was understood, each clause with the way to drop it."""
    said = [clause for _, clause in read.lines]
    for place, (words, clause) in enumerate(read.lines):
        is_last = bool(clause) and clause not in said[place + 1 :]
        yield LineView(
            words=words,
            drop=("drop" if said.count(clause) == 1 else f"drop “{clause}”") if is_last else "",
            without=asked.address(wish=without_clause(asked.wish, clause)) if is_last else "",
        )


def answers_view(found: Sequence[Offer], bounds: Sequence[Bound], read: ReadWish, more: str = "") -> AnswersView:
    """Answers side by side, with the bounds that are known of the first of them."""
    known = [*bounds, *(None for _ in found[len(bounds) :])]
    return AnswersView(
        offers=tuple(_offer(offer, found, bound, read) for offer, bound in zip(found, known, strict=True)),
        figures=tuple(_figures(found, read.wish)),
        more=more,
    )


def _offer(offer: Offer, found: Sequence[Offer], bound: Bound | None, read: ReadWish) -> OfferView:
    rows = tuple(
        (entry.typed, number(row.percent_mass, 1))
        for entry, row in zip(offer.recipe.entries, offer.assessment.rows, strict=True)
    )
    typed = "\n".join(words for words, _ in rows)
    made = {"recipe": typed, "product": read.product or "body-oil"}
    return OfferView(
        title=offer.objective.value,
        rows=rows,
        typed=typed,
        address=f"/blends/new?{urlencode(made)}",
        gives_up=gives_up(offer, found, read.wish),
        bound=bound_said(offer, bound, read.wish) if bound is not None else "",
    )


def _figures(found: Sequence[Offer], wish: Wish) -> Iterator[FigureRow]:
    """The figures of all answers side by side; what nobody knows of any of them is left out."""
    for name, (decimals, more) in COMPARED.items():
        figures = [offer.figure(name, wish) for offer in found]
        values = [None if value is None else round(value, decimals) for value in figures]  # alike is what looks alike
        known = [value for value in values if value is not None]
        if not known:
            continue
        best = None if more is None or len(set(known)) == 1 else max(known) if more else min(known)
        title, unit = wish.titled(name)
        places = [_on_strip(value, known) for value in values]
        cells = tuple(
            CellView(
                value=number(value, decimals),
                is_best=value is not None and value == best,
                at=place,
                others=tuple(sorted({each for each in places if each is not None and each != place})),
            )
            for value, place in zip(values, places, strict=True)
        )
        yield FigureRow(title=f"{title}, {unit}" if unit else title, cells=cells)


def _on_strip(value: float | None, known: Sequence[float]) -> float | None:
    """Where a value stands between the least and the most of them [px]; nowhere where they are all alike."""
    least, most = min(known), max(known)
    if value is None or least == most:
        return None
    return round(STRIP[0] + (STRIP[1] - STRIP[0]) * (value - least) / (most - least), 1)
