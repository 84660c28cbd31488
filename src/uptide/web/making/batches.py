"""Batches: the list of them, and the record of each, from the first pour to the day after and beyond."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import Field
from sqlalchemy.orm import Session

from uptide.core.errors import QuantityError, UptideError
from uptide.core.keeping.bottle import State as Standing
from uptide.core.ledger.movement import milligrams
from uptide.core.making.batch_record import ENDED, LEFTOVER, BatchRecord, ClosedError, EntryKind, StaleError, State
from uptide.core.months import say_day
from uptide.core.safety.check import Safety
from uptide.store.batches import add_entry, list_batches, load_batch
from uptide.store.blends import load_blend
from uptide.store.bottles import bottles_of_batch
from uptide.store.people import names_of_people
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.forms import FieldError, TokenForm, errors_of, in_field, number_of
from uptide.web.base.pages import render
from uptide.web.base.security import check_token
from uptide.web.drawing.view import View
from uptide.web.making.record_view import bottle_lines, record_view
from uptide.web.making.words import called, keeps, warmth_of
from uptide.workshop.bottles import fill_bottles
from uptide.workshop.clock import today
from uptide.workshop.making import assessed, keep_base, shelve_leftover
from uptide.workshop.shelf import Shelf
from uptide.workshop.trace import origins

router = APIRouter(prefix="/making", include_in_schema=False)

REDIRECTED = 303
SAID = {
    "bench": "This screen is the bench’s: people, and what is about them, are on the others.",
    "planned": "Planned. Nothing is taken from any lot until it is poured.",
    "mixed": "Mixed.",
    "filled": "Kept.",
    "handed": "Written down; the board and their page know it.",
    "looked": "Kept.",
    "closed": "Closed. What is found out later is written beside it.",
}
LOOKS = ("clear, one phase", "cloudy", "two phases", "something at the bottom")


class StepForm(TokenForm):
    """Something that is said of a batch."""

    seq: int = 0
    words: str = ""
    why: str = ""


class MixedForm(StepForm):
    """How warm it was when it was mixed [°C], as typed."""

    celsius: str = Field("", max_length=12)


class FillForm(StepForm):
    """What the bottles weigh: “27.5” for each alike, or one after the other; and what is left over."""

    fills: str = ""
    leftover: str = ""


class ResultView(View):
    """What the batch is, by what was really poured."""

    sentence: str
    keeps: str
    stops: tuple[str, ...]
    shares: tuple[tuple[str, str], ...]


@router.get("")
def list_all(request: Request, store: Store, said: str = "") -> HTMLResponse:
    """List the newest batches."""
    found = list_batches(store)
    return render(
        request,
        "making/batches.html",
        open=[each for each in found if each.state not in ENDED],
        ended=[each for each in found if each.state in ENDED],
        said=SAID.get(said, ""),
    )


@router.get("/{number}.pdf")
def on_paper(number: str, store: Store, shelf: OnShelf) -> Response:
    """The batch on paper: a sheet to take to the bench, and once it is closed a record to keep."""
    from uptide.formats.batch_pdf import BatchLine, batch_pdf

    record = load_batch(store, number)
    view, result = record_view(record), _result(store, shelf, record)
    plan = record.plan
    sentences = [view.sentence, view.balance, f"In this order: {plan['order']}. {plan['mixing']} {plan['loss']}."]
    sentences += [f"{result.sentence} {result.keeps}", *(f"Stop: {words}" for words in result.stops)] if result else []
    sentences += [f"Not measured: {typed}." for typed in plan["unmeasured"]]
    lines = [
        BatchLine(
            line.name,
            line.lots,
            wanted=line.wanted,
            poured="" if line.poured == "–" else line.poured,
            measured=f"{planned.drops} drops" if planned.drops else planned.how,
        )
        for line, planned in zip(view.lines, record.lines, strict=True)
    ]
    happened = [f"{each.when}: {each.words}{', taken back' if each.struck else ''}" for each in reversed(view.entries)]
    content = batch_pdf(
        called(load_blend(store, record.blend_id).name, record),
        number,
        sentences,
        lines,
        happened,
        is_open=record.state not in ENDED,
    )
    name = {"content-disposition": f'inline; filename="batch-{number}.pdf"'}
    return Response(content, media_type="application/pdf", headers=name)


@router.get("/{number}")
def show(request: Request, number: str, store: Store, shelf: OnShelf, said: str = "") -> HTMLResponse:
    """Show the record of a batch."""
    return draw_record(request, number, store, shelf, said=SAID.get(said, ""))


def draw_record(
    request: Request,
    number: str,
    store: Session,
    shelf: Shelf,
    *,
    said: str = "",
    form: StepForm | None = None,
    hand: Mapping[str, str] | None = None,
    error: UptideError | None = None,
) -> HTMLResponse:
    """Draw the record of a batch, with what was typed and could not be read."""
    record = load_batch(store, number)
    bottles = bottles_of_batch(store, number)
    status = 409 if isinstance(error, (StaleError, ClosedError)) else 422 if error else 200
    return render(
        request,
        "making/batch.html",
        status,
        record=record,
        view=record_view(record),
        name=called(load_blend(store, record.blend_id).name, record),
        result=_result(store, shelf, record),
        sizes=[f"{count} × {size:g} mL" for count, size in record.plan["containers"]],
        nominal=_nominal(record),
        looks=LOOKS,
        behind=_behind(store, shelf, record),
        is_open=record.state not in ENDED,
        is_poured=record.next_position is None,
        state=record.state,
        states=State,
        again=f"/blends/{record.blend_id}/versions/{record.version}/make?{_asked(record)}",
        leftover=record.balance.leftover / 1000,
        base=f"{LEFTOVER}{number}",
        form=FillForm().model_dump() | MixedForm().model_dump() | (form.model_dump() if form is not None else {}),
        bottles=bottle_lines(bottles),
        here=sum(1 for each in bottles if each.state is Standing.STANDS and each.handed is None),
        hand=hand or {"how": "given", "count": "1", "wearer": "", "whom": "", "price": "", "on": today().isoformat()},
        people_options=[("", "no card"), *((str(person), name) for person, name in names_of_people(store))],
        today=today(),
        said=said,
        problem=str(error or ""),
        errors=errors_of(error),
    )


def _behind(store: Session, shelf: Shelf, record: BatchRecord) -> list[tuple[str, str]]:
    """The lots that stand behind those that were poured, with what part of the batch each is."""
    poured = {each.code for each in record.pours}
    return [
        (code, f"{100 * share:.1f} % of it")
        for code, share in origins(store, shelf, record.number).items()
        if code not in poured
    ]


def _asked(record: BatchRecord) -> str:
    """What was asked for, as the address of a plan: the same again, from the lots of today."""
    bottles = ", ".join(f"{count} x {size:g} ml" for count, size in record.plan["containers"])
    asked = {"bottles": bottles, "step": f"{record.step_mg / 1000:g}", "made_by": record.made_by}
    scents = record.plan["scents"]
    return urlencode(asked | {"scents": scents} if scents else asked)


def _nominal(record: BatchRecord) -> str:
    """What the bottles should weigh, in the order of their sizes."""
    density = float(record.plan["density"])
    return ", ".join(f"{count} × {size * density:.2f}" for count, size in record.plan["containers"])


def _result(store: Session, shelf: Shelf, record: BatchRecord) -> ResultView | None:
    """What was really poured, assessed: the actual composition, and not the recipe."""
    found = assessed(store, shelf.facts, record, record.composition)
    if found is None:
        return None
    whole = sum(each.grams for each in record.composition) or 1.0
    return ResultView(
        sentence=f"{whole:.2f} g in the vessel, as poured.",
        keeps=f"Best before {say_day(record.best_before)}, as it was closed."
        if record.best_before
        else f"{keeps(found.shelf_life, record.made_on)}, by what was poured.",
        stops=tuple(stop.words for stop in (found.safety or Safety()).open_stops),
        shares=tuple(
            (
                f"{each.name}{', ' + each.key.replace('lot:', 'lot ') if each.key.startswith('lot:') else ''}",
                f"{each.grams:.2f} g, {100 * each.grams / whole:.2f} %",
            )
            for each in record.composition
        ),
    )


def _add(
    request: Request,
    number: str,
    form: StepForm,
    store: Session,
    shelf: Shelf,
    kind: EntryKind,
    said: str,
    detail: dict[str, object] | None = None,
) -> Response:
    token = check_token(request, form.token)
    try:
        record = load_batch(store, number)
        expected = form.seq if kind is not EntryKind.REMARK else record.seq
        add_entry(
            store,
            number,
            kind,
            expected=expected,
            by=record.made_by,
            token=token,
            detail={"words": form.words.strip()} | (detail or {}),
        )
    except UptideError as error:
        return draw_record(request, number, store, shelf, error=error)
    return RedirectResponse(f"/making/{number}?said={said}", 303)


@router.post("/{number}/mixed")
def mixed(request: Request, number: str, form: Annotated[MixedForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Say that it was mixed, how warm, and whatever was seen; a base then waits on the shelf for its parts."""
    try:
        with in_field("celsius"):
            celsius = warmth_of(form.celsius)
    except UptideError as error:
        return draw_record(request, number, store, shelf, form=form, error=error)
    said: dict[str, object] = {"celsius": celsius} if celsius is not None else {}
    answer = _add(request, number, form=form, store=store, shelf=shelf, kind=EntryKind.MIXED, said="mixed", detail=said)
    if answer.status_code == REDIRECTED:
        keep_base(store, number)
    return answer


