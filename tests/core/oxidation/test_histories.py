"""Histories, antioxidants and the law of warmth, by hand arithmetic and a value on each side of every bound."""

from __future__ import annotations

from math import exp, inf, log, nan

import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import UptideError
from uptide.core.oxidation import rate
from uptide.core.oxidation.history import HeatStep, ageing_spent, life_spent, peroxides_after, standing
from uptide.core.oxidation.learning import is_shift
from uptide.core.oxidation.protection import Antioxidants, protection_factor
from uptide.core.oxidation.simulate import risk_word
from uptide.core.oxidation.surroundings import Glass, Light, Storage

OILS = {key: item.oxidation for key, item in shipped_catalogue().ingredients.items() if item.oxidation is not None}
SUNFLOWER, SQUALANE = OILS["sunflower"], OILS["squalane"]


@pytest.mark.parametrize(("celsius", "hours"), [(-30, 1), (250, 1), (20, 24 * 366), (20, 0.01)])
def test_a_step_at_the_end_of_what_can_be_is_one(celsius: float, hours: float) -> None:
    assert HeatStep(celsius, hours).hours == hours


@pytest.mark.parametrize(
    ("celsius", "hours", "air", "ageing"),
    [
        (-30.1, 1, 1, 1),
        (250.1, 1, 1, 1),
        (20, 24 * 366 + 0.1, 1, 1),
        (20, 0, 1, 1),
        (20, 1, 0, 1),
        (20, 1, inf, 1),
        (20, 1, 1, inf),
        (20, 1, 1, nan),
    ],
)
def test_a_step_past_it_is_none(celsius: float, hours: float, air: float, ageing: float) -> None:
    with pytest.raises(UptideError):
        HeatStep(celsius, hours, air=air, ageing=ageing)


def test_months_in_a_place_are_steps_at_its_mean_warmth_in_its_light_and_air() -> None:
    months = (8.0, 9.0, 11.0, 13.0, 16.0, 19.0, 21.0, 21.0, 18.0, 14.0, 11.0, 7.0)
    place = Storage(celsius=months, light=Light.SUNNY, glass=Glass.BLUE, opened=True)
    whole, rest = standing(18, place)

    assert (whole.celsius, whole.light, whole.glass) == (14.0, Light.SUNNY, Glass.BLUE)
    assert (whole.air, whole.ageing) == (1.67, 1.25)  # in use
    assert [whole.hours, rest.hours] == pytest.approx([8766, 4383])


def test_what_stood_longer_than_twenty_years_is_as_old_as_twenty() -> None:
    place = Storage()

    assert sum(step.hours for step in standing(300, place)) == pytest.approx(240 * 730.5)
    assert sum(step.hours for step in standing(239, place)) == pytest.approx(239 * 730.5)


def test_ageing_goes_by_its_own_energy_and_is_credited_with_the_cold_up_to_a_bound() -> None:
    # 50 kJ/mol, 36 months at 20 °C: at 50 °C 6.716 times as fast, at 4 °C at most 2.5 times as slow.
    faster = exp(50e3 / 8.314462618 * (1 / 293.15 - 1 / 323.15))
    assert faster == pytest.approx(6.716, abs=0.001)
    assert ageing_spent([HeatStep(50, 100)]) == pytest.approx(100 / 730.5 / 36 * faster)
    assert ageing_spent([HeatStep(-10, 7305, ageing=1.5)]) == pytest.approx(10 * 1.5 / 36 / 2.5)


def test_a_history_goes_on_from_wherever_it_begins() -> None:
    warm = [HeatStep(50, 60)]

    assert peroxides_after(SUNFLOWER, warm, pv=5.0) > peroxides_after(SUNFLOWER, warm) > SUNFLOWER.fresh_pv
    assert peroxides_after(SUNFLOWER, [], pv=5.0) == 5.0
    assert peroxides_after(SQUALANE, warm, pv=5.0) == 5.0
    assert life_spent(SQUALANE, warm) == 0.0


@pytest.mark.parametrize("kelvin", [278.15, 303.15, 340.0])
def test_the_energy_at_a_warmth_is_the_slope_of_the_law(kelvin: float) -> None:
    # ln of the stretch; where the cold is credited no further it has no slope: this is what it is taken from.
    cold, warm = (8.2 * (1 - log((kelvin + side) / 293.15) / log(383.15 / 293.15)) for side in (-0.01, 0.01))
    slope = (cold - warm) / (1 / (kelvin - 0.01) - 1 / (kelvin + 0.01)) * 8.314462618

    assert rate.local_energy(kelvin) == pytest.approx(slope, rel=1e-5)


