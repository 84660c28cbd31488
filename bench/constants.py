"""Every number that has a name, moved by a tenth: some test must go red.

`make constants` moves those of the packages named (PACKAGES="lipids physics"), one after the other, each in a fork of a
process that has imported all but the program, and prints which nobody notices. `NAMES="WAXED LATE"` moves these alone.

Where `make mutants` left which tests run which function, the quickest of those that name a number are asked first.
"""

from __future__ import annotations

import argparse
import ast
import sys
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import hypothesis
import lark
import pydantic
import pytest
import scipy.optimize
import scipy.spatial
import sqlalchemy.orm
from bench.forks import in_forks
from bench.moved import move
from bench.trying import Nearest
from bench.users import Users, assigned, module_of

IMPORTED = (hypothesis, lark, pydantic, scipy, sqlalchemy)  # here once, in place of in each fork

CORE = Path(__file__).parent.parent / "src" / "uptide" / "core"
TESTS = Path("tests") / "core"
WHOLE = TESTS / "said"
ELSEWHERE = ("tests/reference", "src/uptide/core")
PACKAGES = ("lipids", "physics", "oxidation", "measures", "safety", "keeping")
PATIENCE = 900.0  # s for the tests of one
KNOWN = Path("mutants") / "mutmut-stats.json"  # which tests run which function
FIRST_S = 5.0  # of the tests that are asked first, as long as they took
SAID_EVERY = 20  # numbers
COUNTED = (0, 1, 2)  # numbers of things: no measures
GOOD = pytest.ExitCode.OK
NOT_RUN = (pytest.ExitCode.INTERNAL_ERROR, pytest.ExitCode.NO_TESTS_COLLECTED)
UNKNOWN = pytest.ExitCode.USAGE_ERROR  # a test that is called otherwise now, or a number that nothing can be read with


@dataclass(frozen=True, slots=True)
class Number:
    """A number with a name: where it stands, and what it is."""

    module: str
    name: str
    line: int
    column: int
    value: float

    @property
    def package(self) -> str:
        return self.module.split(".")[2]


def numbers_of(path: Path) -> Iterator[Number]:
    """The numbers of a file's constants; what is counted (whole numbers up to two) is no measure."""
    module = module_of(path, CORE)
    for names, value in assigned(ast.parse(path.read_text(encoding="utf-8")).body):
        name = ", ".join(names)
        if name != name.upper():
            continue
        for node in ast.walk(value):
            if not isinstance(node, ast.Constant) or isinstance(node.value, bool):
                continue
            if isinstance(node.value, int | float) and node.value not in COUNTED:
                yield Number(module, name, node.lineno, node.col_offset, float(node.value))


def tests_of(number: Number) -> tuple[list[str], list[str]]:
    """The tests of its package and whole results, which notice most; and those of all others."""
    first = [path for path in (TESTS / number.package, WHOLE) if path.exists()]
    others = [
        path for path in sorted(TESTS.iterdir()) if path not in first and path.is_dir() and any(path.glob("*.py"))
    ]
    return [str(path) for path in first], [*ELSEWHERE, *map(str, others)]


class Trial:
    """Moves numbers, and asks the tests that are likeliest to notice first.

    Args:
        known: which tests run which function, as `make mutants` left it; where there is no such file, nothing.
        is_near: whether the tests of a number's own package and whole results are all that is asked.
    """

    def __init__(self, known: Path, *, is_near: bool = False) -> None:
        self._is_near = is_near
        self._users = Users.read(CORE)
        self._nearest = Nearest.read(known) if known.exists() else Nearest({}, {})

    def first(self, number: Number) -> list[str]:
        """The quickest tests of the functions that name a number, as far as they are still there."""
        functions = {function for name in number.name.split(", ") for function in self._users.of(number.module, name)}
        tests = {test for function in functions for test in self._nearest.of(function)}
        found, took = [], 0.0
        for test in sorted(tests, key=lambda each: self._nearest.seconds[each]):
            took += self._nearest.seconds[test]
            if took > FIRST_S:
                break
            if Path(test.partition("::")[0]).exists():
                found.append(test)
        return found

    def unmoved(self, number: Number) -> int:
        """How pytest ends where no number is more than it is."""
        return self._whole(number)

    def notices(self, number: Number) -> int:
        """How pytest ends where a number is more, in this process: GOOD where no test goes red."""
        move(number.module, line=number.line, column=number.column, written=number.value)
        first = self.first(number)
        code = _run(first) if first else int(GOOD)
        if code == UNKNOWN:
            code = int(GOOD)
        return code or self._whole(number)

    def _whole(self, number: Number) -> int:
        near, others = tests_of(number)
        code = int(GOOD)
        for paths in (near,) if self._is_near else (near, others):
            code = code or _run(paths)
        return code


def _run(tests: list[str]) -> int:
    return int(pytest.main(["-x", "--assert=plain", "-p", "no:terminal", "-p", "no:cacheprovider", *tests]))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("packages", nargs="*", default=PACKAGES)
    parser.add_argument("--names", nargs="*", default=())
    parser.add_argument("--known", type=Path, default=KNOWN, help="which tests run which function")
    parser.add_argument("--near", action="store_true", help="ask the tests of its package and whole results alone")
    asked = parser.parse_args()
    found = [
        n for package in asked.packages for path in sorted((CORE / package).rglob("*.py")) for n in numbers_of(path)
    ]
    if asked.names:
        found = [n for n in found if set(asked.names) & set(n.name.split(", "))]
    began, lost, trial = time.monotonic(), 0, Trial(asked.known, is_near=asked.near)
    # Where one is red anyway, every number would seem to be noticed.
    some = {number.package: number for number in found}.values()
    for number, code in in_forks(some, trial.unmoved, seconds_for=lambda _: PATIENCE):
        if code != GOOD:
            raise SystemExit(f"The tests for {number.package} are red, though no number is moved.")
    trials = in_forks(found, trial.notices, seconds_for=lambda _: PATIENCE)
    for done, (number, code) in enumerate(trials, start=1):
        if done % SAID_EVERY == 0:
            sys.stderr.write(f"{done} of {len(found)} numbers moved\n")
        if code in NOT_RUN:
            raise SystemExit(f"The tests for {number.module} {number.name} could not be run: pytest gave {code}.")
        if code == GOOD:
            lost += 1
            print(f"{number.module}:{number.line} {number.name}: {number.value:g} × 1.1 is not noticed", flush=True)
    share = 100 * (1 - lost / len(found)) if found else 100.0
    print(f"{len(found)} numbers moved, {lost} not noticed ({share:.0f} % are), {time.monotonic() - began:.0f} s")


if __name__ == "__main__":
    main()
