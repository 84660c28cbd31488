"""Open a database and bring it up to date; everything that is SQLite's alone is in this file."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event, make_url
from sqlalchemy.engine.interfaces import DBAPIConnection, ExceptionContext
from sqlalchemy.pool import ConnectionPoolEntry

from uptide.store.records import NotFoundError

MIGRATIONS = Path(__file__).parent / "migrations"
BUSY_TIMEOUT = 5000  # ms a writer waits for another


def open_engine(url: str) -> Engine:
    """Open a database by URL; a file of SQLite gets its folder, WAL, foreign keys and a busy timeout."""
    parsed = make_url(url)
    if parsed.get_backend_name() != "sqlite":
        return create_engine(url)
    if parsed.database and parsed.database != ":memory:":
        Path(parsed.database).parent.mkdir(parents=True, exist_ok=True)
    engine = create_engine(url)
    event.listen(engine, "connect", _set_pragmas)
    event.listen(engine, "handle_error", _too_large)
    return engine


def _too_large(context: ExceptionContext) -> None:
    """A number past 64 bits, which SQLite cannot even look for, is the number of nothing."""
    if isinstance(context.original_exception, OverflowError):
        raise NotFoundError("There is nothing of so large a number here.") from context.original_exception


def _set_pragmas(connection: DBAPIConnection, record: ConnectionPoolEntry) -> None:
    cursor = connection.cursor()
    for pragma in ("journal_mode = WAL", "foreign_keys = ON", "synchronous = NORMAL", f"busy_timeout = {BUSY_TIMEOUT}"):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()


def migration_config(url: str) -> Config:
    """Alembic's configuration, without an ini file."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.set_main_option("sqlalchemy.url", url.replace("%", "%%"))
    return config


def migrate(url: str) -> None:
    """Bring a database to the newest schema; data survives."""
    open_engine(url).dispose()  # makes the folder
    command.upgrade(migration_config(url), "head")
