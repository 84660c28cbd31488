"""What a hostile user would try: forms of another site, and markup and formulas in every field that keeps words."""

from __future__ import annotations

import csv
import io
import json
import re
import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
from bench.fuzz import fuzz
from fastapi import FastAPI
from fastapi.testclient import TestClient
from pypdf import PdfReader
from sqlalchemy import String
from tests.web.conftest import token

from uptide.core.text import harmless
from uptide.store.models import Base
from uptide.web.app import create_app

MARKUP = "\"'><script>alert(1)</script><img src=x onerror=alert(2)>{{7*7}}"
FORMULA = "=HYPERLINK(1)"
# Columns of words that are keys of something else, or say how a thing is: with other words in them nothing is found.
KEYS = frozenset(
    {"ingredient", "code", "number", "token", "kind", "state", "key", "measure", "product", "container_kind"}
    | {"protocol", "site", "saw", "status", "limited_by", "worked_by", "look", "grade", "currency", "holder"}
)
PAGES = (
    "/",
    "/blends",
    "/blends/1",
    "/blends/1/compare",
    "/blends/1/versions/1/batch-sheet",
    "/blends/5/versions/1/label",
    "/blends/1/versions/1/make",
    "/shelf",
    "/shelf/lots",
    "/shelf/lots/SR-0448",
    "/shelf/lots/SR-0448/edit",
    "/shelf/own:rock-samphire-seed-oil",
    "/shelf/own/own:rock-samphire-seed-oil",
    "/shelf/find?wish=light",
    "/shelf/chart?blend=1",
    "/shelf/reach?blend=1",
    "/steeping",
    "/steeping/jars/2",
    "/steeping/jars/5",
    "/making",
    "/making/20261120-1",
    "/making/20261126-1/weigh",
    "/keeping",
    "/bottles/20261120-1-4",
    "/keeping/trace?of=SR-0446",
    "/keeping/use-up",
    "/keeping/taught",
    "/people",
    "/people/1",
    "/people/1/edit",
    "/measures",
    "/data",
)
DATA = ("/people.json", "/people/1.json", "/data/export.zip?people=true")
LISTS = (
    "/shelf/lots.csv",
    "/shelf/lots/certificates.csv",
    "/shelf/lots/own-oils.csv",
    "/keeping/trace/recall.csv?of=SR-0446",
)
PDFS = ("/making/20261120-1.pdf", "/blends/1/versions/1/batch-sheet.pdf")


def of_words() -> Iterator[tuple[str, str]]:
    """Every column that keeps words of a person, by its table."""
    for table in Base.metadata.tables.values():
        for column in table.columns:
            if (
                isinstance(column.type, String)
                and column.key not in KEYS
                and table.name not in ("preference", "used_form")
            ):
                yield table.name, column.name


def workshop(demo: Path, folder: Path, words: str) -> FastAPI:
    """The demo workshop, with the same words wherever a person could have written some."""
    path = folder / "web.db"
    shutil.copy(demo, path)
    with closing(sqlite3.connect(path)) as file:
        for trigger in ("movement_no_update", "batch_entry_no_update"):
            file.execute(f"DROP TRIGGER {trigger}")
        for table, column in of_words():
            if (table, column) == ("blend_entry", "typed"):
                file.execute("UPDATE blend_entry SET typed = typed || char(10) || ?", (words,))
            else:
                file.execute(f"UPDATE {table} SET {column} = ?", (words,))  # noqa: S608 - names of our own
        for table, column in (
            ("wearer_card", "said"),
            ("own_oil", "said"),
            ("batch", "plan"),
            ("batch_entry", "detail"),
        ):
            for number, said in file.execute(f"SELECT rowid, {column} FROM {table}").fetchall():  # noqa: S608
                changed = json.dumps(_with(json.loads(said), words))
                file.execute(f"UPDATE {table} SET {column} = ? WHERE rowid = ?", (changed, number))  # noqa: S608
        file.commit()
    return create_app(f"sqlite:///{path}", ("testserver",))


def _with(said: object, words: str) -> object:
    """The same, with other words where a person's stand."""
    if isinstance(said, dict):
        free = ("name", "note", "dislikes", "other_allergies", "words", "typed", "said", "inci", "botanical_name")
        return {key: words if key in free else _with(value, words) for key, value in said.items()}
    return [_with(each, words) for each in said] if isinstance(said, list) else said


