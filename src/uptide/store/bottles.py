"""What befell the bottle of a blend, in and out of the database."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from uptide.store.blends import load_blend
from uptide.store.models import BottleEventRow
from uptide.store.records import BottleEvent, NotFoundError


def add_event(session: Session, blend_id: int, happened_on: date, kind: str, detail: dict[str, Any]) -> None:
    """Note an event; raise NotFoundError if there is no such blend."""
    load_blend(session, blend_id)
    session.add(BottleEventRow(blend_id=blend_id, happened_on=happened_on, kind=kind, detail=detail))
    session.flush()


def remove_event(session: Session, blend_id: int, event_id: int) -> None:
    """Take an event out of the account; the row stays, marked, so that nothing written is lost."""
    row = session.get(BottleEventRow, event_id)
    if row is None or row.blend_id != blend_id:
        raise NotFoundError(f"Blend {blend_id} has no entry {event_id}.")
    row.removed_at = datetime.now(UTC)


def list_events(session: Session, blend_id: int) -> tuple[BottleEvent, ...]:
    """All events of a blend's bottle, the earliest first."""
    query = (
        select(BottleEventRow)
        .where(BottleEventRow.blend_id == blend_id, BottleEventRow.removed_at.is_(None))
        .order_by(BottleEventRow.happened_on, BottleEventRow.id)
    )
    return tuple(BottleEvent(row.id, row.happened_on, row.kind, dict(row.detail)) for row in session.scalars(query))
