"""Worked jars by the constants of the model: water, covering, extraction, straining.

The figures were worked out beside the program, from the formulas and constants that stand in its docstrings; none of
them was measured on real oil or plant.
"""

from __future__ import annotations

import pytest

from uptide.core.errors import QuantityError
from uptide.core.infusion.extraction import (
    CLASSES,
    Addition,
    Mixing,
    Steep,
    bound,
    done_after,
    equivalent_hours,
    progress,
    second_infusion,
    speed,
    spent_again,
    strength,
)
from uptide.core.infusion.packing import FORMS, by_eye, cover, grown, packed, pressure_closed
from uptide.core.infusion.straining import Straining, Uptake, balance, strained
from uptide.core.infusion.water import (
    CONVECTION,
    STIRRED,
    Growth,
    Plant,
    activity_of,
    clouds_below,
    dried,
    evaporation,
    growth_at,
    must_leave,
    solubility,
    sorbed,
    water_at,
    water_now,
    water_of_jar,
)

LEAF, FLOWER = FORMS["leaf"], FORMS["flower"]
CALENDULA = Uptake(2.5, 1.2)


def near(value: float, rel: float = 5e-4) -> object:
    return pytest.approx(value, rel=rel)


@pytest.mark.parametrize(
    ("celsius", "mg_per_kg"),
    [
        (0, 675),
        (5, 748.5),
        (10, 827),
        (15, 911),
        (20, 1000),
        (25, 1094),
        (40, 1409),
        (50, 1647),
        (60, 1906),
        (70, 2188),
    ],
)
def test_water_that_oil_dissolves(celsius: float, mg_per_kg: float) -> None:
    assert 1e6 * solubility(celsius) == near(mg_per_kg, 1e-3)


@pytest.mark.parametrize(
    ("percent", "activity"),
    [
        (7, 0.336),
        (8, 0.4135),
        (9, 0.484),
        (10, 0.5459),
        (11, 0.600),
        (12, 0.6470),
        (13, 0.688),
        (14, 0.7242),
        (16, 0.7843),
        (18, 0.832),
        (20, 0.871),
        (25, 0.942),
        (31.25, 1.0),
        (60, 1.0),
    ],
)
def test_activity_of_water_in_dry_plant(percent: float, activity: float) -> None:
    assert activity_of(percent / (100 - percent)) == pytest.approx(activity, abs=6e-4)


def test_sorption_and_its_inverse() -> None:
    assert (sorbed(0.6), sorbed(0.7)) == (near(0.1236), near(0.1536))
    for activity in (0.1, 0.5, 0.9):
        assert activity_of(sorbed(activity, 1.4), 1.4) == near(activity, 1e-9)
    assert activity_of(0.1, 0.0) == 1.0  # resin holds no water of its own


def test_the_water_of_a_jar_is_all_that_came_less_what_left() -> None:
    # 100 g of plant with 10 % and 300 g of oil with 0.4 g/kg bring 10.12 g; 2 g leave. The oil holds 0.3 g at most,
    # at 2 g/kg 0.6 g; what is not in it is in 90 g of dry plant, at the activity that such plant has.
    for soluble, holds in ((0.001, 0.3), (0.002, 0.6)):
        found = water_of_jar([Plant(100, 0.10)], 300, lost=2.0, soluble_20c=soluble)
        assert found.in_plant + found.in_oil == near(8.12, 1e-9)
        assert found.in_oil == near(holds * found.activity, 1e-9)
        assert found.activity == near(activity_of(found.in_plant / 90), 1e-9)
    sugary = water_of_jar([Plant(100, 0.10, sorption=1.4)], 300, lost=2.0)
    assert sugary.activity == near(activity_of(sugary.in_plant / 90, 1.4), 1e-9)
    assert water_of_jar([Plant(100, 0.10)], 300, lost=99.0).activity == near(0.0, 1e-9)
    assert water_of_jar([Plant(100, 0.10)], 300, lost=99.0).in_plant == near(0.0, 1e-9)


def test_nothing_is_active_without_water() -> None:
    assert (activity_of(0.0), activity_of(0.0, 0.0)) == (0.0, 0.0)


