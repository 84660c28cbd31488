"""The run that reads everything reads everything: no page of a stored thing is left out of it."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from bench.read_all import addresses, read_all
from fastapi import FastAPI
from fastapi.sse import EventSourceResponse
from fastapi.testclient import TestClient
from tests.web.conftest import saved

from uptide.web.app import create_app

# A secret that nobody knows, and photos, of which the demo has none.
LEFT_OUT = {"/keeping/feed/{secret}.ics", "/steeping/jars/{jar_id}/photos/{photo_id}.jpg"}


def test_every_page_of_a_stored_thing_is_asked_for(demo_copy: Path) -> None:
    app = create_app(f"sqlite:///{demo_copy}", ("testserver",))
    routes = [route for room in app.state.rooms for route in room.routes]
    with app.state.sessions() as store:
        asked = list(addresses(routes, store))
    left_out = {
        route.path
        for route in routes
        if "GET" in route.methods and route.param_convertors and route.response_class is not EventSourceResponse
        if not any(re.fullmatch(re.sub(r"\{[^}]*\}", "[^/]+", route.path), each) for each in asked)
    }
    assert left_out == LEFT_OUT


@pytest.mark.of_files
def test_what_does_not_open_is_said(client: TestClient, app: FastAPI, tmp_path: Path) -> None:
    saved(client)
    with app.state.sessions() as store, store.begin():
        store.connection().exec_driver_sql("UPDATE blend_version SET number = -7")
    found = read_all(tmp_path / "web.db", shipped=1)
    assert found.pages > 45
    assert found.broken == ["404 /blends/1/compare"]
