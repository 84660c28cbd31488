"""What a blend's figures are of its oils': ratios, means and sums that a search can bound, each against the one road.

Every form is written here by hand from the oils' own values; blends of two to six oils are drawn by a fixed seed.
"""

from __future__ import annotations

import random
from collections.abc import Mapping
from datetime import date
from functools import cache
from math import exp, expm1, log, log1p, sqrt

import numpy as np
import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.figures.physical import viscosity_of
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.lipids.lipid import fatty_acid_yield, iodine_value, saponification_value
from uptide.core.oxidation import rate
from uptide.core.oxidation.simulate import standard_draws, total_sd
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.skin.verdicts import feel_class

FACTS = shipped_catalogue()
OILS = sorted(k for k, i in FACTS.ingredients.items() if i.is_fatty and i.lipid is not None and i.oxidation is not None)
Blend = tuple[Mapping[str, float], Assessment]


@cache
def blends(count: int = 60) -> tuple[Blend, ...]:
    drawn = random.Random(16)  # noqa: S311 - blends, no secrets
    found = []
    for _ in range(count):
        keys = drawn.sample(OILS, drawn.randint(2, 6))
        grams = {key: drawn.uniform(1, 60) for key in keys}
        recipe = Recipe(tuple(Entry(f"{mass:.6f} g {FACTS.ingredients[key].inci}") for key, mass in grams.items()))
        recipe = Recipe(tuple(Entry(e.typed, {"name": k}) for e, k in zip(recipe.entries, keys, strict=True)))
        usage = FACTS.usage_context(recipe, date(2026, 11, 25))
        result = assess(recipe, FACTS.ingredients, FACTS.names, draws=standard_draws(), usage=usage)
        total = sum(round(mass, 6) for mass in grams.values())
        found.append(({key: round(mass, 6) / total for key, mass in grams.items()}, result))
    return tuple(found)


def of(key: str) -> Ingredient:
    return FACTS.ingredients[key]


def acid(key: str, code: str) -> float:
    lipid = of(key).lipid
    return lipid.acids.share_of(code) if lipid is not None and lipid.acids is not None else 0.0


def held(key: str) -> float:
    lipid = of(key).lipid
    return fatty_acid_yield(lipid) if lipid is not None else 0.0


@pytest.mark.parametrize(("figure", "code"), [("linoleic_share", "18:2n6"), ("oleic_share", "18:1n9")])
def test_a_share_of_the_acids_is_a_ratio(figure: str, code: str) -> None:
    for shares, found in blends():
        acids = sum(w * held(key) for key, w in shares.items())
        value = found.finding(figure).value
        if acids and value is not None:
            assert value == pytest.approx(100 * sum(w * held(k) * acid(k, code) for k, w in shares.items()) / acids)


def test_titration_values_density_and_feel_are_means() -> None:
    for shares, found in blends():
        for key, figure in (("iodine_value", iodine_value), ("saponification_value", saponification_value)):
            wanted = sum(w * figure(lipid) for k, w in shares.items() if (lipid := of(k).lipid) is not None)
            assert found.finding(key).value == pytest.approx(wanted)
        assert found.finding("density_20c").value == pytest.approx(
            1 / sum(w / of(k).density for k, w in shares.items())
        )
        classes = {key: feel_class(of(key)) for key in shares}
        if all(classes.values()):
            wanted = sum(w * place[0] for k, w in shares.items() if (place := classes[k]) is not None)
            assert found.finding("feel").value == pytest.approx(wanted)


def test_thickness_is_a_mean_of_logarithms() -> None:
    known = 0
    for shares, found in blends():
        value, thick = found.finding("slip").value, {key: viscosity_of(of(key), 32.0) for key in shares}
        if value is not None and all(thick.values()):
            known += 1
            assert log(value) == pytest.approx(sum(w * log(v) for k, w in shares.items() if (v := thick[k])))
    assert known > 20


def test_clog_is_bounded_by_what_is_five_percent() -> None:
    for shares, found in blends():
        value = found.finding("comedogenicity").value
        if value is not None:
            rated = [oil_profile(of(key)).comedogenicity for key, w in shares.items() if w >= 0.05]
            assert value == max(rating for rating in rated if rating is not None)


def test_keeping_is_a_function_of_sums_over_the_oils() -> None:
    """One start for all parts, in the dark at one warmth: every draw's life in closed form, and its tenth part."""
    draws = standard_draws()
    for shares, found in blends(25):
        life = found.shelf_life
        assert life is not None
        assert life.mixture is not None
        oils = {key: o for key in shares if (o := of(key).oxidation) is not None}
        living = [(w, oils[k]) for k, w in shares.items() if not oils[k].is_inert]
        ageing = 36.0 / 1.25 * exp(50e3 / 8.314462618 * (1 / 290.15 - 1 / 293.15))
        ageing /= rate.swing_factor(290.15, 1.0, 50e3)
        if not living:
            continue
        n = sum(w * oil.cox * (oil.osi_hours or 0) for w, oil in living)
        r, x = sum(w * oil.cox for w, oil in living), sum(w for w, _ in living)
        fresh = sum(w * oil.fresh_pv for w, oil in living) / x
        limit = sum(w * oils[k].limit_pv for k, w in shares.items())
        spread = sum(w * oil.cox * oil.osi_sd for w, oil in living) / r
        mean = sum(w * oil.fresh_pv * exp(0.125) for w, oil in living)
        wide = sum(w * oil.fresh_pv * sqrt(exp(0.25) * expm1(0.25)) for w, oil in living)
        sigma2 = log1p((wide / mean) ** 2)
        start = mean * np.exp(sqrt(sigma2) * draws.peroxide - sigma2 / 2)
        thin = x ** (0.5 * draws.diluent)
        low = np.log((fresh * thin + thin) / (300 * thin - fresh * thin))
        most = np.minimum(limit, 0.999 * 300 * thin)
        span = np.log((most + thin) / (300 * thin - most)) - low
        begun = (
            np.log((np.minimum(start, 270 * thin) + thin) / (300 * thin - np.minimum(start, 270 * thin))) - low
        ) / span
        monthly = 730.5 * 1.67 * rate.swing_factor(290.15, 1.0) * np.exp(total_sd(spread) * draws.rate)
        monthly *= (-log((fresh + 1) / (300 - fresh)) - 2 * 299 / 301) / (n / r)
        monthly = monthly / rate.stretch(290.15, 0.5 * draws.bend, draws.energy) / span
        weight = (1 + 0.02**2) * x**2 / (x**2 + 0.02**2)
        lives = (1 - weight * begun) / (weight * monthly + 1 / (ageing * np.exp(0.2 * draws.ageing)))
        assert life.low == pytest.approx(float(np.quantile(np.maximum(lives, 0), 0.1)), abs=1e-6)
