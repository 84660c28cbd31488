"""Whom a blend suits beside the lines between feels; common practice. Classes: safflower 2, sunflower 3, shea 4."""

from __future__ import annotations

import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.skin.verdicts import OnSkin

OILS = shipped_catalogue().ingredients


@pytest.mark.parametrize(
    ("shares", "skin", "suits"),
    [
        ({"sunflower": 100.0}, "oily", True),  # 3.0: the heaviest that is still for oily skin
        ({"sunflower": 98.0, "shea-butter": 2.0}, "oily", False),
        ({"sunflower": 61.0, "shea-butter": 39.0}, "normal", True),  # 3.39, with a fifth of long saturated acids
        ({"sunflower": 58.5, "shea-butter": 41.5}, "normal", False),
        ({"safflower": 61.0, "sunflower": 39.0}, "dry", False),  # 2.39, and linoleic
        ({"safflower": 59.0, "sunflower": 41.0}, "dry", True),
        ({"safflower": 61.0, "sunflower": 39.0}, "mature", False),
    ],
)
def test_it_suits_up_to_the_line_and_not_past_it(shares: dict[str, float], skin: str, *, suits: bool) -> None:
    found = OnSkin(tuple((grams, OILS[key]) for key, grams in shares.items())).suits

    assert found is not None
    assert found[skin] is suits
