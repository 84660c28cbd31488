"""The commands that keep a database safe, and what they print."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

from uptide.cli.settings import Settings
from uptide.store.backups import back_up, copies, folder_of
from uptide.store.condition import DatabaseError, refuse_unusable
from uptide.store.database import file_of
from uptide.workshop.restoring import look_at, restore


def back_up_here(settings: Settings) -> str:
    """Make a backup; say where it is, and how many there are."""
    refuse_unusable(settings.database)
    database = file_of(settings.database)
    if database is None:
        raise DatabaseError(f"{settings.database} is no file: back it up by the means of its own server.")
    if not database.exists():
        raise DatabaseError(f"There is no database at {database} yet: `uptide serve` makes it.")
    folder = settings.backup_folder or folder_of(database)
    made = back_up(database, folder, datetime.now(UTC))
    return f"{made}\nIt was looked through and is sound. {len(copies(database, folder))} backups are in {folder}."


def differences_here(settings: Settings, backup: Path) -> str:
    """Look at a backup; say in what it differs from the database, a line each."""
    looked = look_at(settings.database, backup)
    lines = [
        f"  {each.what}: {'unknown' if each.here is None else each.here} now, {each.there} in the backup"
        for each in looked.differences
    ]
    if looked.erased:
        lines.append(f"  {len(looked.erased)} whose card was deleted since; they stay deleted")
    says = "It holds other than your database:" if lines else "It counts the same as your database."
    return "\n".join([f"{backup} is sound. {says}", *lines])


def restore_here(settings: Settings, backup: Path) -> str:
    """Put a backup in place; say where the database that was there is kept."""
    aside = restore(settings.database, backup, datetime.now(UTC))
    kept = f" What was there is kept as {aside}." if aside else ""
    return f"The backup is in place.{kept} If Up Tide runs, start it again."
