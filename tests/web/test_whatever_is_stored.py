"""Whatever stands in the database, every page opens: a record never locks its own page, nor any other."""

from __future__ import annotations

import json
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import text
from tests.web.conftest import bottle_of, saved, token, words

from uptide.web.app import create_app
from uptide.workshop.shelf import ShelfOfTheDay

NAN, INFINITE = float("nan"), float("inf")
DAYS = ["0001-01-01", "9999-12-31"]
SURROGATE = "\ud800"
BLEND = ("/", "/blends", "/blends/1", "/blends/1/versions/1/batch-sheet")
PAST = ("/blends/1", "/bottles/20261101-0-1", "/keeping", "/keeping/taught", "/", "/quick?q=30 g jojoba")
SHELF = ("/", "/shelf", "/shelf/lots", "/shelf/lots/L1", "/shelf/lots/L1/edit", "/shelf/lots.csv")
OWN = ("/shelf", "/shelf/own:plum", "/shelf/own/own:plum", "/shelf/lots/own-oils.csv", "/blends/1")
MADE = "/making/20261101-1"
BATCH = ("/making", MADE, f"{MADE}/weigh", f"{MADE}.pdf", "/shelf/lots/L1")
PEOPLE = ("/people", "/people/1", "/people/1/edit", "/people/1.json", "/quick?q=avocado for Wren")

