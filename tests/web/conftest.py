"""A client that talks to the application as a browser does: cookie, token, form."""

from __future__ import annotations

import re
import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from uptide.store.database import migrate
from uptide.web.app import create_app


@pytest.fixture(scope="session")
def empty_database(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database with nothing in it, made once: every test gets a copy."""
    path = tmp_path_factory.mktemp("empty") / "web.db"
    migrate(f"sqlite:///{path}")
    return path


@pytest.fixture
def app(tmp_path: Path, empty_database: Path) -> FastAPI:
    shutil.copy(empty_database, tmp_path / "web.db")
    return create_app(f"sqlite:///{tmp_path / 'web.db'}", ("testserver",))


@pytest.fixture
def client(app: FastAPI) -> Iterator[TestClient]:
    with TestClient(app) as client:
        yield client


def token(client: TestClient, path: str = "/blends/new") -> str:
    """The token of a form on a page."""
    found = re.search(r'name="token" value="([^"]+)"', client.get(path).text)
    assert found
    return found[1]
