"""Everything out and in: byte for byte the same, whatever stands in it; what is wrong is named and changes nothing."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from typing import Any

import jsonschema_rs
import pytest
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from sqlalchemy import (
    JSON,
    Boolean,
    Date,
    DateTime,
    Float,
    Index,
    Integer,
    LargeBinary,
    Table,
    UniqueConstraint,
    create_engine,
    event,
    insert,
)
from sqlalchemy.engine import Engine
from sqlalchemy.orm import Session

from uptide.cli.demo import make_demo
from uptide.core.text import as_typed, harmless
from uptide.formats.exchange_files import ExchangeError, all_kinds
from uptide.store.database import open_engine
from uptide.store.exchange import KINDS, NOT_KEPT, Kind
from uptide.store.models import Base, LotRow, PreferenceRow, UtcDateTime, VersionRow
from uptide.workshop.exchanging import bring_in, export, export_packed, plan_import, plan_in_words

# Texts that have broken files before: quotes, formulas, breaks of lines, what is no letter.
TEXT = st.text(st.characters(codec="utf-8", exclude_characters="\x00"), max_size=12) | st.sampled_from(
    ("=1+1", "'=x", "-3", "a,b", 'say "oil"', "two\nlines", "\r\n", "\u2028", " ", "null", "🌊")
)
MOMENTS = st.datetimes(datetime(1990, 1, 1), datetime(2199, 1, 1)).map(lambda each: each.replace(tzinfo=UTC))  # noqa: DTZ001
JSONS = st.recursive(
    st.none() | st.booleans() | st.integers(-(2**53), 2**53) | st.floats(allow_nan=False, allow_infinity=False) | TEXT,
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(TEXT, inner, max_size=3),
    max_leaves=6,
)
JPEG = b"\xff\xd8\xff\xe0"


def empty() -> Engine:
    """A database in memory with all tables, and foreign keys that are held."""
    engine = create_engine("sqlite://")
    event.listen(engine, "connect", lambda connection, _: connection.execute("PRAGMA foreign_keys = ON"))
    Base.metadata.create_all(engine)
    return engine


def values_for(column: Any) -> st.SearchStrategy[Any]:
    kinds: tuple[tuple[type, st.SearchStrategy[Any]], ...] = (
        (UtcDateTime, MOMENTS),
        (Boolean, st.booleans()),
        (Integer, st.integers(1, 2**40)),
        (Float, st.floats(0.001, 1e6)),
        (DateTime, MOMENTS.map(lambda each: each.replace(tzinfo=None))),
        (Date, st.dates(date(1990, 1, 1), date(2199, 1, 1))),
        (JSON, JSONS),
        (LargeBinary, st.binary(max_size=20).map(lambda each: JPEG + each)),
    )
    found = next((values for of, values in kinds if isinstance(column.type, of)), TEXT)
    return st.none() | found if column.nullable else found


def fill(engine: Engine, data: st.DataObject) -> None:
    """A few rows in every table that goes out, whatever stands in them, pointing at one another as they may."""
    numbers: dict[str, list[int]] = {}
    with engine.begin() as connection:
        for kind in KINDS:
            for each in (kind, *nested(kind)):
                rows = [row_of(each, numbers, data) for _ in range(data.draw(st.integers(1, 2)))]
                for names in (each.known_by, *unique_in(each.table)):  # what the database would refuse is never drawn
                    rows = list({tuple(str(row.get(name)) for name in names): row for row in rows}.values())
                for number, row in enumerate(rows, 1):
                    if each.has_number:
                        numbers.setdefault(each.table.name, []).append(row.setdefault("id", 3 * number))
                    connection.execute(insert(each.table).values(row))


def unique_in(table: Table) -> Iterator[tuple[str, ...]]:
    """The columns that together are unique in a table."""
    for each in (*table.constraints, *table.indexes):
        if isinstance(each, UniqueConstraint) or (isinstance(each, Index) and each.unique):
            yield tuple(column.key for column in each.columns)


def row_of(kind: Kind, numbers: dict[str, list[int]], data: st.DataObject) -> dict[str, Any]:
    row: dict[str, Any] = {}
    for column in kind.table.columns:
        if column.key == "id":
            continue
        points_at = next(iter(column.foreign_keys), None)
        if points_at is not None:
            known = numbers.get(points_at.column.table.name, [])
            row[column.key] = data.draw(st.sampled_from(known)) if known and column.key != "reverses" else None
        elif kind.refers.get(column.key) == "people":
            row[column.key] = data.draw(st.sampled_from([*numbers["wearer"], None]))
        elif column.key == "infusion":
            row[column.key] = data.draw(st.none() | st.just({"jar": numbers["jar"][0], "plants": ["=calendula"]}))
        elif column.key == "value":
            row[column.key] = data.draw(JSONS)
        else:
            row[column.key] = data.draw(values_for(column))
    if kind.row is LotRow:
        row["left_g"] = 0.0
    return row


def nested(kind: Kind) -> Iterator[Kind]:
    for each in kind.within:
        yield each
        yield from nested(each)


@settings(max_examples=8, deadline=None, suppress_health_check=list(HealthCheck), phases=[Phase.generate])
@given(st.data())
def test_what_goes_out_comes_in_and_goes_out_the_same(tmp_path_factory: pytest.TempPathFactory, data: Any) -> None:
    """Byte for byte, with people and without; what came in once more finds all of it there."""
    one, folder = empty(), tmp_path_factory.mktemp("export")
    fill(one, data)
    for people in (True, False):
        two, file = empty(), folder / f"{people}.zip"
        with Session(one) as store:
            export(store, file, people=people)
        with Session(two) as store, store.begin():
            plan = plan_import(store, file)
            assert plan.problems == []
            bring_in(store, plan, take_differing=False)
        with Session(two) as store:
            assert export_packed(store, people=people) == file.read_bytes()
        with Session(one) as store:
            again = plan_import(store, file)
            assert (again.problems, again.new, again.changes) == ([], [], [])
        two.dispose()
    one.dispose()


def test_every_table_goes_out_but_the_forms_that_were_acted_on() -> None:
    out = {each.table.name for kind in KINDS for each in (kind, *nested(kind))}

    assert out | NOT_KEPT == set(Base.metadata.tables)


@pytest.fixture
def exported(demo: Path, tmp_path: Path) -> Path:
    engine = open_engine(f"sqlite:///{demo}")
    with Session(engine) as store:
        export(store, tmp_path / "out", people=True)
    engine.dispose()
    return tmp_path / "out"


def test_each_file_is_as_its_published_schema_says(exported: Path) -> None:
    """Checked with a JSON Schema library that this program does not use itself; the CSV reads with Python's own."""
    for kind in all_kinds(people=True):
        schema = json.loads((exported / f"schemas/{kind.name}.schema.json").read_text(encoding="utf-8"))
        check = jsonschema_rs.validator_for(schema)
        if kind.is_flat:
            rows = list(csv.DictReader(io.StringIO((exported / f"{kind.name}.csv").read_text(encoding="utf-8"))))
            assert all(set(row) == set(schema["properties"]) for row in rows)
        else:
            for line in (exported / f"{kind.name}.jsonl").read_text(encoding="utf-8").splitlines():
                check.validate(json.loads(line))
                assert not check.is_valid(json.loads(line) | {"more": 1})
    said = (exported / "README.txt").read_text(encoding="utf-8")
    assert all(f"{kind.name}." in said for kind in all_kinds(people=True))


