"""The two symbols of a cosmetic label as drawings: the hourglass and the open jar (eu-1223-2009, Annex VII).

The law shows what they are and prescribes no size; these outlines are our own. Lengths in mm, from the top left corner.
"""

from __future__ import annotations

from dataclasses import dataclass

from uptide.core.making.label import Symbol

WIDE, HIGH = 6.0, 8.0  # mm
STROKE = 0.35  # mm
WORDS_POINTS = 7.0
WORDS_AT = 6.3  # mm: baseline of the months in the jar

Line = tuple[tuple[float, float], ...]

HOURGLASS: tuple[Line, ...] = (
    ((0.5, 0.5), (5.5, 0.5)),
    ((0.5, 7.5), (5.5, 7.5)),
    ((1.0, 0.5), (1.0, 1.6), (2.7, 3.8), (2.7, 4.2), (1.0, 6.4), (1.0, 7.5)),
    ((5.0, 0.5), (5.0, 1.6), (3.3, 3.8), (3.3, 4.2), (5.0, 6.4), (5.0, 7.5)),
    ((1.5, 7.1), (3.0, 5.4), (4.5, 7.1), (1.5, 7.1)),
)
OPEN_JAR: tuple[Line, ...] = (
    ((0.9, 3.2), (0.3, 3.9), (0.3, 7.5), (5.7, 7.5), (5.7, 3.9), (5.1, 3.2), (0.9, 3.2)),  # the jar
    ((0.9, 2.3), (1.3, 0.9), (5.7, 2.1), (5.3, 3.0)),  # its lid, lifted at one side
)
OUTLINES = {Symbol.HOURGLASS: HOURGLASS, Symbol.OPEN_JAR: OPEN_JAR}


@dataclass(frozen=True, slots=True)
class Drawn:
    """A symbol where it stands on a label: its lines and the words in it, with left and baseline [mm]."""

    lines: tuple[Line, ...] = ()
    words: str = ""
    words_x: float = 0.0
    words_y: float = 0.0


def drawn_at(symbol: Symbol | None, months: int | None, left: float, top: float) -> Drawn:
    """A symbol at a place on its label; nothing where a label has none."""
    if symbol is None:
        return Drawn()
    lines = tuple(tuple((left + x, top + y) for x, y in line) for line in OUTLINES[symbol])
    words = f"{months}M" if symbol is Symbol.OPEN_JAR else ""
    return Drawn(lines, words, left + WIDE / 2, top + WORDS_AT)
