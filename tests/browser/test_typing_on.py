"""Who types on while an answer is still under way finds what was typed where it was typed."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Page, Route, expect

Hold = Callable[[], Callable[[], None]]


@pytest.fixture
def hold(page: Page) -> Iterator[Hold]:
    """Keep back what is asked of the sheet from now on, until what this gives is called."""

    def begin() -> Callable[[], None]:
        held: list[Route] = []
        holding = True
        page.route("**/sheet", lambda route: held.append(route) if holding else route.continue_())

        def release() -> None:
            nonlocal holding
            holding = False
            for each in held:
                each.continue_()

        return release

    yield begin
    page.unroute_all(behavior="wait")


def added(page: Page, text: str) -> None:
    page.get_by_label("Add a row").fill(text)
    page.get_by_label("Add a row").press("Enter")


def test_an_answer_leaves_the_focus_where_somebody_went_meanwhile(page: Page, hold: Hold) -> None:
    page.goto("/blends/new")
    added(page, "100 g jojoba")
    expect(page.locator("#typed-0")).to_have_value("100 g jojoba")
    added(page, "50 g argan")
    expect(page.locator("#typed-1")).to_be_visible()
    page.evaluate("new Promise((done) => setTimeout(done, 200))")  # the answers to the letters are in

    release = hold()
    page.get_by_role("button", name="Move row 2 up").click()
    page.get_by_label("Name", exact=True).press_sequentially("Ev")
    release()
    expect(page.locator("#typed-0")).to_have_value("50 g argan")
    page.keyboard.type("ening")

    expect(page.get_by_label("Name", exact=True)).to_have_value("Evening")
    expect(page.locator("#typed-0")).to_have_value("50 g argan")


def test_the_next_row_can_be_begun_before_the_last_is_read(page: Page, hold: Hold) -> None:
    page.goto("/blends/new")
    release = hold()
    added(page, "100 g jojoba")
    page.keyboard.type("50 g ar")
    release()
    expect(page.locator("#typed-0")).to_have_value("100 g jojoba")
    expect(page.get_by_label("Add a row")).to_have_value("50 g ar")
    page.keyboard.type("gan")
    page.keyboard.press("Enter")

    expect(page.locator("#typed-1")).to_have_value("50 g argan")
    expect(page.get_by_label("Add a row")).to_have_value("")


def test_a_row_that_is_typed_on_keeps_what_was_typed(page: Page, hold: Hold) -> None:
    page.goto("/blends/new")
    added(page, "100 g jojoba")
    expect(page.locator("#typed-0")).to_have_value("100 g jojoba")

    release = hold()
    page.locator("#typed-0").press("End")
    page.keyboard.press("Enter")
    page.keyboard.type(" gold")
    release()
    expect(page.locator("#meaning-0")).to_contain_text("gold")
    expect(page.locator("#typed-0")).to_have_value("100 g jojoba gold")
