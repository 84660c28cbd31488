"""Workbooks: what a person's spreadsheet holds comes in as its CSV would, and nothing that goes out is run."""

from __future__ import annotations

import io
import zipfile
from datetime import date, datetime

import pytest
from openpyxl import Workbook, load_workbook

from uptide.core.errors import UptideError
from uptide.core.measures.lines import split_recipe
from uptide.formats.xlsx import BEGINS, rows_of, text_of, workbook


def book(*rows: tuple[object, ...]) -> bytes:
    made, out = Workbook(), io.BytesIO()
    sheet = made.active
    assert sheet is not None
    for row in rows:
        sheet.append(row)
    made.create_sheet("Another").append(["not read"])
    made.save(out)
    return out.getvalue()


def test_the_first_sheet_is_read_as_words_days_and_numbers() -> None:
    content = book(
        ("code", "came", "grams", "at"),
        ("A-1", date(2026, 8, 1), 12.5, datetime(2026, 8, 1, 10, 30)),  # noqa: DTZ001 - as a workbook has it
        (None, None, None, None),
        (" A,2 ", None, 0.1 + 0.2, True),
    )

    assert rows_of("lots.xlsx", content) == [
        ["code", "came", "grams", "at"],
        ["A-1", "2026-08-01", "12.5", "2026-08-01T10:30:00"],
        ["A,2", "", "0.3", "True"],
    ]
    assert text_of("lots.xlsx", content).splitlines()[2] == '"A,2",,0.3,True'
    assert text_of("lots.csv", "\ufeffcode,came\n".encode()) == "code,came\n"


def test_a_recipe_that_was_kept_in_a_spreadsheet_is_read_by_its_columns() -> None:
    content = book(
        ("Ingredient", "Weight (g)", "%", "Note"),
        ("Rice bran oil", 30, 70, "cheap"),
        ("Jojoba, golden", 12.9, 30),
        (None, 42.9, 100),
    )

    assert split_recipe(text_of("dune.xlsx", content)) == (
        "30 g Rice bran oil",
        "12.9 g Jojoba, golden",
        "Total 42.9 100",
    )


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"\xff\xfe\x00", "is no text in UTF-8"),
        (BEGINS + b"nothing", "is no workbook that can be read"),
        (book(*((n,) for n in range(5_002))), "up to 5000 are read"),
    ],
)
def test_what_is_no_workbook_is_refused_in_words(content: bytes, said: str) -> None:
    with pytest.raises(UptideError, match=said):
        text_of("odd.xlsx", content)


def test_a_workbook_that_would_fill_the_memory_is_not_opened() -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("xl/worksheets/sheet1.xml", b" " * 20_000_000)
    with pytest.raises(UptideError, match="would unpack"):
        text_of("bomb.xlsx", out.getvalue())
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("letter.txt", "dear friend")
    with pytest.raises(UptideError, match="is no workbook"):
        text_of("letter.xlsx", out.getvalue())


def test_no_cell_of_ours_is_a_formula_and_numbers_are_numbers() -> None:
    """Read back with the library's own reader, formulas as such."""
    content = workbook({"Blends": (("name", "g"), [("=HYPERLINK(1)", 12.5), ("+1", None), ("\x00\x1b=2", 3)])})
    sheet = load_workbook(io.BytesIO(content), data_only=False)["Blends"]
    cells = {cell.coordinate: (cell.value, cell.data_type) for row in sheet.iter_rows() for cell in row}

    assert cells["A2"] == ("=HYPERLINK(1)", "s") or cells["A2"] == ("=HYPERLINK(1)", "inlineStr")
    assert cells["B2"] == (12.5, "n")
    assert cells["A3"][0] == "+1"
    assert cells["A4"][0] == "=2"
    assert not [kind for _, kind in cells.values() if kind == "f"]
