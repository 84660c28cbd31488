"""Rows that depend on the whole: percents, parts, top-ups; mass is conserved and order is irrelevant."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.conftest import Weigh

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.measures.habits import BareOunce, Habits, PartsBy
from uptide.core.physics.bottle import Container
from uptide.core.recipe.recipe import Entry, Recipe, RowStatus
from uptide.core.recipe.resolve import resolve

CATALOGUE = shipped_catalogue()
ROWS = st.lists(
    st.sampled_from(
        [
            "2 tbsp grapeseed",
            "15 g jojoba",
            "10 to 14 drops lavender",
            "2 droppers rosehip",
            "3% castor",
            "1.5% argan",
            "2 parts almond",
            "1 part apricot",
            "1 tsp squalane",
            "1/10 bottle camellia",
            "a blob of benzoin",
            "zorgblat",
        ]
    ),
    min_size=1,
    max_size=7,
    unique=True,
)


def test_a_percent_row_is_that_percent_of_the_whole(weigh: Weigh) -> None:
    rows = weigh("1% mixed tocopherols\n99 g jojoba").rows

    assert rows[0].grams == pytest.approx(1.0)
    assert rows[0].percent_mass == pytest.approx(1.0)


def test_percents_that_make_110_are_said_so_and_normalised_shares_are_shown(weigh: Weigh) -> None:
    assessment = weigh("60% almond\n40% jojoba\n10% argan")

    assert assessment.resolution.stated_percent == pytest.approx(110)
    assert any("110 %, not 100 %" in remark for remark in assessment.remarks)
    assert assessment.rows[0].percent_mass == pytest.approx(60 / 1.1)


def test_percents_that_leave_no_room_for_measured_rows_are_refused_with_the_sum(weigh: Weigh) -> None:
    rows = weigh("110% almond\n2 tbsp jojoba").rows

    assert rows[0].status is RowStatus.NOT_UNDERSTOOD
    assert "110 %" in rows[0].reason
    assert rows[1].status is RowStatus.READ


def test_a_top_up_fills_what_the_other_rows_leave(weigh: Weigh) -> None:
    assessment = weigh("2 tsp rosehip\n1% mixed tocopherols\n5 g shea\ntop up with jojoba", ml=30)

    assert assessment.resolution.total_millilitres == pytest.approx(30)
    assert assessment.rows[1].percent_mass == pytest.approx(1)


def test_a_second_top_up_is_refused_and_the_first_one_works(weigh: Weigh) -> None:
    first, second = weigh("top up with jojoba\nfill with olive", ml=30).rows

    assert first.status is RowStatus.READ
    assert "already takes what is left" in second.reason


def test_a_top_up_with_nothing_left_says_so_and_the_other_rows_stay(weigh: Weigh) -> None:
    rows = weigh("3 tbsp rosehip\ntop up with jojoba", ml=30).rows

    assert rows[0].status is RowStatus.READ
    assert "Nothing is left to top up" in rows[1].reason


def test_parts_go_by_volume_unless_the_person_weighs_them(weigh: Weigh) -> None:
    by_volume = weigh("1 part castor\n1 part squalane", ml=100)
    by_mass = weigh("1 part castor\n1 part squalane", ml=100, habits=Habits(parts_by=PartsBy.MASS))

    assert [row.millilitres for row in by_volume.rows] == pytest.approx([50, 50])
    assert by_mass.rows[0].grams == pytest.approx(by_mass.rows[1].grams)


def test_parts_beside_amounts_fill_what_the_product_usually_comes_in_and_it_is_said(weigh: Weigh) -> None:
    found = weigh("1 part castor\n5 ml jojoba")

    assert found.rows[0].millilitres == pytest.approx(145)  # a body oil comes in 150 mL
    assert "No size of container is given: worked out for 150 mL" in found.remarks[0]
    assert found.bottle is not None
    assert weigh("1 part castor\n5 ml jojoba", 60).rows[0].millilitres == pytest.approx(55)


def test_a_range_counts_its_middle_and_keeps_its_upper_end_for_safety(weigh: Weigh) -> None:
    (row,) = weigh("10 to 15 drops lavender").rows

    assert row.grams == pytest.approx(12.5 / 20 * 0.884)
    assert row.grams_high == pytest.approx(15 / 20 * 0.884)


def test_drops_keep_the_doubt_of_the_dropper_until_it_is_calibrated(weigh: Weigh) -> None:
    school = weigh("12 drops lavender").rows[0]
    own = weigh("12 drops lavender", habits=Habits(drops="own", own_drops_per_ml=32)).rows[0]

    assert school.grams_low == pytest.approx(12 / 45 * 0.884)
    assert own.grams_low == own.grams == own.grams_high == pytest.approx(0.3315)


def test_a_bare_ounce_is_settled_by_its_answer_or_by_habit(weigh: Weigh) -> None:
    answered = weigh("1 oz olive", answers={0: {"unit": "oz_weight"}}).rows[0]
    by_habit = weigh("1 oz olive", habits=Habits(bare_ounce=BareOunce.VOLUME)).rows[0]

    assert answered.grams == pytest.approx(28.3495, rel=1e-5)
    assert by_habit.millilitres == pytest.approx(29.5735, rel=1e-5)


def test_a_name_with_two_meanings_is_asked_and_answered(weigh: Weigh) -> None:
    asked = weigh("2 tbsp sea buckthorn").rows[0]
    answered = weigh("2 tbsp sea buckthorn", answers={0: {"name": "sea-buckthorn-fruit"}}).rows[0]

    assert {o.value for o in asked.questions[0].options} == {"sea-buckthorn-seed", "sea-buckthorn-fruit", "none"}
    assert answered.ingredient is not None
    assert answered.ingredient.key == "sea-buckthorn-fruit"


def test_a_near_name_is_asked_with_none_of_these_and_stays_open_then(weigh: Weigh) -> None:
    asked, settled, none = (
        weigh("2 tbsp grapesed", answers={0: a}).rows[0] for a in ({}, {"name": "grapeseed"}, {"name": "none"})
    )

    assert asked.status is RowStatus.ASKED
    values = [option.value for option in asked.questions[0].options]
    assert (values[0], values[-1]) == ("grapeseed", "none")
    assert settled.status is RowStatus.READ
    assert none.status is RowStatus.NOT_UNDERSTOOD
    assert "INCI" in none.reason


def test_the_job_brief_s_drop_arithmetic_holds_in_both_schools(weigh: Weigh) -> None:
    # Common practice: 6 drops in 15 mL is 2 %; 42 drops in 6 fl oz is about 1.2 %; at 30/mL, 1 % of 15 mL is 4 drops.
    six = weigh("6 drops lavender\ntop up to 15 ml with jojoba").rows[0]
    forty_two = weigh("42 drops lavender\ntop up to 6 fl oz with jojoba").rows[0]
    school_b = weigh("4 drops lavender\ntop up to 15 ml with jojoba", habits=Habits(drops="30")).rows[0]

    assert six.percent_volume == pytest.approx(2.0)
    assert forty_two.percent_volume == pytest.approx(1.2, abs=0.05)
    assert school_b.percent_volume == pytest.approx(1.0, abs=0.15)


@given(rows=ROWS, data=st.data())
def test_the_order_of_rows_changes_nothing(rows: list[str], data: st.DataObject) -> None:
    def masses(order: list[str]) -> dict[str, float | None]:
        recipe = Recipe(tuple(Entry(row) for row in order), container=Container("bottle", 200))
        return {row.typed: row.grams for row in resolve(recipe, CATALOGUE.ingredients, CATALOGUE.names).rows}

    shuffled = data.draw(st.permutations(rows))
    assert masses(rows) == {typed: pytest.approx(mass) for typed, mass in masses(shuffled).items()}


@given(rows=ROWS)
def test_mass_is_conserved(rows: list[str]) -> None:
    recipe = Recipe(tuple(Entry(row) for row in rows), container=Container("bottle", 200))
    weighed = resolve(recipe, CATALOGUE.ingredients, CATALOGUE.names)

    assert sum(row.grams or 0 for row in weighed.rows) == pytest.approx(weighed.total_grams)
    if weighed.read:
        assert sum(row.percent_mass or 0 for row in weighed.rows) == pytest.approx(100)
        assert sum(row.percent_volume or 0 for row in weighed.rows) == pytest.approx(100)


def test_a_powder_takes_its_grains_volume_in_a_bottle_and_the_air_between_them_in_a_spoon(weigh: Weigh) -> None:
    """Sucrose is 1.587 g/mL (a handbook's, from memory): 50/1.587 + 50/0.864 = 89.4 mL; a level cup of it is 201 g."""
    scrub = weigh("50 g sugar\n50 g jojoba")
    spooned = weigh("1 cup sugar\n100 g jojoba")

    assert scrub.resolution.total_millilitres == pytest.approx(50 / 1.587 + 50 / 0.864, rel=1e-3)
    assert spooned.resolution.rows[0].grams == pytest.approx(236.588 * 0.85, rel=1e-4)
    assert spooned.resolution.rows[0].millilitres == pytest.approx(201.1 / 1.587, rel=1e-3)
    # Parts that are spoons: four spoons of it to one of oil.
    by_volume = weigh("4 parts sugar\n1 part jojoba", ml=100, habits=Habits(parts_by=PartsBy.VOLUME))
    assert by_volume.resolution.rows[0].percent_mass == pytest.approx(100 * 4 * 0.85 / (4 * 0.85 + 0.864), rel=1e-3)
