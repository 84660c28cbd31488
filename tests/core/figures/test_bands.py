"""The doubt that a figure states, and the lines between two words: each as it is written in docs and methods."""

from __future__ import annotations

import pytest
from tests.conftest import Weigh

WAX_WORDS = [
    (2.9, "hardly thickened by its wax"), (3.1, "a soft salve"), (7.9, "a soft salve"), (8.1, "a salve"),
    (14.9, "a salve"), (15.1, "a balm"), (21.9, "a balm"), (22.1, "a firm balm"), (29.9, "a firm balm"),
    (30.1, "a stick"),
]  # fmt: skip


def test_density_is_known_to_two_grams_in_a_litre(weigh: Weigh) -> None:
    """0.002 g/mL: policy, from the width of the ranges of Codex STAN 210."""
    found = weigh("30 g olive, 20 g jojoba").finding("density_20c")
    assert found.value is not None

    assert (found.low, found.high) == pytest.approx((found.value - 0.002, found.value + 0.002))


def test_a_viscosity_is_known_to_twelve_percent(weigh: Weigh) -> None:
    """Hydrocarbons have no acids that differ from lot to lot: what is left is the doubt of the rule."""
    for text in ("50 g squalane", "50 g squalane, 50 g mineral oil"):
        found = weigh(text).finding("viscosity_25c")
        assert found.value is not None
        assert (found.low, found.high) == pytest.approx((0.88 * found.value, 1.12 * found.value))


def test_the_refractive_index_is_brought_to_twenty_degrees(weigh: Weigh) -> None:
    """A butter is read at 40 °C; 0.00038 less for each degree (from memory), and ± 0.001."""
    item = weigh("50 g cocoa butter").rows[0].ingredient
    assert item is not None
    point = item.properties["refractive_index"][0]
    assert point.typical is not None
    assert point.temperature is not None
    found = weigh("50 g cocoa butter").finding("refractive_index_20c")
    assert found.value is not None

    assert point.temperature > 30
    assert found.value == pytest.approx(point.typical + 0.00038 * (point.temperature - 20), abs=1e-6)
    assert (found.low, found.high) == pytest.approx((found.value - 0.001, found.value + 0.001))


@pytest.mark.parametrize(("percent", "word"), WAX_WORDS)
def test_a_balm_is_as_firm_as_its_wax_makes_it(weigh: Weigh, percent: float, word: str) -> None:
    """Common practice: the lines stand at 3, 8, 15, 22 and 30 % of beeswax."""
    found = weigh(f"{percent} g beeswax, {100 - percent} g squalane").finding("solid_fat_content_22c")

    assert found.word == word
