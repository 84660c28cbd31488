"""The one clock: the day and the hour on the wall where this runs."""

from __future__ import annotations

from datetime import UTC, date, datetime


def wall_clock() -> datetime:
    """The hour on the wall, without a zone: what a person writes down."""
    return datetime.now(UTC).astimezone().replace(tzinfo=None)


def today() -> date:
    """The day on the wall: late in the evening it is not tomorrow yet, whatever it is elsewhere."""
    return wall_clock().date()
