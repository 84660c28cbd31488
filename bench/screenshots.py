"""Renew the pictures in docs/screenshots from the demo data; one of each main view."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path
from urllib.parse import urlencode

from bench.measure import ARGUMENTS, CHROMIUM, running
from playwright.sync_api import Page, sync_playwright

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"


def unfold(page: Page, fold: str) -> None:
    """Open a fold and wait until what it holds is drawn."""
    page.click(f"#fold-{fold} > summary")
    page.wait_for_timeout(700)


def to_the_tide(page: Page) -> None:
    page.check("#picture-tide", force=True)
    unfold(page, "keeping")
    page.click("text=What would help most?")
    page.wait_for_selector("#sensitivities table")
    page.evaluate("document.getElementById('picture').scrollIntoView({ block: 'end' })")


def sum_up(page: Page) -> None:
    page.fill("#q", "2 tbsp grapeseed, 1 tbsp jojoba, 12 drops lavender")
    page.wait_for_selector("#quick-answer strong")


A_SEARCH = 60_000  # ms
NEVER = "60 ml face oil, linoleic over 60, keeps 10 months, no nuts, with fresh bottles"
WISH = "60 ml face oil for oily skin, linoleic over 50, keeps 5 months, light, at most 4 oils, with jojoba, no nuts"


def others_found(page: Page) -> None:
    """Wait for the answers that come after the first, and for how much better any could be."""
    page.get_by_text("Shown: none has fewer than").wait_for(timeout=A_SEARCH)


def frontier_drawn(page: Page) -> None:
    """Wait until two limits stand against each other, point by point."""
    page.get_by_role("link", name=re.compile("^keeps")).nth(4).wait_for(timeout=A_SEARCH)
    page.locator("#answers [role=status]").wait_for(state="detached", timeout=A_SEARCH)


def into_the_water(page: Page) -> None:
    unfold(page, "water")
    page.evaluate("document.getElementById('into-water').scrollIntoView()")


def at_the_scale(page: Page) -> None:
    """The batch that is under way, with the practice scale."""
    page.click("text=Wetsuit-chafe barrier oil")
    page.click("text=Weigh it >> nth=0")
    page.click("text=Use the practice scale")
    page.click("text=a vessel")
    page.wait_for_timeout(5000)
    page.click("button:has-text('Go on from here')")
    page.click("text=10 g >> nth=0")
    page.wait_for_timeout(4000)


VIEWS: list[tuple[str, str, Callable[[Page], None] | None, str, tuple[int, int]]] = [
    ("start", "/", sum_up, "light", (1280, 800)),
    ("bench", "/blends/1", None, "light", (1280, 800)),
    ("tide", "/blends/1", to_the_tide, "light", (1280, 800)),
    ("reach", "/shelf/reach?blend=1", None, "dark", (1280, 800)),
    ("frontier", f"/shelf/find?{urlencode({'wish': NEVER})}", frontier_drawn, "light", (1280, 800)),
    ("phone", "/blends/1", None, "light", (390, 844)),
    ("trace", "/keeping/trace?of=SR-0446", None, "light", (1280, 800)),
    ("batch-sheet", "/blends/1/versions/2/batch-sheet?bottles=12&size_ml=30&loss=5", None, "light", (1280, 800)),
    ("label", "/blends/5/versions/1/label", None, "light", (1280, 800)),
    ("card", "/people/2", None, "light", (1280, 800)),
    ("find", f"/shelf/find?{urlencode({'wish': WISH})}", others_found, "light", (1280, 800)),
    ("water", "/blends/5", into_the_water, "light", (1280, 800)),
    ("chart", "/shelf/chart?blend=1", None, "light", (1280, 800)),
    ("keeping", "/keeping", None, "light", (1280, 800)),
    ("shelf", "/shelf", None, "light", (1280, 800)),
    ("oil", "/shelf/rosehip", None, "light", (1280, 800)),
    ("measures", "/measures", None, "light", (1280, 800)),
    ("steeping", "/steeping", None, "light", (1280, 800)),
    ("making", "/making", at_the_scale, "light", (1280, 800)),
]


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with running() as base, sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        for name, path, act, scheme, (width, height) in VIEWS:
            page = chromium.new_page(
                viewport={"width": width, "height": height}, color_scheme="dark" if scheme == "dark" else "light"
            )
            page.goto(base + path)
            if act:
                act(page)
            page.wait_for_timeout(250)
            page.screenshot(path=FOLDER / f"{name}.png")
            page.close()
        chromium.close()


if __name__ == "__main__":
    main()
