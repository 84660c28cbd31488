"""The board of a workshop: its lots and its bottles as things on one picture of time."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta

from sqlalchemy.orm import Session

from uptide.core.keeping.board import SOON_DAYS, Kind, Shown, Thing, ebb, first_to_end
from uptide.core.making.batch_record import State
from uptide.store.batches import BatchHeader, list_batches
from uptide.store.bottles import (
    BottleGroup,
    Wanted,
    alike,
    board,
    ends_of_bottles,
    places_and_holders,
)
from uptide.workshop.bottles import refresh, stamp
from uptide.workshop.clock import today
from uptide.workshop.shelf import Shelf, StandingLot
from uptide.workshop.trace import held_batches

MOST_LINES = 200
AFRESH = 5  # lines of bottles that are worked out afresh at one look, where a model or readings changed since
MONTHS_AHEAD = 24


@dataclass(frozen=True, slots=True)
class Board:
    """What a board shows, the first to end on top; `more` lines are left out, `ebb` counts all that it could show."""

    things: tuple[Thing, ...]
    count: int
    more: int
    ebb: tuple[int, ...]
    places: tuple[str, ...]
    holders: tuple[str, ...]


def board_of(store: Session, shelf: Shelf, shown: Shown, limit: int = MOST_LINES) -> Board:
    """The things that are asked for, and how many of them keep how long."""
    wanted = _wanted(shown)
    bottles = () if shown.kind in (Kind.LOT, Kind.INFUSED, Kind.BATCH) else _bottles(store, shelf, wanted, limit)
    others = [
        thing
        for thing in (*(_lot(each) for each in shelf.standing), *(_batch(each) for each in _unfilled(store)))
        if shown.holds(thing, today())
    ]
    held = held_batches(store, shelf)
    of_bottles = (replace(thing_of(each), status="held" if each.batch in held else "") for each in bottles)
    things = first_to_end([*others, *of_bottles], today())
    lines = things[:limit]
    of_all = ends_of_bottles(store, wanted) if shown.kind in ("", Kind.BOTTLE) else []
    counted = sum(count for _, count in of_all)
    ends = [(day, count) for day, count in of_all if day is not None]
    ends += [(each.ends_on, 1) for each in others if each.ends_on is not None]
    places, holders = places_and_holders(store)
    return Board(
        things=tuple(lines),
        count=len(others) + counted,
        more=len(others) + counted - sum(each.count for each in lines),
        ebb=ebb(ends, today(), MONTHS_AHEAD + 1),
        places=tuple(sorted({*places, *(each.lot.place for each in shelf.standing if each.lot.place)})),
        holders=holders,
    )


def _bottles(store: Session, shelf: Shelf, wanted: Wanted, limit: int) -> tuple[BottleGroup, ...]:
    """Lines of bottles; some that an earlier model or fewer readings worked out are worked out afresh."""
    found = board(store, wanted, limit)
    now = stamp(store)
    stale = [each for each in found if each.worked_by != now][:AFRESH]
    for each in stale:
        refresh(store, shelf.facts, alike(store, each))
    return board(store, wanted, limit) if stale else found


def _wanted(shown: Shown) -> Wanted:
    span = shown.span
    soon = today() + timedelta(days=SOON_DAYS + 1) if shown.soon else None
    return Wanted(
        place=shown.place,
        holder=shown.holder,
        ends_before=span[1] if span is not None else soon,
        ends_from=span[0] if span is not None else None,
        opened=shown.open,
        look_by=today() if shown.look else None,
    )


def _unfilled(store: Session) -> Iterator[BatchHeader]:
    """Batches that are mixed and in no bottle yet."""
    return iter(list_batches(store, state=State.MIXED))


def _lot(each: StandingLot) -> Thing:
    lot, life = each.lot, each.life
    ahead = None if life.typical is None else today() + timedelta(days=int(30.44 * life.typical))
    return Thing(
        kind=Kind.INFUSED if lot.infusion is not None else Kind.LOT,
        key=lot.code,
        name=each.item.name.removesuffix(f", lot {lot.code}"),
        grams=lot.left_g,
        place=lot.place,
        made_on=lot.received_on,
        opened_on=lot.opened_on,
        ends_on=life.ends_on,
        turns_on=ahead,
        limited_by=life.limited_by,
        status=lot.status,
    )


def _batch(each: BatchHeader) -> Thing:
    return Thing(Kind.BATCH, each.number, each.name, made_on=each.made_on)


def thing_of(group: BottleGroup) -> Thing:
    """Bottles that stand alike, as a line of the board."""
    return Thing(
        kind=Kind.BOTTLE,
        key=group.number,
        name=group.name,
        count=group.count,
        size_ml=group.size_ml,
        place=group.place,
        holder=group.holder,
        batch=group.batch,
        made_on=group.made_on,
        opened_on=group.opened_on,
        ends_on=group.ends_on,
        turns_on=group.turns_on,
        limited_by=group.limited_by,
        is_off=group.state == "off",
        look_on=group.look_on,
        look=group.look,
    )


def checks_due(store: Session, shelf: Shelf, day: date) -> tuple[Thing, ...]:
    """The bottles that want a look by a day, those of a batch that stand alike in one line."""
    return tuple(thing_of(each) for each in _bottles(store, shelf, Wanted(look_by=day), MOST_LINES))
