"""The board in the database: bottles that stand alike together, read along the indexes of when they end."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, TypeVar

from sqlalchemy import ColumnElement, Row, Select, and_, func, or_, select, text
from sqlalchemy.orm import Session

from uptide.core.keeping.bottle import Bottle, State
from uptide.store.bottles import bottles_by
from uptide.store.models import BatchRow, BlendRow, BottleRow

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
# In the order in which they end, those that stand alike together: each part of it follows an index.
BY_END = select(*ALIKE, BottleRow.number).order_by(
    BottleRow.ends_on, BottleRow.batch_id, BottleRow.place, BottleRow.holder, BottleRow.opened_on, BottleRow.id
)


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


def board(session: Session, wanted: Wanted, limit: int) -> tuple[BottleGroup, ...]:
    """Bottles that are not gone, those that stand alike together, what is off and then what ends first on top.

    They are read in the order in which they end until there are enough lines: those that stand alike end alike.
    """
    lines: dict[tuple[Any, ...], tuple[str, int]] = {}
    for row in _by_end(session, _wanted(BY_END, wanted)):
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
    """Bottles of a question, those that are off before those that stand, and last of each those that never end."""
    for state in (State.OFF, State.STANDS):
        for is_known in (BottleRow.ends_on.is_not(None), BottleRow.ends_on.is_(None)):
            part = query.where(BottleRow.state == state.value, is_known)
            with session.execute(part.execution_options(yield_per=AT_ONCE)) as rows:
                yield from rows


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
    return bottles_by(session, query)


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


def chunks(some: Sequence[T]) -> Iterator[list[T]]:
    """So many at a time: SQLite takes a limited count of them in one question."""
    return (list(some[start : start + CHUNK]) for start in range(0, len(some), CHUNK))
