"""One law from nothing to all of it: no figure jumps, none depends on the order of rows, and the doubt is wide enough.

What is expected here is arithmetic beside the model, or the bottles themselves, drawn one by one.
"""

from __future__ import annotations

import random
import re
from collections.abc import Sequence
from dataclasses import fields
from datetime import date
from math import exp, log

import numpy as np
import pytest
from bench.coverage import ENERGIES, WARMTH, with_readings, without_readings
from hypothesis import given, settings
from hypothesis import strategies as st

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError
from uptide.core.figures.finding import Finding
from uptide.core.keeping.limiting import horizon
from uptide.core.keeping.shelf_life import cap_months
from uptide.core.oxidation import rate
from uptide.core.oxidation.learning import Reading, ReadingKind, learn
from uptide.core.oxidation.mixture import MixturePart, OilMixture, mix_oils
from uptide.core.oxidation.oil import OilOxidation
from uptide.core.oxidation.protection import Antioxidants, protection_factor
from uptide.core.oxidation.simulate import Draws, make_draws, simulate, standard_draws, start_peroxides
from uptide.core.oxidation.surroundings import Storage
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.skin.verdicts import OnSkin

FACTS = shipped_catalogue()
OILS = sorted(key for key, item in FACTS.ingredients.items() if item.is_fatty and item.oxidation is not None)
FEW = make_draws(np.random.default_rng(3), 400)


def oxidation_of(key: str) -> OilOxidation:
    found = FACTS.ingredients[key].oxidation
    assert found is not None
    return found


def two(key: str, other: str, percent: float) -> OilMixture:
    """So much [%] of the other in the one."""
    shares = ((key, 100 - percent), (other, percent))
    return mix_oils([MixturePart(oxidation_of(each), share) for each, share in shares if share > 0])


def months(mixture: OilMixture) -> float:
    """What may be promised, before it is made whole."""
    life = simulate(mixture, Storage(), FEW, months=horizon(mixture, Storage(), 1.0))
    return min(life.quantile(0.10), cap_months(mixture))


def feel(key: str, other: str, percent: float) -> float | None:
    fatty = [(100 - percent, FACTS.ingredients[key]), (percent, FACTS.ingredients[other])]
    return OnSkin([(grams, item) for grams, item in fatty if grams > 0]).feel.value


def weighed(rows: Sequence[str]) -> Assessment:
    recipe = Recipe(tuple(Entry(row) for row in rows))
    usage = FACTS.usage_context(recipe, date(2026, 11, 25))
    return assess(recipe, FACTS.ingredients, FACTS.names, draws=standard_draws(), usage=usage)


PAIRS = [
    ("squalane", "flaxseed"),
    ("mct", "rosehip"),
    ("coconut", "flaxseed"),
    ("wheat-germ", "squalane"),
    ("olive", "walnut"),
    ("jojoba", "moringa"),
]


@pytest.mark.parametrize(("key", "other"), PAIRS)
def test_months_and_feel_move_without_a_jump(key: str, other: str) -> None:
    steps = np.linspace(0, 100, 1001)
    promised = np.array([months(two(key, other, percent)) for percent in steps])
    felt = np.array([feel(key, other, percent) for percent in steps], float)

    moved = np.abs(np.diff(promised))
    # The steepest there is: flax in squalane, which loses a tenth of its months for each thousandth.
    assert moved.max() < 3.0
    assert np.abs(np.diff(felt)).max() < 0.004
    # A jump stays as high in a step a tenth as long; a slope does not.
    at = int(moved.argmax())
    finer = [months(two(key, other, percent)) for percent in np.linspace(steps[at], steps[at + 1], 11)]
    assert np.abs(np.diff(finer)).max() < 0.2 * moved[at] + 0.01


