"""Whatever is typed, nothing crashes and nothing is lost; and grams survive being put into words and read again."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.measures.amounts import grams_of
from uptide.core.measures.grammar import read_quantity
from uptide.core.measures.habits import Habits, Spoons
from uptide.core.measures.lines import parse_line, split_recipe
from uptide.core.measures.say import say_amount
from uptide.core.physics.bottle import Container
from uptide.core.recipe.recipe import Entry, Recipe, RowStatus

CATALOGUE = shipped_catalogue()
read_quantity("1 g")  # the grammar is built once, and that takes longer than one example may
FRAGMENTS = st.sampled_from(
    ["2", "1/2", "½", "1,5", "0/0", "tbsp", "tsp", "drops", "drop", "oz", "cup", "%", "parts", "each", "equal parts",
     "top up with", "to the shoulder", "of", "a", "bottle", "3/4", "and", ",", ";", ":", "-", "(", ")", "+", "jojoba",
     "lavender", "vitamin E", "polysorbate 80", "#", "half", "couple", "to", "10", "q.s.", "rest", "some", "blob", "g"]
)  # fmt: skip
TYPED = st.one_of(st.text(max_size=60), st.lists(FRAGMENTS, max_size=10).map(" ".join))


@given(TYPED)
def test_whatever_is_typed_is_assessed_and_every_word_of_it_is_still_there(text: str) -> None:
    rows = split_recipe(text)
    recipe = Recipe(tuple(Entry(row) for row in rows), container=Container("bottle", 50))
    assessment = assess(recipe, CATALOGUE.ingredients, CATALOGUE.names)

    assert [row.typed for row in assessment.rows] == list(rows)
    kept = " ".join(rows)
    missing = [word for word in re.findall(r"[\w%½/]+", text) if word not in kept]
    # A word goes when it only joined two rows, “of” when an amount was shared out; no other word does.
    assert [word for word in missing if word.lower() not in ("and", "of", "in", "into", "to", "with")] == []
    for row in assessment.rows:
        assert row.status is not RowStatus.NOT_UNDERSTOOD or row.reason
        assert row.status is not RowStatus.ASKED or row.questions


@given(TYPED)
def test_reading_a_line_twice_reads_the_same(text: str) -> None:
    first = parse_line(text)
    parse_line.cache_clear()

    assert parse_line(text) == first


@given(
    grams=st.floats(0.2, 5000),
    unit=st.sampled_from(
        ["g", "ml", "tsp", "tbsp", "cup", "drop", "dropper", "capsule", "fl_oz", "oz_weight", "lb", "l"]
    ),
    density=st.floats(0.8, 1.3),
    spoons=st.sampled_from(Spoons),
)
def test_grams_to_text_to_grams_is_stable(grams: float, unit: str, density: float, spoons: Spoons) -> None:
    habits = Habits(spoons=spoons)
    words = say_amount(grams, density, unit, habits)
    read = grams_of(read_quantity(words).terms, density, habits).typical
    again = say_amount(read, density, unit, habits)

    assert grams_of(read_quantity(again).terms, density, habits).typical == pytest.approx(read, rel=1e-9)


@given(grams=st.floats(1, 5000), unit=st.sampled_from(["g", "ml"]))
def test_plain_units_keep_four_digits(grams: float, unit: str) -> None:
    words = say_amount(grams, 0.92, unit, Habits())

    assert grams_of(read_quantity(words).terms, 0.92, Habits()).typical == pytest.approx(grams, rel=6e-4)
