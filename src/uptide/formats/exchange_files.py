"""An export as files: a CSV or lines of JSON for each kind, pictures as they are, what they mean, and how to read them.

The same data makes the same files, byte for byte.
"""

from __future__ import annotations

import csv
import hashlib
import io
import json
import zipfile
from collections.abc import Iterable, Iterator, Mapping
from datetime import date, datetime
from functools import cache
from pathlib import Path
from typing import Annotated, Any

from pydantic import (
    AwareDatetime,
    BaseModel,
    ConfigDict,
    Field,
    JsonValue,
    NaiveDatetime,
    ValidationError,
    create_model,
)
from sqlalchemy import JSON, Boolean, Column, Date, DateTime, DefaultClause, Float, Integer, LargeBinary

from uptide import __version__
from uptide.core.errors import UptideError
from uptide.core.text import as_typed, harmless, shown
from uptide.store.exchange import KINDS, Incoming, Kind, Record
from uptide.store.models import UtcDateTime

FORM = 1  # of these files; a later one says a higher number
MANIFEST, README = "manifest.json", "README.txt"
PICTURES = "photos"
LONGEST = 1_000_000  # characters of one text
MOST_BYTES, MOST_PACKED = 2_000_000_000, 200  # of all files unpacked, and times that a file may be packed
LONGEST_LINE = 50_000_000
MOST_SAID = 20  # problems of one kind that are said
PACKED_ON = (1980, 1, 1, 0, 0, 0)  # the day that a ZIP gives to files without one
MEANS = {
    "people": "Who wears what is made: every card that was ever kept of them, the newest last. Health is in it.",
    "blends": "Every blend with all versions and their rows, word by word as typed.",
    "patch-tests": "Patch tests with what was seen. Health is in it.",
    "own-oils": "Oils of your own; the newest of a key counts.",
    "own-plants": "Plants of your own; the newest of a key counts.",
    "jars": "Jars with what was noted of them.",
    "readings": "What a thermometer in a jar said, in °C.",
    "photos": "Photos of jars; the pictures are in the folder photos.",
    "lots": "What stands or stood on the shelf. Masses are in grams; what is left of one follows from its movements.",
    "certificates": "What laboratories said of lots, as it was pasted and as it was read.",
    "movements": "Everything that came into a lot or went out of it, in milligrams; never changed, only added to.",
    "batches": "Batches with their plan and all that happened.",
    "bottles": "Bottles with all that befell them.",
    "wishes": "Wishes that are kept for the finder.",
    "preferences": "How you measure, and what your bottles taught.",
}


class ExchangeError(UptideError):
    """Files that cannot be read; the message names every bad line."""


Number = Annotated[int, Field(ge=-(2**63), lt=2**63)]
TYPES: tuple[tuple[type, Any], ...] = (
    (UtcDateTime, AwareDatetime),
    (Boolean, bool),
    (Integer, Number),
    (Float, Annotated[float, Field(allow_inf_nan=False)]),
    (DateTime, NaiveDatetime),
    (Date, date),
    (JSON, JsonValue),
    (LargeBinary, bytes),
)


@cache
def model_of(kind: Kind) -> type[BaseModel]:
    """A record of a kind as its files have it, from the columns of its table.

    A column that came to the table later has a default there: files from before do not have it.
    """
    fields: dict[str, Any] = {column.key: (_type_of(column), _before(column)) for column in kind.columns}
    fields |= {each.name: (list[model_of(each)], ...) for each in kind.within}  # type: ignore[misc]
    return create_model(_called(kind), __config__=ConfigDict(extra="forbid"), **fields)


def _called(kind: Kind) -> str:
    return kind.words.title().replace(" ", "")


def _type_of(column: Column[Any]) -> Any:
    found = next((kind for of, kind in TYPES if isinstance(column.type, of)), Annotated[str, Field(max_length=LONGEST)])
    return found | None if column.nullable else found


def _before(column: Column[Any]) -> Any:
    """What a file says of a column that it does not have; it must have one that was always there."""
    return column.server_default.arg if isinstance(column.server_default, DefaultClause) else ...


# --- Out


def files_of(found: Iterable[tuple[Kind, Iterator[Record]]], *, people: bool) -> Iterator[tuple[str, bytes]]:
    """The files of an export, each by its name: the records first, then what they mean, and what they all are."""
    listed: dict[str, Any] = {}
    for kind, records in found:
        pictures: list[tuple[str, bytes]] = []
        name, content, count = _written(kind, records, pictures)
        listed[name] = {"records": count, "sha256": hashlib.sha256(content).hexdigest()}
        yield name, content
        yield from pictures
        schema = model_of(kind).model_json_schema() | {"$schema": "https://json-schema.org/draft/2020-12/schema"}
        yield f"schemas/{kind.name}.schema.json", _json(schema, indent=2)
    yield MANIFEST, _json({"form": FORM, "people": people, "files": listed}, indent=2)
    yield README, _readme(listed, people=people).encode()


