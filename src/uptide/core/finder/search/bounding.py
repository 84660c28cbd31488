"""What no blend that keeps a wish is better than, for each thing that can be best."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import inf

from uptide.core.arrays import Array
from uptide.core.finder.search.search import Answer, Dive
from uptide.core.finder.search.wish import Objective

CLOSE = 0.005  # of what was found: nearer, nothing is looked for
STEPS = (0.1, 0.25, 0.5, 1.0, 2.0)  # of room: how much more is shown to be none
LONGER = (0.25, 0.5, 1.0, 2.0, 4.0)  # months: how much more is shown to be none


@dataclass(frozen=True, slots=True)
class Bound:
    """What no blend that keeps a wish is better than, in the units of its objective; None where nothing is shown.

    Months for the longest, the price of the bottle, feel, how many oils, for the steadiest how many felt steps every
    limit has to spare, and for what uses up how urgent a gram of it is [1/month].
    """

    objective: Objective
    value: float | None


def bound_of(dive: Dive, answer: Answer) -> Bound:
    """What no blend that keeps the wish of a dive is better than, whatever else was shown for it."""
    dive = replace(dive, program=replace(dive.program, shown=()))
    match answer.objective:
        case Objective.FEWEST:
            value = _fewest(dive, len(answer.places))
        case Objective.LONGEST:
            value = _longest(dive, dive.promised(answer.shares))
        case Objective.STEADIEST:
            value = _steadiest(dive, dive.room(answer.shares))
        case _:
            value = _of_ratio(dive.for_objective(answer.objective), answer.objective, answer.shares)
    return Bound(answer.objective, value)


def _fewest(dive: Dive, found: int) -> float | None:
    if found <= dive.wish.fewest:
        return float(found)
    fewer = replace(dive.program, wish=replace(dive.program.wish, most=found - 1))
    return float(found) if replace(dive, program=fewer).boxes().any().is_none else None


def _longest(dive: Dive, found: float) -> float | None:
    tries = (found + step for step in LONGER)
    return next((each for each in tries if dive.lasting(each).boxes(each).any().is_none), None)


def _steadiest(dive: Dive, found: float) -> float | None:
    return next((room for room in (found + step for step in STEPS) if _none_has(dive, room)), None)


def _none_has(dive: Dive, room: float) -> bool:
    """Whether it is shown that no blend has so many steps to spare in every limit."""
    rows = dive.program.rows
    more = [row - room * unit for row, unit in zip(rows.all_of, rows.units, strict=True) if unit > 0]
    months = dive.wish.months + room if dive.wish.months else 0.0
    return dive.lasting(months).boxes(months, more).any().is_none


def _of_ratio(dive: Dive, objective: Objective, shares: Array) -> float | None:
    """The ratio that none passes, as a figure: there is the most of its negative."""
    aim = dive.aim(objective)
    if aim is None:
        return None
    found, least_under = aim.of(shares), float(aim.under[dive.program.rows.most > 0].min())
    more = dive.boxes().most(aim.over - found * aim.under, 0.0, CLOSE * abs(found) * least_under).most
    if more == inf:
        return None
    return abs(found + more / least_under) * (dive.wish.millilitres if objective is Objective.CHEAPEST else 1.0)
