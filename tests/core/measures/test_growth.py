"""Reading takes time as the text is long: ten times the length takes at most twelve times the steps.

Steps are calls of functions, of Python and of C, so that the machine and its load play no part. What a regular
expression does inside one call is not counted, and is looked at by its shape instead.
"""

from __future__ import annotations

import importlib
import pkgutil
import re
import sys
from collections.abc import Callable
from re import _constants as constants
from re import _parser as parser
from typing import Any

import pytest

import uptide.core
from uptide.catalogue.shipped import shipped_catalogue
from uptide.catalogue.tables import SHOWN, TableError
from uptide.core.lipids.pasted import read_pasted
from uptide.core.measures.lines import parse_line, split_recipe
from uptide.core.measures.names import NameIndex, NameMatch
from uptide.core.recipe.recipe import LONGEST_RECIPE, Entry, Recipe
from uptide.core.recipe.resolve import resolve
from uptide.formats.lots_csv import read_lots

MOST_GROWTH = 12.0
FACTS = shipped_catalogue()
SHAPES = (
    "a ",
    "1 ",
    "a, ",
    "a and ",
    "1 + ",
    "(",
    "(a) ",
    "1/",
    "1 to ",
    "a a a\n",
    "up to ",
    "½",
    "2 x 3 ",
    "a; ",
    "infused with ",
    "1% ",
    "a: ",
    "\t",
    "drops of ",
)


def steps(work: Callable[[], object]) -> int:
    """How many calls a piece of work makes."""
    count = 0

    def seen(frame: Any, event: str, argument: Any) -> None:
        nonlocal count
        count += event in ("call", "c_call")

    sys.setprofile(seen)
    try:
        work()
    finally:
        sys.setprofile(None)
    return count


def read_recipe(text: str) -> None:
    for cached in (parse_line,):
        cached.cache_clear()
    rows = split_recipe(text)
    resolve(Recipe(tuple(Entry(row) for row in rows[:LONGEST_RECIPE])), FACTS.ingredients, FACTS.names)


@pytest.mark.parametrize("shape", SHAPES)
def test_ten_times_the_recipe_takes_at_most_twelve_times_the_steps(shape: str) -> None:
    short, long = shape * (1500 // len(shape)), shape * (15_000 // len(shape))
    read_recipe(short)

    assert steps(lambda: read_recipe(long)) <= MOST_GROWTH * steps(lambda: read_recipe(short)) + 500


@pytest.mark.parametrize("line", ["C18:1 68\n", "oleic acid 1\n", "a 1\n", "a" + " " * 300 + "b\n", "PV 1 "])
def test_ten_times_the_table_takes_at_most_twelve_times_the_steps(line: str) -> None:
    def read(times: int) -> None:
        read_pasted(line * times, FACTS.acids, FACTS.safety.constituent_names)

    read(30)

    assert steps(lambda: read(300)) <= MOST_GROWTH * steps(lambda: read(30))


def test_names_that_nobody_knows_are_looked_for_only_as_long_as_they_are_shown(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    looked: list[str] = []

    def nearest(index: NameIndex, name: str) -> NameMatch:
        looked.append(name)
        return NameMatch(())

    monkeypatch.setattr(NameIndex, "_nearest", nearest)
    rows = "".join(f"L{n},nobody knows {n},1,1\n" for n in range(300))
    with pytest.raises(TableError, match="300 rows were refused"):
        read_lots("lots.csv", f"code,ingredient,bought_g,left_g\n{rows}", FACTS)

    assert len(looked) == SHOWN


def begins_with_a_run(parsed: Any) -> bool:
    """Whether what is searched for begins with any number of something: searched from each of them, it is squared."""
    for op, given in parsed:
        if op in (constants.MAX_REPEAT, constants.MIN_REPEAT):
            least, most, inside = given
            if most is constants.MAXREPEAT:
                return True
            if least:
                return begins_with_a_run(inside)
        elif op is constants.SUBPATTERN:
            return begins_with_a_run(given[3])
        elif op is constants.BRANCH:
            return any(begins_with_a_run(branch) for branch in given[1])
        else:
            return False
    return False


def test_no_pattern_that_is_searched_for_begins_with_a_run() -> None:
    found = {
        f"{module.name}.{name}": pattern
        for module in pkgutil.walk_packages(uptide.core.__path__, "uptide.core.")
        for name, pattern in vars(importlib.import_module(module.name)).items()
        if isinstance(pattern, re.Pattern)
    }

    assert len(found) > 20
    assert begins_with_a_run(parser.parse(r"\s+(?:and|plus)\s+"))
    assert [name for name, pattern in found.items() if begins_with_a_run(parser.parse(pattern.pattern))] == []
