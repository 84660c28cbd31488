"""The finder by hand: from a wish to a saved and printed blend, a wish that cannot be, a stand-in that is taken."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

WISH = "50 ml face oil for dry skin, oleic over 40, keeps 4 months, no nuts, with fresh bottles"
NEVER = "30 ml, linoleic over 60, keeps 9 months, with grapeseed, with jojoba, at most 2 oils, with fresh bottles"


def test_a_wish_from_the_first_page_becomes_a_saved_and_printed_blend(page: Page) -> None:
    page.goto("/")
    ask = page.get_by_role("search").get_by_role("searchbox").or_(page.locator("#q"))
    ask.first.fill(WISH)
    page.get_by_role("link", name="Find a blend that is all of this").first.click()
    expect(page.get_by_role("link", name="Take it to the bench").first).to_be_visible()

    # The others come by themselves, and then how much better any could be.
    expect(page.get_by_role("columnheader", name="Fewest oils")).to_be_visible(timeout=30_000)
    expect(page.get_by_text("Shown: none keeps longer than")).to_be_visible(timeout=30_000)
    page.get_by_role("link", name="Take it to the bench").first.click()
    expect(page.get_by_label("Row 1", exact=True)).to_have_value(re.compile(r"^[\d.]+ g "))
    page.get_by_label("Name", exact=True).fill("Found oil")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Saved as version 1.")).to_be_visible()
    page.get_by_role("button", name="Batch sheet").click()
    expect(page.get_by_role("heading", name=re.compile("Found oil"))).to_be_visible()


def test_a_wish_that_cannot_be_is_loosened_by_pointing_at_what_can(page: Page) -> None:
    page.goto("/shelf/find")
    page.get_by_label("What should it be?").fill(NEVER)
    page.get_by_role("button", name="Find", exact=True).click()
    expect(page.get_by_text("These exclude one another")).to_be_visible(timeout=30_000)
    point = page.get_by_role("link", name=re.compile(r"^keeps 6 months with linoleic"))
    point.click(timeout=30_000)

    expect(page.get_by_role("link", name="Take it to the bench").first).to_be_visible()
    expect(page.get_by_label("What should it be?")).to_have_value(re.compile("keeps 6 months"))
    # A limit is changed in its line.
    months = page.get_by_role("textbox", name="keeps at least")
    months.fill("5")
    months.press("Enter")
    expect(page.get_by_label("What should it be?")).to_have_value(re.compile("keeps 5 months"))


def test_a_stand_in_is_taken_and_the_row_goes_a_step_up(page: Page) -> None:
    page.goto("/blends/new?recipe=50 g grapeseed%0A30 g jojoba%0A20 g rosehip")
    expect(page.locator("#meaning-2")).to_contain_text("Rosehip")
    page.locator("#from-2 summary").click()
    page.locator("#from-2").get_by_role("button", name="What keeps this blend as it is").click()
    panel = page.locator("#stand-ins")
    expect(panel.get_by_role("heading", name="Instead of Rosehip seed oil")).to_be_visible()
    panel.get_by_role("button", name=re.compile("^More: 20.5 g")).click()
    expect(page.get_by_label("Row 3", exact=True)).to_have_value("20.5 g rosehip")

    page.locator("#from-2 summary").click()
    page.locator("#from-2").get_by_role("button", name="What keeps this blend as it is").click()
    panel.get_by_role("button", name=re.compile("Strawberry seed oil$")).first.click()
    expect(page.get_by_label("Row 3", exact=True)).to_have_value(re.compile("Strawberry seed oil$"))
    expect(panel.get_by_role("heading")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Row 3", exact=True)).to_have_value("20.5 g rosehip")
