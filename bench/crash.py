"""Kill the program at any moment of what it writes, again and again: nothing that was answered is lost or half there.

make crash prints a line for each kind of work. Each is done in a process of its own that says what it has finished,
and is killed without warning; then the files are looked at as the next start finds them.
"""

from __future__ import annotations

import multiprocessing
import os
import signal
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from multiprocessing.connection import Connection
from pathlib import Path
from random import Random
from tempfile import TemporaryDirectory

from alembic import command
from sqlalchemy import text
from sqlalchemy.orm import Session

from uptide.core.ingredients.lot import Lot
from uptide.core.ledger.movement import Movement, MovementKind
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.store.backups import back_up, copies, folder_of
from uptide.store.blends import create_blend, save_version
from uptide.store.condition import look_into, newest_schema
from uptide.store.database import as_writer, is_of_a_server, open_engine
from uptide.store.ledger import add_movement, lot_number
from uptide.store.migrating import migrate, migration_config
from uptide.store.shelf import save_lot
from uptide.workshop.exchanging import bring_in, export, plan_import
from uptide.workshop.restoring import restore

KILLS = 200
SOONEST, LATEST = 0.005, 0.25  # s after the process has begun to work
OLDER, IMPORTED = "0010", 30  # the schema that is upgraded; blends in the export that comes in
Say = Callable[[str], None]


@dataclass(frozen=True, slots=True)
class Place:
    """Where a trial is: the address of its database, and a folder for files."""

    url: str
    folder: Path

    @property
    def file(self) -> Path:
        """The database of a trial that is a file."""
        return self.folder / "up.db"


def in_a_file(folder: Path) -> Place:
    """A trial on a database that is a file."""
    return Place(f"sqlite:///{folder / 'up.db'}", folder)


def _do(place: Place, *statements: str) -> list[tuple[object, ...]]:
    """Do some in one transaction; return what the last one found."""
    engine = open_engine(place.url)
    try:
        with engine.begin() as connection:
            found = [connection.execute(text(each)) for each in statements][-1]
            return [tuple(row) for row in found] if found.returns_rows else []
    finally:
        engine.dispose()


def _damage(place: Place) -> str:
    return "" if is_of_a_server(place.url) else look_into(place.file).damage


def _a_blend(place: Place) -> None:
    migrate(place.url)
    with Session(open_engine(place.url)) as store, store.begin():
        as_writer(store)
        create_blend(store, "Endless", Recipe((Entry("100 g olive"),)))
        save_lot(store, Lot("O-1", "olive", bought_g=900_000.0, left_g=900_000.0))


def _save(place: Place, say: Say, name: str) -> None:
    engine = open_engine(place.url)
    for number in range(10**6):
        note = f"{name}-{number}"
        with Session(engine) as store, store.begin():
            save_version(as_writer(store), 1, Recipe((Entry(f"{number + 1} g olive {name}"),)), note)
        say(note)


def _saved(place: Place, said: list[str]) -> str:
    notes = {row[0] for row in _do(place, "SELECT note FROM blend_version")}
    empty = _do(place, "SELECT count(*) FROM blend_version WHERE id NOT IN (SELECT version_id FROM blend_entry)")
    return "lost" if not notes.issuperset(said) else "half" if empty != [(0,)] else ""


def _move(place: Place, say: Say, name: str) -> None:
    engine = open_engine(place.url)
    for number in range(10**6):
        with Session(engine) as store, store.begin():
            lot = lot_number(as_writer(store), "O-1")
            add_movement(store, lot, Movement(MovementKind.USE, -1000), token=f"{name}-{number}")
        say(f"{name}-{number}")


def _moved(place: Place, said: list[str]) -> str:
    tokens = [row[0] for row in _do(place, "SELECT token FROM movement")]
    return "lost" if not set(tokens).issuperset(said) else "twice" if len(tokens) != len(set(tokens)) else ""


def _an_export(place: Place) -> None:
    _a_blend(place)
    other = f"sqlite:///{place.folder / 'other.db'}"
    migrate(other)
    with Session(open_engine(other)) as store, store.begin():
        as_writer(store)
        for number in range(IMPORTED):
            create_blend(store, f"Of another {number}", Recipe((Entry("100 g olive"),)))
    with Session(open_engine(other)) as store:
        export(store, place.folder / "export.zip", people=True)


def _import(place: Place, say: Say, name: str) -> None:
    engine = open_engine(place.url)
    with Session(engine) as store, store.begin():
        bring_in(store, plan_import(as_writer(store), place.folder / "export.zip"), take_differing=False)
    say("in")
    while True:
        time.sleep(1)


def _imported(place: Place, said: list[str]) -> str:
    ((count,),) = _do(place, "SELECT count(*) FROM blend WHERE name LIKE 'Of another%'")
    ((rows,),) = _do(place, "SELECT count(*) FROM blend_entry")
    whole = (count, rows) == (IMPORTED, IMPORTED + 1)
    if not whole and (count, rows) != (0, 1):
        return "half"
    return "lost" if said and not whole else ""


def _empty_again(place: Place) -> None:
    """Take what came in out, so that it can come in anew."""
    of_theirs = "SELECT v.id FROM blend_version v JOIN blend b ON b.id = v.blend_id WHERE b.name LIKE 'Of another%'"
    _do(
        place,
        f"DELETE FROM blend_entry WHERE version_id IN ({of_theirs})",  # noqa: S608 - of our own
        f"DELETE FROM blend_version WHERE id IN ({of_theirs})",  # noqa: S608
        "DELETE FROM blend WHERE name LIKE 'Of another%'",
    )


