"""A client that talks to the application as a browser does: cookie, token, form."""

from __future__ import annotations

import html
import re
from collections import defaultdict
from collections.abc import Iterator
from html.parser import HTMLParser

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from uptide.web.app import create_app
from uptide.workshop.assessed import Assessed
from uptide.workshop.assessment import ASSESSED

TEN = "2 tbsp grapeseed\n1 tbsp jojoba\n12 drops lavender"


@pytest.fixture
def app(database_url: str) -> FastAPI:
    return create_app(database_url, ("testserver",))


@pytest.fixture
def client(app: FastAPI) -> Iterator[TestClient]:
    with TestClient(app) as client:
        yield client


def assessed_by(app: FastAPI) -> Assessed:
    """What was assessed last in a workshop."""
    with app.state.sessions() as store:
        known: Assessed = store.info[ASSESSED]
    return known


class _Fields(HTMLParser):
    """What stands in the fields of a page, by name, in their order."""

    def __init__(self) -> None:
        super().__init__()
        self.found: dict[str, list[str]] = defaultdict(list)
        self._select = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        known = {name: value or "" for name, value in attrs}
        if tag == "input":
            self.found[known.get("name", "")].append(known.get("value", ""))
        elif tag == "select":
            self._select = known.get("name", "")
        elif tag == "option" and "selected" in known:
            self.found[self._select].append(known.get("value", ""))


def field(page: str, name: str) -> str:
    """What stands in the first field of this name, or is chosen there."""
    fields = _Fields()
    fields.feed(page)
    return fields.found[name][0]


def token(client: TestClient, path: str = "/shelf/lots/new") -> str:
    """The token of a form on a page."""
    found = re.search(r'name="token" value="([^"]+)"', client.get(path).text)
    assert found
    return found[1]


def words(page: str) -> str:
    return re.sub(r"\s+", " ", html.unescape(re.sub(r"<[^>]+>", " ", page)))


def bottle_of(client: TestClient, blend: str, made: str = "2026-11-01") -> str:
    """The page of a bottle of a blend that was made without the bench."""
    form = {"token": token(client, blend), "made": made}
    answer = client.post(f"{blend}/bottles", data=form, follow_redirects=False)
    assert answer.status_code == 303, answer.text
    return str(answer.headers["location"]).split("?")[0]


def saved(client: TestClient, **changes: object) -> str:
    form = {"token": token(client), "name": "Face oil", "new": TEN, "container_ml": "60"} | changes
    answer = client.post("/blends", data=form, follow_redirects=False)
    assert answer.status_code == 303, answer.text
    return str(answer.headers["location"])
