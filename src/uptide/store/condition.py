"""What is the matter with a database, in words, before anything of it is touched.

Every start and every file that is to be restored is looked at here, so that nobody gets a traceback for an answer.
"""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy import Engine, inspect, make_url, text
from sqlalchemy.exc import ArgumentError, SQLAlchemyError

from uptide.core.errors import UptideError
from uptide.store.database import POSTGRES, file_of, is_of_a_server, open_engine

MIGRATIONS = Path(__file__).parent / "migrations"
VERSION = "alembic_version"  # the table in which alembic keeps it
MAGIC = b"SQLite format 3\x00"  # the first bytes of every database of SQLite: its file format, 1.3
BACKENDS = ("sqlite", POSTGRES)
EXAMPLE, EXAMPLE_OF_A_SERVER = "sqlite:////home/wren/uptide.db", "postgresql+psycopg://wren@workshop/uptide"
# What the database says, and what that is in words; the first that fits counts.
SAID = (
    ("no space left", "The disk of the database's server is full. Free some space on it"),
    ("read-only transaction", "The database's server takes nothing in just now. Look whether it is being restored"),
    ("lock timeout", "Another program is writing to the database. Wait a moment"),
    ("could not serialize", "Another page changed the same just now. Send it again"),
    ("connection", "The database's server does not answer. Look whether it runs, and whether this machine reaches it"),
    ("full", "The disk is full. Free some space on it"),
    ("readonly", "The file of the database is read-only. Make it writable again"),
    ("locked", "Another program is writing to the database. Wait a moment"),
    ("malformed", "The database is damaged: stop the program and restore a backup with `uptide restore`"),
    ("not a database", "The database is damaged: stop the program and restore a backup with `uptide restore`"),
    ("disk i/o", "The disk of the database does not answer. Look whether it is still there"),
    ("unable to open", "The file of the database cannot be opened any more. Look whether its folder is still there"),
)
NEWER = (
    "was written by a newer Up Tide (its schema is {}, this one knows up to {}). It was left as it is: start it with "
    "the newer program, or restore a backup from before."
)


class DatabaseError(UptideError):
    """A database that cannot be used as it is; the message says why, and the way out."""


@dataclass(frozen=True, slots=True)
class Condition:
    """A database as it was found: its schema, and what a deep look had to say of it; nothing where it is sound."""

    schema: str | None
    damage: str


def migrations() -> tuple[str, ...]:
    """The schemas that this program knows, the newest last: the numbers by which the files of its migrations begin."""
    return tuple(sorted(file.name.partition("_")[0] for file in (MIGRATIONS / "versions").glob("[0-9]*.py")))


def newest_schema() -> str:
    """The schema that this program is written for."""
    return migrations()[-1]


