"""What is assumed aloud, and why: the rest of the recipe, the shelf, then the trade's commonest (common practice)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import pytest
from tests.conftest import Weigh

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import QuantityError
from uptide.core.measures.habits import EARLIER_KEPT, BareOunce, Habits
from uptide.core.measures.lines import split_recipe
from uptide.core.recipe.assuming import (
    AS_BEFORE,
    AS_MEASURED,
    AS_USUAL,
    AS_WEIGHED,
    MOST_OTHERS,
    ON_SHELF,
    open_readings,
    read_as,
)
from uptide.core.recipe.recipe import Entry, Recipe, Row, RowStatus
from uptide.core.recipe.resolve import resolve


def meant(row: Row) -> str:
    assert row.ingredient is not None
    return row.ingredient.base_key


Reading = Callable[..., tuple[Row, ...]]


@pytest.fixture
def rows(catalogue: Catalogue) -> Reading:
    def read(text: str, habits: Habits | None = None) -> tuple[Row, ...]:
        recipe = Recipe(tuple(map(Entry, split_recipe(text))), habits=habits or Habits())
        return resolve(recipe, catalogue.ingredients, catalogue.names).rows

    return read


@pytest.mark.parametrize(
    ("text", "place", "taken", "because"),
    [
        ("2 oz jojoba, 1 oz argan", 0, "fl_oz", AS_USUAL),
        ("2 oz jojoba, 3 tsp argan", 0, "fl_oz", AS_MEASURED),
        ("2 oz jojoba, 30 g argan", 0, "oz_weight", AS_WEIGHED),
        ("2 oz jojoba, 3 oz shea butter", 0, "oz_weight", AS_WEIGHED),
        ("2 oz jojoba, 3 oz shea butter, 1 tbsp argan", 0, "fl_oz", AS_MEASURED),
        ("2 oz jojoba, 12 drops lavender", 0, "fl_oz", AS_USUAL),  # drops are counted by everybody
        ("a spoon of jojoba", 0, "tbsp", AS_USUAL),
        ("a spoon of jojoba, 2 tsp argan", 0, "tsp", "as in the other rows"),
        ("a spoon of shea butter", 0, "tsp", AS_USUAL),
        ("2 jojoba, 1 argan", 0, "part", "as the other rows are numbers too"),
        ("30 jojoba, 10 argan", 1, "ml", AS_USUAL),
        ("30 g jojoba, 10 argan", 1, "g", "as in the other rows"),
        ("30 ml jojoba, 5 lavender", 1, "drop", "as scents are counted"),
        ("30 ml jojoba, 5 drops orange", 1, "orange-sweet", AS_USUAL),
        ("30 ml sunflower", 0, "sunflower", AS_USUAL),
        ("2 UK tbsp jojoba", 0, "tbsp_15", AS_USUAL),
    ],
)
def test_what_is_likeliest_is_assumed_and_says_why(
    text: str, place: int, taken: str, because: str, rows: Reading
) -> None:
    row = rows(text)[place]

    assert row.status is RowStatus.READ
    assert [(q.assumed, q.because) for q in row.questions] == [(taken, because)]
    assert taken not in row.questions[0].others


@pytest.mark.parametrize(
    "text",
    [
        "a spoon of lavender oil",  # of a scent, or infused with it
        "10 ml calendula oil",
        "2 tsp lavender",
        "30 ml squalene",
        "30 ml zorgblat",
        "10 g lavnder",  # near a name is not the name
        "30 ml avena sativa",  # the oil, or the flour
    ],
)
def test_what_nothing_makes_likely_is_asked(text: str, rows: Reading) -> None:
    (row,) = rows(text)

    assert row.status is not RowStatus.READ
    assert not any(question.assumed for question in row.questions)


def test_a_habit_leaves_nothing_open(rows: Reading) -> None:
    weighs = Habits(bare_ounce=BareOunce.WEIGHT, meanings=(("orange", "orange-bitter"),))
    by_ounce, orange = rows("2 oz jojoba, 5 drops orange", weighs)

    assert by_ounce.grams == pytest.approx(56.7, abs=0.01)
    assert meant(orange) == "orange-bitter"
    assert by_ounce.questions == orange.questions == ()


def test_what_was_answered_last_is_taken_first_and_what_it_might_be_stays_open(rows: Reading) -> None:
    weighed = Habits().after_answer("unit", "oz", "oz_weight").after_answer("name", "orange", "orange-bitter")
    by_ounce, orange = rows("2 oz jojoba, 5 drops orange", weighed)

    assert by_ounce.grams == pytest.approx(56.7, abs=0.01)
    assert [(q.assumed, q.because, q.others) for q in by_ounce.questions] == [("oz_weight", AS_BEFORE, ("fl_oz",))]
    assert meant(orange) == "orange-bitter"
    assert "orange-sweet" in orange.questions[0].others
    (again,) = rows("2 oz jojoba", weighed.after_answer("unit", "oz", "fl_oz"))
    assert again.questions[0].assumed == "fl_oz"


def test_an_answer_to_what_nothing_makes_likely_is_taken_again_with_all_it_may_be_but_no_spoon_of_scent(
    rows: Reading,
) -> None:
    calendula = Habits().after_answer("name", "calendula oil", "infused-oil").after_answer("unit", "spoon", "tsp")
    (row,) = rows("10 ml calendula oil", calendula)
    (asked,) = rows("10 ml calendula oil")
    (scent,) = rows("a spoon of lavender essential oil", calendula)

    named = {option.value for option in asked.questions[0].options} - {"none", "infused-oil"}
    assert asked.questions[0].about == "calendula oil"
    assert (row.status, meant(row), set(row.questions[0].others)) == (RowStatus.READ, "infused-oil", named)
    assert scent.status is RowStatus.ASKED


def test_only_so_many_answers_are_remembered_and_the_newest_of_a_question_counts() -> None:
    habits = Habits()
    for turn in range(EARLIER_KEPT + 5):
        habits = habits.after_answer("name", f"oil {turn}", "olive")

    assert len(habits.earlier) == EARLIER_KEPT
    assert habits.answered("name", "oil 0") == ""
    assert habits.after_answer("name", "oil 9", "argan").answered("name", "oil 9") == "argan"
    assert len(habits.after_answer("name", "oil 9", "argan").earlier) == EARLIER_KEPT
    assert habits.measures_like(Habits())
    assert not habits.measures_like(Habits(bare_ounce=BareOunce.WEIGHT))


def test_an_old_british_tablespoon_is_five_eighths_of_an_ounce(catalogue: Catalogue) -> None:
    # Imperial fluid ounce 28.4131 mL (Weights and Measures Act 1985); five eighths of it were a tablespoon.
    recipe = Recipe((Entry("2 UK tbsp jojoba", {"unit": "tbsp_18"}),))
    (row,) = resolve(recipe, catalogue.ingredients, catalogue.names).rows

    assert row.millilitres == pytest.approx(2 * 5 / 8 * 28.4130625, rel=1e-6)
    (now,) = resolve(Recipe((Entry("2 UK tbsp jojoba"),)), catalogue.ingredients, catalogue.names).rows
    assert now.millilitres == pytest.approx(30)


def test_a_pump_is_taken_for_a_usual_one_until_it_was_weighed(rows: Reading) -> None:
    (usual,) = rows("10 pumps jojoba")
    (own,) = rows("10 pumps jojoba", Habits(held=(("pump", 0.18),)))

    assert (usual.millilitres, usual.grams_low, usual.grams_high) == pytest.approx((10, 1.728, 17.28))
    assert "weigh yours" in usual.remark
    assert (own.millilitres, own.grams_low, own.grams_high) == pytest.approx((1.8, 1.5552, 1.5552))
    assert own.remark == ""


@pytest.mark.parametrize(
    ("held", "words"),
    [((("bucket", 3.0),), "is not filled"), ((("pump", 0.001),), "cannot be"), ((("capful", 80.0),), "cannot")],
)
def test_a_pump_that_cannot_be_is_refused(held: tuple[tuple[str, float], ...], words: str) -> None:
    with pytest.raises(QuantityError, match=words):
        Habits(held=held)


def test_what_stands_on_the_shelf_goes_before_what_is_usual(catalogue: Catalogue) -> None:
    mid = catalogue.ingredient("sunflower-mid-oleic")
    shelf = {**catalogue.ingredients, "lot:A-1": replace(mid, key="lot:A-1", base=mid.key, lot="A-1")}
    recipe = Recipe((Entry("30 ml sunflower"),))
    (row,) = resolve(recipe, shelf, catalogue.names).rows

    assert (meant(row), row.questions[0].because) == ("sunflower-mid-oleic", ON_SHELF)
    both = {**shelf, "lot:B-1": replace(catalogue.ingredient("sunflower"), key="lot:B-1", base="sunflower", lot="B-1")}
    (row,) = resolve(recipe, both, catalogue.names).rows
    assert (meant(row), row.questions[0].because) == ("sunflower", AS_USUAL)


def test_rows_that_leave_open_the_same_are_one_question_and_one_answer(catalogue: Catalogue) -> None:
    recipe = Recipe(tuple(map(Entry, ("2 oz rosehip", "2 oz jojoba", "12 drops orange", "1 oz avocado"))))
    ounces, orange = open_readings(resolve(recipe, catalogue.ingredients, catalogue.names))

    assert (ounces.rows, ounces.about, ounces.taken) == ((0, 1, 3), "oz", "fluid ounces, by volume")
    assert orange.rows == (2,)
    settled = resolve(read_as(recipe, ounces, "oz_weight"), catalogue.ingredients, catalogue.names)
    assert settled.rows[3].grams == pytest.approx(28.35, abs=0.01)
    assert settled.rows[3].typed == "1 oz avocado"
    assert [each.about for each in open_readings(settled)] == ["orange"]


def test_no_more_is_assumed_than_is_worked_out(rows: Reading) -> None:
    names = ("orange", "lemon", "lime", "basil", "bay", "thyme", "rosemary", "eucalyptus", "jasmine", "mint", "cedar")
    found = rows(", ".join(f"2 drops {name}" for name in names))
    others = [other for row in found if row.status is RowStatus.READ for q in row.questions for other in q.others]

    assert 0 < len(others) <= MOST_OTHERS
    assert any(row.status is RowStatus.ASKED for row in found)


def test_the_shares_are_those_of_the_reading_that_is_taken(weigh: Weigh) -> None:
    found = weigh("2 oz jojoba, 2 oz shea butter, 10 drops orange")

    assert [row.status for row in found.rows] == [RowStatus.READ] * 3
    assert sum(row.percent_mass or 0 for row in found.rows) == pytest.approx(100)
