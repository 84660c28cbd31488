"""Try changes of the core that mutmut made: the tests are collected once, and each change is tried in a fork of that.

mutmut itself begins pytest anew for each change, and with it all imports: some two seconds, where a change that is
noticed is noticed in half of one. What is worked out while the tests are imported is worked out without the change.

    python -m bench.trying names.json tests.json     in mutants/: what to try, and which tests for which function
"""

from __future__ import annotations

import json
import os
import resource
import sys
import time
from collections.abc import Iterable, Iterator, Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

import pytest

ASKED = "MUTANT_UNDER_TEST"  # where mutmut's changed functions look which of them is asked for
SURVIVED, NOTICED, UNTESTED = 0, 1, 33  # how the tests of a change ended, in mutmut's numbers
PATIENCE, AT_LEAST = 6, 20  # times as long as its tests took without a change, and s of the processor in any case
SAVED_EVERY = 50  # changes


class Nearest(NamedTuple):
    """The tests of each function, and how long each takes."""

    of_function: Mapping[str, Sequence[str]]
    seconds: Mapping[str, float]

    @classmethod
    def read(cls, file: Path) -> Nearest:
        kept = json.loads(file.read_text(encoding="utf-8"))
        return cls(kept["tests_by_mangled_function_name"], kept["duration_by_test"])

    def of(self, change: str) -> list[str]:
        """The tests of a change, the shortest first."""
        return sorted(self.of_function.get(function_of(change), ()), key=lambda test: self.seconds[test])


def function_of(change: str) -> str:
    """The function that is changed, as mutmut names it."""
    return change.partition("__mutmut_")[0]


class Forks:
    """A plugin of pytest: in place of running what was collected, tries each change in a process of its own."""

    def __init__(self, changes: Sequence[str], nearest: Nearest, *, at_once: int) -> None:
        self.changes, self.nearest, self.at_once = changes, nearest, at_once
        self._running: dict[int, str] = {}

    def pytest_runtestloop(self, session: pytest.Session) -> bool:
        """Save how each change ended beside mutmut's own record of it."""
        began, ended = time.monotonic(), dict[str, int]()
        for change, code in self._tried({item.nodeid: item for item in session.items}):
            ended[change] = code
            if len(ended) % SAVED_EVERY == 0 or len(ended) == len(self.changes):
                save(ended)
                a_second = len(ended) / (time.monotonic() - began)
                sys.stderr.write(f"{len(ended)} of {len(self.changes)} changes tried, {a_second:.1f} a second\n")
        return True

    def _tried(self, items: Mapping[str, pytest.Item]) -> Iterator[tuple[str, int]]:
        """Each change and how its tests ended, as they end."""
        for change in self.changes:
            tests = [items[test] for test in self.nearest.of(change) if test in items]
            if not tests:
                yield change, UNTESTED
                continue
            if len(self._running) >= self.at_once:
                yield self._next_to_end()
            child = os.fork()
            if child == 0:
                _try(change, tests, seconds=sum(self.nearest.seconds[test.nodeid] for test in tests))
            self._running[child] = change
        while self._running:
            yield self._next_to_end()

    def _next_to_end(self) -> tuple[str, int]:
        child, status = os.wait()
        return self._running.pop(child), os.waitstatus_to_exitcode(status)


def _try(change: str, tests: Sequence[pytest.Item], *, seconds: float) -> None:
    """Run the tests of a change until one fails, and end this process with how that went."""
    code = NOTICED
    try:
        limit = AT_LEAST + int(PATIENCE * seconds)
        resource.setrlimit(resource.RLIMIT_CPU, (limit, limit))
        os.environ[ASKED] = change
        session = tests[0].session
        for item, after in zip(tests, [*tests[1:], None], strict=True):
            item.config.hook.pytest_runtest_protocol(item=item, nextitem=after)
            if session.testsfailed:
                break
        else:
            code = SURVIVED
    finally:  # whatever else happens, this process must not go on as if it were the first
        os._exit(code)


def save(ended: Mapping[str, int]) -> None:
    """Write how changes ended into mutmut's record of each file."""
    for record in records():
        kept = json.loads(record.read_text(encoding="utf-8"))
        codes: dict[str, int | None] = kept["exit_code_by_key"]
        if new := {change: ended[change] for change in codes.keys() & ended.keys()}:
            codes.update(new)
            record.write_text(json.dumps(kept, indent=4), encoding="utf-8")


def records() -> Iterable[Path]:
    """mutmut's record of each changed file, seen from mutants/."""
    return sorted(Path("src").rglob("*.meta"))


def main() -> None:
    """Collect the tests that pyproject.toml names for mutmut, and try what is asked."""
    asked, tests, *options = sys.argv[1:]
    changes = json.loads(Path(asked).read_text(encoding="utf-8"))
    forks = Forks(changes, Nearest.read(Path(tests)), at_once=os.cpu_count() or 1)
    # Nobody reads how a test failed: nothing is compared for the eye, nothing printed.
    pytest.main(["--rootdir=.", "--assert=plain", "-p", "no:terminal", *options], plugins=[forks])


if __name__ == "__main__":
    main()
