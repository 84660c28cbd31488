"""What must hold of every blend: restrictions only add, more of an oil is never safer, the batch's size is nothing."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.safety.conftest import FACTS, TODAY, case_of
from tests.core.safety.test_worked_examples import ADULT

from uptide.core.assessment.assess import assess
from uptide.core.ingredients.ingredient import Phase
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.safety.case import Case
from uptide.core.safety.caution import Grade
from uptide.core.safety.check import check
from uptide.core.safety.dose import dose_of
from uptide.core.safety.limits import allergens_of, over_limits
from uptide.core.safety.phototoxicity import phototoxicity_of
from uptide.core.skin.wearer import GROUPS, Wearer

SEVERITY = {Grade.NOTE: 1, Grade.WARN: 2, Grade.STOP: 3}
SCENTS = sorted(key for key in FACTS.safety.scents if FACTS.ingredients[key].phase is Phase.SCENT)
OILS = sorted(key for key, item in FACTS.ingredients.items() if item.is_fatty)
PRODUCTS = sorted(FACTS.products)

shares = st.dictionaries(st.sampled_from(SCENTS), st.floats(0.01, 3.0), max_size=4)
oils = st.dictionaries(st.sampled_from(OILS), st.floats(1.0, 30.0), max_size=3)
products = st.sampled_from(PRODUCTS)
flags = st.sampled_from(["pregnant", "planning", "breastfeeding", "sensitive"])
ticks = st.sampled_from([(group, key) for group, known in GROUPS.items() for key in known])
wearers = st.builds(lambda chosen, said: _with(chosen, said), st.lists(ticks, max_size=3), st.lists(flags, max_size=2))


def _with(chosen: list[tuple[str, str]], said: list[str]) -> Wearer:
    changes: dict[str, Any] = dict.fromkeys(said, True)
    wearer = replace(ADULT, **changes)
    for group, key in chosen:
        wearer = wearer.with_ticks(group, key)
    return wearer


def gravest(case: Case) -> dict[str, int]:
    """The gravest grade by rule; what stands on the list of whom it is not for does not count."""
    found: dict[str, int] = {}
    for caution in check(case).cautions:
        found[caution.rule] = max(found.get(caution.rule, 0), SEVERITY[caution.grade])
    return found


@settings(max_examples=60)
@given(oils, shares, products, wearers, ticks | flags)
def test_a_restriction_more_never_lowers_a_grade(
    base: dict[str, float], scents: dict[str, float], product: str, wearer: Wearer, more: tuple[str, str] | str
) -> None:
    held: dict[str, Any] = {more: True} if isinstance(more, str) else {}
    worse = replace(wearer, **held) if isinstance(more, str) else wearer.with_ticks(*more)
    before = gravest(case_of(base | scents, product, wearer))
    after = gravest(case_of(base | scents, product, worse))
    # “More than is suggested” gives way to “too much”, which is graver.
    after["scent-above-suggested"] = max(after.get("scent-above-suggested", 0), after.get("scent-over", 0))

    assert {rule: (grade, after.get(rule, 0)) for rule, grade in before.items() if after.get(rule, 0) < grade} == {}


@settings(max_examples=60)
@given(shares, st.sampled_from(SCENTS), st.floats(0.01, 2.0), products)
def test_more_of_a_scent_never_lowers_its_risk(scents: dict[str, float], key: str, more: float, product: str) -> None:
    # The base gives way, so that every other scent keeps its share.
    before = case_of(scents, product, ADULT, base="sunflower-high-oleic")
    after = case_of({**scents, key: scents.get(key, 0.0) + more}, product, ADULT, base="sunflower-high-oleic")

    assert dose_of(after).total > dose_of(before).total
    assert phototoxicity_of(after).total >= phototoxicity_of(before).total - 1e-12
    assert {o.limit.name for o in over_limits(before)} <= {o.limit.name for o in over_limits(after)}
    assert {d.name for d in allergens_of(before).declared} <= {d.name for d in allergens_of(after).declared}
    assert max(gravest(after).values()) >= max(gravest(before).values())
    ratios = {o.part.key: o.ratio or 0.0 for o in dose_of(after).oils}
    assert all(ratios[o.part.key] >= (o.ratio or 0.0) for o in dose_of(before).oils)


ROWS = ("almond", "avocado", "olive", "lavender", "lemon expressed", "aloe vera gel", "retinol")


@settings(max_examples=40)
@given(st.lists(st.floats(0.05, 40.0), min_size=len(ROWS), max_size=len(ROWS)), st.sampled_from([0.01, 0.5, 7.0, 12.0]))
def test_the_size_of_the_batch_changes_nothing(grams: list[float], factor: float) -> None:
    def found(by: float) -> tuple[Counter[tuple[str, Grade, tuple[str, ...]]], list[float | None]]:
        entries = tuple(Entry(f"{g * by:.12f} g {name}") for g, name in zip(grams, ROWS, strict=True))
        recipe = Recipe(entries)
        a = assess(recipe, FACTS.ingredients, FACTS.names, usage=FACTS.usage_context(recipe, TODAY, ADULT))
        # Waste is a matter of the amount: from half a kilo on it is said how to throw it away.
        heeded = Counter((c.rule, c.grade, c.names) for c in a.cautions if c.rule != "disposal")
        keys = (
            "feel",
            "comedogenicity",
            "skin_fit",
            "penetration",
            "slip",
            "scent_dose",
            "phototoxicity",
            "allergens_declared",
        )
        return heeded, [a.finding(key).value for key in keys]

    (heeded, values), (then_heeded, then_values) = found(1.0), found(factor)

    assert heeded == then_heeded
    # Grams are written to the millionth: of the smallest row in the smallest batch that is one part in 500.
    assert then_values == [value if value is None else pytest.approx(value, rel=2e-3) for value in values]
