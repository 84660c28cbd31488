"""The figures of a planned jar with their working: what went in, by which formula, from where, and with what doubt."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from uptide.core.figures.citing import cited
from uptide.core.figures.finding import FigureSpec, Finding, Input
from uptide.core.figures.specs import (
    JAR_ACTIVITY,
    JAR_BOUND,
    JAR_CLEAR,
    JAR_COVER,
    JAR_DONE,
    JAR_HEAD_ROOM,
    JAR_LIFE,
    JAR_MUST_LEAVE,
    JAR_OUT,
    JAR_TOP_UP,
    JAR_TWICE,
)
from uptide.core.infusion.charge import Charge
from uptide.core.infusion.plan import ABOVE_CM, JarPlan
from uptide.core.infusion.straining import BOTTOMS
from uptide.core.infusion.water import SAFE_ACTIVITY

DAY = 24.0  # h
FOUR = 4.0  # times sooner or later it can be done


def figures_of(plan: JarPlan) -> tuple[Finding, ...]:
    """Every figure of a planned jar that a person may want to check, in the order of the page."""
    return tuple(_figures(plan))


def _figures(plan: JarPlan) -> Iterator[Finding]:
    covers = plan.covers
    plants = _each(plan, "as it goes in", "g", lambda each: each.grams)
    waters = _each(plan, "water in it", "%", lambda each: 100 * each.moisture)
    keeps = _each(plan, f"keeps, {plan.ask.straining.value}", "g", lambda each: each.keeps(plan.ask.straining))
    oil = Input("Oil in all", plan.oil_grams, "g")
    activity = Input("Activity of the water", plan.jar_water.activity, "")
    loose = _each(plan, "as it lies in the jar", "g/mL", lambda each: each.bulk)
    bulks = [replace(each, value=bulk) for each, bulk in zip(loose, plan.bulks, strict=True)]
    airs = _each(plan, "with the air in it, ρe", "g/mL", lambda each: each.form.with_air)
    solids = _each(plan, "without air, ρs", "g/mL", lambda each: each.form.solid)
    jar = (Input("Inner width of the jar", plan.width_cm, "cm"), Input("Oil above the plant", ABOVE_CM, "cm"))
    at_once = _figure(JAR_COVER, covers.to_cover, (*plants, *bulks, *airs, *jar))
    yield replace(at_once, low=plan.covered_at(2).to_cover, high=plan.covered_at(0).to_cover)
    yield _figure(JAR_TOP_UP, covers.top_up, (*plants, *airs, *solids))
    brim = Input("Jar to the brim", plan.ask.jar_ml, "mL")
    yield _figure(JAR_HEAD_ROOM, 100 * plan.head_room, (brim, oil, *plants, *solids))
    yield _figure(JAR_ACTIVITY, plan.jar_water.activity, (*plants, *waters, oil))
    safe = Input("Activity at which nothing grows", SAFE_ACTIVITY, "")
    yield _figure(JAR_MUST_LEAVE, plan.must_leave, (*plants, *waters, safe))
    strained_at = Input("Strained at", plan.method.strained_at, "°C")
    yield _figure(JAR_CLEAR, plan.clouds_below, (strained_at, activity))
    dregs = Input("Left with the dregs", 100 * BOTTOMS, "%")
    yield _figure(JAR_OUT, plan.out[plan.ask.straining], (oil, *keeps, dregs))
    if plan.life_spent is not None:
        method = plan.method
        steps = (Input("Hours", method.hours, "h"), Input("Warmest", method.hottest, "°C"))
        air = Input("Air, times that of a closed bottle", max(step.air for step in method.steps), "")
        yield _figure(JAR_LIFE, 100 * min(1.0, plan.life_spent), (*steps, air))
    days = plan.done_after_hours / DAY
    slow = _each(plan, "most of it diffuses in", "h", lambda each: each.extraction.diffusing_hours)
    yield replace(_figure(JAR_DONE, days, slow), low=days / FOUR, high=days * FOUR)
    stood = tuple(Input("Oil that a charge stands in", grams, "g") for grams in plan.oils)
    if plan.scent_bound:
        scents = _each(plan, "scent in it, at most", "%", lambda each: each.plant.essential_oil[1])
        yield _figure(JAR_BOUND, plan.scent_bound, (*scents, *stood))
    if plan.twice is not None:
        yield _figure(JAR_TWICE, plan.twice, (*plants, oil, *keeps))


def _figure(spec: FigureSpec, value: float | None, inputs: Sequence[Input]) -> Finding:
    """A figure of a plant; all that is known of one is low in confidence."""
    return Finding(spec=spec, value=value, inputs=tuple(inputs), sources=cited(inputs), confidence="low")


def _each(plan: JarPlan, what: str, unit: str, of: Callable[[Charge], float]) -> tuple[Input, ...]:
    """A number of each plant, with the source of its row."""
    return tuple(
        Input(
            f"{each.plant.called}, {what}",
            of(each),
            unit,
            source=each.plant.source,
            confidence=each.plant.confidence,
        )
        for each in plan.charges
    )
