"""Hold what the application answers against another revision: every figure, and every word of every page.

Run with `make same`, or `make same AGAINST=revision`. Both run as their own program on the demo workshop and are asked
over HTTP alone, so that nothing of their insides can stand in the way of comparing them.
"""

from __future__ import annotations

import csv
import json
import os
import random
import re
import socket
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from difflib import unified_diff
from html.parser import HTMLParser
from pathlib import Path
from urllib.error import HTTPError, URLError
from urllib.parse import quote
from urllib.request import Request, urlopen

HERE = Path(__file__).parents[1]
RECIPES, PAGES = 300, 40  # random recipes that are assessed, and how many of them are looked at on the bench
SHOWN = 12  # differing lines that are printed of each page
CLOSE = 1e-9  # relative: a sum in another order is the same sum
DRAWN = 0.11  # user units: a line of a picture that is written to a tenth stands where it stood
PRODUCTS = ("body-oil", "facial-oil", "bath-oil-floating", "cleansing-oil", "massage-oil", "roller-bottle", "balm")
AMOUNTS = ("{} g", "{} ml", "{} tsp", "{} tbsp", "{} parts", "{} %", "{} fl oz", "about {} g")
ASKED = (
    "2 tbsp grapeseed, 1 tbsp jojoba, 12 drops lavender", "bergamot in 30 ml", "2% of 30 ml in drops",
    "rosehip for oily skin", "is peppermint ok in pregnancy", "lavender in 1 oz for Ines", "1 oz in ml",
)  # fmt: skip
SEARCHED = (
    "no nuts, lighter than avocado", "linoleic over 50", "keeps longer than argan", "like jojoba", "butters",
    "clog under 2, no nuts", "for oily skin",
)  # fmt: skip
# What of a tag is seen or drawn; all else may change its name.
SEEN = frozenset({
    "aria-label", "cx", "cy", "d", "fill", "height", "points", "r", "rx", "ry", "title", "transform", "value", "width",
    "x", "x1", "x2", "y", "y1", "y2",
})  # fmt: skip
INLINE = frozenset({"a", "abbr", "b", "cite", "code", "em", "i", "kbd", "output", "s", "small", "span", "strong",
                    "sub", "sup", "time", "tspan", "var"})  # fmt: skip
CLOCK = re.compile(r"\b\d\d:\d\d UTC")
Answers = dict[str, list[str]]
# What was renamed on purpose since the revision that is compared: the older words are read as the newer ones.
RENAMED = {
    r'"clears":': '"remedy":',
    r"clog_by_worst": "comedogenicity_by_worst",
    r"sum_of_sun_ratios": "sum_of_phototoxic_ratios",
    r"clog_risk": "comedogenicity",
    r'"key": "glide"': '"key": "slip"',
    r"sun_ratio": "phototoxicity",
    r"solid_fat_22c": "solid_fat_content_22c",
    r"^Clog risk(?= <|$)|(?<==)Clog risk": "Comedogenicity (clog risk)",
    r"^Glide(?= <|$)|(?<==)Glide": "Slip (glide)",
    r"^Set and cloud(?= <|$)|(?<==)Set and cloud": "Solid fat (set and cloud)",
    r"^Sun(?= <)|(?<==)Sun(?=>)": "Phototoxicity (sun)",
    r"^Wall$": "Container material",
    r"^Clears it:": "Remedy:",
    r"^What clears it, and why$": "Remedy (what clears it), and why",
    r"^Make it over$": "Reformulate (make it over)",
    r"^Head room, %$": "Headspace (air above), %",
}


class Seen(HTMLParser):
    """What a person sees of a page, a line for each block: words, drawn figures and what stands in fields."""

    def __init__(self) -> None:
        super().__init__()
        self.lines: list[str] = []
        self._line = ""
        self._silent = 0

    def _end_line(self) -> None:
        words = CLOCK.sub("now", " ".join(self._line.split()))
        if words:
            self.lines.append(words)
        self._line = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag in ("script", "style"):
            self._silent += 1
        if tag not in INLINE:
            self._end_line()
        known = {**({"x": "0", "y": "0"} if tag == "rect" else {}), **dict(attrs)}
        if known.get("name") in ("token", "sent") or tag in ("meta", "link"):
            return
        drawn = [f"{k}={v}" for k, v in sorted(known.items()) if k in SEEN and not (tag == "button" and k == "value")]
        if drawn:
            self._line += f" <{tag} {' '.join(drawn)}> "
            if tag not in INLINE:
                self._end_line()

    def handle_endtag(self, tag: str) -> None:
        if tag in ("script", "style"):
            self._silent -= 1
        if tag not in INLINE:
            self._end_line()

    def handle_data(self, data: str) -> None:
        if not self._silent:
            self._line += data


