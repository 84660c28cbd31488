"""What a laboratory sends is read as it came: what was found counts, what was only asked for does not."""

from __future__ import annotations

import io

import pytest
from openpyxl import Workbook
from reportlab.pdfgen.canvas import Canvas

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import UptideError
from uptide.core.lipids.pasted import PastedTable, read_pasted
from uptide.formats.certificate_file import MOST_PAGES, certificate_text

HEAD = ("Parameter", "Method", "Specification", "Result")
ROWS = (
    ("Peroxide value (meq O2/kg)", "ISO 3960", "< 10", "1.8"),
    ("Free fatty acids, as oleic (%)", "ISO 660", "max 0.5", "0.12"),
    ("Oleic acid C18:1 (%)", "ISO 12966-4", "15 - 25", "19.2"),
    ("Linoleic acid C18:2 (%)", "ISO 12966-4", "58 - 78", "68.3"),
    ("Appearance", "", "clear", "clear"),
)


def a_pdf(*pages: tuple[str, ...]) -> bytes:
    out = io.BytesIO()
    canvas = Canvas(out)
    for page in pages:
        for place, line in enumerate(page):
            canvas.drawString(50, 780 - 16 * place, line)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def a_workbook() -> bytes:
    book, out = Workbook(), io.BytesIO()
    sheet = book.active
    assert sheet is not None
    for row in (("Certificate of analysis, lot 22-118",), (), HEAD, *ROWS):
        sheet.append(row)
    book.save(out)
    return out.getvalue()


FILES = {
    "a.csv": "\n".join(",".join(f'"{cell}"' for cell in row) for row in (HEAD, *ROWS)).encode(),
    "a.txt": "\n".join("\t".join(row) for row in (HEAD, *ROWS)).encode(),
    "a.xlsx": a_workbook(),
    "a.pdf": a_pdf(("Certificate of analysis",), tuple(" ".join(row) for row in ROWS)),
}


def read(catalogue: Catalogue, name: str) -> PastedTable:
    return read_pasted(certificate_text(name, FILES[name]), catalogue.acids, catalogue.safety.constituent_names)


@pytest.mark.parametrize("name", FILES)
def test_what_was_found_is_read_out_of_every_kind_of_file(catalogue: Catalogue, name: str) -> None:
    found = read(catalogue, name)
    assert found.figures == {"peroxide_value": 1.8, "free_fatty_acids": 0.12}
    assert {code: amount.typical for code, amount in found.acids.items()} == {"18:1n9": 19.2, "18:2n6": 68.3}
    assert any(line.startswith("Appearance") for line, _ in found.not_read)


def test_in_a_table_the_range_that_was_asked_for_is_not_what_was_found(catalogue: Catalogue) -> None:
    oleic = read(catalogue, "a.csv").acids["18:1n9"]
    assert (oleic.low, oleic.high) == (19.2, 19.2)


@pytest.mark.parametrize("head", ["", "Results, batch 5\n", "Analysis, Tove\n"])
def test_a_decimal_comma_parts_no_number(catalogue: Catalogue, head: str) -> None:
    text = certificate_text("a.txt", f"{head}C16:0 6,1\nC18:1 62,1\nC18:2; 21,3\n".encode())
    found = read_pasted(text, catalogue.acids).acids
    assert [(each.low, each.high) for each in found.values()] == [(6.1, 6.1), (62.1, 62.1), (21.3, 21.3)]


def test_a_decimal_comma_in_a_table_stays_in_its_cell(catalogue: Catalogue) -> None:
    table = 'Test;Specification;Result\nOleic acid;"15,0 - 25,0";19,2\nPeroxide value;max 10,0;1,8\n'
    found = read_pasted(certificate_text("a.csv", table.encode()), catalogue.acids)
    assert found.figures == {"peroxide_value": 1.8}
    assert found.acids["18:1n9"].typical == 19.2


def test_a_range_that_was_published_stays_where_no_result_stands_beside_it(catalogue: Catalogue) -> None:
    oleic = read_pasted("Acid\tMin\tTypical\tMax\nOleic\t55\t62\t75", catalogue.acids).acids["18:1n9"]
    assert (oleic.low, oleic.typical, oleic.high) == (55.0, 62.0, 75.0)


@pytest.mark.parametrize(
    ("line", "value"),
    [
        ("Peroxide value max 10 1.8", 1.8),
        ("Peroxide value: 1.8 (max. 10)", 1.8),
        ("Peroxide value ≤ 10 meq/kg found 1.8 meq/kg", 1.8),
        ("Peroxide value 10 max 1.8", 1.8),
        ("Peroxide value not more than 10", 10.0),  # where it is all that is known, the worst of it
    ],
)
def test_a_limit_beside_a_number_is_no_result(catalogue: Catalogue, line: str, value: float) -> None:
    assert read_pasted(line, catalogue.acids).figures == {"peroxide_value": value}


@pytest.mark.parametrize("method", ["ISO 12966-4", "ISO 12966-4:2015", "AOCS Ce 1-62", "AOCS Cd 8b-90", "EN 14103"])
def test_the_number_of_a_standard_is_no_result(catalogue: Catalogue, method: str) -> None:
    found = read_pasted(f"Oleic acid {method} 15 - 25 19.2", catalogue.acids).acids["18:1n9"]
    assert (found.low, found.typical, found.high) == (15.0, 19.2, 25.0)


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (a_pdf(()), "has no text in it, as of a scan"),
        (a_pdf(*[("x",)] * (MOST_PAGES + 1)), f"has {MOST_PAGES + 1} pages"),
        (b"%PDF-1.4 and then nothing", "is no PDF that can be read"),
        (b"\xff\xfe\x00", "is no text in UTF-8"),
        (b"PK\x03\x04nothing", "is no workbook that can be read"),
    ],
)
def test_what_cannot_be_read_says_so(raw: bytes, said: str) -> None:
    with pytest.raises(UptideError, match=said):
        certificate_text("a", raw)
