"""What the program runs on and with, looked at part by part; each part says whether anything is wrong with it."""

from __future__ import annotations

import platform
import shutil
import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from importlib.metadata import version
from pathlib import Path

from sqlalchemy import select
from sqlalchemy.orm import Session

from uptide import __version__
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import UptideError
from uptide.core.months import say_day
from uptide.store.backups import copies
from uptide.store.condition import DatabaseError, look_into, newest_schema, refuse_unusable, schema_on
from uptide.store.database import file_of, is_of_a_server, open_engine
from uptide.store.models import BatchEntryRow, MovementRow, VersionRow
from uptide.workshop.instruments import Instruments

LIBRARIES = ("fastapi", "pydantic", "sqlalchemy", "numpy", "scipy", "uvicorn")
LITTLE_SPACE = 200e6  # bytes: a day's backup and what is saved meanwhile
OLD = timedelta(days=2)  # of the newest backup
AHEAD = timedelta(hours=26)  # that something may have been saved after now: as far as zones are apart


@dataclass(frozen=True, slots=True)
class Part:
    """One thing that was looked at: what was found, and whether that is well."""

    what: str
    found: str
    is_well: bool = True


def examine(database: str, backups: Path, instruments: Instruments) -> Iterator[Part]:
    """Look at everything in turn. Never raises: what cannot be looked at is what is wrong."""
    yield Part("Up Tide", f"{__version__}, on Python {platform.python_version()}, SQLite {sqlite3.sqlite_version}")
    yield Part("Libraries", ", ".join(f"{name} {version(name)}" for name in LIBRARIES))
    facts = shipped_catalogue()
    yield Part("Catalogue", f"{len(facts.ingredients)} ingredients, {len(facts.sources)} sources, all of it readable")
    try:
        refuse_unusable(database)
    except DatabaseError as error:
        yield Part("Database", str(error), is_well=False)
        return
    path = file_of(database)
    if is_of_a_server(database):
        yield from _server(database, datetime.now(UTC))
    elif path is None or not path.exists():
        yield Part("Database", f"none at {path or database} yet: `uptide serve` makes it")
    else:
        yield from _database(path, backups, datetime.now(UTC))
    yield from _instruments(instruments)


def _server(database: str, now: datetime) -> Iterator[Part]:
    """A database of a server, which was found to answer."""
    engine = open_engine(database)
    try:
        found = schema_on(engine)
        state = f"schema {found}" if found else "nothing in it yet: `uptide serve` makes its tables"
        is_new = found == newest_schema()
        later = "" if is_new or not found else f", brought to {newest_schema()} at the next start"
        yield Part("Database", f"{engine.url}, {state}{later}; its server backs it up by its own means")
        if is_new:
            with Session(engine) as store:
                yield _clock(store, now)
    finally:
        engine.dispose()


def _clock(store: Session, now: datetime) -> Part:
    behind = clock_is_behind(store, now)
    return Part("Clock", behind or f"{now.astimezone():%Y-%m-%d %H:%M}, not before what was saved", is_well=not behind)


def _database(path: Path, backups: Path, now: datetime) -> Iterator[Part]:
    try:
        condition = look_into(path)
    except DatabaseError as error:
        yield Part("Database", str(error), is_well=False)
        return
    is_new = condition.schema == newest_schema()
    schema = f"schema {condition.schema}{'' if is_new else ', brought to ' + newest_schema() + ' at the next start'}"
    state = condition.damage or "every page of it is sound"
    size = path.stat().st_size / 1e6
    yield Part("Database", f"{path}, {size:.1f} MB, {schema}; {state}", is_well=not condition.damage)
    free = shutil.disk_usage(path.parent).free
    yield Part("Free space", f"{free / 1e9:.1f} GB beside it", is_well=free > LITTLE_SPACE)
    found = copies(path, backups)
    if not found:
        yield Part("Backups", f"none in {backups} yet: `uptide backup` makes one", is_well=False)
    else:
        age = now - found[0].made_at
        yield Part(
            "Backups", f"{len(found)} in {backups}, the newest of {say_day(found[0].made_at)}", is_well=age <= OLD
        )
    if is_new and not condition.damage:
        engine = open_engine(f"sqlite:///{path}")
        try:
            with Session(engine) as store:
                yield _clock(store, now)
        finally:
            engine.dispose()


def clock_is_behind(store: Session, now: datetime) -> str:
    """What is to be said where something was saved after now; nothing where the clock goes right."""
    newest = [
        store.scalar(select(moment).order_by(number.desc()).limit(1))
        for moment, number in (
            (VersionRow.saved_at, VersionRow.id),
            (MovementRow.entered_at, MovementRow.id),
            (BatchEntryRow.happened_at, BatchEntryRow.id),
        )
    ]
    last = max((each for each in newest if each is not None), default=now)
    if last <= now + AHEAD:
        return ""
    return (
        f"The clock of this machine says {say_day(now)}, and something was saved on {say_day(last)}: set it right, or "
        "what you save and make now gets wrong days"
    )


def _instruments(instruments: Instruments) -> Iterator[Part]:
    from uptide.devices.port import check_address

    for what, address in (("Scale", instruments.scale), ("Thermometer", instruments.thermometer)):
        if not address:
            yield Part(what, "none is set")
            continue
        try:
            check_address(address)
            is_there = address.startswith("socket:") or Path(address).exists()
            yield Part(what, f"{address}{'' if is_there else ' is not plugged in'}", is_well=is_there)
        except UptideError as error:
            yield Part(what, str(error), is_well=False)
    if instruments.spool:
        is_there = Path(instruments.spool).is_dir()
        yield Part("Label printer", f"{instruments.spool}{'' if is_there else ' is no folder'}", is_well=is_there)
