"""Every figure of a jar says the plan’s own number, with what went in and its doubt."""

from __future__ import annotations

from dataclasses import replace
from math import pi

import pytest

from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.core.infusion.figures import figures_of
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import PlantFacts, State
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


@pytest.mark.parametrize("pressed", [False, True])
@pytest.mark.parametrize("state", State)
@pytest.mark.parametrize("plant", shipped_plants().values(), ids=lambda plant: plant.key)
def test_the_working_gives_the_figure_and_the_figure_lies_in_its_band(
    plant: PlantFacts, state: State, *, pressed: bool
) -> None:
    ask = JarAsk(plant, state, PLAN.ask.oil, grams=20.0, jar_ml=1000.0, width_cm=10.0, pressed=pressed)
    cover, top_up, room = figures_of(JarPlan(ask))[:3]
    grams, bulk, airy, width, above = (each.value for each in cover.inputs)

    assert cover.value is not None
    # As the methods tell it, of oil of 0.92 g/mL: the bed less plant and the air in it, and a layer above.
    assert cover.value == pytest.approx(0.92 * (grams * (1 / bulk - 1 / airy) + pi / 4 * width**2 * above))
    grams, airy, solid = (each.value for each in top_up.inputs)
    assert top_up.value == pytest.approx(0.92 * grams * (1 / airy - 1 / solid))
    brim, oil, grams, solid = (each.value for each in room.inputs)
    assert room.value == pytest.approx(100 * (1 - (grams / solid + oil / 0.92) / brim))
    assert (cover.low or 0) <= cover.value <= (cover.high or 0)
    assert (cover.high or 0) - (cover.low or 0) < 0.92 * grams / bulk


def test_a_hand_presses_the_first_plant_down_and_its_loosest_and_densest_too() -> None:
    # Calendula: 0.05, 0.08 and 0.12 g/mL loose, pressed 2.5 times as dense but not past 0.35; assumptions of handling.
    plant = replace(shipped_plants()["calendula"], bulk=(0.05, 0.08, 0.12))
    cover = figures_of(JarPlan(JarAsk(plant, State.DRIED, PLAN.ask.oil, grams=30.0, width_cm=8.0, pressed=True)))[0]
    above = 0.92 * pi / 4 * 8**2 * 1.5

    assert cover.inputs[1].value == pytest.approx(0.2)
    for found, bulk in ((cover.high, 0.125), (cover.value, 0.2), (cover.low, 0.3)):
        assert found == pytest.approx(0.92 * 30 * (1 / bulk - 1 / 0.5) + above)
