"""The warmth of a jar as a picture: what was read, hour by hour, against the warmest that is wanted."""

from __future__ import annotations

from itertools import pairwise

from uptide.core.infusion.temperature import GAP, TemperatureLog
from uptide.web.drawing.view import View

WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM = 400.0, 170.0, 34.0, 8.0, 10.0, 24.0
LOWEST, HIGHEST = 15.0, 65.0  # °C that the picture always shows
MOST_POINTS = 600  # more than one to a pixel are not seen
TICKS = (20, 30, 40, 50, 60, 70, 80, 90)
HOURS = (0.25, 0.5, 1, 2, 4, 8, 24, 72, 168)  # between two ticks
MOST_TICKS = 6


class WarmthView(View):
    """The picture: lines of readings as SVG paths, gaps as (from, to), ticks as (place, words)."""

    width: float = WIDTH
    height: float = HEIGHT
    left: float = LEFT
    foot: float = HEIGHT - BOTTOM
    right: float = WIDTH - RIGHT
    top: float = TOP
    path: str
    allowed: float
    allowed_words: str
    gaps: tuple[tuple[float, float], ...]
    degrees: tuple[tuple[float, str], ...]
    hours: tuple[tuple[float, str], ...]
    words: str


def draw_warmth(log: TemperatureLog) -> WarmthView | None:
    """Draw what was read of a jar; None for fewer than two readings."""
    if log.hottest is None or log.hours_warm <= 0:
        return None
    highest = max(HIGHEST, log.hottest.celsius + 3, log.allowed + 5)
    lowest = min(LOWEST, *(reading.celsius for reading in log.readings))
    foot = HEIGHT - BOTTOM
    first = log.readings[0].at

    def x(seconds: float) -> float:
        return LEFT + (WIDTH - LEFT - RIGHT) * seconds / 3600 / log.hours_warm

    def y(celsius: float) -> float:
        return foot - (foot - TOP) * (celsius - lowest) / (highest - lowest)

    every = max(1, len(log.readings) // MOST_POINTS)
    shown = [*log.readings[:-1:every], log.readings[-1]]
    places = [((reading.at - first).total_seconds(), reading.celsius) for reading in shown]
    path = f"M{x(places[0][0]):.1f} {y(places[0][1]):.1f}"
    for (before, _), (seconds, celsius) in pairwise(places):
        path += f"{'M' if seconds - before > max(GAP, every * GAP / 10) else 'L'}{x(seconds):.1f} {y(celsius):.1f}"
    step = next((hours for hours in HOURS if log.hours_warm / hours <= MOST_TICKS), HOURS[-1])
    return WarmthView(
        path=path,
        allowed=y(log.allowed),
        allowed_words=f"{log.allowed:.0f} °C at most",
        gaps=tuple((x((a.at - first).total_seconds()), x((b.at - first).total_seconds())) for a, b in log.gaps),
        degrees=tuple((y(t), f"{t}°") for t in TICKS if lowest <= t <= highest),
        hours=tuple((x(3600 * step * n), f"{step * n:g} h") for n in range(int(log.hours_warm / step) + 1)),
        words=f"From {log.readings[0].celsius:.0f} to {log.hottest.celsius:.0f} °C in {log.hours_warm:.1f} h",
    )