def schema_of(path: Path) -> str | None:
    """The schema of a database; None for one without any."""
    with closing(sqlite3.connect(path)) as source:
        tables = {row[0] for row in source.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        row = (
            source.execute("SELECT version_num FROM alembic_version").fetchone()
            if "alembic_version" in tables
            else None
        )
    return None if row is None else str(row[0])


def what_happened(said: str) -> str:
    """What the database said when it did not take something, in words, with what to do.

    >>> what_happened("database or disk is full")
    'The disk is full. Free some space on it'
    """
    plain = said.lower()
    return next((words for mark, words in SAID if mark in plain), f"The database did not take this ({said})")


def refuse_unusable(url: str) -> None:
    """Look at a database that is about to be opened.

    Raises:
        DatabaseError: an address that is none, a folder, a file of something else, a damaged, newer or read-only one.
    """
    path = _file(url)
    if path is None:
        if is_of_a_server(url):
            refuse_server(url)
        return
    if path.is_dir():
        raise DatabaseError(f"{path} is a folder; a database is a file, as in {EXAMPLE}.")
    folder = next((each for each in path.parents if each.exists()), path.parent)
    if not folder.is_dir():
        raise DatabaseError(f"{folder} is a file, so that {path.name} cannot be in it; name another place.")
    if not os.access(folder, os.W_OK):
        raise DatabaseError(f"Nothing can be written into {folder}: open it for yourself, or name another place.")
    if not path.exists() or path.stat().st_size == 0:
        return
    if not os.access(path, os.R_OK | os.W_OK):
        raise DatabaseError(f"{path} cannot be written to. Make it writable (chmod u+rw), or name another.")
    refuse_foreign(path)


def refuse_foreign(path: Path) -> None:
    """Look at a file that should be a database of this program; raise DatabaseError, which says what it is instead."""
    with reading(path):
        with path.open("rb") as file:
            begins = file.read(len(MAGIC))
        if begins != MAGIC:
            raise DatabaseError(f"{path} is no database: it is another file, or a damaged one. {_way_out(path)}")
        found = schema_of(path)
        if found is None and _tables(path):
            raise DatabaseError(f"{path} is a database of another program; it was left as it is. Name another.")
    if found is not None and found not in migrations():
        raise DatabaseError(f"{path} {NEWER.format(found, newest_schema())}")


def look_into(path: Path) -> Condition:
    """Read all of a database, page by page, and say what is damaged of it (SQLite's integrity check).

    Raises:
        DatabaseError: a file that is no database of this program.
    """
    refuse_foreign(path)
    with reading(path), closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)) as source:
        said = [str(row[0]) for row in source.execute("PRAGMA integrity_check")]
        loose = source.execute("PRAGMA foreign_key_check").fetchone()
    damage = "" if said == ["ok"] else said[0]
    return Condition(schema_of(path), damage or (f"rows of {loose[0]} point at nothing" if loose else ""))


def refuse_server(url: str) -> None:
    """Look at a database of PostgreSQL; raise DatabaseError where it does not answer, or is not this program's."""
    engine = open_engine(url)
    try:
        found, tables = schema_on(engine), set(inspect(engine).get_table_names()) - {VERSION}
    except SQLAlchemyError as error:
        said = " ".join(str(getattr(error, "orig", None) or error).split())
        raise DatabaseError(
            f"The database at {engine.url} does not let this program in ({said}). "
            f"Look whether its server runs and knows the name, as in {EXAMPLE_OF_A_SERVER}."
        ) from error
    finally:
        engine.dispose()
    if found is None and tables:
        raise DatabaseError(f"At {engine.url} is a database of another program; it was left as it is. Name another.")
    if found is not None and found not in migrations():
        raise DatabaseError(f"The database at {engine.url} {NEWER.format(found, newest_schema())}")


def schema_on(engine: Engine) -> str | None:
    """The schema of a database of a server; None for one without any."""
    if not inspect(engine).has_table(VERSION):
        return None
    with engine.connect() as connection:
        found = connection.execute(text("SELECT version_num FROM alembic_version")).scalar()
    return None if found is None else str(found)


@contextmanager
def reading(path: Path) -> Iterator[None]:
    """Raise what goes wrong while a file is read in words."""
    try:
        yield
    except sqlite3.DatabaseError as error:
        raise DatabaseError(f"{path} is damaged or cannot be read ({error}). {_way_out(path)}") from error
    except OSError as error:
        raise DatabaseError(f"{path} cannot be read: {error.strerror}.") from error


def _way_out(path: Path) -> str:
    return f"It was left as it is: `uptide restore FILE` puts a backup in its place, and keeps {path.name} beside it."


def _file(url: str) -> Path | None:
    try:
        backend = make_url(url).get_backend_name()
    except ArgumentError as error:
        raise DatabaseError(f"“{url}” is no address of a database; say it as in {EXAMPLE}.") from error
    if backend not in BACKENDS:
        raise DatabaseError(
            f"A database of {backend} cannot be used; {' and '.join(BACKENDS)} can, as in {EXAMPLE} or "
            f"{EXAMPLE_OF_A_SERVER}."
        )
    return file_of(url)


def _tables(path: Path) -> bool:
    with closing(sqlite3.connect(path)) as source:
        return source.execute("SELECT 1 FROM sqlite_master LIMIT 1").fetchone() is not None
