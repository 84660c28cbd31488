"""A lot turns out bad: it is traced, held, and everybody who has some of it is known."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from io import StringIO
from pathlib import Path

import pytest
from bench.measure import running
from playwright.sync_api import Page, expect

BATCH = "20261120-1"


@pytest.fixture(scope="module")
def workshop() -> Iterator[str]:
    with running() as base:
        yield base


def test_a_bad_lot_from_one_bottle_to_all_who_have_it(page: Page, workshop: str) -> None:
    # Two of the four bottles go to Ines, from the batch; Maren has one already.
    page.goto(f"{workshop}/making/{BATCH}")
    page.get_by_label("How many").fill("2")
    page.get_by_label("To, by card").select_option(label="Ines")
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_text("given to Ines")).to_have_count(2)

    # One of those that are here smells off: it is over, and its siblings are named.
    page.get_by_role("link", name=f"{BATCH}-4").click()
    page.get_by_role("button", name="Smells off").click()
    expect(page.locator(".sentence")).to_contain_text("It smelled off: it is over")
    expect(page.get_by_text("Look at its siblings,")).to_be_visible()

    # Back to the lots behind it, and forward from the one that is suspected.
    page.get_by_role("link", name="Where those lots went").click()
    page.get_by_role("link", name="SR-0446").click()
    expect(page.locator(".sentence")).to_contain_text("1 batch has some of it, 4 bottles, 3 of them with somebody")
    expect(page.locator(".flow")).to_contain_text("bottles with Ines")
    with page.expect_download() as download:
        page.get_by_role("link", name="Recall list, CSV").click()
    rows = list(csv.DictReader(StringIO(Path(download.value.path()).read_text(encoding="utf-8"))))
    assert sorted(row["bottle"] for row in rows if row["who has it"] == "Ines") == [f"{BATCH}-2", f"{BATCH}-3"]
    assert len(rows) == 4

    # It is held: nobody pours it, its siblings and the person's page say so.
    page.get_by_label("Something is wrong with it").fill("smells of paint")
    page.get_by_role("button", name="Hold it").click()
    expect(page.get_by_text("Held: smells of paint")).to_be_visible()
    page.get_by_role("link", name="Letters of facts").click()
    expect(page.locator(".letter")).to_have_count(2)
    expect(page.locator(".letter").first).to_contain_text(f"bottle {BATCH}-2")
    page.goto(f"{workshop}/bottles/{BATCH}-2")
    expect(page.get_by_text("Nobody uses it until that is settled.")).to_be_visible()
    page.goto(f"{workshop}/people")
    page.get_by_role("link", name="Ines").first.click()
    expect(page.get_by_text("Do not use it: lot SR-0446 is held: smells of paint")).to_have_count(2)
    page.goto(f"{workshop}/blends/3/versions/1/make?bottles=1+x+30+ml")
    expect(page.locator("main")).not_to_contain_text("SR-0446")


def test_the_board_asks_and_answers_without_a_page(page: Page, workshop: str) -> None:
    page.goto(f"{workshop}/keeping")
    expect(page.locator(".ebb")).to_be_visible()
    page.get_by_label("What", exact=True).select_option("bottle")
    page.get_by_role("button", name="Show").click()
    expect(page.locator("main")).not_to_contain_text("lot SR-")
    page.goto(workshop)
    page.fill("#q", "what is open")
    expect(page.locator("#quick-answer")).to_contain_text("All of them on the board")
    page.get_by_role("link", name="All of them on the board").click()
    expect(page.get_by_label("open", exact=True)).to_be_checked()
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
