"""Copies of a database: whole, looked through, thinned out; and what is the matter with a file, in words."""

from __future__ import annotations

import os
import sqlite3
import stat
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from sqlalchemy.orm import Session

from uptide.core.skin.wearer import Wearer
from uptide.store.backups import Copy, back_up, copies, erase_in_copies, folder_of, kept_of
from uptide.store.condition import DatabaseError, look_into, newest_schema, refuse_unusable, what_happened
from uptide.store.database import open_engine
from uptide.store.migrating import migrate
from uptide.store.people import add_person, delete_person
from uptide.workshop.restoring import look_at, restore

pytestmark = pytest.mark.of_files

NOW = datetime(2026, 11, 27, 13, 0, tzinfo=UTC)


def url_of(path: Path) -> str:
    return f"sqlite:///{path}"


@pytest.fixture
def database(tmp_path: Path) -> Path:
    path = tmp_path / "up.db"
    migrate(url_of(path))
    with closing(sqlite3.connect(path)) as file:
        file.execute("INSERT INTO blend (name, created_at) VALUES ('Dune', '2026-01-01')")
        file.commit()
    return path


def people(path: Path, *names: str, gone: tuple[int, ...] = ()) -> None:
    engine = open_engine(url_of(path))
    with Session(engine) as session, session.begin():
        for name in names:
            add_person(session, Wearer(name, other_allergies="zinnwaldite"))
        for number in gone:
            delete_person(session, number)
    engine.dispose()


def count(path: Path, table: str) -> int:
    with closing(sqlite3.connect(path)) as file:
        return int(file.execute(f"SELECT count(*) FROM {table}").fetchone()[0])  # noqa: S608 - of the test's own


def test_a_copy_is_made_while_somebody_writes_and_is_one_sound_file(database: Path) -> None:
    with closing(sqlite3.connect(database)) as writer:
        writer.execute("BEGIN IMMEDIATE")
        writer.execute("INSERT INTO blend (name, created_at) VALUES ('Never saved', '2026-01-01')")
        made = back_up(database, folder_of(database), NOW)

    assert made.name == f"up-2026-11-27T130000-{newest_schema()}.db"
    assert [each.path for each in copies(database, made.parent)] == [made]
    assert [each.name for each in made.parent.iterdir()] == [made.name]
    assert count(made, "blend") == 1
    assert look_into(made).damage == ""
    assert stat.S_IMODE(made.stat().st_mode) == 0o600
    assert stat.S_IMODE(made.parent.stat().st_mode) == 0o700


def test_seven_days_four_weeks_and_twelve_months_are_kept() -> None:
    """Reckoned by hand for two years of two copies a day: the last of each, some of which are the same."""
    every = [Copy(NOW - timedelta(hours=12 * n), "0015", Path(str(n))) for n in range(2 * 730)]
    kept = {copy.made_at for copy in kept_of(every)}
    days = {NOW - timedelta(days=n) for n in range(7)}
    weeks = {NOW, *(datetime(2026, 11, day, 13, tzinfo=UTC) for day in (22, 15, 8))}  # Sundays
    months = {
        NOW,
        *(datetime(2026, month + 1, 1, 13, tzinfo=UTC) - timedelta(days=1) for month in range(1, 11)),
        datetime(2025, 12, 31, 13, tzinfo=UTC),
    }

    assert kept == days | weeks | months
    older = Copy(NOW - timedelta(days=900), "0003", Path("old"))
    assert older in set(kept_of([*every, older]))  # the last one of its schema


def test_an_older_copy_goes_when_a_newer_one_of_its_day_is_there(database: Path) -> None:
    folder = folder_of(database)
    first, second = back_up(database, folder, NOW), back_up(database, folder, NOW + timedelta(hours=2))
    (folder / "letter.txt").write_text("not ours")

    assert not first.exists()
    assert second.exists()
    back_up(database, folder, NOW + timedelta(days=1))
    assert second.exists()
    assert (folder / "letter.txt").exists()


def test_a_damaged_database_makes_no_copy_and_costs_none(database: Path) -> None:
    made = back_up(database, folder_of(database), NOW)
    damaged = bytearray(database.read_bytes())
    damaged[4096 * 3 : 4096 * 5] = os.urandom(4096 * 2)
    database.write_bytes(damaged)
    with pytest.raises(DatabaseError, match="damaged"):
        back_up(database, folder_of(database), NOW + timedelta(hours=1))

    assert [each.path for each in copies(database, made.parent)] == [made]
    assert [each.name for each in made.parent.iterdir()] == [made.name]
    aside = restore(url_of(database), made, NOW)
    assert aside is not None
    assert aside.read_bytes() == bytes(damaged)
    assert count(database, "blend") == 1


def test_what_differs_is_said_before_a_backup_is_put_in_place(database: Path) -> None:
    made = back_up(database, folder_of(database), NOW)
    with closing(sqlite3.connect(database)) as file:
        file.execute("INSERT INTO blend (name, created_at) VALUES ('Later', '2026-11-01')")
        file.commit()
    looked = look_at(url_of(database), made)

    assert [(each.what, each.here, each.there) for each in looked.differences] == [("blends", 2, 1)]
    aside = restore(url_of(database), made, NOW)
    assert aside == database.with_name("up-replaced-2026-11-27T130000.db")
    assert aside is not None
    assert (count(aside, "blend"), count(database, "blend")) == (2, 1)
    assert made.exists()
    refuse_unusable(url_of(database))


