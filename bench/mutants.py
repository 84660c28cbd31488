"""Change the core in one place after the other, and see which changes the tests do not notice.

mutmut does the changing and sees which test comes by which function. By a function of the core come up to two thousand,
and a change that survives would take all of them, half a minute each. So the tests that are nearest to a function are
kept for it: those that hold whole results against approved texts, and those that come by the fewest other functions,
some cases of each, of either for as many seconds as SECONDS. What survives these may still be noticed by a test that is
farther away: a score is at least what it says. bench/trying.py tries them, in no order: what was tried when it is cut
off is an even draw of all.

    python -m bench.mutants                          everything that pyproject.toml names, from where it was left
    python -m bench.mutants "uptide.core.lipids*"    one package, anew
    python -m bench.mutants --scores                 what is known, without running anything
    python -m bench.mutants --survivors physics      each change that was not noticed, as it stands in the code
    python -m bench.mutants --listed                 the same for a document: how many of each sort in each function
"""

from __future__ import annotations

import ast
import difflib
import json
import os
import re
import subprocess
import sys
import tomllib
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from fnmatch import fnmatch
from pathlib import Path

import numpy as np
from bench.trying import SURVIVED, UNTESTED

SECONDS = 5.0  # of tests of either sort for each function
WHOLE = "tests/core/said/"  # tests that notice whatever changes of what a person is told
CASES = 400  # of one test with many cases
PLACE = Path("mutants")  # where mutmut puts the changed code, and all that the tests read
STATS, MUTANTS, ASKED = PLACE / "mutmut-stats.json", PLACE / "src", PLACE / "asked.json"
NOBODY = "no function is called so"
# Sorts of changes that survive: of words alone; of what makes no difference (the type of an array, the check that two
# lists are as long); at the very end of a bound; what only a test farther away can notice; where no test comes by.
SORTS = ("words", "same", "bound", "far", "untested")
TEXT = re.compile(r'f?"[^"]*"|\bNone\b(?=\)$|,$)')
THE_SAME = (re.compile(r",\s*strict=\w+|,\s*(?=\))"), re.compile(r",\s*(?:float|None)?(?=\))"))
BOUND = re.compile(r"[<>]=?")


