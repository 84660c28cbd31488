"""The bench of a batch: one pour at a time, by scale, typed or in drops; one device pours and others watch."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Callable
from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from fastapi.sse import EventSourceResponse, ServerSentEvent
from sqlalchemy.orm import Session

from uptide.core.errors import QuantityError, UptideError
from uptide.core.ledger.movement import milligrams
from uptide.core.making.batch_record import LEFTOVER, BatchRecord, ClosedError, EntryKind, StaleError, Taken
from uptide.core.making.overpour import Way
from uptide.store.batches import add_entry, hold, load_batch
from uptide.store.blends import load_blend
from uptide.store.database import as_writer
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.forms import TokenForm, errors_of, in_field, number_of
from uptide.web.base.pages import piece, render
from uptide.web.base.security import browser_id, check_token
from uptide.web.making.over_view import over_view
from uptide.web.making.record_view import record_view
from uptide.web.making.weigh_view import COUNTS_DOWN, live_view, next_view, was_tared
from uptide.web.making.words import called
from uptide.workshop.desk import Desk
from uptide.workshop.making import Measured, apply_remedy, begin_pour, confirm_pour, lots_poured, overpoured, void_pour
from uptide.workshop.scale import OnScale
from uptide.workshop.shelf import Shelf
from uptide.workshop.trace import refuse_held

router = APIRouter(prefix="/making", include_in_schema=False)

LIVE = "making/_live.html"
LOOKS_A_SECOND = 5  # at the scale
EVERY = 1 / LOOKS_A_SECOND  # s
A_SIGN = 5  # s between two signs of life of whoever holds the bench
AS_LONG = 18_000  # looks until a page is told to ask again
MOST_GRAMS, MOST_DROPS = 50_000.0, 2_000.0
A_VESSEL, PUT_ON, PRACTICE_RATE = 200.0, 5_000.0, 8.0  # g that are put on and not poured; g/s
PRACTICE = ((250, "a vessel"), (50, "pour 50 g"), (10, "10 g"), (1, "1 g"), (0.1, "a few drops"), (-10, "10 g off"))
NO_SCALE = OnScale(None, fault="There is no scale: type what was weighed, or count drops.")


class SeqForm(TokenForm):
    """What every form of the bench says: the last entry that its page has seen."""

    seq: int = 0


class PourForm(SeqForm):
    """A pour as it is confirmed."""

    position: int = 0
    how: str = Taken.SCALE.value
    amount: str = ""
    drops: str = ""
    code: str = ""


class VoidForm(SeqForm):
    """Which pour is taken back."""

    of: int = 0


class WayForm(SeqForm):
    """Which way out of an overpour is taken."""

    way: str = ""
    part: str = ""  # of the mixture that is taken out [%]


class PracticeForm(TokenForm):
    """What is done with the practice scale [g]."""

    grams: str = "0"
    back: str = ""


def _scale(request: Request) -> OnScale:
    desk: Desk = request.app.state.desk
    return desk.on_scale() or NO_SCALE


@router.get("/{number}/weigh")
def bench(request: Request, number: str, store: Store, shelf: OnShelf) -> HTMLResponse:
    """Show the bench as it stands; looking at it pours nothing."""
    return draw_bench(request, number, store, shelf)


def draw_bench(
    request: Request,
    number: str,
    store: Session,
    shelf: Shelf,
    *,
    form: PourForm | None = None,
    error: UptideError | None = None,
) -> HTMLResponse:
    """Draw the bench, with what was typed and could not be read."""
    record = load_batch(store, number)
    desk: Desk = request.app.state.desk
    is_over, on_scale = overpoured(record), desk.on_scale()
    status = 409 if isinstance(error, (StaleError, ClosedError)) else 422 if error else 200
    return render(
        request,
        "making/weigh.html",
        status,
        record=record,
        view=record_view(record),
        name=called(load_blend(store, record.blend_id).name, record),
        waits=record.plan["pot"] if waits_for_base(record, shelf) else "",
        due=None if is_over else next_view(record),
        live=live_view(record, on_scale or NO_SCALE),
        over=over_view(store, shelf, record) if is_over else None,
        has_scale=on_scale is not None,
        practice=desk.is_practice(),
        held=bool(record.holder) and record.holder != browser_id(request),
        form=form or PourForm(),
        practice_pours=PRACTICE,
        problem=str(error or ""),
        errors=errors_of(error),
    )


def _take_the_bench(request: Request, store: Session, number: str) -> None:
    if not hold(store, number, browser_id(request)):
        raise StaleError("Another device pours this batch: take the bench over first, and nothing it poured is lost.")


def _at_bench(
    request: Request,
    number: str,
    store: Session,
    shelf: Shelf,
    form: SeqForm,
    act: Callable[[BatchRecord, str], None],
) -> Response:
    """Do something at the bench that this device holds; what cannot be done writes nothing and is said."""
    token = check_token(request, form.token)
    try:
        _take_the_bench(request, store, number)
        with store.begin_nested():
            act(load_batch(store, number), token)
    except UptideError as error:
        typed = form if isinstance(form, PourForm) else None
        return draw_bench(request, number, store, shelf, form=typed, error=error)
    return RedirectResponse(f"/making/{number}/weigh", 303)


@router.post("/{number}/weigh/begin")
def begin(request: Request, number: str, form: Annotated[SeqForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Begin the pour that is due, with what the scale says now: its tare is in software. Also when it was tared."""

    def act(record: BatchRecord, token: str) -> None:
        due, grams = next_view(record), _scale(request).grams
        if due is not None:
            gross = None if grams is None else milligrams(grams)
            begin_pour(store, number, due.position, expected=form.seq, by=record.made_by, token=token, gross=gross)

    return _at_bench(request, number, store, shelf, form, act)


