"""Labels as PDF: on sheets by their dimensions, or each on a page of its own size; nothing is shrunk below legible."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from io import BytesIO

from reportlab.graphics import renderPDF
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Frame, Paragraph

from uptide.core.making.label import Label
from uptide.core.making.sheets import PAPERS, QUIET, Sheet, code_mm, letters_of_contents
from uptide.formats.label_symbols import STROKE, WIDE, WORDS_POINTS, Drawn, drawn_at
from uptide.formats.pdf import BOLD, FAINT, SHRINK_STEP, SMALLEST, load_fonts, set_text

LARGEST = 9.0  # points of the words of a label
HEAD = 3.0  # points that its name is larger
HAS_ROOM_FOR_CODE = 34.0  # mm of height from which a code goes beside the words
POINTS_PER_INCH = 72
CAP = 0.7  # of the size of a font, where it does not say how high its capitals are


class DoesNotFitError(ValueError):
    """Words that even two panels cannot hold in letters that can be read."""


def labels_pdf(
    labels: Sequence[Label],
    sheet: Sheet,
    *,
    region: str,
    shift: tuple[float, float] = (0.0, 0.0),
    first: int = 0,
    front_and_back: bool = False,
    circumference: float = 0.0,
) -> bytes:
    """Set labels, one after the other, each as often as it has bottles, with the number of the bottle as its code.

    Args:
        labels: their words; `bottles` of each says how often.
        sheet: where they go.
        region: whose law says how high the letters of the contents are.
        shift: how far the printer is off [mm].
        first: how many labels of the first sheet are used already.
        front_and_back: whether name and contents stand on a label of their own.
        circumference: of the bottle [mm], where a label goes around it: a mark says where it meets itself.

    Raises:
        DoesNotFitError: words that two panels do not hold.
    """
    load_fonts()
    buffer, place = BytesIO(), first
    width, height = PAPERS.get(sheet.paper, (sheet.width, sheet.height))
    canvas = Canvas(buffer, pagesize=(width * mm, height * mm))
    canvas.setTitle("Labels")
    canvas.setAuthor("Up Tide")
    number = 0
    for label in labels:
        panels = _panels(label, sheet, region, front_and_back=front_and_back)
        for _ in range(label.bottles):
            number += 1
            for panel in panels:
                panel.code = panel.label.code_of(number) if panel.label is not None else ""
                if place > first and place % sheet.count == 0:
                    canvas.showPage()
                _draw(canvas, panel, sheet, place, shift, height)
                if circumference:
                    _mark(canvas, sheet, place, shift, height, circumference)
                place += 1
    canvas.showPage()
    canvas.save()
    return buffer.getvalue()


def as_png(pdf: bytes, dpi: int = 300) -> bytes:
    """The first page of a PDF as a picture, for label printers and programs that take no PDF."""
    from pypdfium2 import PdfDocument  # read when the first picture is asked for

    buffer = BytesIO()
    with PdfDocument(pdf) as document:
        document[0].render(scale=dpi / POINTS_PER_INCH).to_pil().save(buffer, "PNG", dpi=(dpi, dpi))
    return buffer.getvalue()


def outlines_pdf(sheet: Sheet, shift: tuple[float, float] = (0.0, 0.0)) -> bytes:
    """A page of the outlines of a sheet, to hold against it before anything is wasted."""
    buffer = BytesIO()
    width, height = PAPERS.get(sheet.paper, (sheet.width, sheet.height))
    canvas = Canvas(buffer, pagesize=(width * mm, height * mm))
    canvas.setStrokeColor(FAINT)
    for place in range(sheet.count):
        x, y = _corner(sheet, place, shift, height)
        if sheet.is_round:
            radius = sheet.width / 2
            canvas.circle((x + radius) * mm, (y + radius) * mm, radius * mm)
        else:
            canvas.rect(x * mm, y * mm, sheet.width * mm, sheet.height * mm)
    canvas.showPage()
    canvas.save()
    return buffer.getvalue()


@dataclass(frozen=True, slots=True)
class SetLine:
    """A line of a label as it is set: left and baseline from its top left corner [mm], size [points], and its words."""

    x: float
    y: float
    points: float
    bold: bool
    words: str

    @property
    def high(self) -> float:
        """The same size in mm."""
        return float(self.points / mm)


def code_of(label: Label, sheet: Sheet) -> tuple[tuple[float, float, float], ...]:
    """The dark squares of the first bottle's code: left, top and side of each [mm]; none where there is no room."""
    width, height, beside = _room(Panel([], label), sheet)
    if not beside:
        return ()
    whole_width, whole_height = sheet.written
    widget = QrCodeWidget(label.code_of(1), barLevel="M")
    widget.qr.make()
    count = widget.qr.getModuleCount()
    side = code_mm() / (count + 2 * QUIET)
    left = (sheet.width - whole_width) / 2 + width + QUIET * side
    top = (sheet.height - whole_height) / 2 + height - code_mm() + QUIET * side
    return tuple(
        (left + column * side, top + row * side, side)
        for row in range(count)
        for column in range(count)
        if widget.qr.isDark(row, column)
    )


