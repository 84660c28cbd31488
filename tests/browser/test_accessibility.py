"""axe finds nothing at WCAG 2.2 AA, on every view, by day and by evening; and nothing runs off a phone."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text(encoding="utf-8")
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
VIEWS = [
    "/", "/?q=2+tbsp+almond,+1+tbsp+jojoba,+5+drops+bergamot", "/blends", "/blends/1",
    "/blends/new?recipe=1+oz+olive%0A5+ml+zorgblat%0A2+tbsp+almond",
    "/blends/1/compare", "/blends/1/versions/2/batch-sheet", "/blends/5/versions/1/label", "/shelf?q=butters",
    "/shelf/castor", "/shelf/bergamot",
    "/shelf?q=linoleic+over+65,+no+foo&oil=olive", "/shelf/chart?blend=1", "/shelf/lots", "/shelf/lots/SR-0448",
    "/shelf/lots/new?of=olive", "/shelf/own", "/shelf/own:rock-samphire-seed-oil",
    "/shelf/compare?oil=olive&oil=lot:SR-0466&oil=jojoba",
    "/people", "/people/new", "/people/1", "/people/2/edit", "/people/4",
    "/blends/new?wearer=2&recipe=4+tbsp+almond%0A30+drops+lavender%0A1+tbsp+aloe+gel",
    "/measures", "/api/docs", "/nothing-here",
]  # fmt: skip


def violations(page: Page, only: list[str]) -> list[str]:
    found: dict[str, Any] = page.evaluate("rules => axe.run({ runOnly: rules })", only)
    return [f"{v['id']}: {v['help']} {[n['html'][:120] for n in v['nodes'][:3]]}" for v in found["violations"]]


@pytest.mark.parametrize("view", VIEWS)
def test_axe_finds_nothing_by_day_nor_by_evening(page: Page, view: str) -> None:
    page.emulate_media(color_scheme="light", reduced_motion="reduce")  # no colour on its way to another
    page.goto(view)
    page.wait_for_timeout(150)
    page.evaluate(AXE)
    by_day = violations(page, RULES)
    # Only colours differ by evening; the rest of the page is the same.
    page.evaluate("document.documentElement.dataset.bsTheme = 'dark'")
    by_evening = violations(page, ["color-contrast"])

    assert by_day == []
    assert by_evening == []


def test_the_evening_follows_what_the_system_asks_for(page: Page) -> None:
    page.emulate_media(color_scheme="dark")
    page.goto("/")

    assert page.evaluate("document.documentElement.dataset.bsTheme") == "dark"


WIDTHS = (320, 390, 640, 768, 1024)


def test_no_page_is_wider_than_its_window(browser: Browser, base_url: str) -> None:
    context = browser.new_context(base_url=base_url)
    page = context.new_page()
    wide = []
    for view in VIEWS:
        page.goto(view)
        for width in WIDTHS:
            page.set_viewport_size({"width": width, "height": 844})
            found = page.evaluate("document.documentElement.scrollWidth")
            if found > width:
                wide.append((view, width, found))
    context.close()

    assert wide == []


RING = """() => {
  const style = getComputedStyle(document.activeElement);
  return [style.outlineStyle, parseFloat(style.outlineWidth), style.outlineColor];
}"""


def luminance(colour: str) -> float:
    parts = [int(part) / 255 for part in re.findall(r"\d+", colour)[:3]]
    red, green, blue = (p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


@pytest.mark.parametrize("theme", ["light", "dark"])
@pytest.mark.parametrize("view", ["/blends/1", "/shelf", "/people/1"])
def test_every_control_has_a_ring_that_is_seen(page: Page, view: str, theme: str) -> None:
    page.emulate_media(color_scheme=theme, reduced_motion="reduce")  # type: ignore[arg-type]
    page.goto(view)
    paper = page.evaluate("getComputedStyle(document.body).backgroundColor")
    seen = set()
    for _ in range(25):
        page.keyboard.press("Tab")
        if page.evaluate("document.activeElement === document.body"):
            continue  # past the last control, before the first
        style, width, colour = page.evaluate(RING)
        light, dark = sorted((luminance(colour), luminance(paper)), reverse=True)
        assert style == "solid", page.evaluate("document.activeElement.outerHTML.slice(0, 120)")
        assert width >= 2
        assert (light + 0.05) / (dark + 0.05) >= 3  # WCAG 2.2, 2.4.13
        seen.add(page.evaluate("document.activeElement.tagName"))
    assert {"A", "BUTTON"} <= seen


def test_focus_stays_near_and_escape_closes_what_is_open(page: Page) -> None:
    page.goto("/blends/1")
    page.locator("#from-0 summary").press("Enter")
    expect(page.locator("#from-0 .panel")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator("#from-0 .panel")).to_be_hidden()
    expect(page.locator("#from-0 summary")).to_be_focused()

    page.get_by_label("Move row 1 down").press("Enter")
    expect(page.get_by_label("Row 2", exact=True)).to_have_value("5 tsp grapeseed")
    expect(page.get_by_label("Row 2", exact=True)).to_be_focused()
    page.get_by_label("Take row 2 out").press("Enter")
    expect(page.locator("input[name=typed]")).to_have_count(6)
    expect(page.get_by_label("Row 2", exact=True)).to_be_focused()


SMALL = """() => [...document.querySelectorAll("button, summary, select, input:not([type=hidden], [type=checkbox], "
  + "[type=radio]), textarea, label:has(> input[type=radio])")].filter((each) => {
    const box = each.getBoundingClientRect();
    return box.width > 1 && box.height > 1 && each.checkVisibility() && (box.width < 43.5 || box.height < 43.5);
  }).map((each) => each.outerHTML.slice(0, 100))"""


@pytest.mark.parametrize("view", ["/", "/blends/1", "/blends/new", "/shelf/lots", "/people/1", "/measures"])
def test_what_a_finger_presses_is_large_enough(browser: Browser, base_url: str, view: str) -> None:
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, base_url=base_url, is_mobile=True, has_touch=True
    )
    page = context.new_page()
    page.goto(view)
    small = page.evaluate(SMALL)
    context.close()

    assert small == []
