"""No file and no package may import itself by a detour: not for typing alone, nor inside a function either."""

from __future__ import annotations

import ast
from collections import defaultdict
from collections.abc import Iterator, Mapping
from functools import cache
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import pytest

import uptide

SOURCE = Path(uptide.__file__).parents[1]
Graph = Mapping[str, set[str]]


def _name_of(file: Path) -> str:
    return ".".join(file.relative_to(SOURCE).with_suffix("").parts).removesuffix(".__init__")


@cache
def _is_package(name: str) -> bool:
    return (SOURCE.joinpath(*name.split(".")) / "__init__.py").exists()


@cache
def _is_module(name: str) -> bool:
    return _is_package(name) or SOURCE.joinpath(*name.split(".")).with_suffix(".py").exists()


def _imported(code: str) -> Iterator[str]:
    """Every module of the product that a file imports, wherever in it the import stands."""
    for node in ast.walk(ast.parse(code)):
        if isinstance(node, ast.ImportFrom) and node.module and node.module.startswith("uptide"):
            for alias in node.names:
                inner = f"{node.module}.{alias.name}"
                yield inner if _is_module(inner) else node.module


@cache
def _files() -> Graph:
    return {_name_of(file): set(_imported(file.read_text())) for file in (SOURCE / "uptide").rglob("*.py")}


def _packages() -> Graph:
    """The same between packages; a package and what stands above it are one road and no circle."""
    found: dict[str, set[str]] = defaultdict(set)
    for name, imported in _files().items():
        own = name if _is_package(name) else name.rpartition(".")[0]
        for other in imported:
            package = other if _is_package(other) else other.rpartition(".")[0]
            if package != own and "." in package:
                found[own].add(package)
    return found


def _circle(graph: Graph) -> list[str]:
    try:
        TopologicalSorter(graph).prepare()
    except CycleError as error:
        return [str(name) for name in error.args[1]]
    return []


@pytest.mark.parametrize("graph", [_files, _packages])
def test_no_imports_go_round_in_a_circle(graph: object) -> None:
    found = graph()  # type: ignore[operator] # one of the two above

    assert len(found) > 20
    assert _circle(found) == []


def test_a_circle_would_be_seen_even_where_it_stands_for_typing_alone() -> None:
    code = "if TYPE_CHECKING:\n    from uptide.core.safety.check import Safety\n"

    assert set(_imported(code)) == {"uptide.core.safety.check"}
    assert _circle({"a": {"b"}, "b": {"c"}, "c": {"a"}})
