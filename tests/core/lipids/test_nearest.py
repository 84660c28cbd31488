"""How alike profiles are, by hand arithmetic."""

from __future__ import annotations

import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.lipids.fatty_acids import FattyAcidProfile, Share
from uptide.core.lipids.nearest import displaced, most_like, strangeness

ACIDS = shipped_catalogue().acids
OLEIC, LINOLEIC, PALMITIC = "18:1n9", "18:2n6", "16:0"
# Oleic varies by 8 % in all, so by 2 % of itself; linoleic by less than any laboratory sees.
OIL = FattyAcidProfile((Share(ACIDS[OLEIC], 0.66, 0.70, 0.74), Share(ACIDS[LINOLEIC], 0.295, 0.30, 0.305)))
OTHER = FattyAcidProfile((Share(ACIDS[OLEIC], 0.16, 0.20, 0.24), Share(ACIDS[LINOLEIC], 0.795, 0.80, 0.805)))


def test_what_is_displaced_is_half_of_all_differences_and_counts_what_only_one_has() -> None:
    assert displaced({OLEIC: 0.7, LINOLEIC: 0.3}, {OLEIC: 0.5, PALMITIC: 0.5}) == pytest.approx(0.5)
    assert displaced({OLEIC: 1.0}, {PALMITIC: 1.0}) == 1.0
    assert displaced({OLEIC: 0.7, LINOLEIC: 0.3}, {OLEIC: 0.7, LINOLEIC: 0.3}) == 0.0


def test_strangeness_is_the_root_mean_square_in_the_oil_s_own_spreads() -> None:
    # Oleic is 3 of its spreads of 0.02 off, linoleic 4 of the least of 0.01, palmitic, which it has none of, 0.
    measured = {OLEIC: 0.76, LINOLEIC: 0.26, PALMITIC: 0.0}
    assert strangeness(measured, OIL) == pytest.approx(((9 + 16 + 0) / 3) ** 0.5)
    assert strangeness({}, OIL) == 0.0


def test_the_most_alike_stand_first_and_only_three_of_them() -> None:
    oils = [(f"other {turn}", OTHER) for turn in range(3)] + [("oil", OIL)]
    found = most_like({OLEIC: 0.7, LINOLEIC: 0.3}, oils)

    assert [key for key, _ in found] == ["oil", "other 0", "other 1"]
    assert found[0][1] == pytest.approx(0)
