"""An answer is shown only where the one road confirms it: every limit of the wish against the assessment."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

from uptide.core.assessment.assessment import Assessment
from uptide.core.figures.oil_profile import OMEGA_3
from uptide.core.figures.setting import solid_at
from uptide.core.finder.search.rows import ON_CHART
from uptide.core.finder.search.wish import Limit, Wish
from uptide.core.keeping.shelf_life import ShelfLife
from uptide.core.physics.solid import CLEAR
from uptide.core.skin.verdicts import Fatty, clog_by_mass
from uptide.core.tolerance import exceeds, reaches

FINDINGS: Mapping[str, str] = {
    "linoleic": "linoleic_share",
    "oleic": "oleic_share",
    "saturated": "saturated",
    "monounsaturated": "monounsaturated",
    "polyunsaturated": "polyunsaturated",
    "acids": "fatty_acid_mass",
    "iodine": "iodine_value",
    "saponification": "saponification_value",
    "carries": "penetration",
    "balance": "skin_fit",
    "feel": "feel",
    "thickness": "slip",
    "viscosity": "viscosity_25c",
    "clog": "comedogenicity",
    "tint": "skin_tint",
    "cost": "cost",
}
ROUNDED = 1e-5  # of a figure: an answer at its limit is at it


def not_kept(wish: Wish, found: Assessment) -> tuple[str, ...]:
    """The limits of a wish that an assessment does not confirm, in words; none where the blend may be shown."""
    return tuple(_failing(wish, found))


def value_of(limit: Limit, wish: Wish, found: Assessment) -> float | None:
    """The figure of a limit as the assessment has it; None where it is not known."""
    if limit.figure in OF_OILS:
        fatty = [(row.grams or 0.0, item) for row, item in found.resolution.parts if item.is_fatty]
        return OF_OILS[limit.figure](limit, fatty)
    if limit.figure in ON_CHART:
        shares = {part.acid.code: part.percent / 100 for part in found.acids}
        place = wish.chart.percent(wish.chart.place(shares)) if wish.chart is not None and shares else None
        return None if place is None else place[ON_CHART.index(limit.figure)]
    if limit.figure == "keeps":
        return _months(found.shelf_life, fresh=wish.fresh)
    if limit.figure == "omega_3":
        return sum(part.percent for part in found.acids if part.acid.code in OMEGA_3)
    value = found.finding(FINDINGS[limit.figure]).value
    if limit.figure == "cost" and value is not None and found.resolution.total_millilitres:
        return value * wish.millilitres / found.resolution.total_millilitres  # of a full bottle
    return value


def _inert(_: Limit, fatty: Fatty) -> float | None:
    """What of the oils cannot oxidise [%]."""
    inert = sum(mass for mass, item in fatty if item.oxidation is None or item.oxidation.is_inert)
    return 100 * inert / sum(mass for mass, _ in fatty) if fatty else None


# Figures that are no finding: what they are of the oils [g] of a blend.
OF_OILS: Mapping[str, Callable[[Limit, Fatty], float | None]] = {
    "inert": _inert,
    "clear": lambda limit, fatty: solid_at(list(fatty), limit.bound),
    "solid": lambda limit, fatty: solid_at(list(fatty), limit.celsius),
    "clog_by_mass": lambda _, fatty: clog_by_mass(fatty),
}


def _months(life: ShelfLife | None, *, fresh: bool) -> float | None:
    """Months that are promised, before they are made whole; a supplier's date ends them by the whole month."""
    if life is None or life.months is None:
        return None
    return min(life.low, life.months) if life.dated_lot and not fresh else life.low


def _failing(wish: Wish, found: Assessment) -> Iterator[str]:
    for limit in wish.limits:
        value = value_of(limit, wish, found)
        if value is None:
            yield f"{limit.words}: unknown"
        elif not _keeps(limit, value):
            yield limit.words
    suits = found.on_skin.suits if found.on_skin is not None else None
    if wish.skin and not (suits or {}).get(wish.skin, False):
        yield f"suits {wish.skin} skin"
    for stop in found.safety.open_stops if found.safety is not None else ():
        yield stop.words


def _keeps(limit: Limit, value: float) -> bool:
    """Whether a figure keeps its limit; months are promised whole, so that nothing may be short of them."""
    if limit.figure == "clear":
        return not reaches(value, CLEAR)
    little = 0.0 if limit.figure == "keeps" else ROUNDED * abs(limit.bound)
    return reaches(value + little, limit.bound) if limit.at_least else not exceeds(value - little, limit.bound)
