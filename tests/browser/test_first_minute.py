"""The first minute: an ordinary recipe is answered at once, on one screen, by somebody who has never seen it."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from bench.measure import running
from playwright.sync_api import Browser, Locator, Page, expect
from tests.browser.conftest import paste

from uptide.store.migrating import migrate

ORDINARY = "2 oz rosehip, 2 oz jojoba, 2 oz avocado, 12 drops orange, 18 drops lemon, 12 drops lemongrass"


def inside(page: Page, selector: str, height: int) -> bool:
    boxes = [each.bounding_box() for each in page.locator(selector).all()]
    return bool(boxes) and all(
        box is not None and box["y"] >= 0 and box["y"] + box["height"] <= height for box in boxes
    )


@pytest.mark.parametrize("blend", [1, 4])  # the second is stopped for whom it is for: a line more
@pytest.mark.parametrize("kind", ["bottle", "tide", "acids", "chart"])
def test_one_screen_says_it_all(page: Page, kind: str, blend: int) -> None:
    page.goto(f"/blends/{blend}")
    page.locator(f"#picture-{kind}").check(force=True)
    expect(page.locator(f"#picture-{kind}")).to_be_checked()
    expect(page.locator("#picture svg")).to_be_visible()
    page.reload()  # what was chosen last is remembered
    expect(page.locator(f"#picture-{kind}")).to_be_checked()

    for part in (".sentence", ".verdict > summary", "#picture svg", ".rows > li", "#new", ".actions .btn"):
        assert inside(page, part, 800), part
    assert page.locator(".verdict").count() == 10
    assert page.evaluate("document.documentElement.scrollHeight") <= 1600


def test_an_ordinary_recipe_is_answered_at_once_and_takes_one_tap(page: Page) -> None:
    page.goto("/blends/new")
    paste(page, ORDINARY)

    expect(page.locator("input[name=typed]")).to_have_count(6)
    expect(page.locator("#picture svg")).to_be_visible()
    expect(page.locator(".sentence")).to_contain_text("body oil for most skin")
    expect(page.locator("#assumed")).to_contain_text("3 rows say “oz”: taken as fluid ounces, by volume")
    for part in (".sentence", ".verdict > summary"):
        assert inside(page, part, 800), part

    page.locator("#assumed").get_by_role("button", name="Ounces on the scale, by weight").click()
    expect(page.locator("#assumed fieldset")).to_have_count(0)
    expect(page.locator("#meaning-1 .amount").first).to_have_text("56.7 g")
    expect(page.get_by_label("Row 2", exact=True)).to_have_value("2 oz jojoba")


def test_on_a_phone_the_verdicts_come_before_the_details(browser: Browser, base_url: str) -> None:
    context = browser.new_context(viewport={"width": 390, "height": 844}, base_url=base_url)
    page = context.new_page()
    page.goto("/blends/1")
    tops = [
        (page.locator(part).first.bounding_box() or {"y": -1.0})["y"]
        for part in (".sentence", ".rows", "#new", "#verdicts", "#picture", "#cautions", "#fold-keeping")
    ]
    rows_end = page.locator("#new").bounding_box() or {"y": 0.0, "height": 0.0}
    verdicts = page.locator("#verdicts").bounding_box() or {"y": 0.0, "height": 9999.0}
    context.close()

    assert tops == sorted(tops)
    assert verdicts["y"] + verdicts["height"] - (rows_end["y"] + rows_end["height"]) <= 844  # one swipe


@pytest.fixture(scope="module")
def empty_base() -> Iterator[str]:
    with running(lambda path: migrate(f"sqlite:///{path}")) as base:
        yield base


def test_the_first_minute_of_somebody_who_has_never_seen_it(page: Page, empty_base: str) -> None:
    taps = 0

    def tap(what: Locator) -> None:
        nonlocal taps
        taps += 1
        what.click()

    page.goto(empty_base)
    expect(page.get_by_text("No blend yet")).to_be_visible()
    tap(page.get_by_role("link", name="begin on an empty sheet"))
    expect(page.get_by_role("heading", name="Three ways to begin")).to_be_visible()
    paste(page, ORDINARY)
    expect(page.locator(".sentence")).to_contain_text("A medium-weight body oil for most skin; keeps 5 months")
    expect(page.locator(".sentence")).to_contain_text("rosehip seed oil turns first; nothing in it is stopped")
    assert page.locator(".verdict .unknown").all_inner_texts() == ["unknown"]  # what it costs, alone
    tap(page.locator("#assumed").get_by_role("button", name="Ounces on the scale, by weight"))
    expect(page.locator("#meaning-0 .amount").first).to_have_text("56.7 g")

    page.get_by_label("Name", exact=True).fill("First oil")
    tap(page.locator(".actions").get_by_role("button", name="Batch sheet"))
    expect(page.get_by_role("heading", name="First oil")).to_be_visible()
    expect(page.get_by_text("“orange” and “lemon” are only assumed")).to_be_visible()
    assert taps == 3


@pytest.mark.parametrize("way", [0, 1, 2, 3, 4])
def test_every_way_to_begin_leads_somewhere(page: Page, empty_base: str, way: int) -> None:
    page.goto(f"{empty_base}/blends/new")
    page.locator("#begin a").nth(way).click()

    if "/shelf" in page.url:
        expect(page.get_by_role("heading", name=re.compile(r"^\d+ found$"))).to_be_visible()
        assert not page.get_by_role("heading", name="0 found").count()
    else:
        expect(page.locator("input[name=typed]").first).to_be_visible()
        expect(page.locator(".sentence")).to_contain_text("keeps")