def test_without_people_nobody_is_in_it(demo: Path) -> None:
    engine = open_engine(f"sqlite:///{demo}")
    with Session(engine) as store:
        store.merge(PreferenceRow(key="form_secret", value="of this house alone"))
        store.query(VersionRow).filter_by(id=1).one().whom = "someone expecting"
        alone, all_of_it = (export_packed(store, people=people) for people in (False, True))
    engine.dispose()

    def text(packed: bytes) -> str:
        with zipfile.ZipFile(io.BytesIO(packed)) as files:
            return "".join(files.read(name).decode() for name in files.namelist() if not name.startswith("schemas"))

    for name in ("Ines", "retinoid", "epilepsy", "someone expecting"):
        assert name in text(all_of_it)
        assert name not in text(alone)
    assert "of this house alone" not in text(all_of_it)


def test_what_differs_is_said_and_kept_unless_it_is_asked_for(exported: Path, demo: Path, tmp_path: Path) -> None:
    here = tmp_path / "here.db"
    here.write_bytes(demo.read_bytes())
    lots = exported / "lots.csv"
    lots.write_text(lots.read_text(encoding="utf-8").replace("cool cupboard", "fridge", 1), encoding="utf-8")
    engine = open_engine(f"sqlite:///{here}")
    places = []
    for take in (False, True):
        with Session(engine) as store, store.begin():
            plan = plan_import(store, exported)
            said = plan_in_words(plan)
            assert "lot: 1 that differ" in said
            assert any(line.endswith("records are there already, the same") for line in said)
            assert said[-1].endswith("lot differs in place: cool cupboard here, fridge in the file")
            bring_in(store, plan, take_differing=take)
        with Session(engine) as store:
            places.append(store.query(LotRow).filter_by(code="SR-0412").one().place)
    engine.dispose()

    assert places == ["cool cupboard", "fridge"]


