"""Where a word of the trade changes: a value on each side of each line, and what a number of practice comes to."""

from __future__ import annotations

from dataclasses import replace

import pytest
from tests.core.safety.conftest import FACTS, case_of

from uptide.core.safety.bath import InWater, Rinse, bath_of
from uptide.core.safety.case import Purpose
from uptide.core.safety.check import check
from uptide.core.safety.dose import dose_of


@pytest.mark.parametrize(
    ("part", "rules"), [(0.79, set()), (0.81, {"oil-near"}), (0.99, {"oil-near"}), (1.01, {"oil-over"})]
)
def test_an_oil_is_warned_of_from_four_fifths_of_its_own_limit(part: float, rules: set[str]) -> None:
    limit = FACTS.safety.scents["ylang-ylang"].most_leave_on
    assert limit is not None
    found = check(case_of({"ylang-ylang": part * limit}))

    assert {caution.rule for caution in found.cautions if caution.rule.startswith("oil-")} == rules


def test_half_of_what_brings_water_is_water() -> None:
    assert FACTS.safety.emulsifiers["liquid-soap"].brings_water
    assert case_of({"liquid-soap": 10.0}).water == pytest.approx(5.0)
    assert case_of({"liquid-soap": 10.0, "rose-hydrosol": 4.0}).water == pytest.approx(9.0)
    assert case_of({"polysorbate-80": 10.0}).water == 0.0


@pytest.mark.parametrize(
    ("soap", "verdict"), [(95.3, InWater.SOAP_CARRIED), (95.2, InWater.UNSURE), (95.1, InWater.UNSURE)]
)
def test_twenty_parts_of_soap_carry_one_of_oil(soap: float, verdict: InWater) -> None:
    found = bath_of(case_of({"liquid-soap": soap}, "bath-oil-dispersing"))

    assert found is not None
    assert (found.verdict is InWater.SOAP_CARRIED) is (verdict is InWater.SOAP_CARRIED)


def test_where_nobody_knows_what_the_oils_want_no_emulsifier_is_offered() -> None:
    known = bath_of(case_of({"polysorbate-80": 5.0}, "bath-oil-dispersing"))
    unknown = bath_of(case_of({"walnut": 60.0, "polysorbate-80": 5.0}, "bath-oil-dispersing"))

    assert known is not None
    assert unknown is not None
    assert known.offers
    assert unknown.offers == ()


def test_what_stays_on_a_face_after_each_way_of_rinsing() -> None:
    """2 mL of oil of 0.92: 1.84 g; a cloth leaves a quarter, a cleanser a twentieth, water alone six tenths."""
    found = bath_of(case_of({}, "cleansing-oil"))

    assert found is not None
    assert found.verdict is InWater.FLOATS
    assert dict(found.residue) == pytest.approx({Rinse.CLOTH: 0.46, Rinse.SECOND: 0.092, Rinse.EMULSIFIER: 1.104})
    rinsed = bath_of(case_of({"polysorbate-80": 15.0}, "cleansing-oil"))
    assert rinsed is not None
    assert rinsed.verdict is InWater.UNSURE  # it foams: three tenths stay
    assert dict(rinsed.residue)[Rinse.EMULSIFIER] == pytest.approx(0.3 * 1.84 * 0.85)


@pytest.mark.parametrize(
    ("shares", "verdict"),
    [
        ({"polyglyceryl-10-dioleate": 10.0, "polyglyceryl-4-oleate": 5.0}, InWater.DISPERSES),
        ({"liquid-soap": 97.0}, InWater.SOAP_CARRIED),
    ],
)
def test_of_what_water_carries_off_a_twentieth_stays(shares: dict[str, float], verdict: InWater) -> None:
    found = bath_of(case_of(shares, "cleansing-oil"))

    assert found is not None
    assert found.verdict is verdict
    oil = 1.84 * (1 - sum(shares.values()) / 100)
    assert dict(found.residue)[Rinse.EMULSIFIER] == pytest.approx(0.05 * oil)


@pytest.mark.parametrize(("percent", "is_over"), [(4.8, False), (5.4, True)])
def test_where_nothing_limits_it_five_percent_of_scent_are_the_most(percent: float, is_over: bool) -> None:
    """Tisserand and Young, general use; from memory."""
    case = replace(case_of({"lavender": percent}), purpose=Purpose(product="something else", area="hand"))
    found = dose_of(case)

    assert found.limits == ()
    assert found.is_over is is_over