# Column, the pages that show it, and the values that are put there one after the other.
HOSTILE: list[tuple[str, tuple[str, ...], list[Any]]] = [
    ("blend.name", BLEND, ["", "x" * 5000, "\x00", "<b>"]),
    ("blend_version.product", BLEND, ["soup", ""]),
    ("blend_version.container_kind", BLEND, ["hat"]),
    ("blend_version.container_ml", BLEND, [0.0, -5.0, INFINITE, 1e300]),
    (
        "blend_version.habits",
        BLEND,
        [
            {},
            [],
            {"spoons": "wooden", "own_drops_per_ml": "many"},
            {"own_drops_per_ml": NAN, "drops": "7"},
        ],
    ),
    (
        "blend_version.storage",
        BLEND,
        [
            [],
            {"celsius": [900] * 12},
            {"celsius": "warm"},
            {"light": "moon"},
            {"headspace": NAN},
            {"wall": "paper"},
            {"uses_a_week": INFINITE, "ml_a_use": -3},
        ],
    ),
    ("blend_version.use", BLEND, [[], {"placed_on": "2026-02-30"}, {"region": "Mars"}]),
    ("blend_version.wearer_id", BLEND, [0, -1, 2**62]),
    ("blend_version.reasons", BLEND, [[], {"x": SURROGATE}, {"x": 5}]),
    (
        "blend_entry.typed",
        BLEND,
        [
            "",
            "\x00",
            "up to 15 drops lavender",
            "1e999 g jojoba",
            "jojoba to 5 drops",
            "a," * 300,
            "½½ cup",
            "-3 g argan",
        ],
    ),
    (
        "blend_entry.answers",
        BLEND,
        [
            [],
            {"name": "no-such"},
            {"unit": "furlong"},
            {"age": "never", "pv": "nan", "past": "x"},
            {"pv": 1e308},
            {"pv": "1e308", "age": "1e308"},
            {"x": SURROGATE},
        ],
    ),
    ("bottle.place", PAST, ["attic", "\x00", "<b>"]),
    ("bottle.state", PAST, ["lost", ""]),
    ("bottle.ends_on", PAST, DAYS),
    ("bottle.size_ml", PAST, [INFINITE, -3.0, 0.0]),
    ("bottle.fill_mg", PAST, [-5, 10**15]),
    ("bottle.blend_version", PAST, [99]),
    ("bottle.number", ("/keeping", "/", "/blends/1"), ["", "<b>", "x/y"]),
    ("bottle.worked_by", PAST, ["another"]),
    ("bottle_note.whom", PAST, ["<b>", "\x00"]),
    ("bottle_note.wearer_id", PAST, [0, 2**62]),
    ("lot.status", SHELF, ["eaten", "held"]),
    ("bottle_note.happened_on", PAST, ["0001-01-01", "1926-11-01", "9999-12-31"]),
    ("bottle_note.kind", PAST, ["exploded", "strip", "titration", "heated", "moved"]),
    (
        "bottle_note.detail",
        PAST,
        [
            [],
            {"low": NAN},
            {"low": "x", "high": None},
            {"celsius": 900, "hours": 1e9},
            {"place": "attic"},
        ],
    ),
    ("lot.code", ("/", "/shelf", "/shelf/lots", "/shelf/lots.csv"), ["L/1", "x" * 300]),
    ("lot.ingredient", SHELF, ["no-such", ""]),
    ("lot.bought_g", SHELF, [INFINITE, 1e300]),
    ("lot.price", SHELF, [INFINITE, 1e300]),
    ("lot.received_on", SHELF, DAYS),
    ("lot.opened_on", SHELF, DAYS),
    ("lot.best_before", SHELF, DAYS),
    ("lot.place", SHELF, ["attic"]),
    ("lot.blend_version", ("/", "/shelf/lots", "/shelf/lots/B1"), [99]),
    (
        "certificate.found",
        SHELF,
        [
            [],
            {"acids": {"C18:1": [9, 5, 1]}},
            {"acids": {"C99": [1, 1, 1]}},
            {"acids": {"C18:1": [NAN] * 3}},
            {"figures": {"density": 0}},
            {"figures": {"peroxide_value": INFINITE, "no-such": 1}},
            {"figures": [1]},
            {"constituents": {"X": -5}},
        ],
    ),
    ("certificate.dated_on", SHELF, DAYS),
    (
        "own_oil.said",
        OWN,
        [
            [],
            {},
            {"name": ""},
            {"name": "x" * 500},
            {"name": "plum", "kind": "soup"},
            {"name": "plum", "colour": None},
            {"name": "plum", "tint": 99},
            {"name": "plum", "tint": "deep"},
            {"name": "plum", "figures": {"density": 0}},
            {"name": "plum", "acids": {"C99": {"low": 1, "typical": 1, "high": 1}}},
            {"name": "plum", "acids": {"C18:1": {"low": 5, "typical": 9, "high": 9}}},
            {"name": "plum", "acids": {"C18:1": 5}},
            {"name": SURROGATE},
            {"name": "plum", "later": 1},
        ],
    ),
    (
        "wearer_card.said",
        PEOPLE,
        [
            [],
            {},
            {"name": SURROGATE},
            {"name": "Wren", "skin": "scaly"},
            {"name": "Wren", "tone": 5},
            {"name": "Wren", "born": "0000"},
            {"name": "Wren", "born": "9999-12-31", "procedure_on": "9999-12-31"},
            {"name": "Wren", "born": "0001-01-01"},
            {"name": "Wren", "allergies": {"moon": True, "peanut": "perhaps"}},
            {"name": "Wren", "allergies": 5},
            {"name": "Wren", "other_allergies": None},
            {"name": "Wren", "note": ["x"]},
        ],
    ),
    (
        "batch.plan",
        BATCH,
        [
            [],
            {},
            {"lines": 5},
            {"lines": [], "containers": [], "density": NAN, "step_g": 0.1},
            {"lines": [], "containers": [[0, -5]], "density": 0.9, "step_g": 0.1},
            {"lines": [{"position": 9}], "containers": [[1, 30]], "density": 0.9, "step_g": 0},
        ],
    ),
    ("batch.state", BATCH, ["lost"]),
    ("batch.blend_version", BATCH, [99]),
    ("patch_test.protocol", PEOPLE, ["forty-days"]),
    ("patch_test.site", PEOPLE, ["nose"]),
    ("patch_test.begun_at", PEOPLE, ["9999-12-31 23:59:59.000000", "0001-01-01 00:00:00.000000"]),
    ("patch_test.suspects", PEOPLE, [["no-such"], {}, [5]]),
    ("patch_test.blend_version", PEOPLE, [99]),
    ("patch_look.step", PEOPLE, [-1, 99]),
    ("patch_look.saw", PEOPLE, ["a ghost"]),
    (
        "preference.learnt_rates",
        PAST,
        [
            [],
            {"1": NAN},
            {"2": INFINITE},
            {"2": "x"},
        ],
    ),
    (
        "preference.habits",
        ("/measures", "/blends/new"),
        [
            [],
            {"spoons": "wooden"},
            {"own_drops_per_ml": 0},
            {"meanings": [["a"]]},
            {"held": [["pump", "much"]], "earlier": [["unit", "oz"]]},
            {"held": [["bucket", 3]]},
            {"earlier": [["unit", "oz", "bucket"], ["name", "orange", "no-such"]]},
            {"meanings": [["rosehip", "no-such"]]},
        ],
    ),
    ("wish.said", ("/shelf/find",), ["", "\x00", "<b>", "x" * 5000]),
    ("wish.measure", ("/shelf/find",), ["cups", ""]),
    ("wish.shelf", ("/shelf/find",), [-1, 2**62]),
]
SHELF_OF = ("lot", "certificate", "own_oil", "blend_version", "blend_entry")  # what the shelf of a day is made of
CASES = [(column, value, pages) for column, pages, values in HOSTILE for value in values]


