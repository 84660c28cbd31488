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

STARTS_WITHIN, LOOKS = 90.0, 8  # s; looks by connections of their own, so that both are asked
PASSPHRASE, WRONG = "low water at four", "high water at eight"


class Bench:
    """A browser that was let in; everything it asks goes over a connection of its own."""

    def __init__(self, base: str) -> None:
        self.base = base
        anew = httpx2.Limits(max_keepalive_connections=0)
        self._browser = httpx2.Client(base_url=base, timeout=20, limits=anew)

    def look(self, path: str) -> str:
        return self._browser.get(path).text

    def token(self, path: str) -> str:
        found = re.search(r'name="token" value="([^"]+)"', self.look(path))
        return found[1] if found else ""

    def post(self, path: str, form: dict[str, str]) -> httpx2.Response:
        return self._browser.post(path, data=form)


@pytest.fixture
def bench(database_url: str) -> Iterator[Bench]:
    """Where two processes serve a database that has a passphrase."""
    engine = open_engine(database_url)
    with Session(engine) as store, store.begin():
        keep_passphrases(store, keep(PASSPHRASE), "")
    engine.dispose()
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    settings = os.environ | {"UPTIDE_DATABASE": database_url, "UPTIDE_WORKERS": "2"}
    command = [sys.executable, "-m", "uptide.cli", "serve", "--port", str(port)]
    with subprocess.Popen(  # noqa: S603 - ourselves
        command, env=settings, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True
    ) as serving:
        bench, until = Bench(f"http://127.0.0.1:{port}"), time.monotonic() + STARTS_WITHIN
        while time.monotonic() < until:
            try:
                bench.look("/static/base.css")
                break
            except httpx2.TransportError:
                time.sleep(0.1)
        yield bench
        serving.send_signal(signal.SIGTERM)
        _, said = serving.communicate(timeout=20)
        assert (serving.returncode, said) == (0, "")


def test_what_one_process_is_told_the_other_knows(bench: Bench) -> None:
    assert "OL-7" not in bench.look("/shelf/lots")
    entered = bench.post("/enter", {"token": bench.token("/enter"), "passphrase": PASSPHRASE})
    assert entered.status_code == 303
    lot = {"token": bench.token("/shelf/lots/new"), "code": "OL-7", "ingredient": "olive", "bought_g": "500"}
    assert bench.post("/shelf/lots", lot | {"left_g": "500"}).status_code == 303
    assert all("OL-7" in bench.look("/shelf/lots") for _ in range(LOOKS))

    blend = {"token": bench.token("/blends/new"), "name": "Dune", "new": "30 g olive", "container_ml": "30"}
    with ThreadPoolExecutor(8) as eight:
        answers = list(eight.map(lambda _: bench.post("/blends", blend), range(8)))
    assert {answer.status_code for answer in answers} == {303}
    assert {answer.headers["location"].split("?")[0] for answer in answers} == {"/blends/1"}
    assert len({bench.look("/blends").count("Dune") for _ in range(LOOKS)}) == 1

    # Wrong passphrases of a stranger count for both: after so many even the right one waits.
    stranger = Bench(bench.base)
    token = stranger.token("/enter")
    said = [stranger.post("/enter", {"token": token, "passphrase": WRONG}).status_code for _ in range(FREE)]
    assert said == [422] * FREE
    right = {"token": token, "passphrase": PASSPHRASE}
    assert {stranger.post("/enter", right).status_code for _ in range(LOOKS)} == {429}
