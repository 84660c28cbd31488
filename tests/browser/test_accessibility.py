"""axe finds nothing at WCAG 2.2 AA, on every view, by day and by evening; and nothing runs off a phone."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Page

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


@pytest.mark.parametrize(
    "view",
    [
        "/",
        "/blends/1",
        "/shelf",
        "/shelf/chart",
        "/shelf/lots",
        "/shelf/lots/SR-0448",
        "/shelf/olive",
        "/measures",
        "/people",
        "/people/1",
        "/people/1/edit",
        "/blends/4",
        "/blends/5",
    ],
)
def test_nothing_runs_off_a_phone(browser: Browser, base_url: str, view: str) -> None:
    context = browser.new_context(viewport={"width": 390, "height": 844}, base_url=base_url)
    page = context.new_page()
    page.goto(view)
    wide = page.evaluate("document.documentElement.scrollWidth")
    context.close()

    assert wide <= 390
