"""What the tests of making do: a shelf, a blend, a batch, and what is said at its bench."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import Any

from fastapi.testclient import TestClient
from tests.web.conftest import saved, token, words

from uptide.core.ingredients.infusion import Infusion, Steeped
from uptide.core.ingredients.lot import Lot
from uptide.store.shelf import save_lot
from uptide.workshop.clock import today

RECIPE = "60 g olive\n30 g jojoba\n9 g squalane\n1 g lavender"


def put(client: TestClient, code: str, oil: str, grams: float, days: int = 300) -> None:
    """Put a lot on the shelf; by the store, since its form has tests of its own."""
    ends = today() + timedelta(days=days)
    lot = Lot(code, oil, best_before=ends, bought_g=grams, left_g=grams, price=grams / 100, currency="GBP")
    app: Any = client.app
    with app.state.sessions() as session, session.begin():
        save_lot(session, lot)


def put_infused(client: TestClient, code: str, plant: str, oil_lot: str = "") -> None:
    """Put a lot of olive oil on the shelf in which a plant was steeped, and which ends before all others."""
    infusion = Infusion((Steeped(plant),), oil_lot=oil_lot)
    ends = today() + timedelta(days=90)
    lot = Lot(code, "olive", best_before=ends, bought_g=400, left_g=400, infusion=infusion)
    app: Any = client.app
    with app.state.sessions() as session, session.begin():
        save_lot(session, lot)


def shelf(client: TestClient) -> None:
    put(client, "OL-1", "olive", 150, 200)
    put(client, "OL-2", "olive", 1000, 400)
    put(client, "JO-1", "jojoba", 500)
    put(client, "SQ-1", "squalane", 45)
    put(client, "LA-1", "lavender", 30)


def blend(client: TestClient, recipe: str = RECIPE) -> str:
    """The address of a version of a new blend."""
    found = re.search(r"/blends/(\d+)", saved(client, new=recipe, container_ml=""))
    assert found
    return f"/blends/{found[1]}/versions/1"


def plan(client: TestClient, version: str, **said: str) -> str:
    answer = client.get(f"{version}/make", params={"bottles": "6 x 100 ml"} | said)
    return words(answer.text)


def begin(client: TestClient, version: str, **said: str) -> str:
    form = {"bottles": "2 x 100 ml", "token": token(client, "/shelf/lots/new")} | said
    answer = client.post(f"{version}/make", data=form, follow_redirects=False)
    assert answer.status_code == 303, words(answer.text)
    return answer.headers["location"].split("?")[0]


def at_bench(client: TestClient, batch: str, action: str, **fields: str) -> str:
    page = client.get(f"{batch}/weigh").text
    seq = re.search(r'name="seq"\s+value="(\d+)"', page)
    form = {"token": token(client, f"{batch}/weigh"), "seq": seq[1] if seq else "0"}
    found = re.search(r'name="position"\s+value="(\d+)"', page)
    form |= {"position": found[1]} if found else {}
    code = re.search(r'name="code"\s+value="([^"]*)"', page)
    form |= {"code": code[1]} if code else {}
    return words(client.post(f"{batch}/{action}", data=form | fields).text)


def wanted(client: TestClient, batch: str) -> float:
    """What the bench asks for [g]."""
    found = re.search(r'class="wanted">\s*<b>([\d.]+)</b>', client.get(f"{batch}/weigh").text)
    assert found
    return float(found[1])


def pour_all(client: TestClient, batch: str) -> str:
    """Pour what is asked for, typed; drops for the last."""
    at_bench(client, batch, "weigh/begin")
    for _ in range(3):
        at_bench(client, batch, "pours", how="typed", amount=f"{wanted(client, batch):g}")
    return at_bench(client, batch, "pours", how="drops", drops="42")


def say(client: TestClient, batch: str, action: str, **fields: str) -> str:
    seq = re.search(r'name="seq"\s+value="(\d+)"', client.get(batch).text)
    form = {"token": token(client, batch), "seq": seq[1] if seq else "0"}
    return words(client.post(f"{batch}/{action}", data=form | fields).text)


def left(client: TestClient, code: str) -> float:
    found = re.search(r"Left ([\d ]+) of", words(client.get(f"/shelf/lots/{code}").text))
    assert found
    return float(found[1].replace("\u2009", ""))


def made(client: TestClient) -> str:
    shelf(client)
    batch = begin(client, blend(client), made_by="Bo")
    pour_all(client, batch)
    return batch
