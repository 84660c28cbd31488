"""Labels of a batch: its words from what was really poured, on sheets or single, shown at their true size."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, Form, Query, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import BaseModel, Field
from sqlalchemy.orm import Session

from uptide.catalogue.plants import plant_named
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError, UptideError
from uptide.core.making.batch_record import BatchRecord
from uptide.core.making.label import Label, Symbol, make_label, symbol_of
from uptide.core.making.sheets import MOST_SHIFT, SHEETS, Sheet, one_label
from uptide.core.safety.check import Safety
from uptide.devices.printer import Printer
from uptide.store.batches import load_batch
from uptide.store.blends import load_blend
from uptide.store.preferences import led_to, remember_form
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.forms import FieldError, TokenForm, errors_of, in_field, number_of
from uptide.web.base.pages import render
from uptide.web.base.security import sending
from uptide.web.making.words import called
from uptide.workshop.assessment import assess_here
from uptide.workshop.making import assessed
from uptide.workshop.shelf import Shelf

router = APIRouter(prefix="/making/{number}/labels", include_in_schema=False)

SINGLE, LAYOUTS = "single", (("one", "one label a bottle"), ("front-back", "front and back"), ("around", "around it"))
MOST_MM = 500.0


class LabelForm(BaseModel):
    """How labels are wanted, in the address; numbers as they were typed."""

    sheet: str = "a4-63x72"
    width: str = Field("90", max_length=12)
    height: str = Field("62", max_length=12)
    layout: str = "one"
    around: str = Field("", max_length=12)
    shift_x: str = Field("0", max_length=12)
    shift_y: str = Field("0", max_length=12)
    first: str = Field("0", max_length=12)
    maker: str = Field("", max_length=200)
    directions: str = Field("", max_length=300)


class PrintForm(LabelForm, TokenForm):
    """The same, sent to the printer."""


@router.get("")
def show(
    request: Request, number: str, store: Store, shelf: OnShelf, form: Annotated[LabelForm, Query()], said: str = ""
) -> HTMLResponse:
    """Show the labels at their true size; none while a stop is open."""
    return _draw(request, number, store, shelf, form, said=f"In the spool as {said}." if said else "")


def _draw(
    request: Request,
    number: str,
    store: Session,
    shelf: Shelf,
    form: LabelForm,
    *,
    said: str = "",
    problem: UptideError | None = None,
) -> HTMLResponse:
    record = load_batch(store, number)
    labels: list[Label] = []
    panels: list[object] = []
    sheet, pages, error = None, 0, problem
    try:
        sheet = _sheet(form)
        labels, region = _labels(store, shelf, record, form)
        panels = _panels(labels, sheet, region, form)
        pages = sheet.sheets_for(sum(each.bottles for each in labels) * max(1, len(panels)), _used(form, sheet))
    except UptideError as wrong:
        error = error or wrong
    return render(
        request,
        "making/labels.html",
        422 if error else 200,
        record=record,
        name=called(load_blend(store, record.blend_id).name, record),
        labels=labels,
        code=_code(labels, sheet),
        symbol=_symbol(labels, sheet),
        panels=panels,
        sheet=sheet,
        pages=pages,
        sheets=[(SINGLE, "single, of its own size"), *((key, each.title) for key, each in SHEETS.items())],
        layouts=LAYOUTS,
        form=form,
        asked=request.url.query,
        has_printer=request.app.state.printer is not None,
        said=said,
        problem=str(error or ""),
        errors=errors_of(error),
    )


def _sheet(form: LabelForm) -> Sheet:
    if form.sheet == SINGLE:
        with in_field("width"):
            return one_label(
                number_of(form.width, "width in mm", most=MOST_MM), number_of(form.height, "height in mm", most=MOST_MM)
            )
    if form.sheet not in SHEETS:
        raise FieldError("sheet", f"There is no sheet “{form.sheet}”; known are {SINGLE}, {', '.join(SHEETS)}.")
    return SHEETS[form.sheet]


def _labels(store: Session, shelf: Shelf, record: BatchRecord, form: LabelForm) -> tuple[list[Label], str]:
    """The words of a label for each size of bottle, by what was really poured; and whose law they follow."""
    found = assessed(store, shelf.facts, record, record.composition)
    if found is None:
        raise QuantityError("Nothing was poured yet: a label says what is really in the bottle.")
    safety = found.safety or Safety()
    if safety.open_stops:
        raise UptideError(f"No label while a stop is open: {' '.join(stop.words for stop in safety.open_stops)}")
    name = called(load_blend(store, record.blend_id).name, record)
    life, once_opened = found.shelf_life, None
    if symbol_of(life.months if life is not None else None, found.recipe.use.region) is Symbol.OPEN_JAR:
        once_opened = _once_opened(store, shelf, found)
    return [
        replace(
            _label(name, found, shelf, record, size=float(size), count=int(count), once_opened=once_opened),
            maker=form.maker.strip(),
            directions=form.directions.strip(),
        )
        for count, size in record.plan["containers"]
    ], found.recipe.use.region


def _once_opened(store: Session, shelf: Shelf, found: Assessment) -> int | None:
    """For how many months it keeps once it is opened; None where nobody can say."""
    opened = replace(found.recipe, storage=replace(found.recipe.storage, opened=True))
    life = assess_here(opened, shelf.facts, store).shelf_life
    return life.months if life is not None else None


def _label(
    name: str, found: Assessment, shelf: Shelf, record: BatchRecord, *, size: float, count: int, once_opened: int | None
) -> Label:
    product = shelf.facts.product(found.recipe.product)
    label = make_label(
        name,
        product.name,
        left_on=product.left_on,
        assessment=found,
        size_ml=size,
        batch_code=record.number,
        made_on=record.made_on,
        bottles=count,
        is_made=True,
        plant_of=lambda words: plant_named(words, shelf.facts.plants),
    )
    # What was closed is not worked out anew.
    label = replace(label, best_before=record.best_before or label.best_before)
    months = found.shelf_life.months if found.shelf_life is not None else None
    symbol = symbol_of(months, found.recipe.use.region)
    if symbol is Symbol.OPEN_JAR and once_opened:
        return replace(label, symbol=symbol, best_before=None, open_months=once_opened)
    return replace(label, symbol=Symbol.HOURGLASS if symbol is not None else None)  # an end may always be said


def _panels(labels: list[Label], sheet: Sheet, region: str, form: LabelForm) -> list[object]:
    from uptide.formats.label_pdf import DoesNotFitError, lines_of

    try:
        return list(lines_of(labels[0], sheet, region, front_and_back=form.layout == "front-back"))
    except DoesNotFitError as error:
        raise QuantityError(str(error)) from error


def _symbol(labels: list[Label], sheet: Sheet | None) -> object:
    """The symbol of the label as the PDF draws it."""
    from uptide.formats.label_pdf import symbol_on

    return symbol_on(labels[0], sheet) if labels and sheet is not None else None


def _code(labels: list[Label], sheet: Sheet | None) -> str:
    """The code of the batch as a path, as the PDF has it; nothing where there is no room for one."""
    from uptide.formats.label_pdf import code_of

    squares = code_of(labels[0], sheet) if labels and sheet is not None else ()
    return "".join(f"M{x:.2f} {y:.2f}h{side:.2f}v{side:.2f}h-{side:.2f}z" for x, y, side in squares)


def _pdf(store: Session, shelf: Shelf, number: str, form: LabelForm) -> bytes:
    from uptide.formats.label_pdf import DoesNotFitError, labels_pdf

    record = load_batch(store, number)
    sheet = _sheet(form)
    labels, region = _labels(store, shelf, record, form)
    around = number_of(form.around, "circumference in mm", most=MOST_MM) if form.around.strip() else 0.0
    try:
        return labels_pdf(
            labels,
            sheet,
            region=region,
            shift=_shift(form),
            first=_used(form, sheet),
            front_and_back=form.layout == "front-back",
            circumference=around if form.layout == "around" else 0.0,
        )
    except DoesNotFitError as error:
        raise QuantityError(str(error)) from error


def _used(form: LabelForm, sheet: Sheet) -> int:
    """How many labels of the first sheet are used already."""
    return int(number_of(form.first or "0", "number of labels", most=sheet.count - 1))


def _shift(form: LabelForm) -> tuple[float, float]:
    return (
        number_of(form.shift_x or "0", "shift in mm", most=MOST_SHIFT),
        number_of(form.shift_y or "0", "shift in mm", most=MOST_SHIFT),
    )


@router.get(".pdf")
def as_pdf(number: str, store: Store, shelf: OnShelf, form: Annotated[LabelForm, Query()]) -> Response:
    """All labels as a PDF, as many as there are bottles."""
    return _file(_pdf(store, shelf, number, form), f"labels-{number}.pdf", "application/pdf")


@router.get(".png")
def as_picture(number: str, store: Store, shelf: OnShelf, form: Annotated[LabelForm, Query()]) -> Response:
    """The first page of them as a picture of 300 dots to the inch."""
    from uptide.formats.label_pdf import as_png

    return _file(as_png(_pdf(store, shelf, number, form)), f"labels-{number}.png", "image/png")


@router.get("/outlines.pdf")
def outlines(form: Annotated[LabelForm, Query()]) -> Response:
    """The outlines of a sheet, to hold against it before anything is wasted."""
    from uptide.formats.label_pdf import outlines_pdf

    return _file(outlines_pdf(_sheet(form), _shift(form)), "outlines.pdf", "application/pdf")


def _file(content: bytes, name: str, kind: str) -> Response:
    return Response(content, media_type=kind, headers={"content-disposition": f'inline; filename="{name}"'})


def _printer(request: Request) -> Printer:
    printer: Printer | None = request.app.state.printer
    if printer is None:
        raise UptideError("There is no label printer: set one, or take the PDF.")
    return printer


@router.post("/print")
def print_them(
    request: Request, number: str, form: Annotated[PrintForm, Form()], store: Store, shelf: OnShelf
) -> Response:
    """Send the labels to the printer; a form sent twice is one job."""
    sent = sending(request, form)
    target = led_to(store, sent)
    if target is None:
        try:
            job = _printer(request).send(f"labels-{number}", _pdf(store, shelf, number, form))
        except UptideError as error:
            return _draw(request, number, store, shelf, form, problem=error)
        target = f"/making/{number}/labels?said={job}"
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)
