"""What is done, for other programs: movements of lots, batches and their pours, jars and what is noted of them."""

from __future__ import annotations

from datetime import date
from typing import Literal

from fastapi import APIRouter, HTTPException, Request, Response
from pydantic import BaseModel, ConfigDict, Field

from uptide.core.errors import QuantityError
from uptide.core.infusion.following import ENDS, NoteKind
from uptide.core.infusion.straining import Straining
from uptide.core.infusion.words import LONGEST
from uptide.core.ledger.movement import grams, milligrams
from uptide.core.making.batch_record import BatchRecord, Taken
from uptide.core.making.making_plan import MakingPlan
from uptide.store.batches import hold, load_batch, plan_batch
from uptide.store.blends import load_blend, load_version
from uptide.store.jars import add_note, begin_jar, load_jar
from uptide.store.ledger import add_movement, left_mg, lot_number, movements_of
from uptide.store.readings import take_thermometer_out
from uptide.store.shelf import load_lot, shelf_changed
from uptide.web.api.assess import Day, Text, Whole
from uptide.web.api.problems import (
    NOT_THERE,
    REFUSED,
    REFUSED_OVER,
    IdempotencyKey,
    IfMatch,
    Once,
    Writing,
    check_match,
)
from uptide.web.api.records import BatchOut, JarOut, LotOut, batch_out, batch_tag, jar_out, lot_out
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.making.plan import PlanForm, read_ask, with_usual
from uptide.web.making.weigh import MOST_GRAMS, check_lot
from uptide.web.shelf.lots import COUNTED, DISCARDED, RETURNED, USED
from uptide.web.shelf.movements import movements_said
from uptide.web.steeping.jar_form import MOST, JarForm, read_jar
from uptide.web.steeping.jar_page import NoteForm
from uptide.web.steeping.jars import begun_on, note_said, usual_name
from uptide.workshop.assessment import assess_here
from uptide.workshop.clock import today
from uptide.workshop.jars import ask_to_json, lots_poured_on, pour_on
from uptide.workshop.making import Measured, confirm_pour, freeze, lots_on_hand
from uptide.workshop.trace import refuse_held

router = APIRouter(prefix="/api", tags=["doing"])
MOVES = {"used": USED, "discarded": DISCARDED, "counted": COUNTED, "returned": RETURNED}
A_PROGRAM = "a program"  # who holds a bench that is poured at from here


def _said(amount: float) -> str:
    """An amount as a form has it, to a thousandth: what a scale and a measure show."""
    return f"{amount:.3f}"


class Said(BaseModel):
    """A body: what it does not know is refused, and a number or a day that is written as something else."""

    model_config = ConfigDict(extra="forbid", strict=True)


class MovementIn(Said):
    """Something that moved in or out of a lot."""

    what: Literal["used", "discarded", "counted", "returned"]
    grams: float = Field(description="How much; of “counted” what is there now [g].", ge=0, le=1e6, examples=[40])
    on: Day = Field(None, description="Today unless another day is said.")
    reason: Text = Field("", max_length=200, description="Needed where something is thrown out.")
    by: Text = Field("", max_length=80)


class MovementOut(BaseModel):
    """A movement as it stands in the ledger; never changed, only taken back by another."""

    id: int
    kind: str
    grams: float = Field(description="In is above nothing, out below.")
    on: date
    by: str
    reason: str
    reverses: int | None
    taken_back: bool


class BatchIn(Said):
    """A batch of a blend that is to be weighed."""

    blend: Whole
    version: Whole | None = Field(None, description="The newest unless another is said.")
    bottles: Text = Field("", max_length=120, description="By default one of its own.", examples=["3 x 30 ml"])
    loss_percent: float | None = Field(None, description="More than fills them; a film each by default.", ge=0, le=50)
    leftover_ml: float = Field(0, description="To be left over [mL].", ge=0, le=20_000)
    made_on: Day = None
    made_by: Text = Field("", max_length=80)
    lots: dict[int, Text] = Field(
        default_factory=dict, strict=False, description="Codes of lots by the place of their row, from 0."
    )


class PourIn(Said):
    """A pour that was weighed."""

    position: Whole = Field(description="Of the line in the plan, from 0.", ge=0, le=1000)
    grams: float = Field(description="What was weighed [g].", gt=0, le=MOST_GRAMS)
    lot: Text | None = Field(
        None,
        description="Code of the lot, the one that is due unless it is said; nothing for what is no lot.",
        max_length=80,
    )


class JarIn(Said):
    """A jar that is begun, as its form has it: amounts as they are said."""

    plant: Text = Field("calendula", max_length=80, description="Key or name of the plant.")
    oil: Text = Field("Sunflower oil (high oleic)", description="An oil, or the code of a lot.", max_length=LONGEST)
    plant_grams: float = Field(30, description="Of the plant [g].", gt=0, le=MOST)
    jar_ml: float = Field(500, description="What the jar holds up to its rim [mL].", gt=0, le=MOST)
    method: Text = Field("dark-shelf", max_length=40)
    straining: Straining = Field(Straining.HAND, strict=False)
    begun_on: Day = None
    name: Text = Field("", max_length=120)


class JarNoteIn(Said):
    """Something noted of a jar."""

    kind: NoteKind = Field(strict=False)
    on: Day = None
    grams: float | None = Field(None, description="Where something was weighed [g].", ge=0, le=100_000)
    words: Text = Field("", max_length=400)


@router.get("/lots/{code}/movements", responses=NOT_THERE)
def movements(code: str, store: Store) -> list[MovementOut]:
    """Everything that moved in and out of a lot, the newest first."""
    return [
        MovementOut(
            id=each.id,
            kind=each.movement.kind.value,
            grams=grams(each.movement.mg),
            on=each.on,
            by=each.by,
            reason=each.movement.reason,
            reverses=each.reverses,
            taken_back=each.taken_back,
        )
        for each in movements_of(store, code)
    ]


