"""From a place on the chart of oils to a wish: the nearest place that a blend has which keeps it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from uptide.core.arrays import Array
from uptide.core.finder.search.oil_table import OilTable
from uptide.core.finder.search.rows import ON_CHART, Ratio, ratio_of
from uptide.core.finder.search.search import RATIOS, dive_for
from uptide.core.finder.search.solving import MOST_ROOM
from uptide.core.finder.search.wish import Wish
from uptide.core.oxidation.simulate import Draws

FARTHEST, SMALLEST = 300.0, 1e-6  # % of the way across the chart: how far anything is, and what is no way


def nearest(wish: Wish, table: OilTable, draws: Draws, place: tuple[float, float]) -> Array | None:
    """The shares of the blend that lies nearest to a place on the chart, of those that keep a wish; None for none.

    By the larger of the ways across and upward [% of the way, as `OilChart.percent` has it].
    """
    dive, ratios = dive_for(wish, table, draws), chart_ratios(wish, table)
    if dive is None or not ratios:
        return None
    ways = [ratio.over - value * ratio.under for ratio, value in zip(ratios, place, strict=True)]
    held, found = table.acids["all"], None
    # No other limit is given room: what there is of it is how much nearer a blend lies than so far.
    rows = replace(dive.program.rows, units=np.zeros_like(dive.program.rows.units))
    dive, far = replace(dive, program=replace(dive.program, rows=rows)), FARTHEST
    for _ in range(RATIOS):
        only = [(held * far - sign * way) * MOST_ROOM / far for way in ways for sign in (1, -1)]
        ahead = dive.with_room(only)
        away = far if ahead is None else max(abs(float(way @ ahead / (held @ ahead))) for way in ways)
        if away >= far:
            break
        found, far = ahead, max(away, SMALLEST)
    return found


def chart_ratios(wish: Wish, table: OilTable) -> tuple[Ratio, ...]:
    """How far across and up the chart blends lie; none where there is no chart."""
    return tuple(ratio for figure in ON_CHART if (ratio := ratio_of(figure, wish, table)) is not None)


def nearest_place(wish: Wish, table: OilTable, draws: Draws, place: tuple[float, float]) -> dict[str, float]:
    """The figures of the nearest place that a blend has, by their names; empty where no blend keeps the wish."""
    found = nearest(wish, table, draws, place)
    if found is None:
        return {}
    return {figure: ratio.of(found) for figure, ratio in zip(ON_CHART, chart_ratios(wish, table), strict=True)}
