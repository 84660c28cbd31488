"""What a thermometer said is the heat that counts: the dose of the real history, with its gaps."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import QuantityError
from uptide.core.infusion.temperature import Reading, TemperatureLog
from uptide.core.oxidation.history import HeatStep, life_spent
from uptide.core.safety.caution import Grade

BEGUN = datetime(2026, 11, 26, 9, 0, tzinfo=UTC)
SUNFLOWER = shipped_catalogue().ingredients["sunflower"].oxidation


def log(*celsius: float, every: float = 60.0) -> TemperatureLog:
    return TemperatureLog([Reading(BEGUN + timedelta(seconds=every * n), t) for n, t in enumerate(celsius)])


def test_a_steady_bath_is_its_hours_at_its_warmth() -> None:
    (step,) = log(*[50.0] * 361).heat
    assert step.celsius == 50.0
    assert step.hours == pytest.approx(6.0)
    assert log(50.0).heat == ()
    assert TemperatureLog(()).heat == ()


def test_five_hours_at_50_and_one_at_85_cost_what_was_worked_out() -> None:
    """Example 22 of the note on steeping: 6.373 % of the life of sunflower, where 6 h at 50 °C were planned."""
    assert SUNFLOWER is not None
    read = log(*[50.0] * 301, *[85.0] * 60)

    assert 100 * life_spent(SUNFLOWER, read.heat) == pytest.approx(6.373, rel=0.02)
    assert 100 * life_spent(SUNFLOWER, (HeatStep(50, 6),)) == pytest.approx(1.350, abs=0.001)


def test_a_gap_counts_as_warm_as_its_hotter_end_and_is_marked() -> None:
    # Ten minutes: the dose of a logged bath is good to 0.4 % up to there, by the note on steeping.
    just, gap = log(40.0, 60.0, every=600), log(40.0, 60.0, every=601)

    assert just.gaps == ()
    assert just.heat[0].celsius == 50.0
    assert [(a.celsius, b.celsius) for a, b in gap.gaps] == [(40.0, 60.0)]
    assert gap.heat[0].celsius == 60.0


@given(st.lists(st.floats(15, 95), min_size=2, max_size=40))
def test_no_time_is_lost_and_nothing_is_hotter_than_what_was_read(celsius: list[float]) -> None:
    read = log(*celsius, every=300)

    assert sum(step.hours for step in read.heat) == pytest.approx(read.hours_warm)
    assert read.hottest is not None
    assert max(step.celsius for step in read.heat) <= read.hottest.celsius + 0.5


def test_what_to_do_when_it_is_too_hot() -> None:
    read = log(50.0)
    assert read.says(60.0) is None
    assert (read.says(60.1) or ("",))[0] is Grade.WARN
    assert "turn the heat off" in (read.says(72.0) or ("", ""))[1]
    assert (read.says(80.1) or ("",))[0] is Grade.STOP
    resin = TemperatureLog(read.readings, resin=True)
    assert resin.says(69.0) is None
    assert resin.says(71.0) is not None


@pytest.mark.parametrize("celsius", [-31.0, 201.0])
def test_no_kitchen_has_that(celsius: float) -> None:
    with pytest.raises(QuantityError, match="is no temperature of a jar"):
        Reading(BEGUN, celsius)


def test_readings_that_are_years_apart_are_steps_of_a_year() -> None:
    far = TemperatureLog([Reading(BEGUN, 20.0, typed=True), Reading(BEGUN + timedelta(days=800), 20.0, typed=True)])
    assert len(far.heat) == 3
    assert sum(step.hours for step in far.heat) == pytest.approx(800 * 24)
