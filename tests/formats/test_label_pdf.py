"""Labels as PDF: as many as there are bottles, where the sheet has them, in letters that can be read."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import date
from io import BytesIO

import pytest
from PIL import Image
from pypdf import PdfReader

from uptide.core.making.label import Label, Symbol
from uptide.core.making.sheets import SHEETS, one_label
from uptide.formats.label_pdf import (
    DoesNotFitError,
    as_png,
    code_of,
    labels_pdf,
    lines_of,
    outlines_pdf,
    symbol_on,
)
from uptide.formats.label_symbols import WORDS_POINTS

LABEL = Label(
    name="Wind-and-salt face oil",
    product="Facial oil",
    contents="30 mL",
    ingredients=("Vitis Vinifera Seed Oil", "Simmondsia Chinensis Seed Oil", "Rosa Canina Fruit Oil", "Linalool"),
    allergens=("tree nut",),
    cautions=("For external use only.", "Patch test before use."),
    batch_code="20261127-1",
    made_on=date(2026, 11, 27),
    best_before=date(2027, 8, 27),
    open_points=(),
    bottles=6,
    size_ml=30.0,
)
SHEET = SHEETS["a4-63x72"]
HOURGLASS = Symbol.HOURGLASS


def read(content: bytes) -> PdfReader:
    return PdfReader(BytesIO(content))


def drawn(content: bytes) -> bytes:
    """What the first page draws."""
    contents = read(content).pages[0].get_contents()
    assert contents is not None
    return contents.get_data()


def test_as_many_as_there_are_bottles_over_as_many_sheets_as_it_takes() -> None:
    six = read(labels_pdf([LABEL], SHEET, region="EU"))
    assert len(six.pages) == 1
    assert six.pages[0].extract_text().count("Batch 20261127-1") == 6
    assert [round(float(side) * 25.4 / 72) for side in six.pages[0].mediabox[2:]] == [210, 297]
    more = read(labels_pdf([replace(LABEL, bottles=14)], SHEET, region="EU", first=3))
    assert [page.extract_text().count("Batch 20261127-1") for page in more.pages] == [9, 5]
    both = read(labels_pdf([LABEL, replace(LABEL, contents="10 mL", bottles=2)], SHEET, region="EU"))
    assert both.pages[0].extract_text().count("10 mL") == 2


def test_what_does_not_fit_goes_on_a_second_panel_and_is_never_shrunk_below_legible() -> None:
    long = replace(LABEL, ingredients=LABEL.ingredients * 16, bottles=1)
    one, two = (lines_of(each, one_label(70, 50), "EU") for each in (LABEL, long))
    assert (len(one), len(two)) == (1, 2)
    assert any("Ingredients: second panel." in line.words for line in two[0])
    assert min(line.points for panel in two for line in panel) >= 5
    with pytest.raises(DoesNotFitError, match="take a larger label"):
        labels_pdf([long], one_label(40, 20), region="EU")


def test_letters_of_the_contents_are_high_enough() -> None:
    large = replace(LABEL, size_ml=500.0, contents="500 mL")
    (panel,) = lines_of(large, SHEET, "EU")
    contents = next(line for line in panel if line.words == "500 mL")
    # 4 mm for 200 to 1000 mL; capitals of this font are some 0.7 of its size.
    assert contents.points * 25.4 / 72 * 0.7 == pytest.approx(4.2, abs=0.2)


def test_the_symbol_stands_above_the_code_as_a_drawing_and_the_jar_says_its_months() -> None:
    plain, glass = (drawn(labels_pdf([each], SHEET, region="EU")) for each in (LABEL, replace(LABEL, symbol=HOURGLASS)))
    assert len(re.findall(rb" l\s", glass)) - len(re.findall(rb" l\s", plain)) == 6 * 15  # strokes of six labels
    jar = replace(LABEL, symbol=Symbol.OPEN_JAR, open_months=18, best_before=None)
    text = read(labels_pdf([jar], SHEET, region="EU")).pages[0].extract_text()
    assert text.count("18M") == 6
    assert "Once opened, use within 18 months" in " ".join(text.split())
    assert "Best before" not in text
    placed = symbol_on(jar, SHEET)
    assert placed.words == "18M"
    assert max(y for line in placed.lines for _, y in line) < min(top for _, top, _ in code_of(jar, SHEET))
    heights = [y for _, y in placed.lines[0]]
    middle_of_words = placed.words_y - WORDS_POINTS * 25.4 / 72 * 0.7 / 2
    assert middle_of_words == pytest.approx((min(heights) + max(heights)) / 2, abs=0.3)  # in the middle of the jar
    assert symbol_on(jar, SHEETS["a4-38x21"]).lines == ()  # no room: the words say it


def test_each_bottle_has_a_code_of_its_own() -> None:
    numbered = replace(LABEL, numbered=True, bottles=2)
    assert [numbered.code_of(place) for place in (1, 2)] == ["20261127-1-1", "20261127-1-2"]
    assert LABEL.code_of(2) == LABEL.batch_code
    one, two = (
        drawn(labels_pdf([replace(LABEL, numbered=yes, bottles=2)], SHEET, region="EU")) for yes in (False, True)
    )
    assert one != two
    assert code_of(numbered, SHEET) != code_of(LABEL, SHEET)


def test_what_is_shown_is_what_is_printed() -> None:
    (panel,) = lines_of(LABEL, SHEET, "EU")
    printed = read(labels_pdf([replace(LABEL, bottles=1)], SHEET, region="EU")).pages[0].extract_text()
    assert [line.words for line in panel] == [words for words in printed.splitlines() if words]
    assert all(0 < line.x < SHEET.width and 0 < line.y < SHEET.height for line in panel)


def test_front_and_back_are_two_labels() -> None:
    front, back = lines_of(LABEL, SHEET, "EU", front_and_back=True)
    assert [line.words for line in front] == ["Wind-and-salt face oil", "Facial oil", "30 mL"]
    assert any(line.words.startswith("Ingredients:") for line in back)
    assert len(read(labels_pdf([LABEL], SHEET, region="EU", front_and_back=True)).pages) == 1


def test_around_a_bottle_a_mark_says_where_it_meets() -> None:
    lines = []
    for mm in (0.0, 105.0):
        content = labels_pdf([replace(LABEL, bottles=1)], one_label(110, 40), region="EU", circumference=mm)
        lines.append(len(re.findall(r" l\b", drawn(content).decode())))
    assert lines[1] == lines[0] + 2


def test_a_code_stands_beside_where_there_is_room() -> None:
    tall, low = (labels_pdf([replace(LABEL, bottles=1)], one_label(90, mm), region="EU") for mm in (62, 33))
    boxes = [drawn(each).count(b" re") for each in (tall, low)]
    assert boxes[0] > 50 > boxes[1]


def test_outlines_and_a_picture_of_the_first_page() -> None:
    assert drawn(outlines_pdf(SHEET)).count(b" re") == 12
    picture = Image.open(BytesIO(as_png(labels_pdf([replace(LABEL, bottles=1)], one_label(63.5, 38.1), region="EU"))))
    assert picture.size == (750, 450) or picture.size == (750, 451)  # 63.5 × 38.1 mm at 300 dots to the inch
