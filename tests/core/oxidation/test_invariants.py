"""What must hold whatever the numbers are, and the 40 oils against the trade's lives."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import spearmanr
from tests.core.oxidation.conftest import CLOSED

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.arrays import quantiles
from uptide.core.errors import UptideError
from uptide.core.ingredients.ingredient import LotPast
from uptide.core.keeping.mixing import part_of
from uptide.core.months import HOURS_A_MONTH
from uptide.core.oxidation import rate
from uptide.core.oxidation.history import HeatStep
from uptide.core.oxidation.learning import Reading, ReadingKind, learn
from uptide.core.oxidation.mixture import MixturePart, mix_oils
from uptide.core.oxidation.oil import OilOxidation, estimate
from uptide.core.oxidation.protection import MOST, Antioxidants, protection_factor
from uptide.core.oxidation.simulate import Draws, make_draws, simulate, total_sd
from uptide.core.oxidation.surroundings import Glass, Light, Storage

CATALOGUE = shipped_catalogue()
OILS = {key: item.oxidation for key, item in CATALOGUE.ingredients.items() if item.oxidation is not None}
BOOK = {key: oil for key, oil in OILS.items() if oil.source == "oxidation-calibration"}
LIVING = sorted(key for key, oil in BOOK.items() if not oil.is_inert)
FEW = make_draws(np.random.default_rng(3), 400)
PARTS = st.dictionaries(st.sampled_from(LIVING), st.floats(0.02, 1.0), min_size=1, max_size=5)


def mix(shares: dict[str, float]) -> list[MixturePart]:
    return [MixturePart(OILS[key], share) for key, share in shares.items()]


def median(parts: list[MixturePart], storage: Storage = CLOSED, draws: Draws = FEW) -> float:
    return simulate(mix_oils(parts), storage, draws).quantile(0.5)


def table() -> list[tuple[str, float, float]]:
    """Median life [months] at 20 °C, closed and dark, beside the geometric middle of the trade's, of each book oil."""
    rows = []
    for key, oil in BOOK.items():
        if oil.osi_hours is None:
            months = rate.AGEING_MONTHS
        else:
            months = rate.months_to_limit(oil.osi_hours, oil.fresh_pv, oil.limit_pv, 293.15)
        assert oil.trade_life is not None
        rows.append((key, months, float(np.sqrt(oil.trade_life[0] * oil.trade_life[1]))))
    return rows


def test_40_oils_keep_about_as_long_as_the_trade_says() -> None:
    rows = [row for row in table() if row[0] in LIVING]
    within = [key for key, months, trade in rows if 1 / 1.5 <= months / trade <= 1.5]

    assert len(table()) == 40
    assert spearmanr([row[1] for row in rows], [row[2] for row in rows]).statistic >= 0.93
    assert len(rows) == 38
    assert len(within) >= 36


def test_the_table_in_the_documents_is_this_table() -> None:
    page = (Path(__file__).parents[3] / "docs" / "keeping.md").read_text(encoding="utf-8")

    for key, months, _ in table():
        assert f"| {key} | " in page
        assert f"| {months:.1f} |" in next(line for line in page.splitlines() if line.startswith(f"| {key} |"))


# Lives [months] at 20 °C, closed: an independent calculation of the same model.
@pytest.mark.parametrize(
    ("key", "months"),
    [
        ("flaxseed", 3.7),
        ("rosehip", 6.5),
        ("grapeseed", 7.8),
        ("almond-sweet", 15.0),
        ("olive", 18.8),
        ("coconut", 27.4),
    ],
)
def test_median_lives(key: str, months: float) -> None:
    assert {row[0]: row[1] for row in table()}[key] == pytest.approx(months, abs=0.06)


@given(shares=PARTS)
def test_pooling_lies_between_least_and_most_and_careful_is_never_above(shares: dict[str, float]) -> None:
    found = mix_oils(mix(shares))
    hours = [OILS[key].osi_hours or 0 for key in shares]

    assert min(hours) - 1e-9 <= (found.induction_hours or 0) <= max(hours) + 1e-9
    assert (found.careful_hours or 0) <= (found.induction_hours or 0) + 1e-9


@given(shares=PARTS, cut=st.floats(0.1, 0.9))
def test_a_lot_split_in_two_changes_nothing(shares: dict[str, float], cut: float) -> None:
    key = next(iter(shares))
    split = [
        *mix({k: s for k, s in shares.items() if k != key}),
        MixturePart(OILS[key], shares[key] * cut),
        MixturePart(OILS[key], shares[key] * (1 - cut)),
    ]

    assert mix_oils(split).induction_hours == pytest.approx(mix_oils(mix(shares)).induction_hours)
    assert mix_oils(split).limit_pv == pytest.approx(mix_oils(mix(shares)).limit_pv)


