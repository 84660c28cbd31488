"""Blends keep every version, lots keep their codes, and migrations keep both."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import date
from threading import Event, Thread
from typing import Any

import pytest
from alembic import command
from sqlalchemy import text
from sqlalchemy.orm import Session

from uptide.core.ingredients.lot import Lot
from uptide.core.measures.habits import BareOunce, Habits, Spoons
from uptide.core.physics.bottle import Container
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.store.blends import (
    archive_blend,
    create_blend,
    list_blends,
    load_blend,
    load_version,
    rename_blend,
    save_version,
    storage_from_json,
)
from uptide.store.condition import DatabaseError
from uptide.store.database import as_writer, open_engine
from uptide.store.migrating import migrate, migration_config
from uptide.store.preferences import form_secret, led_to, load_habits, remember_form, save_habits
from uptide.store.records import BlendNameError, NotFoundError
from uptide.store.shelf import all_lots, put_lots

RECIPE = Recipe(
    (Entry("1 oz olive", {"unit": "fl_oz"}), Entry("12 drops lavender")),
    "facial-oil",
    Container("dropper", 30),
    Habits(
        spoons=Spoons.METRIC,
        meanings=(("vitamin e", "mixed-tocopherols"),),
        held=(("pump", 0.18), ("capful", 4.5)),
        earlier=(("unit", "oz", "fl_oz"), ("name", "orange", "orange-sweet")),
    ),
)


@pytest.fixture
def url(database_url: str) -> str:
    return database_url


@pytest.fixture
def store(url: str) -> Iterator[Session]:
    engine = open_engine(url)
    with Session(engine) as session, session.begin():
        yield session
    engine.dispose()


def test_a_version_comes_back_as_it_was_saved(store: Session) -> None:
    number = create_blend(store, "  Face   oil ", RECIPE, "first")
    blend = load_blend(store, number)

    assert blend.name == "Face oil"
    assert blend.newest.recipe == RECIPE
    assert blend.newest.note == "first"


def test_every_save_is_a_version_and_none_is_overwritten(store: Session) -> None:
    number = create_blend(store, "Face oil", RECIPE)
    changed = Recipe((Entry("2 tbsp jojoba"),))

    assert save_version(store, number, changed) == 2
    assert load_version(store, number, 1).recipe == RECIPE
    assert load_version(store, number, 2).recipe == changed
    assert [header.number for header in load_blend(store, number).versions] == [1, 2]


def test_saving_what_did_not_change_makes_no_version_unless_there_is_a_note(store: Session) -> None:
    number = create_blend(store, "Face oil", RECIPE)

    assert save_version(store, number, RECIPE) == 1
    assert save_version(store, number, RECIPE, "tried on Ines") == 2


def test_names_are_checked(store: Session) -> None:
    number = create_blend(store, "Face oil", RECIPE)

    with pytest.raises(BlendNameError, match="needs a name"):
        rename_blend(store, number, "   ")
    with pytest.raises(BlendNameError, match="up to 120"):
        rename_blend(store, number, "x" * 121)
    rename_blend(store, number, "Sea oil")
    assert load_blend(store, number).name == "Sea oil"


def test_a_blend_put_away_is_listed_apart_and_can_be_taken_out(store: Session) -> None:
    number = create_blend(store, "Face oil", RECIPE)
    archive_blend(store, number, archived=True)

    assert list_blends(store) == ()
    assert [blend.name for blend in list_blends(store, archived=True)] == ["Face oil"]
    archive_blend(store, number, archived=False)
    assert [blend.rows for blend in list_blends(store)] == [("1 oz olive", "12 drops lavender")]


def test_what_is_not_there_is_said_so(store: Session) -> None:
    with pytest.raises(NotFoundError, match="no blend 99"):
        load_blend(store, 99)
    number = create_blend(store, "Face oil", RECIPE)
    with pytest.raises(NotFoundError, match="no version 7"):
        load_version(store, number, 7)


def lot(code: str, ingredient: str = "jojoba", **changes: Any) -> Lot:
    return replace(Lot(code, ingredient, bought_g=100.0, left_g=50.0, price=5.0, currency="GBP"), **changes)


def test_lots_are_known_by_code_and_stand_in_the_order_in_which_they_came(store: Session) -> None:
    late, soon = lot("A", best_before=date(2027, 1, 1)), lot("B", best_before=date(2026, 12, 1))

    assert put_lots(store, [late, soon, lot("C"), lot("D", left_g=0.0)]) == (4, 0)
    assert put_lots(store, [lot("A", best_before=date(2027, 1, 1), left_g=40.0)]) == (0, 1)
    assert [found.code for found in all_lots(store)] == ["A", "B", "C", "D"]
    assert all_lots(store)[0].left_g == 40


def test_habits_the_secret_and_used_forms_are_kept(store: Session) -> None:
    habits = Habits(bare_ounce=BareOunce.VOLUME, drops="own", own_drops_per_ml=31.5)
    save_habits(store, habits)
    remember_form(store, "abc", "/blends/1")

    assert load_habits(store) == habits
    assert form_secret(store) == form_secret(store)
    assert (led_to(store, "abc"), led_to(store, "new")) == ("/blends/1", None)


def test_the_models_are_what_the_migrations_make(url: str) -> None:
    command.check(migration_config(url))  # raises when they differ


@pytest.mark.of_files
def test_sqlite_is_opened_with_wal_foreign_keys_and_patience(url: str) -> None:
    engine = open_engine(url)
    with engine.connect() as connection:
        found = [
            connection.execute(text(f"PRAGMA {name}")).scalar()
            for name in ("journal_mode", "foreign_keys", "busy_timeout")
        ]
    engine.dispose()

    assert found == ["wal", 1, 5000]


def test_migrating_again_keeps_the_data(url: str) -> None:
    engine = open_engine(url)
    with Session(engine) as session, session.begin():
        create_blend(session, "Face oil", RECIPE)
    migrate(url)
    with Session(engine) as session:
        assert [blend.name for blend in list_blends(session)] == ["Face oil"]
    engine.dispose()


def test_where_it_stands_is_read_under_the_names_it_was_stored_by() -> None:
    before, unread = storage_from_json({"wall": "PET", "head_room": 0.3, "place": "bathroom"})

    assert (before.material, before.headspace, before.place, unread) == ("PET", 0.3, "bathroom", {})


def test_another_program_s_and_a_newer_database_are_left_alone(url: str) -> None:
    engine = open_engine(url)
    with engine.begin() as connection:
        connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    with pytest.raises(DatabaseError, match="was written by a newer Up Tide"):
        migrate(url)
    with engine.begin() as connection:
        connection.execute(text("DROP TABLE alembic_version"))
    with pytest.raises(DatabaseError, match="is a database of another program"):
        migrate(url)
    engine.dispose()


def test_who_waited_to_write_sees_what_the_other_wrote(url: str) -> None:
    engine = open_engine(url)
    found: list[str] = []

    def rename(name: str, begun: Event, go_on: Event) -> None:
        with Session(engine) as session, session.begin():
            as_writer(session)
            begun.set()
            go_on.wait(10)
            found.append(load_blend(session, 1).name)
            rename_blend(session, 1, name)

    with Session(engine) as session, session.begin():
        create_blend(as_writer(session), "First", RECIPE)
    first, second, go_on = Event(), Event(), Event()
    one = Thread(target=rename, args=("Second", first, go_on))
    one.start()
    assert first.wait(10)
    other = Thread(target=rename, args=("Third", second, go_on))
    other.start()
    assert not second.wait(0.2)  # only one writes
    go_on.set()
    one.join()
    other.join()
    engine.dispose()
    assert found == ["First", "Second"]


def test_all_that_one_look_reads_is_of_one_moment(url: str) -> None:
    engine = open_engine(url)
    with Session(engine) as session, session.begin():
        create_blend(as_writer(session), "First", RECIPE)
    with Session(engine) as reader:
        assert [each.name for each in list_blends(reader)] == ["First"]
        with Session(engine) as writer, writer.begin():
            rename_blend(as_writer(writer), 1, "Second")
        reader.expire_all()
        assert [each.name for each in list_blends(reader)] == ["First"]
    with Session(engine) as later:
        assert [each.name for each in list_blends(later)] == ["Second"]
    engine.dispose()
