"""Bring a database to the newest schema: all of it or nothing, with a copy of what was there."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

from uptide.store.backups import back_up, folder_of
from uptide.store.condition import MIGRATIONS, newest_schema, refuse_unusable, schema_of, schema_on
from uptide.store.database import file_of, is_of_a_server, open_engine

if TYPE_CHECKING:
    from alembic.config import Config


def migration_config(url: str) -> Config:
    """Alembic's configuration, without an ini file."""
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.set_main_option("sqlalchemy.url", url.replace("%", "%%"))
    return config


def migrate(url: str, backups: Path | None = None) -> None:
    """Bring a database to the newest schema; data survives.

    A copy of what was there is made before (of a file: a server has means of its own), and the upgrade is one
    transaction: it is done, or nothing of it is. One that is of the newest schema is left alone, and alembic is not
    even read: that is a fifth of the start.

    Args:
        url: of the database.
        backups: folder of the copies; that beside the database unless another is named.

    Raises:
        DatabaseError: a database that cannot be used, or of which no copy can be made.
    """
    refuse_unusable(url)
    open_engine(url).dispose()  # makes the folder
    path = file_of(url)
    if path is not None:
        found = schema_of(path)
        if found == newest_schema():
            return
        if found is not None:
            back_up(path, backups or folder_of(path), datetime.now(UTC))
    elif is_of_a_server(url) and _schema_at(url) == newest_schema():
        return
    upgrade(url)


def _schema_at(url: str) -> str | None:
    engine = open_engine(url)
    try:
        return schema_on(engine)
    finally:
        engine.dispose()


def upgrade(url: str) -> None:
    """Bring a database to the newest schema without a copy of it."""
    from alembic import command

    command.upgrade(migration_config(url), "head")
