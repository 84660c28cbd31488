"""axe finds nothing at WCAG 2.2 AA nor against best practice, on every view, by day and by evening, at a desk and on a
phone; nothing runs off a phone, and text can be twice as large.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from io import BytesIO
from pathlib import Path
from typing import Any

import pytest
from bench.measure import ARGUMENTS, CHROMIUM
from playwright.sync_api import Browser, CDPSession, Page, Playwright, ViewportSize, expect
from pypdf import PdfReader

DESK: ViewportSize = {"width": 1280, "height": 800}
PHONE: ViewportSize = {"width": 390, "height": 844}
AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text(encoding="utf-8")
UNDRAWN = ("--enable-begin-frame-control", "--run-all-compositor-stages-before-draw")
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
VIEWS = [
    "/", "/?q=2+tbsp+almond,+1+tbsp+jojoba,+5+drops+bergamot", "/blends", "/blends/1",
    "/blends/new?recipe=1+oz+olive%0A5+ml+zorgblat%0A2+tbsp+almond",
    "/blends/1/compare", "/blends/1/versions/2/batch-sheet", "/blends/5/versions/1/label", "/shelf?q=butters",
    "/shelf/castor", "/shelf/bergamot",
    "/shelf?q=linoleic+over+65,+no+foo&oil=olive", "/shelf/chart?blend=1", "/shelf/lots", "/shelf/lots/SR-0448",
    "/shelf/lots/new?of=olive", "/shelf/own", "/shelf/own:rock-samphire-seed-oil",
    "/shelf/find?wish=linoleic+over+50,+with+grapeseed,+2+oils&all=true",
    "/shelf/find?wish=keeps+eleventy,+with+jojoba",
    "/shelf/find?why=true&wish=linoleic+over+65,+oleic+over+40,+no+nuts,+from+my+shelf",
    "/shelf/reach?blend=1",
    "/shelf/compare?oil=olive&oil=lot:SR-0466&oil=jojoba",
    "/people", "/people/new", "/people/1", "/people/2/edit", "/people/4",
    "/blends/new?wearer=2&recipe=4+tbsp+almond%0A30+drops+lavender%0A1+tbsp+aloe+gel",
    "/steeping?plant=st-johns-wort&state=fresh&method=sunny-window", "/steeping?grams=lots",
    "/steeping/jars/2", "/steeping/jars/5", "/steeping/jars/3/strain", "/steeping/plants", "/shelf/lots/SR-J1",
    "/making/20261120-1", "/making/20261126-1/weigh", "/blends/5/versions/1/make?bottles=6+x+100+ml",
    "/keeping", "/bottles/20261120-1-4", "/keeping/trace?of=SR-0446", "/keeping/use-up", "/keeping/taught",
    "/measures", "/data", "/api/docs", "/nothing-here",
]  # fmt: skip


def violations(page: Page, only: list[str]) -> list[str]:
    # What passes is neither described nor sent: that takes two thirds of the time.
    found: list[dict[str, Any]] = page.evaluate(
        "only => axe.run({ runOnly: only, resultTypes: ['violations'], selectors: false }).then((f) => f.violations)",
        only,
    )
    return [f"{v['id']}: {v['help']} {[n['html'][:120] for n in v['nodes'][:3]]}" for v in found]


Audited = tuple[Page, CDPSession]


@pytest.fixture(scope="module")
def audited(playwright: Playwright, base_url: str) -> Iterator[Audited]:
    """One page for all views, with the browser's own tools: opening another for each takes as long as a look at it.

    Nobody looks at what it draws, so nothing is drawn: it would be a fifth of the time.
    """
    with playwright.chromium.launch(executable_path=CHROMIUM, args=[*ARGUMENTS, *UNDRAWN]) as browser:
        context = browser.new_context(base_url=base_url)
        page = context.new_page()
        yield page, context.new_cdp_session(page)


@pytest.mark.parametrize("view", VIEWS)
def test_a_view_is_fit_for_everybody(audited: Audited, view: str) -> None:
    """By day and by evening, in every width, with large letters, by finger and by keyboard: one visit serves all."""
    page, tools = audited
    page.set_viewport_size(DESK)
    page.emulate_media(color_scheme="light", reduced_motion="reduce")  # no colour on its way to another
    page.goto(view)
    page.wait_for_timeout(50)
    page.evaluate(AXE)
    by_day = violations(page, RULES)
    # By evening only colours differ, and on a phone where things stand and how large they are: both at once.
    page.evaluate("document.documentElement.dataset.bsTheme = 'dark'")
    page.set_viewport_size(PHONE)
    on_a_phone_by_evening = violations(page, ["target-size", "scrollable-region-focusable", "color-contrast"])

    assert by_day == []
    assert on_a_phone_by_evening == []
    assert wider_than_its_window(page) == []
    assert too_small_for_a_finger(page, tools) == []
    page.set_viewport_size(DESK)
    assert cut_when_twice_as_large(page, tools) == []
    if not view.startswith("/shelf/chart"):  # its dots take the focus for themselves: see the stories of the shelf
        assert without_a_ring(page) == []


def test_the_evening_follows_what_the_system_asks_for(page: Page) -> None:
    page.emulate_media(color_scheme="dark")
    page.goto("/")

    assert page.evaluate("document.documentElement.dataset.bsTheme") == "dark"


WIDTHS = (320, 390, 640, 768, 1024)


def wider_than_its_window(page: Page) -> list[tuple[int, int]]:
    """Widths of a window in which the page that is open is wider than it, and how wide."""
    wide = []
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 844})
        found = page.evaluate("document.documentElement.scrollWidth")
        if found > width:
            wide.append((width, found))
    return wide


# What hides a part of its words.
CUT = """() => [...document.querySelectorAll("body *")].filter((each) => {
  if (!each.checkVisibility() || !each.textContent.trim()) return false;
  if (each.closest(".visually-hidden, svg") || each.matches("input, select, textarea")) return false;
  const style = getComputedStyle(each), hides = (how) => /hidden|clip/.test(how);
  return (hides(style.overflowX) && each.scrollWidth > each.clientWidth + 1) ||
    (hides(style.overflowY) && each.scrollHeight > each.clientHeight + 1);
}).map((each) => each.outerHTML.slice(0, 100))"""


def cut_when_twice_as_large(page: Page, tools: CDPSession) -> list[str]:
    """What is cut, or how wide the page is, where the browser's own letters are set to twice their size."""
    tools.send("Page.setFontSizes", {"fontSizes": {"standard": 32, "fixed": 26}})
    assert page.evaluate("getComputedStyle(document.documentElement).fontSize") == "32px"
    wide = page.evaluate("document.documentElement.scrollWidth")
    found: list[str] = page.evaluate(CUT)
    tools.send("Page.setFontSizes", {"fontSizes": {"standard": 16, "fixed": 13}})
    return found if wide <= DESK["width"] else [*found, f"{wide} px wide"]


