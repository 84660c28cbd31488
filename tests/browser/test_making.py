"""Six bottles weighed on a simulated scale, with one overpour, a page that is closed, and somebody who watches."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from bench.measure import running
from playwright.sync_api import Browser, Page, expect
from pypdf import PdfReader

from uptide.devices.simulated_scale import SimulatedScale
from uptide.workshop.instruments import Instruments

VESSEL = 250.0  # g
ROOM_FOR_A_THUMB = 64  # px
# The words of a label as it is shown that lie over its code.
OVER_THE_CODE = """() => {
  const code = document.querySelector(".true-size .code").getBoundingClientRect();
  const lines = [...document.querySelectorAll(".true-size text")].filter((line) => {
    const box = line.getBoundingClientRect();
    return box.right > code.left && box.left < code.right && box.bottom > code.top && box.top < code.bottom;
  });
  return lines.map((line) => line.textContent);
}"""


@pytest.fixture(scope="module")
def scale() -> Iterator[SimulatedScale]:
    # A quiet one: of the usual noise every third pour takes longer than 20 s to count by itself.
    made = SimulatedScale(step=0.1, seed=4, noise=0.1)
    made.start()
    yield made
    made.stop()


@pytest.fixture(scope="module")
def spool(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("spool")


@pytest.fixture(scope="module")
def with_scale(scale: SimulatedScale, spool: Path) -> Iterator[str]:
    with running(instruments=Instruments(scale=scale.address, spool=str(spool))) as base:
        yield base


def wanted(page: Page) -> float:
    return float(page.locator(".wanted b").inner_text())


def settled(page: Page) -> None:
    """Wait until the scale is still: what it lags behind would count for the next pour."""
    expect(page.locator("#live .reading")).to_contain_text("still", timeout=15_000)


def pour(page: Page, scale: SimulatedScale, more: float = 0.0) -> None:
    """Pour what is asked for, and wait until the scale is still."""
    before = page.locator("#due").inner_text()
    scale.pour(wanted(page) + more, rate=60)
    expect(page.locator("#live .says")).to_contain_text(
        re.compile("In the band" if not more else "too much"), timeout=15_000
    )
    settled(page)
    page.keyboard.press("Enter")
    if not more:
        expect(page.locator("#due").or_(page.get_by_text("Everything is poured"))).not_to_have_text(before)


def test_six_bottles_from_plan_to_spool(
    page: Page, browser: Browser, with_scale: str, scale: SimulatedScale, spool: Path
) -> None:
    page.goto(f"{with_scale}/blends/3/versions/1/make")
    page.get_by_label("Bottles", exact=True).fill("6 x 30 ml")
    page.get_by_label("Made by").fill("Bo")
    page.get_by_role("button", name="Work it out").click()
    expect(page.locator(".sentence")).to_contain_text("6 × 30 mL")
    page.get_by_role("button", name="Begin this batch").click()
    page.get_by_role("link", name="Weigh it").first.click()
    batch = page.url.removesuffix("/weigh")

    scale.pan.load = VESSEL
    expect(page.locator("#live")).to_contain_text("250.", timeout=15_000)
    page.get_by_role("button", name="Begin", exact=True).click()
    expect(page.locator("#due")).to_have_text("Shea butter")
    pour(page, scale)

    # Too much of the second: every way out says what it does, and one is taken.
    expect(page.locator("#due")).to_have_text("Jojoba oil (liquid wax)")
    pour(page, scale, more=9.0)
    expect(page.locator("#over")).to_contain_text("too much of Jojoba oil")
    expect(page.locator(".ways form")).to_have_count(4)
    page.get_by_role("button", name="Make more of it").click()
    expect(page.locator("#due")).to_have_text("Shea butter")
    page.get_by_role("button", name="Begin", exact=True).click()

    # Half poured, the page is closed, and somebody else looks: what lies on the scale is not forgotten.
    half = wanted(page) / 2
    scale.pour(half, rate=60)
    page.goto(f"{with_scale}/shelf")
    page.goto(f"{batch}/weigh")
    expect(page.locator("#live .reading b")).to_have_text(re.compile(rf"{half:.0f}|{half - 0.1:.1f}|{half:.1f}"))
    other = browser.new_context().new_page()
    other.goto(f"{batch}/weigh")
    expect(other.get_by_text("Another device pours; this one watches.")).to_be_visible()
    expect(other.locator("#live .reading b")).not_to_have_text("–")
    scale.pour(wanted(page) - half, rate=60)
    expect(page.locator("#live .says")).to_contain_text("In the band", timeout=15_000)
    settled(page)
    page.get_by_role("button", name="It is in").click()
    expect(page.locator("#due")).to_have_text("Castor oil")
    expect(other.locator("#due")).to_have_text("Castor oil", timeout=10_000)  # who watches sees it without a tap
    other.close()

    pour(page, scale)
    # The last counts by itself: stable, in the band, unchanged for three seconds, and counted down.
    expect(page.locator("#due")).to_have_text("Camellia (tea seed) oil")
    scale.pour(wanted(page), rate=60)
    expect(page.locator("#counts")).to_contain_text("It counts by itself in", timeout=20_000)
    expect(page.get_by_text("Everything is poured")).to_be_visible(timeout=20_000)

    page.get_by_role("link", name="Mix it, and fill the bottles").click()
    page.get_by_label("Mixed at, °C").fill("38")
    page.get_by_label("What was seen").fill("clear")
    page.get_by_role("button", name="It is mixed").click()
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator(".sentence")).to_contain_text("are in 6 bottles")
    page.get_by_label("Next day").fill("clear, one phase")
    page.get_by_role("button", name="Seen").click()
    page.get_by_role("button", name="Close the record").click()
    expect(page.get_by_role("heading", name="Closed is closed")).to_be_visible()

    page.get_by_role("link", name="Labels").click()
    page.get_by_label("On", exact=True).select_option("a4-63x38")
    page.get_by_role("button", name="Show it").click()
    page.wait_for_url("**sheet=a4-63x38**")
    assert page.evaluate(OVER_THE_CODE) == []
    page.get_by_role("button", name="Print them").click()
    expect(page.locator(".said")).to_contain_text("In the spool as 0001-labels-")
    (job,) = spool.glob("*.pdf")
    text = "".join(each.extract_text() for each in PdfReader(job).pages)
    assert text.count(f"Batch {batch.rpartition('/')[2]}") == 6
    assert "Simmondsia Chinensis Seed Oil, Butyrospermum Parkii Butter" in " ".join(text.split())


@pytest.mark.parametrize("size", [(390, 844), (820, 1180)], ids=["phone", "tablet"])
def test_the_bench_is_for_oily_hands_on_every_screen(page: Page, with_scale: str, size: tuple[int, int]) -> None:
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.goto(f"{with_scale}/blends/3/versions/1/make")
    page.get_by_role("button", name="Begin this batch").click()
    page.get_by_role("link", name="Weigh it").first.click()
    page.get_by_role("button", name="Begin", exact=True).click()
    expect(page.get_by_label("Weighed, g")).to_be_visible()  # the page that is looked at is the next one
    for button in page.locator(".btn-bench:visible").all():
        box = button.bounding_box()
        assert box is not None
        assert min(box["width"], box["height"]) >= ROOM_FOR_A_THUMB
    assert page.evaluate("document.documentElement.scrollWidth") <= size[0]
    # In one go: what the scale says is drawn anew five times a second.
    high, foot = page.evaluate(
        """() => { const box = document.querySelector("#live .reading b").getBoundingClientRect();
        return [box.height, box.bottom]; }"""
    )
    assert high >= 70  # read at arm's length
    assert foot < size[1]
    page.get_by_label("Weighed, g").fill("1.5")
    page.get_by_role("button", name="Typed").click()
    expect(page.get_by_text("1.50 g from lot")).to_be_visible()
