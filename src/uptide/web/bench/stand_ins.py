"""What could take the place of a row, so that the blend stays what it is: in the words of the page."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import UptideError
from uptide.core.finder.search.stand_ins import StandIn
from uptide.core.finder.search.wish import FIGURES
from uptide.core.ingredients.grade import GRADES, has_grades
from uptide.web.base.pages import number
from uptide.web.drawing.view import View
from uptide.workshop.stand_ins import stand_ins_here, steps_here

OPERATION = "instead"
HALF = 0.5  # of a place that a dear oil keeps where it is stretched
MONEY = 2  # decimals
UNITS = {"feel": "of 4", "clog": "of 5", "keeps": "months"}  # of acids, %
NOTHING = "Nothing that is known, and brings no new allergen, could take it."
ALL_GRADES = (("", "as it usually is"), *((each.key, each.name) for each in GRADES.values()))


class StandInView(View):
    """One way to fill the place: its oils with what they are measured as, what changes, and the button's operation."""

    oils: tuple[str, ...]
    changes: tuple[str, ...]
    op: str


class StepView(View):
    """A row a step more or less: the button's operation, what the row would say, and what changes."""

    op: str
    words: str
    changes: tuple[str, ...]


class StandInsView(View):
    """Ways to fill the place of a row, the nearest first, to stretch it, steps of it, and grades.

    `problem` says why there are no ways.
    """

    place: str
    index: int
    grade: str = ""
    grades: tuple[tuple[str, str], ...] = ()  # key and name
    ways: tuple[StandInView, ...] = ()
    stretched: tuple[StandInView, ...] = ()
    steps: tuple[StepView, ...] = ()
    problem: str = ""


def stand_ins_view(op: str, assessment: Assessment, facts: Catalogue, store: Session) -> StandInsView | None:
    """What was asked for with `instead:i`; None for any other operation."""
    name, _, place = op.partition(":")
    rows = assessment.resolution.rows
    if name != OPERATION or not place.isdecimal() or int(place) >= len(rows):
        return None
    index = int(place)
    row = rows[index]
    what = row.ingredient.name if row.ingredient is not None else row.typed
    has = row.ingredient is not None and has_grades(row.ingredient)
    grade = row.ingredient.grade if row.ingredient is not None else ""
    currency = assessment.finding("cost").unit
    shown = StandInsView(
        place=what,
        index=index,
        grade=grade,
        grades=ALL_GRADES if has else (),
        steps=tuple(
            StepView(
                op=f"step:{index}:{'more' if step.more else 'less'}",
                words=f"{'More' if step.more else 'Less'}: {step.typed}",
                changes=tuple(_changed(step.changes, currency)),
            )
            for step in steps_here(assessment, index, facts, store)
        ),
    )
    try:
        found = stand_ins_here(assessment, index, facts, store)
        stretched = stand_ins_here(assessment, index, facts, store, HALF)
    except UptideError as error:
        return shown.model_copy(update={"problem": str(error)})
    ways = tuple(_view(each, index, currency) for each in found)
    halves = tuple(_view(each, index, currency) for each in stretched)
    return shown.model_copy(update={"ways": ways, "stretched": halves, "problem": "" if ways else NOTHING})


def _changed(changes: Iterable[tuple[str, float, float]], currency: str) -> Iterator[str]:
    for figure, was, is_now in changes:
        unit = currency if figure == "cost" else UNITS.get(figure, "%")
        places = MONEY if figure == "cost" else 1
        yield f"{FIGURES[figure][0]} {number(was, places)} → {number(is_now, places)} {unit}".strip()


def _view(way: StandIn, index: int, currency: str) -> StandInView:
    rows = way.recipe.entries[index : index + len(way.oils)]
    parts = ",".join(f"{item.key}={part:.2f}" for item, part in way.oils)
    return StandInView(
        oils=tuple(entry.typed for entry in rows),
        changes=tuple(_changed(way.changes, currency)),
        op=f"stand-in:{index}:{parts}",
    )