def test_one_place_of_the_bench_speaks_as_one_types(page: Page) -> None:
    page.goto("/blends/1")

    assert page.evaluate("[...document.querySelectorAll('[aria-live]')].map((each) => each.parentElement.id)") == [
        "glance"
    ]


LETTERS = """() => [...document.querySelectorAll("svg text")]
  .filter((each) => each.getClientRects().length && each.textContent.trim())
  .map((each) => {
    const drawn = each.getScreenCTM();
    return [parseFloat(getComputedStyle(each).fontSize) * Math.hypot(drawn.a, drawn.b), each.textContent.trim()];
  }).filter(([size]) => size < 10.9)"""
PICTURED = ("/", "/blends/1/compare", "/shelf/olive", "/shelf/lavender", "/shelf/chart", "/shelf/lots/SR-0448")


@pytest.mark.parametrize("width", [390, 1280])
def test_letters_in_pictures_can_be_read(page: Page, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 844})
    small = {}
    for view in PICTURED:
        page.goto(view)
        small[view] = page.evaluate(LETTERS)
    page.goto("/blends/1")
    for kind in ("tide", "acids", "chart", "bottle"):
        with page.expect_response("**/sheet"):
            page.locator(f"#picture-{kind}").set_checked(True, force=True)
        page.wait_for_timeout(100)
        small[kind] = page.evaluate(LETTERS)

    assert {where: found for where, found in small.items() if found} == {}


