"""Put a backup in the place of the database: looked at first, what differs is said, and what was there is kept."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from contextlib import closing
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from sqlalchemy.orm import Session

from uptide.store.backups import erased_since, put_in_place, unpack
from uptide.store.condition import DatabaseError, look_into, reading
from uptide.store.database import file_of, open_engine
from uptide.store.migrating import upgrade
from uptide.store.people import delete_person

# What is counted on both sides, and the table that it stands in.
COUNTED = {
    "blends": "blend",
    "saved versions": "blend_version",
    "lots": "lot",
    "movements of lots": "movement",
    "batches": "batch",
    "bottles": "bottle",
    "jars": "jar",
    "readings": "jar_reading",
    "photos": "jar_photo",
    "people": "wearer",
    "oils of your own": "own_oil",
}
READY = ".restoring"


@dataclass(frozen=True, slots=True)
class Difference:
    """How many there are of something, in the database and in the backup; None where that cannot be read."""

    what: str
    here: int | None
    there: int


@dataclass(frozen=True, slots=True)
class Looked:
    """A backup beside the database: what differs, and whose cards stand in it that were deleted since."""

    differences: tuple[Difference, ...]
    erased: frozenset[int]


def look_at(url: str, backup: Path) -> Looked:
    """Look through a backup and compare it with the database.

    Raises:
        DatabaseError: a backup that is damaged, of a newer program, or none at all; a database that is no file.
    """
    database = _database(url)
    if not backup.is_file():
        raise DatabaseError(f"There is no file {backup}; `uptide backup` says where backups are kept.")
    found = look_into(backup)
    if found.damage:
        raise DatabaseError(f"{backup} is damaged ({found.damage}) and was not put in place; take an earlier one.")
    there = _counts(backup)
    try:
        here: dict[str, int] | None = _counts(database) if database.exists() else {}
        erased = erased_since(database, backup) if database.exists() else frozenset[int]()
    except sqlite3.DatabaseError:  # which is why it is replaced
        here, erased = None, frozenset()
    differences = (
        Difference(what, None if here is None else here.get(what, 0), there.get(what, 0))
        for what in COUNTED
        if here is None or here.get(what, 0) != there.get(what, 0)
    )
    return Looked(tuple(differences), erased)


def restore(url: str, backup: Path, now: datetime) -> Path | None:
    """Put a backup in place; return where the database that was there is kept, None where there was none.

    It is brought to the newest schema, and whoever was deleted since it was made stays deleted.

    Raises:
        DatabaseError: as `look_at` does, or a disk that is full; the database is as it was then.
    """
    looked, database = look_at(url, backup), _database(url)
    ready = database.with_name(database.name + READY)
    try:
        unpack(backup, ready)
        upgrade(f"sqlite:///{ready}")
        _delete(f"sqlite:///{ready}", looked.erased)
        with reading(ready), closing(sqlite3.connect(ready)) as file:
            file.execute("PRAGMA journal_mode = DELETE")  # one file, that nothing stands beside
        return put_in_place(database, ready, now)
    finally:
        ready.unlink(missing_ok=True)


def _delete(url: str, people: Iterable[int]) -> None:
    engine = open_engine(url)
    try:
        with Session(engine) as session, session.begin():
            for number in people:
                delete_person(session, number)
    finally:
        engine.dispose()


def _database(url: str) -> Path:
    database = file_of(url)
    if database is None:
        raise DatabaseError("This database is no file: back it up and restore it by the means of its own server.")
    return database


def _counts(path: Path) -> dict[str, int]:
    with closing(sqlite3.connect(path)) as source:
        tables = {row[0] for row in source.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        return {
            what: source.execute(f"SELECT count(*) FROM {table}").fetchone()[0]  # noqa: S608 - names of our own
            for what, table in COUNTED.items()
            if table in tables
        }
