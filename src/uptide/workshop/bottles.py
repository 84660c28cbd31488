"""Bottles of a workshop: how long each keeps by what befell it, what it taught, and what is noted of it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from uptide import __version__
from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.stock import aged_to
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import UptideError
from uptide.core.ingredients.lot import Lot
from uptide.core.keeping.bottle import Bottle, BottleNote, State, note_problem, shared_readings
from uptide.core.keeping.checks import checks_of, next_check
from uptide.core.keeping.shelf_life import ShelfLife
from uptide.core.making.batch_record import LEFTOVER, BatchRecord, EntryKind
from uptide.core.making.making_plan import LOT, made_of
from uptide.core.months import DAYS_A_MONTH, months_later
from uptide.core.recipe.recipe import Recipe
from uptide.store.batches import load_batch
from uptide.store.blends import load_blend, load_version
from uptide.store.bottles import (
    Worked,
    add_bottles,
    add_note,
    bottle_id,
    bottles_of_batch,
    bottles_of_blend,
    keep_worked,
    load_bottle,
    own_number,
    strike_note,
)
from uptide.store.preferences import keep_learnt, learnt_stamp
from uptide.store.records import NotFoundError
from uptide.store.shelf import all_lots, recipes_on_shelf
from uptide.workshop.assessment import assess_here
from uptide.workshop.clock import today
from uptide.workshop.making import recipe_of

READINGS = ("strip", "titration", "smell")
DEEPEST = 12  # lots behind lots


@dataclass(frozen=True, slots=True)
class Fared:
    """How a bottle fares: its assessment from the day it was made, with what befell it."""

    bottle: Bottle
    assessment: Assessment
    siblings: tuple[Bottle, ...]
    facts: Catalogue  # of today


def fare(store: Session, facts: Catalogue, bottle: Bottle, *, foreseen: bool = False) -> Fared:
    """Assess what is in a bottle, as its lots were on the day it was made, by what befell it and its siblings.

    `foreseen` is as it was before anybody read or smelled it.
    """
    others: tuple[Bottle, ...] = ()
    made: Recipe
    then = facts
    if bottle.batch:
        record = load_batch(store, bottle.batch)
        others = tuple(each for each in bottles_of_batch(store, bottle.batch) if each.number != bottle.number)
        made = recipe_of(store, record)
        made = made_of(made, record.composition, record.present) if record.composition else made
        then = _as_of(store, facts, record, bottle.made_on)
    else:
        made = _recipe(store, bottle)
    events: tuple[BottleNote, ...] = (*bottle.events, *shared_readings(bottle, others))
    if foreseen:
        events = tuple(each for each in events if each.kind not in READINGS)
    found = assess_here(made, then, store, bottle=bottle_id(store, bottle.number), events=events)
    return Fared(bottle, found, others, facts)


def _recipe(store: Session, bottle: Bottle) -> Recipe:
    try:
        return load_version(store, bottle.blend_id, bottle.version).recipe
    except NotFoundError:
        return Recipe(())


def _as_of(store: Session, facts: Catalogue, record: BatchRecord, day: date) -> Catalogue:
    """The catalogue with the lots of a batch as they were on a day: what they aged since, they aged elsewhere."""
    lots = all_lots(store)
    by_code = {lot.code: lot for lot in lots}
    wanted = _behind(store, {each.key.removeprefix(LOT) for each in record.composition}, by_code, 0)
    needed = [lot for lot in lots if lot.code in wanted]
    return aged_to(facts, needed, recipes_on_shelf(store, needed), day) if needed else facts


def _behind(store: Session, codes: set[str], lots: Mapping[str, Lot], depth: int) -> set[str]:
    """The codes of lots, with those that each was made from."""
    found = {code for code in codes if code in lots}
    before: set[str] = set()
    for code in found:
        infusion = lots[code].infusion
        if infusion is not None and infusion.oil_lot:
            before.add(infusion.oil_lot)
        if code.startswith(LEFTOVER):
            try:
                made = load_batch(store, code.removeprefix(LEFTOVER))
            except NotFoundError:
                continue
            before |= {each.key.removeprefix(LOT) for each in made.composition}
    return found | (_behind(store, before - found, lots, depth + 1) if before - found and depth < DEEPEST else set())


def work_out(store: Session, fared: Fared) -> Worked:
    """What the board keeps of a bottle, and of all that stand like it."""
    bottle, life = fared.bottle, fared.assessment.shelf_life
    looked = [day for each in (bottle, *fared.siblings) for day in each.looked_at]
    looked += _looks_at_the_batch(store, bottle.batch) if bottle.batch else []
    months = life.months if life is not None else None
    check = next_check(checks_of(bottle.made_on, months), looked, today())
    if bottle.state is not State.STANDS:  # what was foreseen stays beside what came of it
        life = fare(store, fared.facts, bottle, foreseen=True).assessment.shelf_life
    ends, turns = _ends(bottle, life)
    return Worked(
        place=fared.assessment.recipe.storage.place,
        ends_on=ends,
        turns_on=turns,
        limited_by=life.limited_by if life is not None else "",
        look_on=check.on if check is not None else None,
        look=check.what if check is not None else "",
        by=stamp(store),
    )


def _looks_at_the_batch(store: Session, batch: str) -> list[date]:
    entries = load_batch(store, batch).entries
    return [each.at.astimezone().date() for each in entries if each.kind is EntryKind.LOOK]


def _ends(bottle: Bottle, life: ShelfLife | None) -> tuple[date | None, date | None]:
    """The day until which it is promised, and the one on which half of such bottles have turned."""
    if life is None or life.months is None:
        return None, None
    if life.turned:
        return bottle.made_on, bottle.made_on
    typical = bottle.made_on + timedelta(days=int(life.typical * DAYS_A_MONTH)) if life.typical else None
    return months_later(bottle.made_on, life.months), typical


def stamp(store: Session) -> str:
    """By which model and by what was learnt of other bottles something is worked out."""
    return f"{__version__}:{learnt_stamp(store)}"


def refresh(store: Session, facts: Catalogue, bottles: Iterable[Bottle]) -> None:
    """Work out afresh how bottles fare, those that stand alike once."""
    for alike in _alike(bottles):
        keep_worked(store, alike, work_out(store, fare(store, facts, alike[0])))


def refresh_meanwhile(store: Session, facts: Catalogue, bottles: Sequence[Bottle]) -> bool:
    """Work out afresh while somebody only looks; where another writes just now it is left for the next look."""
    try:
        with store.begin_nested():
            refresh(store, facts, bottles)
    except OperationalError:
        return False
    return True


def _alike(bottles: Iterable[Bottle]) -> list[list[Bottle]]:
    """Bottles that share everything their keeping follows from."""
    groups: dict[object, list[Bottle]] = {}
    for each in bottles:
        told = tuple((note.on, note.kind, str(note.detail)) for note in each.events)
        own = bool(len(each.events) > 1)
        groups.setdefault((each.batch or each.number, told, each.state, own and each.number), []).append(each)
    return list(groups.values())


def fill_bottles(store: Session, facts: Catalogue, batch: str) -> None:
    """Make a bottle of every container that a batch was filled into, and say how long each keeps."""
    record = load_batch(store, batch)
    add_bottles(
        store,
        (
            Bottle(
                number=f"{batch}-{fill.detail['number']}",
                blend_id=record.blend_id,
                version=record.version,
                filled_on=record.made_on,
                batch=batch,
                place_in_batch=int(fill.detail["number"]),
                size_ml=float(fill.detail.get("size_ml") or 0.0),
                fill_g=fill.mg / 1000,
            )
            for fill in record.fills
        ),
    )
    refresh(store, facts, bottles_of_batch(store, batch))


def own_bottle(store: Session, facts: Catalogue, blend_id: int, version: int, day: date, size_ml: float) -> str:
    """Make a bottle of a version that was made without a batch; return its number."""
    load_version(store, blend_id, version)
    number = own_number(store, day)
    add_bottles(store, [Bottle(number, blend_id, version, day, size_ml=size_ml)])
    refresh(store, facts, [load_bottle(store, number)])
    return number


def bring_notes(store: Session, facts: Catalogue, blend_id: int, notes: Sequence[BottleNote]) -> None:
    """Note what a recipe's file says of the bottle that was made of it; brought in again, nothing stands twice."""
    made = [each.on for each in notes if each.kind == "made"]
    day = made[-1] if made else min(each.on for each in notes)
    known = [each for each in bottles_of_blend(store, blend_id) if not each.batch and each.made_on == day]
    number = (
        known[0].number
        if known
        else own_bottle(store, facts, blend_id, load_blend(store, blend_id).newest.number, day, 0.0)
    )
    there = {(each.on, each.kind) for each in load_bottle(store, number).notes}
    for each in notes:
        if (each.on, each.kind) not in there:
            add_note(store, number, each)
    _follow(store, facts, number)


