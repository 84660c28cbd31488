"""Limits on acids over the lots that oils may come as: in what part of them they hold, and rows that make it more.

A lot of each oil is drawn from its published ranges, independently of the other oils, as the bands of a blend are.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from uptide.core.arrays import Array, quantiles
from uptide.core.figures.oil_profile import OMEGA_3
from uptide.core.finder.search.oil_table import LINOLEIC, OLEIC, OilTable
from uptide.core.finder.search.rows import OF_ACIDS
from uptide.core.finder.search.wish import Limit, Wish
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.lipids.draws import COUNT, draws_of
from uptide.core.lipids.fatty_acids import FattyAcid

EXTRA = 1e-4  # of a row: by so much it is made to hold, so that floats leave it held
BONDS = {"saturated": (0, 0), "monounsaturated": (1, 1), "polyunsaturated": (2, 9)}
CODES = {"linoleic": (LINOLEIC,), "oleic": (OLEIC,), "omega_3": OMEGA_3}


@dataclass(frozen=True, eq=False)
class LotRows:
    """Limits as rows, one for each lot: limits x lots x oils."""

    rows: Array

    @classmethod
    def of(cls, wish: Wish, table: OilTable) -> LotRows:
        """The rows of the limits that the make-up of a lot decides."""
        limits = [limit for limit in wish.limits if limit.figure in OF_ACIDS or limit.figure in ("acids", "iodine")]
        found = np.zeros((len(limits), COUNT, len(table)))
        for place, limit in enumerate(limits):
            for oil, item in enumerate(table.items):
                found[place, :, oil] = _of_oil(limit, item)
        return cls(found)

    def held(self, shares: Array) -> float:
        """In what part of the lots all limits hold."""
        return float((self.rows @ shares >= -EXTRA).all(axis=0).mean()) if len(self.rows) else 1.0

    def tangents(self, shares: Array, part: float) -> Iterator[Array]:
        """Rows along which limits hold in more lots, of those that hold in fewer than they must for all to hold."""
        unsure = [row for row in self.rows if (row @ shares < -EXTRA).any()]
        each = 1 - (1 - part) / max(1, len(unsure))
        for row in unsure:
            least = float(quantiles(row @ shares, (1 - each,))[0])
            if least < -EXTRA / 2:
                mean, spread = row.mean(axis=0), row.std(axis=0)
                wide = float(np.sqrt((spread * shares) @ (spread * shares)))
                steep = (float(mean @ shares) - least) / wide if wide > 0 else 0.0
                yield mean - steep * spread**2 * shares / max(wide, EXTRA) - EXTRA / 2


def _of_oil(limit: Limit, item: Ingredient) -> Array:
    """A limit's coefficient of one oil in each of its lots."""
    draws = draws_of(item.lipid) if item.lipid is not None else None
    sign = 1.0 if limit.at_least else -1.0
    if draws is None:
        bound = limit.bound if limit.figure in ("acids", "iodine") else 0.0
        return np.full(COUNT, -sign * bound / 100)
    if limit.figure == "iodine":
        return sign * (draws.iodine_value - limit.bound) / 100
    if limit.figure == "acids":
        return sign * (draws.fatty_acid_yield - limit.bound / 100)
    columns = [place for place, acid in enumerate(draws.acids) if _counts(limit.figure, acid)]
    share = draws.shares[:, columns].sum(axis=1)
    return np.asarray(sign * draws.fatty_acid_yield * (share - limit.bound / 100))


def _counts(figure: str, acid: FattyAcid) -> bool:
    if figure in BONDS:
        least, most = BONDS[figure]
        return least <= acid.double_bonds <= most
    return acid.code in CODES[figure]
