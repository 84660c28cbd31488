"""A pasted recipe becomes a blend: questions answered, a share changed, saved, reopened, printed."""

from __future__ import annotations

import re
from io import BytesIO

import pytest
from playwright.sync_api import Page, Route, expect
from pypdf import PdfReader
from tests.browser.conftest import figure, number, paste, unfold

TEN_LINES = """For the face, after a swim:
2 tbsp grapeseed
1 tbsp jojoba
1 tbsp rosehip
1 oz olive
2 tsp sunflower
1 tsp castor
2 droppers squalane
10 to 15 drops lavender
0.5% mixed tocopherols"""


def test_a_pasted_recipe_is_resolved_changed_saved_reopened_and_printed(page: Page) -> None:
    page.goto("/blends/new")
    page.get_by_label("Name", exact=True).fill("Storm-day oil")
    page.get_by_label("holds, mL").fill("150")
    paste(page, TEN_LINES)

    # Ten rows, two of them open to two readings: all are worked out, and it says which are assumed.
    expect(page.locator("input[name=typed]")).to_have_count(10)
    expect(page.get_by_text("2 readings are assumed")).to_be_visible()
    unfold(page, "chemistry")
    before = number(page, "total_mass")
    page.get_by_role("button", name="ounces on the scale, by weight").click()
    expect(page.get_by_text("1 reading is assumed")).to_be_visible()
    page.get_by_role("button", name="Sunflower oil (high oleic)").click()
    expect(page.get_by_text(re.compile("readings? (is|are) assumed"))).to_have_count(0)
    # An ounce of olive by weight is 28.35 g, by volume 29.57 x 0.9135 = 27.01 g; and 0.5 % of it more.
    assert number(page, "total_mass") - before == pytest.approx(1.34 / 0.995, abs=0.15)

    iodine = number(page, "iodine_value")
    share = page.get_by_label("Share of Rosehip seed oil")
    share.fill("30")
    share.press("Enter")
    expect(page.get_by_label("Row 4", exact=True)).to_have_value(re.compile(r"^\d+½? tbsp( \+ .*)? rosehip$"))
    expect(figure(page, "iodine_value")).not_to_have_text(f"{iodine:.1f} g I₂/100 g")
    assert number(page, "iodine_value") > iodine
    assert float(page.get_by_label("Share of Rosehip seed oil").input_value()) == pytest.approx(30, abs=0.6)

    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Saved as version 1.")).to_be_visible()
    unfold(page, "chemistry")
    mass = number(page, "total_mass")
    page.goto("/blends")
    page.get_by_role("link", name="Storm-day oil").click()
    expect(page.locator("input[name=typed]")).to_have_count(10)
    unfold(page, "chemistry")
    assert number(page, "total_mass") == mass

    page.get_by_role("button", name="Batch sheet").click()
    page.get_by_label("Bottles").fill("3")
    page.get_by_label("of mL").fill("50")
    page.get_by_role("button", name="Work it out").click()
    grams = page.get_by_role("row", name=re.compile("Grapeseed oil")).get_by_role("cell").nth(4).inner_text()
    action = page.get_by_role("button", name="PDF").get_attribute("formaction") or ""
    pdf = page.request.get(f"{action}?{page.url.split('?')[1]}").body()
    printed = re.sub(r"\s+", " ", PdfReader(BytesIO(pdf)).pages[0].extract_text())
    assert "Storm-day oil" in printed
    assert "3 × 50 mL" in printed
    assert grams in printed


def test_typing_one_line_shows_what_it_is_before_enter(page: Page) -> None:
    page.goto("/blends/new")
    page.get_by_label("Add a row").press_sequentially("2 tbsp grapeseed, 1 tbsp jojoba, 12 drops lavender")

    expect(page.get_by_text("12 drops lavender = Lavender (true) essential oil, 0.53 g")).to_be_visible()
    unfold(page, "chemistry")
    assert number(page, "total_mass") == pytest.approx(40.6, abs=0.05)
    page.get_by_label("Add a row").press("Enter")
    expect(page.locator("input[name=typed]")).to_have_count(3)
    expect(page.get_by_label("Add a row")).to_be_focused()


def test_undo_and_redo_go_through_the_sheet(page: Page) -> None:
    page.goto("/blends/new")
    for row in ("2 tbsp grapeseed", "1 tbsp jojoba"):
        page.get_by_label("Add a row").fill(row)
        page.get_by_label("Add a row").press("Enter")
        expect(page.locator(f"input[name=typed][value='{row}']")).to_have_count(1)
    page.get_by_label("Take row 1 out").click()
    expect(page.locator("input[name=typed]")).to_have_count(1)
    page.get_by_role("button", name="Put the row back").click()
    expect(page.locator("input[name=typed]")).to_have_count(2)
    page.get_by_label("Take row 1 out").click()
    expect(page.locator("input[name=typed]")).to_have_count(1)

    page.get_by_role("button", name="Undo").click()
    expect(page.locator("input[name=typed]")).to_have_count(2)
    expect(page.get_by_label("Row 1", exact=True)).to_have_value("2 tbsp grapeseed")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("input[name=typed]")).to_have_count(1)
    page.get_by_role("button", name="Redo").click()
    expect(page.locator("input[name=typed]")).to_have_count(2)


def test_what_was_typed_and_not_saved_is_offered_again(page: Page) -> None:
    page.goto("/blends/new")
    page.get_by_label("Add a row").fill("2 tbsp grapeseed")
    page.get_by_label("Add a row").press("Enter")
    expect(page.locator("input[name=typed]")).to_have_count(1)
    page.goto("/blends/new")

    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_label("Row 1", exact=True)).to_have_value("2 tbsp grapeseed")
    unfold(page, "chemistry")
    assert number(page, "total_mass") == pytest.approx(27.3, abs=0.05)