@pytest.fixture(scope="module")
def furnished(tmp_path_factory: pytest.TempPathFactory, empty_database: Path) -> TestClient:
    """A workshop with one of everything: a blend with a note, two lots, an own oil, a card with a patch test."""
    path = tmp_path_factory.mktemp("furnished") / "web.db"
    shutil.copy(empty_database, path)
    client = TestClient(create_app(f"sqlite:///{path}", ("testserver",)), raise_server_exceptions=False)
    place = saved(client, new="30 g rosehip\n3 drops lavender").split("?")[0]
    assert place == "/blends/1"
    bottle = bottle_of(client, place)
    noted = {"token": token(client, bottle), "kind": "made", "on": "2026-11-01"}
    assert client.post(f"{bottle}/notes", data=noted, follow_redirects=False).status_code == 303
    client.post("/measures", data={"token": token(client, "/measures")})
    post = client.post
    own = {"token": token(client, "/shelf/own"), "name": "plum", "table": "C18:1 68\nC18:2 22\nC16:0 10"}
    assert post("/shelf/own", data=own, follow_redirects=False).status_code == 303
    lot = {"token": token(client, "/shelf/lots/new"), "code": "L1", "ingredient": "rosehip", "bought_g": "100"}
    assert post("/shelf/lots", data=lot, follow_redirects=False).status_code == 303
    pasted = {
        "token": token(client, "/shelf/lots/L1"),
        "table": "Peroxide value 2.1\nC18:2 47\nC18:3 33\nC18:1 14\nC16:0 4",
    }
    assert post("/shelf/lots/L1/certificates", data=pasted, follow_redirects=False).status_code == 303
    made = {"token": token(client, "/shelf/lots/new"), "code": "B1", "blend": "1", "version": "1", "bought_g": "30"}
    assert post("/shelf/lots", data=made, follow_redirects=False).status_code == 303
    card = {"token": token(client, "/people/new"), "name": "Wren", "allergies-peanut": "yes"}
    assert post("/people", data=card, follow_redirects=False).status_code == 303
    test = {"token": token(client, "/people/1"), "blend": "1.1", "begun": "2026-11-20T18:00"}
    assert post("/people/1/tests", data=test, follow_redirects=False).status_code == 303
    wish = {"token": token(client), "wish": "30 ml, light"}
    assert post("/shelf/find/keep", data=wish, follow_redirects=False).status_code == 303
    seen = {"token": token(client, "/people/1"), "step": "0", "saw": "nothing"}
    assert post("/people/1/tests/1/looks", data=seen, follow_redirects=False).status_code == 303
    batch = {"token": token(client, place), "bottles": "1 x 30 ml", "made": "2026-11-01"}
    assert post("/blends/1/versions/1/make", data=batch, follow_redirects=False).status_code == 303
    poured = {"token": token(client, place), "seq": "0", "position": "0", "code": "L1", "how": "typed", "amount": "20"}
    assert post(f"{MADE}/pours", data=poured, follow_redirects=False).status_code == 303
    noted = {"token": token(client, bottle), "kind": "strip", "on": "2026-11-20", "low": "0", "high": "2"}
    assert client.post(f"{bottle}/notes", data=noted, follow_redirects=False).status_code == 303
    return client


