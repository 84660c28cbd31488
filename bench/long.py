"""Which tests are long: those in tests/long.txt, which bench/division.py writes.

CI has no time for all of them. Each commit runs every eighth, from the number of its turn on.
"""

from __future__ import annotations

import os
from pathlib import Path

LISTED = Path("tests/long.txt")
TURN = "UPTIDE_TURN"  # a whole number: the long ones whose turn it is count as none
TURNS = 8


def long_ones(turn: str | None = os.environ.get(TURN)) -> frozenset[str]:
    """The names of the tests that are long, without those whose turn it is; of no turn all of them.

    Raises ValueError for a turn that is no whole number.
    """
    named = (Path(__file__).parent.parent / LISTED).read_text(encoding="utf-8").splitlines()
    return frozenset(name for at, name in enumerate(named) if not turn or (at - int(turn)) % TURNS)