def symbol_on(label: Label, sheet: Sheet) -> Drawn:
    """The symbol beside the words, above the code; nothing where there is no room or none is borne."""
    width, _, beside = _room(Panel([], label), sheet)
    if not beside:
        return Drawn()
    whole_width, whole_height = sheet.written
    left = (sheet.width - whole_width) / 2 + width + (code_mm() - WIDE) / 2
    return drawn_at(label.symbol, label.open_months, left, (sheet.height - whole_height) / 2)


def lines_of(
    label: Label, sheet: Sheet, region: str, *, front_and_back: bool = False
) -> tuple[tuple[SetLine, ...], ...]:
    """Every label that one bottle takes, line by line as the PDF has it: what a preview draws at its true size."""
    load_fonts()
    return tuple(tuple(_lines(panel, sheet)) for panel in _panels(label, sheet, region, front_and_back=front_and_back))


def _lines(panel: Panel, sheet: Sheet) -> Iterator[SetLine]:
    width, height, _ = _room(panel, sheet)
    whole_width, whole_height = sheet.written
    left, down = (sheet.width - whole_width) / 2, (sheet.height - whole_height) / 2
    for words in panel.words:
        words.wrap(width * mm, height * mm)
        style = words.style
        for _, broken in words.blPara.lines:
            down += style.leading / mm
            baseline = down - (style.leading - style.fontSize) / mm
            yield SetLine(left, baseline, points=style.fontSize, bold=style.fontName == BOLD, words=" ".join(broken))


class Panel:
    """What stands on one label: its words in one size, and code and symbol beside them where there is room."""

    def __init__(self, words: list[Paragraph], label: Label | None = None) -> None:
        self.words = words
        self.code = label.batch_code if label is not None else ""
        self.label = label


def _panels(label: Label, sheet: Sheet, region: str, *, front_and_back: bool) -> list[Panel]:
    """One panel in the largest letters that fit; two where even the smallest do not fit one."""
    size = LARGEST
    while not front_and_back and size >= SMALLEST:
        words = [*_head(label, sheet, region, size), *_body(label, size)]
        panel = Panel(words, label)
        if _fits(panel, sheet):
            return [panel]
        size -= SHRINK_STEP
    size = LARGEST
    while size >= SMALLEST:
        words = _head(label, sheet, region, size)
        if not front_and_back:
            words += [*_cautions(label, size), set_text("Ingredients: second panel.", size)]
        front = Panel(words, label)
        back = Panel(_rest(label, size, with_cautions=front_and_back))
        if _fits(front, sheet) and _fits(back, sheet):
            return [front, back]
        size -= SHRINK_STEP
    raise DoesNotFitError(
        f"The words of this label do not fit two labels of {sheet.width:g} × {sheet.height:g} mm in letters that can "
        "be read: take a larger label, or put the ingredients on a leaflet."
    )


def _head(label: Label, sheet: Sheet, region: str, size: float) -> list[Paragraph]:
    millimetres = letters_of_contents(label.size_ml, region, sheet.width * sheet.height)
    contents = max(size, millimetres * mm / _cap_height())
    return [
        set_text(label.name, size + HEAD, bold=True),
        set_text(label.product, size),
        set_text(label.contents, contents),
    ]


def _cap_height() -> float:
    """How high capitals and figures of the font are, of its size."""
    face = pdfmetrics.getFont(BOLD).face
    return (getattr(face, "capHeight", 0) or CAP * 1000) / 1000


def _body(label: Label, size: float) -> list[Paragraph]:
    return [*_ingredients(label, size), *_cautions(label, size)]


