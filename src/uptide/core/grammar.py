"""A grammar that is built once: when it is first needed, or at an earlier start."""

from __future__ import annotations

import io
from typing import Any

from lark import Lark, Token, Tree


class Grammar:
    """What `lark` reads with, and how; building its tables takes up to a tenth of a second, so that can be kept."""

    def __init__(self, rules: str, **options: Any) -> None:
        self._rules, self._options = rules, options
        self._brought = b""
        self._parser: Lark | None = None

    @property
    def parser(self) -> Lark:
        """The reader."""
        if self._parser is None:
            brought = io.BytesIO(self._brought)
            self._parser = Lark.load(brought) if self._brought else Lark(self._rules, parser="lalr", **self._options)
        return self._parser

    def built(self) -> bytes:
        """What came of building it, for `bring` at another start."""
        content = io.BytesIO()
        self.parser.save(content)
        return content.getvalue()

    def bring(self, built: bytes) -> None:
        """Read with what `built` gave of this very grammar. Unpickles: only what this program wrote itself."""
        self._brought, self._parser = built, None


def tokens_of(tree: Tree[Token], terminal: str) -> list[str]:
    """All that stands in the places of a terminal."""
    tokens = tree.scan_values(lambda each: isinstance(each, Token) and each.type == terminal)
    return [str(token).strip() for token in tokens]


def token_of(tree: Tree[Token], terminal: str) -> str:
    """What stands first in the place of a terminal; nothing where it does not occur."""
    return next(iter(tokens_of(tree, terminal)), "")


def has(tree: Tree[Token], terminal: str) -> bool:
    """Whether a terminal occurs."""
    return bool(tokens_of(tree, terminal))
