"""Open a database by its address; what is SQLite's or PostgreSQL's alone is in this file."""

from __future__ import annotations

import json
import os
from collections.abc import Iterable
from contextlib import suppress
from functools import partial
from pathlib import Path
from typing import Any

from sqlalchemy import URL, Connection, Engine, Table, create_engine, event, func, make_url, select, text
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
POSTGRES, DRIVER = "postgresql", "postgresql+psycopg"
BY_ITSELF = "AUTOCOMMIT"  # each statement a transaction of its own
ANSWERS_WITHIN = 5  # s that a server has to answer in
OUT_OF_RANGE = "22003"  # SQL:2023, what is out of range as a number
MIGRATING = 8_311_001  # the number of the lock under which PostgreSQL is brought to a newer schema


def open_engine(url: str) -> Engine:
    """Open a database by URL; a file of SQLite gets its folder, WAL, foreign keys and a busy timeout.

    What was bound to a statement never stands in an error, and so never in a log: cards hold people's health.
    """
    path = file_of(url)
    if path is not None:
        _keep_to_the_owner(path)
    more: dict[str, Any] = _postgres() if is_of_a_server(url) else {}
    engine = create_engine(
        address_of(url), hide_parameters=True, json_serializer=_to_json, json_deserializer=_from_json, **more
    )
    if engine.dialect.name != POSTGRES:
        event.listen(engine, "connect", _set_pragmas)
    event.listen(engine, "begin", _begin)
    event.listen(engine, "handle_error", _too_large)
    return engine


def address_of(url: str) -> URL:
    """The address of a database; one of PostgreSQL names the driver that is here, whichever it named or none."""
    parsed = make_url(url)
    return parsed.set(drivername=DRIVER) if is_of_a_server(url) else parsed


def is_of_a_server(url: str) -> bool:
    """Whether an address is one of PostgreSQL."""
    return make_url(url).get_backend_name() == POSTGRES


def _postgres() -> dict[str, Any]:
    """How a server is spoken to: as one reads SQLite, all of a transaction sees the same; who waits does not forever.

    A connection that was cut meanwhile, as by a restart of the server, is made anew.
    """
    return {
        "isolation_level": "REPEATABLE READ",
        "pool_pre_ping": True,
        "connect_args": {"connect_timeout": ANSWERS_WITHIN, "options": f"-c lock_timeout={BUSY_TIMEOUT}"},
    }


# No number that is none is ever stored, and half a character that an older program kept is read as a mark for one.
_to_json = partial(json.dumps, allow_nan=False)


def _from_json(stored: str | bytes) -> Any:
    found = json.loads(stored)  # raises TypeError for a bare number, which SQLAlchemy then takes as it is
    if isinstance(stored, bytes):  # of PostgreSQL, which takes no half a character in
        return found
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
    path.parent.mkdir(parents=True, exist_ok=True, mode=OWNER_ALONE_IN)  # another may make it just now
    if not path.exists():
        os.close(os.open(path, os.O_CREAT | os.O_RDWR, OWNER_ALONE))
    for each in (path, *(path.with_name(path.name + ending) for ending in BESIDE)):
        if each.exists() and os.access(each, os.W_OK):
            with suppress(PermissionError, FileNotFoundError):  # somebody else's file; or a log that is gone by now
                each.chmod(OWNER_ALONE)


def _too_large(context: ExceptionContext) -> None:
    """A number past what the database can even look for (64 bits; 32 in PostgreSQL) is the number of nothing."""
    is_too_large = getattr(context.original_exception, "sqlstate", "") == OUT_OF_RANGE
    if is_too_large or isinstance(context.original_exception, OverflowError):
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
    """Begin a transaction: all that it reads is of one moment, which Python's driver of SQLite would not see to.

    Who will write takes the right to before anything is read, so that nobody acts on what another is about to change.
    In PostgreSQL that is a lock of a table that all writers take, and that readers do not wait for. A lock of a table
    is no look at the data yet (its manual, “LOCK”): what another wrote meanwhile is seen after the wait.
    """
    options = connection.get_execution_options()
    if options.get("isolation_level") == BY_ITSELF:
        return
    if connection.dialect.name != POSTGRES:
        connection.exec_driver_sql("BEGIN IMMEDIATE" if options.get(WRITES) else "BEGIN")
    elif options.get(WRITES):
        connection.exec_driver_sql("LOCK TABLE preference IN EXCLUSIVE MODE")


def as_writer(session: Session) -> Session:
    """The same session, whose transaction is the only writer from now on."""
    session.connection(execution_options={WRITES: True})
    return session


def number_on(session: Session, tables: Iterable[Table]) -> None:
    """Let the next row of these tables get a number after all that stand there: PostgreSQL counts for itself."""
    if session.get_bind().dialect.name != POSTGRES:
        return
    for table in tables:
        if "id" in table.columns:
            last = func.max(table.columns["id"])
            session.execute(select(func.setval(func.pg_get_serial_sequence(table.name, "id"), last)).having(last > 0))


def wipe_deleted(engine: Engine) -> None:
    """Empty SQLite's log of earlier pages and take the copies from before upgrades away: both hold what was deleted.

    All else that stands in such a copy stands in the database itself. PostgreSQL gives the place of deleted rows free.
    """
    with engine.connect().execution_options(isolation_level=BY_ITSELF) as connection:
        is_postgres = engine.dialect.name == POSTGRES
        connection.execute(text("VACUUM" if is_postgres else "PRAGMA wal_checkpoint(TRUNCATE)"))
    path = file_of(str(engine.url))
    if path is not None:
        for copy in path.parent.glob(f"{path.name}{COPY}*"):
            copy.unlink()