def _written(kind: Kind, records: Iterator[Record], pictures: list[tuple[str, bytes]]) -> tuple[str, bytes, int]:
    lines = [_plain(kind, record, pictures) for record in records]
    if not kind.is_flat:
        return f"{kind.name}.jsonl", b"".join(_json(line) + b"\n" for line in lines), len(lines)
    text = io.StringIO(newline="")
    writer = csv.writer(text)  # as RFC 4180 has it
    columns = [column.key for column in kind.columns]
    writer.writerow(columns)
    writer.writerows([_cell(line[key]) for key in columns] for line in lines)
    return f"{kind.name}.csv", text.getvalue().encode(), len(lines)


def _plain(kind: Kind, record: Record, pictures: list[tuple[str, bytes]]) -> Record:
    """A record in what JSON has; a picture is put aside, and its place says where."""
    found: Record = {}
    for column in kind.columns:
        value = record[column.key]
        if isinstance(value, datetime):
            value = value.isoformat().replace("+00:00", "Z")
        elif isinstance(value, date):
            value = value.isoformat()
        elif isinstance(value, bytes):
            name = f"{PICTURES}/{record['id']}.jpg"
            pictures.append((name, value))
            value = name
        found[column.key] = value
    return found | {each.name: [_plain(each, nested, pictures) for nested in record[each.name]] for each in kind.within}


def _json(value: Any, indent: int | None = None) -> bytes:
    return json.dumps(value, ensure_ascii=False, allow_nan=False, indent=indent).encode()


def _cell(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, str):
        return harmless(value)
    return str(value) if isinstance(value, int | float) and not isinstance(value, bool) else json.dumps(value)


def _readme(listed: Mapping[str, Any], *, people: bool) -> str:
    """What the files mean, for whoever opens them without this program."""
    lines = [
        f"An export of Up Tide ({__version__}): all that was kept, in files that any program can read.",
        "",
        *(f"{name:<20} {of['records']:>6}  {MEANS[name.partition('.')[0]]}" for name, of in listed.items()),
        "",
        "CSV: UTF-8, parted by commas, the first line names the columns; an empty cell is nothing. A cell that a",
        "spreadsheet would run has a ' in front of it. JSONL: one record of JSON a line. What each field of a record",
        "is stands in schemas/, as JSON Schema. Moments are in UTC; beginnings of patch tests are by the clock on the",
        "wall. Numbers called id belong to one kind; others of the name something_id point at one.",
        "",
        "People and their patch tests are in it: keep it as you would keep a diary of theirs."
        if people
        else "People, their patch tests and what bottles did to them are left out, and so are their names on bottles.",
        "To bring it back: uptide import, and this folder or file.",
    ]
    return "\n".join(lines) + "\n"


def write_folder(folder: Path, files: Iterable[tuple[str, bytes]]) -> int:
    """Write files into a folder that is new or empty; return how many."""
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        raise ExchangeError(f"{folder} is there already and not empty; nothing was written. Name a new folder.")
    count = 0
    for name, content in files:
        path = folder / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(content)
        count += 1
    return count


def write_zip(target: Path | io.BytesIO, files: Iterable[tuple[str, bytes]]) -> int:
    """Write files into a ZIP; return how many."""
    count = 0
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, content in files:
            packed.writestr(zipfile.ZipInfo(name, PACKED_ON), content, zipfile.ZIP_DEFLATED)
            count += 1
    return count


# --- In


class Files:
    """The files of an export, from a folder or a ZIP; only those are read whose names are known.

    Raises:
        ExchangeError: no export, one of a later form, or one that unpacks to more than could be meant.
    """

    def __init__(self, source: Path) -> None:
        self.source = source
        self._zip: zipfile.ZipFile | None = None
        if not source.is_dir():
            self._zip = _opened(source)
        manifest = self._manifest()
        self.people: bool = manifest["people"] is True

    def close(self) -> None:
        """Let go of the file."""
        if self._zip is not None:
            self._zip.close()

    def _manifest(self) -> Mapping[str, Any]:
        try:
            found = json.loads(self.read(MANIFEST) or b"null")
        except (ValueError, RecursionError) as error:
            raise ExchangeError(f"{self.source}: {MANIFEST} cannot be read as JSON.") from error
        if not isinstance(found, dict) or not {"form", "people"} <= found.keys():
            raise ExchangeError(f"{self.source} is no export of Up Tide: it has no {MANIFEST} that says so.")
        if not isinstance(found["form"], int) or found["form"] > FORM:
            raise ExchangeError(
                f"{self.source} is of a later Up Tide (form {found['form']}; this one reads up to {FORM})."
            )
        return found

    def read(self, name: str) -> bytes | None:
        """A file; None where there is none of that name."""
        if self._zip is None:
            path = self.source / name
            return path.read_bytes() if path.is_file() else None
        try:
            return self._zip.read(name)
        except KeyError:
            return None
        except (zipfile.BadZipFile, OSError, NotImplementedError, RuntimeError) as error:
            raise ExchangeError(f"{self.source}: {name} cannot be unpacked ({error}).") from error

    def records(self, kind: Kind, problems: list[str]) -> Iterator[Incoming]:
        """The good records of a kind; what is wrong with the others is added to the problems, by file and line."""
        name = f"{kind.name}.{'csv' if kind.is_flat else 'jsonl'}"
        content = self.read(name)
        if content is None:
            return
        try:
            text = content.decode("utf-8-sig")
        except UnicodeDecodeError:
            problems.append(f"{name}: this is no text in UTF-8.")
            return
        said = 0
        for where, read in _lines_of(kind, name, text):
            try:
                record = read() if callable(read) else read
                model = model_of(kind).model_validate(record)
                yield Incoming(where, self._values(kind, model, where))
            except ValidationError as error:
                said += 1
                if said <= MOST_SAID:
                    problems.extend(f"{where}: {_problem(each)}" for each in error.errors()[:3])
            except ExchangeError as error:
                said += 1
                if said <= MOST_SAID:
                    problems.append(f"{where}: {error}")
        if said > MOST_SAID:
            problems.append(f"{name}: {said - MOST_SAID} more lines like these.")

    def _values(self, kind: Kind, model: BaseModel, where: str) -> Record:
        found: Record = {}
        for column in kind.columns:
            value = getattr(model, column.key)
            found[column.key] = self._picture(value) if isinstance(value, bytes) else value
        for each in kind.within:
            found[each.name] = [self._values(each, nested, where) for nested in getattr(model, each.name)]
        return found

    def _picture(self, name: bytes) -> bytes:
        said = name.decode("utf-8", "replace")
        content = self.read(said) if said.startswith(f"{PICTURES}/") and ".." not in said else None
        if content is None or not content.startswith(b"\xff\xd8\xff"):  # the first bytes of every JPEG
            raise ExchangeError(f"“{shown(said[:80])}” is no picture of the folder {PICTURES}")
        return content