@given(shares=PARTS, share=st.floats(0.1, 5))
def test_an_inert_diluent_adds_no_induction_time(shares: dict[str, float], share: float) -> None:
    assert mix_oils([*mix(shares), MixturePart(OILS["mct"], share)]).induction_hours == pytest.approx(
        mix_oils(mix(shares)).induction_hours
    )


@given(shares=PARTS)
def test_a_trace_of_another_oil_changes_only_a_trace(shares: dict[str, float]) -> None:
    whole = sum(shares.values())

    assert mix_oils([*mix(shares), MixturePart(OILS["flaxseed"], 1e-6 * whole)]).induction_hours == pytest.approx(
        mix_oils(mix(shares)).induction_hours, rel=1e-3
    )


@settings(max_examples=25)
@given(key=st.sampled_from(LIVING), cold=st.floats(-5, 25), more=st.floats(1, 15))
def test_warmer_never_keeps_longer(key: str, cold: float, more: float) -> None:
    def life(celsius: float) -> float:
        return median(mix({key: 1}), replace(CLOSED, celsius=(celsius,) * 12))

    assert life(cold + more) <= life(cold) + 1e-9


@settings(max_examples=25)
@given(key=st.sampled_from(LIVING))
def test_more_light_never_keeps_longer(key: str) -> None:
    lives = [median(mix({key: 1}), replace(CLOSED, light=light, glass=Glass.CLEAR)) for light in Light]

    assert lives == sorted(lives, reverse=True)


@settings(max_examples=25)
@given(key=st.sampled_from(LIVING), age=st.floats(0.5, 12))
def test_age_never_lengthens_a_life(key: str, age: float) -> None:
    fresh, old = (
        simulate(mix_oils([part_of(OILS[key], 1, past)]), CLOSED, FEW) for past in (None, LotPast(months_old=age))
    )

    for part in (0.1, 0.5, 0.9):
        assert old.quantile(part) <= fresh.quantile(part) + 1e-6


def test_an_old_lot_brings_its_peroxides_in_at_once() -> None:
    # 10 % of a lot at 60 meq/kg alone brings 6 meq/kg.
    fresh = mix_oils([MixturePart(OILS["sunflower"], 1)])
    mixed = mix_oils([MixturePart(OILS["sunflower"], 0.9), MixturePart(OILS["sunflower"], 0.1, pv=60, pv_sd=0.15)])

    before, after = simulate(fresh, CLOSED, FEW), simulate(mixed, CLOSED, FEW)
    assert float(after.peroxides(0)[0, 1]) == pytest.approx(0.9 + 6, rel=0.1)
    assert after.quantile(0.5) < before.quantile(0.5) / 3


def test_opening_moving_and_heating_shorten_and_the_fridge_lengthens() -> None:
    oil = mix_oils(mix({"rosehip": 1}))
    plain = simulate(oil, CLOSED, FEW).quantile(0.5)

    assert simulate(oil, replace(CLOSED, opened=True), FEW).quantile(0.5) < plain
    assert simulate(oil, CLOSED, FEW, moves={2: replace(CLOSED, celsius=(28.0,) * 12)}).quantile(0.5) < plain
    assert simulate(oil, CLOSED, FEW, moves={2: replace(CLOSED, celsius=(4.0,) * 12)}).quantile(0.5) > plain
    assert simulate(oil, CLOSED, FEW, heated={1: 0.2}).quantile(0.5) < plain


@given(added=st.floats(0, 20_000), more=st.floats(1, 2000), gamma=st.floats(0, 1500))
def test_mixed_tocopherols_saturate_and_never_pass_the_cap(added: float, more: float, gamma: float) -> None:
    first = protection_factor(Antioxidants(mixed_tocopherols=added), gamma, 50, 5)
    assert first <= MOST
    if 0.12 * (added + more) + 50 <= 700:  # below where α-tocopherol begins to harm
        assert protection_factor(Antioxidants(mixed_tocopherols=added + more), gamma, 50, 5) >= first - 1e-12


def test_protection_added_late_does_less_and_at_ten_nothing() -> None:
    added = Antioxidants(mixed_tocopherols=500)
    factors = [protection_factor(added, 330, 600, 6.7, pv) for pv in (0, 5, 10, 20)]

    assert factors[1] - 1 == pytest.approx((factors[0] - 1) / 2)
    assert factors[2:] == [1, 1]


def test_a_half_strength_product_is_half_the_active() -> None:
    active = {key: CATALOGUE.ingredients[key].protects for key in ("mixed-tocopherols-50", "tocopheryl-acetate")}

    assert active["mixed-tocopherols-50"] == ("mixed_tocopherols", 0.5)  # 0.1 % of it is 500 mg/kg, not 1,000
    assert active["tocopheryl-acetate"] == ("tocopheryl_acetate", 0.97)


