"""A lot in words: what it is of, and how it stands."""

from __future__ import annotations

from uptide.core.months import DAYS_A_MONTH
from uptide.workshop.shelf import StandingLot


def lot_words(each: StandingLot) -> str:
    """How a lot stands, in a few words."""
    life = each.life
    if life.months_left is None:
        return "nobody knows how long it keeps"
    if life.is_over:
        return f"over: {life.limited_by}"
    if life.is_in_doubt:
        return "may have turned: smell and test it before use"
    left = f"{life.months_left * DAYS_A_MONTH:.0f} days" if life.months_left < 2 else f"{int(life.months_left)} months"
    return f"{left} left: {life.limited_by}"
