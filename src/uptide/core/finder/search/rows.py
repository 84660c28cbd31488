"""A wish as rows: c · w ≥ 0 for the shares w of the oils, each row divided by its largest entry.

The shares sum to 1, so that every limit can be written without knowing the whole.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from math import log
from typing import NamedTuple

import numpy as np

from uptide.core.arrays import Array
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.figures.physical import TINTED_SKIN
from uptide.core.finder.search.oil_table import OXIDISABLE, OilTable
from uptide.core.finder.search.wish import Limit, Wish
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.physics.colour import SKIN_TONES, difference, on_skin
from uptide.core.physics.solid import CLEAR, Melt, Melting
from uptide.core.skin.verdicts import (
    BALANCED,
    COMEDOGENIC_FROM,
    COMEDOGENICITY_MOST,
    FEW_ACIDS,
    HEAVY_FOR_NORMAL,
    HEAVY_MOST,
    LADEN,
    LEAN,
    NEARLY_BALANCED,
    RICH_ENOUGH,
)
from uptide.core.tolerance import exceeds, reaches

TRACE = 0.8 * COMEDOGENIC_FROM / 100  # g/g: what clogs too much is no larger part, lest it hide under the rule's edge
OF_ACIDS = frozenset({"linoleic", "oleic", "omega_3", "saturated", "monounsaturated", "polyunsaturated"})
ON_CHART = ("across", "upward")
LOGARITHMIC = frozenset({"thickness", "viscosity"})  # figures that are ratios by their logarithm
MOST_TINTED = 100.0  # g/g of an oil that hardly tints: what needs half of it for a tint makes none
HALVES = 40  # of a share, when the most of a butter that stays clear is looked for
TINY, TYPICAL_DENSITY = 1e-12, 0.92  # of a row; g/mL
# Steps that are felt: 5 points of an acid in oils of 90 % acids, half a class of feel, an eighth thicker.
UNITS = dict.fromkeys(OF_ACIDS, 0.045) | {
    "acids": 5.0,
    "iodine": 8.0,
    "saponification": 8.0,
    "carries": 5.0,
    "balance": 2.0,
    "clog_by_mass": 0.25,
    "feel": 0.4,
    "thickness": log(1.12),
    "viscosity": log(1.12),
    "inert": 0.1,
    "across": 3.0,
    "upward": 3.0,
}


@dataclass(frozen=True, eq=False)
class Rows:
    """Rows that must all hold, sets of rows of which one must hold each, and the most of each oil [g/g]."""

    all_of: Array  # rows x oils
    units: Array  # of each row: how much of it is a step that is felt, scaled as the row is
    one_of: tuple[Array, ...]
    most: Array


def rows_of(wish: Wish, table: OilTable) -> Rows:
    """The rows of a wish; keeping and clearness, which are no rows, are caps here and checked by the search."""
    found: list[tuple[Array, float]] = []  # each row with its unit
    one_of: list[Array] = []
    for limit in wish.limits:
        row = _row(limit, wish, table)
        if row is not None:
            found.append((row, _unit(limit)))
    for row in _skin(wish.skin, table) if wish.skin else ():
        if row.ndim == 1:
            found.append((row, 0.0))
        else:
            one_of.append(row)
    for place in np.flatnonzero(table.left * table.volume < wish.millilitres):  # a bottle of it is more than is left
        row = table.left[place] * table.volume
        row[place] -= wish.millilitres
        found.append((row, 0.0))
    sizes = [max(float(np.abs(row).max(initial=0.0)), TINY) for row, _ in found]
    return Rows(
        np.array([row / size for (row, _), size in zip(found, sizes, strict=True)]).reshape(len(found), len(table)),
        np.array([unit / size for (_, unit), size in zip(found, sizes, strict=True)]),
        tuple(np.array([scaled(row) for row in ways]) for ways in one_of),
        caps(wish, table),
    )


def caps(wish: Wish, table: OilTable) -> Array:
    """The most of each oil [g/g]: its usual share, and none of what is forbidden or of which something is not known."""
    most = np.where(table.lasts < max(wish.months, 0.0), 0.0, np.minimum(1.0, table.usual))
    for place, item in enumerate(table.items):
        held = oil_profile(item).allergens
        if wish.families and (held is None or held & wish.families):
            most[place] = 0.0
        if {item.key, item.base_key} & wish.without or item.key in wish.barred:
            most[place] = 0.0
    for figure in {limit.figure for limit in wish.limits}:
        known = table.patchy(figure)
        if known is not None:
            most = np.where(np.isnan(known), 0.0, most)
    if wish.skin:
        most = np.where(np.isnan(table.feel), 0.0, most)
    clogs = min((limit.bound for limit in wish.limits if limit.figure == "clog"), default=None)
    if wish.skin in ("oily", "combination"):
        clogs = COMEDOGENICITY_MOST if clogs is None else min(clogs, COMEDOGENICITY_MOST)
    if clogs is not None:
        most = np.where(np.isnan(table.clog) | (table.clog > clogs), np.minimum(most, TRACE), most)
    if wish.clear_at is not None:
        most = np.minimum(most, [clear_share(table, place, wish.clear_at) for place in range(len(table))])
    return np.where(most < wish.least, 0.0, most)


def clear_share(table: OilTable, place: int, celsius: float) -> float:
    """The most of one oil [g/g] that is clear at a temperature [°C] in something that never sets."""
    item = table.items[place]

    def solid(share: float) -> float:
        return Melt.of((Melting(share, item.lipid, item.melting, item.cloud_shift),)).solid_at(celsius)

    if not reaches(solid(1.0), CLEAR):
        return 1.0
    low, high = 0.0, 1.0
    for _ in range(HALVES):
        middle = (low + high) / 2
        low, high = (middle, high) if not reaches(solid(middle), CLEAR) else (low, middle)
    return low


class Ratio(NamedTuple):
    """A figure of a blend as a ratio of two sums over its shares, in the units of the limit."""

    over: Array
    under: Array

    def of(self, shares: Array) -> float:
        """What it is in a blend."""
        return float(self.over @ shares / (self.under @ shares))


def ratio_of(figure: str, wish: Wish, table: OilTable) -> Ratio | None:
    """A figure as a ratio, those of LOGARITHMIC by their logarithm; None for what is none."""
    acids, whole = table.acids, np.ones(len(table))
    if figure in OF_ACIDS:
        return Ratio(100 * acids[figure], acids["all"])
    made: Mapping[str, Array] = {
        "acids": 100 * acids["all"],
        "iodine": table.iodine,
        "saponification": table.saponification,
        "carries": 100 * np.divide(acids["oleic"], acids["all"], out=np.zeros(len(table)), where=acids["all"] > 0),
        "feel": np.nan_to_num(table.feel),
        "thickness": np.nan_to_num(table.ln_thickness),
        "viscosity": np.nan_to_num(table.ln_viscosity),
        "inert": np.where(table.keeping[:, OXIDISABLE] == 0, 100.0, 0.0),
    }
    if figure == "clog_by_mass":
        return Ratio(np.nan_to_num(table.clog), np.where(np.isnan(table.clog), TINY, 1.0))
    if figure == "balance":
        share = np.divide(1.0, acids["all"], out=np.zeros(len(table)), where=acids["all"] > 0)
        return Ratio(100 * acids["linoleic"] * share, (acids["linoleic"] + acids["oleic"]) * share + TINY)
    if figure in ON_CHART and wish.chart is not None:
        places = (wish.chart.percent(wish.chart.place(oil_profile(item).shares)) for item in table.items)
        return Ratio(acids["all"] * np.array([place[ON_CHART.index(figure)] for place in places]), acids["all"])
    if figure == "cost":
        return Ratio(wish.millilitres * np.nan_to_num(table.price), table.volume)
    return Ratio(made[figure], whole) if figure in made else None


def _row(limit: Limit, wish: Wish, table: OilTable) -> Array | None:
    """A limit on a figure; None for what is no row."""
    if limit.figure == "tint" and not limit.at_least:
        return 1 - np.array([_of_tint(item, limit.bound) for item in table.items])
    ratio = ratio_of(limit.figure, wish, table)
    if ratio is None:
        return None
    bound = log(max(limit.bound, TINY)) if limit.figure in LOGARITHMIC else limit.bound
    row = (ratio.over - bound * ratio.under) / (100 if limit.figure in OF_ACIDS else 1)
    return np.asarray(row if limit.at_least else -row)


@lru_cache(maxsize=1024)
def _of_tint(item: Ingredient, bound: float) -> float:
    """What part of a tint a gram of an oil makes in a gram of the blend: oils that tint alike add up to the whole."""
    strength = float(item.appearance.tint if item.appearance else 1)
    low, high = 0.0, MOST_TINTED
    for _ in range(HALVES):
        middle = (low + high) / 2
        skin = SKIN_TONES[TINTED_SKIN]
        seen = difference(skin, on_skin([(middle, item.colour, strength)], skin))
        low, high = (middle, high) if not reaches(seen, bound) else (low, middle)
    return 0.0 if not exceeds(MOST_TINTED, 2 * low) else 1 / max(low, TINY)


def _unit(limit: Limit) -> float:
    """A step of a figure that is felt, in the units of its row; policy."""
    if limit.figure == "cost":
        return 0.1 * limit.bound / TYPICAL_DENSITY
    return UNITS.get(limit.figure, 0.0)


def _skin(skin: str, table: OilTable) -> list[Array]:
    """What a kind of skin wants: rows, and sets of which one must hold; see the rule in the verdicts of skin."""
    feel, acids = np.nan_to_num(table.feel), table.acids
    share = {
        name: np.divide(acids[name], acids["all"], out=np.zeros(len(table)), where=acids["all"] > 0) for name in acids
    }
    c18 = share["linoleic"] + share["oleic"]
    few = FEW_ACIDS / 200 - 1e-6 - c18
    if skin in ("oily", "combination"):
        wanted = (BALANCED if skin == "oily" else NEARLY_BALANCED) / 100
        return [LEAN - feel, HEAVY_MOST / 100 - table.long_saturated, np.array([few, share["linoleic"] - wanted * c18])]
    if skin in ("dry", "mature"):
        oleic = BALANCED / 100 * c18 - 1e-6 - share["linoleic"]
        return [np.array([few, feel - RICH_ENOUGH, oleic])]
    gentle = np.where(np.isnan(table.clog) | (table.clog >= COMEDOGENICITY_MOST), -1.0, 0.0)
    return [np.array([LADEN - feel, np.minimum(HEAVY_FOR_NORMAL / 100 - table.long_saturated, gentle)])]


def scaled(row: Array) -> Array:
    """A row with its largest entry at 1, as the solver likes it."""
    largest = float(np.abs(row).max(initial=0.0))
    return row / largest if largest > 0 else row
