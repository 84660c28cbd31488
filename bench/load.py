"""Sixteen at once against one alone: how much longer pages take when many look and save at the same time.

make load prints it for one process and for two, on a file and, where PostgreSQL is there, on a server.
"""

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
from contextlib import contextmanager, suppress
from http.client import HTTPConnection
from pathlib import Path
from random import Random
from tempfile import TemporaryDirectory
from urllib.parse import urlencode

from sqlalchemy.orm import Session

from uptide.cli.demo import make_demo
from uptide.store.database import open_engine
from uptide.workshop.exchanging import bring_in, export, plan_import

AT_ONCE, LASTS, STARTS = 16, 10.0, 60.0  # connections; s
WALK = 200  # pages that each of two people asks for
PAUSES = 0.5, 0.25, 0.0  # s that somebody looks at a page before the next; 0 is as fast as it goes
FORM = "application/x-www-form-urlencoded"
TOKEN = re.compile(r'name="token" value="([^"]+)"')
LOOKED_AT = (
    "/",
    "/shelf",
    "/shelf/lots",
    "/blends",
    "/blends/1",
    "/blends/2",
    "/making",
    "/keeping",
    "/steeping",
    "/people",
)
SAVES, EDITS = 0.05, 0.25  # of all that is asked; the rest looks


class Browser:
    """Somebody at the bench: looks at pages, changes a row, saves now and then, one after the other."""

    def __init__(self, port: int, seed: int) -> None:
        self.connection = HTTPConnection("127.0.0.1", port, timeout=60)
        self.random = Random(seed)  # noqa: S311 - what is looked at next
        self.cookie = ""
        page = self.ask("GET", "/blends/new")
        found = TOKEN.search(page)
        self.token = found[1] if found else ""

    def ask(self, method: str, path: str, **form: str) -> str:
        """Ask for something; return the page."""
        headers = {"cookie": self.cookie, "content-type": FORM}
        self.connection.request(method, path, urlencode(form) if form else None, headers)
        answer = self.connection.getresponse()
        said = answer.read().decode("utf-8", "replace")
        self.cookie = (answer.headers.get("set-cookie") or self.cookie).split(";")[0]
        if answer.status >= 400:
            sys.exit(f"{answer.status} for {method} {path}: {said[:500]}")
        return said

    def next(self) -> None:
        """Do what comes next, over a connection of its own: one that rests for five seconds is closed."""
        self.connection.close()
        dice = self.random.random()
        if dice < SAVES:
            page = self.ask("GET", "/blends/new")
            found = TOKEN.search(page)
            self.ask("POST", "/blends", token=found[1] if found else "", name="Under load", new="30 g olive")
        elif dice < SAVES + EDITS:
            grams = self.random.randint(10, 90)
            self.ask("POST", "/sheet", token=self.token, new=f"{grams} g grapeseed\n20 g jojoba\n12 drops lavender")
        else:
            self.ask("GET", self.random.choice(LOOKED_AT))


def _look(browser: Browser, pause: float, until: float) -> list[float]:
    took = []
    while time.perf_counter() < until:
        time.sleep(browser.random.expovariate(1 / pause) if pause else 0.0)
        begun = time.perf_counter()
        browser.next()
        took.append(time.perf_counter() - begun)
    return took


def measure(port: int, connections: int, pause: float) -> tuple[int, float, float]:
    """How many requests were answered, and the median and the 95th percentile of what one took [ms].

    Each browser rests between two, for `pause` on average [s].
    """
    browsers = [Browser(port, seed) for seed in range(connections)]
    until = time.perf_counter() + LASTS
    with ThreadPoolExecutor(connections) as pool:
        took = sorted(each for one in pool.map(lambda browser: _look(browser, pause, until), browsers) for each in one)
    return len(took), 1000 * took[len(took) // 2], 1000 * took[int(0.95 * len(took))]


def walks(port: int) -> tuple[float, float]:
    """How long two people take for the same walk through the pages, one after the other and at once [s]."""
    browsers = [Browser(port, seed) for seed in (1, 2)]

    def walk(browser: Browser) -> None:
        for _ in range(WALK):
            browser.next()

    begun = time.perf_counter()
    for browser in browsers:
        walk(browser)
    between = time.perf_counter()
    with ThreadPoolExecutor(2) as pool:
        list(pool.map(walk, browsers))
    return between - begun, time.perf_counter() - between


@contextmanager
def serving(url: str, workers: int) -> Iterator[int]:
    """Serve a database from so many processes; yield the port."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port: int = free.getsockname()[1]
    settings = os.environ | {"UPTIDE_DATABASE": url, "UPTIDE_WORKERS": str(workers)}
    command = [sys.executable, "-m", "uptide.cli", "serve", "--port", str(port)]
    with subprocess.Popen(command, env=settings, stdout=subprocess.DEVNULL) as served:
        until = time.monotonic() + STARTS
        while time.monotonic() < until:
            with suppress(OSError):
                socket.create_connection(("127.0.0.1", port), 1).close()
                break
            time.sleep(0.1)
        try:
            yield port
        finally:
            served.send_signal(signal.SIGTERM)


def _report(what: str, url: str) -> None:
    for workers in (1, 2):
        with serving(url, workers) as port:
            measure(port, AT_ONCE, 0.0)  # what is worked out once, in each process
            after, at_once = walks(port)
            sys.stdout.write(
                f"{what:<10} {workers} process(es), two people with {WALK} pages each: {after:.1f} s one after the "
                f"other, {at_once:.1f} s at once\n"
            )
            alone = measure(port, 1, 0.0)
            for pause in PAUSES:
                many = measure(port, AT_ONCE, pause)
                sys.stdout.write(
                    f"{what:<10} {workers} process(es), pause {pause:.2f} s: alone {alone[1]:4.0f} / "
                    f"{alone[2]:4.0f} ms, {AT_ONCE} at once {many[1]:4.0f} / {many[2]:4.0f} ms "
                    f"({many[2] / alone[2]:.1f} times), {many[0] / LASTS:.0f} a second\n"
                )
                sys.stdout.flush()


def main(postgres: str = "") -> None:
    """Measure; with the address of a server also on a database of it."""
    with TemporaryDirectory() as folder:
        file = Path(folder) / "demo.db"
        make_demo(file)
        if postgres:
            _report("PostgreSQL", _on_server(file, postgres))
        _report("SQLite", f"sqlite:///{file}")


def _on_server(file: Path, postgres: str) -> str:
    """The demo workshop on a server, by way of an export."""
    from bench.postgres import Server

    server = Server(postgres)
    url = server.url_of(server.make())
    with Session(open_engine(f"sqlite:///{file}")) as store:
        export(store, file.with_suffix(".zip"), people=True)
    with Session(open_engine(url)) as store, store.begin():
        bring_in(store, plan_import(store, file.with_suffix(".zip")), take_differing=False)
    return url


if __name__ == "__main__":
    main(sys.argv[-1] if "--postgres" in sys.argv else "")
