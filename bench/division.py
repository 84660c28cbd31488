"""Which tests `make test` leaves to `make long`: those that take long and come by nothing that no other comes by.

    python -m bench.division FOLDER    runs every test once and writes tests/long.txt

What is measured is kept in the folder, and measured where it is not there: some twelve minutes on two cores.

What a test comes by are lines of the program; in a browser the characters of its scripts that are run, and the kinds
of elements (a tag with its classes) on a view that is looked at for everybody's sake. A test of which none of these is
measured is never left out, nor one that is marked “always”; what one comes by that goes by chance is not counted, since
tomorrow it may not. Also a plugin of pytest, which measures: UPTIDE_REACH says where to.
"""

from __future__ import annotations

import json
import os
import sqlite3
import subprocess
import sys
from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence, Set
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from itertools import groupby
from pathlib import Path
from time import monotonic
from warnings import catch_warnings

import numpy as np
import pytest
from bench.long import LISTED
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import csr_array

ASKED = "UPTIDE_REACH"
LONG = 0.02  # s of a processor while it is measured, half of it without; what takes less is not worth a line
HALF = 0.5  # of a yes or no that is worked out as a number
JOBS = {"pages": ["tests/web"], "rest": ["--ignore=tests/web", "--ignore=tests/browser"], "browser": ["tests/browser"]}
LINES = """select distinct context, path, tono from arc
    join context on context.id = context_id join file on file.id = file_id where tono > 0"""
KINDS = "[...new Set([...document.querySelectorAll('*')].map((each) => `${each.tagName} ${each.className}`))]"

Ranges = Sequence[tuple[int, int, int]]  # from, to, and how often: within each other, as the browser counts


def run_of(ranges: Ranges) -> set[int]:
    """The characters of a script that were run: the innermost range counts.

    >>> sorted(run_of([(0, 6, 1), (2, 4, 0)]))
    [0, 1, 4, 5]
    """
    ran = bytearray(max((end for _, end, _ in ranges), default=0))
    for start, end, times in sorted(ranges, key=lambda each: (each[0], -each[1])):
        ran[start:end] = bytes([times > 0]) * (end - start)
    return {at for at, has_run in enumerate(ran) if has_run}


def left_out(reach: Mapping[str, Set[int]], seconds: Mapping[str, float], least: float) -> set[str]:
    """The tests without which all that is reached still is, and that take most; none that takes less than `least` [s].

    >>> sorted(left_out({"a": {1, 2}, "b": {2}, "c": {1}}, {"a": 3.0, "b": 2.0, "c": 0.1}, least=0.2))
    ['a']
    """
    long = [test for test, took in seconds.items() if took >= least and reach.get(test)]
    reached = set().union(*(found for test, found in reach.items() if test not in set(long)))
    by: dict[int, list[int]] = defaultdict(list)
    for at, test in enumerate(long):
        for thing in reach[test] - reached:
            by[thing].append(at)
    alike = sorted({tuple(found) for found in by.values()})  # of what the same tests reach one stands for all
    covers = csr_array((len(alike), len(long)))
    if alike:
        rows = np.repeat(np.arange(len(alike)), [len(found) for found in alike])
        covers = csr_array((np.ones(len(rows)), (rows, np.concatenate(alike))), shape=covers.shape)
    cheapest = milp(
        [seconds[test] for test in long],
        constraints=LinearConstraint(covers, lb=1),
        integrality=np.ones(len(long)),
        bounds=Bounds(0, 1),
    )
    return {test for test, stays in zip(long, cheapest.x, strict=True) if stays < HALF}


def lines(out: set[str], tests: Iterable[str]) -> list[str]:
    """What stands in the list: the name alone of a test all cases of which are left out.

    >>> lines({"t::a[1]", "t::a[2]", "t::b[1]"}, ["t::a[1]", "t::a[2]", "t::b[1]", "t::b[2]"])
    ['t::a', 't::b[1]']
    """
    found = []
    for name, cases in groupby(sorted(tests, key=_name), key=_name):
        every = sorted(cases)
        found += [name] if out.issuperset(every) else [case for case in every if case in out]
    return found


def _name(test: str) -> str:
    return test.split("[")[0]


def _processor() -> float:
    return sum(os.times()[:4])