@contextmanager
def stored(client: TestClient, column: str, value: Any) -> Iterator[None]:
    """Write a value past every check, as an older or a damaged program could have; put the old one back after."""
    table, name = column.split(".")
    cell, row = ("value", f"key = '{name}'") if table == "preference" else (name, "rowid = 1")
    plain = value if isinstance(value, str | int | float) and table != "preference" else json.dumps(value)
    read = text(f"SELECT {cell} FROM {table} WHERE {row}")  # noqa: S608 - names of this file
    write = text(f"UPDATE {table} SET {cell} = :value WHERE {row}")  # noqa: S608 - names of this file
    app: Any = client.app
    with app.state.sessions() as session, session.begin():
        session.connection().exec_driver_sql("PRAGMA ignore_check_constraints = ON")
        before = session.execute(read).scalar_one()
        assert session.execute(write, {"value": plain}).rowcount == 1
    if table in SHELF_OF:
        app.state.shelf = ShelfOfTheDay(app.state.catalogue)
    try:
        yield
    finally:
        with app.state.sessions() as session, session.begin():
            session.execute(write, {"value": before})
        if table in SHELF_OF:
            app.state.shelf = ShelfOfTheDay(app.state.catalogue)


@pytest.mark.parametrize(("column", "value", "pages"), CASES)
def test_whatever_is_stored_every_page_opens(
    furnished: TestClient, column: str, value: Any, pages: tuple[str, ...]
) -> None:
    with stored(furnished, column, value):
        locked = {page: answer.status_code for page in pages if (answer := furnished.get(page)).status_code >= 400}
        said = words(furnished.get(next(iter(locked))).text)[:600] if locked else ""

    assert not locked, said


@pytest.mark.parametrize(
    ("column", "value", "page", "says"),
    [
        ("blend_version.storage", {"light": "moon"}, "/blends/1", "light: “moon” was stored here and cannot be read"),
        ("blend_version.product", "soup", "/blends/1", "product: “soup” was stored here and cannot be read"),
        ("blend_version.container_ml", -5.0, "/blends/1", "-5 mL” was stored here and cannot be read"),
        ("wearer_card.said", {"name": "Wren", "born": "0000"}, "/people/1", "Born: “0000” was stored here and cannot"),
        ("own_oil.said", {"name": "plum", "kind": "soup"}, "/shelf/own/own:plum", "kind: “soup” was stored here"),
        ("own_oil.said", {"name": "plum", "tint": 99}, "/shelf/own:plum", "Tint: “99” was stored here"),
        ("batch.plan", {}, MADE, "What was planned can be read no more; what happened is all here"),
        ("batch.plan", {}, MADE, "20.00 g from lot L1 (typed)"),
        ("lot.price", INFINITE, "/shelf/lots/L1", "price: “inf” was stored here and cannot be read"),
        ("lot.ingredient", "no-such", "/shelf/lots", "Nobody knows any more what is in L1"),
    ],
)
def test_what_cannot_be_read_is_said_on_its_page(
    furnished: TestClient, column: str, value: Any, page: str, says: str
) -> None:
    with stored(furnished, column, value):
        assert says in words(furnished.get(page).text)
