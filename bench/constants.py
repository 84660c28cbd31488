"""Every number that has a name, moved by a tenth: some test must go red.

`make constants` moves those of the packages named (PACKAGES="lipids physics"), one after the other, each in a process
of its own, and prints which nobody notices. `NAMES="WAXED LATE"` moves these alone.
"""

from __future__ import annotations

import argparse
import ast
import os
import subprocess
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from bench.moved import ASKED

CORE = Path(__file__).parent.parent / "src" / "uptide" / "core"
TESTS = Path("tests") / "core"
WHOLE = TESTS / "said"
PACKAGES = ("lipids", "physics", "oxidation", "measures", "safety", "keeping")
PATIENCE = 900.0  # s for the tests of one
COUNTED = (0, 1, 2)  # numbers of things: no measures
GOOD = 0  # what pytest returns where nothing failed


@dataclass(frozen=True, slots=True)
class Number:
    """A number with a name: where it stands, and what it is."""

    module: str
    name: str
    line: int
    column: int
    value: float

    @property
    def asked(self) -> str:
        return f"{self.module} {self.line} {self.column} {self.value!r}"

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


def is_noticed(number: Number) -> bool:
    """Whether a test goes red: those of its package first, then whole results, then those of the others."""
    first = [path for path in (TESTS / number.package, WHOLE) if path.exists()]
    last = [path for path in sorted(TESTS.iterdir()) if path not in first and path.is_dir()]
    paths = [*map(str, first), "tests/reference", "src/uptide/core", *map(str, last)]
    command = [sys.executable, "-m", "pytest", "-q", "-x", "-p", "bench.moved", "-p", "no:cacheprovider", *paths]
    run = subprocess.run(
        command, env=os.environ | {ASKED: number.asked}, capture_output=True, timeout=PATIENCE, check=False
    )
    return run.returncode != GOOD


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("packages", nargs="*", default=PACKAGES)
    parser.add_argument("--names", nargs="*", default=())
    parser.add_argument("--jobs", type=int, default=os.cpu_count())
    asked = parser.parse_args()
    found = [
        n for package in asked.packages for path in sorted((CORE / package).rglob("*.py")) for n in numbers_of(path)
    ]
    if asked.names:
        found = [n for n in found if set(asked.names) & {part.strip(" ()") for part in n.name.split(",")}]
    began, lost = time.monotonic(), 0
    with ThreadPoolExecutor(asked.jobs) as pool:
        for number, noticed in zip(found, pool.map(is_noticed, found), strict=True):
            lost += not noticed
            if not noticed:
                print(f"{number.module}:{number.line} {number.name}: {number.value:g} × 1.1 is not noticed", flush=True)
    share = 100 * (1 - lost / len(found)) if found else 100.0
    print(f"{len(found)} numbers moved, {lost} not noticed ({share:.0f} % are), {time.monotonic() - began:.0f} s")


if __name__ == "__main__":
    main()
