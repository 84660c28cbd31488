"""Labels say what was poured, as many as there are bottles, on paper, as a picture and in the spool."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from pypdf import PdfReader
from tests.web.conftest import token, words
from tests.web.making.at_bench import begin, blend, made

from uptide.core.months import say_day
from uptide.devices.printer import SpoolPrinter
from uptide.workshop.clock import today


def test_labels_say_what_was_poured_as_many_as_there_are_bottles(client: TestClient) -> None:
    batch = made(client)
    asked = {"sheet": "a4-63x72", "maker": "Skerry Row, Harbour Lane 3", "directions": "Two drops at night."}
    page = client.get(f"{batch}/labels", params=asked)
    said = words(page.text)
    assert "2 bottles, 1 to a bottle: 1 page" in said
    assert f"Batch {batch.rpartition('/')[2]}. Made {say_day(today()).rpartition(' ')[0]}" in said
    assert 'width="63.5mm"' in page.text
    assert 'class="code"' in page.text
    sheet = {**asked, "first": "11"}  # of twelve: one bottle's label stands on the next sheet
    assert "2 bottles, 1 to a bottle: 2 pages" in words(client.get(f"{batch}/labels", params=sheet).text)
    assert len(PdfReader(BytesIO(client.get(f"{batch}/labels.pdf", params=sheet).content)).pages) == 2
    assert "Who answers for it" not in said
    assert "Who answers for it" in words(client.get(f"{batch}/labels").text)
    pdf = client.get(f"{batch}/labels.pdf", params=asked)
    text = "".join(each.extract_text() for each in PdfReader(BytesIO(pdf.content)).pages)
    assert text.count("Skerry Row, Harbour Lane 3") == 2
    assert text.count("Linalool") == 2
    assert client.get(f"{batch}/labels.png", params=asked).content.startswith(b"\x89PNG")
    assert client.get(f"{batch}/labels/outlines.pdf", params=asked).content.startswith(b"%PDF")


@pytest.mark.parametrize(
    ("asked", "why"),
    [
        ({"sheet": "papyrus"}, "There is no sheet “papyrus”"),
        ({"sheet": "single", "width": "5"}, "cannot be set"),
        ({"sheet": "single", "width": "wide"}, "is not a width in mm"),
        ({"sheet": "a4-63x72", "first": "12"}, "number of labels"),
        ({"sheet": "single", "width": "30", "height": "12"}, "take a larger label"),
    ],
)
def test_labels_that_cannot_be_set_say_why(client: TestClient, asked: dict[str, str], why: str) -> None:
    batch = made(client)
    answer = client.get(f"{batch}/labels", params=asked)
    assert answer.status_code == 422
    assert why in words(answer.text)


def test_before_anything_is_poured_there_is_no_label(client: TestClient) -> None:
    batch = begin(client, blend(client))
    assert "Nothing was poured yet" in words(client.get(f"{batch}/labels").text)


def test_labels_go_into_the_spool_once(app: FastAPI, client: TestClient, tmp_path: Path) -> None:
    batch = made(client)
    refused = client.post(f"{batch}/labels/print", data={"token": token(client, batch)})
    assert "There is no label printer" in words(refused.text)
    app.state.printer = SpoolPrinter(tmp_path / "spool")
    form = {"token": token(client, batch), "sheet": "a4-63x72"}
    for _ in range(2):
        assert "In the spool as 0001-labels-" in words(client.post(f"{batch}/labels/print", data=form).text)
    jobs = list((tmp_path / "spool").iterdir())
    assert [job.name[:12] for job in jobs] == ["0001-labels-"]
    assert len(PdfReader(jobs[0]).pages) == 1
    client.post(f"{batch}/labels/print", data=form | {"token": token(client, batch)})
    assert len(list((tmp_path / "spool").iterdir())) == 2
