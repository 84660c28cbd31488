"""Bottles in the database: what the last release noted is all there, and a board is one look."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from datetime import UTC, date, datetime
from pathlib import Path

import pytest
from alembic import command
from sqlalchemy import text
from sqlalchemy.orm import Session

from uptide.core.keeping.bottle import Bottle, BottleNote, Noted, State
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.skin.wearer import Wearer
from uptide.store.blends import create_blend
from uptide.store.bottle_board import Wanted, board, ends_of_bottles, places_and_holders
from uptide.store.bottles import (
    Worked,
    add_bottles,
    add_note,
    bottle_id,
    bottles_of_blend,
    bottles_of_person,
    keep_worked,
    load_bottle,
    own_number,
    strike_note,
    wishes_of_blend,
)
from uptide.store.database import open_engine
from uptide.store.migrating import migrate, migration_config
from uptide.store.people import add_person, delete_person
from uptide.store.preferences import carried_over
from uptide.store.records import NotFoundError

LAST_RELEASE = Path(__file__).parent / "release_0012.sql"
DAY = date(2026, 9, 1)


@pytest.fixture
def release(tmp_path: Path) -> str:
    """A database as the last release left it: two blends with notes of their bottles, and a batch that was filled."""
    path = tmp_path / "release.sqlite"
    with closing(sqlite3.connect(path)) as connection:
        connection.executescript(LAST_RELEASE.read_text(encoding="utf-8"))
    return f"sqlite:///{path}"


def test_every_note_that_was_there_is_there_on_its_bottle(release: str) -> None:
    migrate(release)
    with Session(open_engine(release)) as session:
        (dune,) = bottles_of_blend(session, 1)
        assert (dune.number, dune.made_on, dune.version, dune.size_ml) == ("20260801-0-1", date(2026, 8, 1), 2, 60.0)
        assert [(each.on.isoformat(), each.kind, dict(each.detail)) for each in dune.live] == [
            ("2026-08-01", "made", {}),
            ("2026-08-10", "opened", {}),
            ("2026-09-01", "moved", {"place": "bathroom"}),
            ("2026-09-15", "titration", {"low": 12.0}),
            ("2026-10-01", "strip", {"low": 5.0, "high": 10.0}),
        ]
        # What had been taken out of the account stays to be read, and counts no more.
        (struck,) = [each for each in dune.notes if each.struck is not None]
        assert (struck.kind, struck.detail, struck.struck) == ("smell", {"off": True}, "taken out")
        assert dune.state is State.STANDS
        own, *filled = sorted(bottles_of_blend(session, 2), key=lambda each: each.batch)
        assert (own.batch, own.made_on, [each.kind for each in own.live]) == ("", date(2026, 10, 5), ["smell"])
        assert [(each.number, each.size_ml, each.fill_g, each.made_on) for each in filled] == [
            ("20261120-1-1", 50.0, 44.0, date(2026, 11, 20)),
            ("20261120-1-2", 50.0, 44.5, date(2026, 11, 20)),
        ]
        assert bottles_of_blend(session, 3) == ()
        # What the bottle taught is known by it now.
        assert carried_over(session, bottle_id(session, dune.number)) == 0
        assert carried_over(session, None) == pytest.approx(0.155)


def test_what_can_be_read_no_more_is_carried_over_as_it_is(release: str) -> None:
    path = release.removeprefix("sqlite:///")
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("UPDATE bottle_event SET detail = '[7]' WHERE id = 3")
        connection.execute("UPDATE bottle_event SET kind = 'exploded' WHERE id = 5")
        connection.execute("UPDATE preference SET value = 'null' WHERE key = 'learnt_rates'")
        connection.execute(
            "DELETE FROM blend_entry WHERE version_id IN (SELECT id FROM blend_version WHERE blend_id = 2)"
        )
        connection.execute("DELETE FROM blend_version WHERE blend_id = 2")
        connection.commit()
    migrate(release)
    with Session(open_engine(release)) as session:
        (dune,) = bottles_of_blend(session, 1)
        assert [each.kind for each in dune.live] == ["made", "opened", "moved", "titration", "exploded"]
        stored = session.execute(text("SELECT detail FROM bottle_note WHERE kind = 'moved'")).scalar_one()
        assert stored == "[7]"
        assert len(bottles_of_blend(session, 2)) == 3  # also of a blend that lost its versions


def test_the_way_back_keeps_what_was_noted_of_blends(release: str) -> None:
    migrate(release)
    command.downgrade(migration_config(release), "0012")
    with closing(sqlite3.connect(release.removeprefix("sqlite:///"))) as connection:
        rows = connection.execute("SELECT blend_id, kind, removed_at IS NULL FROM bottle_event").fetchall()
    assert rows == [
        (1, "made", 1),
        (1, "opened", 1),
        (1, "moved", 1),
        (1, "titration", 1),
        (1, "strip", 1),
        (1, "smell", 0),
        (2, "smell", 1),
    ]


@pytest.fixture
def store(database_url: str) -> Iterator[Session]:
    with Session(open_engine(database_url)) as session:
        create_blend(session, "Dune", Recipe((Entry("60 g olive"),)))
        yield session


def fill(store: Session, count: int, day: date = DAY) -> list[Bottle]:
    numbers = []
    for _ in range(count):
        number = own_number(store, day)
        add_bottles(store, [Bottle(number, 1, 1, day, size_ml=50.0)])
        numbers.append(number)
    return [load_bottle(store, number) for number in numbers]


def test_numbers_go_on_from_the_last_of_the_day(store: Session) -> None:
    assert [each.number for each in fill(store, 3)] == ["20260901-0-1", "20260901-0-2", "20260901-0-3"]
    assert own_number(store, date(2026, 9, 2)) == "20260902-0-1"


def test_a_bottle_that_is_filled_again_is_the_same_bottle(store: Session) -> None:
    add_bottles(store, [Bottle("20260901-0-1", 1, 1, DAY, size_ml=50.0, fill_g=44.0)])
    add_note(store, "20260901-0-1", BottleNote(0, DAY, "opened"))
    add_bottles(store, [Bottle("20260901-0-1", 1, 1, DAY, size_ml=50.0, fill_g=45.5)])
    found = load_bottle(store, "20260901-0-1")
    assert found.fill_g == 45.5
    assert found.opened_on == DAY


def test_those_that_stand_alike_are_one_line_and_what_ends_first_is_on_top(store: Session) -> None:
    bottles = fill(store, 4)
    keep_worked(store, bottles[:2], Worked(place="fridge", ends_on=date(2027, 3, 1), by="x"))
    keep_worked(store, bottles[2:3], Worked(place="fridge", ends_on=date(2027, 1, 1), by="x"))
    add_note(store, bottles[3].number, BottleNote(0, DAY, "smell", {"off": True}))
    keep_worked(store, [load_bottle(store, bottles[3].number)], Worked(ends_on=date(2027, 9, 1), by="x"))
    lines = board(store, Wanted(), 10)
    assert [(each.number, each.count, each.state) for each in lines] == [
        ("20260901-0-4", 1, "off"),
        ("20260901-0-3", 1, "stands"),
        ("20260901-0-1", 2, "stands"),
    ]
    assert lines[1].name == "Dune"
    assert sorted(ends_of_bottles(store, Wanted(place="fridge"))) == [
        (False, date(2027, 1, 1), 1),
        (False, date(2027, 3, 1), 2),
    ]
    assert ends_of_bottles(store, Wanted(ends_before=date(2020, 1, 1))) == [(True, date(2027, 9, 1), 1)]
    assert board(store, Wanted(unknown=True), 10) == ()
    late = board(store, Wanted(ends_from=date(2027, 2, 1)), 10)
    assert [each.number for each in late] == ["20260901-0-1"]  # what is off has ended
    assert places_and_holders(store) == (("fridge",), ())
    month = Wanted(ends_before=date(2027, 2, 1), ends_from=date(2026, 12, 1))
    assert [each.number for each in board(store, month, 10)] == ["20260901-0-3"]
    soon = Wanted(ends_before=date(2027, 2, 1))
    assert [each.number for each in board(store, soon, 10)] == ["20260901-0-4", "20260901-0-3"]


def test_what_is_gone_is_on_no_board(store: Session) -> None:
    (one,) = fill(store, 1)
    add_note(store, one.number, BottleNote(0, DAY, "used up"))
    keep_worked(store, [load_bottle(store, one.number)], Worked())
    assert board(store, Wanted(), 10) == ()
    assert load_bottle(store, one.number).state is State.GONE


def test_a_struck_note_stays_and_is_struck_once(store: Session) -> None:
    (one,) = fill(store, 1)
    add_note(store, one.number, BottleNote(0, DAY, "opened"))
    (noted,) = load_bottle(store, one.number).notes
    strike_note(store, one.number, noted.id, "it was another")
    assert load_bottle(store, one.number).live == ()
    assert [each.struck for each in load_bottle(store, one.number).notes] == ["it was another"]
    with pytest.raises(NotFoundError, match="no note"):
        strike_note(store, one.number, noted.id, "again")
    with pytest.raises(NotFoundError, match="no bottle"):
        load_bottle(store, "nothing")


def test_of_a_person_who_is_deleted_no_bottle_keeps_the_name(store: Session) -> None:
    (one,) = fill(store, 1)
    person = add_person(store, Wearer("Wren"))
    add_note(store, one.number, BottleNote(0, DAY, Noted.GIVEN, wearer=person, whom="Wren"))
    keep_worked(store, [load_bottle(store, one.number)], Worked())
    assert [each.number for each in bottles_of_person(store, person)] == [one.number]
    assert places_and_holders(store)[1] == ("Wren",)
    delete_person(store, person)
    assert bottles_of_person(store, person) == ()
    handed = load_bottle(store, one.number).handed
    assert handed is not None
    assert (handed.whom, handed.wearer) == ("somebody", None)
    assert places_and_holders(store)[1] == ("somebody",)


def test_wishes_are_those_since_the_newest_version(store: Session) -> None:
    (one,) = fill(store, 1)
    add_note(store, one.number, BottleNote(0, DAY, Noted.WISH, {"words": "lighter"}, whom="Wren"))
    earlier, later = datetime(2026, 1, 1, tzinfo=UTC), datetime(2200, 1, 1, tzinfo=UTC)
    assert [(each.whom, each.words) for each in wishes_of_blend(store, 1, earlier)] == [("Wren", "lighter")]
    assert wishes_of_blend(store, 1, later) == ()
