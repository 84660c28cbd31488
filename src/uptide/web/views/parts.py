"""Which parts of a sheet are drawn: a page all of them, an answer to an edit those that are open."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Parts:
    """The parts that are drawn, by the names of their folds, pictures and figures; all of them by default.

    What is not drawn is not put into words either: most of a sheet stands folded while one types.
    """

    names: frozenset[str] | None = None

    @classmethod
    def only(cls, names: Iterable[str]) -> Parts:
        """No parts but these."""
        return cls(frozenset(names))

    def __contains__(self, name: str) -> bool:
        return self.names is None or name in self.names


EVERY_PART = Parts()
