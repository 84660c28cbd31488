"""The possible lots of an oil: closed, bound to the typical figures, and as wide as the ranges say."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.lipids.draws import band, closed_shares, draws_of
from uptide.core.lipids.fatty_acids import FattyAcidProfile, Share
from uptide.core.lipids.lipid import Lipid, LipidClass, fatty_acid_yield, iodine_value, saponification_value

ACIDS = shipped_catalogue().acids


def two(low: float, typical: float, high: float) -> Lipid:
    """Oleic within these shares, linoleic the rest."""
    return Lipid(
        LipidClass.TRIGLYCERIDE,
        FattyAcidProfile(
            (
                Share(ACIDS["18:1n9"], low, typical, high),
                Share(ACIDS["18:2n6"], 1 - high, 1 - typical, 1 - low),
            )
        ),
    )


def test_every_lot_of_every_oil_sums_to_one_and_has_no_negative_share(catalogue: Catalogue) -> None:
    for item in catalogue.ingredients.values():
        draws = draws_of(item.lipid) if item.lipid else None
        if draws is not None:
            assert np.allclose(draws.shares.sum(axis=1), 1), item.key
            assert draws.shares.min() >= 0, item.key


def test_the_median_lot_has_the_typical_figures(catalogue: Catalogue) -> None:
    # Ranges that are lopsided move the middle a little; 2.5 % of the figure is the most that any oil shows.
    for item in catalogue.ingredients.values():
        draws = draws_of(item.lipid) if item.lipid else None
        if draws is None or item.lipid is None:
            continue
        assert np.median(draws.saponification_value) == pytest.approx(saponification_value(item.lipid), rel=0.025)
        assert np.median(draws.fatty_acid_yield) == pytest.approx(fatty_acid_yield(item.lipid), rel=0.01)
        assert np.median(draws.iodine_value) == pytest.approx(iodine_value(item.lipid), rel=0.06, abs=1.5), item.key


def test_two_acids_trade_off_and_their_band_is_that_of_hand_arithmetic() -> None:
    lipid = two(0.5, 0.6, 0.7)
    draws = draws_of(lipid)
    assert draws is not None

    assert np.allclose(np.corrcoef(draws.shares.T), [[1, -1], [-1, 1]])
    # By hand: both have a standard deviation of 0.05; closed, 0.05 / sqrt 2 of opposite sign, times 87.2 of iodine
    # between trilinolein and triolein: 3.08, so the band is ± 1.96 times that.
    low, high = band(draws.iodine_value)
    assert (high - low) / 2 == pytest.approx(1.96 * 3.08, rel=0.08)


def test_an_exact_profile_has_no_band() -> None:
    draws = draws_of(two(0.6, 0.6, 0.6))
    assert draws is not None

    low, high = band(draws.iodine_value)
    assert high - low == pytest.approx(0, abs=1e-9)


def test_a_hydrocarbon_has_no_lots(catalogue: Catalogue) -> None:
    squalane = catalogue.ingredient("squalane").lipid
    assert squalane is not None

    assert draws_of(squalane) is None


@given(st.floats(0.05, 0.95), st.floats(0.0, 0.04), st.integers(0, 2**32 - 1))
def test_closing_never_leaves_the_hundred(typical: float, half: float, seed: int) -> None:
    profile = two(typical - half, typical, typical + half).acids
    assert profile is not None

    shares = closed_shares(profile, np.random.default_rng(seed), 50)

    assert np.allclose(shares.sum(axis=1), 1)


def test_the_draws_do_not_flicker(catalogue: Catalogue) -> None:
    olive = catalogue.ingredient("olive").lipid
    assert olive is not None
    draws_of.cache_clear()
    first = draws_of(olive)
    draws_of.cache_clear()
    second = draws_of(olive)
    assert first is not None
    assert second is not None

    assert np.array_equal(first.iodine_value, second.iodine_value)


def three(*shares: tuple[str, float, float, float]) -> FattyAcidProfile:
    return FattyAcidProfile(tuple(Share(ACIDS[code], low, typical, high) for code, low, typical, high in shares))


def test_an_acid_that_varies_twice_as_much_takes_four_times_of_what_must_be_given_back() -> None:
    """By hand: of independent spreads of 0.02, 0.01 and 0 the sum varies by √5 of 0.01, of which 4/5 and 1/5 go back.

    What is left of each is s·√(1 − s²/Σs²): 0.02·√(1/5) = 0.00894, and as much of the other, in the other direction.
    """
    drawn = closed_shares(
        three(("18:1n9", 0.56, 0.60, 0.64), ("18:2n6", 0.28, 0.30, 0.32), ("16:0", 0.10, 0.10, 0.10)),
        np.random.default_rng(5),
        200_000,
    )

    assert drawn.std(axis=0) == pytest.approx([0.00894, 0.00894, 0.0], rel=0.01, abs=1e-9)
    assert drawn.mean(axis=0) == pytest.approx([0.60, 0.30, 0.10], abs=1e-4)


def test_a_lopsided_range_reaches_as_far_as_it_says_on_either_side() -> None:
    """Beside one that varies much an acid keeps its shape: what must be given back is nearly all the other's."""
    drawn = closed_shares(
        three(("18:1n9", 0.58, 0.60, 0.70), ("18:2n6", 0.10, 0.30, 0.50), ("16:0", 0.10, 0.10, 0.10)),
        np.random.default_rng(5),
        200_000,
    )
    low, middle, high = np.quantile(drawn[:, 0], (0.0228, 0.5, 0.9772))

    assert low == pytest.approx(0.58, abs=0.006)
    assert middle == pytest.approx(0.60, abs=0.006)
    assert high == pytest.approx(0.695, abs=0.012)
    assert drawn.min() >= 0


def test_means_of_lots_go_by_moles_and_not_by_mass() -> None:
    """Half capric (172.26 g/mol), half stearic (284.48): 62.3 % of the molecules are capric, so 13.02 carbons."""
    fat = Lipid(LipidClass.TRIGLYCERIDE, three(("10:0", 0.5, 0.5, 0.5), ("18:0", 0.5, 0.5, 0.5)))
    draws = draws_of(fat)
    assert draws is not None
    assert float(draws.carbons[0]) == pytest.approx(13.016, abs=0.002)
    assert float(draws.double_bonds[0]) == 0.0
