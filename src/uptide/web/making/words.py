"""How long something that is made keeps, in the words of every page of a batch."""

from __future__ import annotations

from datetime import date

from uptide.core.errors import QuantityError
from uptide.core.keeping.shelf_life import ShelfLife
from uptide.core.making.batch_record import BatchRecord
from uptide.core.months import months_later, say_day
from uptide.web.base.forms import number_of

COLDEST, HOTTEST = -10.0, 100.0  # °C of a bench


def called(name: str, record: BatchRecord) -> str:
    """What a batch is called: its blend, with its scent where a pot has several, or that it is their base."""
    what = record.plan["scent"] or ("the base" if record.plan["parts"] else "")
    return f"{name}, {what}" if what else name


def warmth_of(text: str) -> float | None:
    """Read how warm a bench or a vessel is [°C]; None for nothing said, QuantityError for what cannot be."""
    if not text.strip():
        return None
    celsius = number_of(text, "temperature in °C")
    if not COLDEST <= celsius <= HOTTEST:
        raise QuantityError(f"{text} °C is no bench; {COLDEST:g} to {HOTTEST:g} °C can be.")
    return celsius


def keeps(life: ShelfLife | None, made_on: date) -> str:
    """Until when it keeps, from the day of making; or why that is not said."""
    if life is None or life.months is None:
        why = f": {life.reason}" if life is not None and life.reason else ""
        return f"How long it keeps is not worked out{why}"
    if life.months == 0:
        ends = f": {life.limited_by} ends it" if life.limited_by else ""
        return f"It keeps less than a month{ends}; do not bottle it"
    return f"Keeps until {say_day(months_later(made_on, life.months))}, {life.months} months"
