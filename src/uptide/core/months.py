"""Months: how long one is, from one day to another, and the same day so many later."""

from __future__ import annotations

from calendar import monthrange
from datetime import date, datetime

HOURS_A_MONTH = 730.5  # a twelfth of 8,766 h, the mean year
HOURS_A_DAY = 24.0
DAYS_A_MONTH = HOURS_A_MONTH / HOURS_A_DAY


def months_between(first: date, second: date) -> float:
    """Months of 730.5 hours from one day to another."""
    return (second - first).days * HOURS_A_DAY / HOURS_A_MONTH


def months_later(first: date, months: int) -> date:
    """The same day so many calendar months later, or the last day of a shorter month.

    >>> months_later(date(2026, 11, 30), 3)
    datetime.date(2027, 2, 28)
    """
    year, month = divmod(first.year * 12 + first.month - 1 + months, 12)
    return date(year, month + 1, min(first.day, monthrange(year, month + 1)[1]))


def say_day(value: date | datetime | None) -> str:
    """Write a day as 24 Nov 2026; a dash for none."""
    return f"{value.day} {value:%b %Y}" if value else "–"
