"""A jar under way: what is due on which day, what a look says, and what came of it."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.core.errors import QuantityError
from uptide.core.infusion.following import JarNote, JarUnderWay, NoteKind, may_begin_on
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import State
from uptide.core.infusion.schedule import due_of
from uptide.core.safety.caution import Grade

BEGUN = date(2026, 11, 2)
PLAN = JarPlan(
    JarAsk(
        shipped_plants()["calendula"], State.DRIED, shipped_catalogue().ingredients["sunflower-high-oleic"], grams=30.0
    )
)


def after(days: int, *notes: JarNote, plan: JarPlan = PLAN) -> JarUnderWay:
    return JarUnderWay(plan, BEGUN, notes, BEGUN + timedelta(days=days))


def note(day: int, kind: NoteKind, grams: float | None = None, words: str = "") -> JarNote:
    return JarNote(BEGUN + timedelta(days=day), kind, grams, words)


def due(jar: JarUnderWay) -> list[str]:
    return [task.words for task in due_of(jar)]


def test_what_is_due_in_the_first_days() -> None:
    assert due(after(0)) == []
    assert due(after(1)) == ["Top it up with 35 g of oil", "Shake it", "Look at it"]
    done = (note(1, NoteKind.TOPPED_UP, 35), note(1, NoteKind.SHAKEN), note(1, NoteKind.LOOKED))
    assert due(after(1, *done)) == []
    assert due(after(2, *done)) == ["Shake it"]
    assert due(after(3, *done)) == ["Shake it", "Look at it"]
    assert due_of(after(3, *done))[0].since == BEGUN + timedelta(days=2)


@pytest.mark.parametrize(("day", "is_due"), [(6, False), (7, True), (13, True), (14, True), (21, True)])
def test_it_is_looked_at_after_days_one_three_and_seven_and_weekly(day: int, is_due: bool) -> None:
    jar = after(day, note(3, NoteKind.LOOKED))

    assert ("Look at it" in due(jar)) is is_due
    assert "Look at it" not in due(after(day, note(day, NoteKind.CLOUDY)))


def test_it_is_strained_when_its_way_ends() -> None:
    assert (after(10).planned_days, after(10).done_on) == (35, date(2026, 12, 7))
    assert "Strain it" not in due(after(34))
    assert "Strain it" in due(after(35))
    assert "Shake it" not in due(after(35))
    bath = JarPlan(JarAsk(PLAN.ask.plant, State.DRIED, PLAN.ask.oil, method="warm-bath", grams=30.0))
    assert "Strain it" in due(after(0, plan=bath))


def test_the_level_is_topped_up_once() -> None:
    assert PLAN.covers.top_up == pytest.approx(35.5, abs=0.1)
    assert not any("Top" in words for words in due(after(9, note(2, NoteKind.TOPPED_UP, 30))))


@pytest.mark.parametrize(
    ("seen", "grade"),
    [
        (note(2, NoteKind.BUBBLES), Grade.NOTE),
        (note(3, NoteKind.BUBBLES), Grade.NOTE),
        (note(4, NoteKind.BUBBLES), Grade.STOP),
        (note(1, NoteKind.MOULD), Grade.STOP),
        (note(9, NoteKind.SOUR), Grade.STOP),
        (note(9, NoteKind.WATER), Grade.WARN),
        (note(9, NoteKind.CLOUDY), Grade.WARN),
    ],
)
def test_what_is_seen_says_what_to_do(seen: JarNote, grade: Grade) -> None:
    (said,) = after(10, seen).says

    assert said.grade is grade
    assert ("Bin all of it" in said.message) is (grade is Grade.STOP)


def test_the_gravest_of_what_was_seen_stands_on_top() -> None:
    grades = [
        said.grade
        for said in after(10, note(2, NoteKind.BUBBLES), note(5, NoteKind.CLOUDY), note(9, NoteKind.MOULD)).says
    ]

    assert grades == [Grade.STOP, Grade.WARN, Grade.NOTE]
    assert after(10, note(2, NoteKind.LOOKED, words="clear")).says == ()


def test_water_lost_is_weight_lost() -> None:
    assert after(9, note(1, NoteKind.WEIGHED, 812.0)).water_lost is None
    assert after(9, note(1, NoteKind.WEIGHED, 812.0), note(8, NoteKind.WEIGHED, 804.5)).water_lost == pytest.approx(7.5)


def test_what_came_of_it() -> None:
    # 395.6 g of oil; squeezed by hand 327 g are expected: 2 % of the oil, 8 g, are no news.
    as_meant = after(40, note(36, NoteKind.STRAINED, 325.0))
    short = after(40, note(36, NoteKind.STRAINED, 300.0))

    assert (as_meant.outcome, due_of(as_meant), as_meant.day) == ("Strained on 8 Dec 2026: 325 g, as expected.", (), 36)
    assert (
        "300 g, 27 g less than expected; the plant kept 3.2 g a gram with dregs and films, and 1.7 is usual"
        in short.outcome
    )
    assert after(40, note(9, NoteKind.BINNED, words="sour")).outcome == "Binned on 11 Nov 2026: sour."
    assert after(40, note(9, NoteKind.PUT_AWAY)).outcome == "Put away on 11 Nov 2026."
    assert after(40).outcome == ""


def test_a_note_that_cannot_be_is_refused() -> None:
    with pytest.raises(QuantityError, match="needs its grams"):
        note(3, NoteKind.STRAINED)
    with pytest.raises(QuantityError, match="cannot be noted"):
        note(3, NoteKind.WEIGHED, -5)
    assert note(3, NoteKind.WEIGHED, 100_000).grams
    with pytest.raises(QuantityError, match="up to 100,000 can"):
        note(3, NoteKind.WEIGHED, 100_001)
    assert may_begin_on(BEGUN, BEGUN)
    assert may_begin_on(BEGUN - timedelta(days=3660), BEGUN)
    assert not may_begin_on(BEGUN - timedelta(days=3661), BEGUN)
    assert not may_begin_on(BEGUN + timedelta(days=1), BEGUN)


@given(st.integers(0, 400), st.lists(st.tuples(st.integers(0, 400), st.sampled_from(NoteKind)), max_size=6))
def test_any_jar_on_any_day_says_how_it_stands(day: int, noted: list[tuple[int, NoteKind]]) -> None:
    jar = after(day, *(note(when, kind, 100.0) for when, kind in sorted(noted)))

    assert (jar.outcome != "") is (jar.ended is not None)
    assert not (jar.ended and due_of(jar))
    assert all(task.since <= jar.today for task in due_of(jar))
    assert [task.since for task in due_of(jar)] == sorted(task.since for task in due_of(jar))


def test_it_is_wet_until_a_weighing_shows_that_the_water_has_left() -> None:
    fresh = JarPlan(JarAsk(PLAN.ask.plant, State.FRESH, PLAN.ask.oil, grams=30.0))
    assert after(9).wet_until is None
    assert after(9, plan=fresh).wet_until == BEGUN + timedelta(days=9)
    weighed = [note(day, NoteKind.WEIGHED, 500 - part * fresh.must_leave) for day, part in ((1, 0), (3, 0.9), (5, 1.1))]
    assert after(9, *weighed, plan=fresh).wet_until == BEGUN + timedelta(days=5)
    assert after(9, note(7, NoteKind.BINNED), plan=fresh).wet_until == BEGUN + timedelta(days=7)
