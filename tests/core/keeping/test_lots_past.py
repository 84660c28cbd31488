"""What an oil of a lot brings into a blend: peroxides by age, heat and certificate, how sure that is; its ageing."""

from __future__ import annotations

from math import exp, log, sqrt

import pytest

from uptide.core.ingredients.ingredient import LotPast
from uptide.core.keeping.mixing import part_of
from uptide.core.oxidation.history import HeatStep
from uptide.core.oxidation.oil import OilOxidation

# Sunflower: 4.2 h at 110 °C; fresh at 1 meq/kg it is at 3.711 after half a year at 20 °C, by the printed worked number.
SUNFLOWER = OilOxidation("sunflower", 4.2, "refined", (11.0, 26.0, 62.0, 0.2, 0.0), 330, 600)
INERT = OilOxidation("squalane", None, "refined", (100.0, 0.0, 0.0, 0.0, 0.0))
SPREAD = sqrt(0.35**2 + 0.25**2 + 0.20**2)  # ln rate of a lot: induction time from a book, extrapolation, storage
HALF_A_YEAR = HeatStep(20.0, 6 * 730.5)


def grown(pv: float, months: float) -> float:
    """From a value [meq/kg] after so many months at 20 °C: ln[(PV + 1)/(300 − PV)] goes as from 1 to 3.711 in six."""
    step = (log(4.711 / 296.289) - log(2 / 299)) / 6
    e = exp(log((pv + 1) / (300 - pv)) + months * step)
    return (300 * e - 1) / (1 + e)


def test_of_a_lot_without_a_past_nothing_is_known_but_its_class() -> None:
    found = part_of(SUNFLOWER, 20.0, None)

    assert (found.oil, found.share, found.pv, found.pv_sd, found.ageing) == (SUNFLOWER, 20.0, None, 0.5, 0.0)


def test_a_lot_of_known_age_has_grown_and_is_less_sure_the_further_it_has() -> None:
    found = part_of(SUNFLOWER, 20.0, LotPast(months_old=6.0))

    assert found.pv == pytest.approx(3.711, abs=0.002)
    assert found.pv_sd == pytest.approx(sqrt(0.5**2 + (SPREAD * log(3.711)) ** 2), rel=1e-3)
    assert found.ageing == pytest.approx(6 / 36)
    stood = part_of(SUNFLOWER, 20.0, LotPast(months_old=3.0, aged=(HALF_A_YEAR,), ageing=0.2))
    assert stood.pv == pytest.approx(grown(1.0, 9), rel=1e-3)
    assert stood.ageing == pytest.approx(0.2 + 3 / 36)


def test_a_certificate_says_what_it_was_and_age_before_it_counts_for_ageing_alone() -> None:
    measured = part_of(SUNFLOWER, 20.0, LotPast(months_old=6.0, peroxide_value=2.0))
    since = part_of(SUNFLOWER, 20.0, LotPast(months_old=6.0, peroxide_value=2.0, aged=(HALF_A_YEAR,)))

    assert (measured.pv, measured.pv_sd) == (2.0, 0.15)
    assert measured.ageing == pytest.approx(6 / 36)
    assert since.pv == pytest.approx(grown(2.0, 6), rel=1e-3)
    assert since.pv_sd == pytest.approx(sqrt(0.15**2 + (SPREAD * log(grown(2.0, 6) / 2.0)) ** 2), rel=1e-3)


def test_heat_comes_last_and_makes_nothing_less_sure() -> None:
    heat = HeatStep(20.0, 3 * 730.5)
    found = part_of(SUNFLOWER, 20.0, LotPast(peroxide_value=2.0, steps=(heat,), ageing=0.1))
    both = part_of(SUNFLOWER, 20.0, LotPast(months_old=6.0, steps=(heat,)))

    assert found.pv == pytest.approx(grown(2.0, 3), rel=1e-3)
    assert found.pv_sd == 0.15
    assert found.ageing == pytest.approx(0.1 + 3 / 36)
    assert both.pv == pytest.approx(grown(1.0, 9), rel=1e-3)
    assert both.pv_sd == pytest.approx(part_of(SUNFLOWER, 20.0, LotPast(months_old=6.0)).pv_sd)
    assert both.ageing == pytest.approx(9 / 36)


def test_a_certificate_of_nothing_has_found_less_than_it_can_see() -> None:
    found = part_of(SUNFLOWER, 20.0, LotPast(peroxide_value=0.0, aged=(HALF_A_YEAR,)))

    assert found.pv == pytest.approx(grown(0.0, 6), rel=1e-3)
    assert found.pv_sd == pytest.approx(sqrt(0.15**2 + (SPREAD * log(grown(0.0, 6) / 0.05)) ** 2), rel=1e-3)
    assert part_of(SUNFLOWER, 20.0, LotPast(peroxide_value=240.0, steps=(HeatStep(100.0, 200.0),))).pv == 250.0


def test_what_cannot_oxidise_ages_and_has_no_peroxides() -> None:
    found = part_of(INERT, 5.0, LotPast(months_old=12.0, peroxide_value=3.0, ageing=0.05))

    assert (found.pv, found.share) == (None, 5.0)
    assert found.ageing == pytest.approx(0.05 + 12 / 36)