@pytest.mark.parametrize(
    ("below", "word", "from_there"),
    [
        (0.60, "nothing", "dry-loving moulds, over months"),
        (0.65, "dry-loving moulds, over months", "moulds, within weeks"),
        (0.75, "moulds, within weeks", "moulds within days, and yeasts"),
        (0.90, "moulds within days, and yeasts", "bacteria too"),
    ],
)
def test_what_can_live_at_an_activity(below: float, word: str, from_there: str) -> None:
    assert (growth_at(below - 1e-9), growth_at(below)) == (word, from_there)  # textbook, from memory


@pytest.mark.parametrize(
    ("oil", "brought", "activity"),
    [(500, 0.0004, 0.6423), (1000, 0.0004, 0.6377), (2000, 0.0004, 0.6288), (1000, 0.0, 0.6219), (1000, 0.001, 0.6599)],
)
def test_the_jar_has_the_activity_of_the_plant(oil: float, brought: float, activity: float) -> None:
    found = water_of_jar([Plant(100, 0.12)], oil, oil_water=brought)

    assert found.activity == near(activity)
    assert found.free == 0
    assert found.in_plant + found.in_oil == near(12 + oil * brought, 1e-6)


def test_where_the_water_of_a_dry_jar_is() -> None:
    found = water_of_jar([Plant(100, 0.12)], 500)

    assert (found.in_oil, found.in_plant) == (near(0.3212), near(11.88))
    assert found.grows is Growth.SLOW_MOULDS


@pytest.mark.parametrize(
    ("plant", "oil", "leave", "free"),
    [(Plant(100, 0.85), 500, 83.15 - 0.1, 77.88), (Plant(150, 0.76), 600, 109.6 - 0.12, 97.28)],
)
def test_fresh_and_wilted_plant_leave_free_water(plant: Plant, oil: float, leave: float, free: float) -> None:
    found = water_of_jar([plant], oil)

    assert must_leave([plant], oil) == near(leave, 1e-3)
    assert (found.activity, found.free, found.grows) == (1.0, near(free), Growth.BACTERIA)


def test_what_must_leave_a_jar_of_damp_herb() -> None:
    assert must_leave([Plant(100, 0.12)], 500) == near(1.024, 2e-3)
    assert must_leave([Plant(100, 0.12)], 1000) == near(0.9236, 2e-3)
    assert must_leave([Plant(100, 0.08)], 500) == 0.0


def test_drying_and_what_a_damp_room_gives_back() -> None:
    assert dried(250, 0.88, 0.10) == near(33.33)
    assert water_now(250, 0.88, 41) == near(0.2683)
    assert activity_of(0.2683 / 0.7317) == near(0.9617)
    floors = {0.5: 9.3, 0.6: 11.0, 0.65: 12.1, 0.7: 13.3, 0.8: 16.6}  # % of water, by the humidity of the room
    assert {room: 100 * water_at(room) for room in floors} == pytest.approx(floors, abs=0.06)
    assert 90 * (1 + sorbed(0.7)) == near(103.8)


@pytest.mark.parametrize(
    ("strained_at", "activity", "holds", "clouds"),
    [(45, 0.6, 915.2, 15.24), (45, 0.5459, 832.6, 10.34), (60, 0.6, 1144, 27.51), (20, 0.6, 600, -5.5)],
)
def test_oil_that_was_strained_warm_clouds_in_the_cold(
    strained_at: float, activity: float, holds: float, clouds: float
) -> None:
    assert 1e6 * activity * solubility(strained_at) == near(holds, 1e-3)
    assert clouds_below(strained_at, activity) == pytest.approx(clouds, abs=0.06)


def test_how_fast_water_leaves() -> None:
    pot = evaporation(20, 60, STIRRED)
    jar = evaporation(9, 55, 8.7e-6)

    assert (pot, 82.65 / pot) == (near(5.444), near(15.18))
    assert (jar, 82.65 / jar, 0.5 / jar) == (near(0.2937, 1e-3), near(281.4, 1e-3), near(1.703, 1e-3))
    assert evaporation(9, 20, CONVECTION, humidity=1.0, room=20) == 0.0
    assert evaporation(9, 20, CONVECTION, activity=0.3) == 0.0


