"""Batches from a file: each is planned from the shelf as it stands and poured as planned, or as the file says."""

from __future__ import annotations

from datetime import date
from typing import Any

from pydantic import BaseModel, Field, TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from uptide.core.errors import UptideError
from uptide.core.keeping.bottle import BottleNote
from uptide.core.making.batch_record import EntryKind, Taken
from uptide.core.making.making_plan import MakingAsk, MakingPlan
from uptide.core.making.rounding import How
from uptide.core.making.sizes import Amount, read_containers
from uptide.core.recipe.order import usual_order
from uptide.store.batches import add_entry, list_batches, load_batch, plan_batch
from uptide.store.blends import list_blends, load_version
from uptide.store.people import names_of_people
from uptide.workshop.assessment import assess_here
from uptide.workshop.bottles import fill_bottles, note
from uptide.workshop.making import Measured, assessed, begin_pour, confirm_pour, freeze, lots_on_hand
from uptide.workshop.shelf import Shelf


class BottleNoteIn(BaseModel):
    """What befell one of its bottles."""

    bottle: int
    on: date
    kind: str
    whom: str = ""
    detail: dict[str, Any] = Field(default_factory=dict)


class BatchIn(BaseModel):
    """A batch in a file; `lines` is how many of its lines were poured, all where nothing is said."""

    blend: str
    version: int = 1
    bottles: str
    step: float = 0.1
    made_on: date
    made_by: str = ""
    lines: int | None = None
    mixed: str = ""
    fills: list[float] = Field(default_factory=list)  # g
    look: str = ""
    closed: bool = False
    notes: list[BottleNoteIn] = Field(default_factory=list)


def bring_batches(name: str, text: str, shelf: Shelf, store: Session) -> str:
    """Bring batches in; those of a blend and a day that are known already are left out. Say how many were new.

    Raises:
        UptideError: a file that is none, a blend that is not known, or a batch that cannot be.
    """
    try:
        found = TypeAdapter(list[BatchIn]).validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise UptideError(f"{name} is no file of batches: {where}: {first['msg']}.") from error
    blends = {blend.name: blend.id for blend in list_blends(store)}
    known = {(batch.blend_id, batch.made_on) for batch in list_batches(store)}
    new = 0
    for each in found:
        if each.blend not in blends:
            raise UptideError(f"{name}: nobody knows a blend “{each.blend}”.")
        if (blends[each.blend], each.made_on) not in known:
            _bring(each, blends[each.blend], shelf, store)
            new += 1
    return f"{new} batches"


def _bring(batch: BatchIn, blend_id: int, shelf: Shelf, store: Session) -> None:
    recipe = assess_here(load_version(store, blend_id, batch.version).recipe, shelf.facts, store)
    whole = recipe.resolution
    ask = MakingAsk(
        amount=Amount(read_containers(batch.bottles), whole.total_grams / whole.total_millilitres),
        order=usual_order(shelf.facts.product(recipe.recipe.product).container),
        day=batch.made_on,
        step_g=batch.step,
        small=How.DROPS,
        drops_per_ml=recipe.recipe.habits.drops_per_ml,
    )
    plan = MakingPlan(ask, recipe, lots_on_hand(store, shelf))
    number = plan_batch(store, blend_id, batch.version, freeze(plan), made_on=batch.made_on, made_by=batch.made_by)
    _pour(number, batch, store)
    record = load_batch(store, number)
    sizes = [(count, size) for count, size in record.plan["containers"] for _ in range(count)]
    later: list[tuple[EntryKind, int | None, dict[str, object]]] = []
    if batch.mixed:
        later.append((EntryKind.MIXED, None, {"words": batch.mixed}))
    for place, ((_, size), fill) in enumerate(zip(sizes, batch.fills, strict=False), start=1):
        later.append((EntryKind.FILLED, round(1000 * fill), {"number": place, "size_ml": size}))
    later += [(EntryKind.LOOK, None, {"words": batch.look})] if batch.look else []
    if batch.closed:
        found = assessed(store, shelf.facts, record, record.composition)
        life = found.shelf_life if found is not None else None
        later.append((EntryKind.CLOSED, None, {"words": "", "months": life.months if life is not None else None}))
    for kind, mg, detail in later:
        expected = load_batch(store, number).seq
        add_entry(store, number, kind, expected=expected, by=batch.made_by, mg=mg, detail=detail)
    fill_bottles(store, shelf.facts, number)
    people = {name.casefold(): person for person, name in names_of_people(store)}
    for each in batch.notes:
        said = BottleNote(
            0, each.on, kind=each.kind, detail=each.detail, wearer=people.get(each.whom.casefold()), whom=each.whom
        )
        note(store, shelf.facts, f"{number}-{each.bottle}", said)


def _pour(number: str, batch: BatchIn, store: Session) -> None:
    """Pour line after line as the plan has them."""
    record = load_batch(store, number)
    upto = len(record.lines) if batch.lines is None else batch.lines
    begin_pour(store, number, 0, expected=record.seq, by=batch.made_by)
    while (place := load_batch(store, number).next_position) is not None and place < upto:
        record = load_batch(store, number)
        code, mg = record.next_pick(place)
        drops = record.lines[place].drops
        measured = Measured(mg, Taken.DROPS if drops else Taken.TYPED, drops)
        token = f"{number}-{record.seq}-file"
        confirm_pour(store, number, place, measured, code, expected=record.seq, by=batch.made_by, token=token)
