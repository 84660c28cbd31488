"""Who reads a call can tell what each value is: many are passed by name."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

SOURCES = Path(__file__).parent.parent / "src"
MOST = 6
LISTS = frozenset({"Index"})  # its arguments are columns, in their order


def unnamed(code: str) -> list[int]:
    """Lines where something is made of more values than one can tell apart by their order."""
    calls = [node for node in ast.walk(ast.parse(code)) if isinstance(node, ast.Call)]
    made = [(call.lineno, len(call.args), ast.unparse(call.func)) for call in calls]
    return [line for line, count, name in made if count > MOST and name.lstrip("_")[:1].isupper() and name not in LISTS]


@pytest.mark.parametrize("package", sorted(path.name for path in (SOURCES / "uptide").iterdir() if path.is_dir()))
def test_nothing_is_made_of_many_values_without_their_names(package: str) -> None:
    found = {
        str(path.relative_to(SOURCES)): lines
        for path in (SOURCES / "uptide" / package).rglob("*.py")
        if "versions" not in path.parts and (lines := unnamed(path.read_text(encoding="utf-8")))
    }

    assert found == {}


def test_seven_without_names_are_found_and_six_are_not() -> None:
    assert unnamed("Lot(1, 2, 3, 4, 5, 6)\nLot(1, 2, 3, 4, 5, 6, 7)\nlot(1, 2, 3, 4, 5, 6, 7)") == [2]
