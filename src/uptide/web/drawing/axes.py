"""An axis of a picture: from figures to pixels and back, with round figures to mark on it."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil, floor, log10

from uptide.core.tolerance import reaches

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
