"""What a jar wants on which day: done, due, missed or to come; and the same as a calendar."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar

from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.core.infusion.following import JarNote, JarUnderWay, NoteKind
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import State
from uptide.core.infusion.schedule import Standing, Work, due_of, schedule_of
from uptide.core.infusion.temperature import Reading
from uptide.formats.calendar_ics import write_calendar

BEGUN = date(2026, 11, 2)


def jar(days: int, *notes: tuple[int, NoteKind], method: str = "dark-shelf", state: State = State.DRIED) -> JarUnderWay:
    ask = JarAsk(
        shipped_plants()["calendula"],
        state,
        shipped_catalogue().ingredients["sunflower-high-oleic"],
        grams=30.0,
        method=method,
    )
    grams = {NoteKind.TOPPED_UP: 30.0, NoteKind.STRAINED: 200.0, NoteKind.PLANT_ADDED: 9.0, NoteKind.RENEWED: 30.0}
    noted = [JarNote(BEGUN + timedelta(days=day), kind, grams.get(kind)) for day, kind in notes]
    return JarUnderWay(JarPlan(ask), BEGUN, noted, BEGUN + timedelta(days=days))


def of(under_way: JarUnderWay, work: Work) -> dict[int, Standing]:
    return {(each.on - BEGUN).days: each.standing for each in schedule_of(under_way) if each.work is work}


def test_looks_are_done_due_missed_or_to_come() -> None:
    looked = jar(9, (4, NoteKind.LOOKED))

    assert of(looked, Work.LOOK) == {
        1: Standing.MISSED,
        3: Standing.DONE,
        7: Standing.DUE,
        14: Standing.COMES,
        21: Standing.COMES,
        28: Standing.COMES,
        35: Standing.COMES,
    }


def test_the_last_look_is_due_for_a_week_and_then_missed() -> None:
    assert of(jar(41), Work.LOOK)[35] is Standing.DUE
    assert of(jar(42), Work.LOOK)[35] is Standing.MISSED
    assert of(jar(50, (38, NoteKind.SMELL)), Work.LOOK)[35] is Standing.DONE


def test_a_top_up_is_due_until_it_is_done() -> None:
    assert of(jar(0), Work.TOP_UP) == {1: Standing.COMES}
    assert of(jar(12), Work.TOP_UP) == {1: Standing.DUE}
    assert of(jar(12, (3, NoteKind.TOPPED_UP)), Work.TOP_UP) == {1: Standing.DONE}
    assert of(jar(12, (5, NoteKind.BINNED)), Work.TOP_UP) == {1: Standing.MISSED}


def test_what_comes_after_a_jar_has_ended_never_came() -> None:
    ended = jar(40, (10, NoteKind.STRAINED))

    assert of(ended, Work.STRAIN) == {35: Standing.DONE}
    assert of(ended, Work.LOOK)[14] is Standing.COMES
    assert of(ended, Work.LOOK)[7] is Standing.MISSED


@given(st.integers(0, 60), st.lists(st.tuples(st.integers(0, 60), st.sampled_from(list(NoteKind))), max_size=8))
def test_it_never_says_done_before_the_day_and_agrees_with_what_is_due(
    today: int, notes: list[tuple[int, NoteKind]]
) -> None:
    passed = [(day, kind) for day, kind in sorted(notes) if day <= today and kind in (NoteKind.LOOKED, NoteKind.SHAKEN)]
    under_way = jar(today, *passed)
    planned = schedule_of(under_way)

    assert list(planned) == sorted(planned, key=lambda each: each.on)
    for each in planned:
        assert each.standing is not Standing.COMES or each.on > under_way.today
    due = [each for each in planned if each.standing is Standing.DUE and each.work is Work.LOOK]
    assert bool(due) == ("Look at it" in [task.words for task in due_of(under_way)]) or today > 35


def test_hours_in_a_bath_want_somebody_with_a_thermometer_and_then_straining() -> None:
    bath = jar(0, method="warm-bath")
    assert [(each.work, each.standing) for each in schedule_of(bath)] == [
        (Work.READ, Standing.DUE),
        (Work.STRAIN, Standing.DUE),
    ]
    assert due_of(bath)[0].words == "Stay with it, and read the thermometer"
    assert of(jar(1, method="warm-bath"), Work.READ) == {0: Standing.MISSED}
    read = replace(bath, readings=(Reading(datetime(2026, 11, 2, 15, 0, tzinfo=UTC), 51.0),))
    assert of(read, Work.READ) == {0: Standing.DONE}
    assert "jar-1-read-2026-11-02@up-tide" in write_calendar([(1, "Bath", bath)]).decode()


def test_it_is_smelt_every_week() -> None:
    assert list(of(jar(0), Work.SMELL)) == [7, 14, 21, 28, 35]
    smelt = jar(15, (9, NoteKind.SMELL), (15, NoteKind.LOOKED))
    assert [of(smelt, Work.SMELL)[day] for day in (7, 14, 21)] == [Standing.DONE, Standing.DUE, Standing.COMES]
    assert of(jar(15, (14, NoteKind.SOUR)), Work.SMELL)[14] is Standing.DONE


def test_a_jar_in_the_sun_is_vented_daily_at_first_and_then_weekly_and_a_wet_one_daily() -> None:
    assert list(of(jar(0, method="sunny-window"), Work.VENT)) == [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 14]
    assert list(of(jar(0, method="sunny-window", state=State.FRESH), Work.VENT)) == list(range(1, 21))
    assert of(jar(0), Work.VENT) == {}
    vented = jar(2, (2, NoteKind.VENTED), method="sunny-window")
    assert of(vented, Work.VENT)[2] is Standing.DONE
    assert [task.words for task in due_of(vented)][:2] == ["Top it up with 35 g of oil", "Shake it"]


def test_a_season_asks_for_more_plant_every_week_but_the_last_two() -> None:
    season = jar(8, (7, NoteKind.PLANT_ADDED), method="topped-up")
    assert list(of(season, Work.ADD_PLANT)) == [7, 14, 21, 28, 35, 42, 49, 56, 63, 70]
    assert of(season, Work.ADD_PLANT)[7] is Standing.DONE
    assert of(jar(14, method="topped-up"), Work.ADD_PLANT)[7] is Standing.MISSED


def test_a_second_infusion_is_strained_onto_fresh_plant_half_way() -> None:
    twice = jar(35, method="second-infusion")
    assert of(twice, Work.RENEW) == {35: Standing.DUE}
    assert "Strain it onto fresh plant, 30 g of it" in [task.words for task in due_of(twice)]
    assert of(jar(60, (36, NoteKind.RENEWED), method="second-infusion"), Work.RENEW) == {35: Standing.DONE}
    assert list(of(twice, Work.STRAIN)) == [70]


def test_what_was_left_out_is_due_since_the_first_time() -> None:
    assert next(task for task in due_of(jar(9)) if task.words == "Look at it").since == BEGUN + timedelta(days=1)
    shaken = jar(9, (6, NoteKind.SHAKEN))
    assert next(task for task in due_of(shaken) if task.words == "Shake it").since == BEGUN + timedelta(days=7)


def test_a_calendar_holds_what_is_open_and_is_the_same_each_time() -> None:
    under_way = jar(9, (4, NoteKind.LOOKED), (1, NoteKind.TOPPED_UP))
    written = write_calendar(
        [(3, "Calendula; by the stove, 2 L", under_way), (4, "Gone", jar(9, (5, NoteKind.BINNED)))]
    )
    read = Calendar.from_ical(written)
    events = {str(each["uid"]): each for each in read.walk("VEVENT")}

    assert written == write_calendar([(3, "Calendula; by the stove, 2 L", under_way)])
    assert set(events) == {
        "jar-3-look-2026-11-09@up-tide",
        "jar-3-look-2026-11-16@up-tide",
        "jar-3-look-2026-11-23@up-tide",
        "jar-3-look-2026-11-30@up-tide",
        "jar-3-look-2026-12-07@up-tide",
        "jar-3-shake-2026-11-11@up-tide",
        "jar-3-smell-2026-11-09@up-tide",
        "jar-3-smell-2026-11-16@up-tide",
        "jar-3-smell-2026-11-23@up-tide",
        "jar-3-smell-2026-11-30@up-tide",
        "jar-3-smell-2026-12-07@up-tide",
        "jar-3-strain-2026-12-07@up-tide",
    }
    shake = events["jar-3-shake-2026-11-11@up-tide"]
    assert shake["rrule"].to_ical() == b"FREQ=DAILY;COUNT=26"  # to the day before it is strained
    assert str(shake["summary"]) == "Shake it: Calendula; by the stove, 2 L"
    assert shake.decoded("dtstart") == date(2026, 11, 11)
