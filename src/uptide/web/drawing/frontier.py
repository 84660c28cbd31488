"""Two limits against each other: how far the one can be for each of the other, as a line one can point at."""

from __future__ import annotations

from collections.abc import Sequence

from uptide.web.drawing.axes import Axis
from uptide.web.drawing.view import View

WIDTH, HEIGHT = 460.0, 250.0
LEFT, RIGHT, TOP, BOTTOM = 54.0, 24.0, 34.0, 40.0  # px about the field


class Point(View):
    """What can be had together: where it stands, in words, and the address of the wish that asks for it."""

    x: float
    y: float
    words: str
    address: str


class FrontierView(View):
    """The picture: points from left to right, what was asked, and ticks with their words."""

    width: float = WIDTH
    height: float = HEIGHT
    left: float = LEFT
    foot: float = HEIGHT - BOTTOM
    end: float = WIDTH - RIGHT
    across: str
    upward: str
    points: tuple[Point, ...]
    path: str
    asked: Point
    ticks_across: tuple[tuple[float, str], ...]
    ticks_upward: tuple[tuple[float, str], ...]


def draw_frontier(
    points: Sequence[tuple[float, float, str, str]], asked: tuple[float, float, str], across: str, upward: str
) -> FrontierView | None:
    """Draw it; each point is its two figures, words and an address; None where there is nothing to draw a line of."""
    if len(points) < len(("one", "other")):
        return None
    ordered = sorted(points)
    along = Axis([x for x, *_ in ordered] + [asked[0]], LEFT, WIDTH - RIGHT)
    up = Axis([y for _, y, *_ in ordered] + [asked[1]], HEIGHT - BOTTOM, TOP)
    drawn = tuple(Point(x=along.at(x), y=up.at(y), words=words, address=to) for x, y, words, to in ordered)
    return FrontierView(
        across=across,
        upward=upward,
        points=drawn,
        path="M" + "L".join(f"{point.x:.1f} {point.y:.1f}" for point in drawn),
        asked=Point(x=along.at(asked[0]), y=up.at(asked[1]), words=asked[2], address=""),
        ticks_across=tuple((along.at(x), f"{x:.3g}") for x, *_ in ordered),
        ticks_upward=up.ticks(),
    )
