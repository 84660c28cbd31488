"""What the tests of keeping do: a batch in bottles, a card, a note, a look at the board."""

from __future__ import annotations

import json
from typing import Any

from fastapi.testclient import TestClient
from tests.web.conftest import token, words
from tests.web.making.at_bench import RECIPE, blend, shelf

from uptide.catalogue.shipped import shipped_catalogue
from uptide.workshop.batch_file import bring_batches
from uptide.workshop.clock import today
from uptide.workshop.shelf import ShelfOfTheDay


def filled(client: TestClient, count: int = 2, recipe: str = RECIPE) -> str:
    """A batch that was poured, mixed and filled; from a file, since the bench has tests of its own."""
    shelf(client)
    blend(client, recipe)
    app: Any = client.app
    made = {"blend": "Face oil", "bottles": f"{count} x 100 ml", "made_on": today().isoformat(), "mixed": "clear"}
    with app.state.sessions() as session, session.begin():
        on_hand = ShelfOfTheDay(shipped_catalogue()).of(session)
        bring_batches("batches.json", json.dumps([made | {"fills": [90.0] * count}]), on_hand, session)
    return f"/making/{today():%Y%m%d}-1"


def note(client: TestClient, bottle: str, kind: str, **fields: str) -> str:
    form = {"token": token(client, bottle), "kind": kind, "on": today().isoformat()} | fields
    answer = client.post(f"{bottle}/notes", data=form)
    assert answer.status_code == 200, words(answer.text)
    return words(answer.text)


def board(client: TestClient, **asked: str) -> str:
    return words(client.get("/keeping", params=asked).text)


def card(client: TestClient, name: str = "Wren") -> str:
    form = {"token": token(client, "/people/new"), "name": name}
    answer = client.post("/people", data=form, follow_redirects=False)
    return answer.headers["location"].split("?")[0]