def note(store: Session, facts: Catalogue, number: str, noted: BottleNote) -> None:
    """Write what befell a bottle, and let it count at once for it, its siblings and where it stands.

    Raises:
        NotFoundError: there is no such bottle.
        UptideError: what cannot have been.
    """
    bottle = load_bottle(store, number)
    problem = note_problem(noted, bottle, today())
    if problem:
        raise UptideError(problem)
    add_note(store, number, noted)
    _follow(store, facts, number)


def note_many(store: Session, facts: Catalogue, bottles: Sequence[Bottle], noted: BottleNote) -> None:
    """Write the same of several bottles of a batch, as when they go to somebody.

    Raises:
        UptideError: what cannot have been.
    """
    for bottle in bottles:
        problem = note_problem(noted, bottle, today())
        if problem:
            raise UptideError(problem)
        add_note(store, bottle.number, noted)
    refresh(store, facts, [load_bottle(store, bottle.number) for bottle in bottles])


def strike(store: Session, facts: Catalogue, number: str, note_id: int, why: str) -> None:
    """Let a note count no more, for a reason.

    Raises:
        NotFoundError: there is no such note.
        UptideError: no reason.
    """
    if not why.strip():
        raise UptideError("Say why it is struck: who reads it later wants to know.")
    strike_note(store, number, note_id, why.strip())
    _follow(store, facts, number)


def _follow(store: Session, facts: Catalogue, number: str) -> None:
    """Keep what a bottle's readings teach of the person's storage, and work out it and its siblings afresh."""
    fared = fare(store, facts, load_bottle(store, number))
    life = fared.assessment.shelf_life
    shift = None
    if life is not None and life.posterior is not None and life.mixture is not None:
        shift = life.posterior.carried_over
    keep_learnt(store, bottle_id(store, number), shift)
    refresh(store, facts, (fared.bottle, *fared.siblings))
