"""The chart of oils: a flat picture on which near means alike.

Each acid is first described by how it stands to every other (a Gaussian of their difference in double bonds, chain
length and odd features, KERNEL wide), so that lauric lies near myristic and far from linolenic; the two directions in
which the oils of the catalogue then differ most are the axes (principal components of a kernel). The place of an oil
is the mean of the places of its acids, weighed by their shares. So a blend lies between its oils, on the straight line
of two, in the triangle of three; what a set of oils can reach is the polygon around them.
docs/decisions/0007 has the choice and its measures.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from uptide.core.arrays import Array
from uptide.core.lipids.fatty_acids import FattyAcid

KERNEL = 0.7  # width of the likeness of two acids, in double bonds; chosen so that neighbours stay neighbours
CARBONS_A_BOND = 3.0  # carbons of chain that count like one double bond
ODD = 1.5  # a hydroxyl group or conjugation counts like so many double bonds
MOST_BONDS = 3  # from three double bonds on acids count as alike
LEFT, RIGHT, UP = "12:0", "18:2n6", "18:1n9"  # acids: a level line from the first to the second, the third above it
TWO_IN_THREE = 1.4823  # standard deviations of a plane normal law within which 2/3 of it lies: sqrt(2 ln 3)


@dataclass(frozen=True, slots=True)
class Place:
    """Where an oil lies, and how far its lots lie around it: half axes of the ellipse of two in three, and its turn."""

    x: float
    y: float
    wide: float = 0.0
    narrow: float = 0.0
    turn: float = 0.0  # degrees, from the x axis


class OilChart:
    """The projection, made from the profiles of many oils.

    Args:
        profiles: mass fractions [g/g] of the fatty acids of each oil that the axes are fitted to.
        acids: every acid that may be asked for, by code.
    """

    def __init__(self, profiles: Sequence[Mapping[str, float]], acids: Mapping[str, FattyAcid]) -> None:
        self.codes = tuple(code for code, acid in acids.items() if not acid.is_alcohol)
        self._column = {code: place for place, code in enumerate(self.codes)}
        described = np.array([_features(acids[code]) for code in self.codes])
        apart = ((described[:, None, :] - described[None, :, :]) ** 2).sum(-1)
        values, vectors = np.linalg.eigh(np.exp(-apart / (2 * KERNEL**2)))
        features = vectors * np.sqrt(np.maximum(values, 0.0))
        table = np.array([self._row(profile) for profile in profiles]) @ features
        self._middle = table.mean(axis=0)
        _, sizes, axes = np.linalg.svd(table - self._middle, full_matrices=False)
        self.explained = tuple(float(v) for v in (sizes**2 / (sizes**2).sum())[:2])
        flat = features @ axes[:2].T
        centre = self._middle @ axes[:2].T
        self._flat: Array = _turned(flat - centre, *(self._column[code] for code in (LEFT, RIGHT, UP)))
        places = np.array([self._row(profile) for profile in profiles]) @ self._flat
        self._first, self._span = places.min(axis=0), np.ptp(places, axis=0)

    def _row(self, profile: Mapping[str, float]) -> Array:
        row = np.zeros(len(self.codes))
        for code, share in profile.items():
            if code in self._column:
                row[self._column[code]] = share
        return row

    def acid(self, code: str) -> tuple[float, float]:
        """Where an oil of nothing but this acid would lie."""
        x, y = self._flat[self._column[code]]
        return float(x), float(y)

    def place(self, profile: Mapping[str, float]) -> tuple[float, float]:
        """Where an oil with this profile [g/g] lies."""
        x, y = self._row(profile) @ self._flat
        return float(x), float(y)

    def percent(self, place: tuple[float, float]) -> tuple[float, float]:
        """How far across and up a place lies [%], from the first of the oils that the axes are fitted to to the last.

        The percent of a blend are those of its oils, weighed by their acids.
        """
        across, upward = 100 * (np.array(place) - self._first) / self._span
        return float(across), float(upward)

    def spread(self, profile: Mapping[str, float], codes: Sequence[str], lots: Array) -> Place:
        """Where an oil lies, with the ellipse that holds two in three of its possible lots (lots x codes, g/g)."""
        x, y = self.place(profile)
        drawn = lots @ self._flat[[self._column[code] for code in codes]]
        values, vectors = np.linalg.eigh(np.cov(drawn.T))
        narrow, wide = np.sqrt(np.maximum(values, 0.0)) * TWO_IN_THREE
        turn = float(np.degrees(np.arctan2(vectors[1, 1], vectors[0, 1])))
        return Place(x, y, wide=float(wide), narrow=float(narrow), turn=turn)

    def longest(self, count: int, profiles: Iterable[Mapping[str, float]]) -> tuple[str, ...]:
        """The acids that move oils most on the chart: their reach from the middle times the most that any oil has."""
        most = np.max([self._row(profile) for profile in profiles], axis=0)
        reach = np.hypot(self._flat[:, 0], self._flat[:, 1]) * most
        return tuple(self.codes[place] for place in np.argsort(-reach)[:count])


@dataclass(frozen=True, slots=True)
class Plane:
    """A figure as a plane over the chart, by least squares: its value in the middle, its slopes, how well it fits."""

    middle: float
    per_x: float
    per_y: float
    explained: float  # part of the spread, 0 to 1

    def x_of(self, value: float, y: float) -> float:
        """Where on a level line the figure has a value."""
        return (value - self.middle - self.per_y * y) / self.per_x


def plane_of(places: Sequence[Place], values: Sequence[float]) -> Plane:
    """Fit a plane to the values at some places."""
    table = np.array([(1.0, place.x, place.y) for place in places])
    known = np.array(values)
    fitted, *_ = np.linalg.lstsq(table, known, rcond=None)
    rest = known - table @ fitted
    explained = 1 - float((rest**2).sum() / ((known - known.mean()) ** 2).sum())
    middle, per_x, per_y = (float(v) for v in fitted)
    return Plane(middle, per_x, per_y, explained)


def _features(acid: FattyAcid) -> tuple[float, float, float]:
    odd = ODD * (min(acid.hydroxyl_groups, 1) + (1 if acid.conjugated else 0))
    return (float(min(acid.double_bonds, MOST_BONDS)), acid.carbons / CARBONS_A_BOND, odd)


def _turned(flat: Array, left: int, right: int, up: int) -> Array:
    """Turn the picture so that one acid lies level and to the right of another, with a third above the second."""
    across = flat[right] - flat[left]
    angle = -np.arctan2(across[1], across[0])
    turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    turned: Array = flat @ turn.T
    if turned[up, 1] < turned[right, 1]:
        turned[:, 1] *= -1
    return turned
