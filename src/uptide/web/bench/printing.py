"""What is printed from a blend: the batch sheet and the label, as pages for the printer and as PDF."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import HTMLResponse
from pydantic import BaseModel, Field
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.plants import plant_named
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError, UptideError
from uptide.core.making.batch import (
    MOST_BOTTLES,
    MOST_LOSS,
    Batch,
    as_written,
    batch_code,
    plan_batch,
    plan_total,
    shortages,
)
from uptide.core.making.batch_sheet import COLUMNS, SEEN_NEXT_DAY, TO_FILL_IN, cleaner_words
from uptide.core.making.batch_sheet import batch_sheet as written
from uptide.core.making.clean_batch import cleaner
from uptide.core.making.label import Label, make_label
from uptide.core.making.sheets import one_label
from uptide.core.recipe.order import ORDER_TITLES, PourOrder, usual_order
from uptide.core.safety.check import Safety
from uptide.store.blends import load_blend, load_version
from uptide.web.base.dependencies import Facts, Store
from uptide.web.base.forms import day_of, number_of
from uptide.web.base.pages import render
from uptide.workshop.assessment import assess_here, worn_by
from uptide.workshop.clock import today

router = APIRouter(prefix="/blends/{blend_id}/versions/{number}", include_in_schema=False)

MOST_TOTAL = 1e6  # mL
LABEL_MM = (90.0, 62.0)
MOST_AGO = timedelta(days=3660)  # a label is for what was made within ten years


class PlanForm(BaseModel):
    """What is printed for: bottles, their size, loss, order and the day of making, as they were typed.

    Without a number of bottles it is the recipe as it is written, of a label one.
    """

    bottles: str = Field("", max_length=12)
    size_ml: str = Field("", max_length=12)
    total_ml: str = Field("", max_length=12)
    loss: str = Field("3", max_length=12)
    order: str = Field("", max_length=40)
    made: str = Field("", max_length=12)


Planned = Annotated[PlanForm, Query()]


@dataclass(frozen=True, slots=True)
class Plan:
    """The same, read: `size_ml` is None where the container of the recipe counts, `bottles` where none were said."""

    bottles: int | None
    size_ml: float | None
    loss: float
    order: PourOrder | None
    made_on: date
    total_ml: float | None = None  # another total than its bottles ask for


def read_plan(form: PlanForm) -> Plan:
    """Read what is printed for; raise UptideError that says what cannot be, what was found and what can."""
    # A size alone is said of one bottle.
    bottles = number_of(form.bottles.strip() or "1", "number of bottles", most=MOST_BOTTLES)
    said = bool(form.bottles.strip() or form.size_ml.strip())
    if bottles != int(bottles) or bottles < 1:
        raise QuantityError(f"“{form.bottles}” bottles cannot be planned; 1 to {MOST_BOTTLES} can.")
    if form.order and form.order not in set(PourOrder):
        raise QuantityError(f"There is no order “{form.order}”; known are {', '.join(PourOrder)}.")
    size = number_of(form.size_ml, "size in mL", most=20_000) if form.size_ml.strip() else None
    if size is not None and size < 1:
        raise QuantityError(f"Bottles of {form.size_ml} mL cannot be planned; 1 to 20 000 mL can.")
    return Plan(
        int(bottles) if said else None,
        size,
        loss=number_of(form.loss or "0", "loss in percent", most=MOST_LOSS),
        order=PourOrder(form.order) if form.order else None,
        made_on=day_of(form.made, "day of making", earliest=today() - MOST_AGO, latest=today()) or today(),
        total_ml=number_of(form.total_ml, "total in mL", most=MOST_TOTAL) if form.total_ml.strip() else None,
    )


def _assessed(store: Session, facts: Catalogue, blend_id: int, number: int) -> tuple[str, Assessment]:
    """The version as made today: what befell an earlier bottle of it does not count for a new one."""
    name, version = load_blend(store, blend_id).name, load_version(store, blend_id, number)
    texts = {where: text for where, text in (("name", name), ("note", version.note)) if text}
    return name, assess_here(version.recipe, facts, store, texts=texts)


def _size(assessment: Assessment, facts: Catalogue, plan: Plan) -> float:
    container = assessment.recipe.container
    return plan.size_ml or (container.size_ml if container else facts.product(assessment.recipe.product).usual_ml)


def _batch(assessment: Assessment, facts: Catalogue, plan: Plan) -> Batch:
    product = facts.product(assessment.recipe.product)
    school = plan.order or usual_order(product.container)
    if plan.bottles is None:
        return as_written(assessment, school)
    batch = plan_batch(assessment, plan.bottles, _size(assessment, facts, plan), plan.loss, school)
    return batch if plan.total_ml is None else plan_total(assessment, batch, plan.total_ml)


@router.get("/batch-sheet")
def batch_sheet(
    request: Request, blend_id: int, number: int, store: Store, facts: Facts, asked: Planned
) -> HTMLResponse:
    """Show the batch sheet for N bottles of a size, with an allowance for loss."""
    name, assessment = _assessed(store, facts, blend_id, number)
    batch, clean, problem = None, None, ""
    whom = worn_by(assessment.recipe, store).name or assessment.recipe.whom
    try:
        batch = _batch(assessment, facts, read_plan(asked))
        clean = cleaner(assessment, batch)
    except UptideError as error:
        problem = str(error)
    return render(
        request,
        "bench/batch_sheet.html",
        422 if problem else 200,
        blend_id=blend_id,
        number=number,
        name=name,
        batch=batch,
        problem=problem,
        orders=ORDER_TITLES,
        assessment=assessment,
        columns=COLUMNS,
        to_fill_in=TO_FILL_IN,
        seen_next_day=SEEN_NEXT_DAY,
        sheet=written(batch, number, today(), whom) if batch else None,
        short=[each.words for each in shortages(batch, facts.on_hand)] if batch else [],
        draft=_safety(assessment).draft,
        asked=asked,
        size_ml=asked.size_ml or f"{_size(assessment, facts, Plan(None, None, loss=0, order=None, made_on=today())):g}",
        clean=clean,
        clean_words=cleaner_words(batch, clean) if batch and clean else "",
    )


@router.get("/batch-sheet.pdf")
def batch_sheet_as_pdf(blend_id: int, number: int, store: Store, facts: Facts, asked: Planned) -> Response:
    """The batch sheet as a one-page PDF."""
    name, assessment = _assessed(store, facts, blend_id, number)
    batch = _batch(assessment, facts, read_plan(asked))
    short = [each.words for each in shortages(batch, facts.on_hand)]
    whom = worn_by(assessment.recipe, store).name or assessment.recipe.whom
    from uptide.formats.pdf import batch_sheet_pdf  # reportlab is read when the first PDF is asked for

    content = batch_sheet_pdf(name, written(batch, number, today(), whom), assessment, short)
    return _pdf(content, f"batch-sheet-{blend_id}-v{number}")


@router.get("/label")
def label(request: Request, blend_id: int, number: int, store: Store, facts: Facts, asked: Planned) -> HTMLResponse:
    """Show a label for the bottles of a making; none while a stop is open or a row is not settled."""
    name, assessment = _assessed(store, facts, blend_id, number)
    safety = _safety(assessment)
    made, problem = None, ""
    try:
        made = _label(name, assessment, facts, blend_id, read_plan(asked))
    except UptideError as error:
        problem = str(error)
    return render(
        request,
        "bench/label.html",
        422 if problem else 409 if safety.is_draft else 200,
        draft=safety.draft,
        stops=safety.open_stops,
        label=made,
        problem=problem,
        name=name,
        blend_id=blend_id,
        number=number,
        asked=asked,
        size_ml=asked.size_ml or f"{_size(assessment, facts, Plan(None, None, loss=0, order=None, made_on=today())):g}",
        made=asked.made or today().isoformat(),
    )


@router.get("/label.pdf")
def label_as_pdf(blend_id: int, number: int, store: Store, facts: Facts, asked: Planned) -> Response:
    """The label as a PDF of its own size, a page a bottle; refused while it is a draft."""
    name, assessment = _assessed(store, facts, blend_id, number)
    safety = _safety(assessment)
    if safety.is_draft:
        raise UptideError(f"{safety.draft} {' '.join(stop.words for stop in safety.open_stops)}".strip())
    made = _label(name, assessment, facts, blend_id, read_plan(asked))
    from uptide.formats.label_pdf import labels_pdf

    content = labels_pdf([made], one_label(*LABEL_MM), region=assessment.recipe.use.region)
    return _pdf(content, f"label-{blend_id}-v{number}")


def _safety(assessment: Assessment) -> Safety:
    return assessment.safety or Safety()


def _label(name: str, assessment: Assessment, facts: Catalogue, blend_id: int, plan: Plan) -> Label:
    product = facts.product(assessment.recipe.product)
    return make_label(
        name,
        product.name,
        left_on=product.left_on,
        assessment=assessment,
        size_ml=_size(assessment, facts, plan),
        batch_code=batch_code(plan.made_on, blend_id),
        made_on=plan.made_on,
        bottles=plan.bottles or 1,
        plant_of=lambda words: plant_named(words, facts.plants),
    )


def _pdf(content: bytes, name: str) -> Response:
    return Response(
        content, media_type="application/pdf", headers={"content-disposition": f'inline; filename="{name}.pdf"'}
    )