def test_covering_pressed_flowers() -> None:
    found = cover(60, packed(0.08, FLOWER), FLOWER, width_cm=9.5)

    assert (packed(0.08, FLOWER), packed(0.2, FLOWER)) == (near(0.2), 0.35)
    assert (found.bed_ml, found.at_once, found.after_a_day) == (near(300), near(165.6), near(236.6))
    assert (found.above, found.total, found.total / 60) == (near(97.82), near(334.4), near(5.573))
    assert found.top_up == near(found.after_a_day - found.at_once)
    with pytest.raises(QuantityError, match=r"0\.6 g/mL cannot be"):
        cover(60, 0.6, FLOWER, width_cm=9.5)


@pytest.mark.parametrize(("bulk", "plant", "oil", "ratio"), [(0.08, 60, 834.6, 13.91), (0.2, 150, 775.4, 5.17)])
def test_a_jar_three_quarters_full(bulk: float, plant: float, oil: float, ratio: float) -> None:
    found = by_eye(1000, 0.75, bulk, FLOWER)

    assert (found.plant, found.oil, found.ratio) == (near(plant), near(oil), near(ratio, 1e-3))


@pytest.mark.parametrize(
    ("bulk", "plant", "oil", "ratio"),
    [(0.05, 11.83, 209.9, 17.74), (0.08, 18.93, 205.2, 10.84), (0.12, 28.39, 199.0, 7.01)],
)
def test_a_cup_of_loose_petals(bulk: float, plant: float, oil: float, ratio: float) -> None:
    found = by_eye(236.588, 1.0, bulk, FLOWER, head_room=0.0)

    assert (found.plant, found.oil, found.ratio) == (near(plant), near(oil), near(ratio, 1e-3))


def test_a_jar_that_is_warmed() -> None:
    assert (100 * grown(15, 40), 100 * grown(20, 60)) == (near(1.79, 2e-3), near(2.91, 2e-3))
    assert pressure_closed(0.05, 15, 40) == near(1.65, 2e-3)
    assert pressure_closed(0.01, 15, 60) == float("inf")
    assert [pressure_closed(0.05 + step / 1000, 15, 40) for step in range(3)] == sorted(
        (pressure_closed(0.05 + step / 1000, 15, 40) for step in range(3)), reverse=True
    )


@pytest.mark.parametrize(
    ("celsius", "times"),
    [(18, 0.907), (20, 1), (25, 1.261), (30, 1.567), (40, 2.331), (45, 2.795), (50, 3.319), (55, 3.906), (60, 4.557)],
)
def test_how_much_faster_a_warm_jar_is(celsius: float, times: float) -> None:
    assert speed(celsius) == near(times, 1e-3)


def test_progress() -> None:
    day = 24.0
    assert 100 * progress(CLASSES["leaf"], 3 * day) == near(91.88)
    assert 100 * progress(CLASSES["leaf"], 14 * day) == near(99.99)
    assert 100 * progress(CLASSES["heads"], 35 * day) == near(99.96)
    assert 100 * progress(CLASSES["heads"], 35 * day / 3) == near(94.25)
    assert 100 * progress(CLASSES["root"], 35 * day) == near(97.07)


@pytest.mark.parametrize(
    ("kind", "mixing", "percent"),
    [
        ("powder", Mixing.SHAKEN_DAILY, 100.0),
        ("leaf", Mixing.SHAKEN_DAILY, 65.49),
        ("heads", Mixing.SHAKEN_DAILY, 41.20),
        ("heads", Mixing.STIRRED, 50.95),
        ("seed", Mixing.SHAKEN_DAILY, 32.31),
        ("root", Mixing.SHAKEN_DAILY, 25.31),
    ],
)
def test_six_hours_in_a_bath_are_less_than_a_day(kind: str, mixing: Mixing, percent: float) -> None:
    assert equivalent_hours([Steep(50, 6)]) == near(19.91)
    assert 100 * progress(CLASSES[kind], equivalent_hours([Steep(50, 6, mixing)])) == near(percent, 1e-3)


@pytest.mark.parametrize(
    ("kind", "days", "bath_hours"),
    [("powder", 4.6 / 24, 1.4), ("leaf", 3.7, 27), ("heads", 12, 89), ("seed", 13, 94), ("root", 29, 212)],
)
def test_when_it_is_about_done(kind: str, days: float, bath_hours: float) -> None:
    hours = done_after(CLASSES[kind])

    assert hours / 24 == near(days, 0.04)
    assert hours / speed(50) == near(bath_hours, 0.04)


