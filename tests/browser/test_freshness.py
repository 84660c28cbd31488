"""A rosehip-rich blend is moved from bathroom to fridge, given tocopherols, and read with strips."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect
from tests.browser.conftest import unfold


def band(page: Page, where: str = "#tide") -> tuple[float, float]:
    text = page.locator(where).inner_text()
    found = re.search(r"reach ([\d.]+) months.*one in ten ([\d.]+)", text)
    assert found
    return float(found[1]), float(found[2])


def test_place_protection_and_readings_move_the_tide(page: Page) -> None:
    page.goto("/blends/new")
    page.get_by_label("Name", exact=True).fill("Rosehip night oil")
    page.get_by_label("Add a row").fill("4 tbsp rosehip, 1 tbsp jojoba")
    page.get_by_label("Add a row").press("Enter")
    expect(page.locator("input[name=typed]")).to_have_count(2)
    unfold(page, "keeping")
    page.get_by_label("Place", exact=True).select_option("bathroom")
    expect(page.get_by_label("Light", exact=True)).to_contain_text("as the place: room")
    in_the_bathroom = band(page)

    page.get_by_label("Place", exact=True).select_option("fridge")
    expect(page.get_by_label("Light", exact=True)).to_contain_text("as the place: dark")
    assert band(page)[0] > 2 * in_the_bathroom[0]

    page.get_by_label("Place", exact=True).select_option("bathroom")
    expect(page.get_by_label("Light", exact=True)).to_contain_text("as the place: room")
    page.get_by_label("Add a row").fill("0.2% mixed tocopherols")
    page.get_by_label("Add a row").press("Enter")
    expect(page.locator("#tide .facts")).to_contain_text("Protection")
    assert band(page)[1] > in_the_bathroom[1]

    page.get_by_role("button", name="What would help most?").click()
    expect(page.get_by_role("row", name=re.compile("the fridge"))).to_be_visible()

    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Saved as version 1.")).to_be_visible()
    unfold(page, "keeping")
    before = band(page)
    blend = page.url
    page.locator("#fold-bottle > summary").click()
    page.get_by_label("A bottle of it was made on").fill("2026-08-01")
    page.get_by_role("button", name="Put it on the board").click()
    for day, low, high in (("2026-08-20", "2", "5"), ("2026-09-10", "2", "5"), ("2026-09-25", "5", "10")):
        page.get_by_label("What", exact=True).select_option("strip")
        page.get_by_label("When", exact=True).fill(day)
        page.get_by_label("Peroxide value, from").fill(low)
        page.get_by_label("to", exact=True).fill(high)
        page.get_by_role("button", name="Note it").click()
        expect(page.get_by_text("Noted.")).to_be_visible()
    expect(page.get_by_role("listitem").filter(has_text="strip, 5 to 10 meq/kg")).to_be_visible()
    # What befell the bottle is its own: its band is narrower than that of the recipe.
    after = band(page, "main")
    assert after[1] / after[0] < before[1] / before[0]

    # The tide is stepped through by keyboard, and its working is read.
    slider = page.get_by_label("Step through the months")
    slider.focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text(re.compile(r"Month 1, Sep 2026: [\d.]+ meq/kg"))).to_be_visible()
    page.goto(blend)
    unfold(page, "keeping")
    expect(page.locator("#tide")).to_contain_text("from your other bottles")
    page.locator("#figure-keeps_months summary").click()
    expect(page.get_by_text("Calibrated on remembered trade lives")).to_be_visible()
    expect(page.locator("#figure-keeps_months")).to_contain_text("2.5 h at 110 °C")
