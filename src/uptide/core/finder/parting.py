"""Part what is typed without commas into the things that it asks: as few as can be, as few as can be not understood."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import NamedTuple, TypeVar

Piece = TypeVar("Piece")
LONGEST_PIECE = 12  # words; no name has more


class Missed(NamedTuple):
    """What is not understood: words that are nothing, and names that nothing bears."""

    words: int = 0
    names: int = 0


class _Cost(NamedTuple):
    """How badly something is parted; the first counts most."""

    words: int = 0
    names: int = 0
    pieces: int = 0


def parted(text: str, read: Callable[[str, Piece | None], tuple[Piece, Missed]]) -> tuple[Missed, tuple[Piece, ...]]:
    """The pieces of a text, and what is not understood of all of them.

    `read` is given some words as they were typed, and what came before them.

    >>> def light(typed, before): return typed, Missed(words=0 if typed in ("light", "no nuts") else len(typed.split()))
    >>> parted("light blue no nuts", light)
    (Missed(words=1, names=0), ('light', 'blue', 'no nuts'))
    """
    words = list(re.finditer(r"\S+", text))
    best: list[tuple[_Cost, tuple[Piece, ...]]] = [(_Cost(), ())]
    for end in range(1, len(words) + 1):
        found = []
        for start in range(max(0, end - LONGEST_PIECE), end):
            cost, pieces = best[start]
            typed = text[words[start].start() : words[end - 1].end()]
            piece, missed = read(typed, pieces[-1] if pieces else None)
            more = _Cost(cost.words + missed.words, cost.names + missed.names, cost.pieces + 1)
            found.append((more, (*pieces, piece)))
        best.append(min(found, key=lambda each: each[0]))
    cost, pieces = best[-1]
    return Missed(cost.words, cost.names), pieces
