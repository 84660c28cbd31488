"""When a bottle is looked at: the next day, and after one, four and twelve weeks; strips where it turns soon."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from uptide.core.months import DAYS_A_MONTH
from uptide.core.tolerance import exceeds

LOOKS = ((1, "clear, one phase, colour, smell"), (7, "smell and look"), (28, "smell and look"), (84, "smell and look"))
STRIP_WITHIN = 6  # months: what keeps no longer is measured with a strip at the later looks; assumption
STRIP_FROM = 28  # days


@dataclass(frozen=True, slots=True)
class Check:
    """A look that a bottle asks for."""

    on: date
    what: str


def checks_of(made_on: date, months: float | None) -> tuple[Check, ...]:
    """Every look of a bottle that keeps so many months; none after it ends.

    >>> [(each.on.isoformat(), each.what) for each in checks_of(date(2026, 11, 1), 2)][-1]
    ('2026-11-29', 'smell and look, and a strip')
    """
    ends = None if months is None else made_on + timedelta(days=int(DAYS_A_MONTH * months))
    found = []
    for days, what in LOOKS:
        on = made_on + timedelta(days=days)
        strip = days >= STRIP_FROM and months is not None and not exceeds(months, STRIP_WITHIN)
        if ends is None or on < ends:
            found.append(Check(on, f"{what}, and a strip" if strip else what))
    return tuple(found)


def next_check(checks: Sequence[Check], looked: Sequence[date], today: date) -> Check | None:
    """The look that is due or comes next: of those that are past only the last, unless somebody looked since it was.

    >>> plan = checks_of(date(2026, 11, 1), 12)
    >>> next_check(plan, [], date(2026, 11, 20)).on, next_check(plan, [date(2026, 11, 19)], date(2026, 11, 20)).on
    (datetime.date(2026, 11, 8), datetime.date(2026, 11, 29))
    """
    past = [each for each in checks if each.on <= today]
    if past and not any(day >= past[-1].on for day in looked):
        return past[-1]
    return next((each for each in checks if each.on > today), None)
