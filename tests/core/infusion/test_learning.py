"""What the own jars taught of a plant, shrunk towards the table."""

from __future__ import annotations

from datetime import date, timedelta
from math import sqrt

import pytest

from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.core.infusion.following import JarNote, JarUnderWay, NoteKind
from uptide.core.infusion.learning import learn, taught_words
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import State

PLANTS = shipped_plants()
CALENDULA, OLIVE = PLANTS["calendula"], shipped_catalogue().ingredients["olive"]
BEGUN = date(2026, 1, 5)


def strained(times: float, *more: JarNote, plant: str = "calendula", state: State = State.DRIED) -> JarUnderWay:
    """A jar whose plant kept so many times what the table says."""
    plan = JarPlan(JarAsk(PLANTS[plant], state, OLIVE, grams=50.0, oil_grams=500.0))
    meant = plan.comes_out(plan.ask.straining)
    out = plan.oil_grams - times * meant.kept_by_plant - meant.films - meant.bottoms
    notes = (*more, JarNote(BEGUN + timedelta(days=35), NoteKind.STRAINED, out))
    return JarUnderWay(plan, BEGUN, notes, BEGUN + timedelta(days=90))


def test_one_jar_counts_a_third_and_many_count_almost_whole() -> None:
    one = learn(CALENDULA, [strained(1.5)])
    many = learn(CALENDULA, [strained(1.5)] * 50)

    assert one.keeps == pytest.approx(1.5 ** (1 / 3))
    assert many.keeps == pytest.approx(1.5, rel=0.02)
    assert one.plant.uptake.drained == pytest.approx(2.5 * one.keeps)
    assert taught_words(one) == "By your own jar it keeps 14 % more oil than the table says."
    assert learn(CALENDULA, [strained(2.0 / 1.3), strained(1.3 / 2.0)]).keeps == pytest.approx(1.0)


def test_the_pressed_plant_says_it_better() -> None:
    plan = strained(1.0).plan
    marc = JarNote(
        BEGUN + timedelta(days=35),
        NoteKind.MARC,
        plan.dry_grams + 1.44 * plan.comes_out(plan.ask.straining).kept_by_plant,
    )
    assert learn(CALENDULA, [strained(1.0, marc)] * 2).keeps == pytest.approx(sqrt(1.44))


def test_a_spill_and_other_plants_teach_nothing() -> None:
    assert learn(CALENDULA, [strained(2.1), strained(0.4)]).of_oil == 0
    assert learn(CALENDULA, [strained(1.5, plant="yarrow")]).keeps == 1.0
    binned = JarUnderWay(strained(1.5).plan, BEGUN, [JarNote(BEGUN, NoteKind.BINNED)], BEGUN)
    assert learn(CALENDULA, [binned]).keeps == 1.0
    assert taught_words(learn(CALENDULA, [])) == ""


def test_water_is_learnt_from_weighings_of_fresh_plant() -> None:
    first = JarNote(BEGUN, NoteKind.WEIGHED, 900.0)
    jar = strained(
        1.0, first, JarNote(BEGUN + timedelta(days=2), NoteKind.WEIGHED, 900.0 - 0.94 * 50), state=State.FRESH
    )
    found = learn(CALENDULA, [jar])

    assert found.of_water == 1
    assert found.plant.water_fresh == pytest.approx((0.94 + 2 * 0.88) / 3)
    assert "by your own weighing it is 90 % water when fresh" in taught_words(found)
    assert learn(CALENDULA, [strained(1.0, first, state=State.FRESH)]).of_water == 0
