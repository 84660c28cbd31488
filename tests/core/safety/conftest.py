"""Cases in a line: shares in percent, a product, a wearer; and recipes weighed with everything that is checked."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date
from typing import Any

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.lines import Line
from uptide.core.physics.bottle import Container
from uptide.core.recipe.recipe import Entry, IntendedUse, Recipe, Row, RowStatus
from uptide.core.safety.case import Case, Part, Purpose
from uptide.core.skin.wearer import ANYONE, Wearer

FACTS = shipped_catalogue()
TODAY = date(2026, 11, 25)
Cases = Callable[..., Case]
Checked = Callable[..., Assessment]


def purpose(product: str, **use: Any) -> Purpose:
    known = FACTS.product(product)
    return Purpose(product, known.area, not known.left_on, **use)


def part(key: str, percent: float, item: Ingredient | None = None) -> Part:
    item = item or FACTS.ingredient(key)
    row = Row(
        0,
        f"{percent} % {key}",
        status=RowStatus.READ,
        line=Line(key),
        ingredient=item,
        grams=percent,
        grams_low=percent,
        grams_high=percent,
        millilitres=percent / item.density,
        percent_mass=percent,
    )
    return Part(row, item, percent, percent)


def case_of(
    shares: Mapping[str, float],
    product: str = "body-oil",
    wearer: Wearer = ANYONE,
    *,
    base: str = "sunflower",
    words: str = "",
    today: date = TODAY,
    items: Mapping[str, Ingredient] | None = None,
    material: str = "PET",
    **use: Any,
) -> Case:
    """A case of these shares [% by mass], topped up with a plain oil (base; none when empty)."""
    parts = [part(key.replace("_", "-"), share, (items or {}).get(key)) for key, share in shares.items()]
    rest = 100 - sum(shares.values())
    if base and rest > 0:
        parts.append(part(base, rest))
    return Case(
        tuple(parts),
        purpose(product, **use),
        wearer=wearer,
        tables=FACTS.safety,
        today=today,
        words=words,
        material=material,
        total_grams=100.0,
    )


@pytest.fixture
def checked(catalogue: Catalogue) -> Checked:
    """Assess a text with everything checked: checked("2 tbsp olive", wearer=..., meaning={"olive": "olive"})."""

    def _checked(
        *rows: str,
        product: str = "body-oil",
        wearer: Wearer = ANYONE,
        ml: float | None = None,
        texts: Mapping[str, str] | None = None,
        reasons: Mapping[str, str] | None = None,
        meaning: Mapping[str, str] | None = None,
        **use: Any,
    ) -> Assessment:
        container = Container("bottle", ml) if ml else None
        known = {words: {"name": key} for words, key in (meaning or {}).items()}
        entries = tuple(Entry(row, next((a for w, a in known.items() if w in row), {})) for row in rows)
        recipe = Recipe(entries, product, container, use=IntendedUse(**use), reasons=reasons or {})
        usage = catalogue.usage_context(recipe, TODAY, wearer, texts)
        return assess(recipe, catalogue.ingredients, catalogue.names, usage=usage)

    return _checked
