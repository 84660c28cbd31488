"""A figure of one thing is answered from its own assessment, with its doubt; and nothing else is taken for one."""

from __future__ import annotations

import pytest
from tests.core.finder.asking import known_of

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import QuantityError
from uptide.core.finder.about_figures import about_figure
from uptide.core.finder.ask import ask
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.skin.wearer import ANYONE

FACTS = shipped_catalogue()
KNOWN = known_of(FACTS)


@pytest.mark.parametrize(
    ("question", "key", "decimals"),
    [
        ("iodine value of argan", "iodine_value", 1),
        ("what is argan’s iodine number", "iodine_value", 1),
        ("Argan sap value", "saponification_value", 1),
        ("saponification  value of argan", "saponification_value", 1),
        ("density of argan", "density_20c", 3),
        ("refractive index argan", "refractive_index_20c", 4),
        ("what's the viscosity of argan oil", "slip", 0),
        ("cox value of argan", "cox_value", 2),
        ("induction time of argan", "induction_time_110c", 1),
    ],
)
def test_a_figure_is_that_of_the_assessment_with_its_band(question: str, key: str, decimals: int) -> None:
    finding = KNOWN.assess(Recipe((Entry("100 g argan"),)), ANYONE).finding(key)
    found = ask(question, KNOWN)

    assert finding.value is not None
    assert found.answer.startswith("Argan oil: ")
    assert f" {finding.value:.{decimals}f}" in found.answer
    low, high = finding.low, finding.high
    if low is None or high is None or low == high:
        assert " to " not in found.answer
    else:
        assert found.answer.endswith(f"({low:.{decimals}f} to {high:.{decimals}f})")
    assert finding.unit in found.answer
    assert "source" in found.remark  # where it stands
    assert found.about == "argan"


@pytest.mark.parametrize(
    ("question", "said"),
    [
        # Codex Stan 210: iodine value of coconut 6.3 to 10.6; of virgin olive (Codex Stan 33) 75 to 94.
        ("iodine value of coconut oil", "iodine value 9.2 g I₂/100 g"),
        ("iodine value of olive", "iodine value 83.9 g I₂/100 g"),
        # Melts at 24 to 26 °C: common practice.
        ("at what temperature does coconut oil melt", "Coconut oil: soft in the bathroom"),
        ("is shea butter hard in summer", "Shea butter: firm in the bathroom"),
        ("does squalane freeze", "Squalane: clear everywhere"),
        ("inci of tea tree", "Tea tree essential oil: Melaleuca Alternifolia Leaf Oil"),
        ("jojoba inci name", "Jojoba oil (liquid wax): Simmondsia Chinensis Seed Oil"),
        ("iodine value of beeswax", "Beeswax: that is not known of it"),
    ],
)
def test_what_is_asked_of_one_figure(question: str, said: str) -> None:
    assert said in ask(question, KNOWN).answer


@pytest.mark.parametrize(
    ("question", "key", "before"),
    [
        ("is argan greasy", "feel", "feels "),
        ("how fast does argan absorb", "feel", "feels "),
        ("how long does argan oil take to sink in", "feel", "feels "),
        ("how does argan feel on skin", "feel", "feels "),
        ("does argan stain", "skin_tint", ""),
        ("what colour is argan", "skin_tint", ""),
    ],
)
def test_what_is_answered_in_a_word_is_the_verdict_with_its_working(question: str, key: str, before: str) -> None:
    finding = KNOWN.assess(Recipe((Entry("100 g argan"),)), ANYONE).finding(key)
    found = ask(question, KNOWN)

    assert (found.answer, found.working) == (f"Argan oil: {before}{finding.word}", finding.remark)
    assert finding.word
    assert finding.remark


def test_a_scent_has_no_feel_of_its_own() -> None:
    assert ask("is lavender greasy", KNOWN).answer == "Lavender (true) essential oil: that is not known of it"


def test_where_it_sets_is_said_for_each_place() -> None:
    found = ask("does coconut oil solidify in the fridge", KNOWN)

    assert found.working.startswith("In the fridge (4 °C) and in a cool room (15 °C) hard")
    assert found.remark


@pytest.mark.parametrize(
    "question", ["does argan soften skin", "is jojoba a liquid wax", "iodine value", "density of zorg"]
)
def test_what_asks_for_no_figure_of_a_thing_is_not_taken_for_one(question: str) -> None:
    assert about_figure(question, KNOWN) == []
    with pytest.raises(QuantityError):
        ask(question, KNOWN)