@router.post("/{number}/pours")
def pour(request: Request, number: str, form: Annotated[PourForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Confirm a pour; the answer leaves once it is committed. What cannot be read stands beside its field."""

    def act(record: BatchRecord, token: str) -> None:
        check_lot(form.position, form.code, record, store, shelf)
        measured = _measured(form, record, _scale(request), shelf)
        confirm_pour(
            store,
            number,
            form.position,
            measured,
            form.code,
            expected=form.seq,
            by=record.made_by,
            token=token,
        )

    return _at_bench(request, number, store, shelf, form, act)


def waits_for_base(record: BatchRecord, shelf: Shelf) -> bool:
    """Whether a part of a pot waits until its base is mixed."""
    base = f"{LEFTOVER}{record.plan['pot']}"
    return bool(record.plan["pot"]) and f"lot:{base}" not in shelf.facts.ingredients


def check_lot(position: int, code: str, record: BatchRecord, store: Session, shelf: Shelf) -> None:
    """Raise QuantityError where a lot is of another thing than the line, or may not be poured.

    Nobody pours jojoba as olive, nor an infused oil as plain. A line that names its lot itself is of that lot, also
    where no lot was picked for it.
    """
    if not 0 <= position < len(record.lines):
        return
    due = record.lines[position]
    refuse_held(store, shelf, lots_poured(record, position, code))
    if not code:
        return
    items = shelf.facts.ingredients
    if code == f"{LEFTOVER}{record.plan['pot']}" and waits_for_base(record, shelf):
        raise QuantityError(f"Its base is not mixed yet: batch {record.plan['pot']} is weighed and mixed first.")
    lot, line = items.get(f"lot:{code}"), items.get(due.key)
    if lot is not None and (line.stock_key if line is not None else due.key) not in lot.stands_for:
        raise QuantityError(f"Lot {code} is {lot.name}, and {due.name} is due.")


def _measured(form: PourForm, record: BatchRecord, on_scale: OnScale, shelf: Shelf) -> Measured:
    """How much was poured: by the scale as it stands, as typed, or so many drops of the calibrated dropper."""
    if form.how == Taken.SCALE:
        if on_scale.grams is None:
            raise QuantityError(f"The scale says nothing: {on_scale.fault}.")
        before = record.begun.detail.get("gross_before") if record.begun else None
        if before is None:
            raise QuantityError("Nobody weighed what stood on the scale when this pour began: “Go on from here” does.")
        tared = was_tared(record, on_scale)
        if tared:
            raise QuantityError(tared)
        gross = milligrams(on_scale.grams)
        return Measured(
            gross - before, Taken.SCALE, drops=0, gross_before=before, gross_after=gross, stable=on_scale.stable
        )
    after = None if on_scale.grams is None else milligrams(on_scale.grams)
    if form.how == Taken.TYPED:
        with in_field("amount"):
            grams = number_of(form.amount, "weight in grams", most=MOST_GRAMS)
        return Measured(milligrams(grams), Taken.TYPED, gross_after=after)
    if form.how == Taken.DROPS:
        with in_field("drops"):
            count = number_of(form.drops, "number of drops", most=MOST_DROPS)
        mg = _of_drops(record, form.position, count, shelf)
        return Measured(mg, Taken.DROPS, round(count), gross_after=after)
    raise QuantityError(f"“{form.how}” is none of {', '.join(Taken)}.")


def _of_drops(record: BatchRecord, position: int, count: float, shelf: Shelf) -> int:
    """What so many drops weigh [mg]: as the plan has a drop, else by the density of what it is."""
    line = record.lines[position]
    if line.drops:
        return round(count * line.target_mg / line.drops)
    item = shelf.facts.ingredients.get(line.key)
    density = item.density if item is not None else 0.9
    return milligrams(count * density / float(record.plan["drops_per_ml"]))


@router.post("/{number}/left-out")
def leave_out(
    request: Request, number: str, form: Annotated[PourForm, Form()], store: Store, shelf: OnShelf
) -> Response:
    """Leave a line out; the record says so."""

    def act(record: BatchRecord, token: str) -> None:
        kind, by, grams = EntryKind.LEFT_OUT, record.made_by, _scale(request).grams
        if not 0 <= form.position < len(record.lines):
            raise QuantityError(f"Batch {number} has no line {form.position + 1}.")
        keeps = {"keeps": record.in_vessel[form.position]}
        add_entry(store, number, kind, expected=form.seq, by=by, position=form.position, token=token, detail=keeps)
        then = load_batch(store, number)
        if then.next_position is not None and then.seq > record.seq:
            gross = None if grams is None else milligrams(grams)
            begin_pour(store, number, then.next_position, expected=then.seq, by=by, gross=gross)

    return _at_bench(request, number, store, shelf, form, act)


@router.post("/{number}/voids")
def void(request: Request, number: str, form: Annotated[VoidForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Take a pour back; both stay in the record."""

    def act(record: BatchRecord, token: str) -> None:
        void_pour(store, number, form.of, expected=form.seq, by=record.made_by, token=token)

    return _at_bench(request, number, store, shelf, form, act)


@router.post("/{number}/ways")
def way_out(request: Request, number: str, form: Annotated[WayForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Take a way out of an overpour."""

    def act(record: BatchRecord, token: str) -> None:
        if form.way not in set(Way):
            raise QuantityError(f"“{form.way}” is no way out.")
        with in_field("part"):
            part = number_of(form.part, "part in percent", most=99) / 100 if form.part.strip() else 0.0
        apply_remedy(
            store,
            number,
            Way(form.way),
            expected=form.seq,
            by=record.made_by,
            token=token,
            part=max(0.0, part),
        )

    return _at_bench(request, number, store, shelf, form, act)


@router.post("/{number}/take-over")
def take_over(request: Request, number: str, form: Annotated[SeqForm, Form()], store: Store) -> Response:
    """Pour from this device from now on; the one before watches."""
    check_token(request, form.token)
    hold(store, number, browser_id(request), take_over=True)
    record = load_batch(store, number)
    add_entry(store, number, EntryKind.TAKEN_OVER, expected=record.seq, by=record.made_by)
    return RedirectResponse(f"/making/{number}/weigh", 303)


@router.post("/practice-scale")
def use_practice_scale(request: Request, form: Annotated[PracticeForm, Form()]) -> Response:
    """Take the practice scale, or pour on it; there is none beside a real one."""
    check_token(request, form.token)
    desk: Desk = request.app.state.desk
    grams = number_of(form.grams, "weight in grams", most=MOST_GRAMS) if form.grams.strip() else None
    desk.practise(grams, PUT_ON if grams is not None and grams >= A_VESSEL else PRACTICE_RATE)
    back = form.back if form.back.startswith("/making/") else "/making"
    if request.headers.get("x-filter"):
        return Response(status_code=204)
    return RedirectResponse(back, 303)


@router.get("/{number}/live", response_class=EventSourceResponse)
async def live(request: Request, number: str) -> AsyncIterator[ServerSentEvent]:
    """Say what the scale says of the pour that is due, five times a second, and when something was written."""
    record = await asyncio.to_thread(_look, request, number)
    seen, counted = record.seq, 0.0
    for look in range(AS_LONG):
        if await request.is_disconnected():
            return
        if look % LOOKS_A_SECOND == 0:
            record = await asyncio.to_thread(_look, request, number)
        if look % (LOOKS_A_SECOND * A_SIGN) == 0 and record.holder == browser_id(request):
            await asyncio.to_thread(_sign, request, number)
        if record.seq != seen:
            seen = record.seq
            yield ServerSentEvent(event="changed", raw_data=str(seen))
        view = live_view(record, _scale(request))
        yield ServerSentEvent(event="now", raw_data=str(piece(LIVE, "now", view)))
        counted = counted + EVERY if view.counts else 0.0
        left = COUNTS_DOWN - counted
        yield ServerSentEvent(event="counts", raw_data="" if not view.counts else f"{left:.0f}" if left > 0 else "now")
        await asyncio.sleep(EVERY)


def _look(request: Request, number: str) -> BatchRecord:
    """A batch as it stands; the database is let go at once."""
    with request.app.state.sessions() as session:
        return load_batch(session, number)


def _sign(request: Request, number: str) -> None:
    """Say that whoever holds the bench is still there."""
    with request.app.state.sessions() as session, session.begin():
        hold(as_writer(session), number, browser_id(request))
