"""The ledger in the database: only ever added to, and what was sent twice stands in it once."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from uptide.core.errors import UptideError
from uptide.core.ledger.movement import Movement, MovementKind, check_left, taken
from uptide.store.models import LotRow, MovementRow
from uptide.store.records import NotFoundError

ELSEWHERE = ("batch-",)  # what the token of a movement begins with that belongs to something else


@dataclass(frozen=True, slots=True)
class MovementEntry:
    """A movement as it stands in the ledger; `taken_back` is whether a later one undoes it."""

    id: int
    movement: Movement
    on: date
    by: str
    reverses: int | None
    taken_back: bool = False
    elsewhere: bool = False  # it is a pour of a batch, and is taken back there


def add_movement(
    session: Session,
    lot_id: int,
    movement: Movement,
    *,
    on: date | None = None,
    by: str = "",
    token: str = "",
    reverses: int | None = None,
) -> int:
    """Add a movement of a lot; return its number, or that of the one that was sent under this token before.

    Raises:
        QuantityError: more is taken than is left.
        UptideError: the token of another movement, or one that was taken back already.
    """
    known = session.scalar(select(MovementRow).where(MovementRow.token == token)) if token else None
    if known is not None:
        if (known.lot_id, known.kind, known.mg) != (lot_id, movement.kind.value, movement.mg):
            raise UptideError("This was sent before with another amount: load the page again.")
        return known.id
    if reverses is not None and session.scalar(select(MovementRow.id).where(MovementRow.reverses == reverses)):
        raise UptideError("It was taken back already.")
    check_left(left_mg(session, lot_id), movement)
    row = MovementRow(
        lot_id=lot_id,
        kind=movement.kind.value,
        mg=movement.mg,
        happened_on=on or datetime.now(UTC).astimezone().date(),
        entered_at=datetime.now(UTC),
        entered_by=by,
        reason=movement.reason,
        reverses=reverses,
        token=token or secrets.token_urlsafe(16),
    )
    session.add(row)
    session.flush()
    return row.id


def take(session: Session, code: str, mg: int, reason: str, *, token: str = "") -> None:
    """Take so much out of a lot [mg]: what was taken beyond what the ledger had was found in the container."""
    number = lot_number(session, code)
    for movement in taken(left_mg(session, number), mg, reason):
        add_movement(session, number, movement, token=f"{token}-{movement.kind.value}" if token else "")


def take_back(session: Session, code: str, movement_id: int, *, by_hand: bool = False, by: str = "") -> None:
    """Take a movement of a lot back, by another that is its opposite; once.

    What a pour of a batch took is not taken back by hand: batch and ledger would no longer say the same.

    Raises:
        NotFoundError: the lot has no such movement.
        UptideError: it was taken back already, or is itself what takes one back.
    """
    row = session.get(MovementRow, movement_id)
    if row is None or row.lot_id != lot_number(session, code):
        raise NotFoundError(f"Lot {code} has no movement {movement_id}.")
    if row.reverses is not None:
        raise UptideError("What takes something back is not taken back; enter it anew.")
    if by_hand and row.token.startswith(ELSEWHERE):
        raise UptideError(f"This is “{row.reason}”: take it back there, and the ledger follows.")
    add_movement(session, row.lot_id, _movement(row).undone, by=by, reverses=row.id)


def movement_under(session: Session, token: str) -> int | None:
    """The number of the movement that was sent under a token; None for none."""
    return session.scalar(select(MovementRow.id).where(MovementRow.token == token))


def lot_number(session: Session, code: str) -> int:
    """The number of a lot, by its code; raise NotFoundError if there is none."""
    found = session.scalar(select(LotRow.id).where(LotRow.code == code))
    if found is None:
        raise NotFoundError(f"There is no lot “{code}” on the shelf.")
    return found


def left_mg(session: Session, lot_id: int) -> int:
    """What is left of a lot [mg]."""
    return session.scalar(select(func.coalesce(func.sum(MovementRow.mg), 0)).where(MovementRow.lot_id == lot_id)) or 0


def every_left_mg(session: Session) -> dict[int, int]:
    """What is left of each lot [mg], by its number."""
    rows = session.execute(
        select(MovementRow.lot_id, func.sum(MovementRow.mg).label("mg")).group_by(MovementRow.lot_id)
    )
    return {row.lot_id: row.mg for row in rows}


def movements_of(session: Session, code: str) -> tuple[MovementEntry, ...]:
    """Everything that moved in and out of a lot, the newest on top."""
    query = select(MovementRow).where(MovementRow.lot_id == lot_number(session, code)).order_by(MovementRow.id.desc())
    rows: Sequence[MovementRow] = session.scalars(query).all()
    gone = {row.reverses for row in rows}
    return tuple(
        MovementEntry(
            row.id,
            _movement(row),
            on=row.happened_on,
            by=row.entered_by,
            reverses=row.reverses,
            taken_back=row.id in gone,
            elsewhere=row.token.startswith(ELSEWHERE),
        )
        for row in rows
    )


def _movement(row: MovementRow) -> Movement:
    return Movement(MovementKind(row.kind), row.mg, row.reason)