@settings(max_examples=20)
@given(months=st.lists(st.floats(0.5, 6), min_size=1, max_size=3))
def test_expected_readings_never_widen_the_band(months: list[float]) -> None:
    rate_constant = float(rate.rate_constant(4.2, 1.0, 293.15))

    def grown(month: float) -> float:
        return rate_constant * month * HOURS_A_MONTH

    readings = [
        Reading(m, ReadingKind.TITRATION, float(pv := rate.peroxide_value(rate.progress(1.0) + grown(m))), float(pv))
        for m in months
    ]
    sds = [learn(readings[:n], grown, 1.0, rate_sd=total_sd()).rate_sd for n in range(len(readings) + 1)]
    # Half a percent: the error of a titration depends on what it reads, which moves the marginal a little.
    assert all(after <= before * 1.005 for before, after in pairwise(sds))


def test_smells_count_once_a_month_and_off_is_off() -> None:
    def grown(month: float) -> float:
        return 0.2 * month

    once = learn([Reading(3.1, ReadingKind.SMELL)], grown, 1.0, rate_sd=0.47)
    often = learn([Reading(3.1, ReadingKind.SMELL), Reading(3.5, ReadingKind.SMELL)], grown, 1.0, rate_sd=0.47)
    off = learn([Reading(3.1, ReadingKind.SMELL, off=True)], grown, 1.0, rate_sd=0.47)

    assert often.rate_mean == pytest.approx(once.rate_mean)
    assert Reading(3.1, ReadingKind.SMELL, off=True).is_past(10.0)
    assert off.rate_mean > once.rate_mean


@pytest.mark.parametrize(
    "make",
    [
        lambda: Reading(-1, ReadingKind.SMELL),
        lambda: Reading(1, ReadingKind.STRIP, 5, 5),
        lambda: Reading(1, ReadingKind.STRIP, 10, 5),
        lambda: Reading(1, ReadingKind.TITRATION, 900, 900),
        lambda: HeatStep(50, 0),
        lambda: HeatStep(400, 1),
        lambda: Storage(celsius=(20.0,)),
        lambda: Storage(material="paper"),
    ],
    ids=["before making", "no interval", "backwards", "too high", "no time", "too hot", "one month", "paper"],
)
def test_what_cannot_be_is_refused(make: object) -> None:
    with pytest.raises(UptideError):
        make()  # type: ignore[operator] # each case is a function without arguments


def test_an_estimate_from_the_acids_says_so_and_is_wider() -> None:
    rosehip = CATALOGUE.ingredients["rosehip"]
    assert rosehip.lipid is not None
    guess = estimate("rosehip", rosehip.lipid, 600)

    assert guess.source == "oxidation-estimate"
    assert guess.osi_sd > OILS["rosehip"].osi_sd
    assert guess.osi_hours == pytest.approx(OILS["rosehip"].osi_hours, rel=0.5)
    assert isinstance(OILS["squalane"], OilOxidation)
    assert OILS["squalane"].is_inert
    assert OILS["isopropyl-myristate"].is_inert


def test_what_cannot_oxidise_holds_no_peroxides_and_ages_alone() -> None:
    still = simulate(mix_oils(mix({"squalane": 1})), CLOSED, FEW, months=30)

    assert (still.peroxides(30) == 0).all()
    assert still.peroxides(30).shape == (31, 3)
    assert still.ageing(30) == pytest.approx(30 * still.ageing(1))


def test_months_that_are_alike_are_followed_in_one_and_give_what_they_give_one_by_one() -> None:
    oil = mix_oils(mix({"sunflower": 1}))
    in_one = simulate(oil, CLOSED, FEW, months=30)
    moves = {month: replace(CLOSED, uses_a_week=float(month)) for month in range(1, 30)}  # says nothing of its air
    one_by_one = simulate(oil, CLOSED, FEW, months=30, moves=moves)

    assert len(in_one.stretches) == 1
    assert len(one_by_one.stretches) == 30
    assert one_by_one.lives == pytest.approx(in_one.lives, rel=1e-9)
    assert one_by_one.peroxides(30) == pytest.approx(in_one.peroxides(30), rel=1e-9)
    assert one_by_one.ageing(17) == pytest.approx(in_one.ageing(17), rel=1e-9)


@given(st.lists(st.floats(-50, 50), min_size=1, max_size=40), st.floats(0, 1))
def test_quantiles_are_those_of_numpy(values: list[float], probability: float) -> None:
    # numpy.quantile, whose default is the linear interpolation of Hyndman and Fan's type 7.
    found = quantiles(np.array(values), (probability,))

    assert found[0] == pytest.approx(np.quantile(values, probability), abs=1e-12)
