"""Which lots a pour is taken from: first what ends first, leaving heels and crumbs, split where one runs short."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

HEEL_SHARE, HEEL_LEAST = 0.01, 2_000  # of what came, and mg: what a container keeps; common practice
CRUMB_SHARE, CRUMB_LEAST = 0.02, 700  # of the pour, and mg: less is not worth opening a container; assumption


@dataclass(frozen=True, slots=True)
class OnHand:
    """A lot that can be taken from: what is left and what came [mg], and the days that put it before others."""

    code: str
    left_mg: int
    came_mg: int
    ends_on: date | None = None
    opened_on: date | None = None
    received_on: date | None = None

    @property
    def heel_mg(self) -> int:
        """What stays in the container [mg]."""
        return max(HEEL_LEAST, round(HEEL_SHARE * self.came_mg))


@dataclass(frozen=True, slots=True)
class Pick:
    """So much of a lot [mg]."""

    code: str
    mg: int


@dataclass(frozen=True, slots=True)
class Picked:
    """What is taken from which lots, and what nobody has [mg]."""

    picks: tuple[Pick, ...]
    missing_mg: int


def pick(wanted_mg: int, lots: Iterable[OnHand], day: date, first: str = "") -> Picked:
    """Take so much [mg] from lots that are in date on a day, `first` before any other.

    >>> lots = [OnHand("A", 4_100, 200_000, date(2027, 1, 15)), OnHand("B", 210_000, 420_000, date(2027, 3, 31)),
    ...         OnHand("C", 920_000, 920_000, date(2027, 11, 30))]
    >>> [(each.code, each.mg) for each in pick(331_000, lots, date(2026, 11, 27)).picks]
    [('B', 205800), ('C', 125200)]
    """
    picks, missing = [], wanted_mg
    for lot in first_to_end(lots, day, first):
        can_give = lot.left_mg - lot.heel_mg
        is_crumb = can_give < min(missing, max(CRUMB_LEAST, round(CRUMB_SHARE * wanted_mg)))
        if missing <= 0 or can_give <= 0 or (is_crumb and lot.code != first):
            continue
        picks.append(Pick(lot.code, min(can_give, missing)))
        missing -= picks[-1].mg
    return Picked(tuple(picks), max(0, missing))


def first_to_end(lots: Iterable[OnHand], day: date, first: str = "") -> Sequence[OnHand]:
    """Lots in date on a day, in the order in which they are used: by end, then opened, received and code."""
    usable = [lot for lot in lots if lot.ends_on is None or lot.ends_on >= day]
    return sorted(
        usable,
        key=lambda lot: (
            lot.code != first,
            lot.ends_on or date.max,
            lot.opened_on or date.max,
            lot.received_on or date.max,
            lot.code,
        ),
    )
