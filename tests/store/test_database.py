"""The file itself: upgraded whole or not at all, one writer at a time, and its owner's alone."""

from __future__ import annotations

import json
import multiprocessing
import os
import sqlite3
import stat
import subprocess
import sys
from contextlib import closing
from pathlib import Path

import pytest
from alembic import command
from sqlalchemy import text
from sqlalchemy.exc import StatementError
from sqlalchemy.orm import Session

from uptide.core.errors import UptideError
from uptide.core.skin.wearer import Wearer
from uptide.store.database import open_engine
from uptide.store.migrating import migrate, migration_config
from uptide.store.models import PreferenceRow
from uptide.store.people import PersonError, add_person, load_person

pytestmark = pytest.mark.of_files

EARLIER = "0003"


def url_of(path: Path) -> str:
    return f"sqlite:///{path}"


def schema(path: Path) -> set[str]:
    with closing(sqlite3.connect(path)) as connection:
        return {row[0] for row in connection.execute("SELECT sql FROM sqlite_master WHERE sql IS NOT NULL")}


@pytest.fixture
def older(tmp_path: Path) -> Path:
    """A database of an earlier schema with a blend in it."""
    path = tmp_path / "up.db"
    open_engine(url_of(path)).dispose()
    command.upgrade(migration_config(url_of(path)), EARLIER)
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("INSERT INTO blend (id, name, created_at) VALUES (7, 'Dune', '2026-01-01')")
        connection.commit()
    return path


def test_an_upgrade_that_is_killed_leaves_what_was_and_can_be_done_again(older: Path) -> None:
    before = schema(older)
    cut_off = (
        "import sqlite3, os, sys\n"
        "from sqlalchemy import event, Engine\n"
        "seen = [0]\n"
        "@event.listens_for(Engine, 'before_cursor_execute')\n"
        "def count(connection, cursor, statement, *rest):\n"
        "    seen[0] += statement.lstrip().upper().startswith(('CREATE', 'ALTER', 'DROP', 'INSERT'))\n"
        "    if seen[0] == int(sys.argv[2]): os._exit(9)\n"
        "from uptide.store.migrating import migrate\n"
        "migrate(sys.argv[1])\n"
    )
    for statement in ("1", "4", "9"):
        killed = subprocess.run([sys.executable, "-c", cut_off, url_of(older), statement], check=False)  # noqa: S603
        assert killed.returncode == 9
        assert schema(older) == before
    migrate(url_of(older))

    assert schema(older) != before
    with closing(sqlite3.connect(older)) as connection:
        assert connection.execute("SELECT name FROM blend").fetchall() == [("Dune",)]


def test_a_copy_is_made_before_an_upgrade_and_none_without_one(older: Path) -> None:
    migrate(url_of(older))
    copies = sorted((older.parent / "backups").iterdir())
    assert [copy.name[:3] + copy.name[-7:] for copy in copies] == [f"up-{EARLIER}.db"]
    with closing(sqlite3.connect(copies[0])) as connection:
        assert connection.execute("SELECT name FROM blend").fetchall() == [("Dune",)]
        assert connection.execute("SELECT version_num FROM alembic_version").fetchall() == [(EARLIER,)]
    migrate(url_of(older))

    assert sorted((older.parent / "backups").iterdir()) == copies


def test_first_starts_at_once_all_find_a_whole_database(tmp_path: Path) -> None:
    path = tmp_path / "new" / "up.db"
    apart = multiprocessing.get_context("forkserver")
    apart.set_forkserver_preload(["uptide.store.migrating"])  # so that all begin at once
    running = [apart.Process(target=migrate, args=(url_of(path),)) for _ in range(4)]
    for process in running:
        process.start()
    for process in running:
        process.join()

    assert [process.exitcode for process in running] == [0, 0, 0, 0]
    assert len(schema(path)) > 10


def test_a_folder_that_another_start_makes_meanwhile_is_taken(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(Path, "exists", lambda self: False)  # as it is seen just before the other makes it

    open_engine(url_of(tmp_path / "up.db")).dispose()

    assert (tmp_path / "up.db").is_file()


@pytest.mark.skipif(os.name != "posix", reason="permissions of POSIX")
def test_the_file_its_folder_and_what_stands_beside_it_are_the_owner_s_alone(tmp_path: Path) -> None:
    path = tmp_path / "home" / "up.db"
    migrate(url_of(path))
    engine = open_engine(url_of(path))
    with Session(engine) as session, session.begin():
        add_person(session, Wearer("Wren"))
        modes = {each.name: stat.S_IMODE(each.stat().st_mode) for each in (path.parent, *path.parent.iterdir())}
    engine.dispose()

    assert modes["home"] == 0o700
    assert {mode for name, mode in modes.items() if name != "home"} == {0o600}
    assert "up.db-wal" in modes


def test_an_older_file_that_all_could_read_is_closed_on_opening(tmp_path: Path) -> None:
    path = tmp_path / "up.db"
    path.touch(mode=0o644)
    path.chmod(0o644)
    migrate(url_of(path))

    assert stat.S_IMODE(path.stat().st_mode) == 0o600


def test_no_number_that_is_none_is_ever_stored(tmp_path: Path) -> None:
    migrate(url_of(tmp_path / "up.db"))
    engine = open_engine(url_of(tmp_path / "up.db"))
    with Session(engine) as session:
        session.add(PreferenceRow(key="x", value={"rate": float("nan")}))
        with pytest.raises(StatementError, match="not JSON compliant"):
            session.flush()


@pytest.mark.parametrize(
    ("stored", "read"), [("\ud800", "?"), ("a\udfffb", "a?b"), ("😀", "😀"), ("\\ud800", "\\ud800")]
)
def test_half_a_character_that_was_stored_is_read_as_a_mark(tmp_path: Path, stored: str, read: str) -> None:
    migrate(url_of(tmp_path / "up.db"))
    engine = open_engine(url_of(tmp_path / "up.db"))
    with Session(engine) as session, session.begin():
        session.execute(text("INSERT INTO preference VALUES ('x', :value)"), {"value": json.dumps({"name": stored})})
    with Session(engine) as session:
        row = session.get(PreferenceRow, "x")
        assert row is not None
        assert row.value == {"name": read}


def test_half_a_character_in_a_name_is_refused(tmp_path: Path) -> None:
    migrate(url_of(tmp_path / "up.db"))
    with Session(open_engine(url_of(tmp_path / "up.db"))) as session:
        with pytest.raises(UptideError, match="half a character"):
            add_person(session, Wearer("Wr\ud800en"))
        with pytest.raises(PersonError):
            add_person(session, Wearer("  "))
        assert load_person(session, add_person(session, Wearer("Wren 😀"))).wearer.name == "Wren 😀"
