"""Batches in the database: planned, held by one bench, and added to entry by entry."""

from __future__ import annotations

import secrets
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from uptide.core.making.batch_record import (
    BatchEntry,
    BatchRecord,
    EntryKind,
    StaleError,
    State,
    batch_number,
)
from uptide.core.making.stored_plan import plan_as_read
from uptide.store.blends import load_version
from uptide.store.ledger import lot_number
from uptide.store.models import BatchEntryRow, BatchRow, BlendRow, LotRow
from uptide.store.records import NotFoundError

HELD_FOR = timedelta(seconds=15)  # without a sign of life: then another bench may pour


@dataclass(frozen=True, slots=True)
class BatchHeader:
    """A batch as a line of a list."""

    number: str
    blend_id: int
    version: int
    name: str
    made_on: date
    state: State


def plan_batch(
    session: Session, blend_id: int, version: int, plan: Mapping[str, Any], *, made_on: date, made_by: str = ""
) -> str:
    """Freeze a plan as a batch; return its number. Raise NotFoundError where there is no such version."""
    load_version(session, blend_id, version)
    day = f"{made_on:%Y%m%d}"
    numbers = session.scalars(select(BatchRow.number).where(BatchRow.number.startswith(f"{day}-"))).all()
    row = BatchRow(
        number=batch_number(day, numbers),
        blend_id=blend_id,
        blend_version=version,
        planned_at=datetime.now(UTC),
        made_on=made_on,
        made_by=made_by,
        plan=dict(plan),
        state=State.WEIGHING.value,
    )
    session.add(row)
    session.flush()
    return row.number


def set_parts(session: Session, number: str, parts: Sequence[str]) -> None:
    """Say which batches a base is for, once they have their numbers."""
    row = _row(session, number)
    row.plan = {**row.plan, "parts": list(parts)}
    session.flush()


def load_batch(session: Session, number: str) -> BatchRecord:
    """A batch with all that happened to it; raise NotFoundError if there is none."""
    row = _row(session, number)
    query = (
        select(BatchEntryRow, LotRow.code)
        .outerjoin(LotRow, LotRow.id == BatchEntryRow.lot_id)
        .where(BatchEntryRow.batch_id == row.id)
        .order_by(BatchEntryRow.seq)
    )
    entries = tuple(_entry(entry, code or "") for entry, code in session.execute(query))
    poured = ((each.position or 0, each.key, each.mg) for each in entries if each.kind is EntryKind.POUR)
    return BatchRecord(
        number=row.number,
        blend_id=row.blend_id,
        version=row.blend_version,
        made_on=row.made_on,
        made_by=row.made_by,
        planned_at=row.planned_at,
        plan=plan_as_read(row.plan, poured),
        entries=entries,
        holder=row.holder,
        held_at=row.held_at,
    )


def _state(stored: str) -> State:
    """A state as it is stored beside the entries; what is none counts as being under way."""
    return State(stored) if stored in set(State) else State.WEIGHING


def _entry(row: BatchEntryRow, code: str) -> BatchEntry:
    return BatchEntry(
        seq=row.seq,
        kind=EntryKind(row.kind),
        at=row.happened_at,
        by=row.entered_by,
        position=row.position,
        key=row.ingredient,
        code=code,
        mg=row.mg or 0,
        detail=row.detail,
    )


def list_batches(session: Session, limit: int = 100, state: State | None = None) -> tuple[BatchHeader, ...]:
    """The newest batches, in one state or in any."""
    query = select(BatchRow, BlendRow.name).join(BlendRow, BlendRow.id == BatchRow.blend_id)
    if state is not None:
        query = query.where(BatchRow.state == state.value)
    rows = session.execute(query.order_by(BatchRow.id.desc()).limit(limit))
    return tuple(
        BatchHeader(
            row.number,
            row.blend_id,
            version=row.blend_version,
            name=_called(name, row.plan),
            made_on=row.made_on,
            state=_state(row.state),
        )
        for row, name in rows
    )


def _called(name: str, plan: object) -> str:
    """The name of a blend with the scent of a batch, where its pot has several."""
    scent = plan.get("scent") if isinstance(plan, Mapping) else ""
    return f"{name}, {scent}" if scent else name


def add_entry(
    session: Session,
    number: str,
    kind: EntryKind,
    *,
    expected: int,
    token: str = "",
    by: str = "",
    position: int | None = None,
    key: str = "",
    code: str = "",
    mg: int | None = None,
    detail: Mapping[str, Any] | None = None,
) -> int | None:
    """Add what happened to a batch; return its number, or None where this was sent before under the same token.

    Args:
        session: of the workshop.
        number: of the batch.
        kind: what happened.
        expected: number of the last entry that whoever adds this has seen.
        token: of the form that says it.
        by: who says it.
        position: of the line.
        key: of the ingredient.
        code: of the lot.
        mg: how much.
        detail: all else, as plain JSON.

    Raises:
        NotFoundError: there is no such batch or lot.
        StaleError: something happened since.
        ClosedError: it has ended, or is a base that is on the shelf.
    """
    if token and session.scalar(select(BatchEntryRow.id).where(BatchEntryRow.token == token)):
        return None
    row = _row(session, number)
    record = load_batch(session, number)
    record.check_may_add(kind)
    if expected != record.seq and kind is not EntryKind.REMARK:
        raise StaleError("Something was written since this page was drawn: it shows the batch as it stands now.")
    seq = record.seq + 1
    session.add(
        BatchEntryRow(
            batch_id=row.id,
            seq=seq,
            kind=kind.value,
            position=position,
            ingredient=key,
            lot_id=lot_number(session, code) if code else None,
            mg=mg,
            detail=dict(detail or {}),
            happened_at=datetime.now(UTC),
            entered_by=by,
            token=token or secrets.token_urlsafe(16),
        )
    )
    session.flush()
    row.state = load_batch(session, number).state.value
    session.flush()
    return seq


def hold(session: Session, number: str, holder: str, *, take_over: bool = False) -> bool:
    """Hold the bench of a batch, or say that it is still held; False where another holds it and nobody takes over."""
    row, now = _row(session, number), datetime.now(UTC)
    is_free = not row.holder or row.holder == holder or row.held_at is None or now - row.held_at > HELD_FOR
    if not is_free and not take_over:
        return False
    row.holder, row.held_at = holder, now
    session.flush()
    return True


def _row(session: Session, number: str) -> BatchRow:
    row = session.scalar(select(BatchRow).where(BatchRow.number == number))
    if row is None:
        raise NotFoundError(f"There is no batch {number}.")
    return row