def _ingredients(label: Label, size: float) -> list[Paragraph]:
    return [set_text(f"Ingredients: {', '.join(label.ingredients)}.", size)]


def _cautions(label: Label, size: float) -> list[Paragraph]:
    contains = [set_text(f"Contains: {', '.join(label.allergens)}.", size, bold=True)] if label.allergens else []
    directions = [set_text(label.directions, size)] if label.directions else []
    maker = [set_text(label.maker, size)] if label.maker else []
    return [*directions, *contains, set_text(" ".join(label.cautions), size), set_text(label.dated, size), *maker]


def _rest(label: Label, size: float, *, with_cautions: bool) -> list[Paragraph]:
    return [set_text(f"{label.name}", size, bold=True), *_ingredients(label, size)] + (
        _cautions(label, size) if with_cautions else []
    )


def _room(panel: Panel, sheet: Sheet) -> tuple[float, float, bool]:
    """Width and height for the words [mm], and whether the code goes beside them."""
    width, height = sheet.written
    beside = bool(panel.code) and height >= HAS_ROOM_FOR_CODE
    return width - (code_mm() if beside else 0.0), height, beside


def _fits(panel: Panel, sheet: Sheet) -> bool:
    width, height, _ = _room(panel, sheet)
    taken = 0.0
    for words in panel.words:
        _, high = words.wrap(width * mm, height * mm)
        if _widest(words) > width * mm:
            return False
        taken += float(high)
    return bool(taken <= height * mm)


def _widest(words: Paragraph) -> float:
    """The widest word [points]: one that cannot be broken must fit by itself."""
    style = words.style
    return max(
        (pdfmetrics.stringWidth(word, style.fontName, style.fontSize) for word in words.getPlainText().split()),
        default=0.0,
    )


def _corner(sheet: Sheet, place: int, shift: tuple[float, float], page_height: float) -> tuple[float, float]:
    """Left and bottom of a label on the page [mm]."""
    left, top = sheet.at(place)
    return left + shift[0], page_height - top - sheet.height - shift[1]


def _draw(
    canvas: Canvas, panel: Panel, sheet: Sheet, place: int, shift: tuple[float, float], page_height: float
) -> None:
    x, y = _corner(sheet, place, shift, page_height)
    width, height, beside = _room(panel, sheet)
    whole_width, whole_height = sheet.written
    left, bottom = x + (sheet.width - whole_width) / 2, y + (sheet.height - whole_height) / 2
    at = (left * mm, bottom * mm, width * mm, height * mm + 1)
    frame = Frame(*at, leftPadding=0, rightPadding=0, topPadding=0, bottomPadding=0)
    frame.addFromList(list(panel.words), canvas)
    if beside:
        side = code_mm() * mm
        drawing = Drawing(side, side)
        drawing.add(QrCodeWidget(panel.code, barLevel="M", barBorder=QUIET, barWidth=side, barHeight=side))
        renderPDF.draw(drawing, canvas, (left + width) * mm, bottom * mm)
        if panel.label is not None:
            _draw_symbol(canvas, symbol_on(panel.label, sheet), x, y + sheet.height)


def _draw_symbol(canvas: Canvas, drawn: Drawn, left: float, top: float) -> None:
    """Draw a symbol on a label whose top left corner is at `left` and `top` of the page [mm]."""
    canvas.setLineWidth(STROKE * mm)
    for line in drawn.lines:
        path = canvas.beginPath()
        (x, y), *others = line
        path.moveTo((left + x) * mm, (top - y) * mm)
        for x, y in others:
            path.lineTo((left + x) * mm, (top - y) * mm)
        canvas.drawPath(path)
    if drawn.words:
        canvas.setFont(BOLD, WORDS_POINTS)
        canvas.drawCentredString((left + drawn.words_x) * mm, (top - drawn.words_y) * mm, drawn.words)


def _mark(
    canvas: Canvas, sheet: Sheet, place: int, shift: tuple[float, float], page_height: float, circumference: float
) -> None:
    """A mark at top and bottom where a label that goes around meets its own edge."""
    x, y = _corner(sheet, place, shift, page_height)
    at = (x + min(circumference, sheet.width)) * mm
    canvas.line(at, y * mm, at, (y + 2) * mm)
    canvas.line(at, (y + sheet.height - 2) * mm, at, (y + sheet.height) * mm)
