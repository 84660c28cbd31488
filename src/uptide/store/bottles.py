"""Bottles in the database: each with what befell it, and a list of all of them that is one look."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Any, TypeVar

from sqlalchemy import ColumnElement, Row, Select, and_, func, or_, select, text, update
from sqlalchemy.orm import Session

from uptide.core.keeping.bottle import Bottle, BottleNote, Noted, State
from uptide.store.models import BatchRow, BlendRow, BottleNoteRow, BottleRow
from uptide.store.records import NotFoundError

T = TypeVar("T")
CHUNK = 500  # numbers in one question
AT_ONCE = 120  # rows of a board: a line is a few of them, and a page some dozens of lines
# What bottles that stand alike have in common.
ALIKE = (
    BottleRow.batch_id,
    BottleRow.blend_id,
    BottleRow.size_ml,
    BottleRow.place,
    BottleRow.made_on,
    BottleRow.opened_on,
    BottleRow.holder_id,
    BottleRow.holder,
    BottleRow.state,
    BottleRow.ends_on,
    BottleRow.turns_on,
    BottleRow.limited_by,
    BottleRow.look_on,
    BottleRow.look,
    BottleRow.worked_by,
)
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


@dataclass(frozen=True, slots=True)
class BottleGroup:
    """Bottles of one batch, or one without, that stand alike: a line of the board."""

    number: str  # of the first of them
    batch: str
    name: str
    blend_id: int
    count: int
    size_ml: float
    place: str
    made_on: date
    opened_on: date | None
    holder_id: int | None
    holder: str
    state: str
    ends_on: date | None
    turns_on: date | None
    limited_by: str
    look_on: date | None
    look: str
    worked_by: str


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which bottles a board shows; nothing said is all that are not gone."""

    place: str = ""
    holder: str = ""
    ends_before: date | None = None
    ends_from: date | None = None
    opened: bool = False
    look_by: date | None = None
    blend_id: int | None = None
    unknown: bool = False  # those alone of which nobody knows when they end


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
    return _bottles(session, select(BottleRow).where(BottleRow.id == _row(session, number).id))[0]


def bottles_of_batch(session: Session, batch: str) -> tuple[Bottle, ...]:
    """The bottles of a batch, in their order."""
    query = select(BottleRow).where(BottleRow.batch_id == _batch_id(session, batch))
    return _bottles(session, query.order_by(BottleRow.place_in_batch))


def bottles_of_blend(session: Session, blend_id: int) -> tuple[Bottle, ...]:
    """The bottles of a blend, as they came."""
    return _bottles(session, select(BottleRow).where(BottleRow.blend_id == blend_id).order_by(BottleRow.id))


def bottles_of_person(session: Session, wearer: int) -> tuple[Bottle, ...]:
    """What somebody has, the first to end on top."""
    query = select(BottleRow).where(BottleRow.holder_id == wearer, BottleRow.state != State.GONE.value)
    return _bottles(session, query.order_by(BottleRow.ends_on.is_(None), BottleRow.ends_on))


def worked_of(session: Session, number: str) -> Worked:
    """What was worked out of a bottle."""
    row = _row(session, number)
    return Worked(row.place, row.ends_on, row.turns_on, row.limited_by, row.look_on, row.look, row.worked_by)


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


def board(session: Session, wanted: Wanted, limit: int) -> tuple[BottleGroup, ...]:
    """Bottles that are not gone, those that stand alike together, what is off and then what ends first on top.

    They are read in the order in which they end until there are enough lines: those that stand alike end alike.
    """
    lines: dict[tuple[Any, ...], tuple[str, int]] = {}
    for row in _by_end(session, _wanted(select(*ALIKE, BottleRow.number), wanted)):
        key = tuple(row[: len(ALIKE)])
        number, count = lines.get(key, (row.number, 0))
        if key not in lines and len(lines) == limit:
            break
        lines[key] = (number, count + 1)
    names = _names(session, {key[1] for key in lines}, BlendRow.id, BlendRow.name)
    batches = _names(session, {key[0] for key in lines if key[0] is not None}, BatchRow.id, BatchRow.number)
    fields = [column.key for column in ALIKE]
    found = []
    for key, (number, count) in lines.items():
        said = dict(zip(fields, key, strict=True))
        batch = batches.get(said.pop("batch_id"), "")
        found.append(BottleGroup(number=number, batch=batch, name=names[said["blend_id"]], count=count, **said))
    return tuple(found)


def _by_end(session: Session, query: Select[*tuple[Any, ...]]) -> Iterator[Row[Any]]:
    """Bottles in the order in which they end, those that stand alike together; each part follows an index."""
    order = (
        BottleRow.ends_on,
        BottleRow.batch_id,
        BottleRow.place,
        BottleRow.holder,
        BottleRow.opened_on,
        BottleRow.id,
    )
    for state in (State.OFF, State.STANDS):
        for is_known in (BottleRow.ends_on.is_not(None), BottleRow.ends_on.is_(None)):
            part = query.where(BottleRow.state == state.value, is_known).order_by(*order)
            yield from session.execute(part.execution_options(yield_per=AT_ONCE))