def test_a_filled_database_gets_what_is_new_under_numbers_of_its_own(exported: Path, tmp_path: Path) -> None:
    other = tmp_path / "other.db"
    make_demo(other)  # the same workshop, begun at another moment: its blends are others, its lots the same
    engine = open_engine(f"sqlite:///{other}")
    with Session(engine) as store, store.begin():
        plan = plan_import(store, exported)
        new = {kind.words: row for kind, row in plan.new}
        problems = plan.problems
    engine.dispose()

    assert new["blend"]["id"] > 6
    assert new["blend version"]["blend_id"] > 6
    assert new["wearer card"]["wearer_id"] > 5
    assert any("certificate" in words or "batch" in words or "movement" in words for words in new)
    assert all("what was written once is not changed" in problem for problem in problems)


def test_what_went_out_before_a_column_came_to_its_table_comes_in(exported: Path, tmp_path: Path) -> None:
    blends, lots = exported / "blends.jsonl", exported / "lots.csv"
    blends.write_text(blends.read_text(encoding="utf-8").replace(', "whom": ""', ""), encoding="utf-8")
    with lots.open(encoding="utf-8", newline="") as file:
        rows = [{key: cell for key, cell in row.items() if key != "grade"} for row in csv.DictReader(file)]
    with lots.open("w", encoding="utf-8", newline="") as file:
        writer = csv.DictWriter(file, rows[0])
        writer.writeheader()
        writer.writerows(rows)
    assert "whom" not in blends.read_text(encoding="utf-8")
    engine = open_engine(f"sqlite:///{tmp_path / 'new.db'}")
    Base.metadata.create_all(engine)
    with Session(engine) as store, store.begin():
        plan = plan_import(store, exported)
        assert plan.problems == []
        bring_in(store, plan, take_differing=False)
    with Session(engine) as store:
        assert {row.whom for row in store.query(VersionRow)} == {row.grade for row in store.query(LotRow)} == {""}
    engine.dispose()


@pytest.mark.parametrize(
    ("file", "was", "put", "said"),
    [
        ("lots.csv", "920.0", "many", "lots.csv, line 2: bought_g:"),
        ("lots.csv", "920.0", "inf", "lots.csv, line 2: bought_g:"),
        ("lots.csv", "2026-02-10", "10.2.2026", "lots.csv, line 2: received_on:"),
        ("lots.csv", "1,SR-0412,", "1,", "lots.csv, line 2: 19 cells stand under 20 headings"),
        ("movements.csv", "1,1,receive", "1,99,receive", "movements.csv, line 2: lots number 99 is not in the files"),
        ("movements.csv", "920000", "920001", "movements.csv, line 2: this is there already and says something else"),
        ("blends.jsonl", '"id": 1', '"id": "one"', "blends.jsonl, line 1: id:"),
        ("blends.jsonl", '"id": 1', '"id": 1e400', "blends.jsonl, line 1:"),
        ("blends.jsonl", "{", "[" * 100_000, "blends.jsonl, line 1: this is no JSON"),
        ("people.jsonl", '"said": {', '"said": NaN, "x": {', "people.jsonl, line 1: this is no JSON: NaN is no number"),
        ("people.jsonl", '"cards"', '"card"', "people.jsonl, line 1: cards: Field required"),
        ("batches.jsonl", "\n", "\n{}\n", "batches.jsonl, line 2: id: Field required"),
    ],
)
def test_a_bad_line_is_named_by_file_and_line_and_nothing_comes_in(
    exported: Path, demo: Path, tmp_path: Path, file: str, was: str, put: str, said: str
) -> None:
    text = (exported / file).read_text(encoding="utf-8")
    assert was in text
    (exported / file).write_text(text.replace(was, put, 1), encoding="utf-8")
    here = tmp_path / "here.db"
    here.write_bytes(demo.read_bytes())
    engine = open_engine(f"sqlite:///{here}")
    with Session(engine) as store, store.begin():
        plan = plan_import(store, exported)
        assert any(each.startswith(said) for each in plan.problems), plan.problems
        with pytest.raises(ExchangeError, match="Nothing was changed"):
            bring_in(store, plan, take_differing=True)
    engine.dispose()