@pytest.mark.parametrize("blend", range(1, 7))
def test_the_bench_prints_on_one_page_without_buttons(page: Page, blend: int) -> None:
    page.goto(f"/blends/{blend}")
    printed = PdfReader(BytesIO(page.pdf(format="A4"))).pages
    words = "".join(each.extract_text() for each in printed)

    assert len(printed) == 1
    assert not re.search(r"\b(Undo|Redo|Save|Sheet|Add)\b", words)


# What does nothing without a script; and whether it is seen.
SCRIPTED = re.compile('<(?:button|input)[^>]*type="(?:button|range)"[^>]*>')
DEAD = """() => [...document.querySelectorAll("button[type=button], input[type=range]")]
  .filter((each) => each.checkVisibility()).map((each) => each.innerText || "a slider")"""


def test_without_scripts_nothing_dead_is_shown_and_the_bench_works(browser: Browser, base_url: str) -> None:
    context = browser.new_context(base_url=base_url, java_script_enabled=False)
    page = context.new_page()
    dead, seen = {}, set[str]()
    for view in VIEWS:
        controls = set(SCRIPTED.findall(page.request.get(view).text()))
        if controls - seen:  # most views have the same
            page.goto(view)
            dead[view] = page.evaluate(DEAD)
            seen |= controls
    assert len(dead) > 5
    page.goto("/blends/new")
    page.get_by_label("Add a row").fill("2 tbsp grapeseed")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.locator(".sentence")).to_contain_text("body oil")
    page.locator("#figure-feel > summary").click()
    expect(page.locator("#figure-feel .working")).to_be_visible()
    context.close()

    assert {view: found for view, found in dead.items() if found} == {}


# Every control in turn, as it looks when a keyboard came to it.
RINGS = """() => [...document.querySelectorAll("a[href], button, summary, input:not([type=hidden]), select, textarea, "
  + "[tabindex='0']")].filter((each) => each.checkVisibility() && !each.disabled && each.tabIndex >= 0).map((each) => {
    each.focus();
    const box = each.matches("input.btn-check, .pictures input") ? each.nextElementSibling : each;
    const style = getComputedStyle(box);
    return [style.outlineStyle, parseFloat(style.outlineWidth), style.outlineColor, each.outerHTML.slice(0, 120)];
  })"""


def luminance(colour: str) -> float:
    parts = [int(part) / 255 for part in re.findall(r"\d+", colour)[:3]]
    red, green, blue = (p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def without_a_ring(page: Page) -> list[tuple[object, ...]]:
    """Controls of the page that is open of which nobody sees that they have the focus."""
    faint: list[tuple[object, ...]] = []
    page.keyboard.press("Tab")  # what a script focuses after a key shows its ring
    for theme in ("light", "dark"):
        page.evaluate("theme => { document.documentElement.dataset.bsTheme = theme; }", theme)
        paper = luminance(page.evaluate("getComputedStyle(document.body).backgroundColor"))
        for style, width, colour, control in page.evaluate(RINGS):
            light, dark = sorted((luminance(colour), paper), reverse=True)
            # WCAG 2.2, 2.4.13
            if style != "solid" or width < 2 or (light + 0.05) / (dark + 0.05) < 3:
                faint.append((theme, control, style, width, colour))
    return faint


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


def too_small_for_a_finger(page: Page, tools: CDPSession) -> list[str]:
    """What is smaller than a fingertip on a phone that is touched."""
    tools.send("Emulation.setTouchEmulationEnabled", {"enabled": True})
    tools.send("Emulation.setDeviceMetricsOverride", {**PHONE, "deviceScaleFactor": 1, "mobile": True})
    assert page.evaluate("matchMedia('(pointer: coarse)').matches")
    found: list[str] = page.evaluate(SMALL)
    tools.send("Emulation.setTouchEmulationEnabled", {"enabled": False})
    tools.send("Emulation.clearDeviceMetricsOverride")
    return found