def _names(session: Session, ids: set[int], key: Any, name: Any) -> dict[int | None, str]:
    found: dict[int | None, str] = {}
    for part in chunks(sorted(ids)):
        found |= {row[0]: row[1] for row in session.execute(select(key, name).where(key.in_(part)))}
    return found


def count_bottles(session: Session, wanted: Wanted) -> int:
    """How many bottles a board would show."""
    return session.scalar(_wanted(select(func.count()), wanted)) or 0


def ends_of_bottles(session: Session, wanted: Wanted) -> list[tuple[bool, date | None, int]]:
    """How many bottles are off, or end on which day; beside None those of which nobody knows."""
    query = _wanted(select(BottleRow.state, BottleRow.ends_on, func.count()), wanted)
    found = session.execute(query.group_by(BottleRow.state, BottleRow.ends_on)).all()
    return [(row[0] == State.OFF.value, row[1], row[2]) for row in found]


def alike(session: Session, group: BottleGroup) -> tuple[Bottle, ...]:
    """The bottles of a line of the board."""
    batch = select(BottleRow.batch_id).where(BottleRow.number == group.number).scalar_subquery()
    query = select(BottleRow).where(
        BottleRow.batch_id == batch if group.batch else BottleRow.number == group.number,
        BottleRow.place == group.place,
        BottleRow.opened_on.is_(group.opened_on) if group.opened_on is None else BottleRow.opened_on == group.opened_on,
        BottleRow.holder == group.holder,
        BottleRow.state == group.state,
    )
    return _bottles(session, query)


def places_and_holders(session: Session) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Where bottles stand or stood, and who has or had some."""
    return _different(session, "place"), _different(session, "holder")


def _different(session: Session, column: str) -> tuple[str, ...]:
    """What stands in a column, each once: from one to the next along its index, however many rows there are."""
    steps = text(
        f"WITH RECURSIVE each(said) AS (SELECT min({column}) FROM bottle UNION ALL "  # noqa: S608 - names of this file
        f"SELECT (SELECT min({column}) FROM bottle WHERE {column} > each.said) FROM each WHERE each.said IS NOT NULL) "
        "SELECT said FROM each WHERE said IS NOT NULL AND said <> ''"
    )
    return tuple(session.scalars(steps))


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
            BottleNoteRow.kind == "wish for the next",
            BottleNoteRow.struck_at.is_(None),
            BottleNoteRow.entered_at > since,
        )
        .order_by(BottleNoteRow.id)
    )
    return tuple(_note(row) for row in session.scalars(query))


def ended_bottles(session: Session) -> tuple[Row[Any], ...]:
    """Every bottle that was found off or used up: number, name, and the days it was made, should end, and ended on."""
    query = (
        select(
            BottleRow.number,
            BlendRow.name,
            BottleRow.state,
            BottleRow.made_on,
            BottleRow.ends_on,
            BottleRow.turns_on,
            BottleRow.ended_on,
        )
        .join(BlendRow, BlendRow.id == BottleRow.blend_id)
        .where(BottleRow.ended_on.is_not(None))
        .order_by(BottleRow.ended_on)
    )
    return tuple(session.execute(query))


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


def _wanted(query: Select[*tuple[Any, ...]], wanted: Wanted) -> Select[*tuple[Any, ...]]:
    asked = (
        (bool(wanted.place), BottleRow.place == wanted.place),
        (bool(wanted.holder), BottleRow.holder == wanted.holder),
        (wanted.opened, BottleRow.opened_on.is_not(None)),
        (wanted.look_by is not None, BottleRow.look_on <= (wanted.look_by or date.max)),
        (wanted.look_by is not None, BottleRow.holder == ""),  # what somebody else has nobody looks at here
        (wanted.blend_id is not None, BottleRow.blend_id == wanted.blend_id),
        *_ends(wanted),
    )
    # What is off or gone asks for no look: without its state, the index of looks is the way.
    is_there = () if wanted.look_by is not None else (BottleRow.state.in_((State.OFF.value, State.STANDS.value)),)
    return query.where(*is_there, *(condition for is_asked, condition in asked if is_asked))


def _ends(wanted: Wanted) -> tuple[tuple[bool, ColumnElement[bool]], ...]:
    """When it should end; what is off has ended, whatever was foreseen."""
    stands = BottleRow.state == State.STANDS.value
    first, after = wanted.ends_from, wanted.ends_before
    before = BottleRow.ends_on < (after or date.max)
    return (
        (wanted.unknown, and_(stands, BottleRow.ends_on.is_(None))),
        (first is not None, and_(stands, BottleRow.ends_on >= (first or date.min))),
        (after is not None, before if first is not None else or_(before, BottleRow.state == State.OFF.value)),
    )


def _bottles(session: Session, query: Select[BottleRow]) -> tuple[Bottle, ...]:
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
    return BottleNote(row.id, row.happened_on, row.kind, detail, row.wearer_id, row.whom, struck)


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


def chunks(some: Sequence[T]) -> Iterator[list[T]]:
    """So many at a time: SQLite takes a limited count of them in one question."""
    return (list(some[start : start + CHUNK]) for start in range(0, len(some), CHUNK))
