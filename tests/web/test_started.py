"""What is made once, before the first page is asked for."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from datetime import date

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import UptideError
from uptide.core.ingredients.lot import Lot
from uptide.core.skin.wearer import ANYONE, Wearer
from uptide.store.shelf import put_lots
from uptide.web.app import settle
from uptide.web.views import sheet
from uptide.workshop import shelf


@pytest.fixture(autouse=True)
def collector() -> Iterator[None]:
    rounds = gc.get_threshold()
    yield
    gc.set_threshold(*rounds)


def refused(*_: object) -> None:
    raise UptideError("Nothing can be read.")


def test_the_shelf_stands_before_a_room_asks_for_it(app: FastAPI, monkeypatch: pytest.MonkeyPatch) -> None:
    with app.state.sessions() as store, store.begin():
        put_lots(store, [Lot("A-1", "jojoba", bought_g=500, left_g=400)])
    settle(app)
    monkeypatch.setattr(shelf, "_shelf", refused)

    with TestClient(app) as client:
        assert "A-1" in client.get("/shelf/lots").text


def test_a_shelf_that_cannot_be_read_lets_the_rest_open(app: FastAPI, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(shelf, "_shelf", refused)
    settle(app)

    with TestClient(app) as client:
        assert "Nothing can be read." in client.get("/shelf/lots").text
        assert client.get("/static/base.css").status_code == 200


def test_what_may_stand_in_is_judged_once_for_all_rows() -> None:
    catalogue, day, asked = shipped_catalogue(), date(2001, 2, 3), sheet._allowed.cache_info()
    for wearer in (ANYONE, Wearer("Tove", pregnant=True)):
        for key in ("olive", "jojoba", "argan"):
            assert sheet._instead(catalogue, key, wearer, day)
    found = sheet._allowed.cache_info()

    assert (found.misses - asked.misses, found.hits - asked.hits) == (2, 4)