@router.post("/lots/{code}/movements", status_code=201, dependencies=[Writing], responses=REFUSED)
def move(code: str, body: MovementIn, request: Request, store: Store, idempotency_key: IdempotencyKey = "") -> LotOut:
    """Enter a movement; the lot as it stands then."""
    once = Once(store, request, idempotency_key, body)
    if not once.before():
        number, day = lot_number(store, code), body.on or today()
        if day > today():
            raise QuantityError(f"{day} has not come yet; a movement is of today or before.")
        for movement in movements_said(MOVES[body.what], body.reason, milligrams(body.grams), left_mg(store, number)):
            add_movement(store, number, movement, on=day, by=body.by)
        shelf_changed(store)
        once.done(code)
    return lot_out(load_lot(store, code))


@router.post("/batches", status_code=201, dependencies=[Writing], responses=REFUSED)
def new_batch(
    body: BatchIn,
    request: Request,
    store: Store,
    shelf: OnShelf,
    response: Response,
    idempotency_key: IdempotencyKey = "",
) -> BatchOut:
    """Plan a batch of a version of a blend; its lots are those that end first unless others are said."""
    once = Once(store, request, idempotency_key, body)
    number = once.before()
    if not number:
        version = body.version or load_blend(store, body.blend).newest.number
        recipe = assess_here(load_version(store, body.blend, version).recipe, shelf.facts, store)
        form = PlanForm(
            bottles=body.bottles,
            loss_by="a film" if body.loss_percent is None else "percent",
            loss="3" if body.loss_percent is None else _said(body.loss_percent),
            leftover=_said(body.leftover_ml),
            made=body.made_on.isoformat() if body.made_on else "",
        )
        ask = read_ask(with_usual(form, recipe, shelf), recipe, dict(body.lots))
        frozen = freeze(MakingPlan(ask, recipe, lots_on_hand(store, shelf)))
        number = plan_batch(store, body.blend, version, frozen, made_on=ask.day, made_by=body.made_by)
        once.done(number)
    return _batch(number, store, response)


@router.post("/batches/{number}/pours", status_code=201, dependencies=[Writing], responses=REFUSED_OVER)
def pour(
    number: str,
    body: PourIn,
    request: Request,
    store: Store,
    shelf: OnShelf,
    response: Response,
    if_match: IfMatch = "",
    idempotency_key: IdempotencyKey = "",
) -> BatchOut:
    """Write a pour that was weighed, and take it out of its lot, if the batch is still as you read it."""
    once = Once(store, request, idempotency_key, body)
    if not once.before():
        record = load_batch(store, number)
        check_match(if_match, batch_tag(record), "batch")
        if not hold(store, number, A_PROGRAM):
            raise HTTPException(409, "Another device pours this batch; nothing was written.")
        lot = _due(record, body.position) if body.lot is None else body.lot
        check_lot(body.position, lot, record, store, shelf)
        measured = Measured(milligrams(body.grams), Taken.TYPED)
        confirm_pour(
            store, number, body.position, measured, lot, expected=record.seq, by=record.made_by, token=once.token
        )
        once.done(number)
    return _batch(number, store, response)


def _due(record: BatchRecord, position: int) -> str:
    """The lot that a line is poured from next, as its plan has it; nothing where there is no such line."""
    return record.next_pick(position)[0] if position < len(record.lines) else ""


def _batch(number: str, store: Store, response: Response) -> BatchOut:
    record = load_batch(store, number)
    response.headers["etag"], response.headers["location"] = batch_tag(record), f"/api/batches/{number}"
    return batch_out(record)


@router.post("/jars", status_code=201, dependencies=[Writing], responses=REFUSED)
def new_jar(
    body: JarIn,
    request: Request,
    store: Store,
    shelf: OnShelf,
    response: Response,
    idempotency_key: IdempotencyKey = "",
) -> JarOut:
    """Begin a jar; oil that is a lot goes out of the ledger."""
    once = Once(store, request, idempotency_key, body)
    number = int(once.before() or 0)
    if not number:
        form = JarForm(
            plant=body.plant,
            oil=body.oil,
            grams=_said(body.plant_grams),
            jar_ml=_said(body.jar_ml),
            method=body.method,
            straining=body.straining.value,
        )
        ask = read_jar(form, shelf.facts)
        refuse_held(store, shelf, (code for code, _ in lots_poured_on(ask)))
        begun = begun_on(body.begun_on.isoformat() if body.begun_on else "")
        name = body.name.strip() or usual_name(ask)
        number = begin_jar(store, name, begun, ask_to_json(ask))
        pour_on(store, number, name, ask)
        once.done(str(number))
    response.headers["location"] = f"/api/jars/{number}"
    return jar_out(load_jar(store, number))


@router.post("/jars/{number}/notes", status_code=201, dependencies=[Writing], responses=REFUSED)
def note_of_jar(
    number: int, body: JarNoteIn, request: Request, store: Store, idempotency_key: IdempotencyKey = ""
) -> JarOut:
    """Note something of a jar."""
    once = Once(store, request, idempotency_key, body)
    if not once.before():
        said = NoteForm(
            token="",
            kind=body.kind.value,
            on=body.on.isoformat() if body.on else "",
            grams="" if body.grams is None else _said(body.grams),
            words=body.words,
        )
        noted = note_said(said, load_jar(store, number).begun_on)
        add_note(store, number, noted)
        if noted.kind in ENDS:
            take_thermometer_out(store, number)
        once.done(str(number))
    return jar_out(load_jar(store, number))
