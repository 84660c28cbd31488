"""The axes of a picture: from figures to pixels and back, with round figures to mark on them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor, log10

from uptide.core.tolerance import reaches
from uptide.web.drawing.view import View

LEFT, RIGHT, TOP, BOTTOM = 54.0, 24.0, 34.0, 40.0  # px about the field
TICKS = 4  # at most so many between the ends, about
PADDED = 0.08  # of what is shown: room beyond the outermost
NICE = (1.0, 2.0, 2.5, 5.0, 10.0)
LEAST_SPAN = 1e-6


class Axis:
    """From figures to pixels, linear, with the outermost figures a little within its ends."""

    def __init__(self, values: Sequence[float], start: float, end: float) -> None:
        span = max(max(values) - min(values), LEAST_SPAN)
        self.low, self.high = min(values) - PADDED * span, max(values) + PADDED * span
        self._start, self._end = start, end

    def at(self, value: float) -> float:
        """Where a figure stands [px]."""
        return round(self._start + (self._end - self._start) * (value - self.low) / (self.high - self.low), 1)

    def figure(self, pixel: float) -> float:
        """The figure that stands at a pixel."""
        return self.low + (self.high - self.low) * (pixel - self._start) / (self._end - self._start)

    def ticks(self) -> tuple[tuple[float, str], ...]:
        """Round figures between its ends: where they stand, and their words."""
        rough = (self.high - self.low) / TICKS
        size = 10.0 ** floor(log10(rough))
        step = next(nice * size for nice in NICE if reaches(nice * size, rough))
        found = (each * step for each in range(ceil(self.low / step), floor(self.high / step) + 1))
        return tuple((self.at(value), f"{value:.3g}") for value in found)


class AxesView(View):
    """What stands about a picture of two figures: its size, its field, titles, and ticks with their words."""

    width: float
    height: float
    left: float = LEFT
    foot: float
    end: float
    across: str
    upward: str
    ticks_across: tuple[tuple[float, str], ...]
    ticks_upward: tuple[tuple[float, str], ...]


@dataclass(frozen=True, slots=True)
class Field:
    """The two axes of a picture of a size [px]: where figures stand in it, and which stand where somebody points."""

    along: Axis
    up: Axis
    width: float
    height: float

    @classmethod
    def of(cls, corners: Sequence[tuple[float, float]], width: float, height: float) -> Field:
        """A field in which all of these have room."""
        return cls(
            Axis([x for x, _ in corners], LEFT, width - RIGHT),
            Axis([y for _, y in corners], height - BOTTOM, TOP),
            width,
            height,
        )

    def at(self, figures: tuple[float, float]) -> tuple[float, float]:
        """Where two figures stand [px]."""
        return self.along.at(figures[0]), self.up.at(figures[1])

    def figures(self, x: float, y: float) -> tuple[float, float]:
        """The two figures at a place of the picture [px]."""
        return self.along.figure(x), self.up.figure(y)

    def axes(self, across: str, upward: str, marked: Sequence[float] = ()) -> AxesView:
        """What stands about it; ticks along its foot are those figures that are to be marked, or round ones."""
        return AxesView(
            width=self.width,
            height=self.height,
            foot=self.height - BOTTOM,
            end=self.width - RIGHT,
            across=across,
            upward=upward,
            ticks_across=tuple((self.along.at(x), f"{x:.3g}") for x in marked) or self.along.ticks(),
            ticks_upward=self.up.ticks(),
        )
