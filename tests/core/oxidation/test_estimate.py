"""An oil that nobody measured, by hand: ln OSI = 3.17 − 0.86 ln Cox (docs/keeping.md)."""

from __future__ import annotations

from math import exp, log

import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.lipids.fatty_acids import FattyAcidProfile, Share
from uptide.core.lipids.lipid import Lipid, LipidClass
from uptide.core.oxidation.oil import estimate

ACIDS = shipped_catalogue().acids
CODES = {"palmitic": "16:0", "stearic": "18:0", "oleic": "18:1n9", "linoleic": "18:2n6", "linolenic": "18:3n3"}


def fat(**parts: float) -> Lipid:
    """A fat of so much [g/g] of each acid."""
    shares = tuple(Share(ACIDS[CODES[name]], part, part, part, "", "") for name, part in parts.items())
    return Lipid(LipidClass.TRIGLYCERIDE, FattyAcidProfile(shares))


def test_every_fact_of_an_estimate() -> None:
    oil = estimate("own:x", fat(palmitic=0.10, oleic=0.50, linoleic=0.30, linolenic=0.10), 400.0)
    cox = 0.02 * 0.10 + 1.0 * 0.50 + 10.3 * 0.30 + 21.6 * 0.10  # 5.752

    assert oil.key == "own:x"
    assert oil.unsaturation == pytest.approx((10, 50, 30, 10, 0))
    assert oil.cox == pytest.approx(cox)
    assert oil.osi_hours == pytest.approx(exp(3.17 - 0.86 * log(cox)))
    assert oil.osi_hours == pytest.approx(5.29, abs=0.01)
    assert oil.osi_sd == 0.45
    assert (oil.tocopherols_gamma, oil.tocopherols_alpha) == (300.0, 0.0)  # three quarters of the total
    assert (oil.lot_class, oil.fresh_pv, oil.limit_pv) == ("virgin", 2.5, 15.0)
    assert (oil.source, oil.confidence) == ("oxidation-estimate", "low")
    assert oil.light == pytest.approx(0.74 * 0.50 + 1.3 * 0.30 + 1.9 * 0.10)


def test_what_has_no_double_bond_cannot_oxidise() -> None:
    hard = estimate("own:y", fat(palmitic=0.5, stearic=0.5), 400.0)

    assert hard.is_inert
    assert (hard.key, hard.osi_hours, hard.lot_class, hard.cox) == ("own:y", None, "refined", 0.0)
    assert (hard.source, hard.confidence, hard.unsaturation) == ("definition", "medium", (100, 0, 0, 0, 0))


def test_how_it_was_made_is_kept() -> None:
    assert estimate("own:z", fat(oleic=1.0), 0.0, "olive").limit_pv == 20.0
    assert estimate("own:z", fat(oleic=1.0), 0.0, "olive").osi_hours == pytest.approx(exp(3.17))
