"""Records for other programs: read, written once, and never over what somebody else changed meanwhile."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response
from tests.web.conftest import saved

from uptide.core.ingredients.lot import Lot
from uptide.store.shelf import hold_lot, put_lots
from uptide.web.app import create_app

BLEND: dict[str, Any] = {"name": "Dune oil", "recipe": "30 g jojoba\n10 g grapeseed", "note": "the first"}
LOT: dict[str, Any] = {"ingredient": "Jojoba", "bought_g": 500, "left_g": 400, "place": "fridge"}


@pytest.fixture
def demo_client(demo_copy: Path) -> Iterator[TestClient]:
    with TestClient(create_app(f"sqlite:///{demo_copy}", ("testserver",))) as client:
        yield client


def is_problem(answer: Response, status: int, says: str) -> bool:
    said = answer.json()
    assert answer.status_code == status, said
    assert answer.headers["content-type"] == "application/problem+json"
    assert sorted(said) == ["detail", "status", "title", "type"]
    assert (said["status"], says in said["detail"]) == (status, True), said
    return True


def test_a_blend_is_kept_read_and_kept_anew_if_it_is_as_it_was_read(client: TestClient) -> None:
    made = client.post("/api/blends", json=BLEND)
    assert made.status_code == 201, made.json()
    place = made.headers["location"]
    read = client.get(place)
    assert read.json() == made.json()
    assert [row["typed"] for row in read.json()["rows"]] == ["30 g jojoba", "10 g grapeseed"]
    tag = read.headers["etag"]
    changed = BLEND | {"recipe": "30 g jojoba\n12 g grapeseed", "name": "Dune oil, richer"}
    assert is_problem(client.post(f"{place}/versions", json=changed), 428, "If-Match")
    second = client.post(f"{place}/versions", json=changed, headers={"if-match": tag})
    assert (second.status_code, second.json()["version"], second.json()["name"]) == (201, 2, "Dune oil, richer")
    late = client.post(f"{place}/versions", json=BLEND, headers={"if-match": tag})
    assert is_problem(late, 412, "has changed since you read it")
    assert client.get(f"{place}/versions/1").json()["note"] == "the first"
    assert client.get(place).headers["etag"] == second.headers["etag"] != tag
    (line,) = client.get("/api/blends").json()
    assert (line["name"], line["version"]) == ("Dune oil, richer", 2)
    assert "Dune oil, richer" in client.get("/blends").text


def test_what_is_sent_twice_under_one_key_is_done_once(client: TestClient) -> None:
    key = {"idempotency-key": "from the scale, 17"}
    first, second = (client.post("/api/blends", json=BLEND, headers=key) for _ in range(2))
    assert (first.status_code, second.status_code) == (201, 201)
    assert first.json() == second.json()
    assert len(client.get("/api/blends").json()) == 1
    other = client.post("/api/blends", json=BLEND | {"name": "Another"}, headers=key)
    assert is_problem(other, 409, "take a new one")
    tag = client.get("/api/blends/1").headers["etag"]
    again = {"idempotency-key": "v2", "if-match": tag}
    for _ in range(2):
        sent = client.post("/api/blends/1/versions", json=BLEND | {"recipe": "1 g olive"}, headers=again)
        assert (sent.status_code, sent.json()["version"]) == (201, 2)


def test_a_lot_is_put_there_changed_and_not_written_over(app: FastAPI, client: TestClient) -> None:
    made = client.put("/api/lots/A-1", json=LOT)
    assert (made.status_code, made.json()["ingredient"], made.json()["left_g"]) == (200, "jojoba", 400)
    assert is_problem(client.put("/api/lots/A-1", json=LOT | {"left_g": 300}), 428, "If-Match")
    tag = client.get("/api/lots/A-1").headers["etag"]
    assert tag == made.headers["etag"]
    changed = client.put("/api/lots/A-1", json=LOT | {"left_g": 300}, headers={"if-match": tag})
    assert (changed.status_code, changed.json()["left_g"]) == (200, 300)
    late = client.put("/api/lots/A-1", json=LOT | {"left_g": 350}, headers={"if-match": tag})
    assert is_problem(late, 412, "changed since")
    with app.state.sessions() as store, store.begin():
        hold_lot(store, "A-1", "held", "smells odd")
    held = client.get("/api/lots/A-1")
    assert held.json()["status"] == "held"
    kept = client.put("/api/lots/A-1", json=LOT | {"left_g": 200}, headers={"if-match": held.headers["etag"]})
    assert (kept.json()["status"], kept.json()["left_g"]) == ("held", 200)  # no change of it lets it go
    assert [lot["code"] for lot in client.get("/api/lots").json()] == ["A-1"]


def test_what_was_made_here_stays_what_it_was_made_of(app: FastAPI, client: TestClient) -> None:
    saved(client, name="Dune oil")
    with app.state.sessions() as store, store.begin():
        put_lots(store, [Lot("M-1", "", bought_g=50, left_g=50, made_from=(1, 1))])
    tag = client.get("/api/lots/M-1").headers["etag"]
    body = LOT | {"bought_g": 50, "left_g": 20}
    changed = client.put("/api/lots/M-1", json=body, headers={"if-match": tag}).json()

    assert (changed["blend"], changed["version"], changed["ingredient"], changed["left_g"]) == (1, 1, "", 20)


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "says"),
    [
        ("GET", "/api/blends/9", None, 404, "9"),
        ("GET", "/api/blends/x", None, 422, "blend"),
        ("GET", "/api/lots/none", None, 404, "none"),
        ("GET", "/api/batches/none", None, 404, "none"),
        ("GET", "/api/jars/9", None, 404, "9"),
        ("GET", "/api/nothing", None, 404, "There is no page"),
        ("POST", "/api/blends", BLEND | {"name": ""}, 422, "name"),
        ("POST", "/api/blends", BLEND | {"product": "soup"}, 400, "soup"),
        ("POST", "/api/blends", BLEND | {"wearer": 7}, 404, "7"),
        ("PUT", "/api/lots/A-1", LOT | {"ingredient": "zorgblat"}, 400, "no ingredient"),
        ("PUT", "/api/lots/A-1", LOT | {"ingredient": "mint"}, 400, "one of"),
        ("PUT", "/api/lots/A-1", LOT | {"left_g": 600}, 400, "600 g left of 500 g"),
        ("PUT", "/api/lots/new", LOT, 400, "is not a lot"),
    ],
)
def test_what_cannot_be_is_a_problem_with_its_detail(
    client: TestClient, method: str, path: str, body: dict[str, Any] | None, status: int, says: str
) -> None:
    assert is_problem(client.request(method, path, json=body), status, says)


@pytest.mark.parametrize("site", ["cross-site", "same-site"])
def test_a_page_of_another_site_writes_nothing(client: TestClient, site: str) -> None:
    headers = {"sec-fetch-site": site}
    assert is_problem(client.post("/api/blends", json=BLEND, headers=headers), 403, "another site")
    assert is_problem(client.put("/api/lots/A-1", json=LOT, headers=headers), 403, "another site")
    said = b'{"name": "x", "recipe": "1 g olive"}'
    plain = client.post("/api/blends", content=said, headers={"content-type": "text/plain"})
    assert plain.status_code in (415, 422)
    assert client.get("/api/blends").json() == client.get("/api/lots").json() == []


def test_batches_and_jars_are_read(demo_client: TestClient) -> None:
    (newest, *_) = demo_client.get("/api/batches").json()
    batch = demo_client.get(f"/api/batches/{newest['number']}").json()
    assert batch["entries"][0]["kind"] == "pour begun"
    assert batch["plan"]["lines"]
    (jar, *_) = demo_client.get("/api/jars").json()
    assert demo_client.get(f"/api/jars/{jar['id']}").json() == jar
    assert jar["notes"]
