"""Every picture goes into a file, as it stands on the page."""

from __future__ import annotations

import re
from io import BytesIO
from pathlib import Path
from xml.etree import ElementTree as ET

import pytest
from PIL import Image
from playwright.sync_api import Page

PAINTED = "painted"
SVG = "{http://www.w3.org/2000/svg}"
PAGES = ("/blends/1", "/keeping", "/shelf/olive", "/shelf/chart", "/shelf/reach", "/steeping/jars/1", "/")


def saved(page: Page, nth: int, kind: str) -> tuple[str, bytes]:
    """The name and the content of the file of a picture."""
    with page.expect_download() as waited:
        page.locator(".save-picture button", has_text=kind).nth(nth).dispatch_event("click")
    return waited.value.suggested_filename, Path(waited.value.path()).read_bytes()


@pytest.mark.parametrize("path", PAGES)
def test_every_picture_of_a_page_is_a_drawing_that_stands_by_itself(page: Page, path: str) -> None:
    page.goto(path)
    page.locator(".save-picture").first.wait_for(state="attached")
    pictures = page.evaluate("document.querySelectorAll('main svg[role=img][viewBox], main svg[role=group]').length")
    count = page.locator(".save-picture").count()
    assert 0 < count <= pictures
    names = []
    for nth in range(count):
        name, content = saved(page, nth, "SVG")
        names.append(name)
        drawn = ET.fromstring(content)  # noqa: S314 - what the page made
        assert drawn.tag == f"{SVG}svg"
        assert (drawn.findtext(f"{SVG}title") or "").strip()
        assert not re.search(rb'\s(class|x-[a-z]+|data-[a-z]+|href)="', content)
        colours = {each.get(name) for each in drawn.iter() for name in ("fill", "stroke")} - {None, "none"}
        assert len(colours) > 2  # they go along, on a ground
    assert all(re.fullmatch(r"[\w-]+\.svg", name) for name in names)


def test_a_picture_in_points_is_sharp_and_not_empty(page: Page) -> None:
    page.goto("/keeping")
    name, content = saved(page, 0, "PNG")
    image = Image.open(BytesIO(content)).convert("RGB")
    assert name.endswith(".png")
    assert image.width >= 1600
    assert len(image.getcolors(2**20) or ()) > 10


def test_it_is_there_after_an_edit_as_well(page: Page) -> None:
    page.goto("/blends/1")
    _, before = saved(page, 0, "SVG")
    with page.expect_event("console", lambda said: said.text == PAINTED):
        page.evaluate(f"document.addEventListener('uptide:painted', () => console.log('{PAINTED}'))")
        page.get_by_label("Add a row").fill("90 g olive")
    assert page.locator(".save-picture").first.is_visible()
    _, after = saved(page, 0, "SVG")
    assert before != after
