"""Copies of the database, dated: made while it is in use, looked through, thinned out, and put back.

A copy is a whole database in one file. Copies are SQLite's; another database is backed up by its own means.
"""

from __future__ import annotations

import os
import re
import shutil
import sqlite3
from collections.abc import Iterable, Iterator
from contextlib import closing, suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import Engine
from sqlalchemy.exc import DatabaseError as StoredError
from sqlalchemy.orm import Session

from uptide.store.condition import DatabaseError, look_into, newest_schema, reading, schema_of, what_happened
from uptide.store.database import BESIDE, OWNER_ALONE, OWNER_ALONE_IN, file_of, open_engine
from uptide.store.people import delete_person

DAYS, WEEKS, MONTHS = 7, 4, 12  # of which the last copy is kept
FOLDER = "backups"  # beside the database, unless another is named
STAMP = "%Y-%m-%dT%H%M%S"  # UTC
ENDING, UNDER_WAY, REPLACED = ".db", ".part", "-replaced-"


@dataclass(frozen=True, slots=True, order=True)
class Copy:
    """A copy: when it was made, of which schema, and where it is."""

    made_at: datetime
    schema: str
    path: Path


def folder_of(database: Path) -> Path:
    """Where copies of a database are kept when no other folder is named."""
    return database.parent / FOLDER


def copies(database: Path, folder: Path) -> tuple[Copy, ...]:
    """The copies of a database, the newest first."""
    named = re.compile(rf"{re.escape(database.stem)}-(\d{{4}}-\d\d-\d\dT\d{{6}})-(\d+){re.escape(ENDING)}")
    found = ((named.fullmatch(each.name), each) for each in (folder.iterdir() if folder.is_dir() else ()))
    made = (
        Copy(datetime.strptime(match[1], STAMP).replace(tzinfo=UTC), match[2], path) for match, path in found if match
    )
    return tuple(sorted(made, reverse=True))


def back_up(database: Path, folder: Path, now: datetime) -> Path:
    """Copy a database while it may be in use, look through the copy, and thin out the earlier ones.

    Raises:
        DatabaseError: a disk that is full, a folder that cannot be written to, or a database that is damaged; what
            copies there are stay as they are.
    """
    with reading(database):
        schema = schema_of(database)
    path = folder / f"{database.stem}-{now.astimezone(UTC):{STAMP}}-{schema}{ENDING}"
    under_way = path.with_name(path.name + UNDER_WAY)
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=OWNER_ALONE_IN)
        _copy(database, under_way)
        damage = look_into(under_way).damage
        if damage:
            raise DatabaseError(f"{database} is damaged ({damage}): no copy was made, and the earlier ones are kept.")
        under_way.replace(path)
    except sqlite3.Error as error:
        raise DatabaseError(f"No copy was made in {folder}: {what_happened(str(error))}.") from error
    except OSError as error:
        raise DatabaseError(f"No copy was made in {folder}: {error.strerror}.") from error
    finally:
        with suppress(OSError):  # of a folder that is none there is nothing to clear
            under_way.unlink(missing_ok=True)
    for copy in _surplus(copies(database, folder)):
        copy.path.unlink(missing_ok=True)
    return path


def _surplus(found: tuple[Copy, ...]) -> tuple[Copy, ...]:
    """What is no longer needed: not the last of one of so many days, weeks or months, nor the last of its schema."""
    kept = {copy.path for copy in kept_of(found)}
    return tuple(copy for copy in found if copy.path not in kept)


def kept_of(found: Iterable[Copy]) -> Iterator[Copy]:
    """Of each of the last days, weeks and months that have a copy the last one, and the last of every schema."""
    newest_first = sorted(found, reverse=True)
    for mark, most in (("%Y-%m-%d", DAYS), ("%G-%V", WEEKS), ("%Y-%m", MONTHS)):
        last: dict[str, Copy] = {}
        for copy in newest_first:
            last.setdefault(copy.made_at.strftime(mark), copy)
        yield from list(last.values())[:most]
    of_schema: dict[str, Copy] = {}
    for copy in newest_first:
        of_schema.setdefault(copy.schema, copy)
    yield from of_schema.values()


