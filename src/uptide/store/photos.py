"""Photos of jars, in and out of the database: there a copy of the one file is a copy of all."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from uptide.store.models import JarPhotoRow, JarRow
from uptide.store.records import NotFoundError


@dataclass(frozen=True, slots=True)
class JarPhoto:
    """A photo without its content: its number, the day, and a person's words."""

    id: int
    taken_on: date
    words: str


def add_photo(session: Session, jar_id: int, content: bytes, taken_on: date, words: str) -> None:
    """Keep a photo of a jar; raise NotFoundError if there is none."""
    if session.get(JarRow, jar_id) is None:
        raise NotFoundError(f"There is no jar {jar_id}.")
    session.add(JarPhotoRow(jar_id=jar_id, taken_on=taken_on, words=words, content=content, removed_at=None))
    session.flush()


def photos_of(session: Session, jar_id: int) -> tuple[JarPhoto, ...]:
    """The photos of a jar that count, the newest on top."""
    rows = session.execute(
        select(JarPhotoRow.id, JarPhotoRow.taken_on, JarPhotoRow.words)
        .where(JarPhotoRow.jar_id == jar_id, JarPhotoRow.removed_at.is_(None))
        .order_by(JarPhotoRow.taken_on.desc(), JarPhotoRow.id.desc())
    )
    return tuple(JarPhoto(*row) for row in rows)


def photo_content(session: Session, jar_id: int, photo_id: int) -> bytes:
    """A photo as JPEG; raise NotFoundError if the jar has none of this number."""
    return _row(session, jar_id, photo_id).content


def remove_photo(session: Session, jar_id: int, photo_id: int) -> None:
    """Take a photo out of the account; the row stays, marked."""
    _row(session, jar_id, photo_id).removed_at = datetime.now(UTC)


def _row(session: Session, jar_id: int, photo_id: int) -> JarPhotoRow:
    row = session.get(JarPhotoRow, photo_id)
    if row is None or row.jar_id != jar_id or row.removed_at is not None:
        raise NotFoundError(f"Jar {jar_id} has no photo {photo_id}.")
    return row
