"""On the bench: what could take the place of a row, asked for with a button and taken with another."""

from __future__ import annotations

import re

from fastapi.testclient import TestClient
from tests.web.conftest import token, words

ROWS = ["50 g grapeseed", "30 g jojoba", "20 g rosehip", "5 drops lavender"]


def worked(client: TestClient, op: str) -> str:
    form = {"typed": ROWS, "answers": ["{}"] * 4, "op": op, "token": token(client)}
    return client.post("/sheet", data=form, headers={"x-sheet": "fragment"}).text


def test_a_place_is_filled_and_what_changes_is_said_first(client: TestClient) -> None:
    page = worked(client, "instead:2")

    assert "Instead of Rosehip seed oil" in words(page)
    ops = re.findall(r'value="(stand-in:2:[^"]+)"', page)
    assert len(ops) == 6  # and three that stretch it
    assert re.search(r"linoleic \d+\.\d → \d+\.\d %", words(page))
    assert any("strawberry-seed" in op for op in ops)
    taken = worked(client, next(op for op in ops if "strawberry-seed" in op and "rosehip" not in op))
    assert re.search(r'value="[\d.]+ g Strawberry seed oil"', taken)
    assert 'value="20 g rosehip"' not in taken
    assert "Instead of" not in taken


def test_what_has_no_place_is_said(client: TestClient) -> None:
    assert "Only an oil that is weighed has a place" in words(worked(client, "instead:3"))
    assert "Instead of" not in words(worked(client, "instead:9"))


def test_what_no_button_sends_changes_nothing_and_is_said(client: TestClient) -> None:
    page = words(worked(client, "stand-in:2:zorgblat=1"))

    assert "zorgblat" in page
    assert "is not something this sheet can do" in words(worked(client, "stand-in:2:argan=much"))


def test_the_grade_of_a_row_is_chosen_by_a_tap(client: TestClient) -> None:
    assert 'value="grade:0:unrefined"' in worked(client, "instead:0")
    assert "grade:3:" not in worked(client, "instead:3")  # a scent has none
    page = worked(client, "grade:0:refined")

    assert 'value="50 g refined grapeseed"' in page
    assert "Grapeseed oil, refined" in words(page)
    assert "“golden” is no grade" in words(worked(client, "grade:0:golden"))


def test_half_of_a_dear_oil_stays_and_another_takes_the_rest(client: TestClient) -> None:
    page = worked(client, "instead:2")
    halves = [op for op in re.findall(r'value="(stand-in:2:[^"]+)"', page) if "rosehip=0.50" in op]

    assert "To stretch it: half of it stays" in words(page)
    assert len(halves) == 3
    taken = worked(client, halves[0])
    assert 'value="10 g Rosehip seed oil"' in taken
    assert len(re.findall(r'name="typed"[^>]*value="10 g ', taken)) == 2


def test_a_step_more_or_less_says_what_it_changes_before_it_is_taken(client: TestClient) -> None:
    page = words(worked(client, "instead:0"))

    more = re.search(r"More: 51 g grapeseed linoleic (\d+\.\d) → (\d+\.\d) %", page)
    less = re.search(r"Less: 49 g grapeseed linoleic (\d+\.\d) → (\d+\.\d) %", page)
    if more is not None:
        assert float(more[2]) > float(more[1])
    if less is not None:
        assert float(less[2]) < float(less[1])
    assert "More: 51 g grapeseed" in page
    assert 'value="51 g grapeseed"' in worked(client, "step:0:more")
    assert 'value="49 g grapeseed"' in worked(client, "step:0:less")
    assert 'value="6 drops lavender"' in worked(client, "step:3:more")
    assert "More: 6 drops lavender" in words(worked(client, "instead:3"))
