"""How long something that is made keeps, in the words of every page of a batch."""

from __future__ import annotations

from datetime import date

from uptide.core.keeping.shelf_life import ShelfLife
from uptide.core.months import months_later, say_day


def keeps(life: ShelfLife | None, made_on: date) -> str:
    """Until when it keeps, from the day of making; or why that is not said."""
    if life is None or life.months is None:
        why = f": {life.reason}" if life is not None and life.reason else ""
        return f"How long it keeps is not worked out{why}"
    if life.months == 0:
        ends = f": {life.limited_by} ends it" if life.limited_by else ""
        return f"It keeps less than a month{ends}; do not bottle it"
    return f"Keeps until {say_day(months_later(made_on, life.months))}, {life.months} months"
