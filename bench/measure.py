"""Measure what a person waits for; print it, and never fail: a timed test lies on a busy machine.

Run with `make bench`. Figures are the median and the 95th percentile in milliseconds; beside each stands that of the
last release, from last_release.csv, which `make bench KEEP=--keep` writes anew when one is made.
"""

from __future__ import annotations

import csv
import json
import math
import os
import socket
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import date, timedelta
from functools import cache, partial
from pathlib import Path
from urllib.parse import urlencode
from urllib.request import Request, urlopen

import numpy as np
import uvicorn
from bench.wishes import beside, finder
from playwright.sync_api import sync_playwright
from sqlalchemy.orm import Session

from uptide.catalogue.load import load_catalogue
from uptide.catalogue.shipped import DATA, shipped_catalogue
from uptide.cli.demo import make_demo
from uptide.core.assessment.assess import assess
from uptide.core.ingredients.certificate import Certificate
from uptide.core.ingredients.lot import Lot
from uptide.core.ingredients.own_oil import OwnOil
from uptide.core.keeping.storage_history import placed
from uptide.core.lipids.pasted import AcidAmount
from uptide.core.making.making_plan import MakingAsk, MakingPlan
from uptide.core.making.sizes import Amount, Containers
from uptide.core.measures.lines import parse_line
from uptide.core.oxidation.mixture import MixturePart, mix_oils
from uptide.core.oxidation.simulate import make_draws, simulate, standard_draws
from uptide.core.oxidation.surroundings import Glass, Storage
from uptide.core.physics.bottle import Container
from uptide.core.recipe.order import PourOrder
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.store.blends import create_blend, load_version
from uptide.store.database import open_engine
from uptide.store.migrating import migrate
from uptide.store.shelf import put_lots, save_own_oil
from uptide.web.app import NO_INSTRUMENTS, create_app, settle
from uptide.workshop.assessment import assess_here
from uptide.workshop.bottles import stamp
from uptide.workshop.instruments import Instruments
from uptide.workshop.making import freeze, lots_on_hand
from uptide.workshop.scale import practice_scale
from uptide.workshop.shelf import ShelfOfTheDay

LAST_RELEASE = Path(__file__).parent / "last_release.csv"
MEASURED: dict[str, float] = {}
TEN_ROWS = [
    "2 tbsp grapeseed", "1 tbsp jojoba", "1 tbsp rosehip", "1 fl oz olive", "2 tsp castor", "1 tsp argan",
    "2 droppers squalane", "10 to 15 drops lavender", "0.5% mixed tocopherols", "top up with camellia",
]  # fmt: skip
CHROMIUM = "/usr/bin/chromium-headless-shell"  # Debian's, without the parts that a window has
# Without a sandbox (it may run as root) and without any connection of the browser's own.
ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-dev-shm-usage",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip
IDLE_FOR = 10.0  # s
BATCHES, BOTTLES = 5_000, 12
PLACES = ("cool cupboard", "fridge", "bathroom")
OILS = tuple(enumerate(("olive", "jojoba", "argan", "avocado", "castor")))
PAUSE_MS = 200  # between edits, as between two thoughts: keys that follow one another are answered in one go
# From a key on a row to the next frame after the figures were swapped in, as the page itself sees it.
EDIT = """value => new Promise(done => {
  const form = document.getElementById("bench"), field = document.getElementById("typed-0");
  const start = performance.now();
  const painted = () => requestAnimationFrame(() => setTimeout(() => done(performance.now() - start)));
  form.addEventListener("uptide:painted", painted, { once: true });
  field.value = value; field.dispatchEvent(new Event("input", { bubbles: true }));
})"""


def last_release() -> dict[str, float]:
    """The median of each figure [ms] as the last release had it."""
    with LAST_RELEASE.open(encoding="utf-8", newline="") as file:
        return {row["figure"]: float(row["median_ms"]) for row in csv.DictReader(file)}


