"""Bottles in the database: each with what befell it, and a list of all of them that is one look."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import Select, select, update
from sqlalchemy.orm import Session

from uptide.core.keeping.bottle import Bottle, BottleNote, Noted, State
from uptide.store.models import BatchRow, BlendRow, BottleNoteRow, BottleRow
from uptide.store.records import NotFoundError

NO_BATCH = "0"  # stands for the batch in the number of a bottle that was made without one
MG = 1000.0


@dataclass(frozen=True, slots=True)
class Worked:
    """What follows from a bottle and its notes, as it is kept beside them for the board."""

    place: str = ""
    ends_on: date | None = None
    turns_on: date | None = None
    limited_by: str = ""
    look_on: date | None = None
    look: str = ""
    by: str = ""


def add_bottles(session: Session, bottles: Iterable[Bottle]) -> None:
    """Put new bottles into the database; one that is there already, by its number, is filled afresh."""
    for bottle in bottles:
        row = session.scalar(select(BottleRow).where(BottleRow.number == bottle.number))
        fill = None if bottle.fill_g is None else round(MG * bottle.fill_g)
        if row is not None:
            row.size_ml, row.fill_mg = bottle.size_ml, fill
            continue
        session.add(
            BottleRow(
                number=bottle.number,
                batch_id=_batch_id(session, bottle.batch) if bottle.batch else None,
                place_in_batch=bottle.place_in_batch,
                blend_id=bottle.blend_id,
                blend_version=bottle.version,
                size_ml=bottle.size_ml,
                fill_mg=fill,
                filled_on=bottle.filled_on,
                made_on=bottle.filled_on,
            )
        )
    session.flush()


def own_number(session: Session, day: date) -> str:
    """The next number of a bottle that was made on a day without a batch."""
    start = f"{day:%Y%m%d}-{NO_BATCH}-"
    taken = session.scalars(select(BottleRow.number).where(BottleRow.number.startswith(start))).all()
    return f"{start}{max((int(each.rpartition('-')[2]) for each in taken), default=0) + 1}"


def load_bottle(session: Session, number: str) -> Bottle:
    """A bottle with all that befell it; raise NotFoundError if there is none."""
    return bottles_by(session, select(BottleRow).where(BottleRow.id == _row(session, number).id))[0]


def bottles_of_batch(session: Session, batch: str) -> tuple[Bottle, ...]:
    """The bottles of a batch, in their order."""
    query = select(BottleRow).where(BottleRow.batch_id == _batch_id(session, batch))
    return bottles_by(session, query.order_by(BottleRow.place_in_batch))


def bottles_of_blend(session: Session, blend_id: int) -> tuple[Bottle, ...]:
    """The bottles of a blend, as they came."""
    return bottles_by(session, select(BottleRow).where(BottleRow.blend_id == blend_id).order_by(BottleRow.id))


def never_worked_out(session: Session) -> tuple[Bottle, ...]:
    """Bottles of which nobody has worked out how long they keep, as those that an older program left."""
    query = select(BottleRow).where(
        BottleRow.state == State.STANDS.value, BottleRow.ends_on.is_(None), BottleRow.worked_by == ""
    )
    return bottles_by(session, query)


def bottles_of_person(session: Session, wearer: int) -> tuple[Bottle, ...]:
    """What somebody has, the first to end on top."""
    query = select(BottleRow).where(BottleRow.holder_id == wearer, BottleRow.state != State.GONE.value)
    return bottles_by(session, query.order_by(BottleRow.ends_on.is_(None), BottleRow.ends_on))


def bottles_that_name(session: Session, wearer: int) -> tuple[Bottle, ...]:
    """Every bottle of which anything was noted about somebody, as that it was given to them, as they came."""
    noted = select(BottleNoteRow.bottle_id).where(BottleNoteRow.wearer_id == wearer)
    return bottles_by(session, select(BottleRow).where(BottleRow.id.in_(noted)).order_by(BottleRow.id))


def worked_of(session: Session, number: str) -> Worked:
    """What was worked out of a bottle."""
    row = _row(session, number)
    return Worked(
        row.place,
        row.ends_on,
        turns_on=row.turns_on,
        limited_by=row.limited_by,
        look_on=row.look_on,
        look=row.look,
        by=row.worked_by,
    )


def bottle_id(session: Session, number: str) -> int:
    """The number under which what a bottle taught is kept."""
    return _row(session, number).id


def add_note(session: Session, number: str, note: BottleNote) -> None:
    """Write what befell a bottle; raise NotFoundError if there is none."""
    session.add(
        BottleNoteRow(
            bottle_id=_row(session, number).id,
            happened_on=note.on,
            kind=note.kind,
            detail=dict(note.detail),
            wearer_id=note.wearer,
            whom=note.whom,
            entered_at=datetime.now(UTC),
        )
    )
    session.flush()


def strike_note(session: Session, number: str, note_id: int, why: str) -> None:
    """Let a note count no more, for a reason; it stays to be read. Raise NotFoundError if there is none."""
    row = session.get(BottleNoteRow, note_id)
    if row is None or row.bottle_id != _row(session, number).id or row.struck_at is not None:
        raise NotFoundError(f"Bottle {number} has no note {note_id} that could be struck.")
    row.struck_at, row.struck_why = datetime.now(UTC), why
    session.flush()


def keep_worked(session: Session, bottles: Sequence[Bottle], worked: Worked) -> None:
    """Keep what was worked out of bottles that stand alike, with what their notes say of each."""
    for bottle in bottles:
        handed = bottle.handed
        session.execute(
            update(BottleRow)
            .where(BottleRow.number == bottle.number)
            .values(
                place=bottle.place or worked.place,
                opened_on=bottle.opened_on,
                holder_id=handed.wearer if handed is not None else None,
                holder=handed.whom if handed is not None else "",
                state=bottle.state.value,
                made_on=bottle.made_on,
                ended_on=bottle.ended_on,
                ends_on=worked.ends_on,
                turns_on=worked.turns_on,
                limited_by=worked.limited_by,
                look_on=worked.look_on if bottle.state is State.STANDS else None,
                look=worked.look,
                worked_by=worked.by,
            )
        )
    session.flush()


def forget_person(session: Session, wearer: int) -> None:
    """Take a deleted person's name out of all bottles; that somebody has them stays."""
    gone = {"wearer_id": None, "whom": "somebody"}
    session.execute(update(BottleNoteRow).where(BottleNoteRow.wearer_id == wearer).values(**gone))
    somebody = {"holder_id": None, "holder": "somebody"}
    session.execute(update(BottleRow).where(BottleRow.holder_id == wearer).values(**somebody))


