"""What other programs do: the ledger, batches and jars follow, once, and never over what somebody else did."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.api.test_records import LOT, is_problem
from tests.web.conftest import words

from uptide.store.batches import hold
from uptide.web.api.doing import A_PROGRAM

OIL = {"ingredient": "olive", "bought_g": 500, "left_g": 500}
BLEND = {"name": "Dune oil", "recipe": "60 g olive\n30 g jojoba"}


@pytest.fixture
def bench(client: TestClient) -> TestClient:
    """A workshop with two lots and a blend of both."""
    client.put("/api/lots/OL-1", json=OIL)
    client.put("/api/lots/JO-1", json=LOT)
    assert client.post("/api/blends", json=BLEND).status_code == 201
    return client


def left(client: TestClient, code: str) -> float:
    return float(client.get(f"/api/lots/{code}").json()["left_g"])


@pytest.mark.parametrize(
    ("said", "stands"),
    [
        ({"what": "used", "grams": 40}, 460.0),
        ({"what": "discarded", "grams": 40, "reason": "smelt of paint"}, 460.0),
        ({"what": "counted", "grams": 480}, 480.0),
        ({"what": "returned", "grams": 5}, 505.0),
        ({"what": "used", "grams": 520}, 0.0),  # what was used beyond what was known was there
    ],
)
def test_what_moves_is_in_the_ledger_once(bench: TestClient, said: dict[str, Any], stands: float) -> None:
    key = {"idempotency-key": "one"}
    for _ in range(2):
        answer = bench.post("/api/lots/OL-1/movements", json=said, headers=key)
        assert (answer.status_code, answer.json()["left_g"]) == (201, stands)
    newest = bench.get("/api/lots/OL-1/movements").json()[0]
    assert newest["on"] == date.today().isoformat()  # noqa: DTZ011 - the wall clock, as the page has it
    assert newest["reason"] == said.get("reason", "counted" if said["what"] == "counted" else "")
    assert not newest["taken_back"]


def test_what_cannot_have_moved_is_refused(bench: TestClient) -> None:
    tomorrow = (date.today() + timedelta(days=2)).isoformat()  # noqa: DTZ011
    for said, why in (
        ({"what": "discarded", "grams": 5}, "Say why it was thrown out"),
        ({"what": "used", "grams": 5, "on": tomorrow}, "has not come yet"),
    ):
        assert is_problem(bench.post("/api/lots/OL-1/movements", json=said), 400, why)
    assert is_problem(bench.post("/api/lots/OL-1/movements", json={"what": "eaten", "grams": 1}), 422, "what")
    assert left(bench, "OL-1") == 500.0


def test_a_batch_is_planned_and_poured_from_its_lots(bench: TestClient, app: FastAPI) -> None:
    made = bench.post("/api/batches", json={"blend": 1, "bottles": "1 x 100 ml", "made_by": "Wren"})
    assert made.status_code == 201, made.json()
    place, tag = made.headers["location"], made.headers["etag"]
    lines = made.json()["plan"]["lines"]
    assert [line["picks"][0][0] for line in lines] == ["OL-1", "JO-1"]

    pour = {"position": 0, "grams": lines[0]["target_mg"] / 1000, "lot": "OL-1"}
    assert is_problem(bench.post(f"{place}/pours", json=pour), 428, "If-Match")
    once = {"if-match": tag, "idempotency-key": "first"}
    poured = bench.post(f"{place}/pours", json=pour, headers=once)
    assert poured.status_code == 201, poured.json()
    assert bench.post(f"{place}/pours", json=pour, headers=once).json() == poured.json()
    assert left(bench, "OL-1") == pytest.approx(500 - pour["grams"])
    assert is_problem(bench.post(f"{place}/pours", json=pour, headers={"if-match": tag}), 412, "has changed")
    wrong = {"position": 1, "grams": 5, "lot": "OL-1"}
    tag = bench.get(place).headers["etag"]
    assert is_problem(bench.post(f"{place}/pours", json=wrong, headers={"if-match": tag}), 400, "is due")
    number = place.rsplit("/", 1)[1]
    with app.state.sessions() as store, store.begin():
        hold(store, number, "a tablet", take_over=True)
    right = {"position": 1, "grams": 5}
    assert is_problem(bench.post(f"{place}/pours", json=right, headers={"if-match": tag}), 409, "Another device")
    assert left(bench, "JO-1") == LOT["left_g"]
    with app.state.sessions() as store, store.begin():
        hold(store, number, A_PROGRAM, take_over=True)
    assert bench.post(f"{place}/pours", json=right, headers={"if-match": tag}).status_code == 201
    assert left(bench, "JO-1") == LOT["left_g"] - 5  # out of the lot that was due, though nobody named it
    tag = bench.get(place).headers["etag"]
    beyond = bench.post(f"{place}/pours", json=right | {"position": 9}, headers={"if-match": tag})
    assert is_problem(beyond, 400, "has no line 10")
    assert [each["kind"] for each in bench.get(place).json()["entries"]].count("pour") == 2
    assert "Olive oil" in words(bench.get(f"/making/{number}").text)


def test_a_jar_is_begun_and_followed(bench: TestClient) -> None:
    jar = {"plant": "calendula", "oil": "OL-1", "jar_ml": 250, "plant_grams": 30, "name": "By the stove"}
    made = bench.post("/api/jars", json=jar, headers={"idempotency-key": "jar"})
    assert made.status_code == 201, made.json()
    assert bench.post("/api/jars", json=jar, headers={"idempotency-key": "jar"}).json() == made.json()
    assert len(bench.get("/api/jars").json()) == 1
    place, asked = made.headers["location"], made.json()["asked"]
    assert (asked["jar_ml"], asked["grams"]) == (250, 30)
    assert left(bench, "OL-1") < 400
    noted = bench.post(f"{place}/notes", json={"kind": "looked at", "words": "clear"})
    assert [note["words"] for note in noted.json()["notes"]] == ["clear"]
    assert is_problem(bench.post(f"{place}/notes", json={"kind": "looked at", "on": "1999-01-01"}), 400, "1999")
    assert is_problem(bench.post("/api/jars", json={"plant": "zinnwaldite"}), 400, "zinnwaldite")
    assert is_problem(bench.post("/api/jars", json={"oil": "x" * 350}), 422, "300")
    exact = bench.post("/api/jars", json={"plant_grams": 1234.125, "jar_ml": 12345.5, "oil": "jojoba"})
    assert (exact.json()["asked"]["grams"], exact.json()["asked"]["jar_ml"]) == (1234.125, 12345.5)