@router.post("/{number}/looks")
def looked(request: Request, number: str, form: Annotated[StepForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Write what was seen next day."""
    return _add(request, number, form=form, store=store, shelf=shelf, kind=EntryKind.LOOK, said="looked")


@router.post("/{number}/remarks")
def remark(request: Request, number: str, form: Annotated[StepForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Write something beside it; also once it is closed."""
    return _add(request, number, form=form, store=store, shelf=shelf, kind=EntryKind.REMARK, said="looked")


@router.post("/{number}/close")
def close(request: Request, number: str, form: Annotated[StepForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Close it, with its best before as it is worked out now: closed is closed."""
    record = load_batch(store, number)
    found = assessed(store, shelf.facts, record, record.composition)
    life = found.shelf_life if found is not None else None
    months = life.months if life is not None else None
    return _add(
        request,
        number,
        form=form,
        store=store,
        shelf=shelf,
        kind=EntryKind.CLOSED,
        said="closed",
        detail={"months": months},
    )


@router.post("/{number}/abandon")
def abandon(request: Request, number: str, form: Annotated[StepForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Give it up, with a reason; what was poured stays out of its lots."""
    if not form.why.strip():
        return draw_record(
            request, number, store, shelf, error=FieldError("why", "Say why: who looks later wants to know.")
        )
    return _add(
        request,
        number,
        form=form,
        store=store,
        shelf=shelf,
        kind=EntryKind.ABANDONED,
        said="looked",
        detail={"words": form.why.strip()},
    )


@router.post("/{number}/leftover-lot")
def keep_leftover(request: Request, number: str, form: Annotated[StepForm, Form()], store: Store) -> Response:
    """Put what was left over on the shelf, as a lot of what was really poured."""
    check_token(request, form.token)
    code = shelve_leftover(store, load_batch(store, number))
    return RedirectResponse(f"/shelf/lots/{code}?said=kept", 303)


@router.post("/{number}/fills")
def fill(request: Request, number: str, form: Annotated[FillForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Write what each bottle weighs, and what is left over."""
    token = check_token(request, form.token)
    try:
        record = load_batch(store, number)
        with in_field("fills"):
            fills = _fills(form.fills, record)
        with in_field("leftover"):
            leftover = number_of(form.leftover, "weight in grams", most=50_000) if form.leftover.strip() else 0.0
        expected = form.seq
        for place, (size, grams) in enumerate(fills, start=1):
            detail = {"number": place, "size_ml": size}
            seq = add_entry(
                store,
                number,
                EntryKind.FILLED,
                expected=expected,
                by=record.made_by,
                mg=milligrams(grams),
                token=f"{token}-{place}",
                detail=detail,
            )
            expected = seq if seq is not None else expected + 1
        if leftover:
            add_entry(
                store,
                number,
                EntryKind.LEFTOVER,
                expected=expected,
                by=record.made_by,
                mg=milligrams(leftover),
                token=f"{token}-left",
            )
    except UptideError as error:
        return draw_record(request, number, store, shelf, form=form, error=error)
    fill_bottles(store, shelf.facts, number)
    return RedirectResponse(f"/making/{number}?said=filled#bottles", 303)


def _fills(text: str, record: BatchRecord) -> list[tuple[float, float]]:
    """What each bottle weighs [mL, g]: nothing said is their nominal content, one number is each alike."""
    sizes = [size for count, size in record.plan["containers"] for _ in range(count)]
    density = float(record.plan["density"])
    said = [number_of(each, "weight in grams", most=50_000) for each in text.replace(";", " ").split()]
    if not said:
        said = [size * density for size in sizes]
    if len(said) == 1:
        said *= len(sizes)
    if len(said) > len(sizes):
        raise QuantityError(f"{len(said)} weights for {len(sizes)} bottles; give one for each, or one for all.")
    return list(zip(sizes, said, strict=False))
