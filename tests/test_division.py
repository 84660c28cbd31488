"""What `make long` is left with are tests that there are."""

from __future__ import annotations

import ast
from pathlib import Path

from bench.long import LISTED, TURNS, long_ones

ROOT = Path(__file__).parent.parent


def test_every_name_in_the_list_is_a_test() -> None:
    named = {line.split("[")[0] for line in (ROOT / LISTED).read_text(encoding="utf-8").splitlines()}
    files = {name.split("::")[0] for name in named}
    there = {
        f"{file}::{node.name}"
        for file in files
        if (ROOT / file).is_file()
        for node in ast.parse((ROOT / file).read_text(encoding="utf-8")).body
        if isinstance(node, ast.FunctionDef)
    }

    assert sorted(named - there) == []  # take the line out, or measure again: make division


def test_every_long_one_has_its_turn_and_none_two() -> None:
    every = long_ones(None)
    turns = [every - long_ones(str(turn)) for turn in range(1, 1 + TURNS)]

    assert set().union(*turns) == every
    assert sum(map(len, turns)) == len(every)
    assert max(map(len, turns)) - min(map(len, turns)) <= 1
