"""Workbooks: read as the table of their first sheet, and written without a formula in any cell.

openpyxl, which is read when the first workbook comes: it takes as long as a page.
"""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, datetime
from typing import Any

from uptide.core.errors import UptideError

BEGINS = b"PK\x03\x04"  # every workbook is a ZIP
MOST_UNPACKED, MOST_PACKED = 60_000_000, 150  # bytes of a workbook, and times that a part of it may be packed
MOST_ROWS, MOST_COLUMNS = 5_001, 100
MIDNIGHT = (0, 0, 0)
MEDIA_TYPE = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
Rows = Iterable[Sequence[object]]


def text_of(name: str, raw: bytes) -> str:
    """The text of a file that came: a workbook as CSV of its first sheet, else what is in it in UTF-8.

    Raises:
        UptideError: no text in UTF-8, a workbook that cannot be read, or one that unpacks to more than could be meant.
    """
    if raw.startswith(BEGINS):
        out = io.StringIO(newline="")
        csv.writer(out).writerows(rows_of(name, raw))
        return out.getvalue()
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise UptideError(f"{name} is no text in UTF-8; save it as such, as in CSV (UTF-8).") from error


def rows_of(name: str, raw: bytes) -> list[list[str]]:
    """The cells of the first sheet as text: days as 2026-08-01, numbers as they are, of a formula its last result."""
    _refuse_bombs(name, raw)
    from openpyxl import load_workbook

    try:
        book = load_workbook(io.BytesIO(raw), read_only=True, data_only=True, keep_links=False)
        sheet = book.worksheets[0]
        rows = [[_text(cell) for cell in row] for row in sheet.iter_rows(max_col=MOST_COLUMNS, values_only=True)]
        book.close()
    except Exception as error:  # whatever such a library finds in a file that is none
        raise UptideError(
            f"{name} is no workbook that can be read ({type(error).__name__}); save it as CSV."
        ) from error
    rows = [row for row in rows if any(row)]
    if len(rows) > MOST_ROWS:
        raise UptideError(f"{name} has {len(rows)} rows; up to {MOST_ROWS - 1} are read at once; split it.")
    width = max((place + 1 for row in rows for place, cell in enumerate(row) if cell), default=0)
    return [row[:width] for row in rows]


def _refuse_bombs(name: str, raw: bytes) -> None:
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as packed:
            sizes = [(each.file_size, each.compress_size) for each in packed.infolist()]
    except zipfile.BadZipFile as error:
        raise UptideError(f"{name} is no workbook that can be read; save it as CSV.") from error
    if sum(size for size, _ in sizes) > MOST_UNPACKED or any(
        size > MOST_PACKED * max(packed_size, 10_000) for size, packed_size in sizes
    ):
        raise UptideError(f"{name} would unpack to more than {MOST_UNPACKED / 1e6:.0f} MB, and was not opened.")


def _text(cell: object) -> str:
    if cell is None:
        return ""
    if isinstance(cell, datetime):
        return (cell.date() if (cell.hour, cell.minute, cell.second) == MIDNIGHT else cell).isoformat()
    if isinstance(cell, date):
        return cell.isoformat()
    if isinstance(cell, float):
        return f"{cell:.15g}"
    return str(cell).strip()


def workbook(sheets: Mapping[str, tuple[Sequence[str], Rows]]) -> bytes:
    """A workbook of sheets, each with its header; words that begin like a formula stay words."""
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell
    from openpyxl.styles import Font

    book = Workbook(write_only=True)
    for title, (header, rows) in sheets.items():
        sheet = book.create_sheet(title)

        def cell(value: object, *, is_head: bool = False, sheet: Any = sheet) -> Any:
            made = WriteOnlyCell(sheet, value="" if isinstance(value, str) else value)
            if isinstance(value, str):
                made.value = _writable(value)
                made.data_type = "s"
            if is_head:
                made.font = Font(bold=True)
            return made

        sheet.freeze_panes = "A2"
        sheet.append([cell(each, is_head=True) for each in header])
        for row in rows:
            sheet.append([cell(each) for each in row])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _writable(text: str) -> str:
    """A text without what no workbook can hold: characters that steer, and more than a cell takes."""
    return "".join(each for each in text if each >= " " or each in "\n\t")[:32_000]
