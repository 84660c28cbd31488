"""Every number that has a name, moved by a tenth: some test must go red.

`make constants` moves those of the packages named (PACKAGES="lipids physics"), one after the other, each in a fork of a
process that has imported all but the program, and prints which nobody notices. `NAMES="WAXED LATE"` moves these alone.
"""

from __future__ import annotations

import argparse
import ast
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

IMPORTED = (hypothesis, lark, pydantic, scipy, sqlalchemy)  # here once, in place of in each fork

CORE = Path(__file__).parent.parent / "src" / "uptide" / "core"
TESTS = Path("tests") / "core"
WHOLE = TESTS / "said"
PACKAGES = ("lipids", "physics", "oxidation", "measures", "safety", "keeping")
PATIENCE = 900.0  # s for the tests of one
COUNTED = (0, 1, 2)  # numbers of things: no measures
GOOD = pytest.ExitCode.OK
NOT_RUN = (pytest.ExitCode.INTERNAL_ERROR, pytest.ExitCode.USAGE_ERROR, pytest.ExitCode.NO_TESTS_COLLECTED)


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
    module = ".".join(path.relative_to(CORE.parent.parent).with_suffix("").parts)
    for statement in ast.parse(path.read_text(encoding="utf-8")).body:
        if not isinstance(statement, ast.Assign | ast.AnnAssign) or statement.value is None:
            continue
        targets = statement.targets if isinstance(statement, ast.Assign) else [statement.target]
        name = ", ".join(ast.unparse(target) for target in targets)
        if name.strip("(),") != name.strip("(),").upper():
            continue
        for node in ast.walk(statement.value):
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
    return [str(path) for path in first], ["tests/reference", "src/uptide/core", *map(str, others)]


def notices(number: Number) -> int:
    """How pytest ends where a number is more, in this process: GOOD where no test goes red."""
    move(number.module, line=number.line, column=number.column, written=number.value)
    code = int(GOOD)
    for paths in tests_of(number):
        code = code or int(pytest.main(["-x", "--assert=plain", "-p", "no:terminal", "-p", "no:cacheprovider", *paths]))
    return code


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("packages", nargs="*", default=PACKAGES)
    parser.add_argument("--names", nargs="*", default=())
    asked = parser.parse_args()
    found = [
        n for package in asked.packages for path in sorted((CORE / package).rglob("*.py")) for n in numbers_of(path)
    ]
    if asked.names:
        found = [n for n in found if set(asked.names) & {part.strip(" ()") for part in n.name.split(",")}]
    began, lost = time.monotonic(), 0
    for number, code in in_forks(found, notices, seconds_for=lambda _: PATIENCE):
        if code in NOT_RUN:
            raise SystemExit(f"The tests for {number.module} {number.name} could not be run: pytest gave {code}.")
        if code == GOOD:
            lost += 1
            print(f"{number.module}:{number.line} {number.name}: {number.value:g} × 1.1 is not noticed", flush=True)
    share = 100 * (1 - lost / len(found)) if found else 100.0
    print(f"{len(found)} numbers moved, {lost} not noticed ({share:.0f} % are), {time.monotonic() - began:.0f} s")


if __name__ == "__main__":
    main()