def test_what_is_no_export_is_refused_in_words(tmp_path: Path) -> None:
    (tmp_path / "text.zip").write_text("30 g jojoba")
    (tmp_path / "folder").mkdir()
    with zipfile.ZipFile(tmp_path / "later.zip", "w") as later:
        later.writestr("manifest.json", '{"form": 99, "people": false}')
    with zipfile.ZipFile(tmp_path / "bomb.zip", "w", zipfile.ZIP_DEFLATED) as bomb:
        bomb.writestr("manifest.json", '{"form": 1, "people": false}')
        bomb.writestr("lots.csv", b" " * 30_000_000)
    refused = {
        "text.zip": "neither a folder nor a ZIP",
        "folder": "is no export of Up Tide",
        "later.zip": "is of a later Up Tide",
        "bomb.zip": "would unpack to 30 MB",
    }
    with Session(empty()) as store:
        for name, said in refused.items():
            with pytest.raises(ExchangeError, match=said):
                plan_import(store, tmp_path / name)
        with pytest.raises(ExchangeError, match="not empty"):
            export(store, tmp_path, people=False)
        with pytest.raises(ExchangeError, match="is there already"):
            export(store, tmp_path / "bomb.zip", people=False)


def test_a_picture_comes_from_the_folder_of_pictures_and_is_one(tmp_path: Path) -> None:
    engine = empty()
    with engine.begin() as connection:
        for table, row in (
            ("jar", {"name": "Yarrow", "begun_on": date(2026, 1, 1), "asked": {}}),
            ("jar_photo", {"jar_id": 1, "taken_on": date(2026, 1, 2), "words": "clear", "content": JPEG + b"picture"}),
        ):
            connection.execute(insert(Base.metadata.tables[table]).values(row))
    with Session(engine) as store:
        export(store, tmp_path / "out", people=False)
    assert (tmp_path / "out/photos/1.jpg").read_bytes() == JPEG + b"picture"
    with Session(empty()) as store:
        bring_in(store, plan_import(store, tmp_path / "out"), take_differing=False)
        export(store, tmp_path / "again", people=False)
    assert (tmp_path / "again/photos/1.jpg").read_bytes() == JPEG + b"picture"
    (tmp_path / "secret.jpg").write_bytes(JPEG + b"of another")
    lines = (tmp_path / "out/photos.jsonl").read_text(encoding="utf-8")
    for other in ("photos/../../secret.jpg", "secret.jpg", "photos/2.jpg", "README.txt"):
        (tmp_path / "out/photos.jsonl").write_text(lines.replace("photos/1.jpg", other), encoding="utf-8")
        with Session(empty()) as store:
            assert "is no picture of the folder photos" in plan_import(store, tmp_path / "out").problems[0]


@given(TEXT)
def test_a_cell_that_is_made_harmless_is_read_back(text: str) -> None:
    assert as_typed(harmless(text)) == text
    assert not harmless(text).startswith(("=", "+", "-", "@", "\t", "\r"))


def test_notes_that_come_in_have_their_bottle_worked_out_afresh(exported: Path, demo: Path, tmp_path: Path) -> None:
    here = tmp_path / "here.db"
    here.write_bytes(demo.read_bytes())
    bottles = exported / "bottles.jsonl"
    first, *others = bottles.read_text(encoding="utf-8").splitlines()
    record = json.loads(first)
    note = record["notes"][0] | {"id": 900, "kind": "wish for the next", "detail": {"words": "less orange"}}
    note["entered_at"] = (datetime(2026, 11, 1, tzinfo=UTC) + timedelta(hours=1)).isoformat()
    record["notes"].append(note)
    bottles.write_text("\n".join([json.dumps(record), *others]), encoding="utf-8")
    engine = open_engine(f"sqlite:///{here}")
    with Session(engine) as store, store.begin():
        stamps: dict[int, str] = dict(store.connection().exec_driver_sql("SELECT id, worked_by FROM bottle").all())
        assert stamps[record["id"]]
        bring_in(store, plan_import(store, exported), take_differing=False)
    with Session(engine) as store:
        now: dict[int, str] = dict(store.connection().exec_driver_sql("SELECT id, worked_by FROM bottle").all())
    engine.dispose()

    assert now == stamps | {record["id"]: ""}
