"""The board at the ends of its stretches of time, and what is asked of it, one thing after the other."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest

from uptide.core.keeping.board import Freshness, Kind, Section, Shown, Thing, ebb, read_board_words, section_of, span_of
from uptide.core.keeping.bottle import Bottle, BottleNote, Noted, note_problem, shared_readings
from uptide.core.keeping.checks import Check, checks_of, next_check

TODAY = date(2026, 11, 27)
DAY = timedelta(days=1)
ONE = Thing(Kind.BOTTLE, "A", "Face oil", ends_on=TODAY + 90 * DAY, turns_on=TODAY + 200 * DAY)


def test_it_is_over_on_the_day_it_turns_and_soon_up_to_the_day_two_months_away() -> None:
    turns = [replace(ONE, turns_on=TODAY + days * DAY).freshness(TODAY) for days in (0, 1)]
    ends = [replace(ONE, ends_on=TODAY + days * DAY).freshness(TODAY) for days in (0, 1, 61, 62)]

    assert turns == [Freshness.OVER, Freshness.KEEPS]
    assert ends == [Freshness.DOUBT, Freshness.SOON, Freshness.SOON, Freshness.KEEPS]


@pytest.mark.parametrize(
    ("section", "first", "after"),
    [
        (Section.NOW, None, date(2026, 11, 28)),
        (Section.MONTH, date(2026, 11, 28), date(2026, 12, 28)),
        (Section.TWO_MONTHS, date(2026, 12, 28), date(2027, 1, 28)),
        (Section.HALF_YEAR, date(2027, 1, 28), date(2027, 5, 28)),
        (Section.LATER, date(2027, 5, 28), None),
    ],
)
def test_a_stretch_of_time_begins_the_day_after_the_one_before(
    section: Section, first: date | None, after: date | None
) -> None:
    assert span_of(section, TODAY) == (first, after)
    if first is not None:
        assert section_of(first, TODAY) is section
        assert section_of(first - DAY, TODAY) is not section
    if after is not None:
        assert section_of(after - DAY, TODAY) is section


def test_each_thing_that_can_be_asked_leaves_out_what_is_not_so() -> None:
    lot, infused = replace(ONE, kind=Kind.LOT), replace(ONE, kind=Kind.INFUSED)
    assert [Shown(kind="lot").holds(each, TODAY) for each in (lot, infused, ONE)] == [True, True, False]
    assert [Shown(kind="infused oil").holds(each, TODAY) for each in (lot, infused)] == [False, True]
    assert not Shown(soon=True).holds(ONE, TODAY)
    assert not Shown(soon=True).holds(replace(ONE, ends_on=None), TODAY)
    assert Shown(soon=True).holds(replace(ONE, ends_on=TODAY + DAY), TODAY)
    assert Shown().holds(replace(ONE, ends_on=None, turns_on=None), TODAY)
    assert [Shown(section=each).holds(ONE, TODAY) for each in ("half_year", "later", "HALF_YEAR")] == [
        True,
        False,
        False,
    ]
    assert [Shown(look=True).holds(replace(ONE, look_on=on), TODAY) for on in (TODAY, TODAY + DAY, None)] == [
        True,
        False,
        False,
    ]
    february = Shown(month="2027-02")
    ends = (date(2027, 1, 31), date(2027, 2, 1), date(2027, 2, 28), date(2027, 3, 1), None)
    held = [february.holds(replace(ONE, ends_on=on), TODAY) for on in ends]
    assert held == [False, True, True, False, False]
    assert Shown(month="2027-13").span is None
    assert Shown(month="2027-12").span == (date(2027, 12, 1), date(2028, 1, 1))


@pytest.mark.parametrize(
    ("words", "shown"),
    [
        ("What goes off in December??", Shown(month="2026-12")),
        ("what ends in october", Shown(month="2027-10")),  # this year’s is gone
        ("what ends in november", Shown(month="2026-11")),
        ("what needs a look?", Shown(look=True)),
        ("what wants a look", Shown(look=True)),
        ("what goes off in ma", None),  # march or may
        ("what goes off in mar", Shown(month="2027-03")),
    ],
)
def test_a_month_that_is_gone_is_next_year_s(words: str, shown: Shown | None) -> None:
    assert read_board_words(words, TODAY) == shown


def test_the_ebb_counts_what_ends_on_the_first_day_as_still_there() -> None:
    assert ebb([(date(2026, 12, 27), 2), (date(2026, 12, 28), 3), (TODAY, 1)], TODAY, 3) == (5, 3, 0)
    assert ebb([], TODAY, 2) == (0, 0)


def noted(kind: str, on: date = TODAY, **more: object) -> BottleNote:
    return replace(BottleNote(1, on, kind, {}), **more)  # type: ignore[arg-type] # each case names what it says


def test_what_is_noted_is_of_the_last_years_up_to_today_and_of_somebody() -> None:
    bottle = Bottle("1", 1, 1, TODAY)
    oldest = date(2016, 11, 26)

    assert note_problem(noted(Noted.SEEN, oldest), bottle, TODAY) == ""
    assert note_problem(noted(Noted.SEEN), bottle, TODAY) == ""
    said = note_problem(noted(Noted.SEEN, oldest - DAY), bottle, TODAY)
    assert said == "2016-11-25 cannot be: a day of the last 10 years up to today can."
    assert note_problem(noted(Noted.SEEN, TODAY + DAY), bottle, TODAY).startswith("2026-11-28 cannot be")
    assert note_problem(noted(Noted.GIVEN), bottle, TODAY) == "To whom? Choose a card, or write a name."
    assert note_problem(noted(Noted.GIVEN, whom="Wren"), bottle, TODAY) == ""
    assert note_problem(noted(Noted.SOLD, wearer=3), bottle, TODAY) == ""
    assert note_problem(noted("melted"), bottle, TODAY).startswith(
        "“melted” is nothing that is noted of a bottle; known are "
    )


def test_of_siblings_in_the_same_place_strips_titrations_and_good_smells_count() -> None:
    def said(kind: str, **detail: object) -> BottleNote:
        return noted(kind, detail=detail)

    mine = Bottle("1", 1, 1, TODAY)
    seen = (
        said("strip", low=2, high=5),
        said("titration", low=3),
        said("smell"),
        said("smell", off=True),
        said(Noted.SEEN),
    )
    sibling = Bottle("2", 1, 1, TODAY, notes=seen)
    moved = Bottle("3", 1, 1, TODAY, notes=(said("moved", place="fridge"), said("strip", low=2, high=5)))

    assert shared_readings(mine, [sibling, moved]) == seen[:3]
    assert shared_readings(replace(moved, notes=moved.notes[:1]), [sibling, moved]) == moved.notes[1:]


def test_a_look_is_due_on_its_day_and_done_by_whoever_looked_that_day() -> None:
    made = date(2026, 11, 1)
    plan = checks_of(made, 12)
    day_8 = made + 7 * DAY

    assert next_check(plan, [], day_8) == plan[1]
    assert next_check(plan, [day_8], day_8) == plan[2]
    assert next_check(plan, [day_8 - DAY], day_8) == plan[1]
    assert next_check(plan, [], made + 6 * DAY) == plan[0]
    assert next_check(plan, [made + DAY], made + 6 * DAY) == plan[1]
    assert next_check([], [], TODAY) is None
    # 0.92 months are 28 days: the look of that day would find it over.
    assert [each.on for each in checks_of(made, 0.921)] == [made + DAY, day_8]
    assert checks_of(made, 0.96)[-1] == Check(made + 28 * DAY, "smell and look, and a strip")