def wishes_of_blend(session: Session, blend_id: int, since: datetime) -> tuple[BottleNote, ...]:
    """What was wished for the next version of a blend, since a moment."""
    query = (
        select(BottleNoteRow)
        .join(BottleRow, BottleRow.id == BottleNoteRow.bottle_id)
        .where(
            BottleRow.blend_id == blend_id,
            BottleNoteRow.kind == Noted.WISH.value,
            BottleNoteRow.struck_at.is_(None),
            BottleNoteRow.entered_at > since,
        )
        .order_by(BottleNoteRow.id)
    )
    return tuple(_note(row) for row in session.scalars(query))


def ended_bottles(session: Session) -> tuple[tuple[Any, bool], ...]:
    """Every bottle that ended, each with whether it smelled off, also where it was thrown out since.

    A row has its number and name, and the days it was made, should end, typically turns, and ended.
    """
    query = (
        select(
            BottleRow.id,
            BottleRow.number,
            BlendRow.name,
            BottleRow.made_on,
            BottleRow.ends_on,
            BottleRow.turns_on,
            BottleRow.ended_on,
        )
        .join(BlendRow, BlendRow.id == BottleRow.blend_id)
        .where(BottleRow.ended_on.is_not(None))
        .order_by(BottleRow.ended_on)
    )
    smelled = select(BottleNoteRow.bottle_id, BottleNoteRow.detail).where(
        BottleNoteRow.kind == "smell", BottleNoteRow.struck_at.is_(None)
    )
    off = {bottle for bottle, detail in session.execute(smelled) if isinstance(detail, dict) and detail.get("off")}
    return tuple((row, row.id in off) for row in session.execute(query))


def discarded_bottles(session: Session, since: date) -> tuple[tuple[str, str, date, str], ...]:
    """Every bottle that was thrown out since a day: its number and name, when, and why."""
    query = (
        select(BottleRow.number, BlendRow.name, BottleNoteRow.happened_on, BottleNoteRow.detail)
        .join(BottleRow, BottleRow.id == BottleNoteRow.bottle_id)
        .join(BlendRow, BlendRow.id == BottleRow.blend_id)
        .where(
            BottleNoteRow.kind == Noted.DISCARDED.value,
            BottleNoteRow.struck_at.is_(None),
            BottleNoteRow.happened_on >= since,
        )
        .order_by(BottleNoteRow.happened_on.desc())
    )
    return tuple(
        (number, name, on, str(detail.get("words", "")) if isinstance(detail, dict) else "")
        for number, name, on, detail in session.execute(query)
    )


def bottles_by(session: Session, query: Select[BottleRow]) -> tuple[Bottle, ...]:
    """The bottles of a query, each with its notes."""
    rows = session.scalars(query).all()
    notes: dict[int, list[BottleNote]] = {row.id: [] for row in rows}
    if rows:
        found = select(BottleNoteRow).where(BottleNoteRow.bottle_id.in_(list(notes))).order_by(BottleNoteRow.id)
        for note in session.scalars(found):
            notes[note.bottle_id].append(_note(note))
    batches = {row.batch_id for row in rows if row.batch_id is not None}
    named = session.execute(select(BatchRow.id, BatchRow.number).where(BatchRow.id.in_(batches)))
    numbers = {row.id: row.number for row in named}
    return tuple(
        Bottle(
            number=row.number,
            blend_id=row.blend_id,
            version=row.blend_version,
            filled_on=row.filled_on,
            batch=numbers.get(row.batch_id or 0, ""),
            place_in_batch=row.place_in_batch,
            size_ml=row.size_ml,
            fill_g=None if row.fill_mg is None else row.fill_mg / MG,
            notes=tuple(notes[row.id]),
        )
        for row in rows
    )


def _note(row: BottleNoteRow) -> BottleNote:
    detail = row.detail if isinstance(row.detail, dict) else {}
    struck = row.struck_why if row.struck_at is not None else None
    return BottleNote(
        row.id, row.happened_on, kind=row.kind, detail=detail, wearer=row.wearer_id, whom=row.whom, struck=struck
    )


def _row(session: Session, number: str) -> BottleRow:
    row = session.scalar(select(BottleRow).where(BottleRow.number == number))
    if row is None:
        raise NotFoundError(f"There is no bottle {number}.")
    return row


def _batch_id(session: Session, number: str) -> int:
    found = session.scalar(select(BatchRow.id).where(BatchRow.number == number))
    if found is None:
        raise NotFoundError(f"There is no batch {number}.")
    return found