def _opened(source: Path) -> zipfile.ZipFile:
    try:
        packed = zipfile.ZipFile(source)
    except (zipfile.BadZipFile, OSError) as error:
        raise ExchangeError(f"{source} is neither a folder nor a ZIP file that can be read.") from error
    sizes = [(each.file_size, each.compress_size) for each in packed.infolist()]
    whole = sum(size for size, _ in sizes)
    if whole > MOST_BYTES or any(size > MOST_PACKED * max(packed, 1000) for size, packed in sizes):
        packed.close()
        raise ExchangeError(f"{source} would unpack to {whole / 1e6:,.0f} MB, which no export of this size does.")
    return packed


def _lines_of(kind: Kind, name: str, text: str) -> Iterator[tuple[str, Any]]:
    """Where each record stands, and the record, or what reads it."""
    if not kind.is_flat:
        for number, line in enumerate(text.split("\n"), 1):
            if line.strip():
                yield f"{name}, line {number}", _reader(line)
        return
    reader = csv.reader(io.StringIO(text, newline=""))
    columns = {column.key: column for column in kind.columns}
    try:
        header = next(reader, [])
        begins = reader.line_num + 1
        for cells in reader:
            if cells:
                yield f"{name}, line {begins}", _row_reader(columns, header, cells)
            begins = reader.line_num + 1
    except csv.Error as error:
        yield f"{name}, line {reader.line_num}", _raising(f"this is no CSV: {error}")


def _reader(line: str) -> Any:
    def read() -> Any:
        if len(line) > LONGEST_LINE:
            raise ExchangeError(f"a record of {len(line) / 1e6:.0f} MB is longer than any can be")
        try:
            return json.loads(line, parse_constant=_no_number)
        except (ValueError, RecursionError) as error:
            raise ExchangeError(f"this is no JSON: {str(error)[:80]}") from error

    return read


def _no_number(said: str) -> Any:
    raise ValueError(f"{said} is no number")


def _raising(words: str) -> Any:
    def read() -> Any:
        raise ExchangeError(words)

    return read


def _row_reader(columns: Mapping[str, Column[Any]], header: list[str], cells: list[str]) -> Any:
    def read() -> Record:
        if len(cells) != len(header):
            raise ExchangeError(f"{len(cells)} cells stand under {len(header)} headings")
        return {key: _value(columns.get(key), cell) for key, cell in zip(header, cells, strict=True)}

    return read


def _value(column: Column[Any] | None, cell: str) -> Any:
    if column is None:
        return cell
    if cell == "" and column.nullable:
        return None
    if isinstance(column.type, JSON | Boolean):
        try:
            return json.loads(cell, parse_constant=_no_number)
        except (ValueError, RecursionError) as error:
            raise ExchangeError(f"{column.key}: this is no JSON: {str(error)[:60]}") from error
    return cell if isinstance(column.type, Integer | Float | Date | DateTime | UtcDateTime) else as_typed(cell)


def _problem(error: Any) -> str:
    where = ".".join(map(str, error["loc"])) or "the whole"
    return shown(f"{where}: {error['msg']} (found “{str(error.get('input'))[:60]}”)")


def all_kinds(*, people: bool) -> tuple[Kind, ...]:
    """The kinds that are in an export, in the order in which they come in."""
    return tuple(kind for kind in KINDS if people or not kind.is_person)