def show(name: str, times: list[float]) -> None:
    ordered = sorted(times)
    p95 = ordered[min(len(ordered) - 1, round(0.95 * len(ordered)))]
    median = MEASURED[name] = statistics.median(ordered)
    last = last_release().get(name)
    beside = f"last {last:7.1f} ms ({100 * (median / last - 1):+4.0f} %)" if last else "new"
    print(f"{name:58} median {median:7.1f} ms   p95 {p95:7.1f} ms   n {len(ordered):3}   {beside}")


def keep() -> None:
    """Keep what was measured as the figures of a release."""
    with LAST_RELEASE.open("w", encoding="utf-8", newline="") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow(["figure", "median_ms"])
        writer.writerows((name, f"{median:.1f}") for name, median in MEASURED.items())


def timed(work: Callable[[int], object], count: int) -> list[float]:
    times = []
    for turn in range(count):
        start = time.perf_counter()
        work(turn)
        times.append(1000 * (time.perf_counter() - start))
    return times


@cache
def _demo() -> bytes:
    """The demo workshop as a file: made once, whoever needs one of their own takes a copy."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "demo.db"
        make_demo(path)
        return path.read_bytes()


def copy_demo(path: Path) -> None:
    """Put the demo workshop there, as it is made afresh."""
    path.write_bytes(_demo())


@contextmanager
def running(prepare: Callable[[Path], object] = copy_demo, instruments: Instruments = NO_INSTRUMENTS) -> Iterator[str]:
    """The application on a fresh database of its own, the demo's unless told otherwise, at the address handed out."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "demo.db"
        prepare(path)
        listener = socket.socket()
        listener.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)  # as the program does, or answers wait 40 ms
        listener.bind(("127.0.0.1", 0))
        app = create_app(f"sqlite:///{path}", instruments=instruments)
        server = uvicorn.Server(uvicorn.Config(app, log_level="warning", timeout_graceful_shutdown=1))
        settle(app)
        thread = threading.Thread(target=server.run, kwargs={"sockets": [listener]}, daemon=True)
        thread.start()
        while not server.started:
            time.sleep(0.01)
        yield f"http://127.0.0.1:{listener.getsockname()[1]}"
        server.should_exit = True
        thread.join(5)
        listener.close()