def test_what_comes_out_by_each_way_of_straining() -> None:
    ways = {how: strained(800, 100, CALENDULA.by(how), films=7.2).out for how in Straining}

    assert CALENDULA.by(Straining.HAND) == near(1.72)
    assert ways == {Straining.DRIP: near(526.3), Straining.HAND: near(602.0), Straining.PRESS: near(652.4)}
    # Of what is soluble, in the strained oil of heads that stood 35 days.
    done = progress(CLASSES["heads"], 35 * 24)
    assert 100 * done * (800 - 250) / 800 == near(68.72)
    assert 100 * done * (800 - 120) / 800 == near(84.97)


def test_resin_becomes_oil() -> None:
    found = strained(800, 100, 0.15, dissolves=0.85, films=3.2)

    assert found.out + found.bottoms + found.films == near(870.0)
    assert (100 * found.dissolved, found.out) == (near(9.605), near(840.7))


def test_plant_that_keeps_all_the_oil_is_said_before_it_is_cut() -> None:
    with pytest.raises(QuantityError, match="nothing would come out"):
        strained(200, 100, 2.5)
    fresh = CALENDULA.of_fresh(0.88)
    assert (round(fresh.drained, 2), round(fresh.pressed, 2)) == (0.33, 0.16)
    with pytest.raises(QuantityError, match="cannot keep"):
        Uptake(1.0, 1.2)


@pytest.mark.parametrize(
    ("second", "keeps", "partition", "times"),
    [
        (100, 1.2, float("inf"), 2.176),
        (85, 1.2, float("inf"), 2.000),
        (100, 1.2, 1.0, 2.026),
        (85, 1.2, 1.0, 1.889),
        (85, 1.2, 0.3, 1.706),
        (100, 2.5, float("inf"), 2.455),
    ],
)
def test_a_second_infusion(second: float, keeps: float, partition: float, times: float) -> None:
    assert second_infusion(100, second, 800, keeps, partition) == near(times)


def test_spent_plant_in_new_oil() -> None:
    found = [100 * spent_again(parts, keeps) for parts in (8, 4) for keeps in (2.5, 1.2)]

    assert found == [near(23.81), near(13.04), near(38.46), near(23.08)]


def test_top_ups_each_with_a_clock_of_its_own() -> None:
    heads = CLASSES["heads"]
    additions = [Addition(grams, progress(heads, 24 * (28 - day))) for grams, day in ((20, 0), (15, 7), (15, 14))]

    assert [each.progress for each in additions] == [near(0.9983), near(0.9922), near(0.9651)]
    assert 500 * strength(additions, 500) == near(49.33)
    assert done_after(heads, 0.8) / 24 == near(5.846)
    out = strained(500, 50, 1.2, films=7.2).out
    assert out == near(419.6)
    price = 500 * 9.40 / 920 + 2.10 + 0.30
    assert (price, 100 * 0.918 * price / out) == (near(7.509), near(1.643))


@pytest.mark.parametrize(
    ("share", "parts", "percent"),
    [
        (0.15 * 0.80, 12, 1.0),  # clove: eugenol
        (0.18 * 0.85, 12, 1.28),
        (0.18 * 0.85, 31, 0.4935),
        (0.02 * 0.70, 15, 0.0933),  # cinnamon bark: cinnamal
        (0.025 * 0.35, 8, 0.109),  # sage: thujone
        (0.025 * 0.60, 8, 0.1875),  # thyme: thymol and carvacrol
        (0.02 * 0.33, 8, 0.0825),  # lavender: linalool
    ],
)
def test_the_most_that_can_pass_over(share: float, parts: float, percent: float) -> None:
    assert 100 * bound(share, [(1, parts)]) == near(percent, 5e-3)


def test_after_two_infusions_the_bound_counts_each_plant_against_the_oil_it_stood_in() -> None:
    assert bound(0.1, [(100, 800), (100, 680)]) == near(0.1 * (100 / 800 + 100 / 680))


def test_three_weighings() -> None:
    good = balance(800, 100, out=652.4, marc=220.0, water_lost=2.0, left=20.4 + 5)
    odd = balance(800, 100, out=600.0, marc=220.0)

    assert (good.unexplained, good.is_worth_saying) == (near(0.2, 0.01), False)
    assert (odd.unexplained, odd.is_worth_saying) == (near(80.0), True)
