"""What an amount in words is, term by term: halves behind a unit, open ends, ranges; and what a habit may be."""

from __future__ import annotations

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import QuantityError
from uptide.core.measures.grammar import QuantityKind, read_quantity
from uptide.core.measures.habits import Habits, drops_per_ml_by_weighing
from uptide.core.measures.quick import answer


@pytest.mark.parametrize(
    ("said", "terms"),
    [
        ("1 tbsp and a half", [(1.5, 1.5, "tbsp")]),
        ("a tablespoon and a half", [(1.5, 1.5, "tbsp")]),
        ("2 cups and 1/4", [(2.25, 2.25, "cup")]),
        ("1 to 2 tsp and a half", [(1.5, 2.5, "tsp")]),
        ("2 tbsp and 1 tsp and a half", [(2, 2, "tbsp"), (1.5, 1.5, "tsp")]),
        ("10+ drops", [(10, 15, "drop")]),  # how far “10+” may go is assumed
        ("2+ tbsp", [(2, 3, "tbsp")]),
        ("between 2 and 3 tsp", [(2, 3, "tsp")]),
        ("Between 2 And 3 tsp", [(2, 3, "tsp")]),
        ("2-3 tsp", [(2, 3, "tsp")]),
        ("1-1/2 tsp", [(1.5, 1.5, "tsp")]),  # a dash before a fraction is no range
        ("two hundred ml", [(200, 200, "ml")]),
        ("a hundred ml", [(100, 100, "ml")]),
        (".5 tsp", [(0.5, 0.5, "tsp")]),
    ],
)
def test_an_amount_term_by_term(said: str, terms: list[tuple[float, float, str]]) -> None:
    read = read_quantity(said)

    assert [(term.low, term.high, term.unit) for term in read.terms] == terms
    assert read.kind is QuantityKind.MEASURE


@pytest.mark.parametrize(
    ("sign", "value"),
    # What the Unicode character database says each is (The Unicode Standard, Number Forms).
    zip(
        "½⅓⅔¼¾⅕⅖⅗⅘⅙⅚⅐⅛⅜⅝⅞⅑⅒",
        (
            1 / 2,
            1 / 3,
            2 / 3,
            1 / 4,
            3 / 4,
            0.2,
            0.4,
            0.6,
            0.8,
            1 / 6,
            5 / 6,
            1 / 7,
            0.125,
            0.375,
            0.625,
            0.875,
            1 / 9,
            0.1,
        ),
        strict=True,
    ),
)
def test_a_fraction_in_one_sign(sign: str, value: float) -> None:
    assert [term.low for term in read_quantity(f"{sign} tsp").terms] == [pytest.approx(value)]
    assert [term.low for term in read_quantity(f"2{sign} tsp").terms] == [pytest.approx(2 + value)]


def test_a_share_with_an_open_end() -> None:
    (term,) = read_quantity("10+ %").terms

    assert (term.low, term.high) == (10, 15)


@pytest.mark.parametrize(("per_ml", "is_allowed"), [(4.9, False), (5.0, True), (100.0, True), (100.5, False)])
def test_how_many_drops_a_dropper_can_give(per_ml: float, is_allowed: bool) -> None:
    if is_allowed:
        assert Habits(own_drops_per_ml=per_ml, drops="own").drops_per_ml == per_ml
    else:
        with pytest.raises(QuantityError):
            Habits(own_drops_per_ml=per_ml, drops="own")


@pytest.mark.parametrize(("count", "grams"), [(0, 1.0), (-1, 1.0), (20, 0.0), (20, -1.0)])
def test_nothing_weighs_nothing(count: int, grams: float) -> None:
    with pytest.raises(QuantityError):
        drops_per_ml_by_weighing(count, grams, 0.9)


def test_a_name_of_several_things_is_a_sum_where_they_are_as_dense(catalogue: Catalogue) -> None:
    # Seed and fruit oil of sea buckthorn differ by less than a hundredth; a scent and its water do not.
    found = answer("10 ml sea buckthorn", Habits(), catalogue.ingredients, catalogue.names)

    assert found.answer.endswith("= 10 mL")
    with pytest.raises(QuantityError, match=r"Which “bergamot”\?|Which “rose”\?"):
        answer("10 g rose in ml", Habits(), catalogue.ingredients, catalogue.names)
    assert "essential oil" in answer("20 drops lavender in g", Habits(), catalogue.ingredients, catalogue.names).working
