"""What most tests need: the shipped catalogue, and a short way to weigh a recipe."""

from __future__ import annotations

import gc
import os
import shutil
import sys
from collections.abc import Callable, Iterator, Mapping
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from bench.long import long_ones
from bench.postgres import Server
from hypothesis import settings

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.cli.demo import make_demo
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import split_recipe
from uptide.core.physics.bottle import Container
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.store.migrating import migrate

# Speed is measured by `make bench`; a slow machine makes no test fail.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")

MUTANTS = "MUTANT_UNDER_TEST"  # set by mutmut
ON_POSTGRES = "--postgres"  # and the address of a server, as in postgresql://uptide@/postgres?host=/run/it

LONG = long_ones()
YOUNG = 50_000  # objects that may come before a round of the garbage collector

Weigh = Callable[..., Assessment]


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption(ON_POSTGRES, default="", help="Run what needs a database on this server instead of SQLite.")
    parser.addoption("--approve", action="store_true", help="Write anew what is held against approved texts.")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    for item in items:
        if LONG & {item.nodeid, item.nodeid.split("[")[0]}:
            item.add_marker(pytest.mark.long)


def pytest_collection_finish() -> None:
    """What was imported and collected stays: without this, garbage is looked for in it a tenth of the time."""
    gc.freeze()
    gc.set_threshold(YOUNG, *gc.get_threshold()[1:])


def _remembering() -> Iterator[Any]:
    """The functions of the core that remember what they answered, and the names of what is shipped."""
    for name, module in list(sys.modules.items()):
        if name.startswith("uptide.core."):
            yield from (each for each in vars(module).values() if hasattr(each, "cache_clear"))
    yield shipped_catalogue().names.match


def pytest_runtest_setup(item: pytest.Item) -> None:
    if MUTANTS in os.environ:  # an answer that another test asked for would hide that this one comes by
        for function in _remembering():
            function.cache_clear()
    if item.config.getoption(ON_POSTGRES) and item.get_closest_marker("of_files"):
        pytest.skip("a database of a server is no file")


@pytest.fixture(scope="session")
def server(request: pytest.FixtureRequest) -> Iterator[Server | None]:
    """The server that tests run on; None where they run on files."""
    url = request.config.getoption(ON_POSTGRES)
    made = Server(url) if url else None
    yield made
    if made is not None:
        made.drop(made.template)


@pytest.fixture(scope="session")
def empty_database(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database with nothing in it, made once: every test gets a copy."""
    path = tmp_path_factory.mktemp("empty") / "empty.db"
    migrate(f"sqlite:///{path}")
    return path


@pytest.fixture
def database_url(tmp_path: Path, server: Server | None, empty_database: Path) -> Iterator[str]:
    """A database of the newest schema, with nothing in it."""
    if server is None:
        shutil.copy(empty_database, tmp_path / "web.db")
        yield f"sqlite:///{tmp_path / 'web.db'}"
        return
    name = server.make()
    yield server.url_of(name)
    server.drop(name)


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo workshop, made once, to be read; who writes in it takes a copy."""
    path = tmp_path_factory.mktemp("demo") / "demo.db"
    make_demo(path)
    return path


@pytest.fixture
def demo_copy(demo: Path, tmp_path: Path) -> Path:
    """The demo workshop, to be written in."""
    return Path(shutil.copy(demo, tmp_path / "demo.db"))


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
