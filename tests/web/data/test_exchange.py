"""Everything out by a tap, and back in by two."""

from __future__ import annotations

import io
import os
import shutil
import time
import zipfile
from pathlib import Path

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import field, saved, token, words

from uptide.web.app import create_app


def packed(client: TestClient, **asked: str) -> bytes:
    answer = client.get("/data/export.zip", params=asked)
    assert answer.headers["content-type"] == "application/zip"
    assert "attachment" in answer.headers["content-disposition"]
    return answer.content


def look(client: TestClient, content: bytes) -> tuple[int, str]:
    form = {"token": token(client, "/data")}
    answer = client.post("/data/import", data=form, files={"file": ("up.zip", content, "application/zip")})
    return answer.status_code, answer.text


def test_what_was_exported_comes_into_another_workshop(
    client: TestClient, app: FastAPI, tmp_path: Path, empty_database: Path
) -> None:
    saved(client, name="Dune oil")
    client.post("/people", data={"token": token(client, "/people/new"), "name": "Wren"})
    alone, whole = packed(client), packed(client, people="true")
    with zipfile.ZipFile(io.BytesIO(alone)) as files:
        assert "people.jsonl" not in files.namelist()
    shutil.copy(empty_database, tmp_path / "other.db")
    with TestClient(create_app(f"sqlite:///{tmp_path / 'other.db'}", ("testserver",))) as other:
        status, page = look(other, whole)
        assert status == 200
        assert "blend: 1 new" in words(page)
        assert "Dune oil" not in other.get("/blends").text
        form = {"token": field(page, "token"), "incoming": field(page, "incoming")}
        done = other.post("/data/import/now", data=form)
        assert "It is in." in words(done.text)
        assert "Dune oil" in other.get("/blends").text
        assert "Wren" in other.get("/people").text
        assert packed(other, people="true") == whole
        again = other.post("/data/import/now", data=form)
        assert (again.status_code, "no longer here" in words(again.text)) == (400, True)
        assert "All of it is here already" in words(look(other, whole)[1])


def test_what_is_saved_after_an_import_gets_numbers_of_its_own(
    client: TestClient, tmp_path: Path, empty_database: Path
) -> None:
    shutil.copy(empty_database, tmp_path / "other.db")
    with TestClient(create_app(f"sqlite:///{tmp_path / 'other.db'}", ("testserver",))) as other:
        saved(other, name="Dune oil")
        whole = packed(other, people="true")
    page = look(client, whole)[1]
    client.post("/data/import/now", data={"token": field(page, "token"), "incoming": field(page, "incoming")})
    assert saved(client, name="Storm oil").startswith("/blends/2")


@pytest.mark.of_files
def test_a_bad_file_is_named_by_what_it_is_called_and_nothing_of_it_stays(client: TestClient, tmp_path: Path) -> None:
    saved(client)
    status, page = look(client, b"30 g jojoba")
    assert status == 400
    assert "up.zip is neither a folder nor a ZIP file" in words(page)
    broken = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(packed(client))) as files, zipfile.ZipFile(broken, "w") as changed:
        for name in files.namelist():
            content = files.read(name)
            changed.writestr(name, content.replace(b'"id": 1', b'"id": "one"') if name == "blends.jsonl" else content)
    status, page = look(client, broken.getvalue())

    assert status == 422
    assert "blends.jsonl, line 1: id:" in words(page)
    assert list((tmp_path / "incoming").iterdir()) == []
    form = {"token": token(client, "/data"), "incoming": "../web"}
    assert client.post("/data/import/now", data=form).status_code == 400


@pytest.mark.of_files
def test_a_file_that_waited_for_more_than_a_day_is_taken_away(client: TestClient, tmp_path: Path) -> None:
    look(client, packed(client) if saved(client) else b"")
    (waiting,) = (tmp_path / "incoming").iterdir()
    assert waiting.stat().st_mode & 0o777 == 0o600
    os.utime(waiting, (time.time() - 90_000,) * 2)
    look(client, packed(client))

    assert not waiting.exists()
