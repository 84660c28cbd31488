"""Everything that stands on a shelf or with somebody, on one picture of time: what turns first on top."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from functools import lru_cache

from uptide.core.months import months_later

SOON_DAYS = 61  # what ends within two months should be used up


class Kind(StrEnum):
    """What a thing on the board is."""

    LOT = "lot"
    INFUSED = "infused oil"
    BOTTLE = "bottle"
    BATCH = "batch"


class Freshness(StrEnum):
    """How a thing stands against its own limit; the words stand beside every colour and mark."""

    OFF = "off"
    OVER = "over"
    DOUBT = "test it"
    SOON = "use up"
    KEEPS = "keeps"
    UNKNOWN = "not known"


class Section(StrEnum):
    """A stretch of time that things end in."""

    NOW = "Over, off, or to be tested"
    MONTH = "Within a month"
    TWO_MONTHS = "Within two months"
    HALF_YEAR = "Within half a year"
    LATER = "Later"
    UNKNOWN = "Nobody knows until when"


# How many months from today each stretch reaches; the last as long as anybody keeps anything.
REACH = ((Section.NOW, 0), (Section.MONTH, 1), (Section.TWO_MONTHS, 2), (Section.HALF_YEAR, 6), (Section.LATER, 1200))


@dataclass(frozen=True, slots=True)
class Thing:
    """One line of the board: a lot, or so many bottles that stand alike.

    `ends_on` is what nine in ten such things reach, `turns_on` what half of them do.
    """

    kind: Kind
    key: str
    name: str
    count: int = 1
    size_ml: float = 0.0
    grams: float = 0.0
    place: str = ""
    holder: str = ""
    batch: str = ""
    made_on: date | None = None
    opened_on: date | None = None
    ends_on: date | None = None
    turns_on: date | None = None
    limited_by: str = ""
    is_off: bool = False
    look_on: date | None = None
    look: str = ""
    status: str = ""  # held or blocked

    def freshness(self, today: date) -> Freshness:
        """How it stands on a day."""
        if self.is_off:
            return Freshness.OFF
        if self.turns_on is not None and self.turns_on <= today:
            return Freshness.OVER
        if self.ends_on is None:
            return Freshness.UNKNOWN
        if self.ends_on <= today:
            return Freshness.DOUBT
        return Freshness.SOON if self.ends_on <= today + timedelta(days=SOON_DAYS) else Freshness.KEEPS

    def section(self, today: date) -> Section:
        """In which stretch of time it ends."""
        if self.freshness(today) in (Freshness.OFF, Freshness.OVER, Freshness.DOUBT):
            return Section.NOW
        return section_of(self.ends_on, today)


def section_of(ends_on: date | None, today: date) -> Section:
    """In which stretch of time a day lies."""
    if ends_on is None:
        return Section.UNKNOWN
    return next((section for section, last in _last_days(today) if ends_on <= last), Section.LATER)


@lru_cache(maxsize=4)
def _last_days(today: date) -> tuple[tuple[Section, date], ...]:
    """The last day of each stretch of time."""
    return tuple((section, months_later(today, months)) for section, months in REACH)


def span_of(section: Section, today: date) -> tuple[date | None, date | None]:
    """The first day of a stretch of time, and the one after it; None where it has none."""
    days = _last_days(today)
    place = [each for each, _ in days].index(section)
    one = timedelta(days=1)
    first = days[place - 1][1] + one if place else None
    return first, days[place][1] + one if section is not Section.LATER else None


def first_to_end(things: Iterable[Thing], today: date) -> list[Thing]:
    """Things, what is off and over on top, then by the day they end."""
    gone = (Freshness.OFF, Freshness.OVER)
    return sorted(
        things, key=lambda each: (each.freshness(today) not in gone, each.ends_on or date.max, each.name, each.key)
    )


@dataclass(frozen=True, slots=True)
class Shown:
    """Which things a board shows; nothing said is all of them."""

    kind: str = ""
    place: str = ""
    holder: str = ""
    soon: bool = False
    open: bool = False
    look: bool = False
    month: str = ""  # as in “2027-01”: what ends in it
    section: str = ""  # a stretch of time by its name in the address

    @property
    def span(self) -> tuple[date, date] | None:
        """The first day of its month, and the first of the one after."""
        if not re.fullmatch(r"\d{4}-(0[1-9]|1[0-2])", self.month):
            return None
        first = date.fromisoformat(f"{self.month}-01")
        return first, months_later(first, 1)

    def holds(self, thing: Thing, today: date) -> bool:
        """Whether a thing is shown."""
        kinds = (Kind.LOT, Kind.INFUSED) if self.kind == Kind.LOT else (self.kind,)
        span = self.span
        return (
            (not self.kind or thing.kind in kinds)
            and (not self.place or thing.place == self.place)
            and (not self.holder or thing.holder == self.holder)
            and (not self.soon or thing.freshness(today) not in (Freshness.KEEPS, Freshness.UNKNOWN))
            and (not self.open or thing.opened_on is not None)
            and (not self.look or (thing.look_on is not None and thing.look_on <= today))
            and (not self.section or thing.section(today).name.lower() == self.section)
            and (span is None or (thing.ends_on is not None and span[0] <= thing.ends_on < span[1]))
        )


MONTHS = (
    "january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november",
    "december",
)  # fmt: skip
GOES_OFF = r"(?:what|which)\s+(?:\w+\s+)?(?:goes off|go off|turns?|ends?|expires?|is over|runs out|goes rancid)"
IN_MONTH = re.compile(rf"{GOES_OFF}\s+(?:in|this|by)\s+(\w+)", re.IGNORECASE)
IS_OPEN = re.compile(r"(?:what|which)\s+(?:\w+\s+)?(?:is|are)\s+open(?:ed)?", re.IGNORECASE)
USE_UP = re.compile(
    r"(?:what|which(?:\s+\w+)?)\s+(?:(?:should|must|do|can)\s+(?:i|we)\s+(?:need\s+to\s+)?use|needs\s+using)"
    r"(?:\s+(?:up|first|next|soon|now))*|use up|"
    rf"{GOES_OFF}\s+(?:first|next|soon)|"
    r"(?:(?:what|which)(?:\s+\w+)?\s+(?:is|are)\s+)?"
    r"(?:about\s+to\s+(?:expire|turn|end|go\s+(?:off|rancid))|expiring|going\s+off)"
    r"(?:\s+(?:first|next|soon))?",
    re.IGNORECASE,
)
LOOK_AT = re.compile(r"what\s+(?:needs|wants)\s+a\s+look", re.IGNORECASE)


def read_board_words(text: str, today: date) -> Shown | None:
    """What of the board a question asks for; None for a question of something else.

    >>> read_board_words("what goes off in january", date(2026, 11, 27)).month
    '2027-01'
    >>> read_board_words("what is open", date(2026, 11, 27)).open, read_board_words("12 drops in 30 ml", date.today())
    (True, None)
    """
    words = " ".join(text.strip().rstrip("?").split())
    in_month = IN_MONTH.fullmatch(words)
    if in_month is not None:
        return _of_month(in_month[1].casefold(), today)
    if IS_OPEN.fullmatch(words):
        return Shown(open=True)
    if USE_UP.fullmatch(words):
        return Shown(soon=True)
    return Shown(look=True) if LOOK_AT.fullmatch(words) else None


def _of_month(word: str, today: date) -> Shown | None:
    if word == "month":
        return Shown(month=f"{today:%Y-%m}")
    known = [place for place, name in enumerate(MONTHS, start=1) if len(word) > 2 and name.startswith(word)]
    if len(known) != 1:
        return None
    year = today.year if known[0] >= today.month else today.year + 1
    return Shown(month=f"{year}-{known[0]:02d}")


def ebb(things: Sequence[tuple[date, int]], today: date, months: int) -> tuple[int, ...]:
    """How many of things, each (the day it ends, how many), still keep at the beginning of each month from today on.

    >>> ebb([(date(2026, 12, 5), 2), (date(2027, 2, 1), 3)], date(2026, 11, 27), 4)
    (5, 3, 3, 0)
    """
    firsts = [months_later(today, month) for month in range(months)]
    ended = [0] * (months + 1)  # how many ended by the first of each
    for ends, count in things:
        ended[bisect_left(firsts, ends)] += count
    left, found = sum(ended), []
    for count in ended[:months]:
        left -= count
        found.append(left)
    return tuple(found)
