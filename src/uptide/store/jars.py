"""Jars under way and ended, and what was noted of them, in and out of the database."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from uptide.core.infusion.following import JarNote, NoteKind
from uptide.core.infusion.temperature import Reading
from uptide.store.models import JarNoteRow, JarRow
from uptide.store.readings import readings_of
from uptide.store.records import NotFoundError


@dataclass(frozen=True, slots=True)
class NoteEntry:
    """A note with its number."""

    id: int
    note: JarNote


@dataclass(frozen=True, slots=True)
class Jar:
    """A jar that was begun: its number, what was asked as plain JSON, and its notes as they happened.

    Unread are notes that this version cannot read: they are shown as they are stored, and count for nothing.
    """

    id: int
    name: str
    begun_on: date
    asked: Mapping[str, object]
    entries: tuple[NoteEntry, ...]
    unread: tuple[str, ...] = ()
    readings: tuple[Reading, ...] = ()  # of its warmth; only where one jar is looked at

    @property
    def notes(self) -> tuple[JarNote, ...]:
        """What was noted."""
        return tuple(entry.note for entry in self.entries)


def begin_jar(session: Session, name: str, begun_on: date, asked: Mapping[str, object]) -> int:
    """Begin a jar; return its number."""
    row = JarRow(name=name, begun_on=begun_on, asked=dict(asked))
    session.add(row)
    session.flush()
    return row.id


def change_asked(session: Session, jar_id: int, asked: Mapping[str, object]) -> None:
    """Put right what was asked of a jar, as when it was strained another way; raise NotFoundError if there is none."""
    _row(session, jar_id).asked = dict(asked)
    session.flush()


def add_note(session: Session, jar_id: int, note: JarNote) -> None:
    """Note something of a jar; raise NotFoundError if there is none."""
    _row(session, jar_id)
    session.add(
        JarNoteRow(
            jar_id=jar_id,
            happened_on=note.on,
            kind=note.kind.value,
            grams=note.grams,
            words=note.words,
            removed_at=None,
        )
    )
    session.flush()


def remove_note(session: Session, jar_id: int, note_id: int) -> None:
    """Take a note out of the account; the row stays, marked."""
    row = session.get(JarNoteRow, note_id)
    if row is None or row.jar_id != jar_id:
        raise NotFoundError(f"Jar {jar_id} has no note {note_id}.")
    row.removed_at = datetime.now(UTC)


def load_jar(session: Session, jar_id: int) -> Jar:
    """A jar by its number; raise NotFoundError if there is none."""
    return replace(_jar(_row(session, jar_id)), readings=readings_of(session, jar_id))


def list_jars(session: Session) -> tuple[Jar, ...]:
    """Every jar there ever was, the newest on top."""
    rows = session.scalars(
        select(JarRow).options(selectinload(JarRow.notes)).order_by(JarRow.begun_on.desc(), JarRow.id.desc())
    )
    return tuple(_jar(row) for row in rows)


def _row(session: Session, jar_id: int) -> JarRow:
    row = session.get(JarRow, jar_id)
    if row is None:
        raise NotFoundError(f"There is no jar {jar_id}.")
    return row


def _jar(row: JarRow) -> Jar:
    entries, unread = [], []
    for note in row.notes:
        if note.removed_at is not None:
            continue
        try:
            read = JarNote(note.happened_on, NoteKind(note.kind), note.grams, note.words)
        except ValueError:  # every error of the trade is one
            unread.append(f"{note.kind}: {note.words}")
        else:
            entries.append(NoteEntry(note.id, read))
    asked = row.asked if isinstance(row.asked, dict) else {}
    return Jar(row.id, row.name, begun_on=row.begun_on, asked=dict(asked), entries=tuple(entries), unread=tuple(unread))