def nearest(tests: list[str], seconds: dict[str, float], functions_of: Counter[str]) -> list[str]:
    """The tests to keep of those that come by one function."""
    cases: defaultdict[str, list[str]] = defaultdict(list)
    for test in sorted(tests):
        cases[test.partition("[")[0]].append(test)
    spread = [each for found in cases.values() for each in found[:: max(1, len(found) // CASES)]]
    whole = sorted((each for each in spread if each.startswith(WHOLE)), key=lambda each: seconds[each])
    others = {each for each in spread if not each.startswith(WHOLE)}
    near = sorted(others, key=lambda each: (functions_of[each], seconds[each]))
    return [*_for_so_long(whole, seconds), *_for_so_long(near, seconds)]


def _for_so_long(tests: Iterable[str], seconds: Mapping[str, float]) -> Iterator[str]:
    """The first of some tests, one at least, for SECONDS."""
    spent = 0.0
    for test in tests:
        yield test
        spent += seconds[test]
        if spent > SECONDS:
            return


def keep_the_nearest(file: Path) -> None:
    """Rewrite what mutmut keeps of which test comes by which function."""
    stats = json.loads(file.read_text(encoding="utf-8"))
    by_function: dict[str, list[str]] = stats["tests_by_mangled_function_name"]
    functions_of = Counter(test for tests in by_function.values() for test in tests)
    seconds: dict[str, float] = stats["duration_by_test"]
    stats["tests_by_mangled_function_name"] = {
        name: nearest(tests, seconds, functions_of) for name, tests in by_function.items()
    }
    file.write_text(json.dumps(stats, indent=4), encoding="utf-8")


def changes() -> Iterator[tuple[Path, str, int | None]]:
    """Every change: the file of its mutants, its name, and how the tests ended, None where it was not tried."""
    for kept in sorted(MUTANTS.rglob("*.meta")):
        for name, code in json.loads(kept.read_text(encoding="utf-8"))["exit_code_by_key"].items():
            yield kept.with_suffix(""), name, code


def results() -> Iterator[tuple[Path, str, int]]:
    """Every change that was tried."""
    return ((file, name, code) for file, name, code in changes() if code is not None)


def try_changes(patterns: Sequence[str]) -> None:
    """Try those whose name fits one of the patterns, anew; without one, those that were not tried yet."""
    found = [
        name
        for _, name, code in changes()
        if (any(fnmatch(name, each) for each in patterns) if patterns else code is None)
    ]
    in_no_order = np.random.default_rng(len(found)).permutation(found).tolist()
    ASKED.write_text(json.dumps(in_no_order), encoding="utf-8")
    kept = tomllib.loads(Path("pyproject.toml").read_text(encoding="utf-8"))["tool"]["mutmut"]
    subprocess.run(
        [
            *(sys.executable, "-m", "bench.trying", ASKED.name, STATS.name),
            *kept["pytest_add_cli_args"],
            *kept["pytest_add_cli_args_test_selection"],
        ],
        cwd=PLACE,
        env=os.environ | {"PYTHONPATH": "src"},
        check=False,
    )


def show_scores() -> None:
    """How many changes were noticed in each package."""
    counts: defaultdict[str, Counter[str]] = defaultdict(Counter)
    for _, name, code in results():
        ended = {SURVIVED: "survived", UNTESTED: "untested"}.get(code, "noticed")
        counts[name.split(".")[2]][ended] += 1
    for package, found in sorted(counts.items()):
        whole = found.total()
        sys.stdout.write(
            f"{package:<12} {whole:6} changed, {found['noticed']:6} noticed ({100 * found['noticed'] / whole:.0f} %), "
            f"{found['survived']:5} not, {found['untested']:4} no test came by\n"
        )


@dataclass(frozen=True)
class Change:
    """A change that no test noticed: its name, the lines that went and those that came."""

    name: str
    went: list[str]
    came: list[str]
    is_untested: bool

    @property
    def package(self) -> str:
        return self.name.split(".")[2]

    @property
    def function(self) -> str:
        """Where it is: the file and the function."""
        place, _, changed = self.name.rpartition(".")
        called = changed.rpartition("__mutmut_")[0].replace("xǁ", "").replace("ǁ", ".").removeprefix("x_")
        return f"{place.rpartition('.')[2]}: {called}"

    @property
    def sort(self) -> str:
        """What sort of change it is: one of SORTS."""
        went, came = " ".join(self.went), " ".join(self.came)
        if self.is_untested:
            return "untested"
        if TEXT.sub('""', went) == TEXT.sub('""', came) or went.startswith("raise "):
            return "words"
        if any(pattern.sub("", went) == pattern.sub("", came) for pattern in THE_SAME):
            return "same"
        return "bound" if BOUND.sub("<", went) == BOUND.sub("<", came) else "far"


def survivors() -> Iterator[Change]:
    """Every change that no test noticed."""
    of_file: dict[Path, tuple[list[str], dict[str, ast.FunctionDef]]] = {}
    for file, name, code in results():
        if code not in (SURVIVED, UNTESTED):
            continue
        if file not in of_file:
            text = file.read_text(encoding="utf-8")
            functions = {node.name: node for node in ast.walk(ast.parse(text)) if isinstance(node, ast.FunctionDef)}
            of_file[file] = text.split("\n"), functions
        lines, functions = of_file[file]
        changed = name.rpartition(".")[2]
        before, after = (
            lines[functions[each].lineno : functions[each].end_lineno]
            for each in (f"{changed.rpartition('__mutmut_')[0]}__mutmut_orig", changed)
        )
        lines_of = [line for line in difflib.unified_diff(before, after, lineterm="", n=0) if "__mutmut" not in line]
        went, came = ([line[1:].strip() for line in lines_of[2:] if line[:1] == sign] for sign in "-+")
        yield Change(name, went, came, is_untested=code == UNTESTED)


def show_survivors(package: str) -> None:
    """Each change of a package that no test noticed, as lines that went and lines that came."""
    for change in survivors():
        if change.package == package:
            sys.stdout.write(f"{change.name}{' (no test comes by)' if change.is_untested else ''}\n")
            sys.stdout.writelines(f"    - {line}\n" for line in change.went)
            sys.stdout.writelines(f"    + {line}\n" for line in change.came)


def list_survivors() -> None:
    """How many changes of each sort were not noticed in each function, as a table for docs/."""
    counts: defaultdict[tuple[str, str], Counter[str]] = defaultdict(Counter)
    for change in survivors():
        counts[change.package, change.function][change.sort] += 1
    sys.stdout.write(f"| package | function | {' | '.join(SORTS)} |\n|---|---|{'---|' * len(SORTS)}\n")
    for (package, function), found in sorted(counts.items()):
        sys.stdout.write(f"| {package} | {function} | {' | '.join(str(found[sort] or '') for sort in SORTS)} |\n")


def main() -> None:
    """Run what is asked for, and say how it went."""
    asked = sys.argv[1:]
    if asked[:1] == ["--listed"]:
        list_survivors()
        return
    if asked[:1] == ["--survivors"]:
        for package in asked[1:]:
            show_survivors(package)
        return
    if asked[:1] != ["--scores"]:
        mutmut = str(Path(sys.executable).with_name("mutmut"))
        # Of a name that nothing has it makes the mutants, sees which test comes by which function, and stops.
        subprocess.run([mutmut, "run", NOBODY], check=False, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        keep_the_nearest(STATS)
        try_changes(asked)
    show_scores()


if __name__ == "__main__":
    main()
