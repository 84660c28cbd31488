"""Phrases as people write them, class by class, and what comes out: never another amount or another oil in silence.

Grams by hand arithmetic at the sizes and densities of the tables; what fills a bottle fills one of 100 mL. Capsules,
international units and “a few” are common practice, from memory.
"""

from __future__ import annotations

import csv
import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.measures.grammar import MORE, ONES, PARTS_OF_ONE, TEENS, TENS, read_quantity
from uptide.core.measures.lines import split_recipe
from uptide.core.recipe.recipe import Entry, Recipe, Resolution, Row, RowStatus
from uptide.core.recipe.resolve import resolve

PHRASES = list(csv.DictReader((Path(__file__).parent / "phrases.csv").read_text(encoding="utf-8").splitlines()))
CLOSE = 2e-3  # relative: the grams above are given to three or four digits
ROWS = ("2 tbsp jojoba", "12 drops lavender", "half a cup of olive oil", "1 1/2 tsp rosehip", "30 g argan")
AROUND = (
    "organic {}",
    "{} (optional)",
    "add {}",
    "then {}",
    "plus {}",
    "{}, please",
    "carriers: {}",
    "{} xyzzy",
    "lovely {}",
    "{} (cold pressed)",
    "best {}",
)
FACTS = shipped_catalogue()
read_quantity("1 g")  # the grammar is built once, and that takes longer than one example may


def read(text: str, catalogue: Catalogue = FACTS) -> Resolution:
    recipe = Recipe(tuple(map(Entry, split_recipe(text))), usual_ml=100.0)
    return resolve(recipe, catalogue.ingredients, catalogue.names)


def holds(row: Row, expected: str) -> None:
    found = re.fullmatch(r"(?P<key>\S+) (?P<low>[\d.]+)(?:-(?P<high>[\d.]+))?(?: said (?P<said>.+))?", expected)
    assert found, expected
    assert row.status is RowStatus.READ, row
    assert row.ingredient is not None
    assert row.ingredient.key == found["key"]
    low, high = float(found["low"]), float(found["high"] or 0)
    assert row.grams_low is not None
    assert row.grams_high is not None
    if high:
        assert row.grams_low == pytest.approx(low, rel=5e-3, abs=1e-9)
        assert row.grams_high == pytest.approx(high, rel=5e-3)
    else:
        assert row.grams == pytest.approx(low, rel=CLOSE)
    assert (found["said"] or "") in row.remark


@pytest.mark.parametrize("case", PHRASES, ids=[case["typed"] for case in PHRASES])
def test_a_phrase_means_what_it_says(case: dict[str, str]) -> None:
    rows = read(case["typed"]).rows
    expected = case["expected"].split(";")

    assert len(rows) == len(expected)
    for row, words in zip(rows, expected, strict=True):
        kind, _, detail = words.partition(" ")
        if kind == "ask":
            assert (row.status, [q.key for q in row.questions]) == (RowStatus.ASKED, [detail])
            assert row.questions[0].options[-1].value == "none"
        elif kind == "comment":
            assert row.status is RowStatus.COMMENT
        elif kind in ("refused", "unmeasured"):
            assert row.status is (RowStatus.UNMEASURED if kind == "unmeasured" else RowStatus.NOT_UNDERSTOOD)
            assert detail in row.reason
        else:
            holds(row, words)


def in_words(number: int) -> st.SearchStrategy[str]:
    """A whole number below a thousand, in the ways it is written."""
    hundreds, rest = divmod(number, 100)
    tens, ones = divmod(rest, 10)
    if rest == 0:
        small = [""]
    elif rest < 20:
        small = [(*ONES, *TEENS)[rest - 1]]
    else:
        small = [f"{TENS[tens - 2]}{link}{ONES[ones - 1]}" for link in (" ", "-")] if ones else [TENS[tens - 2]]
    if not hundreds:
        return st.sampled_from(small)
    links = [" ", " and "] if rest else [""]
    return st.sampled_from([f"{ONES[hundreds - 1]} hundred{link}{words}" for link in links for words in small])


@given(
    st.integers(1, 999).flatmap(lambda n: st.tuples(st.just(n), in_words(n))), st.sampled_from(["drops", "ml", "tsp"])
)
def test_words_and_figures_of_one_number_are_one_amount(pair: tuple[int, str], unit: str) -> None:
    number, words = pair
    assert read_quantity(f"{words} {unit}").terms == read_quantity(f"{number} {unit}").terms
    assert read_quantity(f"{words.upper()} {unit}").terms == read_quantity(f"{number} {unit}").terms


@given(st.integers(1, 9), st.sampled_from(sorted(PARTS_OF_ONE.items())), st.sampled_from([" ", "-"]))
def test_words_and_figures_of_one_fraction_are_one_amount(over: int, part: tuple[str, int], link: str) -> None:
    word, under = part
    said = f"{ONES[over - 1]}{link}{'halves' if word == 'halve' else word if over == 1 else word + 's'} cup"
    if word == "half" and over > 1:
        said = said.replace("halfs", "halves")
    assert read_quantity(said).terms[0].low == pytest.approx(read_quantity(f"{over}/{under} cup").terms[0].low)


@given(
    st.sampled_from(ROWS),
    st.sampled_from(AROUND),
)
def test_a_word_that_means_nothing_never_changes_what_a_row_weighs_in_silence(row: str, around: str) -> None:
    plain = read(row).rows[0]
    found = read(around.format(row)).rows
    weighed = [each for each in found if each.status is RowStatus.READ]
    if weighed:
        assert [each.grams for each in weighed] == [pytest.approx(plain.grams)]
        assert weighed[0].ingredient is not None
        assert plain.ingredient is not None
        assert weighed[0].ingredient.base_key == plain.ingredient.base_key  # of another grade it may be
    for each in found:
        if each.status is not RowStatus.READ:
            assert each.reason or each.questions or each.status is RowStatus.COMMENT


def test_more_than_ten_goes_half_as_far_again() -> None:
    assert read_quantity("10+ drops").terms[0].high == 10 * MORE == 15


def test_a_title_on_top_of_a_recipe_is_a_remark_and_one_alone_is_asked() -> None:
    assert read("Evening calm\n2 tbsp jojoba\n5 drops lavender").rows[0].status is RowStatus.COMMENT
    assert read("Evening calm\n2 tbsp jojoba").rows[0].status is RowStatus.NOT_UNDERSTOOD
    assert (
        read("jojoba\n2 tbsp argan\n5 drops lavender").rows[0].status is RowStatus.NOT_UNDERSTOOD
    )  # an oil, unmeasured
