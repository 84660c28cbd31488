"""The board of a workshop: its lots and its bottles as things on one picture of time."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta
from math import ceil

from sqlalchemy.orm import Session

from uptide.core.keeping.board import SOON_DAYS, Kind, Section, Shown, Thing, ebb, first_to_end, section_of, span_of
from uptide.core.keeping.bottle import State
from uptide.core.making.batch_record import State as BatchState
from uptide.core.months import DAYS_A_MONTH
from uptide.store.batches import BatchHeader, list_batches
from uptide.store.bottle_board import (
    BottleGroup,
    Wanted,
    alike,
    board,
    count_bottles,
    ends_of_bottles,
    places_and_holders,
)
from uptide.store.bottles import never_worked_out
from uptide.workshop.bottles import refresh_meanwhile, stamp
from uptide.workshop.clock import today
from uptide.workshop.shelf import Shelf, StandingLot
from uptide.workshop.trace import held_batches, held_lots

PER_SECTION, OF_ONE = 40, 500  # lines of each stretch of time, and of one that is asked for by itself
AFRESH = 5  # lines of bottles that are worked out afresh at one look, where a model or readings changed since
MONTHS_AHEAD = 24


@dataclass(frozen=True, slots=True)
class Stretch:
    """What ends in a stretch of time: its lines, the first to end on top, and how many things all of them are."""

    section: Section
    things: tuple[Thing, ...]
    count: int

    @property
    def more(self) -> int:
        """How many things stand in no line."""
        return self.count - sum(each.count for each in self.things)


@dataclass(frozen=True, slots=True)
class Board:
    """What a board shows, stretch by stretch; `ebb` counts all of it, `looks` what wants a look."""

    stretches: tuple[Stretch, ...]
    ebb: tuple[int, ...]
    looks: int
    places: tuple[str, ...]
    holders: tuple[str, ...]

    @property
    def things(self) -> tuple[Thing, ...]:
        """All lines, the first to end on top."""
        return tuple(thing for each in self.stretches for thing in each.things)

    @property
    def count(self) -> int:
        """How many things there are."""
        return sum(each.count for each in self.stretches)


def board_of(store: Session, shelf: Shelf, shown: Shown, limit: int = PER_SECTION) -> Board:
    """The things that are asked for, and how many of them keep how long."""
    day = today()
    others: dict[Section, list[Thing]] = {}
    unpoured = held_lots(store, shelf)
    for thing in (
        *(_lot(each, day, unpoured) for each in shelf.standing),
        *(_batch(each) for each in _unfilled(store)),
    ):
        if shown.holds(thing, day):
            others.setdefault(thing.section(day), []).append(thing)
    new = never_worked_out(store)
    if new:
        refresh_meanwhile(store, shelf.facts, new)
    has_bottles = shown.kind in ("", Kind.BOTTLE)
    ends = ends_of_bottles(store, _wanted(shown)) if has_bottles else []
    counted: dict[Section, int] = {}
    for is_off, ends_on, count in ends:
        section = Section.NOW if is_off else section_of(ends_on, day)
        counted[section] = counted.get(section, 0) + count
    held = held_batches(store, shelf)
    afresh = _Afresh(store, shelf)
    stretches = []
    for section in Section:
        if shown.section and shown.section != section.name.lower():
            continue
        here = others.get(section, [])
        lines = afresh.board(_within(_wanted(shown), section), limit) if counted.get(section) else ()
        of_bottles = (replace(thing_of(each), status="held" if each.batch in held else "") for each in lines)
        things = first_to_end([*here, *of_bottles], day)[:limit]
        if things:
            stretches.append(Stretch(section, tuple(things), len(here) + counted.get(section, 0)))
    known = [(ends_on, count) for is_off, ends_on, count in ends if ends_on is not None and not is_off]
    known += [(each.ends_on, 1) for found in others.values() for each in found if each.ends_on is not None]
    places, holders = places_and_holders(store)
    return Board(
        stretches=tuple(stretches),
        ebb=ebb(known, day, MONTHS_AHEAD + 1),
        looks=count_bottles(store, replace(_wanted(shown), look_by=day)) if has_bottles else 0,
        places=tuple(sorted({*places, *(each.lot.place for each in shelf.standing if each.lot.place)})),
        holders=holders,
    )


class _Afresh:
    """Lines of bottles, of which some that an earlier model or fewer readings worked out are worked out afresh."""

    def __init__(self, store: Session, shelf: Shelf) -> None:
        self._store, self._shelf, self._may = store, shelf, AFRESH

    def board(self, wanted: Wanted, limit: int) -> tuple[BottleGroup, ...]:
        """Lines of what is wanted."""
        found = board(self._store, wanted, limit)
        now = stamp(self._store)
        stale = [each for each in found if each.worked_by != now][: self._may]
        self._may -= len(stale)
        for each in stale:
            refresh_meanwhile(self._store, self._shelf.facts, alike(self._store, each))
        return board(self._store, wanted, limit) if stale else found


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


def _within(wanted: Wanted, section: Section) -> Wanted:
    """The same within one stretch of time; what is off has ended, whatever was foreseen."""
    if section is Section.UNKNOWN:
        return replace(wanted, unknown=True)
    first, after = span_of(section, today())
    if first is None:
        return replace(wanted, ends_before=min(filter(None, (wanted.ends_before, after))))
    start = max(filter(None, (wanted.ends_from, first)))
    return replace(wanted, ends_from=start, ends_before=min(filter(None, (wanted.ends_before, after)), default=None))


def _unfilled(store: Session) -> Iterator[BatchHeader]:
    """Batches that are mixed and in no bottle yet."""
    return iter(list_batches(store, state=BatchState.MIXED))


def _lot(each: StandingLot, day: date, held: Collection[str]) -> Thing:
    lot, life = each.lot, each.life
    ahead = None if life.typical is None else day + timedelta(days=ceil(DAYS_A_MONTH * life.typical))
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
        status=lot.status or ("held" if lot.code in held else ""),
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
        is_off=group.state == State.OFF,
        look_on=group.look_on,
        look=group.look,
    )


def checks_due(store: Session, shelf: Shelf, day: date, limit: int = OF_ONE) -> tuple[Thing, ...]:
    """The bottles that want a look by a day, those of a batch that stand alike in one line."""
    return tuple(thing_of(each) for each in _Afresh(store, shelf).board(Wanted(look_by=day), limit))