def _back_up(place: Place, say: Say, name: str) -> None:
    database, day = place.file, 0
    while True:
        day += 1
        made = back_up(database, folder_of(database), datetime(2026, 1 + day // 28 % 12, 1 + day % 28, tzinfo=UTC))
        say(made.name)


def _backed_up(place: Place, said: list[str]) -> str:
    found = copies(place.file, folder_of(place.file))
    if any(look_into(copy.path).damage for copy in found):
        return "half"
    return "lost" if said and not found else ""


def _a_backup(place: Place) -> None:
    _a_blend(place)
    back_up(place.file, folder_of(place.file), datetime(2026, 1, 1, tzinfo=UTC))


def _restore(place: Place, say: Say, name: str) -> None:
    backup = copies(place.file, folder_of(place.file))[0].path
    while True:
        with Session(open_engine(place.url)) as store, store.begin():
            create_blend(as_writer(store), "To be undone", Recipe((Entry("100 g olive"),)))
        restore(place.url, backup, datetime.now(UTC))
        say("restored")


def _restored(place: Place, said: list[str]) -> str:
    """The database stands in its place, sound, as it was or as the backup has it."""
    if _damage(place):
        return "half"
    names = [row[0] for row in _do(place, "SELECT name FROM blend ORDER BY id")]
    return "" if names[:1] == ["Endless"] and set(names[1:]) <= {"To be undone"} else "lost"


def _an_older_one(place: Place) -> None:
    migrate(place.url)
    command.downgrade(migration_config(place.url), OLDER)
    _do(place, "INSERT INTO blend (id, name, created_at) VALUES (7, 'Dune', '2026-01-01')")


def _migrate(place: Place, say: Say, name: str) -> None:
    while True:
        migrate(place.url)
        say("migrated")
        command.downgrade(migration_config(place.url), OLDER)


def _migrated(place: Place, said: list[str]) -> str:
    ((schema,),) = _do(place, "SELECT version_num FROM alembic_version")
    if schema not in (OLDER, newest_schema()) or _damage(place):
        return "half"
    return "" if _do(place, "SELECT id, name FROM blend") == [(7, "Dune")] else "lost"


@dataclass(frozen=True, slots=True)
class Work:
    """A kind of work: what it begins with, what it does until it is killed, and what is wrong with the files then.

    `begin_anew` undoes what it finished, where it can be done once only; `of_files` says that no server can do it.
    """

    name: str
    prepare: Callable[[Place], None]
    work: Callable[[Place, Say, str], None]
    wrong: Callable[[Place, list[str]], str]
    begin_anew: Callable[[Place], None] | None = None
    of_files: bool = False


WORKS = (
    Work("saves", _a_blend, _save, _saved),
    Work("movements", _a_blend, _move, _moved),
    Work("imports", _an_export, work=_import, wrong=_imported, begin_anew=_empty_again),
    Work("backups", _a_blend, _back_up, _backed_up, of_files=True),
    Work("restores", _a_backup, _restore, _restored, of_files=True),
    Work("migrations", _an_older_one, _migrate, _migrated),
)


@dataclass(frozen=True, slots=True)
class Outcome:
    """How a kind of work came through."""

    name: str
    kills: int
    finished: int
    wrong: tuple[str, ...]


def kill(work: Work, place: Place, kills: int, seed: int) -> Outcome:
    """Do a kind of work and kill it so many times, in a place of its own."""
    work.prepare(place)
    fork, random = multiprocessing.get_context("fork"), Random(seed)  # noqa: S311 - when it is killed
    finished, wrong = 0, []
    said: list[str] = []
    for trial in range(kills):
        hears, says = fork.Pipe(duplex=False)
        child = fork.Process(target=_work, args=(work, place, says, f"{seed}-{trial}"), daemon=True)
        child.start()
        says.close()
        time.sleep(random.uniform(SOONEST, LATEST))
        os.kill(child.pid or 0, signal.SIGKILL)
        child.join()
        said = [*said, *_heard(hears)]
        found = work.wrong(place, said)
        if found:
            wrong.append(f"{work.name}, kill {trial}: {found}")
        if work.begin_anew is not None:
            finished, said = finished + len(said), []
            work.begin_anew(place)
    return Outcome(work.name, kills, finished + len(said), tuple(wrong))


def _work(work: Work, place: Place, says: Connection, name: str) -> None:
    work.work(place, says.send, name)


def _heard(hears: Connection) -> Iterator[str]:
    with suppress(EOFError):
        while hears.poll():
            yield str(hears.recv())


def main(kills: int = KILLS) -> int:
    """Kill all kinds of work in turn; print how each came through. Return 1 where anything was lost or half there."""
    bad = 0
    for seed, work in enumerate(WORKS):
        with TemporaryDirectory() as folder:
            begun = time.perf_counter()
            found = kill(work, in_a_file(Path(folder)), kills, seed)
            took = time.perf_counter() - begun
        bad += len(found.wrong)
        state = "; ".join(found.wrong) or "nothing lost, nothing half there"
        sys.stdout.write(f"{found.name:<12} {kills} kills, {found.finished:>5} finished, {took:4.0f} s: {state}\n")
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else KILLS))