@contextmanager
def running(source: Path) -> Iterator[str]:
    """The demo of the application in this folder, as a program of its own; hands out its address."""
    with tempfile.TemporaryDirectory() as data, socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
        free.close()
        environment = {**os.environ, "PYTHONPATH": str(source / "src"), "XDG_DATA_HOME": data}
        command = [sys.executable, "-m", "uptide.cli", "demo", "--port", str(port)]
        with subprocess.Popen(command, env=environment, stdout=subprocess.DEVNULL, cwd=data) as program:
            address = f"http://127.0.0.1:{port}"
            try:
                _wait_for(address)
                yield address
            finally:
                program.terminate()


def _wait_for(address: str) -> None:
    for _ in range(600):
        try:
            _get(address, "/blends")
        except (URLError, ConnectionError):
            time.sleep(0.1)
        else:
            return
    raise SystemExit(f"Nothing answered at {address} within a minute.")


def _get(address: str, path: str) -> str:
    try:
        with urlopen(address + path) as answer:  # noqa: S310 - our own address
            return str(answer.read().decode())
    except HTTPError as error:
        return f"{error.code} {error.read().decode()}"


def _page(address: str, path: str) -> list[str]:
    seen = Seen()
    seen.feed(_get(address, path))
    return seen.lines


def recipes(names: list[str], scents: list[str]) -> list[dict[str, object]]:
    """Random recipes as the API takes them, the same at every run: one to eight rows, for anyone or a card."""
    chance = random.Random(11)  # noqa: S311 - recipes, not secrets
    made: list[dict[str, object]] = []
    for _ in range(RECIPES):
        unit = chance.choice(AMOUNTS)
        rows = [
            f"{unit if chance.random() < 0.8 else '{} g'} {name}".format(chance.choice((0.5, 1, 2, 5, 12.5, 20, 33)))
            for name in chance.sample(names, chance.randint(1, 8))
        ]
        rows += [f"{chance.randint(1, 15)} drops {name}" for name in chance.sample(scents, chance.randint(0, 2))]
        body: dict[str, object] = {"recipe": "\n".join(rows), "product": chance.choice(PRODUCTS)}
        if chance.random() < 0.5:
            body["wearer"] = chance.randint(1, 4)
        if chance.random() < 0.5:
            body["storage"] = {"place": chance.choice(("fridge", "bathroom", "cool cupboard"))}
        if chance.random() < 0.3:
            body["container"] = {"kind": "bottle", "size_ml": chance.choice((30, 100, 250))}
        made.append(body)
    return made


def figures(address: str, bodies: list[dict[str, object]]) -> Answers:
    """What the API says of each recipe: its rows, its figures and its cautions, a line each."""
    found: Answers = {}
    for number, body in enumerate(bodies):
        request = Request(f"{address}/api/assess", json.dumps(body).encode(), {"content-type": "application/json"})  # noqa: S310
        try:
            with urlopen(request) as answer:  # noqa: S310
                said = json.loads(answer.read())
        except HTTPError as error:
            found[f"recipe {number}"] = [f"{error.code} {error.read().decode()}"]
            continue
        found[f"recipe {number}"] = [
            f"{kind} {json.dumps(each, ensure_ascii=False, sort_keys=True)}"
            for kind, several in sorted(said.items())
            for each in (several if isinstance(several, list) else [several])
        ]
    return found


def pages(address: str, bodies: list[dict[str, object]], oils: list[str]) -> Answers:
    """What is seen of every page of the demo workshop, and of the bench for some of the random recipes."""
    paths = [
        "/", "/blends", "/blends/new", "/shelf", "/shelf/lots", "/shelf/lots/new", "/shelf/chart", "/shelf/own",
        "/people", "/people/new", "/measures", "/api/docs",
    ]  # fmt: skip
    paths += [f"/shelf/{oil}" for oil in oils]
    paths += [f"/shelf?q={quote(words)}" for words in SEARCHED]
    paths += [f"/quick?q={quote(words)}" for words in ASKED]
    lots = sorted(set(re.findall(r'href="(/shelf/lots/[^"?#/]+)"', _get(address, "/shelf/lots"))))
    people = sorted(set(re.findall(r'href="(/people/\d+)"', _get(address, "/people"))))
    paths += [*lots, *people, "/shelf/compare?oil=olive&oil=argan&oil=jojoba"]
    for blend in re.findall(r'href="(/blends/\d+)"', _get(address, "/blends")):
        paths += [blend, f"{blend}/versions/1/batch-sheet?bottles=3", f"{blend}/versions/1/label", f"{blend}/compare"]
    for body in bodies[:PAGES]:
        asked = f"recipe={quote(str(body['recipe']))}&product={body['product']}&wearer={body.get('wearer', '')}"
        paths.append(f"/blends/new?{asked}")
    return {path: _page(address, path) for path in dict.fromkeys(paths)}


