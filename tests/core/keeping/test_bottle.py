"""A bottle follows from its notes: where it is, who has it, whether it stands; and what it asks for on which day."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.core.keeping.board import (
    Freshness,
    Kind,
    Section,
    Shown,
    Thing,
    ebb,
    first_to_end,
    read_board_words,
)
from uptide.core.keeping.bottle import Bottle, BottleNote, Noted, State, note_problem, shared_readings
from uptide.core.keeping.checks import checks_of, next_check

TODAY = date(2026, 11, 27)
MADE = date(2026, 9, 1)


def bottle(*notes: BottleNote, **more: object) -> Bottle:
    plain = Bottle("20260901-1-1", 1, 1, MADE, batch="20260901-1", notes=notes)
    return replace(plain, **more)  # type: ignore[arg-type]


def noted(number: int, on: str, kind: str, **detail: object) -> BottleNote:
    return BottleNote(number, date.fromisoformat(on), kind, detail)


def test_what_was_noted_last_counts_and_what_was_struck_does_not() -> None:
    moved = noted(1, "2026-09-03", "moved", place="bathroom")
    back = noted(2, "2026-10-01", "moved", place="fridge")
    assert bottle(back, moved).place == "fridge"
    assert bottle(moved, replace(back, struck="it was another")).place == "bathroom"
    assert bottle(noted(1, "2026-09-10", "opened")).opened_on == date(2026, 9, 10)
    assert bottle().made_on == MADE
    assert bottle(noted(1, "2026-08-20", "made")).made_on == date(2026, 8, 20)


def test_it_stands_is_off_or_gone() -> None:
    off, gone = noted(1, "2026-10-01", "smell", off=True), noted(2, "2026-11-01", Noted.DISCARDED, words="off")
    assert bottle(noted(1, "2026-10-01", "smell", off=False)).state is State.STANDS
    assert bottle(off).state is State.OFF
    assert bottle(off, noted(3, "2026-10-02", "smell", off=False)).state is State.OFF  # what smelled off stays off
    assert bottle(off, gone).state is State.GONE
    assert bottle(off, gone).ended_on == date(2026, 10, 1)
    assert bottle(replace(off, struck="the cap")).state is State.STANDS


def test_who_has_it_has_it_until_it_comes_back() -> None:
    given_ = replace(noted(1, "2026-10-01", Noted.GIVEN), whom="Wren", wearer=4)
    handed = bottle(given_).handed
    assert handed is not None
    assert (handed.whom, handed.wearer) == ("Wren", 4)
    assert bottle(given_, noted(2, "2026-10-05", Noted.BACK)).handed is None


@pytest.mark.parametrize(
    ("note", "why"),
    [
        (noted(0, "2026-10-01", "melted"), "nothing that is noted"),
        (noted(0, "2027-10-01", Noted.REMARK, words="x"), "cannot be"),
        (noted(0, "2026-10-01", Noted.REACTION), "wants a few words"),
        (noted(0, "2026-10-01", Noted.SOLD), "To whom?"),
        (noted(0, "2026-10-01", Noted.BACK), "nobody has it"),
        (noted(0, "2026-10-01", "moved", place="moon"), "no place"),
        (noted(0, "2026-10-01", Noted.SEEN), ""),
    ],
)
def test_what_cannot_be_noted_says_why(note: BottleNote, why: str) -> None:
    said = note_problem(note, bottle(), TODAY)
    assert why in said
    assert bool(said) == bool(why)


def test_readings_of_siblings_count_where_they_stand_alike_and_their_end_is_their_own() -> None:
    mine = bottle()
    strip = noted(1, "2026-10-01", "strip", low=2.0, high=5.0)
    off = noted(2, "2026-10-02", "smell", off=True)
    sibling = bottle(strip, off, number="20260901-1-2")
    elsewhere = bottle(noted(3, "2026-09-02", "moved", place="bathroom"), strip, number="20260901-1-3")
    assert shared_readings(mine, [sibling, elsewhere]) == (strip,)


def test_looks_are_asked_for_next_day_and_after_one_four_and_twelve_weeks() -> None:
    plan = checks_of(MADE, 12)
    assert [(each.on - MADE).days for each in plan] == [1, 7, 28, 84]
    assert not any("strip" in each.what for each in plan)
    # What keeps no more than half a year is measured as well, and nothing is asked for after its end.
    soon = checks_of(MADE, 2)
    assert [(each.on - MADE).days for each in soon] == [1, 7, 28]
    assert [("strip" in each.what) for each in soon] == [False, False, True]
    assert len(checks_of(MADE, None)) == 4
    assert len(checks_of(MADE, 2.7)) == 3  # 82 days: the look after 84 would find it over
    assert [any("strip" in each.what for each in checks_of(MADE, months)) for months in (6, 6.5)] == [True, False]


def test_of_looks_that_were_missed_the_last_is_due_and_no_other() -> None:
    plan = checks_of(MADE, 12)
    day = MADE + timedelta(days=40)
    due = next_check(plan, [], day)
    assert due is not None
    assert (due.on - MADE).days == 28
    after = next_check(plan, [MADE + timedelta(days=30)], day)
    assert after is not None
    assert (after.on - MADE).days == 84
    assert next_check(plan, [day + timedelta(days=60)], day + timedelta(days=60)) is None


def thing(code: str, ends: int | None, turns: int | None = None, **more: object) -> Thing:
    ends_on = None if ends is None else TODAY + timedelta(days=ends)
    turns_on = None if turns is None else TODAY + timedelta(days=turns)
    return Thing(Kind.LOT, code, code, ends_on=ends_on, turns_on=turns_on, **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("ends", "turns", "freshness", "section"),
    [
        (-1, -1, Freshness.OVER, Section.NOW),
        (-1, 20, Freshness.DOUBT, Section.NOW),
        (0, 20, Freshness.DOUBT, Section.NOW),
        (20, 90, Freshness.SOON, Section.MONTH),
        (61, 90, Freshness.SOON, Section.TWO_MONTHS),
        (62, 90, Freshness.KEEPS, Section.HALF_YEAR),
        (400, None, Freshness.KEEPS, Section.LATER),
        (30, None, Freshness.SOON, Section.MONTH),
        (31, None, Freshness.SOON, Section.TWO_MONTHS),
        (181, None, Freshness.KEEPS, Section.HALF_YEAR),
        (182, None, Freshness.KEEPS, Section.LATER),
        (900_000, None, Freshness.KEEPS, Section.LATER),
        (None, None, Freshness.UNKNOWN, Section.UNKNOWN),
    ],
)
def test_a_thing_stands_against_its_own_limit(
    ends: int | None, turns: int | None, freshness: Freshness, section: Section
) -> None:
    one = thing("A", ends, turns)
    assert one.freshness(TODAY) is freshness
    assert one.section(TODAY) is section
    assert thing("A", ends, turns, is_off=True).freshness(TODAY) is Freshness.OFF


def test_what_is_off_and_over_stands_on_top_and_then_what_ends_first() -> None:
    things = [
        thing("late", 300),
        thing("never", None),
        thing("soon", 5),
        thing("over", -3, -1),
        thing("off", 400, is_off=True),
    ]
    assert [each.key for each in first_to_end(things, TODAY)] == ["over", "off", "soon", "late", "never"]


def test_a_board_shows_what_is_asked_for() -> None:
    one = thing("A", 30, place="fridge", holder="Wren", opened_on=TODAY, look_on=TODAY)
    assert Shown().holds(one, TODAY)
    for shown in (
        Shown(kind="bottle"),
        Shown(place="store"),
        Shown(holder="Bo"),
        Shown(month="2027-01"),
    ):
        assert not shown.holds(one, TODAY)
    full = Shown(kind="lot", place="fridge", holder="Wren", soon=True, open=True, look=True, month="2026-12")
    assert full.holds(one, TODAY)
    assert not full.holds(replace(one, opened_on=None), TODAY)
    assert not full.holds(replace(one, look_on=TODAY + timedelta(days=1)), TODAY)
    assert not full.holds(replace(one, ends_on=TODAY + timedelta(days=100)), TODAY)


@pytest.mark.parametrize(
    ("words", "shown"),
    [
        ("what goes off in january", Shown(month="2027-01")),
        ("What turns in nov?", Shown(month="2026-11")),
        ("which oil is over this month", Shown(month="2026-11")),
        ("what is open", Shown(open=True)),
        ("which bottles are open?", Shown(open=True)),
        ("what should I use up", Shown(soon=True)),
        ("what should we use first", Shown(soon=True)),
        ("what goes off first", Shown(soon=True)),
        ("what should I use up first", Shown(soon=True)),
        ("which oils do we need to use soon", Shown(soon=True)),
        ("what needs using up", Shown(soon=True)),
        ("what is about to go off", Shown(soon=True)),
        ("which oils are expiring soon?", Shown(soon=True)),
        ("going off", Shown(soon=True)),
        ("what can I use instead of argan", None),
        ("what should I use for dry skin", None),
        ("what needs a look", Shown(look=True)),
        ("what goes off in ju", None),
        ("what is in jojoba", None),
        ("12 drops in 30 ml", None),
    ],
)
def test_the_quick_line_knows_what_of_the_board_is_asked(words: str, shown: Shown | None) -> None:
    assert read_board_words(words, TODAY) == shown


@given(st.lists(st.tuples(st.integers(-60, 900), st.integers(1, 9)), max_size=12))
def test_the_ebb_never_rises_and_begins_with_what_still_keeps(ends: list[tuple[int, int]]) -> None:
    counts = ebb([(TODAY + timedelta(days=days), count) for days, count in ends], TODAY, 24)
    assert list(counts) == sorted(counts, reverse=True)
    assert counts[0] == sum(count for days, count in ends if days > 0)
