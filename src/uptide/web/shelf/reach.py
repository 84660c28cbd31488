"""Where the oils reach: two figures that a blend can have together, with a target that is pointed at."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import RedirectResponse, Response

from uptide.core.finder.search.confirming import value_of
from uptide.core.finder.search.reach import PAIRED, Corner, Plane, aimed
from uptide.core.finder.search.wish import Limit
from uptide.core.finder.search.wish_words import LONGEST_WISH
from uptide.core.oxidation.simulate import standard_draws
from uptide.store.blends import load_blend
from uptide.web.base.dependencies import Facts, OnShelf, Store
from uptide.web.base.forms import number_of
from uptide.web.base.pages import render
from uptide.web.drawing.axes import Field
from uptide.web.drawing.reach import SIZE, draw_reach
from uptide.web.shelf.find_view import FindQuery, usual_wish
from uptide.workshop.assessment import assess_here
from uptide.workshop.finding import oils_for, wish_here

router = APIRouter(prefix="/shelf/reach", include_in_schema=False)

MOST = 1e4  # of any figure


class ReachQuery(FindQuery):
    """Two figures, a wish whose rows are kept, a blend that is drawn, and a target: in figures, or pointed at."""

    one: str = "linoleic"
    other: str = "feel"
    blend: int = 0
    to_one: str = ""
    to_other: str = ""
    px: float | None = None  # of the picture
    py: float | None = None


@router.get("")
def show(
    request: Request, store: Store, facts: Facts, shelf: OnShelf, asked: Annotated[ReachQuery, Query()]
) -> Response:
    """Draw what two figures can be together; with a target, go and find a blend that is there."""
    text = asked.wish if asked.wish.strip() else usual_wish(shelf)
    read, _ = wish_here(text, facts, store)
    plane = Plane(read.wish, oils_for(read.wish, facts), standard_draws(), (asked.one, asked.other))
    outline = () if read.not_read else plane.outline()
    oils = [(item.name, bool(item.lot) or item.base_key in shelf.on_hand, corner) for item, corner in plane.oils()]
    blend = _blend(asked, plane, facts, store)
    shown = [*outline, *(corner for *_, corner in oils), *((blend[1],) if blend else ())]
    field = Field.of(shown, *SIZE) if outline else None
    target: Corner | None = None
    if field is not None and asked.px is not None and asked.py is not None:
        target = field.figures(asked.px, asked.py)
    elif asked.to_one.strip() and asked.to_other.strip():
        target = number_of(asked.to_one, "target", most=MOST), number_of(asked.to_other, "target", most=MOST)
    if target is not None:
        at = dict(zip(plane.pair, target, strict=True))
        return RedirectResponse(asked.address(wish=aimed(text, read.wish.limits, at)), 303)
    titles = tuple(", ".join(filter(None, read.wish.titled(figure))) for figure in plane.pair)
    return render(
        request,
        "shelf/reach.html",
        picture=draw_reach(field, (titles[0], titles[1]), outline, oils, blend) if field is not None else None,
        titles=titles,
        asked=asked,
        not_read=read.not_read,
        figures=[(figure, read.wish.titled(figure)[0]) for figure in PAIRED],
        usual=usual_wish(shelf),
        here=asked.address("/shelf/reach", text) + f"&one={asked.one}&other={asked.other}",
        longest=LONGEST_WISH,
        count=len(shelf.standing),
    )


def _blend(asked: ReachQuery, plane: Plane, facts: Facts, store: Store) -> tuple[str, Corner] | None:
    """A blend of one's own with its two figures, where both are known."""
    if not asked.blend:
        return None
    blend = load_blend(store, asked.blend)
    found = assess_here(blend.newest.recipe, facts, store)
    one, other = (value_of(Limit(each, at_least=True, bound=0.0), plane.wish, found) for each in plane.pair)
    return None if one is None or other is None else (blend.name, (one, other))
