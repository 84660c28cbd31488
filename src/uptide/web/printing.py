"""What is printed from a blend: the batch sheet and the label, as pages for the printer and as PDF."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import HTMLResponse
from sqlalchemy.orm import Session

from uptide.catalogue.load import Catalogue
from uptide.core.blend.assessment import Assessment
from uptide.core.blend.order import MIXING, ORDER_TITLES, PourOrder
from uptide.core.errors import QuantityError, UptideError
from uptide.core.making.batch import Batch, plan_batch
from uptide.core.making.label import Label, make_label
from uptide.core.safety.check import Safety
from uptide.formats.pdf import batch_sheet_pdf, label_pdf
from uptide.store.blends import load_blend, load_version
from uptide.store.people import wearer_of
from uptide.web.dependencies import Facts, Store
from uptide.web.pages import render
from uptide.web.workshop import assess_here

router = APIRouter(prefix="/blends/{blend_id}/versions/{number}", include_in_schema=False)

Order = Annotated[PourOrder | None, Query()]


def _assessed(store: Session, facts: Catalogue, blend_id: int, number: int) -> tuple[str, Assessment]:
    """The version as made today: what befell an earlier bottle of it does not count for a new one."""
    name, version = load_blend(store, blend_id).name, load_version(store, blend_id, number)
    texts = {where: text for where, text in (("name", name), ("note", version.note)) if text}
    return name, assess_here(version.recipe, facts, store, texts=texts)


def _plan(
    assessment: Assessment, facts: Catalogue, bottles: int, size_ml: float | None, loss: float, order: PourOrder | None
) -> Batch:
    recipe = assessment.recipe
    product = facts.product(recipe.product)
    size = size_ml or (recipe.container.size_ml if recipe.container else product.usual_ml)
    school = order or (PourOrder.SCENT_FIRST if product.container == "roller" else PourOrder.CARRIERS_FIRST)
    return plan_batch(assessment, bottles, size, loss, school)


@router.get("/batch-sheet")
def batch_sheet(
    request: Request, blend_id: int, number: int, store: Store, facts: Facts,
    bottles: int = 1, size_ml: float | None = None, loss: float = 3.0, order: Order = None,
) -> HTMLResponse:  # fmt: skip
    """Show the batch sheet for N bottles of a size, with an allowance for loss."""
    name, assessment = _assessed(store, facts, blend_id, number)
    try:
        batch, problem = _plan(assessment, facts, bottles, size_ml, loss, order), ""
    except QuantityError as error:
        batch, problem = None, str(error)
    return render(
        request, "blends/batch_sheet.html", 422 if problem else 200, blend_id=blend_id, number=number, name=name,
        batch=batch, problem=problem, orders=ORDER_TITLES, mixing=MIXING, today=_today(), assessment=assessment,
        draft=_safety(assessment).draft, whom=wearer_of(store, assessment.recipe.wearer).name,
        asked={"bottles": bottles, "size_ml": size_ml, "loss": loss, "order": order},
    )  # fmt: skip


@router.get("/batch-sheet.pdf")
def batch_sheet_as_pdf(
    blend_id: int, number: int, store: Store, facts: Facts,
    bottles: int = 1, size_ml: float | None = None, loss: float = 3.0, order: Order = None,
) -> Response:  # fmt: skip
    """The batch sheet as a one-page PDF."""
    name, assessment = _assessed(store, facts, blend_id, number)
    batch = _plan(assessment, facts, bottles, size_ml, loss, order)
    return _pdf(batch_sheet_pdf(name, number, batch, assessment, _today()), f"batch-sheet-{blend_id}-v{number}")


@router.get("/label")
def label(request: Request, blend_id: int, number: int, store: Store, facts: Facts) -> HTMLResponse:
    """Show a simple label for one bottle; none while a stop is open or a row is not settled."""
    name, assessment = _assessed(store, facts, blend_id, number)
    safety = _safety(assessment)
    return render(
        request, "blends/label.html", 409 if safety.is_draft else 200, draft=safety.draft, stops=safety.open_stops,
        label=_label(name, assessment, facts, blend_id), blend_id=blend_id, number=number,
    )  # fmt: skip


@router.get("/label.pdf")
def label_as_pdf(blend_id: int, number: int, store: Store, facts: Facts) -> Response:
    """The label as a PDF of its own size; refused while it is a draft."""
    name, assessment = _assessed(store, facts, blend_id, number)
    safety = _safety(assessment)
    if safety.is_draft:
        raise UptideError(f"{safety.draft} {' '.join(stop.words for stop in safety.open_stops)}".strip())
    return _pdf(label_pdf(_label(name, assessment, facts, blend_id)), f"label-{blend_id}-v{number}")


def _safety(assessment: Assessment) -> Safety:
    return assessment.safety or Safety()


def _label(name: str, assessment: Assessment, facts: Catalogue, blend_id: int) -> Label:
    product = facts.product(assessment.recipe.product)
    size = (
        assessment.recipe.container.size_ml if assessment.recipe.container else assessment.resolution.total_millilitres
    )
    return make_label(
        name,
        product.name,
        left_on=product.left_on,
        assessment=assessment,
        size_ml=size,
        batch_code=f"{_today():%Y%m%d}-{blend_id}",
        made_on=_today(),
    )


def _today() -> date:
    return datetime.now(UTC).date()


def _pdf(content: bytes, name: str) -> Response:
    return Response(
        content, media_type="application/pdf", headers={"content-disposition": f'inline; filename="{name}.pdf"'}
    )
