"""The shelf by hand: a stand-in put into a blend, a certificate, four oils side by side, the chart by keyboard."""

from __future__ import annotations

import re
from urllib.parse import parse_qs, urlsplit

from playwright.sync_api import Page, expect
from tests.browser.conftest import figure, unfold


def test_a_lighter_stand_in_without_nuts_is_found_and_put_into_a_blend(page: Page) -> None:
    page.goto("/blends/new?recipe=2 tbsp avocado%0A1 tbsp jojoba")
    expect(page.get_by_text("Avocado oil").first).to_be_visible()

    page.goto("/shelf")
    ask = page.get_by_label("What are you looking for?")
    ask.press_sequentially("lighter than avocado, keeps longer, no nuts", delay=5)
    expect(page.get_by_role("link", name="Take out: without peanut, tree nut")).to_be_visible()
    expect(page.get_by_role("heading", name=re.compile(r"^\d+ found$"))).to_be_visible()
    expect(page.get_by_role("link", name="Sweet almond oil")).to_have_count(0)
    assert parse_qs(urlsplit(page.url).query)["q"] == ["lighter than avocado, keeps longer, no nuts"]
    page.reload()  # the view stands in the address
    expect(page.get_by_role("link", name="Safflower oil (high oleic)")).to_be_visible()

    page.get_by_role("link", name="Safflower oil (high oleic)").click()
    expect(page.get_by_text("Nearest in use")).to_be_visible()
    page.get_by_role("link", name="Start a blend with it").click()
    expect(page.get_by_label("Row 1", exact=True)).to_have_value("2 tbsp Safflower oil (high oleic)")
    expect(page.locator("#meaning-0")).to_contain_text("Safflower oil (high oleic)")


def test_a_row_is_swapped_on_the_bench(page: Page) -> None:
    page.goto("/blends/new")
    page.get_by_label("Add a row").fill("2 tbsp avocado, 1 tbsp jojoba")
    page.get_by_label("Add a row").press("Enter")
    expect(page.locator("#meaning-0")).to_contain_text("Avocado oil")

    page.locator("#from-0 summary").click()
    page.locator("#from-0").get_by_role("button", name=re.compile("Olive oil")).click()

    expect(page.get_by_label("Row 1", exact=True)).to_have_value("2 tbsp Olive oil")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Row 1", exact=True)).to_have_value("2 tbsp avocado")


def test_a_certificate_changes_the_blend(page: Page) -> None:
    page.goto("/shelf/lots/new?of=sunflower")
    page.get_by_label("Your code for it").fill("T-77")
    page.get_by_label("Came, g").fill("900")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_text("Kept.")).to_be_visible()

    page.goto("/blends/new")
    page.get_by_label("Add a row").fill("100 g high linoleic sunflower")
    page.get_by_label("Add a row").press("Enter")
    unfold(page, "chemistry")
    oleic = figure(page, "oleic_share")
    expect(oleic).to_contain_text("%")
    usual = float((oleic.text_content() or "").split()[0])
    page.locator("#from-0 summary").click()
    page.get_by_role("button", name=re.compile(r"lot T-77, 900 g left")).click()
    expect(page.locator("#meaning-0")).to_contain_text("lot T-77")
    page.get_by_label("Name", exact=True).fill("From lot T-77")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Saved as version 1.")).to_be_visible()
    blend = page.url

    page.goto("/shelf/lots/T-77")
    page.get_by_label("Acids and figures, as pasted").fill("Palmitic 4.1\nStearic 3.0\nOleic 78.6\nLinoleic 12.9\nfoo")
    page.get_by_role("button", name="Let it count").click()
    expect(page.get_by_text(re.compile("39.2 points above the published range"))).to_be_visible()
    expect(page.get_by_text("It is more like Sunflower oil (high oleic)")).to_be_visible()

    page.goto(blend)
    expect(figure(page, "oleic_share")).to_contain_text("79.7")
    assert usual < 40


def test_four_oils_are_laid_side_by_side(page: Page) -> None:
    page.goto("/shelf")
    for name in ("Argan oil", "Avocado oil", "Baobab seed oil", "Borage seed oil"):
        page.get_by_label(f"Mark {name}").check()
        expect(page.get_by_label(f"Mark {name}")).to_be_checked()
        expect(page.locator(".marked-line")).to_contain_text(name)
    page.get_by_role("button", name="Lay the marked side by side").click()

    expect(page.get_by_role("columnheader")).to_have_count(5)
    expect(page.get_by_role("link", name="Borage seed oil")).to_be_visible()
    first, last = page.get_by_role("rowheader").first, page.get_by_role("rowheader").last
    expect(first).not_to_contain_text("Density")
    expect(last).to_be_attached()


def test_the_chart_is_walked_by_keyboard(page: Page) -> None:
    page.goto("/shelf/chart")
    start = page.locator("a.oil[tabindex='0']")
    start.focus()
    name = start.get_attribute("aria-label")
    about = page.locator(".about:not([hidden]) h2")
    expect(about).to_have_text((name or "").removesuffix(", on hand"))

    page.keyboard.press("ArrowDown")
    expect(about).not_to_have_text((name or "").removesuffix(", on hand"))
    expect(page.locator("a.oil[tabindex='0']")).to_have_count(1)
    expect(page.locator("a.oil:focus")).to_have_count(1)

    page.keyboard.press("+")
    expect(page.locator("#chart")).to_have_attribute("data-zoom", "2")
    whole = page.locator("#chart").get_attribute("viewBox")
    page.keyboard.press("Space")
    marked = about.text_content() or ""
    expect(page.locator(".about:not([hidden]) input")).to_be_checked()
    page.keyboard.press("0")
    expect(page.locator("#chart")).to_have_attribute("data-zoom", "1")
    assert page.locator("#chart").get_attribute("viewBox") != whole

    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text(marked)


def test_the_chart_is_picked_by_hand(page: Page) -> None:
    page.goto("/shelf/chart")
    page.locator("#at-castor").click()
    expect(page.locator(".about:not([hidden]) h2")).to_have_text("Castor oil")
    assert page.url.endswith("/shelf/chart")  # the first click looks, the second opens

    page.locator("#at-castor").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Castor oil")


def test_an_oil_that_is_found_goes_into_the_open_blend_by_one_tap(page: Page) -> None:
    page.goto("/blends/2")
    page.goto("/shelf/argan")
    page.get_by_role("link", name="Into After-swim body oil").click()

    expect(page.locator("input[name=typed]")).to_have_count(6)
    expect(page.get_by_label("Row 6", exact=True)).to_have_value("1 tbsp Argan oil")
    expect(page.get_by_text("Saved as")).to_have_count(0)  # it is looked at before it is kept


def test_a_target_is_dragged_on_the_chart_and_a_blend_is_found_there(page: Page) -> None:
    page.goto("/shelf/chart")
    page.get_by_role("button", name="Aim").click()
    olive, grapeseed = (page.locator(f"#at-{key} .touch").bounding_box() for key in ("olive", "grapeseed"))
    assert olive is not None
    assert grapeseed is not None
    page.mouse.move(olive["x"] + 5, olive["y"] + 5)  # which opens no page of an oil
    page.mouse.down()
    page.mouse.move((olive["x"] + grapeseed["x"]) / 2, (olive["y"] + grapeseed["y"]) / 2, steps=4)
    page.mouse.up()

    expect(page).to_have_url(re.compile(r"/shelf/find\?wish=.*up\+the\+chart\+under"))
    expect(page.get_by_role("link", name="Take it to the bench").first).to_be_visible()