def test_a_trace_of_flax_is_not_the_rancidity_of_squalane() -> None:
    squalane, flax = months(two("squalane", "flaxseed", 0)), months(two("flaxseed", "squalane", 0))

    # Where 2 % can oxidise, half of it counts; 0.0004/(0.0004 + 0.0004), and the whole by itself exactly once.
    assert two("squalane", "flaxseed", 2.0).rancidity == pytest.approx(0.5, rel=5e-4)
    assert two("squalane", "flaxseed", 0.2).rancidity == pytest.approx(0.01 / 1.01, rel=5e-4)
    assert two("flaxseed", "squalane", 0.0).rancidity == 1.0
    assert two("squalane", "flaxseed", 0.0).rancidity == 0.0
    # The middle bottle by hand: half of flax's oxidation (1.3 h; fresh 2.5, here 0.02 of it; limit 10.1), and ageing.
    to_limit = log(11.1 / 289.9) - log(3.5 / 297.5)
    ahead = (log(3.5 / 297.5) - log(1.05 / 299.95)) / to_limit
    a_month = 730.5 * (-log(3.5 / 297.5) - 2 * 299 / 301) / (1.3 * exp(8.20)) / to_limit
    assert middle_life(two("squalane", "flaxseed", 2.0)) == pytest.approx(
        (1 + 0.5 * ahead) / (0.5 * a_month + 1 / 36), rel=1e-3
    )
    assert squalane > months(two("squalane", "flaxseed", 0.3)) > 0.8 * squalane > 10 * flax


def middle_life(mixture: OilMixture) -> float:
    """Life [months] at 20 °C in the dark of the middle bottle, without credit for dilution."""
    middle = Draws(**{each.name: np.zeros(1) for each in fields(Draws)})
    return simulate(mixture, Storage("still", (20.0,) * 12, 0.0, opened=False), middle, months=120).quantile(0.5)


def test_the_cap_slides_from_what_cannot_turn_to_what_can() -> None:
    assert cap_months(two("squalane", "flaxseed", 0.0)) == 36
    assert cap_months(two("flaxseed", "squalane", 0.0)) == 24
    assert cap_months(two("squalane", "flaxseed", 2.0)) == pytest.approx(30, abs=0.01)


def _said(finding: Finding) -> tuple[object, ...]:
    """What a finding says; of each row that can be read in two ways it speaks in the order of the rows."""
    remarks = sorted(re.split("[.;] ?", finding.remark))
    return finding.key, finding.value, finding.low, finding.high, finding.word, remarks


@settings(max_examples=12)
@given(
    keys=st.lists(st.sampled_from(OILS), min_size=2, max_size=6, unique=True),
    seed=st.integers(0, 10**6),
    scented=st.booleans(),
)
def test_the_order_of_rows_changes_no_figure_at_all(keys: list[str], seed: int, scented: bool) -> None:
    drawn = random.Random(seed)  # noqa: S311 - amounts, no secrets
    rows = [f"{drawn.choice((1, 2, 7.3, 19.99, 40))} {drawn.choice(('g', 'tsp', 'ml'))} {key}" for key in keys]
    rows += ["7 drops lavender"] if scented else []
    other = drawn.sample(rows, len(rows))
    one, another = weighed(rows), weighed(other)

    assert [_said(each) for each in one.findings] == [_said(each) for each in another.findings]
    for life, same in ((one.shelf_life, another.shelf_life),):
        assert life is not None
        assert same is not None
        assert (life.months, life.low, life.typical, life.high) == (same.months, same.low, same.typical, same.high)
        assert (life.limited_by, life.trade_months, life.remarks) == (same.limited_by, same.trade_months, same.remarks)


def test_olive_marula_and_argan_keep_as_long_in_any_order() -> None:
    """Parts that started each by a draw of its own kept 10 months so, and 11 with the argan first."""
    rows = ["40 g olive oil extra virgin", "30 g marula oil", "40 g argan oil"]
    found = {life.low for turn in range(3) if (life := weighed(rows[turn:] + rows[:turn]).shelf_life) is not None}

    assert len(found) == 1


