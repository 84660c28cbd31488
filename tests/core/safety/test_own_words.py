"""An allergy in somebody's own words: which things it names, which may hold it, and what is not understood.

That thyme and oregano hold thymol, and what is called a rose, is handbook knowledge; from memory.
"""

from __future__ import annotations

from dataclasses import replace
from types import MappingProxyType

import pytest
from tests.core.safety.conftest import FACTS

from uptide.core.safety.allergies import NamedAllergy, read_allergies

SCENTS = FACTS.safety.scents


def one(text: str) -> NamedAllergy:
    (named,) = read_allergies(text, FACTS.safety)
    return named


def names(text: str, key: str) -> bool:
    return one(text).names(FACTS.ingredients[key], SCENTS.get(key))


@pytest.mark.parametrize(
    ("text", "named", "others"),
    [
        ("argan", ("argan",), ("olive", "almond-sweet")),  # by its key
        ("I am allergic to sesame seeds!", ("sesame",), ("sunflower",)),
        ("thymol", ("thyme-thymol", "oregano"), ("olive", "orange-sweet")),  # by a part of a sum of two
        ("linalool", ("lavender", "bergamot"), ("olive", "jojoba")),  # by what it holds
        ("rose", ("rose-otto", "rose-hydrosol"), ("rosehip", "primrose")),  # by whole words of its name
        ("perfume", ("lavender", "rose-otto"), ("olive", "sesame")),  # any scent
        ("coconut", ("coconut", "mct"), ("cocoa-butter",)),
        ("hazel", ("hazelnut",), ("olive",)),  # by the table of words
        ("peach", ("apricot-kernel", "plum-kernel"), ("olive",)),  # by its family
    ],
)
def test_which_things_are_named(text: str, named: tuple[str, ...], others: tuple[str, ...]) -> None:
    assert one(text).understood
    assert [key for key in named if not names(text, key)] == []
    assert [key for key in others if key in FACTS.ingredients and names(text, key)] == []


def test_a_scent_of_which_nothing_is_known_may_hold_a_constituent() -> None:
    known, lavender = SCENTS["lavender"], FACTS.ingredients["lavender"]
    bare = replace(known, constituents=MappingProxyType({}))
    linalool = one("linalool")

    assert not linalool.may_hold(lavender, known)
    assert linalool.may_hold(lavender, bare)
    assert linalool.may_hold(lavender, None)
    assert not linalool.may_hold(FACTS.ingredients["olive"], None)
    assert not one("argan").may_hold(lavender, None)
    traces = replace(known.constituents["LINALOOL"], typical=0.0, high=0.0)
    assert not linalool.names(lavender, replace(known, constituents={"LINALOOL": traces}))


@pytest.mark.parametrize(
    ("text", "understood"),
    [
        ("zinnwaldite", False),
        ("xy", False),
        ("ash", False),
        ("apricot stones", False),
        ("jojoba", True),
        ("sea buckthorn", True),
        ("buckthorn", True),  # a word of several names
        ("of", False),
        ("10", False),
    ],
)
def test_what_nobody_knows_is_not_understood(text: str, understood: bool) -> None:
    assert one(text).understood is understood


def test_each_part_is_an_allergy_and_empty_ones_are_none() -> None:
    read = read_allergies("Allergic to sesame seeds, linalool and , -; argan.", FACTS.safety)
    assert [each.said for each in read] == ["sesame seeds", "linalool", "argan"]


@pytest.mark.parametrize("said", ["oat", "bay", "fir", "soy"])
def test_three_letters_name_a_thing_and_two_do_not(said: str) -> None:
    (named,) = read_allergies(said, FACTS.safety)
    (short,) = read_allergies(said[:2], FACTS.safety)

    assert named.understood
    assert named.keys
    assert not short.understood