def test_a_rate_is_the_induction_over_its_time_at_that_warmth() -> None:
    # By the printed worked number the stretch at 30 °C is 1,303.
    assert float(rate.rate_constant(4.2, 1.0, 303.15)) == pytest.approx(3.02058 / (4.2 * 1303), rel=5e-4)


def test_a_life_fraction_runs_from_fresh_to_the_limit() -> None:
    found = [float(rate.life_fraction(pv, 0.8, 8.0)) for pv in (0.8, 8.0, 3.0)]
    by_hand = log((4.0 / 297) / (1.8 / 299.2)) / log((9.0 / 292) / (1.8 / 299.2))

    assert found == pytest.approx([0.0, 1.0, by_hand])


@pytest.mark.parametrize(
    ("added", "gamma", "alpha", "cox", "pv", "factor"),
    [
        # α 2,000: γ from 100 to 1,100, so (1 + 4·(1 − e^−3.667)) / (1 + 4·(1 − e^−0.333)) = 2.2952; harm of 1.6 g at
        # a Cox value of 14, counted as 10.5: 1 / (1 + 0.15 · 1.6 · 1.5) = 0.7353.
        (Antioxidants(alpha_tocopherol=2000), 100, 300, 14, 0, 1.68768),
        # Where 1 g too much was there before, as much as 1.225 / 1.675 of it is new.
        (Antioxidants(alpha_tocopherol=2000), 100, 1700, 14, 0, 1.67861),
        (Antioxidants(ascorbyl_palmitate=200), 50, 0, 7, 0, 1.18964),  # alone up to 50 of γ: 1 + 0.3 · (1 − 1/e)
        (Antioxidants(ascorbyl_palmitate=200), 51, 0, 7, 0, 1.37927),
        # 40 and 20 of γ: 1.15058 for the tocopherol, and the palmitate is regenerated.
        (Antioxidants(alpha_tocopherol=40, ascorbyl_palmitate=200), 40, 0, 7, 0, 1.58697),
        (Antioxidants(carnosic_acid=120), 300, 0, 7, 0, 1.63212),
        (Antioxidants(carnosic_acid=120), 300, 0, 7, 5, 1.31606),  # half turned: half of the good
        (Antioxidants(carnosic_acid=120), 300, 0, 7, 12, 1.0),
        # Harm is none the less for an oil that has begun to turn.
        (Antioxidants(alpha_tocopherol=3000), 2000, 100, 7, 5, 0.73604),
        (Antioxidants(carnosic_acid=5000, ascorbyl_palmitate=5000, mixed_tocopherols=800), 60, 0, 7, 0, 3.0),
    ],
)
def test_antioxidants_by_hand(
    added: Antioxidants, gamma: float, alpha: float, cox: float, pv: float, factor: float
) -> None:
    assert protection_factor(added, gamma, alpha, cox, pv) == pytest.approx(factor, abs=2e-5)


@pytest.mark.parametrize(
    ("months", "word"),
    [
        (2.99, "very high"),
        (3, "high"),
        (5.99, "high"),
        (6, "moderate"),
        (11.99, "moderate"),
        (12, "low"),
        (23.99, "low"),
        (24, "very low"),
    ],
)
def test_the_risk_is_said_by_the_median_life(months: float, word: str) -> None:
    assert risk_word(months) == word


@pytest.mark.parametrize(
    ("value", "can_be"),
    [
        (0, True),
        (-0.4, True),
        (log(10) - 1e-9, True),
        (2.303, False),
        (inf, False),
        (nan, False),
        ("1", False),
    ],
)
def test_a_shift_is_a_finite_number_of_at_most_tenfold(value: object, *, can_be: bool) -> None:
    assert is_shift(value) is can_be


@pytest.mark.parametrize(
    ("kelvin", "faster", "slower"),
    [
        (293.15, 0.0, 0.0),  # where lives are calibrated
        # 22,000 / 8.3145 · (1/293.15 − 1/301.15), to either side.
        (301.15, 0.2398, 0.2398),
        # By the law 9.9190 at 4 °C, credited 8.2 + ln 2.5 = 9.1163; a higher energy says 9.9190 + 0.5211, a lower one
        # is credited with 9.1163 − 0.2.
        (277.15, 0.2, 1.3238),
    ],
)
def test_the_doubt_about_the_energy_reaches_further_to_the_slow_side_in_the_cold(
    kelvin: float, faster: float, slower: float
) -> None:
    assert rate.energy_sd(kelvin) == pytest.approx((faster, slower), abs=2e-4)
