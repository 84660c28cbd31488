"""A blend in one sentence, and its verdicts with the one that is worst for who wears it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from typing import Any

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.assessment.verdicts import TITLES, sentence, verdicts
from uptide.core.measures.lines import split_recipe
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.oxidation.surroundings import Storage
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.skin.wearer import ANYONE, Wearer

TODAY = date(2026, 11, 26)
Look = Callable[..., Assessment]
PLAIN = "60 ml grapeseed, 20 ml jojoba, 10 drops lavender"


@pytest.fixture
def looked_at(catalogue: Catalogue) -> Look:
    def look(text: str, wearer: Wearer = ANYONE, **storage: Any) -> Assessment:
        recipe = Recipe(tuple(map(Entry, split_recipe(text))), storage=replace(Storage(), **storage))
        return assess(
            recipe,
            catalogue.ingredients,
            catalogue.names,
            draws=standard_draws(),
            usage=catalogue.usage_context(recipe, TODAY, wearer),
        )

    return look


def worst(found: Assessment) -> str:
    return next((v.finding.key for v in verdicts(found) if v.is_worst), "")


def test_every_verdict_stands_in_its_order_with_its_range(looked_at: Look) -> None:
    found = verdicts(looked_at(PLAIN))

    assert [v.finding.key for v in found] == [key for key in TITLES if key != "fit_to_sell"]  # nobody sells it
    scales = {v.finding.key: (v.scale, v.limit) for v in found}
    assert scales["feel"] == ((1, 4), None)
    assert scales["penetration"] == ((0, 100), 50)
    assert scales["phototoxicity"] == ((0, 1.25), 1)
    assert scales["scent_dose"] == ((0, 3.75), 3)  # a body oil bears 3 % of scent
    assert scales["cost"] == (None, None)
    for v in found:
        if v.scale is not None and v.finding.value is not None:
            assert v.scale[0] <= v.finding.value


@pytest.mark.parametrize(
    ("text", "wearer", "key"),
    [
        (PLAIN, ANYONE, ""),
        ("30 ml jojoba, 40 drops lavender", ANYONE, "scent_dose"),
        ("30 ml jojoba, 10 drops lime expressed", ANYONE, "phototoxicity"),
        ("30 ml coconut virgin", ANYONE, "comedogenicity"),
        ("30 ml shea butter", replace(ANYONE, skin="oily"), "skin_fit"),
        ("30 ml grapeseed", replace(ANYONE, skin="oily"), ""),
        ("60 ml olive", ANYONE, ""),
        ("60 ml olive", ANYONE.with_ticks("medicines", "retinoid"), "penetration"),
    ],
)
def test_what_is_worst_for_the_wearer_is_pointed_out(text: str, wearer: Wearer, key: str, looked_at: Look) -> None:
    assert worst(looked_at(text, wearer)) == key


def test_a_blend_that_turns_within_weeks_is_weakest_there(looked_at: Look) -> None:
    hot = looked_at("60 ml flax", place="hot car", celsius=(35.0,) * 12)

    assert worst(hot) == "keeps_months"


def test_the_sentence_says_what_it_is(looked_at: Look) -> None:
    assert sentence(looked_at(PLAIN), "Facial oil") == (
        "A very light, dry facial oil for oily, combination and normal skin; keeps 4 months in a cool cupboard, "
        "grapeseed oil turns first; nothing in it is stopped."
    )
    assert sentence(looked_at(PLAIN), "Bath oil, floating").startswith("A very light, dry floating bath oil for ")
    for_dry = sentence(looked_at(PLAIN, replace(ANYONE, name="Ines", skin="dry")), "Body oil", "Ines")
    assert ", not one for dry skin; " in for_dry
    assert for_dry.endswith("nothing in it is stopped for Ines.")


def test_the_sentence_names_what_is_stopped_and_never_calls_open_rows_safe(looked_at: Look) -> None:
    stopped = sentence(looked_at("30 ml jojoba, 12 drops bergamot expressed"), "Body oil")
    small = sentence(looked_at("60 ml jojoba, 2 drops zorgblat"), "Body oil")
    large = sentence(looked_at("60 ml jojoba, 60 ml zorgblat"), "Body oil")

    assert stopped.endswith("; stopped: bergamot.")
    assert small.endswith("; nothing that is settled is stopped.")
    assert large == "A body oil of which too much is open: say what “60 ml zorgblat” is, and it is worked out."


def test_what_waits_for_two_rows_waits_for_both(looked_at: Look) -> None:
    both, twice = looked_at("60 ml zorgblat, 1 tsp clove, 5 ml jojoba"), looked_at("60 ml zorgblat, 60 ml zorgblat")

    assert "say what “60 ml zorgblat” and “1 tsp clove” are, and" in sentence(both, "Body oil")
    assert both.finding("feel").remark == "Unknown until “60 ml zorgblat” and “1 tsp clove” are settled."
    assert twice.finding("feel").remark == "Unknown until “60 ml zorgblat” is settled."
    assert sentence(looked_at("# nothing yet"), "Body oil") == ""