def test_a_row_that_is_split_changes_nothing() -> None:
    whole, parts = weighed(["30 g rosehip", "20 g olive"]), weighed(["10 g rosehip", "20 g olive", "20 g rosehip"])

    for one, other in zip(whole.findings, parts.findings, strict=True):
        assert (one.key, one.word) == (other.key, other.word)
        assert one.value == (other.value if other.value is None else pytest.approx(other.value, rel=1e-9))
    assert whole.shelf_life is not None
    assert parts.shelf_life is not None
    assert whole.shelf_life.low == pytest.approx(parts.shelf_life.low, rel=1e-9)


def test_all_parts_start_in_one_draw() -> None:
    """By hand: 60 % of an oil of 2.5 and 40 % of one of 6, each with an sd of 0.5, start at the mean."""
    parts = [MixturePart(oxidation_of("rosehip"), 0.6), MixturePart(oxidation_of("olive"), 0.4)]
    mean = (0.6 * 2.5 + 0.4 * 6.0) * exp(0.125)
    spread = log(1 + (exp(0.25) - 1))

    found = start_peroxides(mix_oils(parts), FEW)
    assert found == pytest.approx(mean * np.exp(0.5 * FEW.peroxide - spread / 2))
    # A measured lot brings less doubt: 0.6 x 2.5 with 0.15, and 0.4 x 6 with 0.5.
    parts[0] = MixturePart(oxidation_of("rosehip"), 0.6, pv=2.5, pv_sd=0.15)
    sds = [(exp(sd * sd) * (exp(sd * sd) - 1)) ** 0.5 for sd in (0.15, 0.5)]
    whole = 1.5 * exp(0.15**2 / 2) + 2.4 * exp(0.125)
    ln_sd = log(1 + ((1.5 * sds[0] + 2.4 * sds[1]) / whole) ** 2) ** 0.5
    assert np.std(np.log(start_peroxides(mix_oils(parts), FEW))) == pytest.approx(ln_sd * np.std(FEW.peroxide))


@pytest.mark.parametrize("rice_bran", [2, 3])
def test_no_verdict_hangs_on_the_last_digit(rice_bran: int) -> None:
    """Three oils that feel medium feel medium together, in whatever amounts: 3.0000000000000004 is not above 3."""
    found = weighed([f"{rice_bran} tsp rice bran oil", "2 tsp sesame oil", "1 tsp argan oil"])
    assert found.on_skin is not None
    assert (found.on_skin.suits or {})["combination"]


@pytest.mark.parametrize("celsius", WARMTH)
def test_the_band_holds_bottles_that_follow_another_energy(celsius: float) -> None:
    for mean, least in without_readings(FACTS, celsius):
        assert mean >= 0.75
        assert least >= 0.70


@pytest.mark.parametrize("celsius", [4.0, 28.0])
def test_the_band_holds_them_after_strips_too(celsius: float) -> None:
    assert min(with_readings(FACTS, celsius, lots=60)) >= 0.70


def test_the_energy_is_not_in_doubt_at_20_degrees_and_cold_is_credited_as_before() -> None:
    energy = np.array([-2.0, -1.0, 0.0, 1.0, 2.0])

    assert rate.stretch(293.15, 0.0, energy) == pytest.approx(np.full(5, exp(8.20)))
    # At 35 °C by hand: 22 kJ/mol more or less, over 1/308.15 - 1/293.15.
    doubt = 22_000 / 8.314462618 * (1 / 308.15 - 1 / 293.15)
    warm = rate.stretch(308.15, 0.0, energy) / rate.stretch(308.15)
    assert np.log(warm) == pytest.approx(doubt * energy)
    # In the fridge: 2.5 times 20 °C, less a fifth for each sd down; the law's own 5.6 and the doubt for one sd up.
    cold = rate.stretch(277.15, 0.0, energy) / exp(8.20)
    law = log(383.15 / 277.15) / log(383.15 / 293.15) * 8.20 - 8.20
    up = exp(law + 22_000 / 8.314462618 * (1 / 277.15 - 1 / 293.15))
    assert cold == pytest.approx([2.5 * exp(-0.4), 2.5 * exp(-0.2), 2.5, up, up**2 / 2.5])
    assert ENERGIES == (75e3, 85e3, 95e3)


