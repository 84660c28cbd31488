"""The commands that keep a database safe, and what they print."""

from __future__ import annotations

import ipaddress
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy.orm import Session

from uptide.cli.settings import Settings
from uptide.core.errors import UptideError
from uptide.store.backups import back_up, copies, folder_of
from uptide.store.condition import DatabaseError, refuse_unusable
from uptide.store.database import as_writer, file_of, open_engine
from uptide.store.migrating import migrate
from uptide.store.preferences import keep_passphrases, kept_passphrases
from uptide.workshop.desk import NO_COPIES
from uptide.workshop.entrance import keep
from uptide.workshop.examining import examine
from uptide.workshop.exchanging import bring_in, export, plan_import, plan_in_words
from uptide.workshop.instruments import Instruments
from uptide.workshop.restoring import look_at, restore


def back_up_here(settings: Settings) -> str:
    """Make a backup; say where it is, and how many there are."""
    refuse_unusable(settings.database)
    database = file_of(settings.database)
    if database is None:
        raise DatabaseError(NO_COPIES)
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


def export_here(settings: Settings, target: Path, *, people: bool) -> str:
    """Write an export; say of how many files it is and whether people are in it."""
    engine = open_engine(settings.database)
    try:
        with Session(engine) as store:
            count = export(store, target, people=people)
    finally:
        engine.dispose()
    what = (
        "People and their health are in it: keep it safe." if people else "People are left out (--people takes them)."
    )
    return f"{count} files are in {target}. {what}"


@contextmanager
def import_all(settings: Settings, source: Path, *, take_differing: bool) -> Iterator[Sequence[str]]:
    """Yield what an export would change, line by line, and bring it in when the block ends without an error."""
    engine = open_engine(settings.database)
    try:
        with Session(engine) as store, store.begin():
            plan = plan_import(as_writer(store), source)
            if plan.problems:
                bring_in(store, plan, take_differing=False)
            end = "What differs is changed." if take_differing else "What differs is kept as it is here."
            yield (*plan_in_words(plan), *([end] if plan.changes else []))
            bring_in(store, plan, take_differing=take_differing)
    finally:
        engine.dispose()


def is_this_machine(host: str) -> bool:
    """Whether an address can be reached from this machine only."""
    try:
        return ipaddress.ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return host == "localhost"


def has_passphrase(database: str) -> bool:
    """Whether one is set for a database; a database that is not there has none."""
    path = file_of(database)
    if path is not None and not path.exists():
        return False
    migrate(database)
    engine = open_engine(database)
    try:
        with Session(engine) as store:
            return bool(kept_passphrases(store)[0])
    finally:
        engine.dispose()


def set_passphrase(database: str, said: str, *, bench: bool) -> str:
    """Set or take away a passphrase; say what that means."""
    kept = keep(said) if said else ""
    engine = open_engine(database)
    try:
        with Session(engine) as store, store.begin():
            whole, at_the_bench = kept_passphrases(as_writer(store))
            if bench and kept and not whole:
                raise UptideError("Set the passphrase of the workshop first: without it everybody sees everything.")
            keep_passphrases(store, *((whole, kept) if bench else (kept, at_the_bench if kept else "")))
    finally:
        engine.dispose()
    end = "If Up Tide runs, start it again."
    return f"It is {'kept' if kept else 'taken away'}. {end}"


def examine_here(settings: Settings) -> tuple[list[str], bool]:
    """Look at everything; a line for each part, those that are not well marked, and whether all are."""
    path = file_of(settings.database) if "://" in settings.database else None
    backups = settings.backup_folder or (folder_of(path) if path is not None else Path())
    parts = list(examine(settings.database, backups, instruments_of(settings)))
    lines = [f"{'  ' if part.is_well else '! '}{part.what}: {part.found.removesuffix('.')}." for part in parts]
    return lines, all(part.is_well for part in parts)


def instruments_of(settings: Settings) -> Instruments:
    """The instruments that are set."""
    return Instruments(
        thermometer=settings.thermometer,
        thermometer_speed=settings.thermometer_speed,
        scale=settings.scale,
        scale_pattern=settings.scale_pattern,
        spool=settings.spool,
    )
