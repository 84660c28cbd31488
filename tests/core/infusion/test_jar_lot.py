"""What a jar leaves to its lot: strength, heat as it was, water that is gone or not, months, and where it came from."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta

import pytest

from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.core.infusion.charge import Charge
from uptide.core.infusion.following import JarNote, JarUnderWay, NoteKind
from uptide.core.infusion.jar_lot import infusion_of, keeps_months
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import State
from uptide.core.infusion.straining import Straining
from uptide.core.infusion.temperature import Reading
from uptide.core.oxidation.history import HeatStep

PLANTS, OILS = shipped_plants(), shipped_catalogue().ingredients
BEGUN = date(2026, 11, 2)


def jar(
    days: int = 35,
    *notes: JarNote,
    state: State = State.DRIED,
    method: str = "dark-shelf",
    plant: str = "calendula",
    readings: tuple[Reading, ...] = (),
    also: tuple[Charge, ...] = (),
) -> JarUnderWay:
    ask = JarAsk(PLANTS[plant], state, OILS["olive"], method=method, grams=50.0, oil_grams=500.0, also=also)
    return JarUnderWay(JarPlan(ask), BEGUN, notes=notes, today=BEGUN + timedelta(days=days), readings=readings)


def note(kind: NoteKind, grams: float | None = None, day: int = 1, words: str = "") -> JarNote:
    return JarNote(BEGUN + timedelta(days=day), kind, grams, words)


def test_strength_is_dry_plant_in_oil() -> None:
    (calendula,) = infusion_of(jar(), 7).plants
    assert calendula.strength == pytest.approx(50 * 0.9 / 500)
    assert (calendula.botanical_name, calendula.colour) == ("Calendula officinalis", "#e8a31e")
    assert infusion_of(jar(), 7).jar == 7


def test_what_dissolves_is_a_part_of_the_oil() -> None:
    (resin,) = infusion_of(jar(plant="pine-resin"), 1).plants
    # 50 g in 500 g of which 0.85 dissolve.
    assert resin.dissolved == pytest.approx(42.5 / 542.5)


def test_heat_is_as_long_as_it_stood() -> None:
    (half,) = jar(17).heat
    (whole,) = jar(35).heat
    assert half.hours == pytest.approx(17 * 24)
    assert whole.hours == pytest.approx(35 * 24)
    assert jar(0).heat == ()
    assert sum(step.hours for step in jar(800).heat) == pytest.approx(800 * 24)


def test_a_bath_is_its_way_and_then_the_room_unless_it_was_read() -> None:
    assert jar(0, method="warm-bath").heat == (HeatStep(50, 6),)
    assert jar(1, method="warm-bath").heat == (HeatStep(50, 6), HeatStep(20, 18))
    at = datetime(2026, 11, 2, 9, tzinfo=UTC)
    read = tuple(Reading(at + timedelta(minutes=10 * n), 55.0) for n in range(13))
    (as_read,) = jar(0, method="warm-bath", readings=read).heat
    assert as_read.celsius == 55
    assert as_read.hours == pytest.approx(2.0)


def test_water_is_gone_when_weighings_show_it() -> None:
    wet = jar(state=State.FRESH)
    leaves = wet.plan.must_leave
    before = note(NoteKind.WEIGHED, 900.0)
    just, short = (
        jar(35, before, note(NoteKind.WEIGHED, 900.0 - part * leaves, 3), state=State.FRESH) for part in (1.001, 0.99)
    )

    assert (wet.water_is_gone, short.water_is_gone, just.water_is_gone) == (False, False, True)
    assert infusion_of(short, 1).fresh_plant
    assert not infusion_of(just, 1).fresh_plant
    assert (keeps_months(short), keeps_months(just)) == (1, 12)  # of calendula, fresh and dried
    assert jar().water_is_gone


def test_several_plants_are_each_in_it() -> None:
    both = jar(also=(Charge(PLANTS["hops"], State.DRIED, 20.0),))
    first, second = infusion_of(both, 1).plants

    assert (first.name, second.name) == ("Calendula", "Hops")
    assert second.strength == pytest.approx(20 * 0.9 / 500)
    assert keeps_months(both) == min(PLANTS["calendula"].months_dried, PLANTS["hops"].months_dried)


def test_fresh_plant_keeps_oil_by_its_dry_matter() -> None:
    """0.33 and 0.16 g a gram of fresh calendula, where a gram of dried keeps 2.5 and 1.2: the note on steeping."""
    fresh, dried = (Charge(PLANTS["calendula"], state, 100.0) for state in (State.FRESH, State.DRIED))
    assert fresh.keeps(Straining.DRIP) == pytest.approx(33.3, abs=0.1)
    assert dried.keeps(Straining.DRIP) == pytest.approx(250)
    edge = Charge(PLANTS["calendula"], State.DRIED, 100.0, 0.19)
    assert edge.keeps(Straining.DRIP) == pytest.approx(250)


def test_where_it_was_picked_goes_along() -> None:
    found = jar(35, note(NoteKind.PICKED, day=-3, words="the lane, after the dew, sorted"))
    assert infusion_of(found, 1).picked == "30 Oct 2026, the lane, after the dew, sorted"


def test_three_weighings_are_held_together() -> None:
    out = note(NoteKind.STRAINED, 400.0, 35)
    assert jar(35, out).balance is None
    found = jar(35, out, note(NoteKind.MARC, 120.0, 35)).balance
    assert found is not None
    expected = jar().plan.comes_out(Straining.HAND)
    assert found.unexplained == pytest.approx(550 - 400 - 120 - expected.bottoms - expected.films)
    weighed = jar(35, out, note(NoteKind.MARC, 120.0, 35), note(NoteKind.DREGS, 20.0, 35)).balance
    assert weighed is not None
    assert weighed.unexplained == pytest.approx(550 - 400 - 120 - 20 - expected.films)


def test_two_weighings_say_roughly_how_dry_it_went_in() -> None:
    """250 g of calendula of 88 % water that weigh 41 g hold 26.83 %: example 8 of the note on steeping."""
    found = jar(3, note(NoteKind.PICKED, 250.0, -5), note(NoteKind.DRIED, 41.0, -1))
    assert found.dried_to == pytest.approx(0.2683, abs=1e-4)
    assert jar(3, note(NoteKind.PICKED, 250.0, -5)).dried_to is None
    assert jar(3, note(NoteKind.PICKED, 41.0, -5), note(NoteKind.DRIED, 250.0, -1)).dried_to is None


def test_the_plan_shows_the_colour_that_it_comes_to() -> None:
    plan = jar().plan
    assert plan.colour == infusion_of(jar(), 1).colour(OILS["olive"].colour) != OILS["olive"].colour


def test_weeks_that_were_read_count_as_read_and_the_rest_as_its_way() -> None:
    at = datetime(2026, 11, 2, 9, tzinfo=UTC)
    cold = tuple(Reading(at + timedelta(minutes=5 * n), 14.0) for n in range(288 * 7 + 1))  # a week of seven
    found = jar(14, readings=cold).heat

    assert sum(step.hours for step in found) == pytest.approx(14 * 24)
    assert {step.celsius: round(step.hours) for step in found} == {14.0: 168, 20.0: 168}
    assert {step.air for step in found} == {jar().plan.method.steps[0].air}
    lit = jar(14, readings=cold, method="sunny-window").heat  # no thermometer tells of light
    assert {step.celsius for step in lit} == {30.0}