def collect(source: Path, bodies: list[dict[str, object]], oils: list[str]) -> tuple[Answers, Answers]:
    with running(source) as address:
        return figures(address, bodies), pages(address, bodies, oils)


NUMBER = re.compile(r"-?\d+(?:\.\d+)?(?:e-?\d+)?")


def alike(before: str, after: str) -> bool:
    """Whether two lines say the same; numbers as near as the order of a sum leaves them are the same."""
    if before == after:
        return True
    if NUMBER.sub("#", before) != NUMBER.sub("#", after):
        return False
    pairs = zip(NUMBER.findall(before), NUMBER.findall(after), strict=True)
    least = DRAWN if before.startswith("<") else 1e-12
    return all(abs(float(a) - float(b)) <= max(least, CLOSE * max(abs(float(a)), abs(float(b)))) for a, b in pairs)


def renamed(answers: Answers) -> Answers:
    """The same answers in the words of today; of figures, the order of the keys does not count."""
    found: Answers = {}
    for place, lines in answers.items():
        said = lines
        for before, after in RENAMED.items():
            said = [re.sub(before, after, line) for line in said]
        found[place] = sorted(map(_in_order, said)) if place.startswith("recipe ") else said
    return found


def _in_order(line: str) -> str:
    kind, _, answer = line.partition(" ")
    return f"{kind} {json.dumps(json.loads(answer), ensure_ascii=False, sort_keys=True)}"


def _differing(old: list[str], new: list[str]) -> Iterator[str]:
    if len(old) == len(new):
        for before, after in zip(old, new, strict=True):
            if not alike(before, after):
                yield from (f"-{before}", f"+{after}")
        return
    for line in unified_diff(old, new, n=0, lineterm=""):
        if not line.startswith(("---", "+++", "@@")):
            yield line


def report(title: str, before: Answers, after: Answers, *, shown: int) -> int:
    """Print what differs, and return in how many places."""
    lines = sum(map(len, before.values()))
    apart: Counter[str] = Counter()
    told = 0
    for place in {**before, **after}:
        old, new = before.get(place, []), after.get(place, [])
        if len(old) == len(new) and all(map(alike, old, new)):
            continue
        differing = list(_differing(old, new))
        apart[place] = len(differing)
        told += 1
        if told <= shown:
            print(f"{place}: {len(differing)} lines")
            print("".join(f"  {line[:300]}\n" for line in differing[:SHOWN]), end="")
    said = "identical" if not apart else f"{len(apart)} differ, in {sum(apart.values())} lines"
    print(f"{title}: {len(before)} held against each other, {lines} lines: {said}")
    return len(apart)


def main() -> None:
    against = sys.argv[1] if len(sys.argv) > 1 else "HEAD"
    with (HERE / "src/uptide/catalogue/data/ingredients.csv").open(encoding="utf-8") as file:
        rows = list(csv.DictReader(file))
    scented = ("essential_oil", "absolute", "co2_extract", "resinoid")
    names = [row["name"] for row in rows if row["kind"] not in scented]
    scents = [row["name"] for row in rows if row["kind"] in scented]
    bodies, oils = recipes(names, scents), [row["key"] for row in rows]
    with tempfile.TemporaryDirectory() as folder:
        base = Path(folder) / "base"
        subprocess.run(["git", "worktree", "add", "--quiet", "--detach", str(base), against], check=True, cwd=HERE)  # noqa: S607
        try:
            with ThreadPoolExecutor() as both:
                before, after = both.map(lambda source: collect(source, bodies, oils), (base, HERE))
        finally:
            subprocess.run(["git", "worktree", "remove", "--force", str(base)], check=True, cwd=HERE)  # noqa: S607
    kinds = zip(("figures", "pages"), before, after, strict=True)
    apart = [report(kind, renamed(old), renamed(new), shown=25) for kind, old, new in kinds]
    sys.exit(1 if any(apart) else 0)


if __name__ == "__main__":
    main()
