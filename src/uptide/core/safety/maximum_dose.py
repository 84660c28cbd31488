"""How much of one scent there is room for: the share at which the first stop would come."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.lines import Line
from uptide.core.recipe.recipe import Row, RowStatus
from uptide.core.safety.case import Case, Part, UsageContext
from uptide.core.safety.check import check
from uptide.core.safety.dose import dose_of

LEAST_SHARE = 0.001  # % by mass: what is stopped at this share is stopped at any
HALVINGS = 18  # of the five powers of ten up to 100 %: to the fourth digit


@dataclass(frozen=True, slots=True)
class MaximumDose:
    """The most [% by mass] of one scent in a plain oil, what is suggested [%], and what would be passed beyond it."""

    most: float
    suggested: float
    why: str


def maximum_dose_of(item: Ingredient, base: Ingredient, usage: UsageContext) -> MaximumDose:
    """Find by halving the greatest share without a stop; more of an oil never lowers its risk, so there is one.

    Args:
        item: the scent.
        base: a plain oil that fills up the rest.
        usage: what it is for and who wears it.
    """
    at_once = check(mixed_in(LEAST_SHARE, item, base, usage)).open_stops
    if at_once:
        return MaximumDose(0.0, 0.0, " ".join(dict.fromkeys(stop.message for stop in at_once)))
    within, beyond = LEAST_SHARE, 100.0
    for _ in range(HALVINGS):
        middle = sqrt(within * beyond)
        if check(mixed_in(middle, item, base, usage)).open_stops:
            beyond = middle
        else:
            within = middle
    stops = check(mixed_in(beyond, item, base, usage)).open_stops
    suggested = min(within, dose_of(mixed_in(within, item, base, usage)).suggested)
    return MaximumDose(within, suggested, " ".join(dict.fromkeys(stop.message for stop in stops)))


def mixed_in(percent: float, item: Ingredient, base: Ingredient, usage: UsageContext) -> Case:
    """A case of nothing but a scent at so many percent by mass in a plain oil."""
    parts = []
    for each, share in ((base, 100.0 - percent), (item, percent)):
        row = Row(
            0, each.name, status=RowStatus.READ, line=Line(each.name), ingredient=each, grams=share, percent_mass=share
        )
        parts.append(Part(row, each, share, share))
    return Case(
        tuple(parts),
        usage.purpose,
        wearer=usage.wearer,
        tables=usage.tables,
        today=usage.today,
        words=item.name.lower(),
        material="PET",
        total_grams=100.0,
    )
