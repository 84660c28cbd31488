"""Two processes serve one workshop: what one of them was told, the other knows."""

from __future__ import annotations

import os
import re
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor

import httpx2
import pytest
from sqlalchemy.orm import Session

from uptide.store.database import open_engine
from uptide.store.preferences import keep_passphrases
from uptide.workshop.entrance import FREE, keep

STARTS_WITHIN, LOOKS = 30.0, 12  # s; looks by connections of their own, so that both are asked
PASSPHRASE, WRONG = "low water at four", "high water at eight"


def look(base: str, path: str) -> str:
    """What a page says, asked over a connection of its own."""
    return httpx2.get(base + path, timeout=20, follow_redirects=True).text


def post(base: str, path: str, **said: str) -> httpx2.Response:
    """Send a form as a browser does that opened the page anew."""
    with httpx2.Client(base_url=base, timeout=20) as client:
        page = client.get(said.pop("page", path)).text
        found = re.search(r'name="token" value="([^"]+)"', page)
        return client.post(path, data={"token": found[1] if found else "", **said})


@pytest.fixture
def base(database_url: str) -> Iterator[str]:
    """Where two processes serve a database."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    settings = os.environ | {"UPTIDE_DATABASE": database_url, "UPTIDE_WORKERS": "2"}
    command = [sys.executable, "-m", "uptide.cli", "serve", "--port", str(port)]
    with subprocess.Popen(  # noqa: S603 - ourselves
        command, env=settings, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True
    ) as serving:
        until = time.monotonic() + STARTS_WITHIN
        while time.monotonic() < until:
            try:
                look(f"http://127.0.0.1:{port}", "/static/base.css")
                break
            except httpx2.TransportError:
                time.sleep(0.1)
        yield f"http://127.0.0.1:{port}"
        serving.send_signal(signal.SIGTERM)
        _, said = serving.communicate(timeout=20)
        assert (serving.returncode, said) == (0, "")


def test_what_one_process_is_told_the_other_knows(base: str) -> None:
    lot = {"code": "OL-7", "ingredient": "olive", "bought_g": "500", "left_g": "500"}
    assert post(base, "/shelf/lots", page="/shelf/lots/new", **lot).status_code == 303
    assert all("OL-7" in look(base, "/shelf/lots") for _ in range(LOOKS))

    blend = {"name": "Dune", "new": "30 g olive", "container_ml": "30"}
    with httpx2.Client(base_url=base, timeout=20) as client:
        found = re.search(r'name="token" value="([^"]+)"', client.get("/blends/new").text)
        form = {"token": found[1] if found else "", **blend}
        with ThreadPoolExecutor(8) as eight:
            answers = list(
                eight.map(lambda _: httpx2.post(f"{base}/blends", data=form, cookies=client.cookies), range(8))
            )
    assert {answer.status_code for answer in answers} == {303}
    assert {answer.headers["location"].split("?")[0] for answer in answers} == {"/blends/1"}

    assert len({look(base, "/blends").count("Dune") for _ in range(LOOKS)}) == 1


def test_wrong_passphrases_are_counted_for_both(database_url: str, request: pytest.FixtureRequest) -> None:
    with Session(open_engine(database_url)) as store, store.begin():
        keep_passphrases(store, keep(PASSPHRASE), "")
    base = request.getfixturevalue("base")
    said = [post(base, "/enter", passphrase=WRONG).status_code for _ in range(FREE)]
    assert said == [422] * FREE
    assert {post(base, "/enter", passphrase=PASSPHRASE).status_code for _ in range(LOOKS)} == {429}
