"""The record of a batch on paper: to take to the bench before, and to keep once it is closed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, SimpleDocTemplate, Spacer, Table, TableStyle

from uptide.formats.pdf import FAINT, INK, load_fonts, set_text

SIZE = 10.0  # points
COLUMNS = ("No.", "What", "From lot", "g wanted", "g poured", "Measured", "Done")
TO_FILL_IN = ("Made by", "Bench at °C", "Vessel, g", "Mixed at")
NEXT_DAY = "Next day: clear or cloudy, one phase or two, colour, smell, feel, residue"


@dataclass(frozen=True, slots=True)
class BatchLine:
    """A line of a batch as it is written down."""

    what: str
    lots: str
    wanted: str
    poured: str
    measured: str


def batch_pdf(
    name: str,
    number: str,
    sentences: Sequence[str],
    lines: Sequence[BatchLine],
    happened: Sequence[str],
    *,
    is_open: bool,
) -> bytes:
    """A batch as PDF: what is to be filled in by hand while it is open, all that happened once it is not."""
    load_fonts()
    buffer = BytesIO()
    document = SimpleDocTemplate(
        buffer,
        pagesize=A4,
        leftMargin=16 * mm,
        rightMargin=16 * mm,
        topMargin=14 * mm,
        bottomMargin=12 * mm,
        title=f"{name}: batch {number}",
        author="Up Tide",
    )
    story: list[Flowable] = [set_text(f"{name}, batch {number}", SIZE + 7, bold=True)]
    story += [set_text(words, SIZE) for words in sentences if words]
    story += [Spacer(1, 3 * mm), _table(lines), Spacer(1, 4 * mm)]
    if is_open:
        story += [set_text("   ".join(f"{what} ____________" for what in TO_FILL_IN), SIZE)]
        story += [Spacer(1, 3 * mm), set_text(NEXT_DAY, SIZE)]
    story += [set_text(words, SIZE - 1.5) for words in happened]
    document.build(story)
    return buffer.getvalue()


def _table(lines: Sequence[BatchLine]) -> Table:
    cells = [[set_text(word, SIZE - 1.5, bold=True) for word in COLUMNS]]
    cells += [
        [
            set_text(str(number), SIZE),
            set_text(line.what, SIZE, bold=True),
            set_text(line.lots, SIZE),
            set_text(line.wanted, SIZE, bold=True),
            set_text(line.poured, SIZE),
            set_text(line.measured, SIZE),
            set_text("", SIZE),
        ]
        for number, line in enumerate(lines, start=1)
    ]
    table = Table(cells, colWidths=[8 * mm, 56 * mm, 34 * mm, 22 * mm, 22 * mm, 24 * mm, 12 * mm], repeatRows=1)
    table.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, 0), 0.8, INK),
                ("LINEBELOW", (0, 1), (-1, -1), 0.3, FAINT),
                ("BOX", (6, 1), (6, -1), 0.5, INK),
                ("INNERGRID", (6, 1), (6, -1), 0.5, INK),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 2),
                ("RIGHTPADDING", (0, 0), (-1, -1), 2),
            ]
        )
    )
    return table