def _copy(source: Path, target: Path) -> None:
    """Copy page by page, without stopping who writes; the copy is on the disk when this returns."""
    target.unlink(missing_ok=True)
    os.close(os.open(target, os.O_CREAT | os.O_RDWR, OWNER_ALONE))
    with closing(sqlite3.connect(source)) as read, closing(sqlite3.connect(target)) as written:
        read.backup(written)
        written.execute("PRAGMA journal_mode = DELETE")  # one file, whatever the source keeps beside it
    with target.open("rb+") as file:
        os.fsync(file.fileno())


def erase_in_copies(engine: Engine, folder: Path | None = None) -> int:
    """Take people out of the copies whose cards were deleted since, as they asked; return of how many copies.

    Who came only after the backup that was put in place was made stays in the copies: nobody deleted them.
    A copy of an older schema, which cannot be written to, and one that is damaged, are deleted.
    """
    database = file_of(str(engine.url))
    if database is None:
        return 0
    changed = 0
    for copy in copies(database, folder or folder_of(database)):
        try:
            gone = erased_since(database, copy.path)
            if gone and copy.schema == newest_schema():
                _erase(copy.path, gone)
            elif gone:
                copy.path.unlink()
        except (sqlite3.DatabaseError, StoredError):  # damaged, and no longer good for anything but what it holds
            gone = frozenset({0})
            copy.path.unlink(missing_ok=True)
        changed += bool(gone)
    return changed


def _people_in(path: Path) -> frozenset[int]:
    with closing(sqlite3.connect(path)) as source:
        held = source.execute("SELECT 1 FROM sqlite_master WHERE name = 'wearer'").fetchone()
        return frozenset(row[0] for row in source.execute("SELECT id FROM wearer")) if held else frozenset()


def _erase(path: Path, people: Iterable[int]) -> None:
    """Delete people from a copy, and leave it one file again."""
    engine = open_engine(f"sqlite:///{path}")
    with Session(engine) as session, session.begin():
        for number in people:
            delete_person(session, number)
    engine.dispose()
    with closing(sqlite3.connect(path)) as copy:
        copy.execute("PRAGMA journal_mode = DELETE")


def erased_since(database: Path, backup: Path) -> frozenset[int]:
    """Whose cards stand in a backup and were deleted since: their numbers were given out, and are nobody's now."""
    with closing(sqlite3.connect(database)) as present:
        if not present.execute("SELECT 1 FROM sqlite_master WHERE name = 'wearer'").fetchone():
            return frozenset()
        given = present.execute("SELECT seq FROM sqlite_sequence WHERE name = 'wearer'").fetchone()
        here = {row[0] for row in present.execute("SELECT id FROM wearer")}
    last = given[0] if given else 0
    return frozenset(number for number in _people_in(backup) - here if number <= last)


def put_in_place(database: Path, ready: Path, now: datetime) -> Path | None:
    """Put a file that is ready where the database is; return where that one is kept now, None where there was none.

    Cut off at any moment, either stands in its place, whole. What SQLite keeps beside the one that was there is
    written into it first where that can be, and goes along where it cannot.
    """
    if not database.exists():
        ready.replace(database)
        return None
    aside = database.with_name(f"{database.stem}{REPLACED}{now.astimezone(UTC):{STAMP}}{database.suffix}")
    with suppress(sqlite3.DatabaseError), closing(sqlite3.connect(database)) as file:
        file.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    for ending in ("", *BESIDE):
        _also_as(database.with_name(database.name + ending), aside.with_name(aside.name + ending))
    for ending in BESIDE:  # else what was never written into the one would be written into the other
        database.with_name(database.name + ending).unlink(missing_ok=True)
    ready.replace(database)
    return aside


def _also_as(file: Path, other: Path) -> None:
    """Give a file a second name; a copy where the disk has no such thing."""
    if not file.exists():
        return
    other.unlink(missing_ok=True)
    try:
        other.hardlink_to(file)
    except OSError:
        shutil.copy2(file, other)


def unpack(backup: Path, target: Path) -> None:
    """Copy a backup to where it is made ready; the backup is not touched."""
    try:
        _copy(backup, target)
    except sqlite3.Error as error:
        target.unlink(missing_ok=True)
        raise DatabaseError(f"{backup} could not be copied: {what_happened(str(error))}.") from error
