"""Many things on one picture of time: a line for each to the day it ends, and the ebb of all of them together."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from itertools import pairwise

from uptide.core.keeping.board import Freshness, Thing
from uptide.core.months import months_between, months_later
from uptide.web.base.pages import number
from uptide.web.drawing.view import View

WIDTH, ROW, TODAY = 320.0, 20.0, 24.0  # user units; where today stands
MONTHS = 18.0  # that the picture reaches ahead; what keeps longer runs off its edge
PER_MONTH = (WIDTH - TODAY) / MONTHS
TICK_MONTHS = 3
EBB_WIDTH, EBB_HEIGHT, EBB_LEFT, EBB_FOOT = 720.0, 96.0, 54.0, 20.0


class LineView(View):
    """A thing on the picture of time."""

    end: float  # of its sure life
    doubt: float  # where half of such things have turned
    runs_on: bool  # past the edge
    freshness: str


class EbbView(View):
    """How many of all things still keep, month by month: a flood that runs out."""

    path: str
    months: tuple[tuple[float, float, str, str, int], ...]  # left, width, key, words, how many end in it
    levels: tuple[tuple[float, str], ...]
    left: float = EBB_LEFT
    width: float = EBB_WIDTH
    height: float = EBB_HEIGHT
    foot: float = EBB_HEIGHT - EBB_FOOT


def line_of(thing: Thing, today: date) -> LineView:
    """Where the line of a thing goes."""
    freshness = thing.freshness(today)
    gone = freshness in (Freshness.OFF, Freshness.OVER)
    end = _x(today, thing.ends_on) if thing.ends_on is not None and not gone else TODAY
    doubt = _x(today, thing.turns_on) if thing.turns_on is not None and not gone else end
    runs_on = thing.ends_on is not None and months_between(today, thing.ends_on) > MONTHS
    return LineView(end=end, doubt=max(end, doubt), runs_on=runs_on, freshness=freshness.value)


def _x(today: date, day: date) -> float:
    return TODAY + PER_MONTH * min(MONTHS, max(0.0, months_between(today, day))) if day > today else TODAY


def ticks(today: date) -> tuple[tuple[float, str], ...]:
    """The months above the lines."""
    return tuple(
        (TODAY + PER_MONTH * month, f"{months_later(today, month):%b}") for month in range(0, int(MONTHS), TICK_MONTHS)
    )


def draw_ebb(counts: Sequence[int], today: date) -> EbbView | None:
    """Draw how many things keep until which month; None where none does."""
    if not counts or not counts[0]:
        return None
    step = (EBB_WIDTH - EBB_LEFT) / (len(counts) - 1)
    foot = EBB_HEIGHT - EBB_FOOT
    high = foot - 8.0

    def y(count: int) -> float:
        return foot - high * count / counts[0]

    points = [f"M{EBB_LEFT:.1f},{foot:.1f}L{EBB_LEFT:.1f},{y(counts[0]):.1f}"]
    points += [
        f"L{EBB_LEFT + step * place:.1f},{y(before):.1f}L{EBB_LEFT + step * place:.1f},{y(count):.1f}"
        for place, (before, count) in enumerate(pairwise(counts), start=1)
    ]
    months = tuple(
        (
            EBB_LEFT + step * place,
            step,
            f"{months_later(today, place):%Y-%m}",
            f"{months_later(today, place):%b %Y}",
            counts[place] - counts[place + 1],
        )
        for place in range(len(counts) - 1)
    )
    levels = tuple((y(count), number(count, 0)) for count in dict.fromkeys((counts[0], counts[0] // 2)) if count)
    path = f"{''.join(points)}L{EBB_WIDTH:.1f},{foot:.1f}Z"
    return EbbView(path=path, months=months, levels=levels)
