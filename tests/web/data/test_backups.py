"""The page of what is kept: a backup now and once a day, and what is said where none can be made."""

from __future__ import annotations

import shutil
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from sqlalchemy import update
from tests.web.conftest import saved, token, words

from uptide.store.condition import DatabaseError
from uptide.store.models import VersionRow
from uptide.web.app import create_app
from uptide.workshop import daily_copies
from uptide.workshop.daily_copies import DailyCopies

pytestmark = pytest.mark.of_files


def test_a_backup_is_made_by_a_tap_and_listed(client: TestClient, tmp_path: Path) -> None:
    page = client.get("/data").text
    assert "There is none yet." in words(page)
    done = client.post("/data/backup", data={"token": token(client, "/data")})

    (made,) = (tmp_path / "backups").iterdir()
    assert "it was looked through and is sound" in words(done.text)
    assert made.name in words(done.text)
    assert client.post("/data/backup", data={"token": "x"}).status_code == 403
    assert list((tmp_path / "backups").iterdir()) == [made]


def test_why_none_could_be_made_is_said_and_stays_said(client: TestClient, tmp_path: Path) -> None:
    (tmp_path / "backups").write_text("a file in the place of the folder")
    refused = client.post("/data/backup", data={"token": token(client, "/data")})

    assert refused.status_code == 400
    assert "No copy was made in" in words(refused.text)
    assert "No copy was made in" in words(client.get("/data").text)
    (tmp_path / "backups").unlink()
    client.post("/data/backup", data={"token": token(client, "/data")})
    assert "No copy was made in" not in words(client.get("/data").text)


def test_one_is_made_once_a_day_while_it_runs(
    tmp_path: Path, empty_database: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    shutil.copy(empty_database, tmp_path / "web.db")
    monkeypatch.setattr(daily_copies, "FIRST", 0.0)
    monkeypatch.setattr(daily_copies, "EVERY", 0.0)
    app = create_app(f"sqlite:///{tmp_path / 'web.db'}", ("testserver",), backups=tmp_path / "kept")
    (database, folder), engine = app.state.backups, app.state.sessions.kw["bind"]
    copies = DailyCopies(engine, database, folder)
    assert copies.is_due(datetime.now(UTC))
    with TestClient(app):
        while not copies.made:
            pass

    assert len(copies.made) == 1
    now = copies.made[0].made_at
    assert not copies.is_due(now)
    assert copies.is_due(now + timedelta(days=1))
    assert copies.is_due(now - timedelta(days=1))  # the clock was set back


def test_a_copy_loses_who_is_deleted(client: TestClient, app: FastAPI, tmp_path: Path) -> None:
    client.post("/people", data={"token": token(client, "/people/new"), "name": "Wren", "other_allergies": "zinnwald"})
    app.state.desk.back_up()
    (made,) = (tmp_path / "backups").iterdir()
    assert b"zinnwald" in made.read_bytes()
    client.post("/people/1/delete", data={"token": token(client, "/people/1/edit")})

    assert b"zinnwald" not in made.read_bytes()
    assert made.exists()


def test_a_backup_holds_what_was_saved_until_then(client: TestClient, app: FastAPI, tmp_path: Path) -> None:
    saved(client, name="Before")
    made = app.state.desk.back_up()
    saved(client, name="After")
    again = create_app(f"sqlite:///{made}", ("testserver",))
    with TestClient(again) as copy:
        page = words(copy.get("/blends").text)

    assert "Before" in page
    assert "After" not in page


def test_a_database_that_is_damaged_while_it_runs_is_answered_with_the_way_out(
    client: TestClient, app: FastAPI, tmp_path: Path
) -> None:
    saved(client)
    with app.state.sessions() as store, store.begin():
        store.connection().exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")
        engine = store.get_bind().engine
    engine.dispose()  # nothing of it is remembered
    file = tmp_path / "web.db"
    with file.open("r+b") as held:
        held.seek(100)
        held.write(b"\xff" * (file.stat().st_size - 100))
    answer = client.get("/blends")

    assert answer.status_code == 503
    assert "The database is damaged" in words(answer.text)
    assert "uptide restore" in words(answer.text)
    with pytest.raises(DatabaseError, match="damaged"):
        create_app(f"sqlite:///{file}", ("testserver",))


def test_a_clock_that_was_set_back_is_said_before_anything_is_made(client: TestClient, app: FastAPI) -> None:
    saved(client, name="Dune oil")
    assert "The clock of this machine" not in words(client.get("/").text)
    with app.state.sessions() as store, store.begin():
        store.execute(update(VersionRow).values(saved_at=datetime.now(UTC) + timedelta(hours=27)))
    assert "The clock of this machine says" in words(client.get("/").text)
    with app.state.sessions() as store, store.begin():
        store.execute(update(VersionRow).values(saved_at=datetime.now(UTC) + timedelta(hours=25)))
    assert "The clock of this machine" not in words(client.get("/").text)


def test_that_no_backup_could_be_made_stands_on_the_first_page(client: TestClient, tmp_path: Path) -> None:
    (tmp_path / "backups").write_text("a file in the place of the folder")
    client.post("/data/backup", data={"token": token(client, "/data")})

    assert "No copy was made in" in words(client.get("/").text)
