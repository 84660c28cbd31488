"""An answer in what a kitchen measures: grams to a step, or spoons, droppers and drops, with every limit still kept."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from itertools import product

import numpy as np

from uptide.core.arrays import Array
from uptide.core.finder.search.search import Answer, Dive
from uptide.core.finder.search.wish import Objective
from uptide.core.measures.amounts import unit_size
from uptide.core.measures.habits import Habits
from uptide.core.measures.units import UNITS

FILLED = (0.95, 1.0)  # of the bottle
AROUND = (-2, -1, 0, 1, 2, 3)  # steps about an amount that are tried
TRIED = 60  # of the nearest that keep all rows, how many are followed for how long they keep
ROUNDED = 2e-6  # of a scaled row: what rounding of floats may leave it short of
OF_ROOM = 0.05  # shares moved that a felt step of room counts for
OF_FILL = 0.2  # shares moved that an empty bottle counts for
SPOONED, DROPPED = 2.0, 1.5  # quarter teaspoons, half droppers: with less than that finer measures are taken
HALF_DROPPER = 0.5


class Measure(StrEnum):
    """How amounts are measured."""

    GRAMS = "grams"
    SPOONS = "spoons"


@dataclass(frozen=True, eq=False)
class Measured:
    """An answer as rows that can be typed, the largest first, and the shares of all oils as they are measured [g/g]."""

    rows: tuple[tuple[str, str], ...]  # what is typed, and the key of its oil
    shares: Array


def measured(dive: Dive, answer: Answer, measure: Measure, habits: Habits, step_g: float = 0.5) -> Measured | None:
    """The nearest amounts that can be measured and keep every limit; None where none near it do."""
    places = answer.places
    whole = answer.shares[list(places)]
    table, bottle = dive.table, dive.wish.oils_millilitres
    total = FILLED[1] * bottle / float(answer.shares @ table.volume)
    steps = [
        _step(float(share * total), table.items[place].density, measure, habits, step_g)
        for place, share in zip(places, whole, strict=True)
    ]
    sizes = np.array([size for size, _, _ in steps])
    floors = np.floor(whole * total / sizes)
    counts = floors + np.array(list(product(AROUND, repeat=len(places))), float)
    counts = counts[(counts > 0).all(axis=1)]
    grams = counts * sizes
    sums = grams.sum(axis=1)
    shares = np.zeros((len(grams), len(table)))
    shares[:, list(places)] = grams / sums[:, None]
    fill = grams @ table.volume[list(places)] / bottle
    kept = (fill >= FILLED[0]) & (fill <= FILLED[1] + ROUNDED) & _keep_rows(dive, shares)
    far = np.abs(shares - answer.shares).sum(axis=1) / 2 + OF_FILL * np.abs(fill - FILLED[1])
    if answer.objective is Objective.STEADIEST:  # room is what it is for: it is not rounded away
        far = far - OF_ROOM * np.minimum(dive.room_in_rows(shares), dive.room_in_rows(answer.shares[None])[0])
    for place in [int(each) for each in np.argsort(far) if kept[each]][:TRIED]:
        if dive.holds(shares[place]) and dive.holds_in_lots(shares[place]):
            typed = tuple(
                (_typed(counts[place, n], steps[n], table.items[oil].name), table.items[oil].key)
                for n, oil in enumerate(places)
            )
            return Measured(typed, shares[place])
    return None


def _keep_rows(dive: Dive, shares: Array) -> Array:
    rows, wish = dive.program.rows, dive.wish
    kept = (shares <= rows.most + ROUNDED).all(axis=1)
    kept &= ((shares == 0) | (shares >= wish.least - ROUNDED)).all(axis=1)
    for place, share in dive.program.must.items():
        kept &= shares[:, place] >= share - ROUNDED
    if len(rows.all_of):
        kept &= (shares @ rows.all_of.T >= -ROUNDED).all(axis=1)
    for way in rows.one_of:
        kept &= (shares @ way.T >= -ROUNDED).any(axis=1)
    return np.asarray(kept)


_Step = tuple[float, float, str]  # grams, how much of a unit, the unit


def _step(grams: float, density: float, measure: Measure, habits: Habits, step_g: float) -> _Step:
    """What an amount is measured in: the largest of the steps of which it is a few."""
    if measure is Measure.GRAMS:
        return step_g, step_g, "g"
    quarter = unit_size(UNITS["tsp"], habits) / 4 * density
    if grams >= SPOONED * quarter:
        return quarter, 0.25, "tsp"
    _, full, _ = habits.in_one("dropper")
    half = HALF_DROPPER * full * density
    if grams >= DROPPED * half:
        return half, HALF_DROPPER, "droppers"
    return density / habits.drops_per_ml, 1.0, "drops"


def _typed(count: float, step: _Step, name: str) -> str:
    _, amount, unit = step
    return f"{count * amount:.10g} {unit} {name}"