@contextmanager
def served(prepare: Callable[[Path], object] = copy_demo) -> Iterator[str]:
    """The program as it is used, in a process of its own, on a fresh database: what asks takes nothing of its time."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "demo.db"
        prepare(path)
        port = _free_port()
        command = [sys.executable, "-m", "uptide.cli", "serve", "--port", str(port)]
        environment = {**os.environ, "UPTIDE_DATABASE": f"sqlite:///{path}"}
        with subprocess.Popen(command, env=environment, stdout=subprocess.DEVNULL) as program:
            while not _answers(port):
                time.sleep(0.01)
            yield f"http://127.0.0.1:{port}"
            program.terminate()


def _free_port() -> int:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return int(free.getsockname()[1])


def _answers(port: int) -> bool:
    with socket.socket() as asking:
        return asking.connect_ex(("127.0.0.1", port)) == 0


def one_bottle(months: int) -> float:
    """The same law for one bottle, step by step in plain Python: what the vectorised run is measured against."""
    kappa = induction = 0.0
    pv, fresh, limit, seed, ceiling, osi = 1.0, 1.0, 10.0, 1.0, 300.0, 4.2
    for month in range(months):
        kelvin = 290.15 + 4 * math.sin(month)
        induction = -math.log((fresh + seed) / (ceiling - fresh)) - 2 * (ceiling - seed) / (ceiling + seed)
        bend = (math.log(383.15 / 293.15) - math.log(kelvin / 293.15)) / math.log(383.15 / 293.15)
        kappa = induction / (osi * math.exp(8.2 * bend))
        k = kappa / (1 + seed / ceiling)
        lit = seed + 0.001 / k
        grown = math.expm1(min(k * (ceiling + lit) * 730.5 / ceiling, 60))
        pv += (pv + lit) * (ceiling - pv) * grown / ((ceiling - pv) + (pv + lit) * (1 + grown))
        pv = min(pv, 0.999 * ceiling)
    return pv / limit


def oxidation() -> None:
    oils = {key: item.oxidation for key, item in shipped_catalogue().ingredients.items() if item.oxidation}
    mixed = mix_oils([MixturePart(oils[key], 0.25) for key in ("sunflower", "rosehip", "jojoba", "mct")])
    draws = make_draws(np.random.default_rng(1), 4000)
    lit = placed(replace(Storage(), glass=Glass.CLEAR), "bathroom")
    seasons = replace(lit, celsius=(8.0, 9, 11, 13, 16, 19, 21, 21, 18, 14, 11, 9))
    dark = timed(lambda _: simulate(mixed, Storage(), draws), 30)
    light = timed(lambda _: simulate(mixed, seasons, draws), 30)
    scalar = timed(lambda _: [one_bottle(60) for _ in range(400)], 5)
    show("oxidation: 4,000 draws, 60 months, dark", dark)
    show("oxidation: 4,000 draws, 60 months, lit, by the season", light)
    show("oxidation: 400 bottles one by one, lit (a tenth of it)", scalar)
    ratio = 10 * statistics.median(scalar) / statistics.median(light)
    print(f"{'oxidation: vectorised against one by one':58} {ratio:.0f} times faster")


def start() -> None:
    """The whole way from a word at the terminal to an answer, with bytecode at hand and without any."""
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "start.db"
        make_demo(database)
        bytecode = {"at hand": Path(folder) / "bytecode", "none": Path(folder) / "empty"}
        # Where bytecode may be written, it is: so the first start below compiles what the later ones read.
        written = {**os.environ, "UPTIDE_DATABASE": f"sqlite:///{database}"}
        written.pop("PYTHONDONTWRITEBYTECODE", None)
        for state, place in bytecode.items():
            environment = {**written, "PYTHONPYCACHEPREFIX": str(place)}
            if state == "none":
                environment["PYTHONDONTWRITEBYTECODE"] = "1"
            else:
                _asked(environment)
                _first_page(environment)
            show(f"start: uptide ask, bytecode {state}", timed(lambda _, e=environment: _asked(e), 5))  # type: ignore[misc] # bound at once
            show(f"start: to the first page, bytecode {state}", timed(lambda _, e=environment: _first_page(e), 5))  # type: ignore[misc] # bound at once


def _asked(environment: dict[str, str]) -> None:
    command = [sys.executable, "-m", "uptide.cli", "ask", "lavender in 30 ml"]
    subprocess.run(command, env=environment, check=True, stdout=subprocess.DEVNULL)


def _first_page(environment: dict[str, str]) -> None:
    port = _free_port()
    command = [sys.executable, "-m", "uptide.cli", "serve", "--port", str(port)]
    with subprocess.Popen(command, env=environment, stdout=subprocess.DEVNULL) as program:
        while True:
            try:
                _get(f"http://127.0.0.1:{port}/", 0)
            except OSError:
                time.sleep(0.005)
            else:
                break
        program.terminate()


def core() -> None:
    catalogue = shipped_catalogue()

    def assess_ten(turn: int) -> object:
        entries = tuple(Entry(row) for row in [f"{2 + turn / 100:.2f} tbsp grapeseed", *TEN_ROWS[1:]])
        recipe = Recipe(entries, container=Container("bottle", 250))
        return assess(recipe, catalogue.ingredients, catalogue.names)

    def keep_ten(turn: int) -> object:
        entries = tuple(Entry(row) for row in [f"{2 + turn / 100:.2f} tbsp grapeseed", *TEN_ROWS[1:]])
        recipe = Recipe(entries, container=Container("bottle", 250))
        return assess(recipe, catalogue.ingredients, catalogue.names, draws=standard_draws())

    show("core: read one new line", timed(lambda turn: parse_line(f"{turn + 0.25} tbsp grapeseed"), 300))
    show("core: assess ten rows, one of them new", timed(assess_ten, 200))
    show("core: the same with how long it keeps, and its band", timed(keep_ten, 100))
    show("catalogue: load and check all tables", timed(lambda _: load_catalogue(DATA), 5))


def browser(base: str) -> None:
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        page = chromium.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{base}/blends/new")
        page.fill("#container_ml", "250")
        page.fill("#new", "\n".join(TEN_ROWS))
        page.press("#new", "Enter")
        page.wait_for_selector("#typed-9")
        page.wait_for_timeout(300)
        for turn in range(5):
            page.evaluate(EDIT, f"{turn + 1} tsp grapeseed")
        times = []
        for turn in range(120):
            page.wait_for_timeout(PAUSE_MS)
            times.append(float(page.evaluate(EDIT, f"{1 + turn / 20:.2f} tbsp grapeseed")))
        show("browser: from an edit to repainted figures, ten rows", times)
        chromium.close()


def pages(base: str) -> None:
    for path in ("/", "/blends/1", "/shelf"):
        show(f"server: {path}", timed(partial(_get, base + path), 100))
    show("server: ten rows that nobody looked at before", timed(lambda turn: _get(_ten(base, turn), turn), 100))


def _ten(base: str, turn: int) -> str:
    """The address of a sheet that is another at each turn: what was assessed once is not assessed again."""
    recipe = "\n".join((f"{2 + turn / 100:.2f} tbsp grapeseed", *TEN_ROWS[1:]))
    return f"{base}/blends/new?{urlencode({'recipe': recipe})}"


def full_shelf(path: Path) -> None:
    """A database with 120 oils and 500 lots, every fifth with a certificate."""
    url = f"sqlite:///{path}"
    migrate(url)
    engine = open_engine(url)
    items = shipped_catalogue().ingredients
    oils = [key for key, item in items.items() if item.is_fatty]
    acids = {"18:1n9": AcidAmount(70, 70, 70), "18:2n6": AcidAmount(20, 20, 20), "16:0": AcidAmount(10, 10, 10)}
    with Session(engine) as session, session.begin():
        for turn in range(120 - len(oils)):
            save_own_oil(session, OwnOil(f"Own oil {turn}", acids=acids), "")
        put_lots(
            session,
            [
                Lot(
                    f"L-{turn:03}",
                    oils[turn % len(oils)],
                    supplier="Harrow & Ness",
                    received_on=date(2026, 1 + turn % 9, 3),
                    opened_on=date(2026, 1 + turn % 9, 20),
                    best_before=date(2027, 1 + turn % 12, 1),
                    bought_g=1000,
                    left_g=400,
                    price=9.5,
                    currency="GBP",
                    place="store",
                    certificates=(Certificate(date(2026, 1, 2), acids, {"peroxide_value": 1.2}),)
                    * (turn % 5 == 0 and items[oils[turn % len(oils)]].lipid is not None),
                )
                for turn in range(500)
            ],
        )
    engine.dispose()


def shelf(base: str) -> None:
    for path in ("/shelf", "/shelf?q=no+nuts,+lighter+than+avocado", "/shelf/lots", "/shelf/chart", "/shelf/olive"):
        get = partial(_get, base + path)
        show(f"server: first {path}", timed(get, 1))
        show(f"server: {path}, 120 oils, 500 lots", timed(get, 100))


def busy_workshop(path: Path) -> None:
    """The same shelf with 100,000 movements in its ledger, and 5,000 batches with what happened to each."""
    full_shelf(path)
    engine = open_engine(f"sqlite:///{path}")
    with Session(engine) as session, session.begin():
        blend = create_blend(session, "Face oil", Recipe(tuple(Entry(f"{10 + row} g {oil}") for row, oil in OILS)))
        shelf = ShelfOfTheDay(shipped_catalogue()).of(session)
        recipe = assess_here(load_version(session, blend, 1).recipe, shelf.facts, session)
        density = recipe.resolution.total_grams / recipe.resolution.total_millilitres
        ask = MakingAsk(Amount((Containers(6, 100.0),), density), PourOrder.CARRIERS_FIRST, date(2026, 11, 27))
        plan = json.dumps(freeze(MakingPlan(ask, recipe, lots_on_hand(session, shelf))))
        write = session.connection().exec_driver_sql
        write(
            "INSERT INTO movement (lot_id, kind, mg, happened_on, entered_at, entered_by, reason, token) "
            "VALUES (?, ?, ?, '2026-11-27', '2026-11-27 10:00:00', '', 'bench', ?)",
            [(1 + n % 500, ("use", "return")[n // 500 % 2], (-5, 5)[n // 500 % 2], f"m{n}") for n in range(100_000)],
        )
        write(
            "INSERT INTO batch (number, blend_id, blend_version, planned_at, made_on, made_by, plan, state, holder) "
            "VALUES (?, ?, 1, '2026-11-27 10:00:00', '2026-11-27', 'Bo', ?, 'being weighed', '')",
            [(f"20261127-{n}", blend, plan) for n in range(1, BATCHES + 1)],
        )
        write(
            "INSERT INTO batch_entry (batch_id, seq, kind, position, ingredient, lot_id, mg, detail, happened_at, "
            "entered_by, token) VALUES (?, ?, 'pour', ?, 'olive', ?, 60000, '{\"how\": \"typed\"}', "
            "'2026-11-27 10:00:00', 'Bo', ?)",
            [
                (n, row + 1, row, _lot_of(n, row), f"p{n}-{row}")
                for n in range(1, BATCHES + 1)
                for row in range(len(OILS))
            ],
        )
        write(
            "INSERT INTO bottle (number, batch_id, place_in_batch, blend_id, blend_version, size_ml, fill_mg, "
            "filled_on, place, holder, state, made_on, ends_on, turns_on, limited_by, look, worked_by) VALUES "
            "(?, ?, ?, ?, 1, 30, 27500, ?, ?, ?, 'stands', ?, ?, ?, 'Argan oil', '', ?)",
            [
                (
                    f"20261127-{n}-{place}",
                    n,
                    place,
                    blend,
                    made := date(2025, 11, 1) + timedelta(days=n // 14),
                    PLACES[place % len(PLACES)],
                    "The guesthouse" if place % 6 == 0 else "",
                    made,
                    made + timedelta(days=300 + n % 90),
                    made + timedelta(days=500),
                    stamp(session),
                )
                for n in range(1, BATCHES + 1)
                for place in range(1, BOTTLES + 1)
            ],
        )
    engine.dispose()


def _lot_of(batch: int, row: int) -> int:
    """A few lots go into hundreds of batches each, the others into some."""
    return 1 + batch % 11 if row == 0 else 12 + (batch * 4 + row) % 488


def keeping(base: str) -> None:
    for path in (
        "/keeping",
        "/keeping?place=fridge&soon=true",
        "/keeping/trace?of=L-001",
        f"/making/20261127-{BATCHES}",
    ):
        get = partial(_get, base + path)
        show(f"server: first {path}, {BATCHES * BOTTLES:,} bottles", timed(get, 1))
        show(f"server: {path}, {BATCHES * BOTTLES:,} bottles", timed(get, 40))


def making(base: str) -> None:
    plan = "/blends/1/versions/1/make?bottles=6+x+100+ml"
    for path in ("/shelf/lots", plan, "/making", f"/making/20261127-{BATCHES}", f"/making/20261127-{BATCHES}/weigh"):
        get = partial(_get, base + path)
        show(f"server: first {path.split('?')[0]}, busy", timed(get, 1))
        show(f"server: {path.split('?')[0]}, 100,000 movements, {BATCHES:,} batches", timed(get, 60))


def _get(address: str, _: int) -> None:
    with urlopen(Request(address, headers={"Accept-Encoding": "gzip"})) as answer:  # noqa: S310 - our own address
        answer.read()


def idle_scale() -> None:
    """What a scale that nobody pours on takes of a core: the driver and the simulated scale together."""
    scale = practice_scale()
    scale.start()
    time.sleep(1.0)
    began, at = time.process_time(), time.monotonic()
    time.sleep(IDLE_FOR)
    used = (time.process_time() - began) / (time.monotonic() - at)
    scale.stop()
    print(f"{'an idle scale, driver and simulator together':58} {100 * used:.2f} % of a core")


def main() -> None:
    print(f"Python {sys.version.split()[0]}")
    start()
    core()
    oxidation()
    finder(show, timed)
    idle_scale()
    with served(full_shelf) as base:
        shelf(base)
    with served(busy_workshop) as base:
        making(base)
        keeping(base)
    with served() as base:
        beside(base, _get, show, timed)
        pages(base)
        browser(base)
    if "--keep" in sys.argv:
        keep()


if __name__ == "__main__":
    main()