def test_markup_that_is_stored_stays_text_on_every_page(demo: Path, tmp_path: Path) -> None:
    """In HTML and in the pictures in it no element begins, and no template is worked out."""
    with TestClient(workshop(demo, tmp_path, MARKUP)) as client:
        shown = 0
        for path in PAGES:
            answer = client.get(path)
            assert answer.status_code in (200, 409), path  # 409: no label for what nobody understands
            assert not re.search(r"<script>alert|<img src=x|\"'><", answer.text), path
            assert "49" not in re.findall(r"onerror=alert\(2\)&gt;(..)", answer.text), path
            shown += "&lt;script&gt;" in answer.text
            policy = answer.headers["content-security-policy"]
            assert "unsafe" not in policy
            assert "default-src 'none'" in policy
        assert shown > 20
        for path in DATA:
            assert client.get(path).headers["content-type"].startswith(("application/json", "application/zip")), path
            assert client.get(path).headers["x-content-type-options"] == "nosniff"
        for path in PDFS:
            answer = client.get(path)
            assert answer.headers["content-type"] == "application/pdf", path
            assert PdfReader(io.BytesIO(answer.content)).pages
        feed = client.get("/keeping/calendar.ics")
        assert all(line[:1] == " " or re.match(r"[A-Z-]+[:;]", line) for line in feed.text.splitlines())


def test_no_cell_that_is_stored_is_a_formula_in_a_spreadsheet(demo: Path, tmp_path: Path) -> None:
    with TestClient(workshop(demo, tmp_path, FORMULA)) as client:
        for path in LISTS:
            answer = client.get(path)
            assert answer.status_code == 200, path
            cells = [cell for row in csv.reader(io.StringIO(answer.text, newline="")) for cell in row]
            assert harmless(FORMULA) in cells, path
            assert not [cell for cell in cells if cell.startswith(("=", "+", "@", "\t", "\r"))], path
        lots = client.get("/shelf/lots.csv").text
        form = {"token": token(client, "/shelf/lots")}
        back = client.post("/shelf/lots/bring-in", data=form, files={"file": ("lots.csv", lots, "text/csv")})
        assert back.status_code == 200
        assert client.get("/shelf/lots.csv").text == lots


def test_every_form_is_refused_that_no_page_handed_out(app: FastAPI, client: TestClient, tmp_path: Path) -> None:
    """Every address that takes one, as the application knows them itself: nothing is changed by any."""
    routes = [each for room in app.state.rooms for each in room.routes]
    client.get("/")
    before = dump(tmp_path / "web.db")
    tried = 0
    for route in routes:
        path = getattr(route, "path", "")
        if (
            "POST" not in getattr(route, "methods", ())
            or path.startswith("/api/")
            or path in ("/sheet", "/enter/first")
        ):
            continue
        address = path.format_map(dict.fromkeys(getattr(route, "param_convertors", {}), "1"))
        for data, headers in (
            ({}, {}),
            ({"token": "x", "name": "Storm", "new": "30 g jojoba"}, {"origin": "https://evil.example"}),
        ):
            tried += 1
            answer = client.post(address, data=data, headers=headers, follow_redirects=False)
            assert answer.status_code in (400, 403, 404, 422), (address, answer.status_code)
    assert tried > 90
    assert dump(tmp_path / "web.db") == before


def test_another_host_name_is_answered_with_nothing(client: TestClient) -> None:
    for path in ("/", "/people", "/data/export.zip", "/api/docs", "/static/app.js"):
        assert client.get(path, headers={"host": "evil.example"}).status_code == 400
    assert client.post("/blends", data={}, headers={"host": "evil.example"}).status_code == 400


def dump(path: Path) -> list[str]:
    with closing(sqlite3.connect(path)) as file:
        return list(file.iterdump())


@pytest.mark.long
def test_odd_words_break_nothing() -> None:
    """A few of the requests of `make fuzz`."""
    found = fuzz(120, seed=5)

    assert found.broken == []
    assert sum(found.statuses.values()) > 115
    assert found.statuses[303] > 3  # forms that were acted on
