"""What thermometers said of jars, and in which jar the thermometer stands."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from uptide.core.infusion.temperature import Reading
from uptide.store.models import JarReadingRow, JarRow, PreferenceRow
from uptide.store.records import NotFoundError

STANDS_IN = "thermometer_in"


def add_reading(session: Session, jar_id: int, reading: Reading) -> None:
    """Keep a reading of a jar; raise NotFoundError if there is none."""
    if session.get(JarRow, jar_id) is None:
        raise NotFoundError(f"There is no jar {jar_id}.")
    session.add(
        JarReadingRow(jar_id=jar_id, read_at=reading.at, celsius=reading.celsius, typed=reading.typed, removed_at=None)
    )
    session.flush()


def readings_of(session: Session, jar_id: int) -> tuple[Reading, ...]:
    """The readings of a jar that count, in the order of their moments; what can be none is left out."""
    rows = session.execute(
        select(JarReadingRow.read_at, JarReadingRow.celsius, JarReadingRow.typed)
        .where(JarReadingRow.jar_id == jar_id, JarReadingRow.removed_at.is_(None))
        .order_by(JarReadingRow.read_at, JarReadingRow.id)
    )
    found = []
    for at, celsius, typed in rows:
        try:
            found.append(Reading(at, celsius, typed))
        except ValueError:  # every error of the trade is one
            continue
    return tuple(found)


def count_readings(session: Session, jar_id: int) -> int:
    """How many readings of a jar count."""
    counted = select(func.count()).where(JarReadingRow.jar_id == jar_id, JarReadingRow.removed_at.is_(None))
    return session.scalar(counted) or 0


def remove_last_typed(session: Session, jar_id: int) -> None:
    """Take the newest typed reading of a jar out of the account; raise NotFoundError if there is none."""
    row = session.scalar(
        select(JarReadingRow)
        .where(JarReadingRow.jar_id == jar_id, JarReadingRow.typed, JarReadingRow.removed_at.is_(None))
        .order_by(JarReadingRow.id.desc())
        .limit(1)
    )
    if row is None:
        raise NotFoundError(f"Jar {jar_id} has no typed reading.")
    row.removed_at = datetime.now(UTC)


def thermometer_stands_in(session: Session) -> int | None:
    """The number of the jar that the thermometer stands in."""
    row = session.get(PreferenceRow, STANDS_IN)
    return row.value if row is not None and isinstance(row.value, int) else None


def take_thermometer_out(session: Session, jar_id: int) -> None:
    """Take the thermometer out of a jar that has ended, if it stands in it."""
    if thermometer_stands_in(session) == jar_id:
        put_thermometer(session, None)


def put_thermometer(session: Session, jar_id: int | None) -> None:
    """Put the thermometer into a jar, or take it out of any; raise NotFoundError if there is no such jar."""
    if jar_id is not None and session.get(JarRow, jar_id) is None:
        raise NotFoundError(f"There is no jar {jar_id}.")
    session.merge(PreferenceRow(key=STANDS_IN, value=jar_id))
    session.flush()
