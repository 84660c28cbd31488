"""A pour as the hand and the scale have it: how early to stop, what is in the band, and when it is surely done."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from uptide.core.making.rounding import of_one_pour

HAND = 0.35  # s until a hand stops pouring
LAG = 0.3  # s by which a usual scale's filter is behind
BAND = 0.01  # of an amount: how near it is near enough, where the scale sees that
LAST = 5.0  # g: from here on drop by drop
UNCHANGED = 3.0  # s that a reading stays before it counts by itself


@dataclass(frozen=True, slots=True)
class Band:
    """What is near enough to a target [g]."""

    low: float
    high: float

    def holds(self, grams: float) -> bool:
        """Whether an amount is in it."""
        return self.low <= grams <= self.high


def band_of(target_g: float, step_g: float, *, restricted: bool = False) -> Band:
    """What is near enough: a hundredth, and no less than a scale can tell; of what is restricted never more.

    >>> band_of(120, 0.01)
    Band(low=118.8, high=121.2)
    """
    near = max(BAND * target_g, of_one_pour(step_g))
    high = target_g + (of_one_pour(step_g) if restricted else near)
    return Band(round(max(0.0, target_g - near), 6), round(high, 6))


def lead(grams_per_second: float, lag: float = LAG) -> float:
    """How early to stop [g]: what falls while the scale catches up and the hand turns.

    >>> round(lead(5), 2), round(lead(1), 2)
    (3.25, 0.65)
    """
    return max(0.0, grams_per_second) * (lag + HAND)


def slope(readings: Sequence[tuple[float, float]], over: float = 0.6) -> float:
    """How fast it runs [g/s], by the readings (s, g) of the last moments; 0 where there are none."""
    if not readings:
        return 0.0
    newest = readings[-1][0]
    recent = [each for each in readings if each[0] >= newest - over]
    span = recent[-1][0] - recent[0][0]
    return (recent[-1][1] - recent[0][1]) / span if span > 0 else 0.0


def is_settled(readings: Sequence[tuple[float, float, bool]], band: Band, step_g: float) -> bool:
    """Whether a pour may count by itself: stable, in the band, and unchanged for so long.

    Stable alone would not do: one drop every second and a half is called stable two times in three.
    """
    if not readings:
        return False
    newest = readings[-1][0]
    recent = [each for each in readings if each[0] >= newest - UNCHANGED]
    if newest - readings[0][0] < UNCHANGED or not all(stable for _, _, stable in recent):
        return False
    values = [grams for _, grams, _ in recent]
    return max(values) - min(values) <= step_g * 1.01 and band.holds(values[-1])
