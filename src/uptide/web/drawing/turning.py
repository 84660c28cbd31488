"""What turns first: the lots on hand on one picture of time, each as long as it still keeps."""

from __future__ import annotations

from datetime import date

from uptide.core.months import months_between, months_later, say_day
from uptide.web.drawing.view import View
from uptide.workshop.shelf import Shelf, StandingLot

WIDTH, NAMES, ROW, TOP, BOTTOM = 400.0, 136.0, 24.0, 8.0, 22.0
MONTHS = 14.0  # that the picture reaches ahead; what keeps longer runs off its edge
RIGHT = 74.0  # user units for the words behind a line
TICK_MONTHS = 3
MOST_LINES = 10


class Life(View):
    """One lot: its name, and how far its line goes."""

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


def draw_turning(shelf: Shelf, today: date) -> TurningView | None:
    """Draw the lots that end first, those that are over on top; None where nobody knows of any when it ends."""
    known = [each for each in shelf.standing if each.life.is_over or each.life.ends_on is not None]
    shown = sorted(known, key=lambda each: (not each.life.is_over, each.life.ends_on or today))[:MOST_LINES]
    if not shown:
        return None
    scale = (WIDTH - NAMES - RIGHT) / MONTHS
    foot = TOP + ROW * len(shown)
    return TurningView(
        height=foot + BOTTOM,
        lives=tuple(_life(each, shelf, place, scale, today) for place, each in enumerate(shown)),
        ticks=tuple(
            (NAMES + scale * month, f"{months_later(today, month):%b}")
            for month in range(0, int(MONTHS) + 1, TICK_MONTHS)
        ),
        foot=foot,
    )


def _life(each: StandingLot, shelf: Shelf, place: int, scale: float, today: date) -> Life:
    life = each.life
    ahead = max(0.0, months_between(today, life.ends_on)) if life.ends_on is not None else 0.0
    state = "over" if life.is_over else "doubt" if life.is_in_doubt else "keeps"
    words = "over" if life.is_over else "test it" if life.is_in_doubt else say_day(life.ends_on or today)
    return Life(
        name=shelf.facts.ingredients[each.item.base_key].name if each.item.base else each.item.name,
        code=each.lot.code,
        href=f"/shelf/lots/{each.lot.code}",
        y=TOP + ROW * place + ROW / 2,
        end=NAMES + scale * (0.0 if life.is_over else min(ahead, MONTHS)),
        words=words,
        state=state,
        runs_on=ahead > MONTHS and not life.is_over,
    )
