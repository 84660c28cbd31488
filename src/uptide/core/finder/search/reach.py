"""What two figures of a blend can be together: the outline of all blends that keep the rows of a wish.

Each corner is the blend that is furthest in one direction. How long it keeps, and whether it is clear, is not in it.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from math import cos, exp, pi, sin

import numpy as np

from uptide.core.arrays import Array
from uptide.core.errors import UnknownKeyError
from uptide.core.finder.search.oil_table import OilTable
from uptide.core.finder.search.rows import LOGARITHMIC, Ratio, ratio_of
from uptide.core.finder.search.search import dive_for
from uptide.core.finder.search.wish import Limit, Wish
from uptide.core.finder.search.wish_clauses import clause_of, without_clause
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.oxidation.simulate import Draws

PAIRED = (
    "linoleic",
    "oleic",
    "omega_3",
    "saturated",
    "monounsaturated",
    "polyunsaturated",
    "iodine",
    "feel",
    "thickness",
    "viscosity",
    "inert",
    "cost",
)
DIRECTIONS = 24
SOLVED = 3  # times for each direction: a ratio is straight only where it stands
SMALLEST = 1e-9  # of a figure: no less is a span
# How near to a target is near, in the units of a figure; of a thickness and a cost so much of themselves.
NEAR = {"feel": 0.2, "iodine": 4.0, "across": 2.0, "upward": 2.0}
NEAR_PERCENT, NEAR_PART = 2.5, 0.06
Corner = tuple[float, float]


def aimed(text: str, limits: tuple[Limit, ...], at: Mapping[str, float]) -> str:
    """A wish in words with figures near a target, in the place of what it said of them."""
    for limit in limits:
        if limit.typed and limit.figure in at:
            text = without_clause(text, limit.typed)
    said = [text] if text.strip() else []
    for figure, value in at.items():
        near = NEAR.get(figure, NEAR_PART * abs(value) if figure in (*LOGARITHMIC, "cost") else NEAR_PERCENT)
        if figure != "inert" and value > near:
            said.append(clause_of(Limit(figure, at_least=True, bound=round(value - near, 2))))
        said.append(clause_of(Limit(figure, at_least=False, bound=round(value + near, 2))))
    return ", ".join(said)


@dataclass(frozen=True, eq=False)
class Plane:
    """Two figures of the blends of one wish.

    Raises:
        UnknownKeyError: a figure that is not one of PAIRED.
    """

    wish: Wish
    table: OilTable
    draws: Draws
    pair: tuple[str, str]

    def __post_init__(self) -> None:
        for figure in self.pair:
            if figure not in PAIRED:
                raise UnknownKeyError(f"“{figure}” cannot be drawn; {', '.join(PAIRED)} can.")

    def outline(self) -> tuple[Corner, ...]:
        """The corners, direction after direction; none where nothing keeps the rows."""
        dive = dive_for(self.wish, self.table, self.draws)
        start = dive.program.best(np.zeros(len(self.table))) if dive is not None else None
        if dive is None or start is None:
            return ()
        known = [corner for _, corner in self.oils()]
        spans = np.maximum(np.ptp(known, axis=0), SMALLEST) if known else np.ones(2)
        found: list[Corner] = []
        for turn in range(DIRECTIONS):
            angle = 2 * pi * turn / DIRECTIONS
            ways = (cos(angle) / spans[0], sin(angle) / spans[1])
            shares = start
            for _ in range(SOLVED):
                ahead = dive.program.best(self._slope(ways, shares))
                shares = shares if ahead is None else ahead
            found.append(self.of(shares))
        return tuple(found)

    def oils(self) -> Iterator[tuple[Ingredient, Corner]]:
        """The oils by themselves, each with its two figures, where it has them."""
        known = self.table.acids["all"] > 0
        for figure in self.pair:
            patchy = self.table.patchy(figure)
            known &= True if patchy is None else ~np.isnan(patchy)
        for place in np.flatnonzero(known):
            yield self.table.items[place], self.of(np.eye(len(self.table))[place])

    def of(self, shares: Array) -> Corner:
        """The two figures of a blend."""
        one, other = (
            exp(ratio.of(shares)) if figure in LOGARITHMIC else ratio.of(shares)
            for figure, ratio in zip(self.pair, self._ratios, strict=True)
        )
        return one, other

    @property
    def _ratios(self) -> tuple[Ratio, ...]:
        return tuple(ratio for figure in self.pair if (ratio := ratio_of(figure, self.wish, self.table)) is not None)

    def _slope(self, ways: tuple[float, float], shares: Array) -> Array:
        """Along which both figures grow as the direction says, where a blend stands."""
        found = np.zeros(len(self.table))
        for way, ratio in zip(ways, self._ratios, strict=True):
            under = float(ratio.under @ shares)
            found += way * (ratio.over - ratio.of(shares) * ratio.under) / under
        return found
