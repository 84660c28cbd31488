"""Part what is typed without commas into the things that it asks, so that as little as can be is not understood."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import NamedTuple, TypeVar

Piece = TypeVar("Piece")
LONGEST_PIECE, MOST_WORDS = 12, 60  # of a piece, which no name has more of; of what is parted at all


class Missed(NamedTuple):
    """What is not understood, what counts most first.

    words: that are nothing. names: that nothing bears, or several things. guessed: words of names not borne exactly.
    """

    words: int = 0
    names: int = 0
    guessed: int = 0

    def and_also(self, other: Missed) -> Missed:
        """What is not understood of two pieces."""
        return Missed(*(one + more for one, more in zip(self, other, strict=True)))


ALL_UNDERSTOOD = Missed()


def parted(text: str, read: Callable[[str, Piece | None], tuple[Piece, Missed]]) -> tuple[Missed, tuple[Piece, ...]]:
    """The pieces of a text, the last as long as can be, and what is not understood of all of them.

    `read` is given some words as they were typed, and what came before them. Of more than MOST_WORDS it is given all.

    >>> def light(typed, before): return typed, Missed(words=0 if typed in ("light", "no nuts") else len(typed.split()))
    >>> parted("light blue no nuts", light)
    (Missed(words=1, names=0, guessed=0), ('light', 'blue', 'no nuts'))
    """
    words = list(re.finditer(r"\S+", text))
    if len(words) > MOST_WORDS:
        piece, missed = read(text, None)
        return missed, (piece,)
    best: list[tuple[Missed, tuple[Piece, ...]]] = [(ALL_UNDERSTOOD, ())]
    for end in range(1, len(words) + 1):
        found = []
        for start in range(max(0, end - LONGEST_PIECE), end):
            before, pieces = best[start]
            typed = text[words[start].start() : words[end - 1].end()]
            piece, missed = read(typed, pieces[-1] if pieces else None)
            found.append((before.and_also(missed), (*pieces, piece)))
        best.append(min(found, key=lambda each: each[0]))
    return best[-1]
