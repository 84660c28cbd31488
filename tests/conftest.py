"""What most tests need: the shipped catalogue, and a short way to weigh a recipe."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date

import pytest
from hypothesis import settings

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import split_recipe
from uptide.core.physics.bottle import Container
from uptide.core.recipe.recipe import Entry, Recipe

# Speed is measured by `make bench`; a slow machine makes no test fail.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")

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
        usage = catalogue.usage_context(recipe, date(2026, 11, 25))
        return assess(recipe, catalogue.ingredients, catalogue.names, usage=usage)

    return _weigh
