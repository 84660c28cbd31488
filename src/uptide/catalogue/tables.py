"""Read a CSV file into checked rows; every bad row is named by file and line, not only the first."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator
from importlib.resources.abc import Traversable
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from uptide.core.errors import UptideError
from uptide.core.text import as_typed


class TableRow(BaseModel):
    """A row of a table: immutable, and no column that is not asked for."""

    model_config = ConfigDict(frozen=True, extra="forbid", str_strip_whitespace=True)


Row = TypeVar("Row", bound=TableRow)


SHOWN = 20  # refused rows that are named; the rest are counted


class TableError(UptideError):
    """Rows that were refused; `problems` holds a line for each."""

    def __init__(self, problems: Iterable[str]) -> None:
        self.problems = tuple(problems)
        count = len(self.problems)
        shown = "\n".join(self.problems[:SHOWN])
        more = f"\n… and {count - SHOWN} more" if count > SHOWN else ""
        super().__init__(f"{count} row{'s were' if count != 1 else ' was'} refused:\n{shown}{more}")


def read_rows(file: Path | Traversable, model: type[Row]) -> list[tuple[str, Row]]:
    """Read a UTF-8 CSV file with a header into rows of `model`; see `read_text`."""
    return read_text(file.name, file.read_text(encoding="utf-8-sig"), model)


def read_text(name: str, text: str, model: type[Row], most: int | None = None) -> list[tuple[str, Row]]:
    """Read CSV with a header into rows of `model`, each with its place (`profiles.csv, line 12`).

    An empty cell is None where the model allows it; a cell that was made harmless for a spreadsheet is read as it was.

    Raises:
        TableError: a missing or unknown column, any row that the model refuses, or more than `most` of them.
    """
    problems: list[str] = []
    rows: list[tuple[str, Row]] = []
    with io.StringIO(text, newline="") as handle:
        reader = csv.DictReader(handle)
        cells_of = _rows(name, reader, most)
        try:
            found = list(reader.fieldnames or [])
        except csv.Error as error:
            raise TableError([f"{name}, line 1: {error}."]) from error
        expected = list(model.model_fields)
        required = {name for name, field in model.model_fields.items() if field.is_required()}
        if not required <= set(found) or not set(found) <= set(expected):
            raise TableError([f"{name}, line 1: the columns are {', '.join(found)}; wanted are {', '.join(expected)}."])
        for cells in cells_of:
            where = f"{name}, line {reader.line_num}"
            try:
                if None in cells:
                    raise ValueError(f"{len(cells) + len(cells[None]) - 1} cells for {len(found)} columns")  # noqa: TRY301 - gathered with the rest
                given = {name: as_typed(text) for name, text in cells.items() if text not in ("", None)}
                rows.append((where, model.model_validate(given)))
            except ValidationError as error:
                problems.extend(
                    f"{where}: {'.'.join(map(str, e['loc'])) or 'row'}: {e['msg']} (found “{e['input']}”)"
                    for e in error.errors()
                )
            except ValueError as error:
                problems.append(f"{where}: {error}")
    if problems:
        raise TableError(problems)
    return rows


def _rows(name: str, reader: csv.DictReader[str], most: int | None) -> Iterator[dict[str | None, Any]]:
    """The rows of a table; raise TableError where it is no CSV any more, or longer than it may be."""
    try:
        for count, cells in enumerate(reader, 1):
            if most is not None and count > most:
                raise TableError([f"{name}, line {reader.line_num}: up to {most} rows are read at once; split it."])
            yield dict(cells)
    except csv.Error as error:
        raise TableError([f"{name}, line {reader.line_num + 1}: {error}."]) from error
