"""The words of a batch sheet: one wording for the page and for the paper."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from uptide.core.making.batch import Batch, Step
from uptide.core.measures.say import say_number
from uptide.core.months import say_day
from uptide.core.tolerance import exceeds, reaches

COLUMNS = ("No.", "What", "As in the recipe", "Measured", "g", "Scale shows g", "mL", "Done")
TO_FILL_IN = ("Batch code", "Made on", "Made by")
SEEN_NEXT_DAY = "Lots used, and what was seen next day: clear or cloudy, smell, feel"
AS_WRITTEN = 0.005  # of the recipe: a batch nearer to it is called the recipe itself
ANOTHER = 1e-3  # of what was asked for: a total further from it is another size
SAID_TO = 0.5  # %: a measure that is off by less is said without its error


@dataclass(frozen=True, slots=True)
class Line:
    """One pour as it is written down."""

    number: str
    what: str
    typed: str
    measured: str
    off: str  # how far the measure is off the grams, where that is worth saying
    grams: str
    scale_shows: str
    millilitres: str


@dataclass(frozen=True, slots=True)
class BatchSheet:
    """What stands on a batch sheet, from top to bottom."""

    heading: str
    order: str
    lines: tuple[Line, ...]
    mixing: str
    left_out: str


def batch_sheet(batch: Batch, version: int, today: date, whom: str = "") -> BatchSheet:
    """Write a batch down; `whom` is who will wear it, if anybody in particular."""
    made_for = f" For {whom}." if whom else ""
    rows = "; ".join(row.typed for row in batch.unmeasured)
    bottles = f"{batch.bottles} × {batch.bottle_ml:g} mL and {batch.loss_percent:g} % for loss"
    if batch.is_as_written:
        bottles = "The recipe as it is written"
    elif exceeds(abs(batch.total_ml - batch.asked_ml), ANOTHER * batch.asked_ml):
        bottles = f"{batch.bottles} × {batch.bottle_ml:g} mL, in a size that measures cleanly"
    whole = f"{batch.total_ml:.1f} mL, {batch.total_grams:.1f} g"
    if exceeds(abs(batch.factor - 1), AS_WRITTEN):
        whole += f", {say_number(batch.factor, 3)} times the recipe as it is written"
    return BatchSheet(
        heading=f"Batch sheet, version {version}. {bottles}: {whole}. Printed {say_day(today)}.",
        order=f"Order: {batch.poured_order}.{made_for}",
        lines=tuple(_line(step) for step in batch.steps),
        mixing=batch.mixing,
        left_out=f"Not in these amounts, because not read or not measured: {rows}." if rows else "",
    )


def cleaner_words(batch: Batch, clean: Batch) -> str:
    """What a batch that measures cleanly would be, as in “63.2 mL instead of 61.8: 4 tsp jojoba, 1 tbsp argan”."""
    change = clean.total_ml - batch.total_ml
    said = f"{change:.1f} mL more" if change > 0 else f"{-change:.1f} mL less, so that less is left for loss"
    measures = ", ".join(f"{step.said} {step.ingredient.name}" for step in clean.steps)
    return f"{clean.total_ml:.1f} mL instead of {batch.total_ml:.1f} measures cleanly: {measures}. It is {said}."


def _line(step: Step) -> Line:
    off = not step.weigh_rather and reaches(abs(step.said_error), SAID_TO)
    return Line(
        number=str(step.number),
        what=step.ingredient.name,
        typed=step.row.typed,
        measured="weigh it: too much to count" if step.weigh_rather else step.said,
        off=f"({step.said_error:+.0f} %)" if off else "",
        grams=f"{step.grams:.2f}",
        scale_shows=f"{step.after_grams:.2f}",
        millilitres=f"{step.millilitres:.2f}",
    )
