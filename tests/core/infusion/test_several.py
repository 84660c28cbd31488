"""Several plants in one jar, ground and roasted plant, plant added through a season, and a better oil on hand."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from itertools import pairwise

import pytest

from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.core.errors import QuantityError
from uptide.core.infusion.charge import Charge
from uptide.core.infusion.following import JarNote, JarUnderWay, NoteKind
from uptide.core.infusion.jar_lot import infusion_of
from uptide.core.infusion.judging import cautions_of, verdict_of
from uptide.core.infusion.packing import pressure_closed
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import State
from uptide.core.infusion.straining import Straining
from uptide.core.oxidation.history import HeatStep

PLANTS, OILS = shipped_plants(), shipped_catalogue().ingredients
ASK = JarAsk(PLANTS["calendula"], State.DRIED, OILS["olive"], grams=30.0, jar_ml=1000)
LAVENDER = Charge(PLANTS["lavender"], State.DRIED, 10.0)
BOTH = JarPlan(replace(ASK, also=(LAVENDER,)))


def test_two_plants_add_up() -> None:
    one, other = JarPlan(ASK), JarPlan(replace(ASK, plant=PLANTS["lavender"], grams=10.0))

    assert BOTH.plant_grams == 40
    assert BOTH.dry_grams == pytest.approx(36)
    assert BOTH.water == pytest.approx(0.1)
    assert BOTH.covers.after_a_day == pytest.approx(one.covers.after_a_day + other.covers.after_a_day)
    assert BOTH.covers.above == one.covers.above
    assert BOTH.keeps(Straining.DRIP) == pytest.approx((30 * 2.5 + 10 * 1.8) / 40)
    scent = 27 * 0.004 + 9 * PLANTS["lavender"].essential_oil[1] / 100
    assert BOTH.scent_bound == pytest.approx(100 * scent / BOTH.oil_grams)
    assert BOTH.done_after_hours == max(one.done_after_hours, other.done_after_hours)
    assert BOTH.months == min(one.months, other.months)


def test_what_two_plants_bring_of_one_substance_is_added() -> None:
    clove = Charge(PLANTS["clove"], State.DRIED, 10.0)
    once = JarPlan(replace(ASK, also=(clove,), oil_grams=600.0)).restricted[0]
    twice = JarPlan(replace(ASK, also=(clove, clove), oil_grams=600.0)).restricted[0]

    assert once.name == "eugenol"
    assert twice.at_most == pytest.approx(2 * once.at_most)
    # 9 g dry of 18 % scent, 85 % of it eugenol, in 600 g.
    assert once.at_most == pytest.approx(100 * 9 * 0.18 * 0.85 / 600)


def test_each_plant_says_its_own() -> None:
    said = {caution.message for caution in cautions_of(BOTH)}
    assert "Calendula: Not for whoever is allergic to daisies: they cross over." in said
    assert "Lavender: Allergens of its scent pass over and are to be declared." in said
    assert verdict_of(BOTH, ()).startswith("Calendula, dried and Lavender, dried, in olive oil")


def test_ground_plant_gives_in_hours_and_lies_denser() -> None:
    ground = JarPlan(replace(ASK, state=State.POWDERED, method="powder-overnight"))
    whole = JarPlan(ASK)

    assert ground.done_after_hours < 12 < whole.done_after_hours
    assert ground.covers.after_a_day < whole.covers.after_a_day
    assert ground.charges[0].form.key == "powder"
    assert ground.covers.bed_ml == pytest.approx(30 / 0.35)


def test_roasted_plant_is_drier_and_keeps_as_dried() -> None:
    roasted = JarPlan(replace(ASK, state=State.ROASTED))
    assert roasted.water == pytest.approx(0.03)
    assert roasted.months == PLANTS["calendula"].months_dried
    assert PLANTS["coffee"].water_in(State.ROASTED) == 0.02  # as it is
    assert JarPlan(replace(ASK, state=State.WILTED)).months == PLANTS["calendula"].months_fresh


def test_a_wide_jar_takes_more_oil_above_the_plant() -> None:
    wide, wider = (JarPlan(replace(ASK, width_cm=width)) for width in (10.0, 20.0))
    assert wider.covers.above == pytest.approx(4 * wide.covers.above)
    with pytest.raises(QuantityError, match="70 cm wide"):
        replace(ASK, width_cm=70.0)
    with pytest.raises(QuantityError, match="7 plants in one jar"):
        replace(ASK, also=(LAVENDER,) * 6)


def test_plant_that_is_added_makes_it_stronger_and_takes_its_own_time() -> None:
    begun = date(2026, 6, 1)
    added = [JarNote(begun + timedelta(days=7 * week), NoteKind.PLANT_ADDED, 10.0) for week in (1, 2)]
    plan = JarPlan(replace(ASK, method="topped-up", oil_grams=500.0))
    jar = JarUnderWay(plan, begun, added, begun + timedelta(days=30))
    before = JarUnderWay(plan, begun, (), jar.today)

    assert jar.filled.plant_grams == 50
    assert jar.filled.oil_grams == 500
    (calendula,) = infusion_of(jar, 1).plants
    assert calendula.strength == pytest.approx(45 / 500)
    assert jar.about_done_on - before.about_done_on == timedelta(days=14)
    assert (jar.filled.out[Straining.DRIP] or 0) < (jar.plan.out[Straining.DRIP] or 0)
    assert jar.planned_days == 84


def test_a_weak_oil_has_a_better_one_on_hand() -> None:
    weak = JarPlan(replace(ASK, oil=OILS["rosehip"], method="warm-bath"))

    def said(*on_hand: str) -> str:
        found = cautions_of(weak, [OILS[key] for key in on_hand])
        return next(caution.message for caution in found if caution.rule == "infusion-weak-oil")

    assert "take olive, high-oleic sunflower or jojoba" in said()
    assert "take olive, high-oleic sunflower or jojoba" in said("grapeseed", "shea-butter")
    assert "take jojoba oil (liquid wax), which is on hand" in said("grapeseed", "jojoba", "beeswax")


def test_what_a_way_costs_in_months() -> None:
    """Sunflower: 12.03 oxidation months, of which 6.373 % are 0.7667; example 22 of the note on steeping."""
    plan = JarPlan(replace(ASK, oil=OILS["sunflower"]))
    assert plan.oxidation_months == pytest.approx(12.03, abs=0.005)
    assert 0.06373 * (plan.oxidation_months or 0) == pytest.approx(0.7667, abs=0.0005)
    assert JarPlan(replace(ASK, oil=OILS["squalane"])).oxidation_months is None


@pytest.mark.parametrize("celsius", [80.0, 85.0, 90.0])
def test_no_cliff_between_80_and_90_degrees(celsius: float) -> None:
    plan = JarPlan(replace(ASK, oil=OILS["sunflower"]))
    before, at, after = (plan.spends((HeatStep(celsius + step, 1),)) for step in (-0.1, 0.0, 0.1))
    assert before < at < after
    assert after / before == pytest.approx(1.0, abs=0.03)


def test_no_cliff_at_five_percent_of_head_room() -> None:
    plans = [JarPlan(replace(ASK, jar_ml=500.0, oil_grams=grams)) for grams in (416.5, 416.9, 417.3, 417.7)]
    rooms = [plan.head_room for plan in plans]
    assert rooms[0] > 0.05 > rooms[-1]
    pressures = [pressure_closed(room, 15, 40) for room in rooms]
    assert all(1 < b / a < 1.05 for a, b in pairwise(pressures))


def test_plant_that_is_added_takes_no_other_out() -> None:
    full = JarPlan(replace(ASK, also=(LAVENDER,) * 5, oil_grams=900.0))
    note = JarNote(date(2026, 6, 8), NoteKind.PLANT_ADDED, 12.0)
    filled = JarUnderWay(full, date(2026, 6, 1), [note], date(2026, 6, 20)).filled
    assert filled.plant_grams == pytest.approx(full.plant_grams + 12)
    assert len(filled.charges) == 6


def test_a_second_infusion_of_the_same_plant_adds_its_bound() -> None:
    clove = replace(ASK, plant=PLANTS["clove"], oil_grams=600.0)
    once = JarPlan(clove)
    poured = replace(OILS["olive"], scented_by=(("clove-bud", once.scent_bound),))
    twice = JarPlan(replace(clove, oil=poured, oil_grams=500.0))  # m1/O + m2/O1

    expected = once.restricted[0].at_most * (1 + 600 / 500)
    assert twice.restricted[0].at_most == pytest.approx(expected)
    assert twice.scent_bound == pytest.approx(once.scent_bound * (1 + 600 / 500))
    assert JarPlan(replace(ASK, oil=poured)).restricted == ()