def test_colder_never_keeps_shorter() -> None:
    oil = two("sunflower", "squalane", 0.0)
    lives = []
    for celsius in (0.0, 4.0, 8.0, 12.0, 20.0, 28.0, 35.0):
        storage = Storage("still", (celsius,) * 12, 0.0, opened=False)
        life = simulate(oil, storage, FEW, months=horizon(oil, storage, 1.0))
        lives.append([life.quantile(part) for part in (0.1, 0.5, 0.9)])
    assert (np.diff(lives, axis=0) <= 0).all()


@pytest.mark.parametrize("celsius", [4.0, 20.0, 35.0])
def test_a_higher_reading_never_lengthens_where_it_is_cold_or_warm(celsius: float) -> None:
    oil, storage = two("sunflower", "squalane", 0.0), Storage("still", (celsius,) * 12, 0.0, opened=False)
    kappa = float(rate.rate_constant(4.2, 1.0, celsius + 273.15)) * 730.5
    lows = []
    for pv in (1.5, 2.0, 3.0, 5.0, 8.0):
        read = [Reading(1.0, ReadingKind.TITRATION, pv, pv)]
        believed = learn(read, lambda m: kappa * m, 1.0, rate_sd=0.4743, kelvin=celsius + 273.15)
        lows.append(simulate(oil, storage, FEW, learnt=believed.sample(FEW), months=60).quantile(0.1))
    assert lows == sorted(lows, reverse=True)


def test_what_was_read_is_sure_where_it_was_read_and_in_doubt_elsewhere() -> None:
    """After many readings in the fridge the band there is narrow; taken out, the doubt about the energy is back."""
    draws, fridge = FEW, 277.15
    kappa = float(rate.rate_constant(4.2, 1.0, fridge)) * 730.5
    u = float(rate.progress(1.0))
    readings = [
        Reading(m, ReadingKind.TITRATION, pv, pv)
        for m in (6.0, 10.0, 14.0, 18.0)
        for pv in (float(rate.peroxide_value(u + m * kappa)),)
    ]
    believed = learn(readings, lambda m: kappa * m, 1.0, rate_sd=0.4743, kelvin=fridge).sample(draws)

    there = np.log(believed.stretch(fridge, draws))
    assert np.ptp(there) < 1e-9
    assert np.std(np.log(believed.stretch(293.15, draws))) > 0.3
    assert np.exp(there[0]) == pytest.approx(float(rate.stretch(fridge)))


def test_much_vitamin_e_harms_no_more_than_anybody_measured_and_dilutes() -> None:
    """By hand, at half a percent of α-tocopherol more than 700 mg/kg: 1/(1 + 0.15 x 5 x 1.5)."""
    harm = protection_factor(Antioxidants(alpha_tocopherol=900_000), 0.0, 0.0, 20.0) / 5
    assert harm == pytest.approx(1 / (1 + 0.15 * 5 * 1.5), rel=1e-6)
    half = weighed(["25 g vitamin E", "25 g sunflower oil high linoleic"])
    trace = weighed(["50 g vitamin E", "0.01 g flax oil"])
    assert half.shelf_life is not None
    assert trace.shelf_life is not None
    assert half.shelf_life.months == 3
    assert any("Nobody measured more" in remark for remark in half.shelf_life.remarks)
    assert trace.shelf_life.months == 27
    assert trace.shelf_life.limited_by.startswith("ageing")


@pytest.mark.parametrize("count", [0, -1])
def test_no_bottle_cannot_be_drawn(count: int) -> None:
    with pytest.raises(QuantityError, match="cannot be drawn; 1 or more can"):
        make_draws(np.random.default_rng(1), count)
