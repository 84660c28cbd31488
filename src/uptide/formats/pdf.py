"""Batch sheet as PDF, with the application's own font embedded."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from io import BytesIO
from pathlib import Path
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from uptide.core.assessment.assessment import Assessment
from uptide.core.making.batch_sheet import COLUMNS, SEEN_NEXT_DAY, TO_FILL_IN, BatchSheet

FONTS = Path(__file__).parent / "fonts"
PLAIN, BOLD = "SofiaSansCondensed", "SofiaSansCondensed-Bold"
INK, FAINT = HexColor("#14252e"), HexColor("#b9c7ca")
# Points: what is long is set smaller until it fits one page, and never below 5, where small letters are 0.8 mm high:
# 1/32 inch, the least that US law allows on a small label (from memory); EU law says only that it must be legible.
SHRINK_STEP, SMALLEST = 0.5, 5.0


@cache
def load_fonts() -> None:
    """Make the application’s own font known; once."""
    pdfmetrics.registerFont(TTFont(PLAIN, FONTS / "SofiaSansCondensed-Regular.ttf"))
    pdfmetrics.registerFont(TTFont(BOLD, FONTS / "SofiaSansCondensed-Bold.ttf"))
    pdfmetrics.registerFontFamily(PLAIN, normal=PLAIN, bold=BOLD, italic=PLAIN, boldItalic=BOLD)


def _style(size: float, *, bold: bool = False) -> ParagraphStyle:
    return ParagraphStyle(
        f"s{size}{bold}", fontName=BOLD if bold else PLAIN, fontSize=size, leading=size * 1.22, textColor=INK
    )


def set_text(words: str, size: float, *, bold: bool = False) -> Paragraph:
    """Words as a paragraph of a size [points]."""
    return Paragraph(escape(words), _style(size, bold=bold))


def batch_sheet_pdf(name: str, sheet: BatchSheet, assessment: Assessment, short: Sequence[str] = ()) -> bytes:
    """Set the batch sheet on one A4 page, in smaller type if it is long; `short` says what the shelf cannot give.

    Raises:
        ValueError: it does not fit one page even in the smallest type.
    """
    load_fonts()
    size = 10.5
    while size >= SMALLEST:
        content, pages = _build(name, sheet, assessment, size, short)
        if pages == 1:
            return content
        size -= SHRINK_STEP
    raise ValueError(f"A batch sheet of {len(sheet.lines)} rows does not fit one page.")


def _build(
    name: str, sheet: BatchSheet, assessment: Assessment, size: float, short: Sequence[str]
) -> tuple[bytes, int]:
    buffer = BytesIO()
    document = SimpleDocTemplate(
        buffer,
        pagesize=A4,
        leftMargin=16 * mm,
        rightMargin=16 * mm,
        topMargin=14 * mm,
        bottomMargin=12 * mm,
        title=f"{name}: batch sheet",
        author="Up Tide",
    )
    story: list[Flowable] = [
        set_text(name, size + 7, bold=True),
        set_text(sheet.heading, size),
        set_text(sheet.order, size),
        *(
            [set_text(draft, size + 1, bold=True)]
            if (draft := assessment.safety.draft if assessment.safety else "")
            else []
        ),
        Spacer(1, 3 * mm),
        _steps_table(sheet, size),
        Spacer(1, 3 * mm),
        set_text(sheet.mixing, size),
    ]
    if sheet.left_out:
        story.append(set_text(sheet.left_out, size, bold=True))
    story.extend(set_text(words, size, bold=True) for words in short)
    story.extend(set_text(remark, size) for remark in assessment.remarks)
    story.append(Spacer(1, 2 * mm))
    story += [set_text(caution.words, size - 1.5) for caution in assessment.cautions]
    story += [Spacer(1, 4 * mm), set_text("   ".join(f"{what} ____________" for what in TO_FILL_IN), size)]
    story += [Spacer(1, 2 * mm), set_text(SEEN_NEXT_DAY, size)]
    document.build(story)
    return buffer.getvalue(), int(document.page)


def _steps_table(sheet: BatchSheet, size: float) -> Table:
    cells: list[list[Paragraph]] = [[set_text(word, size - 1.5, bold=True) for word in COLUMNS]]
    cells += [
        [
            set_text(line.number, size),
            set_text(line.what, size, bold=True),
            set_text(line.typed, size),
            set_text(f"{line.measured} {line.off}".strip(), size),
            set_text(line.grams, size, bold=True),
            set_text(line.scale_shows, size),
            set_text(line.millilitres, size),
            set_text("", size),
        ]
        for line in sheet.lines
    ]
    widths = [7 * mm, 42 * mm, 40 * mm, 29 * mm, 18 * mm, 20 * mm, 14 * mm, 10 * mm]
    table = Table(cells, colWidths=widths, repeatRows=1)
    table.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, 0), 0.8, INK),
                ("LINEBELOW", (0, 1), (-1, -1), 0.3, FAINT),
                ("BOX", (7, 1), (7, -1), 0.5, INK),
                ("INNERGRID", (7, 1), (7, -1), 0.5, INK),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 2),
                ("RIGHTPADDING", (0, 0), (-1, -1), 2),
            ]
        )
    )
    return table
