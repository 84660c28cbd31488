"""Try changes of the core that mutmut made: the tests are collected once, and each change is tried in a fork of that.

mutmut itself begins pytest anew for each change, and with it all imports: some two seconds, where a change that is
noticed is noticed in half of one. What is worked out while the tests are imported is worked out without the change.

    python -m bench.trying names.json tests.json     in mutants/: what to try, and which tests for which function
"""

from __future__ import annotations

import json
import os
import sys
import time
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

import pytest
from bench.forks import in_forks

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


class Trying:
    """A plugin of pytest: in place of running what was collected, tries each change in a process of its own."""

    def __init__(self, changes: Sequence[str], nearest: Nearest) -> None:
        self.changes, self.nearest = changes, nearest

    def pytest_runtestloop(self, session: pytest.Session) -> bool:
        """Save how each change ended beside mutmut's own record of it."""
        began, ended = time.monotonic(), dict[str, int]()
        items = {item.nodeid: item for item in session.items}
        tests = {change: [items[name] for name in self.nearest.of(change) if name in items] for change in self.changes}

        def seconds_for(change: str) -> float:
            return AT_LEAST + PATIENCE * sum(self.nearest.seconds[item.nodeid] for item in tests[change])

        tried = in_forks(self.changes, lambda change: _try(change, tests[change]), seconds_for=seconds_for)
        for change, code in tried:
            ended[change] = code
            if len(ended) % SAVED_EVERY == 0 or len(ended) == len(self.changes):
                save(ended)
                a_second = len(ended) / (time.monotonic() - began)
                sys.stderr.write(f"{len(ended)} of {len(self.changes)} changes tried, {a_second:.1f} a second\n")
        return True


def _try(change: str, tests: Sequence[pytest.Item]) -> int:
    """Run the tests of a change until one fails, and say how that went."""
    if not tests:
        return UNTESTED
    os.environ[ASKED] = change
    for item, after in zip(tests, [*tests[1:], None], strict=True):
        item.config.hook.pytest_runtest_protocol(item=item, nextitem=after)
        if item.session.testsfailed:
            return NOTICED
    return SURVIVED


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
    trying = Trying(changes, Nearest.read(Path(tests)))
    # Nobody reads how a test failed: nothing is compared for the eye, nothing printed.
    pytest.main(["--rootdir=.", "--assert=plain", "-p", "no:terminal", *options], plugins=[trying])


if __name__ == "__main__":
    main()
