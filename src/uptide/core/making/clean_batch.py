"""The batch size near a planned one whose amounts a kitchen can measure: no spoon is off by more than a hundredth."""

from __future__ import annotations

from dataclasses import dataclass

from uptide.core.assessment.assessment import Assessment
from uptide.core.making.batch import Batch, plan_total, unit_of
from uptide.core.measures.amounts import unit_size
from uptide.core.measures.habits import CAPSULE_G, Habits
from uptide.core.measures.say import SPOON_LADDER, SPOON_STEP
from uptide.core.measures.units import UNITS, Dimension
from uptide.core.tolerance import exceeds

CLEAN = 0.01  # of an amount: a level spoon is no nearer
ROOM = 0.15  # of the batch: how much more is offered, so that the bottles are full and little is left
HALF = 0.5  # of a dropper, a stroke or a cap: what can be judged by eye


@dataclass(frozen=True, slots=True)
class _Spooned:
    """A row that is measured in whole steps: how much it takes once, and the step, in one unit [mL or g]."""

    amount: float
    step: float

    def error(self, factor: float) -> float:
        """How far the nearest whole number of steps is off, of the amount."""
        wanted = self.amount * factor
        return abs(max(1, round(wanted / self.step)) * self.step - wanted) / wanted


def cleaner(assessment: Assessment, batch: Batch) -> Batch | None:
    """The batch nearest to a planned one that measures cleanly, never too little for its bottles.

    None where the plan is clean as it is, where nothing in it is measured by the spoon, or none near it is clean.
    """
    rows = list(_spooned(assessment, assessment.recipe.habits))
    if batch.is_as_written or not rows or not exceeds(_worst(rows, batch.factor), CLEAN):
        return None
    least = batch.bottles * batch.bottle_ml / batch.total_ml * batch.factor
    most = batch.factor * (1 + ROOM)
    factors = (
        steps * row.step / row.amount
        for row in rows
        for steps in range(int(least * row.amount / row.step), int(most * row.amount / row.step) + 2)
    )
    clean = [factor for factor in factors if least <= factor <= most and not exceeds(_worst(rows, factor), CLEAN)]
    if not clean:
        return None
    nearest = min(clean, key=lambda factor: (abs(factor - batch.factor), factor))
    return plan_total(assessment, batch, nearest / batch.factor * batch.total_ml)


def _worst(rows: list[_Spooned], factor: float) -> float:
    return max(row.error(factor) for row in rows)


def _spooned(assessment: Assessment, habits: Habits) -> list[_Spooned]:
    """The rows that are measured in spoons, cups, droppers or capsules; drops are whole in any batch."""
    found = []
    spoon = unit_size(UNITS["tsp"], habits) * SPOON_STEP
    for row in assessment.resolution.read:
        if row.ingredient is None or not row.grams:
            continue
        unit, system = unit_of(row)
        millilitres = row.grams / row.ingredient.spoon_density
        if unit in SPOON_LADDER and not system:
            found.append(_Spooned(millilitres, spoon))
        elif UNITS[unit].dimension is Dimension.HELD:
            _, full, _ = habits.in_one(unit)
            found.append(_Spooned(millilitres, full * HALF))
        elif UNITS[unit].dimension is Dimension.CAPSULES:
            found.append(_Spooned(row.grams, sum(CAPSULE_G) / 2))
    return found
