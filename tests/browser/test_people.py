"""For this person, by hand: a card, four stops that clear, a roller bottle at 5 %, a bath oil that disperses."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect
from tests.browser.conftest import figure, unfold

FOUR = "2 tbsp sweet almond\n2 tbsp jojoba\n12 drops clary sage\n14 drops bergamot expressed\n1 tsp retinol"


def type_rows(page: Page, rows: str) -> None:
    entry = page.get_by_label("Add a row")
    entry.fill(rows)
    entry.press("Enter")


def grade(page: Page, name: str) -> list[str]:
    return page.locator(f"#cautions .cautions li.{name} > p").all_inner_texts()


def test_four_stops_of_a_pregnant_wearer_with_a_nut_allergy_clear(page: Page) -> None:
    page.goto("/people/new")
    page.get_by_label("Name, or a word for whom you mean").fill("Runa")
    page.get_by_label("Pregnant", exact=True).select_option("yes")
    page.get_by_role("radiogroup", name="tree nuts").get_by_text("yes").click()
    for box in page.get_by_label(re.compile(r"^asked:")).all():
        box.check()
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("heading", name="Runa")).to_be_visible()
    expect(page.locator("body")).to_contain_text("Not for somebody with a tree-nut allergy")

    page.get_by_role("link", name="Start a blend for them").click()
    expect(page.get_by_label("For", exact=True)).to_have_value(re.compile(r"\d+"))
    type_rows(page, FOUR)
    stops = page.locator("#cautions .cautions li.stop")
    expect(stops.first).to_be_visible()
    said = " ".join(grade(page, "stop"))
    for words in ("tree-nut allergy", "Holds vitamin A. Not in pregnancy", "Too much scent", "burn in the sun"):
        assert words in said, said
    expect(page.get_by_text(re.compile(r"A draft: \d stops are open"))).to_be_visible()

    page.locator("#cautions-variants summary").click()
    page.get_by_role("button", name="for Runa").click()
    variant = page.locator("#variant")
    expect(variant).to_contain_text("2 tbsp sweet almond")
    expect(variant).to_contain_text("left out")
    page.get_by_role("button", name="Take these changes").click()

    expect(stops).to_have_count(0)
    expect(page.get_by_text(re.compile(r"A draft"))).to_have_count(0)
    expect(page.get_by_label("Row 2", exact=True)).to_have_value("2 tbsp jojoba")
    expect(page.get_by_label("Row 1", exact=True)).not_to_have_value("2 tbsp sweet almond")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Row 1", exact=True)).to_have_value("2 tbsp sweet almond")


def test_a_roller_bottle_bears_five_percent(page: Page) -> None:
    page.goto("/blends/new")
    page.get_by_label("Product").select_option("roller-bottle")
    page.get_by_label("holds, mL").fill("10")
    type_rows(page, "10 drops lavender\ntop up with jojoba")
    scent = figure(page, "scent_dose")

    expect(scent).to_contain_text("above suggested")
    page.locator("#figure-scent_dose > summary").click()
    expect(page.locator("#figure-scent_dose")).to_contain_text("5 % the most here")
    assert not [words for words in grade(page, "stop") if "Too much scent" in words]

    page.get_by_label("Row 1", exact=True).fill("11 drops lavender")
    expect(scent).to_contain_text("too much")
    page.get_by_label("Product").select_option("facial-oil")
    expect(page.locator("#figure-scent_dose")).to_contain_text("1 % the most here")


def test_a_bath_oil_is_made_dispersing(page: Page) -> None:
    page.goto("/blends/new")
    page.get_by_label("Product").select_option("bath-oil-dispersing")
    type_rows(page, "90 g jojoba\n10 g high linoleic safflower\n20 drops lavender")
    water = page.get_by_role("heading", name=re.compile("^Into the water"))
    expect(water).to_have_text("Into the water: it floats")
    assert any("Nothing in it disperses it" in words for words in grade(page, "stop"))

    unfold(page, "water")
    page.locator("#into-water .choices.stacked button").first.click()

    expect(water).to_have_text("Into the water: it disperses")
    expect(page.locator("#rows li")).to_have_count(5)
    assert not any("Nothing in it disperses it" in words for words in grade(page, "stop"))


def test_a_stop_that_may_be_answered_takes_a_written_reason_and_keeps_it(page: Page) -> None:
    page.goto("/blends/new?recipe=3 tbsp jojoba%0A1 tbsp aloe vera gel")
    reason = page.get_by_label("A written reason lifts it")
    expect(reason).to_be_visible()
    reason.press_sequentially("preserved, challenge tested 3 May", delay=5)
    expect(page.locator("#cautions .answered")).to_be_visible()
    expect(reason).to_have_value("preserved, challenge tested 3 May")
    expect(page.get_by_text("A draft")).to_have_count(0)

    page.get_by_label("Name", exact=True).fill("Aloe, answered")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Saved as version 1.")).to_be_visible()
    expect(page.get_by_label("A written reason lifts it")).to_have_value("preserved, challenge tested 3 May")


def test_a_patch_test_is_begun_by_keyboard_and_its_looks_stand_there(page: Page) -> None:
    page.goto("/people")
    page.get_by_role("link", name="Osk, the hut warden").click()
    page.locator("#begin summary").press("Enter")
    page.get_by_label("Of", exact=True).select_option(label="Hut hand balm, version 1")
    page.get_by_label("Applied at").fill("2026-11-01T18:00")
    page.get_by_role("button", name="Begin", exact=True).press("Enter")

    expect(page.get_by_text("The test is begun")).to_be_visible()
    first = page.locator(".looks li").first
    expect(first).to_contain_text("1 Nov 2026, 18:30")
    first.get_by_label("Seen").select_option("faint pink, no itch")
    first.get_by_role("button", name="Note it").click()
    expect(page.locator(".looks li").first).to_contain_text("faint pink, no itch")


def test_whom_a_pasted_recipe_says_is_chosen_checked_and_made_over_for(page: Page) -> None:
    page.goto("/blends/new")
    type_rows(page, "30 ml jojoba, 9 drops lavender for a baby")
    whom = page.get_by_label("For", exact=True)

    expect(whom).to_have_value("a baby")
    expect(page.get_by_label("Row 2", exact=True)).to_have_value("9 drops lavender")
    expect(page.locator("#cautions-title")).to_have_text(re.compile(r"For a baby: \d stop"))
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Row 1", exact=True)).to_have_count(0)
    expect(whom).to_have_value("")
    page.get_by_role("button", name="Redo").click()
    expect(whom).to_have_value("a baby")
    page.get_by_label("Row 2", exact=True).fill("10 drops lavender")
    expect(page.locator("#cautions-title")).to_have_text(re.compile(r"For a baby: \d stop"))
    page.locator("#cautions-variants summary").click()
    page.get_by_role("button", name="for a baby").click()
    expect(page.locator("#variant")).to_contain_text("10 drops lavender")
    page.get_by_role("button", name="Take these changes").click()
    expect(page.locator("#cautions .cautions li.stop")).to_have_count(0)