def test_a_figure_opens_its_working_and_stays_open_while_one_types(page: Page) -> None:
    page.goto("/blends/1")
    unfold(page, "chemistry")
    page.locator("#figure-iodine_value summary").click()
    expect(page.get_by_text("Each double bond takes up one iodine molecule")).to_be_visible()
    expect(page.get_by_text("AOCS Recommended Practice Cd 1c-85").first).to_be_visible()
    before = figure(page, "iodine_value").inner_text()

    page.get_by_label("Row 3", exact=True).fill("2 tbsp rosehip")
    expect(figure(page, "iodine_value")).not_to_have_text(before)
    expect(page.get_by_text("Each double bond takes up one iodine molecule")).to_be_visible()
    expect(page.get_by_label("Row 3", exact=True)).to_be_focused()


def test_the_bench_works_by_keyboard_alone(page: Page) -> None:
    page.goto("/blends/new")
    page.get_by_label("Name", exact=True).focus()
    page.keyboard.type("By keys")
    page.get_by_label("Add a row").focus()
    page.keyboard.type("2 tbsp grapeseed")
    page.keyboard.press("Enter")
    expect(page.locator("input[name=typed]")).to_have_count(1)
    page.keyboard.press("ArrowUp")
    expect(page.get_by_label("Row 1", exact=True)).to_be_focused()
    page.keyboard.press("ArrowDown")
    page.keyboard.type("1 tbsp jojoba")
    page.keyboard.press("Enter")
    expect(page.locator("input[name=typed]")).to_have_count(2)


def test_the_quick_line_answers_as_one_types(page: Page) -> None:
    page.goto("/")
    page.get_by_label("Ask: a sum").press_sequentially("2% of 30 ml in drops")

    expect(page.get_by_role("status").filter(has_text="12 drops")).to_be_visible()


def test_a_whole_recipe_in_the_quick_line_is_said_in_brief_and_put_on_the_bench(page: Page) -> None:
    page.goto("/")
    page.get_by_label("Ask: a sum").fill("2 tbsp grapeseed, 1 tbsp jojoba, 12 drops lavender, 5 drops bergamot")
    answer = page.get_by_role("status").filter(has_text="Feels fast")

    expect(answer).to_contain_text("suits oily, combination and normal")
    expect(answer).to_contain_text("“bergamot” is bergamot (expressed) essential oil")
    answer.get_by_role("link", name="Put it on the bench").click()
    expect(page.locator("#typed-3")).to_have_value("5 drops bergamot")
    expect(page.locator("#glance")).to_contain_text("“bergamot” is only assumed")


def holds_drafts(page: Page, count: int) -> None:
    """Wait until this browser holds so many drafts, of all its tabs: the page tidies them once its script has begun."""
    drafts = "Object.keys(localStorage).filter((key) => key.startsWith('uptide.draft.'))"
    page.wait_for_function(f"{drafts}.length === {count}", timeout=5000)


def test_two_tabs_of_new_have_a_draft_each_and_it_goes_when_it_was_stored(page: Page) -> None:
    other = page.context.new_page()
    for tab, row in ((page, "31 g jojoba"), (other, "32 g argan")):
        tab.goto("/blends/new")
        tab.get_by_label("Add a row").fill(row)
        tab.get_by_label("Add a row").press("Enter")
        expect(tab.get_by_label("Row 1", exact=True)).to_have_value(row)
    holds_drafts(page, 2)

    page.get_by_role("button", name="Save", exact=True).click()  # without a name it is refused
    expect(page.get_by_text("A blend needs a name")).to_be_visible()
    holds_drafts(page, 2)
    page.get_by_label("Name", exact=True).fill("Two tabs")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Saved as version 1")).to_be_visible()
    holds_drafts(page, 1)

    other.reload()
    expect(other.get_by_text("This page kept what was typed here")).to_be_visible()
    other.get_by_role("button", name="Bring it back").click()
    expect(other.get_by_label("Row 1", exact=True)).to_have_value("32 g argan")
    other.close()


def test_what_is_typed_while_an_older_draft_is_offered_takes_nothing_from_it(page: Page) -> None:
    page.goto("/blends/new")
    page.get_by_label("Add a row").fill("31 g jojoba")
    page.get_by_label("Add a row").press("Enter")
    expect(page.get_by_label("Row 1", exact=True)).to_have_value("31 g jojoba")
    page.goto("/blends/new")
    expect(page.get_by_text("This page kept what was typed here")).to_be_visible()
    page.get_by_label("Add a row").fill("5 g argan")
    page.get_by_label("Add a row").press("Enter")
    expect(page.get_by_label("Row 1", exact=True)).to_have_value("5 g argan")
    holds_drafts(page, 2)

    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_label("Row 1", exact=True)).to_have_value("31 g jojoba")


def test_what_was_asked_for_just_before_saving_is_saved_with_it(page: Page) -> None:
    def slowly(route: Route) -> None:
        page.wait_for_timeout(400)
        route.continue_()

    page.goto("/blends/new?recipe=30 g sunflower")
    page.get_by_label("Name", exact=True).fill("In haste")
    expect(page.get_by_role("button", name="Sunflower oil (high oleic)")).to_be_visible()
    page.route("**/sheet", slowly)
    page.get_by_role("button", name="Sunflower oil (high oleic)").click()
    page.get_by_role("button", name="Save", exact=True).click()

    expect(page.get_by_text("Saved as version 1")).to_be_visible()
    expect(page.locator("#meaning-0")).to_contain_text("Sunflower oil (high oleic)")
    expect(page.get_by_text("taken as")).to_have_count(0)
