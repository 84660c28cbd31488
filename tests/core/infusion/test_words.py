"""A jar as people say it, clause by clause; what is no jar says how it can be said."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.core.errors import QuantityError
from uptide.core.infusion.plants import State
from uptide.core.infusion.straining import Straining
from uptide.core.infusion.words import JarWords, read_jar_words

TWICE = {"method": "second-infusion"}
SAID: list[tuple[str, dict[str, Any]]] = [
    (
        "a jar three quarters full of dried calendula, covered with sunflower, sunny window",
        {"plant": "calendula", "state": State.DRIED, "fill": 0.75, "oil": "sunflower", "method": "sunny-window"},
    ),
    (
        "A 500 ml jar half full of pressed dried rose petals, covered with sweet almond, in a warm bath, pressed out.",
        {
            "plant": "rose petals",
            "state": State.DRIED,
            "pressed": True,
            "fill": 0.5,
            "jar_ml": 500,
            "method": "warm-bath",
            "oil": "sweet almond",
            "straining": Straining.PRESS,
        },
    ),
    (
        "30 g dried calendula in 300 g olive, dark shelf",
        {
            "plant": "calendula",
            "state": State.DRIED,
            "grams": 30,
            "oil": "olive",
            "oil_grams": 300,
            "method": "dark-shelf",
        },
    ),
    ("yarrow, slow cooker", {"plant": "yarrow", "method": "slow-cooker"}),
    (
        "dried nettle root covered with olive, dark shelf",
        {"plant": "nettle root", "state": State.DRIED, "oil": "olive", "method": "dark-shelf"},
    ),
    ("30 g calendula in olive, second infusion", {"plant": "calendula", "grams": 30, "oil": "olive", **TWICE}),
    ("calendula in olive, infused twice", {"plant": "calendula", "oil": "olive", **TWICE}),
    ("calendula in sunflower on a dark shelf", {"plant": "calendula", "oil": "sunflower", "method": "dark-shelf"}),
    (
        "fresh st john's wort in olive oil in the sun",
        {"plant": "st john's wort", "state": State.FRESH, "oil": "olive oil", "method": "sunny-window"},
    ),
    (
        "2 oz clove in jojoba, slow cooker",
        {"plant": "clove", "grams": 56.699, "oil": "jojoba", "method": "slow-cooker"},
    ),
    ("1 l jar 75 % full of nettle", {"plant": "nettle", "fill": 0.75, "jar_ml": 1000}),
    ("a jar filled 2/3 with lavender in jojoba", {"plant": "lavender", "fill": 2 / 3, "oil": "jojoba"}),
    (
        "300 ml jar, 20 g rosemary in olive, drip",
        {"jar_ml": 300, "plant": "rosemary", "grams": 20, "oil": "olive", "straining": Straining.DRIP},
    ),
    (
        "a jar ¾ full of wilted mullein in olive, wrapped in paper",
        {"plant": "mullein", "state": State.WILTED, "fill": 0.75, "oil": "olive", "method": "sunny-window-wrapped"},
    ),
]


OF_TEN = {"plant": "calendula", "oil": "olive", "parts": 10}
SAID += [
    ("30 g calendula in olive 1:10", {"grams": 30, **OF_TEN}),
    ("1 to 10 calendula in olive, warm bath", {"method": "warm-bath", **OF_TEN}),
    ("calendula in 200 g olive, 1 : 10", {"oil_grams": 200, **OF_TEN}),
    ("30 g calendula 1:10 in olive", {"grams": 30, **OF_TEN}),
    ("calendula 1 to 10 in olive", OF_TEN),
    ("1 part calendula to 10 parts olive", OF_TEN),
    ("one part of calendula in 10 parts of olive, oven", {"method": "oven", **OF_TEN}),
    ("how much oil for 50 g dried calendula?", {"plant": "calendula", "state": State.DRIED, "grams": 50}),
    ("how much oil do I need to cover a jar of calendula", {"plant": "calendula"}),
    ("fresh yarrow 1:2,5", {"plant": "yarrow", "state": State.FRESH, "parts": 2.5}),
    ("how do I make a calendula oil?", {"plant": "calendula"}),
    ("How long should we steep dried comfrey", {"plant": "comfrey", "state": State.DRIED}),
    ("how to make rose infused oil", {"plant": "rose"}),
    ("can I infuse fresh calendula in olive", {"plant": "calendula", "state": State.FRESH, "oil": "olive"}),
    ("infuse 30 g calendula in 300 g olive", {"plant": "calendula", "grams": 30, "oil": "olive", "oil_grams": 300}),
    ("steep a jar half full of yarrow", {"plant": "yarrow", "fill": 0.5}),
    ("macerate calendula, sunny window", {"plant": "calendula", "method": "sunny-window"}),
    ("Calendula infusion", {"plant": "calendula"}),
]


@pytest.mark.parametrize(("text", "meant"), SAID)
def test_a_jar_is_read(text: str, meant: dict[str, Any]) -> None:
    found = read_jar_words(text)

    expected = JarWords(**meant)
    for field in JarWords.__dataclass_fields__:
        wanted = getattr(expected, field)
        assert getattr(found, field) == (pytest.approx(wanted, rel=1e-4) if isinstance(wanted, float) else wanted), (
            field
        )


@pytest.mark.parametrize(
    "text",
    [
        "",
        "a jar",
        "soup",
        "calendula",
        "30 g",
        "covered with sunflower and",
        "a jar of",
        "x" * 400,
        "yarrow 1:0",
        "1:1:1 yarrow",
        "infuse",
        "how do I make",
    ],
)
def test_what_is_no_jar_says_how_it_can_be_said(text: str) -> None:
    with pytest.raises(QuantityError, match="Say it as in"):
        read_jar_words(text)


@pytest.mark.parametrize(
    ("text", "grams", "oil_grams"),
    [
        ("40 g calendula in olive 1:10", 40, 400),
        ("calendula in 200 g olive 1:10", 20, 200),
        ("calendula in olive 1:5", 30, 150),
        ("40 g calendula in 100 g olive 1:10", 40, 100),  # both were weighed
        ("40 g calendula in olive", 40, None),
    ],
)
def test_parts_give_the_grams_that_nobody_said(text: str, grams: float, oil_grams: float | None) -> None:
    found = read_jar_words(text).weighed(30)

    assert (found.grams, found.oil_grams) == (grams, oil_grams)


def test_parts_go_by_weight_and_a_full_jar_by_eye() -> None:
    with pytest.raises(QuantityError, match="1 to 5 goes by weight"):
        read_jar_words("a jar half full of calendula in olive, 1:5").weighed(30)


@given(st.text("adfijlnorsu 0123456789,%/½¾.;'", max_size=60))
def test_whatever_is_typed_is_read_or_refused(text: str) -> None:
    try:
        found = read_jar_words(text)
    except QuantityError:
        return
    assert found != JarWords()
