"""One number of the code, read as a tenth more than is written there."""

from __future__ import annotations

import ast
import sys
from collections.abc import Sequence
from importlib.machinery import ModuleSpec, PathFinder, SourceFileLoader
from types import CodeType, ModuleType

MORE = 1.1


class _Mover(ast.NodeTransformer):
    """Replaces the one number that stands at a place."""

    def __init__(self, line: int, column: int, written: float) -> None:
        self.place, self.written, self.found = (line, column), written, False

    def visit_Constant(self, node: ast.Constant) -> ast.Constant:
        if (node.lineno, node.col_offset) != self.place or node.value != self.written:
            return node
        self.found = True
        return ast.copy_location(ast.Constant(node.value * MORE), node)


class _Loader(SourceFileLoader):
    """Loads a module with one number of it moved, never what was compiled before."""

    def __init__(self, fullname: str, path: str, mover: _Mover) -> None:
        super().__init__(fullname, path)
        self.mover = mover

    def get_code(self, fullname: str) -> CodeType:
        tree = self.mover.visit(ast.parse(self.get_data(self.path)))
        if not self.mover.found:
            raise ImportError(f"{self.path}: {self.mover.written} does not stand at {self.mover.place}")
        code: CodeType = compile(tree, self.path, "exec")
        return code


class _Finder:
    """Finds one module as it always is, to be loaded with the number moved."""

    def __init__(self, module: str, mover: _Mover) -> None:
        self.module, self.mover = module, mover

    def find_spec(
        self, fullname: str, path: Sequence[str] | None = None, target: ModuleType | None = None
    ) -> ModuleSpec | None:
        spec = PathFinder.find_spec(fullname, path, target) if fullname == self.module else None
        if spec is not None and spec.origin is not None:
            spec.loader = _Loader(fullname, spec.origin, self.mover)
        return spec


def move(module: str, *, line: int, column: int, written: float) -> None:
    """Read one number as more from now on; a module that is imported already stays as it was read."""
    sys.meta_path.insert(0, _Finder(module, _Mover(line, column, written)))
