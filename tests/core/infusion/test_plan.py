"""A planned jar: what it says, what speaks against it, and what must hold whatever is asked."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.core.errors import QuantityError
from uptide.core.infusion.judging import JarCaution, cautions_of, say_share, verdict_of
from uptide.core.infusion.methods import HOTTEST, METHODS
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import State
from uptide.core.infusion.straining import Straining
from uptide.core.infusion.water import Plant, must_leave, water_of_jar
from uptide.core.oxidation.history import HeatStep, life_spent
from uptide.core.oxidation.surroundings import Glass, Light
from uptide.core.safety.caution import Grade

PLANTS, OILS = shipped_plants(), shipped_catalogue().ingredients
CALENDULA = JarAsk(PLANTS["calendula"], State.DRIED, OILS["sunflower-high-oleic"], grams=30.0)


def said(ask: JarAsk) -> dict[str, JarCaution]:
    return {caution.rule: caution for caution in cautions_of(JarPlan(ask))}


# % of the oxidation life of a fresh lot by the median of the model, worked out beside the program for seven oils.
SILL = {"light": Light.SUNNY, "air": 1.67}
HEAT = [
    (HeatStep(50, 6), (0.414, 1.35, 0.569, 0.142, 0.146, 3.94, 0.63)),
    (HeatStep(60, 2), (0.351, 1.14, 0.482, 0.12, 0.124, 3.34, 0.534)),
    (HeatStep(40, 24), (0.633, 2.06, 0.869, 0.217, 0.223, 6.01, 0.962)),
    (HeatStep(80, 4), (4.19, 13.6, 5.75, 1.43, 1.48, 39.8, 6.37)),
    (HeatStep(110, 0.25), (3.18, 10.4, 4.37, 1.09, 1.12, 30.2, 4.84)),
    (HeatStep(20, 6 * 168), (3.52, 11.5, 4.83, 1.2, 1.24, 33.5, 5.35)),
    (HeatStep(25, 3 * 168), (2.95, 9.63, 4.06, 1.01, 1.04, 28.1, 4.49)),
    (HeatStep(30, 3 * 168, light=Light.SUNNY, glass=Glass.CLEAR, air=1.67), (88.3, 100, 73.9, 13.8, 61.5, 152, 81)),
    (HeatStep(30, 3 * 168, light=Light.SUNNY, glass=Glass.AMBER, air=1.67), (20.2, 39.8, 21, 4.01, 11.8, 90.4, 24.3)),
]
SEVEN = ("olive", "sunflower", "sesame", "coconut", "jojoba", "flaxseed", "almond-sweet")


@pytest.mark.parametrize(("step", "percents"), HEAT)
def test_what_warmth_and_light_cost_seven_oils(step: HeatStep, percents: tuple[float, ...]) -> None:
    for key, percent in zip(SEVEN, percents, strict=True):
        oil = OILS[key].oxidation
        assert oil is not None
        assert 100 * life_spent(oil, [step]) == pytest.approx(percent, rel=5e-3), key


def test_a_wrapped_jar_by_day_and_night() -> None:
    # 28 days of 8 h at 40 and 16 h at 18 °C cost olive 11.98 %; by the mean temperature it would be 6.8.
    olive = OILS["olive"].oxidation
    assert olive is not None
    days = [HeatStep(40, 8 * 28, air=1.67), HeatStep(18, 16 * 28, air=1.67)]

    assert 100 * life_spent(olive, days) == pytest.approx(11.98, rel=1e-3)


def test_a_good_jar_says_what_it_is_and_warns_of_daisies_alone() -> None:
    plan = JarPlan(CALENDULA)

    assert verdict_of(plan, cautions_of(plan)) == (
        "Calendula, dried, in sunflower oil (high oleic), 1 to 13; about 327 g come out, and it keeps 12 months at "
        "most; 1 thing to heed."
    )
    assert [c.rule for c in cautions_of(plan) if c.grade is Grade.WARN] == ["infusion-daisy"]
    assert plan.covers.top_up == pytest.approx(30 * 0.92 * (1 / 0.5 - 1 / 1.4), rel=1e-6)
    assert plan.head_room == pytest.approx(1 - (30 / 1.4 + plan.oil_grams / 0.92) / 500)
    # Squeezed by hand the plant keeps 1.72 g/g; 3 % stay with the dregs, 4.6 g in the cloth, 2.6 g on the wall.
    assert plan.out[Straining.HAND] == pytest.approx((plan.oil_grams - 1.72 * 30) * 0.97 - 7.2)


def test_fresh_plant_in_the_sun_is_warned_of_its_water_the_light_and_the_lid() -> None:
    ask = JarAsk(PLANTS["st-johns-wort"], State.FRESH, OILS["olive"], method="sunny-window", fill=0.75, jar_ml=1000)
    found = said(ask)

    assert {"infusion-water", "infusion-life", "infusion-lid", "infusion-sun"} <= set(found)
    assert "More oil does not cure damp plant" in found["infusion-water"].message
    assert "88 % of the oil’s life" in found["infusion-life"].message
    assert JarPlan(ask).months == 2
    dried = said(replace(ask, state=State.DRIED, method="dark-shelf"))
    assert not {"infusion-water", "infusion-life", "infusion-lid"} & set(dried)


def test_what_does_not_fit_is_stopped_and_what_is_not_covered_is_said() -> None:
    assert said(replace(CALENDULA, grams=60))["infusion-fits"].grade is Grade.STOP
    assert "not like this" in verdict_of(
        JarPlan(replace(CALENDULA, grams=60)), cautions_of(JarPlan(replace(CALENDULA, grams=60)))
    )
    assert "infusion-covered" in said(replace(CALENDULA, oil_grams=200))
    assert "infusion-head-room" in said(replace(CALENDULA, jar_ml=460))


def test_both_schools_and_pressing_and_filling_up() -> None:
    by_eye = replace(CALENDULA, grams=None, fill=0.75)
    loose, pressed = JarPlan(by_eye), JarPlan(replace(by_eye, pressed=True))
    full = JarPlan(replace(by_eye, to_the_rim=True))

    assert loose.plant_grams == pytest.approx(30)
    assert pressed.plant_grams == pytest.approx(75)
    assert full.head_room == pytest.approx(0.05)
    assert full.oil_grams > loose.oil_grams
    clove = JarPlan(replace(CALENDULA, plant=PLANTS["clove"], grams=30))
    assert clove.oil_grams == pytest.approx(12 * 30)  # the usual parts, where they cover it
    assert JarPlan(CALENDULA).oil_grams == pytest.approx(JarPlan(CALENDULA).covers.total)


def test_what_comes_out_bears_the_price_of_all_that_went_in() -> None:
    plan = JarPlan(CALENDULA)
    out = plan.out[CALENDULA.straining]
    each = plan.cost_per_gram(0.02)

    assert out is not None
    assert each is not None
    assert each * out == pytest.approx(0.02 * plan.oil_grams)
    assert plan.oil_ml * CALENDULA.oil.density == pytest.approx(plan.oil_grams)
    kept = JarPlan(replace(CALENDULA, oil_grams=20.0))
    assert (kept.out[CALENDULA.straining], kept.cost_per_gram(0.02)) == (None, None)


def test_what_each_way_takes_of_the_life_and_a_way_that_is_worth_naming() -> None:
    window = JarPlan(replace(CALENDULA, method="sunny-window"))
    assert window.life_spent == window.life_by_method[METHODS["sunny-window"]]
    best, takes = window.gentlest or (None, 0.0)
    assert best is not None
    assert takes == min(window.life_by_method.values()) == pytest.approx(window.life_by_method[best])
    assert JarPlan(replace(CALENDULA, method=best.key)).gentlest is None
    unknown = JarPlan(replace(CALENDULA, oil=replace(CALENDULA.oil, oxidation=None)))
    assert (unknown.life_spent, unknown.gentlest) == (None, None)


def test_clove_is_bound_and_says_from_where_it_is_within() -> None:
    clove = JarAsk(PLANTS["clove"], State.DRIED, OILS["jojoba"], grams=30.0, method="warm-bath")

    assert "eugenol" in said(clove)["infusion-restricted"].message
    assert "infusion-watched" in said(clove)
    wide = replace(clove, oil_grams=30 * 29, jar_ml=2000)
    assert "infusion-restricted" not in said(wide)
    assert JarPlan(wide).restricted[0].parts_within == pytest.approx(18 * 0.85 * 0.9 / 0.5)


def test_no_way_to_steep_is_hotter_than_plants_stand() -> None:
    assert max(method.hottest for method in METHODS.values()) <= HOTTEST  # a thermometer says what is


def test_a_weak_oil_is_not_for_warmth() -> None:
    assert "infusion-weak-oil" in said(replace(CALENDULA, oil=OILS["rosehip"], method="warm-bath"))
    assert "infusion-weak-oil" not in said(replace(CALENDULA, oil=OILS["rosehip"]))
    assert "infusion-weak-oil" not in said(replace(CALENDULA, method="warm-bath"))


def test_the_oil_brings_its_own_allergens() -> None:
    assert "tree nut" in said(replace(CALENDULA, oil=OILS["almond-sweet"]))["infusion-oil-allergen"].message
    assert "infusion-oil-allergen" not in said(CALENDULA)
    own = replace(OILS["olive"], key="own:reef", allergen_family="", allergen_note="")
    assert "Nobody said" in said(replace(CALENDULA, oil=own))["infusion-oil-unknown"].message


def test_shares_are_said_as_they_are_known() -> None:
    assert [say_share(share) for share in (0.0, 0.0099, 0.0101, 0.885)] == ["under 1 %", "under 1 %", "1 %", "88 %"]


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"method": "pan"}, "known are"),
        ({"jar_ml": 5}, "20 to 50,000"),
        ({"grams": 0}, "up to 50,000"),
        ({"fill": 1.2}, "up to 100"),
        ({"oil_grams": -1}, "up to 50,000"),
        ({"water": 1.0}, "0 to 99"),
    ],
)
def test_a_jar_that_cannot_be_is_refused(changes: dict[str, object], words: str) -> None:
    with pytest.raises(QuantityError, match=words):
        replace(CALENDULA, **changes)  # type: ignore[arg-type]


ASKS = st.builds(
    JarAsk,
    st.sampled_from(list(PLANTS.values())),
    st.sampled_from(State),
    st.sampled_from([OILS[key] for key in SEVEN]),
    method=st.sampled_from(list(METHODS)),
    jar_ml=st.floats(50, 3000),
    fill=st.floats(0.05, 1.0),
    pressed=st.booleans(),
    straining=st.sampled_from(Straining),
)


@settings(max_examples=150)
@given(ASKS)
def test_any_jar_is_answered(ask: JarAsk) -> None:
    plan = JarPlan(ask)

    assert verdict_of(plan, cautions_of(plan))
    outs = [plan.out[how] or 0.0 for how in (Straining.DRIP, Straining.HAND, Straining.PRESS)]
    assert outs == sorted(outs)
    water = plan.jar_water
    brought = plan.plant_grams * plan.water + plan.oil_grams * 0.0004
    assert water.in_plant + water.in_oil + water.free == pytest.approx(brought, rel=1e-6)
    assert (plan.done_after_hours, plan.months) > (0, 0)


@given(st.floats(0.0, 0.9), st.floats(0.0, 0.9), st.floats(20, 2000))
def test_drying_never_raises_the_risk(one: float, other: float, oil: float) -> None:
    drier, wetter = sorted((one, other))

    assert water_of_jar([Plant(100, drier)], oil).activity <= water_of_jar([Plant(100, wetter)], oil).activity + 1e-9
    assert must_leave([Plant(100, drier)], oil) <= must_leave([Plant(100, wetter)], oil) + 1e-9


@given(st.floats(0.11, 0.9), st.floats(50, 1000), st.floats(1.0, 10.0))
def test_more_oil_hardly_helps_damp_plant(water: float, oil: float, times: float) -> None:
    some, more = (water_of_jar([Plant(100, water)], grams).activity for grams in (oil, oil * times))

    assert some - 0.12 <= more <= some + 1e-9
