"""A plugin of pytest: one number of the code is read as a tenth more than is written there.

`UPTIDE_MOVED` says which: module, line, column and what stands there, as in `uptide.core.physics.density 11 16 0.002`.
"""

from __future__ import annotations

import ast
import os
import sys
from collections.abc import Sequence
from importlib.machinery import ModuleSpec, PathFinder, SourceFileLoader
from types import CodeType, ModuleType

ASKED = "UPTIDE_MOVED"
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
    def get_code(self, fullname: str) -> CodeType:
        """Never what was compiled before."""
        _, line, column, written = os.environ[ASKED].split()
        mover = _Mover(int(line), int(column), float(written))
        tree = mover.visit(ast.parse(self.get_data(self.path)))
        if not mover.found:
            raise ImportError(f"{self.path}: {written} does not stand at line {line}, column {column}")
        code: CodeType = compile(tree, self.path, "exec")
        return code


class _Finder(PathFinder):
    @classmethod
    def find_spec(
        cls, fullname: str, path: Sequence[str] | None = None, target: ModuleType | None = None
    ) -> ModuleSpec | None:
        if fullname != os.environ[ASKED].split()[0]:
            return None
        spec = PathFinder.find_spec(fullname, path, target)
        if spec is not None and spec.origin is not None:
            spec.loader = _Loader(fullname, spec.origin)
        return spec


if ASKED in os.environ:
    sys.meta_path.insert(0, _Finder)
