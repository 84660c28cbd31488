"""A workbook of what there is, lots from one, and a blend as text."""

from __future__ import annotations

import io

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from openpyxl import Workbook, load_workbook
from tests.web.conftest import saved, token, words

from uptide.formats.xlsx import MEDIA_TYPE
from uptide.store.shelf import load_lot


def test_a_workbook_holds_blends_shelf_and_batches(app: FastAPI, client: TestClient) -> None:
    book, out = Workbook(), io.BytesIO()
    sheet = book.active
    assert sheet is not None
    for row in (("code", "ingredient", "bought_g", "left_g", "note"), ("A-1", "jojoba", 500, 412.5, "=1+1")):
        sheet.append(row)
    sheet["E2"].data_type = "s"
    book.save(out)
    form = {"token": token(client, "/shelf/lots")}
    came = client.post("/shelf/lots/bring-in", data=form, files={"file": ("lots.xlsx", out.getvalue(), MEDIA_TYPE)})
    assert "1 lot added" in words(came.text)
    with app.state.sessions() as store:
        assert load_lot(store, "A-1").left_g == 412.5
    saved(client, name="Dune oil", new="30 g jojoba\n10 g grapeseed")
    answer = client.get("/data/workbook.xlsx")
    found = load_workbook(io.BytesIO(answer.content))
    blends, shelf = (list(found[name].iter_rows(values_only=True)) for name in ("Blends", "Shelf"))

    assert answer.headers["content-type"] == MEDIA_TYPE
    assert found.sheetnames == ["Blends", "Shelf", "Batches"]
    assert [row[0] for row in blends] == ["blend", "Dune oil", "Dune oil"]
    assert blends[1][4:7] == ("30 g jojoba", "Jojoba oil (liquid wax)", 30)
    assert blends[1][8] == pytest.approx(75)
    assert shelf[1][0] == "A-1"
    assert shelf[1][8] == 412.5
    assert shelf[1][12] == "=1+1"


def test_what_is_no_workbook_leaves_the_lots_alone(client: TestClient) -> None:
    form = {"token": token(client, "/shelf/lots")}
    answer = client.post("/shelf/lots/bring-in", data=form, files={"file": ("lots.xlsx", b"PK\x03\x04no", MEDIA_TYPE)})

    assert answer.status_code == 422
    assert "lots.xlsx is no workbook that can be read" in words(answer.text)


def test_a_blend_is_text_that_a_friend_can_read(client: TestClient) -> None:
    client.post("/people", data={"token": token(client, "/people/new"), "name": "Wren", "pregnant": "yes"})
    saved(client, name="Dune oil", new="30 g jojoba\n10 g grapeseed\n60 drops bergamot", wearer="1")
    answer = client.get("/blends/1/versions/1.txt")

    assert answer.headers["content-type"].startswith("text/plain")
    lines = answer.text.splitlines()
    assert lines[0] == "Dune oil, version 1"
    assert "    30.00 g" in answer.text
    assert "30 g jojoba (Jojoba oil (liquid wax))" in answer.text
    assert any(line.startswith("- ") and "bergamot" in line.lower() for line in lines)
    assert "Wren" not in answer.text
    assert "\nNot for: " in answer.text
    assert "Not medical or legal advice" in lines[-1]
    assert client.get("/blends/1/versions/9.txt").status_code == 404