class Measure:
    """What each test takes, and what it comes by."""

    def __init__(self, path: str) -> None:
        from coverage import Coverage

        self.random = set[str]()
        self.path, self.seconds, self.shown = path, defaultdict[str, float](float), defaultdict[str, list[str]](list)
        self.coverage = Coverage(source=["uptide"], branch=True, data_file=f"{path}.lines", config_file=False)
        self.coverage.start()

    @pytest.hookimpl(wrapper=True)
    def pytest_runtest_protocol(self, item: pytest.Item) -> Iterator[None]:
        self.coverage.switch_context(item.nodeid)
        by_hand = {mark.name for mark in getattr(getattr(item, "obj", None), "pytestmark", ())}
        if item.get_closest_marker("hypothesis") or "long" in by_hand:
            self.random.add(item.nodeid)
        clock = monotonic if "browser" in item.path.parts else _processor  # Chromium is no child that is waited for
        began = clock()
        result = yield
        if "always" not in by_hand:
            self.seconds[item.nodeid] += clock() - began  # some tests are many under one name
        self.coverage.switch_context("")
        return result

    @pytest.fixture(autouse=True)
    def _in_browser(self, request: pytest.FixtureRequest) -> Iterator[None]:
        if "browser" not in request.node.path.parts:
            yield
        elif "audited" in request.fixturenames:
            page, _ = request.getfixturevalue("audited")
            yield
            self.shown[request.node.nodeid] += page.evaluate(KINDS)
        elif "page" in request.fixturenames:
            page = request.getfixturevalue("page")
            tools = page.context.new_cdp_session(page)
            tools.send("Profiler.enable")
            tools.send("Profiler.startPreciseCoverage", {"callCount": False, "detailed": True})
            yield
            for script in tools.send("Profiler.takePreciseCoverage")["result"]:
                name = script["url"].split("/static/")[-1].split("?")[0]
                if "/static/" not in script["url"] or name.startswith("vendor"):
                    continue
                found = [
                    (r["startOffset"], r["endOffset"], r["count"]) for f in script["functions"] for r in f["ranges"]
                ]
                self.shown[request.node.nodeid] += [f"{name} {at}" for at in run_of(found)]
        else:
            yield

    def pytest_unconfigure(self) -> None:
        self.coverage.stop()
        with catch_warnings(action="ignore"):  # of the data, which are of a test that is none
            self.coverage.save()
        Path(f"{self.path}.json").write_text(
            json.dumps([self.seconds, self.shown, sorted(self.random)]), encoding="utf-8"
        )


def pytest_load_initial_conftests(early_config: pytest.Config) -> None:
    early_config.pluginmanager.register(Measure(os.environ[ASKED]))


def _measured(path: Path, ids: dict[object, int]) -> tuple[dict[str, set[int]], dict[str, float], set[str]]:
    """What every test of a job comes by, as numbers, and its seconds; and those that go by chance."""
    reach: dict[str, set[int]] = defaultdict(set)
    seconds, shown, random = json.loads(path.with_suffix(".json").read_text(encoding="utf-8"))
    for test, things in shown.items():
        reach[test].update(ids.setdefault(each, len(ids)) for each in things)
    if path.name != "browser":  # its program runs in another process, and what it does there the pages' tests do too
        with closing(sqlite3.connect(path.with_suffix(".lines"))) as lines_of:
            for test, *line in lines_of.execute(LINES):
                reach[test].add(ids.setdefault(tuple(line), len(ids)))
    return reach, seconds, set(random)


def main(folder: Path) -> None:
    folder.mkdir(exist_ok=True)
    places = {folder / name: paths for name, paths in JOBS.items()}

    def measure(place: Path) -> None:
        if not place.with_suffix(".json").exists():
            measured = ["-q", "-p", "bench.division", "--hypothesis-seed=0"]
            command = [sys.executable, "-m", "pytest", *measured, *places[place]]
            if subprocess.run(command, env=os.environ | {ASKED: str(place)}, check=False).returncode:
                print(f"A test of {place.name} failed: what it would have come by is not counted.")

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(measure, places))
    reach, seconds, by_chance = dict[str, set[int]](), dict[str, float](), set[str]()
    ids: dict[object, int] = {}
    for place in places:
        more, took, random = _measured(place, ids)
        reach |= {f"{place.name} began" if test == "" else test: found for test, found in more.items()}
        seconds |= took
        by_chance |= random
    sure = {test: found for test, found in reach.items() if test not in by_chance}
    out = left_out(sure, seconds, LONG) | {test for test in by_chance if seconds.get(test, 0.0) >= LONG}
    lost = [what for what, each in ids.items() if all(each not in found for found in sure.values())]
    print(*(f"Reached by chance alone: {what}" for what in lost), sep="\n")
    LISTED.write_text("".join(f"{line}\n" for line in lines(out, seconds)), encoding="utf-8")
    rest = sum(took for test, took in seconds.items() if test not in out)
    print(f"{len(ids)} lines and the like; {len(out)} of {len(seconds)} tests add nothing to what the others reach.")
    print(f"They took {sum(seconds[test] for test in out):.0f} s of processor, measured, and the others {rest:.0f} s.")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
