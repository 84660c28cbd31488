"""What the finder shows: a wish as lines, answers side by side on the same axes, and how near they are to the best."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from urllib.parse import urlencode

from pydantic import BaseModel

from uptide.core.finder.search.bounding import Bound
from uptide.core.finder.search.comparing import bound_said, gives_up, lots_said
from uptide.core.finder.search.conflicts import Conflict, Give, looser
from uptide.core.finder.search.measuring import Measure
from uptide.core.finder.search.offers import Offer
from uptide.core.finder.search.rows import OF_ACIDS
from uptide.core.finder.search.wish import Limit, Wish
from uptide.core.finder.search.wish_clauses import with_bound, without_clause
from uptide.core.finder.search.wish_words import ReadWish
from uptide.core.months import say_day
from uptide.store.wishes import KeptWish
from uptide.web.base.pages import number
from uptide.web.drawing.frontier import FrontierView, draw_frontier
from uptide.web.drawing.view import View
from uptide.workshop.shelf import Shelf

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
OF_LOTS = ("limits on acids hold", "% of lots like these", 0, True)
REFUSED = "Blends keep all of it, and this is against them"
NOTHING_FOUND = "Nothing that was looked for keeps all of it"
STRIP = (3.0, 77.0)  # px: where the least and the most of a figure stand on its strip


def usual_wish(shelf: Shelf) -> str:
    """What is asked where nothing is said."""
    return "from my shelf" if shelf.standing else "with fresh bottles"


class FindQuery(BaseModel):
    """What is wished, and how it is to be measured."""

    wish: str = ""
    measure: Measure = Measure.GRAMS
    all: bool = False  # every answer, and not only the first
    why: bool = False  # which limits exclude one another, where nothing keeps them all
    limit: int = -1  # whose number is changed, by its place among the limits
    to: str = ""  # what it is changed to

    def address(self, page: str = "/shelf/find", wish: str | None = None, **more: bool) -> str:
        """The address of a wish, this one or another, on a page of the finder."""
        said = {"wish": self.wish if wish is None else wish, "measure": self.measure.value}
        return f"{page}?{urlencode(said | {name: 'true' for name, is_asked in more.items() if is_asked})}"


class LineView(View):
    """A limit as understood: its words before and after its number, where that can be changed, and the way to drop it.

    `place` tells which limit it is; the address is of the wish without the clause that said it, on its last line.
    """

    words: str
    number: str = ""
    after: str = ""
    place: int = -1
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
    lots: str


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


class KeptView(View):
    """A wish that is kept: its words, its address, since when, and whether the shelf has changed since."""

    said: str
    address: str
    since: str
    shelf_changed: bool


class GiveView(View):
    """How far a limit alone must give, and the address of the wish in which it does."""

    words: str
    address: str


class WhyView(View):
    """Why nothing keeps a wish; `more` is what is still looked for."""

    said: str
    words: tuple[str, ...]
    gives: tuple[GiveView, ...]
    frontier: FrontierView | None
    more: str = ""
    against: tuple[str, ...] = ()

    @classmethod
    def refused(cls, against: tuple[str, ...]) -> WhyView:
        """Blends were found that keep all limits, and the assessment had this against them."""
        return cls(said=REFUSED, words=(), gives=(), frontier=None, against=against)

    @classmethod
    def nothing(cls, more: str) -> WhyView:
        """Nothing was found, and it is not known why."""
        return cls(said=NOTHING_FOUND, words=(), gives=(), frontier=None, more=more)


def kept_view(kept: KeptWish) -> KeptView:
    """A kept wish on its page."""
    measure = Measure(kept.measure) if kept.measure in set(Measure) else Measure.GRAMS
    return KeptView(
        said=kept.said,
        address=FindQuery(wish=kept.said, measure=measure).address(),
        since=say_day(kept.kept_at.date()),
        shelf_changed=kept.shelf_changed,
    )


def lines_of(read: ReadWish, asked: FindQuery) -> Iterator[LineView]:
    """A wish as it was understood, each clause with the way to drop it."""
    said = [clause for _, clause in read.lines]
    for place, (words, clause) in enumerate(read.lines):
        is_last = bool(clause) and clause not in said[place + 1 :]
        limit = place - (len(read.lines) - len(read.wish.limits))  # the limits are the last lines
        before, bound, after = read.wish.limits[limit].parts if limit >= 0 else (words, "", "")
        yield LineView(
            words=before,
            number=bound,
            after=after,
            place=limit,
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
    if offer.recipe.wearer is not None:
        made["wearer"] = str(offer.recipe.wearer)
    elif read.described is not None:
        made["wearer"] = read.whom
    return OfferView(
        title=offer.objective.value,
        rows=rows,
        typed=typed,
        address=f"/blends/new?{urlencode(made)}",
        gives_up=gives_up(offer, found, read.wish),
        bound=bound_said(offer, bound, read.wish) if bound is not None else "",
        lots=lots_said(offer, read.wish) if bound is not None else "",
    )


def _figures(found: Sequence[Offer], wish: Wish) -> Iterator[FigureRow]:
    """The figures of all answers side by side; what nobody knows of any of them is left out."""
    rows = [
        (*wish.titled(name), *shown, [offer.figure(name, wish) for offer in found]) for name, shown in COMPARED.items()
    ]
    if any(limit.typed and limit.figure in OF_ACIDS for limit in wish.limits):
        rows.append((*OF_LOTS, [100 * offer.held for offer in found]))
    for title, unit, decimals, more, figures in rows:
        values = [None if value is None else round(value, decimals) for value in figures]  # alike is what looks alike
        known = [value for value in values if value is not None]
        if not known:
            continue
        best = None if more is None or len(set(known)) == 1 else max(known) if more else min(known)
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


def why_view(
    conflict: Conflict, points: Sequence[tuple[float, float]], read: ReadWish, asked: FindQuery, more: str = ""
) -> WhyView:
    """Why nothing keeps a wish, with as much of the line between two of its limits as is known."""
    shown = "It is shown that nothing keeps all of it" if conflict.is_shown else NOTHING_FOUND
    return WhyView(
        said=shown,
        words=conflict.words,
        gives=tuple(GiveView(words=give.words, address=_given(give, read, asked)) for give in conflict.gives),
        frontier=_frontier(conflict, points, read, asked),
        more=more,
    )


def _given(give: Give, read: ReadWish, asked: FindQuery) -> str:
    """The address of a wish in which one limit gives; nothing where it is a clause that can be dropped above."""
    if give.clause:
        left = without_clause(asked.wish, give.limit.typed) if give.limit is not None else asked.wish
        return asked.address(wish=f"{left}, {give.clause}")
    if give.limit is None or give.asked is None:
        return ""
    return asked.address(wish=with_bound(asked.wish, give.limit, give.asked, read.wish.storage.place))


def _frontier(
    conflict: Conflict, points: Sequence[tuple[float, float]], read: ReadWish, asked: FindQuery
) -> FrontierView | None:
    if conflict.pair is None:
        return None
    first, second = conflict.pair
    one, other = first.limit, second.limit
    if one is None or other is None:
        return None
    wish, place = read.wish, read.wish.storage.place
    ends = [(one.bound, second.bound), (first.bound, other.bound)]

    def both(x: float, y: float) -> str:
        text = with_bound(with_bound(asked.wish, one, x, place), other, looser(other, y), place)
        return asked.address(wish=text)

    return draw_frontier(
        [(x, y, f"{_said(one, wish, x)} with {_said(other, wish, y)}", both(x, y)) for x, y in points],
        (one.bound, other.bound, "asked"),
        ", ".join(filter(None, wish.titled(one.figure))),
        ", ".join(filter(None, wish.titled(other.figure))),
        [(x, y) for x, y in ends if x is not None and y is not None],
    )


def _said(limit: Limit, wish: Wish, bound: float) -> str:
    title, unit = wish.titled(limit.figure)
    return f"{title} {bound:.3g} {unit}".strip()
