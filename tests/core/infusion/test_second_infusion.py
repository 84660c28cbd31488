"""A second charge of plant in the same oil, and another part of a plant than its table is of."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from statistics import median

import pytest

from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.core.errors import QuantityError
from uptide.core.infusion.following import JarNote, JarUnderWay, NoteKind
from uptide.core.infusion.jar_lot import infusion_of
from uptide.core.infusion.judging import cautions_of, verdict_of
from uptide.core.infusion.learning import learn
from uptide.core.infusion.parts import PARTS, of_part
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import State
from uptide.core.infusion.straining import Straining

PLANTS, OILS = shipped_plants(), shipped_catalogue().ingredients
BEGUN = date(2026, 9, 1)
ONCE = JarAsk(
    PLANTS["calendula"],
    State.DRIED,
    OILS["olive"],
    grams=100.0,
    oil_grams=800.0,
    straining=Straining.PRESS,
    jar_ml=2000,
)
TWICE = replace(ONCE, method="second-infusion")


def test_equal_plant_again_makes_it_2_176_times_as_strong() -> None:
    # Worked: 100 g and 100 g in 800 g, pressed (1.2 g/g): 100/800 + 100/680 of dry herb, against 100/800.
    once, twice = JarPlan(ONCE), JarPlan(TWICE)
    (charge,) = twice.charges
    assert twice.oils == pytest.approx((800, 680))
    assert twice.strength_of(charge) / once.strength_of(charge) == pytest.approx(2.176, abs=5e-4)
    assert twice.twice == pytest.approx(2.176, abs=5e-4)
    assert twice.extract_in_oil == pytest.approx(2.176 * once.extract_in_oil, rel=1e-3)


def test_each_charge_keeps_its_oil_and_dregs_are_left_once() -> None:
    once, twice = JarPlan(ONCE), JarPlan(TWICE)
    films = 7.2
    assert once.out[Straining.PRESS] == pytest.approx((800 - 120) * 0.97 - films)
    assert twice.out[Straining.PRESS] == pytest.approx((800 - 240) * 0.97 - films)


def test_the_first_charge_is_covered_with_what_the_second_one_will_lack() -> None:
    by_eye = replace(ONCE, grams=None, oil_grams=None)
    once, twice = JarPlan(by_eye), JarPlan(replace(by_eye, method="second-infusion"))
    assert twice.oil_grams == pytest.approx(once.oil_grams + twice.kept)
    assert "infusion-covered" not in {found.rule for found in cautions_of(twice)}
    assert "infusion-covered" in {
        found.rule for found in cautions_of(JarPlan(replace(TWICE, oil_grams=once.kept + 99)))
    }


def test_both_charges_bring_their_scent_and_the_clock_runs_twice() -> None:
    clove = replace(TWICE, plant=PLANTS["clove"], grams=40.0)
    once = JarPlan(replace(clove, method="dark-shelf"))
    twice = JarPlan(clove)
    kept = once.kept
    assert twice.scent_bound == pytest.approx(once.scent_bound * (1 + 800 / (800 - kept)))
    assert twice.restricted[0].at_most > 2 * once.restricted[0].at_most
    assert twice.life_spent == pytest.approx(2 * (once.life_spent or 0))
    assert twice.done_after_hours == once.done_after_hours


def test_what_of_it_dissolves_does_so_twice_and_each_charge_has_half_of_the_time() -> None:
    resin = replace(TWICE, plant=PLANTS["pine-resin"], grams=50.0)
    (both,) = infusion_of(jar(70, strained(70), ask=resin), 1).plants
    assert both.dissolved == pytest.approx(2 * 0.85 * 50 / (800 + 2 * 0.85 * 50))


def test_plant_that_keeps_all_of_the_oil_leaves_none_for_a_second() -> None:
    thirsty = JarPlan(replace(TWICE, oil_grams=150.0))
    assert len(thirsty.oils) == 1 + (thirsty.kept < 150)
    assert thirsty.out[Straining.DRIP] is None


def jar(days: int, *notes: JarNote, ask: JarAsk = TWICE) -> JarUnderWay:
    return JarUnderWay(JarPlan(ask), BEGUN, notes, BEGUN + timedelta(days=days))


def strained(day: int) -> JarNote:
    return JarNote(BEGUN + timedelta(days=day), NoteKind.STRAINED, 500.0)


def test_a_jar_that_ended_before_its_second_charge_was_infused_once() -> None:
    renewed = JarNote(BEGUN + timedelta(days=20), NoteKind.RENEWED, 100.0)
    (once,) = infusion_of(jar(30, strained(30)), 1).plants
    (twice,) = infusion_of(jar(70, strained(70)), 1).plants
    (early,) = infusion_of(jar(30, renewed, strained(30)), 1).plants
    assert once.strength == pytest.approx(0.9 * 100 / 800)
    assert twice.strength == early.strength == pytest.approx(0.9 * (100 / 800 + 100 / 680))
    assert jar(80, renewed).about_done_on == jar(0).about_done_on + timedelta(days=20)
    assert jar(70, strained(70)).balance is None


def test_its_weighings_teach_nothing_of_one_charge() -> None:
    assert learn(PLANTS["calendula"], [jar(70, strained(70))]).of_oil == 0
    assert learn(PLANTS["calendula"], [jar(35, strained(35), ask=replace(ONCE, straining=Straining.HAND))]).of_oil == 1


def test_what_coffee_gives_of_its_own_oil_shifts_the_acids() -> None:
    # Roasted coffee is about 12 % oil, of which 44 % is linoleic acid (from memory); 50 g in 300 g of olive.
    (coffee,) = infusion_of(jar(35, ask=replace(ONCE, plant=PLANTS["coffee"], grams=50.0, oil_grams=300.0)), 1).plants
    assert coffee.dissolved == pytest.approx(0.12 * 50 / 306)
    assert coffee.dissolved_as == "coffee"


@pytest.mark.parametrize("part", PARTS)
def test_any_part_of_any_plant_can_be_planned(part: str) -> None:
    for plant in PLANTS.values():
        taken = of_part(plant, part, PLANTS)
        assert taken.inci.endswith("Extract") or taken is plant
        assert taken.flags == plant.flags
        assert verdict_of(JarPlan(replace(ONCE, plant=taken)), ())


def test_another_part_packs_and_keeps_as_such_parts_do_and_is_called_so() -> None:
    root = of_part(PLANTS["st-johns-wort"], "root", PLANTS)
    assert root.inci == "Hypericum Perforatum Root Extract"
    assert root.called == f"{PLANTS['st-johns-wort'].name} root"
    assert root.flags == PLANTS["st-johns-wort"].flags
    assert root.extraction.key == root.form.key == "root"
    assert root.uptake.drained == median(each.uptake.drained for each in PLANTS.values() if each.form.key == "root")
    assert root.colour == ""
    rules = {found.rule for found in cautions_of(JarPlan(replace(ONCE, plant=root)))}
    assert {"infusion-part", "infusion-sun"} <= rules
    assert of_part(PLANTS["calendula"], "flower", PLANTS) is PLANTS["calendula"]
    assert of_part(PLANTS["calendula"], "", PLANTS) is PLANTS["calendula"]
    with pytest.raises(QuantityError, match="is no part"):
        of_part(PLANTS["calendula"], "soul", PLANTS)


def test_a_part_teaches_nothing_of_the_rest() -> None:
    root = of_part(PLANTS["nettle"], "root", PLANTS)
    own = jar(35, JarNote(BEGUN, NoteKind.STRAINED, 690.0), ask=replace(ONCE, plant=root, straining=Straining.HAND))
    assert learn(PLANTS["nettle"], [own]).of_oil == 0
    assert learn(root, [own]).of_oil == 1
