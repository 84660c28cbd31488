"""What most tests need: the shipped catalogue, and a short way to weigh a recipe."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date

import pytest

from uptide.catalogue.load import Catalogue, shipped_catalogue
from uptide.core.blend.assess import assess
from uptide.core.blend.assessment import Assessment
from uptide.core.blend.recipe import Entry, Recipe
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import split_recipe
from uptide.core.physics.bottle import Container

Weigh = Callable[..., Assessment]


@pytest.fixture(scope="session")
def catalogue() -> Catalogue:
    return shipped_catalogue()


@pytest.fixture(scope="session")
def weigh(catalogue: Catalogue) -> Weigh:
    """Assess a text: weigh("2 tbsp grapeseed", ml=30, answers={0: {"unit": "tsp"}}, habits=...)."""

    def _weigh(
        text: str,
        ml: float | None = None,
        answers: Mapping[int, Mapping[str, str]] | None = None,
        habits: Habits | None = None,
    ) -> Assessment:
        entries = tuple(Entry(typed, (answers or {}).get(i, {})) for i, typed in enumerate(split_recipe(text)))
        container = Container("bottle", ml) if ml else None
        recipe = Recipe(entries, container=container, habits=habits or Habits())
        around = catalogue.circumstances(recipe, date(2026, 11, 25))
        return assess(recipe, catalogue.ingredients, catalogue.names, around=around)

    return _weigh
