"""From a jar in words to a bottle's label, with a thermometer that is simulated and sped up."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from bench.measure import running
from playwright.sync_api import Page, expect

from uptide.devices.simulated import SimulatedThermometer
from uptide.workshop.instruments import Instruments

SPEED = 600.0  # ten minutes of the jar in a second


@pytest.fixture(scope="module")
def thermometer() -> Iterator[SimulatedThermometer]:
    made = SimulatedThermometer("hob", speed=SPEED)
    made.jar.heat_off = True  # until the jar is in the bath
    made.start()
    yield made
    made.stop()


@pytest.fixture(scope="module")
def with_thermometer(thermometer: SimulatedThermometer) -> Iterator[str]:
    with running(instruments=Instruments(thermometer=thermometer.address, thermometer_speed=SPEED)) as base:
        yield base


def test_a_jar_from_its_words_to_the_label_of_a_blend(
    page: Page, with_thermometer: str, thermometer: SimulatedThermometer
) -> None:
    page.goto(f"{with_thermometer}/steeping")
    page.get_by_role("textbox", name="In words").fill(
        "40 g dried calendula in 400 g high linoleic sunflower oil, water bath"
    )
    page.get_by_role("button", name="Read it").click()
    expect(page.locator(".sentence")).to_contain_text("Calendula, dried, in sunflower oil")
    page.get_by_label("Its name").fill("By the hob")
    page.get_by_role("button", name="Begin this jar").click()

    page.get_by_role("button", name="The thermometer stands in this jar").click()
    expect(page.locator("#warm-now")).to_contain_text("°C now; 60 °C are the most", timeout=10_000)
    thermometer.jar.heat_off = False
    expect(page.locator("#warm-now [role=alert]")).to_contain_text("turn the heat off", timeout=20_000)
    thermometer.jar.heat_off = True  # as it says
    expect(page.locator("#warm-now [role=alert]")).to_have_count(0, timeout=20_000)
    expect(page.locator("#warm-picture svg")).to_be_visible()
    expect(page.locator("#warm-picture")).to_contain_text(re.compile(r"Hottest\s*(6|7)\d\.\d °C"))
    expect(page.locator("#warm-picture")).to_contain_text("of the oil’s life by what was read; the plan was 1 %")
    page.get_by_role("button", name="Take the thermometer out").click()

    page.get_by_label("What", exact=True).select_option("looked at")
    page.get_by_label("In your words").fill("deep yellow")
    page.locator("form[action$=notes]").get_by_role("button", name="Note it").click()
    expect(page.get_by_text("deep yellow")).to_be_visible()

    page.get_by_role("link", name="Strain it").click()
    page.get_by_label("Oil that came out, g").fill("320")
    page.get_by_label("Code of the lot").fill("HOB-1")
    page.get_by_role("button", name="Strained: put it on the shelf").click()
    expect(page.get_by_role("heading", name="Calendula in sunflower oil")).to_be_visible()
    expect(page.get_by_text("The jar cost it")).to_be_visible()

    page.get_by_role("link", name="a massage oil").click()
    expect(page.locator("#meaning-0")).to_contain_text("lot HOB-1")
    page.get_by_label("Name", exact=True).fill("Hob oil")
    page.locator(".actions").get_by_role("button", name="Label").click()
    expect(
        page.get_by_text("Ingredients: Helianthus Annuus Seed Oil, Calendula Officinalis Flower Extract")
    ).to_be_visible()


def test_what_befalls_the_thermometer_is_said_and_nothing_waits(
    page: Page, with_thermometer: str, thermometer: SimulatedThermometer
) -> None:
    page.goto(f"{with_thermometer}/steeping/jars/1")
    page.get_by_role("button", name="The thermometer stands in this jar").click()
    now = page.locator("#warm-now")
    expect(now).to_contain_text("°C now", timeout=10_000)
    thermometer.garbage = 1.0
    expect(now).to_contain_text(
        re.compile(r"No reading for \d+ s:\s+it sends nothing that can be read"), timeout=15_000
    )
    thermometer.garbage, thermometer.unplugged = 0.0, True
    expect(now).to_contain_text(re.compile(r"No reading for \d+ s"), timeout=15_000)
    page.reload()
    expect(page.get_by_role("heading", name="How warm it is")).to_be_visible()
    thermometer.unplugged = False
    expect(now).to_contain_text("°C now", timeout=15_000)
