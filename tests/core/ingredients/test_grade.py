"""How an oil was made is chosen in a row or of a lot, and changes what it is known to change."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.catalogue.stock import stocked
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.filter import apply_filter, read_filter
from uptide.core.ingredients.grade import GRADES, graded, has_grades
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.ingredients.lot import Lot
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.edit import set_grade
from uptide.core.recipe.recipe import Entry, Recipe, RowStatus
from uptide.core.recipe.resolve import resolve
from uptide.core.safety.claims import read_claims

FACTS = shipped_catalogue()
TODAY = date(2026, 11, 25)


def weighed(*rows: str) -> Assessment:
    recipe = Recipe(tuple(Entry(row) for row in rows))
    usage = FACTS.usage_context(recipe, TODAY)
    return assess(recipe, FACTS.ingredients, FACTS.names, draws=standard_draws(), usage=usage)


def read(row: str) -> Ingredient:
    found = weighed(row).rows[0]
    assert found.status is RowStatus.READ, found.reason
    assert found.ingredient is not None
    return found.ingredient


@pytest.mark.parametrize(
    ("row", "name"),
    [
        ("50 g extra virgin olive oil", "Olive oil, unrefined"),
        ("50 g light olive oil", "Olive oil, refined"),
        ("50 g extra light olive oil", "Olive oil, refined"),
        ("50 g olive pomace oil", "Olive oil, refined"),
        ("50 g olive oil", "Olive oil (virgin)"),
        ("50 g refined avocado oil", "Avocado oil, refined"),
        ("50 g raw shea butter", "Shea butter, unrefined"),
        ("50 g cold-pressed rosehip oil", "Rosehip seed oil, unrefined"),
        ("50 g CO2 extracted rosehip seed oil", "Rosehip seed oil, CO2-extracted"),
        ("50 g high-oleic sunflower oil", "Sunflower oil (high oleic)"),  # an oil of its own, and no grade
        ("5 drops lavender essential oil cold pressed", "Lavender (true) essential oil"),  # a scent has no grade
    ],
)
def test_a_row_says_the_grade(row: str, name: str) -> None:
    assert read(row).name == name


def test_a_graded_name_is_read_again_as_itself() -> None:
    for grade in GRADES:
        once = graded(FACTS.ingredient("avocado"), grade)
        assert read(f"50 g {once.name}").name == once.name
        assert graded(once, "refined") is once


def test_what_a_grade_changes() -> None:
    """Codex: 10 meq/kg refined, 15 cold-pressed, 20 virgin olive; a third of the tocopherols go (from memory)."""
    virgin, refined = read("50 g extra virgin olive oil"), read("50 g light olive oil")
    assert virgin.oxidation is not None
    assert refined.oxidation is not None
    assert (virgin.oxidation.limit_pv, refined.oxidation.limit_pv) == (20, 10)
    assert (virgin.oxidation.fresh_pv, refined.oxidation.fresh_pv) == (6, 1)
    assert refined.oxidation.tocopherols_alpha == pytest.approx(0.7 * virgin.oxidation.tocopherols_alpha)
    assert refined.oxidation.osi_hours == pytest.approx(0.65 * 12)
    assert virgin.appearance is not None
    assert refined.appearance is not None
    assert refined.appearance.tint < virgin.appearance.tint
    assert refined.appearance.odour == 0 < virgin.appearance.odour
    tints = [
        weighed(row).finding("skin_tint").value or 0 for row in ("50 g extra virgin olive oil", "50 g light olive oil")
    ]
    assert tints[1] < 0.5 * tints[0]  # the virgin stains
    pressed = read("50 g cold-pressed grapeseed oil")
    assert pressed.oxidation is not None
    assert pressed.oxidation.limit_pv == 15
    assert weighed("50 g light olive oil").rows[0].remark == "pale, hardly smells, begins fresher"
    assert weighed("50 g extra virgin olive oil").rows[0].remark == ""  # as it usually is


def test_two_grades_of_one_oil_stand_in_one_blend() -> None:
    found = weighed("30 g refined shea butter", "20 g unrefined shea butter")

    assert [row.ingredient.name for row in found.rows if row.ingredient] == [
        "Shea butter, refined",
        "Shea butter, unrefined",
    ]
    assert found.shelf_life is not None
    assert found.shelf_life.mixture is not None
    assert found.shelf_life.mixture.limit_pv == pytest.approx((30 * 10 + 20 * 15) / 50)


def test_a_lot_has_a_grade_and_is_poured_for_what_asks_for_it() -> None:
    lot = Lot("A-1", "avocado", bought_g=100.0, left_g=100.0, grade="refined")
    facts = stocked(FACTS, {}, [lot, replace(lot, code="A-2", grade="")], {}, TODAY)
    refined, plain = facts.ingredients["lot:A-1"], facts.ingredients["lot:A-2"]

    assert refined.name == "Avocado oil, refined, lot A-1"
    assert refined.appearance is not None
    assert refined.appearance.odour == 0
    # A row that says a grade is poured from that or from a lot of which nobody said; one that says none from any.
    asked = {
        row: read(row).stock_key for row in ("5 g avocado oil", "5 g refined avocado oil", "5 g virgin avocado oil")
    }
    assert [key in refined.stands_for for key in asked.values()] == [True, True, False]
    assert [key in plain.stands_for for key in asked.values()] == [True, True, True]


def test_traditions_are_searched_and_marked_as_nothing_measured() -> None:
    oils = {key: oil_profile(item) for key, item in FACTS.ingredients.items() if item.is_fatty}

    def found(text: str) -> set[str]:
        filter_ = read_filter(text, oils, FACTS.names)
        assert all("by tradition, nothing measured" in condition.words for condition in filter_.conditions)
        assert filter_.conditions
        return {oil.key for oil in apply_filter(filter_, oils, FACTS.names).oils}

    assert {"sesame", "mustard", "sunflower"} <= found("warming") - found("cooling")
    assert found("cooling oils") == {"coconut", "kokum-butter"}
    assert "coconut" in found("for summer") - found("for winter")
    tradition = FACTS.ingredient("jojoba").tradition
    assert tradition is not None
    assert tradition.words.startswith("neither warming nor cooling, chosen all year round")


@pytest.mark.parametrize("claim", ["Makes hair grow: stops hair fall", "It thickens the hair", "Gets rid of dandruff"])
def test_what_is_claimed_of_oiled_hair_must_not_be(claim: str) -> None:
    assert "hair-growth" in {found.pattern.key for found in read_claims({"note": claim}, FACTS.safety)}


def test_another_grade_is_said_in_the_words_of_the_row() -> None:
    recipe = Recipe((Entry("2 tbsp extra virgin olive oil"), Entry("1 tbsp squalane")))
    refined = set_grade(recipe, 0, "refined")

    assert refined.entries[0].typed == "2 tbsp refined olive oil"
    assert set_grade(refined, 0, "").entries[0].typed == "2 tbsp olive oil"
    assert set_grade(refined, 0, "co2").entries[0].typed == "2 tbsp CO2-extracted olive oil"
    for grade in GRADES:
        made = resolve(set_grade(recipe, 0, grade), FACTS.ingredients, FACTS.names).rows[0].ingredient
        assert made is not None
        assert made.grade == grade
    assert has_grades(FACTS.ingredient("olive"))
    assert not has_grades(FACTS.ingredient("squalane"))
    with pytest.raises(QuantityError, match="refined, unrefined, co2 are"):
        set_grade(recipe, 0, "golden")
    with pytest.raises(QuantityError, match="no longer there"):
        set_grade(recipe, 7, "refined")
