"""Two limits against each other: how far the one can be for each of the other, as a line one can point at."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil, floor, log10

from uptide.core.tolerance import reaches
from uptide.web.drawing.view import View

WIDTH, HEIGHT = 460.0, 250.0
LEFT, RIGHT, TOP, BOTTOM = 54.0, 24.0, 34.0, 40.0  # px about the field
TICKS = 4  # at most so many along the height, and the ends
PADDED = 0.08  # of what is shown: room beyond the outermost
NICE = (1.0, 2.0, 2.5, 5.0, 10.0)
LEAST_SPAN = 1e-6


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
    along = _Scale([x for x, *_ in ordered] + [asked[0]], LEFT, WIDTH - RIGHT)
    up = _Scale([y for _, y, *_ in ordered] + [asked[1]], HEIGHT - BOTTOM, TOP)
    drawn = tuple(Point(x=along.at(x), y=up.at(y), words=words, address=to) for x, y, words, to in ordered)
    return FrontierView(
        across=across,
        upward=upward,
        points=drawn,
        path="M" + "L".join(f"{point.x:.1f} {point.y:.1f}" for point in drawn),
        asked=Point(x=along.at(asked[0]), y=up.at(asked[1]), words=asked[2], address=""),
        ticks_across=tuple((along.at(x), f"{x:.3g}") for x, *_ in ordered),
        ticks_upward=tuple((up.at(y), f"{y:.3g}") for y in _ticks(up.low, up.high)),
    )


class _Scale:
    def __init__(self, values: Sequence[float], start: float, end: float) -> None:
        span = max(max(values) - min(values), LEAST_SPAN)
        self.low, self.high = min(values) - PADDED * span, max(values) + PADDED * span
        self.start, self.end = start, end

    def at(self, value: float) -> float:
        return round(self.start + (self.end - self.start) * (value - self.low) / (self.high - self.low), 1)


def _ticks(low: float, high: float) -> list[float]:
    """Round values between two ends."""
    rough = (high - low) / TICKS
    size = 10.0 ** floor(log10(rough))
    step = next(nice * size for nice in NICE if reaches(nice * size, rough))
    return [each * step for each in range(ceil(low / step), floor(high / step) + 1)]
