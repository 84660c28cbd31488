"""Which functions of the core name a constant, by themselves or by another constant that is made of it."""

from __future__ import annotations

import ast
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

Named = tuple[str, str]  # the module that a constant stands in, and its name


@dataclass(frozen=True, slots=True)
class Users:
    """What names each constant: functions, as mutmut writes them, and other constants."""

    functions: Mapping[Named, Sequence[str]]
    constants: Mapping[Named, Sequence[Named]]

    @classmethod
    def read(cls, root: Path) -> Users:
        """All modules below a folder, as they are imported from the folder above the package."""
        functions: defaultdict[Named, list[str]] = defaultdict(list)
        constants: defaultdict[Named, list[Named]] = defaultdict(list)
        for path in sorted(root.rglob("*.py")):
            module = module_of(path, root)
            body = ast.parse(path.read_text(encoding="utf-8")).body
            where = dict(_imported(body))
            for function, node in _functions(body, module):
                for name in _names(node):
                    functions[where.get(name, (module, name))].append(function)
            for targets, value in assigned(body):
                for name in _names(value):
                    constants[where.get(name, (module, name))] += [(module, target) for target in targets]
        return cls(functions, constants)

    def of(self, module: str, name: str) -> set[str]:
        """The functions that name a constant, or a constant that follows from it."""
        found, seen, open_ = set[str](), set[Named](), [(module, name)]
        while open_:
            named = open_.pop()
            if named not in seen:
                seen.add(named)
                found.update(self.functions.get(named, ()))
                open_ += self.constants.get(named, ())
        return found


def module_of(path: Path, root: Path) -> str:
    """What a file below the core is imported as."""
    return ".".join(path.relative_to(root.parent.parent).with_suffix("").parts)


def assigned(body: Sequence[ast.stmt]) -> Iterator[tuple[list[str], ast.expr]]:
    """The names that statements give values to, and the value."""
    for statement in body:
        if isinstance(statement, ast.Assign):
            names = [node for target in statement.targets for node in ast.walk(target) if isinstance(node, ast.Name)]
            yield [node.id for node in names], statement.value
        elif isinstance(statement, ast.AnnAssign) and statement.value is not None:
            yield [ast.unparse(statement.target)], statement.value


def _imported(body: Sequence[ast.stmt]) -> Iterator[tuple[str, Named]]:
    """Names that were brought in, and where each is from."""
    for statement in body:
        if isinstance(statement, ast.ImportFrom) and statement.module:
            for alias in statement.names:
                yield alias.asname or alias.name, (statement.module, alias.name)


def _functions(body: Sequence[ast.stmt], module: str) -> Iterator[tuple[str, ast.AST]]:
    """Functions and methods of a module, by the names that mutmut gives them."""
    for statement in body:
        if isinstance(statement, ast.FunctionDef):
            yield f"{module}.x_{statement.name}", statement
        elif isinstance(statement, ast.ClassDef):
            for inner in statement.body:
                if isinstance(inner, ast.FunctionDef):
                    yield f"{module}.xǁ{statement.name}ǁ{inner.name}", inner


def _names(node: ast.AST) -> set[str]:
    return {inner.id for inner in ast.walk(node) if isinstance(inner, ast.Name)}
