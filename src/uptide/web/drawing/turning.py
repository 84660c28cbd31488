"""What turns first: what stands somewhere on one picture of time, each as long as it still keeps."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from uptide.core.keeping.board import Freshness, Thing
from uptide.core.months import months_between, months_later, say_day
from uptide.web.drawing.view import View

WIDTH, NAMES, ROW, TOP, BOTTOM = 400.0, 136.0, 24.0, 8.0, 22.0
MONTHS = 14.0  # that the picture reaches ahead; what keeps longer runs off its edge
RIGHT = 74.0  # user units for the words behind a line
TICK_MONTHS = 3
MOST_LINES = 10


class Life(View):
    """One thing: its name, and how far its line goes."""

    name: str
    code: str
    href: str
    y: float
    end: float
    words: str
    state: str  # over, doubt or keeps
    runs_on: bool  # past the edge of the picture


class TurningView(View):
    """The picture."""

    width: float = WIDTH
    height: float
    left: float = NAMES
    lives: tuple[Life, ...]
    ticks: tuple[tuple[float, str], ...]
    foot: float


def draw_turning(things: Sequence[tuple[Thing, str]], today: date) -> TurningView | None:
    """Draw the things that end first, each with its page, those that are over on top; None where none is known to."""
    shown = [each for each in things if each[0].freshness(today) is not Freshness.UNKNOWN][:MOST_LINES]
    if not shown:
        return None
    scale = (WIDTH - NAMES - RIGHT) / MONTHS
    foot = TOP + ROW * len(shown)
    return TurningView(
        height=foot + BOTTOM,
        lives=tuple(_life(thing, href, place, scale, today) for place, (thing, href) in enumerate(shown)),
        ticks=tuple(
            (NAMES + scale * month, f"{months_later(today, month):%b}")
            for month in range(0, int(MONTHS) + 1, TICK_MONTHS)
        ),
        foot=foot,
    )


def _life(thing: Thing, href: str, place: int, scale: float, today: date) -> Life:
    freshness = thing.freshness(today)
    is_over = freshness in (Freshness.OFF, Freshness.OVER)
    is_in_doubt = freshness is Freshness.DOUBT
    ahead = max(0.0, months_between(today, thing.ends_on)) if thing.ends_on is not None else 0.0
    state = "over" if is_over else "doubt" if is_in_doubt else "keeps"
    words = freshness.value if is_over or is_in_doubt else say_day(thing.ends_on or today)
    return Life(
        name=thing.name,
        code=thing.key,
        href=href,
        y=TOP + ROW * place + ROW / 2,
        end=NAMES + scale * (0.0 if is_over else min(ahead, MONTHS)),
        words=words,
        state=state,
        runs_on=ahead > MONTHS and not is_over,
    )
