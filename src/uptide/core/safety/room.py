"""How much of one scent there is room for: the share at which the first stop would come."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from uptide.core.blend.ingredient import Ingredient
from uptide.core.blend.recipe import Row, RowStatus
from uptide.core.measures.lines import Line
from uptide.core.safety.case import Case, Circumstances, Part
from uptide.core.safety.check import check
from uptide.core.safety.dose import dose_of

TRACE = 0.001  # % by mass: what is stopped at this share is stopped at any
HALVINGS = 18  # of the five powers of ten up to 100 %: to the fourth digit


@dataclass(frozen=True, slots=True)
class Room:
    """The most [% by mass] of one scent in a plain oil, what is suggested [%], and what would be passed beyond it."""

    most: float
    suggested: float
    why: str


def room_for(item: Ingredient, base: Ingredient, around: Circumstances) -> Room:
    """Find by halving the greatest share without a stop; more of an oil never lowers its risk, so there is one.

    Args:
        item: the scent.
        base: a plain oil that fills up the rest.
        around: what it is for and who wears it.
    """
    at_once = check(mixed_in(TRACE, item, base, around)).open_stops
    if at_once:
        return Room(0.0, 0.0, " ".join(dict.fromkeys(stop.message for stop in at_once)))
    within, beyond = TRACE, 100.0
    for _ in range(HALVINGS):
        middle = sqrt(within * beyond)
        if check(mixed_in(middle, item, base, around)).open_stops:
            beyond = middle
        else:
            within = middle
    stops = check(mixed_in(beyond, item, base, around)).open_stops
    suggested = min(within, dose_of(mixed_in(within, item, base, around)).suggested)
    return Room(within, suggested, " ".join(dict.fromkeys(stop.message for stop in stops)))


def mixed_in(percent: float, item: Ingredient, base: Ingredient, around: Circumstances) -> Case:
    """A case of nothing but a scent at so many percent by mass in a plain oil."""
    parts = []
    for each, share in ((base, 100.0 - percent), (item, percent)):
        row = Row(0, each.name, RowStatus.READ, Line(each.name), each, grams=share, percent_mass=share)
        parts.append(Part(row, each, share, share))
    return Case(
        tuple(parts), around.purpose, around.wearer, around.book, around.today, item.name.lower(), "PET",
        total_grams=100.0,
    )  # fmt: skip