def test_who_was_deleted_is_in_no_copy_and_comes_back_with_none(database: Path, tmp_path: Path) -> None:
    people(database, "Wren", "Ines")
    made = back_up(database, folder_of(database), NOW)
    kept_elsewhere = tmp_path / "on-a-stick.db"
    kept_elsewhere.write_bytes(made.read_bytes())
    people(database, "Tove", gone=(1,))
    engine = open_engine(url_of(database))
    assert erase_in_copies(engine) == 1
    assert erase_in_copies(engine) == 0
    engine.dispose()

    assert b"Wren" not in made.read_bytes()
    assert b"Ines" in made.read_bytes()
    assert [each.name for each in made.parent.iterdir()] == [made.name]
    assert look_at(url_of(database), kept_elsewhere).erased == {1}
    restore(url_of(database), kept_elsewhere, NOW)
    with closing(sqlite3.connect(database)) as file:
        assert file.execute("SELECT id FROM wearer").fetchall() == [(2,)]


def test_who_came_after_a_backup_is_lost_from_no_copy_when_that_is_put_in_place(database: Path) -> None:
    """An older state that is put back knows nothing of them; nobody deleted them, and a later copy still has them."""
    people(database, "Wren")
    early = back_up(database, folder_of(database), NOW)
    people(database, "Ines", "Tove")
    late = back_up(database, folder_of(database), NOW + timedelta(days=1))
    restore(url_of(database), early, NOW)
    engine = open_engine(url_of(database))
    assert erase_in_copies(engine) == 0
    engine.dispose()

    assert count(database, "wearer") == 1
    assert count(late, "wearer") == 3


def test_a_copy_of_an_older_schema_goes_with_who_was_deleted(database: Path) -> None:
    people(database, "Wren")
    made = back_up(database, folder_of(database), NOW)
    with closing(sqlite3.connect(made)) as file:
        file.execute("UPDATE alembic_version SET version_num = '0014'")
        file.commit()
    older = made.rename(made.with_name("up-2026-11-26T130000-0014.db"))
    broken = made.with_name(f"up-2026-11-25T130000-{newest_schema()}.db")
    broken.write_bytes(b"no database")
    people(database, gone=(1,))
    engine = open_engine(url_of(database))
    assert erase_in_copies(engine) == 2
    engine.dispose()

    assert not older.exists()
    assert not broken.exists()


@pytest.mark.parametrize(
    ("url", "said"),
    [
        ("nowhere", "“nowhere” is no address of a database"),
        ("oracle://x/y", "A database of oracle cannot be used"),
        ("sqlite:///{}", "is a folder"),
        ("sqlite:///{}/text.txt/up.db", "text.txt is a file, so that up.db cannot be in it"),
        ("sqlite:///{}/text.txt", "is no database: it is another file, or a damaged one"),
        ("sqlite:///{}/other.db", "is a database of another program"),
        ("sqlite:///{}/newer.db", "was written by a newer Up Tide (its schema is 9999"),
        ("sqlite:///{}/damaged.db", "is damaged or cannot be read"),
    ],
)
def test_what_cannot_be_opened_is_refused_in_a_sentence_and_left_as_it_is(
    tmp_path: Path, database: Path, url: str, said: str
) -> None:
    (tmp_path / "text.txt").write_text("30 g jojoba")
    for name, sql in (("other", "CREATE TABLE x (y)"), ("newer", "UPDATE alembic_version SET version_num = '9999'")):
        path = tmp_path / f"{name}.db"
        path.write_bytes(database.read_bytes() if name == "newer" else b"")
        with closing(sqlite3.connect(path)) as file:
            file.execute(sql)
            file.commit()
    (tmp_path / "damaged.db").write_bytes(database.read_bytes()[:16] + b"\xff" * 8000)
    before = {each: each.read_bytes() for each in tmp_path.iterdir() if each.is_file()}
    with pytest.raises(DatabaseError) as refused:
        migrate(url.format(tmp_path))

    assert said in str(refused.value)
    assert "\n" not in str(refused.value)
    assert {each: each.read_bytes() for each in tmp_path.iterdir() if each.is_file()} == before


def test_a_file_that_may_not_be_written_to_is_refused(database: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """As the system says it of a file; whoever runs the tests may perhaps write to all of them."""
    may = os.access
    monkeypatch.setattr(os, "access", lambda path, mode: Path(path) != database and may(path, mode))
    with pytest.raises(DatabaseError, match="cannot be written to"):
        refuse_unusable(url_of(database))
    monkeypatch.setattr(os, "access", lambda path, mode: Path(path) != database.parent and may(path, mode))
    with pytest.raises(DatabaseError, match="Nothing can be written into"):
        refuse_unusable(url_of(database.with_name("new.db")))


@pytest.mark.parametrize(
    ("said", "words"),
    [
        ("database or disk is full", "The disk is full"),
        ("attempt to write a readonly database", "is read-only"),
        ("database is locked", "Another program is writing"),
        ("database disk image is malformed", "is damaged"),
        ("strange", "The database did not take this (strange)"),
    ],
)
def test_what_the_database_says_is_put_in_words(said: str, words: str) -> None:
    assert words in what_happened(said)
