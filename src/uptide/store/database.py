"""Open a database and bring it up to date; everything that is SQLite's alone is in this file."""

from __future__ import annotations

import json
import os
from contextlib import suppress
from functools import partial
from pathlib import Path
from typing import Any

from sqlalchemy import Connection, Engine, create_engine, event, make_url, text
from sqlalchemy.engine.interfaces import DBAPIConnection, ExceptionContext
from sqlalchemy.orm import Session
from sqlalchemy.pool import ConnectionPoolEntry

from uptide.core.text import shown
from uptide.store.records import NotFoundError

BUSY_TIMEOUT = 5000  # ms a writer waits for another
WRITES = "uptide_writes"  # execution option: this transaction is the only writer from its first word on
OWNER_ALONE, OWNER_ALONE_IN = 0o600, 0o700  # health data is nobody else's on this machine
COPY = ".before-"  # and the schema that a copy from before an upgrade is of
BESIDE = ("-wal", "-shm", "-journal")  # what SQLite keeps beside a database


def open_engine(url: str) -> Engine:
    """Open a database by URL; a file of SQLite gets its folder, WAL, foreign keys and a busy timeout.

    What was bound to a statement never stands in an error, and so never in a log: cards hold people's health.
    """
    path = file_of(url)
    if path is not None:
        _keep_to_the_owner(path)
    engine = create_engine(url, hide_parameters=True, json_serializer=_to_json, json_deserializer=_from_json)
    if engine.dialect.name != "sqlite":
        return engine
    event.listen(engine, "connect", _set_pragmas)
    event.listen(engine, "begin", _begin)
    event.listen(engine, "handle_error", _too_large)
    return engine


# No number that is none is ever stored, and half a character that an older program kept is read as a mark for one.
_to_json = partial(json.dumps, allow_nan=False)


def _from_json(stored: str) -> Any:
    found = json.loads(stored)  # raises TypeError for a bare number, which SQLAlchemy then takes as it is
    if "\\ud" not in stored.lower():
        return found
    return json.loads(shown(json.dumps(found, ensure_ascii=False)))


def file_of(url: str) -> Path | None:
    """The file of a SQLite database; None for one in memory, and for other databases."""
    parsed = make_url(url)
    if parsed.get_backend_name() != "sqlite" or not parsed.database or parsed.database == ":memory:":
        return None
    return Path(parsed.database)


def stamp_of(url: str) -> tuple[int, int] | None:
    """What tells a file from one that was put in its place; None when there is none."""
    path = file_of(url)
    if path is None or not path.exists():
        return None
    found = path.stat()
    return found.st_dev, found.st_ino


def _keep_to_the_owner(path: Path) -> None:
    """Make the folder and the file readable by their owner alone; a folder that others made is left as it is."""
    if not path.parent.exists():
        path.parent.mkdir(parents=True, mode=OWNER_ALONE_IN)
    if not path.exists():
        os.close(os.open(path, os.O_CREAT | os.O_RDWR, OWNER_ALONE))
    for each in (path, *(path.with_name(path.name + ending) for ending in BESIDE)):
        if each.exists() and os.access(each, os.W_OK):
            with suppress(PermissionError):  # somebody else's file: theirs to open or close
                each.chmod(OWNER_ALONE)


def _too_large(context: ExceptionContext) -> None:
    """A number past 64 bits, which SQLite cannot even look for, is the number of nothing."""
    if isinstance(context.original_exception, OverflowError):
        raise NotFoundError("There is nothing of so large a number here.") from context.original_exception


def _set_pragmas(connection: DBAPIConnection, record: ConnectionPoolEntry) -> None:
    cursor = connection.cursor()
    for pragma in (
        f"busy_timeout = {BUSY_TIMEOUT}",  # first: the next one already waits for others
        "journal_mode = WAL",
        "foreign_keys = ON",
        "synchronous = FULL",  # a pour that was confirmed survives a power cut
        "secure_delete = ON",
    ):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()


def _begin(connection: Connection) -> None:
    """Take the right to write before anything is read, so that nobody acts on what another is about to change."""
    if connection.get_execution_options().get(WRITES):
        connection.exec_driver_sql("BEGIN IMMEDIATE")


def as_writer(session: Session) -> Session:
    """The same session, whose transaction is the only writer from now on."""
    session.connection(execution_options={WRITES: True})
    return session


def wipe_deleted(engine: Engine) -> None:
    """Empty SQLite's log of earlier pages and take the copies from before upgrades away: both hold what was deleted.

    All else that stands in such a copy stands in the database itself.
    """
    if engine.dialect.name == "sqlite":
        with engine.connect() as connection:
            connection.execute(text("PRAGMA wal_checkpoint(TRUNCATE)"))
    path = file_of(str(engine.url))
    if path is not None:
        for copy in path.parent.glob(f"{path.name}{COPY}*"):
            copy.unlink()
