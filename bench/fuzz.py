"""Ask everything of the application with odd words, as a hostile user would: nothing breaks, and nothing takes long.

make fuzz prints what broke. Requests go to the demo workshop, with tokens that are valid, so that forms are acted on.
"""

from __future__ import annotations

import gc
import re
import resource
import sys
import time
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from random import Random
from tempfile import TemporaryDirectory
from typing import Any

from fastapi.sse import EventSourceResponse
from fastapi.testclient import TestClient

from uptide.cli.demo import make_demo
from uptide.web.app import create_app

REQUESTS, SLOW, SEED = 10_000, 2.0, 17  # s
WARM = 10  # the part of all requests after which memory is looked at
ODD = (
    "",
    " ",
    "0",
    "-1",
    "1",
    "2",
    "5",
    "3.5",
    "12,5",
    "1e999",
    "-1e-9",
    "nan",
    "inf",
    "²",
    "９",
    "9" * 400,
    "1" * 19,
    "\x00",
    "\x1b[2J",
    "\u202e",
    "💧",
    "é" * 50,
    "<script>alert(1)</script>",
    "'; DROP TABLE blend; --",
    "=1+1",
    "../../etc",
    "%00",
    "{{7*7}}",
    "[]",
    "{}",
    "null",
    "true",
    "false",
    "on",
    "yes",
    "no",
    "2026-11-27",
    "0000-00-00",
    "9999-12-31",
    "1900-01-01",
    "2026-11-27T10:00",
    "jojoba",
    "olive oil",
    "lot:SR-0448",
    "SR-0448",
    "SR-J1",
    "own:rock-samphire-seed-oil",
    "lavender",
    "st-johns-wort",
    "body-oil",
    "facial-oil",
    "grams",
    "spoons",
    "2 tbsp grapeseed",
    "12 drops lavender",
    "500 ml",
    "10 %",
    "top up with squalane",
    "Ines",
    "for Ines",
    "20261120-1",
    "20261120-1-1",
    "bathroom",
    "fridge",
    "moved",
    "strip",
    "smell",
    "used",
    "thrown out",
    "Oleic acid 60\nLinoleic acid 40",
    "linoleic over 50, no nuts",
    "a" * 30_000,
    "1 ml jojoba\n" * 300,
    "\n" * 500,
    "," * 2000,
    "(" * 500,
)
HIDDEN = re.compile(r'name="token" value="([^"]+)"')


@dataclass
class Found:
    """What came of it: how many answers of each status, what broke, what took long, and the memory it took [MB]."""

    statuses: Counter[int] = field(default_factory=Counter)
    broken: list[str] = field(default_factory=list)
    slow: list[str] = field(default_factory=list)
    before: float = 0.0
    after: float = 0.0


def _routes(app: Any) -> list[Any]:
    # What sends events goes on until one leaves.
    return [each for room in app.state.rooms for each in room.routes if each.response_class is not EventSourceResponse]


def _names(route: Any) -> tuple[list[str], list[str]]:
    """The names that a route reads from its address and from a form."""
    query: list[str] = []
    for parameter in route.dependant.query_params:
        fields = getattr(parameter.field_info.annotation, "model_fields", None)
        query += list(fields) if fields else [parameter.alias]
    form: list[str] = []
    for parameter in route.dependant.body_params:
        fields = getattr(parameter.field_info.annotation, "model_fields", None)
        form += list(fields) if fields else [parameter.alias]
    return query, form


def _paths(route: Any, random: Random) -> str:
    """An address of a route: often of what there is."""
    usual = {"number": ("1", "2", "20261120-1", "20261126-1"), "code": ("SR-0448", "SR-J1"), "key": ("olive", "jojoba")}
    path = str(route.path)
    for name in re.findall(r"\{(\w+)", path):
        there = usual.get(name, ("1", "2", "3"))
        value = random.choice(there) if random.random() < 0.8 else random.choice(ODD)
        value = re.sub(r"[/?#\s\x00-\x1f]", "-", value)[:200] or "-"
        before, _, after = path.partition(f"{{{name}")
        path = before + value + after.partition("}")[2]
    return path


def _values(names: list[str], random: Random) -> Iterator[tuple[str, str]]:
    for name in names:
        if random.random() < 0.6:
            yield name, random.choice(ODD)
            if random.random() < 0.05:
                yield name, random.choice(ODD)


def fuzz(requests: int, seed: int = SEED) -> Found:
    """Ask so many times; the same seed asks the same.

    A tenth of it is asked before memory is looked at: what is made once is made then.
    """
    random, found = Random(seed), Found()  # noqa: S311 - which words are tried
    with TemporaryDirectory() as folder:
        make_demo(Path(folder) / "demo.db")
        app = create_app(f"sqlite:///{Path(folder) / 'demo.db'}", ("testserver",))
        routes = _routes(app)
        with TestClient(app, raise_server_exceptions=False) as client:
            for number in range(requests):
                if number == requests // WARM:
                    found.before = _resident()
                _ask(client, random.choice(routes), random, found)
            found.after = _resident()
    return found


def _ask(client: TestClient, route: Any, random: Random, found: Found) -> None:
    query, form = _names(route)
    path = _paths(route, random)
    asked: dict[str, list[str]] = {}
    for name, value in _values(query, random):
        asked.setdefault(name, []).append(value)
    method = random.choice(sorted(route.methods - {"HEAD", "OPTIONS"}))
    more: dict[str, Any] = {}
    if method == "POST" and path.startswith("/api/"):
        more["json"] = {name: random.choice((*ODD, 1, -1, None, [], {}, True, 1.5)) for name in form[:6]}
    elif method == "POST":
        token = HIDDEN.search(client.get("/measures").text)
        sent: dict[str, list[str]] = {"token": [token[1] if token and random.random() < 0.9 else "x"]}
        for name, value in _values([name for name in form if name != "token"], random):
            sent.setdefault(name, []).append(value)
        more["data"] = sent
    begun = time.perf_counter()
    said = f"{method} {path} {asked!r:.200} {more!r:.600}"
    try:
        answer = client.request(method, path, params=asked, follow_redirects=False, **more)
    except Exception as error:  # noqa: BLE001 - whatever it is, it is what was looked for
        if "URL" not in type(error).__name__ and "url" not in str(error).lower():
            found.broken.append(f"{type(error).__name__}: {error}: {said}")
        return
    took = time.perf_counter() - begun
    found.statuses[answer.status_code] += 1
    if answer.status_code >= 500 and answer.status_code != 503:
        found.broken.append(f"{answer.status_code}: {said}")
    if took > SLOW:
        found.slow.append(f"{took:.1f} s: {said}")


def _resident() -> float:
    """What this process holds of memory now [MB]."""
    gc.collect()
    pages = int(Path("/proc/self/statm").read_text(encoding="ascii").split()[1])
    return pages * resource.getpagesize() / 1e6


def main(requests: int = REQUESTS) -> int:
    """Ask, print what broke and what was slow; return 1 where anything was."""
    begun = time.perf_counter()
    found = fuzz(requests)
    took = time.perf_counter() - begun
    counts = ", ".join(f"{status}: {count}" for status, count in sorted(found.statuses.items()))
    sys.stdout.write(f"{requests} requests in {took:.0f} s; answers {counts}\n")
    sys.stdout.write(f"memory {found.before:.0f} MB after the first tenth, {found.after:.0f} MB after all\n")
    for line in (*found.broken, *found.slow):
        sys.stdout.write(f"{line}\n")
    return 1 if found.broken or found.slow else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else REQUESTS))
