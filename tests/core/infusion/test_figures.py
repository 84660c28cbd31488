"""Every figure of a jar says the plan’s own number, with what went in and its doubt."""

from __future__ import annotations

import pytest

from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.core.infusion.figures import figures_of
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import State
from uptide.core.methods.every import METHODS

PLAN = JarPlan(
    JarAsk(
        shipped_plants()["lavender"],
        State.FRESH,
        shipped_catalogue().ingredients["olive"],
        method="warm-bath",
        grams=40.0,
        jar_ml=1000.0,
    )
)
FOUND = {figure.method: figure for figure in figures_of(PLAN)}


@pytest.mark.parametrize(
    ("method", "value"),
    [
        ("jar_cover", PLAN.covers.at_once + PLAN.covers.above),
        ("jar_top_up", PLAN.covers.top_up),
        ("jar_head_room", 100 * PLAN.head_room),
        ("jar_activity", PLAN.jar_water.activity),
        ("jar_must_leave", PLAN.must_leave),
        ("jar_clear", PLAN.clouds_below),
        ("jar_out", PLAN.out[PLAN.ask.straining]),
        ("jar_life", 100 * (PLAN.life_spent or 0)),
        ("jar_done", PLAN.done_after_hours / 24),
        ("jar_bound", PLAN.scent_bound),
        ("jar_twice", PLAN.twice),
    ],
)
def test_each_says_what_the_plan_says(method: str, value: float) -> None:
    assert FOUND[method].value == value
    assert FOUND[method].inputs
    assert METHODS[method].doubt


def test_the_bands_are_those_that_are_told() -> None:
    done, cover = FOUND["jar_done"], FOUND["jar_cover"]
    assert done.low == pytest.approx((done.value or 0) / 4)
    assert done.high == pytest.approx(4 * (done.value or 0))
    assert (cover.low or 0) < (cover.value or 0) < (cover.high or 0)
    low, typical, high = PLAN.ask.plant.bulk
    # The air around plant is 1/b − 1/ρe a gram: of the loosest (low) most.
    wanted = 0.92 * 40 * (1 / low - 1 / typical)
    assert (cover.high or 0) - (cover.value or 0) == pytest.approx(wanted)
    assert high > typical
