"""Amounts in brackets, beside one another, of every kind with every other: each row is read, asked about or refused."""

from __future__ import annotations

import pytest
from tests.conftest import Weigh

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.recipe.recipe import Entry, Recipe, RowStatus
from uptide.core.recipe.resolve import resolve

FACTS = shipped_catalogue()
# One of each kind of amount that the grammar knows.
KINDS = [
    "1 bottle",
    "half a bottle",
    "2",
    "10 %",
    "10 % v/v",
    "1 part",
    "5 drops",
    "1 tbsp",
    "1 oz",
    "a few drops",
    "1 pump",
    "2 capsules",
    "q.s.",
    "top up with",
    "up to 30 ml",
    "1 blob",
    "400 IU",
    "1 spoon",
    "a splash",
    "1 uk tbsp",
    "0 ml",
    "2 x 10 ml",
    "1 lb 2 oz",
    "5 drops each",
    "30 g",
    "1/2 of a 30 ml bottle",
]
WAYS = ("{0} ({1}) argan", "argan {0} ({1})", "{0} {1} vitamin e", "{0} = {1} argan")


@pytest.mark.parametrize("first", KINDS)
def test_any_two_amounts_are_read_asked_about_or_refused_in_words(first: str) -> None:
    for second in KINDS:
        for way in WAYS:
            typed = way.format(first, second)
            rows = resolve(Recipe((Entry("50 ml jojoba"), Entry(typed))), FACTS.ingredients, FACTS.names).rows

            assert rows[1].typed == typed
            assert rows[1].status is not RowStatus.NOT_UNDERSTOOD or rows[1].reason
            assert rows[1].status is not RowStatus.ASKED or rows[1].questions


@pytest.mark.parametrize(
    ("typed", "grams"),
    [
        ("1 bottle (30 ml) argan", 30 * 0.912),
        ("2 bottles (30 ml) argan", 60 * 0.912),
        ("argan, 1 bottle (1 fl oz)", 29.574 * 0.912),  # NIST Handbook 44, appendix C
        ("1 jar (50 g) shea butter", 50),
        ("half a jar (50 g) shea butter", 25),
    ],
)
def test_a_bottle_holds_what_its_brackets_say(typed: str, grams: float, weigh: Weigh) -> None:
    (row,) = weigh(typed).rows

    assert row.grams == pytest.approx(grams, rel=1e-3)


@pytest.mark.parametrize(
    ("typed", "why"),
    [
        ("1 oz 1 spoon argan", "each may be one of several"),
        ("q.s. 400 IU vitamin e", "in millilitres or grams"),
        ("400 IU argan", "are not known here"),
    ],
)
def test_what_cannot_be_an_amount_says_why(typed: str, why: str, weigh: Weigh) -> None:
    row = weigh(f"50 ml jojoba\n{typed}").rows[1]

    assert (row.status, row.grams) == (RowStatus.NOT_UNDERSTOOD, None)
    assert why in row.reason
