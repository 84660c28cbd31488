"""Where the oils reach: the outline of what two figures of a blend can be together, the oils, and a blend in it."""

from __future__ import annotations

from collections.abc import Sequence

from uptide.web.drawing.axes import AxesView, Field
from uptide.web.drawing.hull import hull
from uptide.web.drawing.view import View

SIZE = (640.0, 420.0)  # px
BESIDE = 10.0  # px from a blend to its name
Corner = tuple[float, float]


class OilDot(View):
    """An oil by itself."""

    x: float
    y: float
    name: str
    on_hand: bool


class Mark(View):
    """A blend, and where its name stands and which way it goes from there."""

    x: float
    y: float
    name: str
    name_x: float
    anchor: str


class ReachView(View):
    """The picture."""

    axes: AxesView
    outline: str
    dots: tuple[OilDot, ...]
    mark: Mark | None


def draw_reach(
    field: Field,
    titles: tuple[str, str],
    outline: Sequence[Corner],
    oils: Sequence[tuple[str, bool, Corner]],
    blend: tuple[str, Corner] | None,
) -> ReachView:
    """Draw it: what stands along its sides, the outline, oils (name, on hand), and a blend by its name."""
    corners = " ".join("{:.1f},{:.1f}".format(*field.at(corner)) for corner in hull(outline))
    dots = []
    for name, on_hand, corner in oils:
        x, y = field.at(corner)
        dots.append(OilDot(x=x, y=y, name=name, on_hand=on_hand))
    mark = None if blend is None else _mark(field, *blend)
    return ReachView(axes=field.axes(*titles), outline=corners, dots=tuple(dots), mark=mark)


def _mark(field: Field, name: str, figures: Corner) -> Mark:
    """A blend, its name on the side where there is more room."""
    x, y = field.at(figures)
    is_right = x > field.width / 2
    beside = x - BESIDE if is_right else x + BESIDE
    return Mark(x=x, y=y, name=name, name_x=beside, anchor="end" if is_right else "start")
