"""Leave each function the tests that are nearest to it, so that a change that nobody notices does not take all of them.

mutmut runs every test that comes by a changed function until one fails. By a function of the core come up to two
thousand, and a change that survives would take them all: half a minute each. Here those are kept that come by the
fewest other functions, a few cases of each test, for as many seconds as SECONDS. What survives these may still be
noticed by a test that is farther away: the score is at least what it says.

    python -m bench.near_tests mutants/mutmut-stats.json
"""

from __future__ import annotations

import json
import sys
from collections import Counter, defaultdict
from pathlib import Path

SECONDS = 2.0  # of tests for each function
CASES = 6  # of one test with many cases


def nearest(tests: list[str], seconds: dict[str, float], functions_of: Counter[str]) -> list[str]:
    """The tests to keep of those that come by one function."""
    cases: defaultdict[str, list[str]] = defaultdict(list)
    for test in sorted(tests):
        cases[test.partition("[")[0]].append(test)
    spread = [each for found in cases.values() for each in found[:: max(1, len(found) // CASES)]]
    kept: list[str] = []
    spent = 0.0
    for test in sorted(spread, key=lambda each: (functions_of[each], seconds[each])):
        if kept and spent > SECONDS:
            break
        kept.append(test)
        spent += seconds[test]
    return kept


def main() -> None:
    """Rewrite the file that mutmut keeps of which test comes by which function."""
    file = Path(sys.argv[1])
    stats = json.loads(file.read_text(encoding="utf-8"))
    by_function: dict[str, list[str]] = stats["tests_by_mangled_function_name"]
    functions_of = Counter(test for tests in by_function.values() for test in tests)
    seconds: dict[str, float] = stats["duration_by_test"]
    stats["tests_by_mangled_function_name"] = {
        name: nearest(tests, seconds, functions_of) for name, tests in by_function.items()
    }
    file.write_text(json.dumps(stats, indent=4), encoding="utf-8")


if __name__ == "__main__":
    main()
