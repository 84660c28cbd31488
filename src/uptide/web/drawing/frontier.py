"""Two limits against each other: how far the one can be for each of the other, as a line one can point at."""

from __future__ import annotations

from collections.abc import Sequence

from uptide.web.drawing.axes import AxesView, Field
from uptide.web.drawing.view import View

SIZE = (460.0, 250.0)  # px


class Point(View):
    """What can be had together: where it stands, in words, and the address of the wish that asks for it."""

    x: float
    y: float
    words: str
    address: str


class FrontierView(View):
    """The picture: its axes, points from left to right with the line through them, and what was asked."""

    axes: AxesView
    points: tuple[Point, ...]
    path: str
    asked: Point


def draw_frontier(
    points: Sequence[tuple[float, float, str, str]],
    asked: tuple[float, float, str],
    across: str,
    upward: str,
    ends: Sequence[tuple[float, float]] = (),
) -> FrontierView | None:
    """Draw it; each point is its two figures, words and an address; None where there is nothing to draw a line of.

    Between the ends the line will lie. They have room from the first, so that no point moves away from under a finger
    while the others are still worked out.
    """
    if len(points) < len(("one", "other")):
        return None
    ordered = sorted(points)
    field = Field.of([(x, y) for x, y, *_ in ordered] + [asked[:2], *ends], *SIZE)

    def point(x: float, y: float, words: str, address: str = "") -> Point:
        across, down = field.at((x, y))
        return Point(x=across, y=down, words=words, address=address)

    drawn = tuple(point(*each) for each in ordered)
    return FrontierView(
        axes=field.axes(across, upward, [x for x, *_ in ordered]),
        points=drawn,
        path="M" + "L".join(f"{each.x:.1f} {each.y:.1f}" for each in drawn),
        asked=point(*asked),
    )
