"""Cards and patch tests: kept, changed without loss, and gone for good when they are deleted."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import date, datetime
from pathlib import Path

import pytest
from alembic import command
from sqlalchemy import text
from sqlalchemy.orm import Session

from uptide.core.errors import UptideError
from uptide.core.recipe.recipe import Entry, IntendedUse, Recipe
from uptide.core.skin.patch import Outcome, Saw
from uptide.core.skin.wearer import ALLERGIES, ANYONE, CONDITIONS, GROUPS, MEDICINES, USES, Ticks, Wearer
from uptide.store.blends import create_blend, load_blend, load_version, save_version
from uptide.store.database import open_engine
from uptide.store.migrating import migrate, migration_config
from uptide.store.people import (
    PersonError,
    add_person,
    begin_test,
    change_person,
    delete_person,
    end_test,
    list_people,
    load_person,
    made_for,
    names_of_people,
    note_look,
    suspect,
    wearer_from_json,
    wearer_of,
    wearer_to_json,
)
from uptide.store.records import NotFoundError

BEGUN = datetime(2026, 11, 25, 18, 30)  # noqa: DTZ001 - by the clock on the wall
INES = Wearer(
    "Ines",
    date(1991, 3, 9),
    "combination",
    sensitive=False,
    tone="fair",
    pregnant=False,
    planning=False,
    breastfeeding=None,
    allergies=Ticks.answered(ALLERGIES, "tree_nut"),
    conditions=Ticks.answered(CONDITIONS),
    uses=Ticks.answered(USES, "sun"),
    procedure_on=date(2026, 11, 20),
    procedure="a peel",
    other_allergies="linalool",
    dislikes="patchouli",
    note="Swims.",
)


@pytest.fixture
def store(database_url: str) -> Iterator[Session]:
    engine = open_engine(database_url)
    with Session(engine) as session, session.begin():
        yield session
    engine.dispose()


RETINOID = Wearer("x", medicines=Ticks.answered(MEDICINES, "retinoid", "other"))


@pytest.mark.parametrize("wearer", [INES, ANYONE, RETINOID])
def test_a_card_comes_back_from_json_as_it_was(wearer: Wearer) -> None:
    assert wearer_from_json(wearer_to_json(wearer)) == (wearer, {})


def test_a_card_from_an_older_or_a_newer_version_is_read_as_far_as_it_is_known() -> None:
    stored = {"name": "Ines", "allergies": ["tree_nut", "moon dust"], "shoe size": 39}

    assert wearer_from_json(stored)[0] == Wearer("Ines", allergies=Ticks(frozenset({"tree_nut"})))


def test_a_card_is_kept_changed_and_what_it_said_before_stays(store: Session) -> None:
    number = add_person(store, INES)
    change_person(store, number, INES)  # nothing new
    change_person(store, number, replace(INES, pregnant=True))
    person = load_person(store, number)

    assert person.wearer == replace(INES, pregnant=True)
    assert [card for _, card in person.earlier] == [INES]
    assert names_of_people(store) == ((number, "Ines"),)
    assert wearer_of(store, number) == person.wearer


def test_names_tell_people_apart(store: Session) -> None:
    number = add_person(store, INES)

    with pytest.raises(PersonError, match="needs a name"):
        add_person(store, Wearer("  "))
    with pytest.raises(PersonError, match="a card for “ines” already"):
        add_person(store, Wearer("ines"))
    with pytest.raises(PersonError, match="up to 80"):
        add_person(store, Wearer("x" * 81))
    change_person(store, number, replace(INES, name="INES"))  # her own name is hers


def test_a_blend_keeps_whom_it_is_for_its_use_and_its_reasons(store: Session) -> None:
    number = add_person(store, INES)
    recipe = Recipe(
        (Entry("2 tbsp jojoba"),),
        use=IntendedUse("UK", for_sale=True, placed_on=date(2026, 8, 1), night_only=True),
        wearer=number,
        reasons={"for-sale": "assessed by a chemist"},
    )
    blend = create_blend(store, "Face oil", recipe)

    assert load_blend(store, blend).newest.recipe == recipe
    assert made_for(store, number) == ((blend, "Face oil", 1),)
    assert save_version(store, blend, replace(recipe, wearer=None)) == 2
    assert made_for(store, number) == ()


def test_a_deleted_card_is_gone_with_its_tests_and_its_number_is_never_given_again(store: Session) -> None:
    number = add_person(store, INES)
    blend = create_blend(store, "Face oil", Recipe((Entry("2 tbsp jojoba"),), wearer=number))
    test = begin_test(
        store, number, blend=(blend, 1), protocol="two-days", site="inner wrist", begun_at=BEGUN, contents=("jojoba",)
    )
    note_look(store, number, test, 0, Saw.NOTHING)
    delete_person(store, number)

    assert list_people(store) == ()
    assert wearer_of(store, number) == ANYONE
    assert load_version(store, blend, 1).recipe.wearer == number
    for table in ("wearer", "wearer_card", "patch_test", "patch_look"):
        assert store.execute(text(f"SELECT count(*) FROM {table}")).scalar() == 0  # noqa: S608 - our own names
    assert add_person(store, INES) > number
    with pytest.raises(NotFoundError, match="perhaps it was deleted"):
        load_person(store, number)


def test_a_reaction_stops_what_was_in_it_until_it_is_narrowed_down(store: Session) -> None:
    number = add_person(store, INES)
    blend = create_blend(store, "Face oil", Recipe((Entry("2 tbsp jojoba"),)))
    test = begin_test(
        store,
        number,
        blend=(blend, 1),
        protocol="open-7",
        site="inner forearm",
        begun_at=BEGUN,
        contents=("jojoba", "lavender"),
    )
    assert load_person(store, number).wearer.reacted_to == frozenset()

    note_look(store, number, test, 1, Saw.RED, "itches")
    assert load_person(store, number).tests[0].outcome is Outcome.REACTED
    assert load_person(store, number).wearer.reacted_to == {"jojoba", "lavender"}

    suspect(store, number, test, ("lavender",))
    assert load_person(store, number).wearer.reacted_to == {"lavender"}
    with pytest.raises(UptideError, match="leave at least one ticked"):
        suspect(store, number, test, ())
    # The card itself does not change: what tests found stays with the tests.
    assert load_person(store, number).earlier == ()


def test_a_later_look_of_the_same_hour_counts_and_a_test_can_be_broken_off(store: Session) -> None:
    number = add_person(store, INES)
    blend = create_blend(store, "Face oil", Recipe((Entry("2 tbsp jojoba"),)))
    test = begin_test(
        store, number, blend=(blend, 1), protocol="two-days", site="inner wrist", begun_at=BEGUN, contents=("jojoba",)
    )
    note_look(store, number, test, 0, Saw.FAINT)
    note_look(store, number, test, 0, Saw.NOTHING, "looked again")
    end_test(store, number, test)
    found = load_person(store, number).tests[0]

    assert (found.looks[0].saw, found.looks[0].note) == (Saw.NOTHING, "looked again")
    assert found.outcome is Outcome.BROKEN_OFF


def test_what_cannot_be_tested_is_refused(store: Session) -> None:
    number = add_person(store, INES)
    blend = create_blend(store, "Face oil", Recipe((Entry("2 tbsp jojoba"),)))

    with pytest.raises(NotFoundError, match="no version 9"):
        begin_test(
            store, number, blend=(blend, 9), protocol="two-days", site="inner wrist", begun_at=BEGUN, contents=()
        )
    with pytest.raises(UptideError, match="no place for a patch test"):
        begin_test(store, number, blend=(blend, 1), protocol="two-days", site="tongue", begun_at=BEGUN, contents=())
    test = begin_test(
        store, number, blend=(blend, 1), protocol="two-days", site="inner wrist", begun_at=BEGUN, contents=()
    )
    with pytest.raises(UptideError, match="no look 5"):
        note_look(store, number, test, 4, Saw.NOTHING)
    with pytest.raises(NotFoundError, match="no patch test"):
        note_look(store, add_person(store, Wearer("Osk")), test, 0, Saw.NOTHING)


def test_every_group_of_a_card_is_stored() -> None:
    assert set(GROUPS) <= set(wearer_to_json(INES))


def test_blends_from_before_people_were_kept_are_for_anyone(tmp_path: Path) -> None:
    url = f"sqlite:///{tmp_path / 'old.db'}"
    command.upgrade(migration_config(url), "0003")
    engine = open_engine(url)
    with engine.begin() as connection:
        connection.execute(text("INSERT INTO blend (id, name, created_at) VALUES (1, 'Old', '2026-01-01 00:00:00')"))
        connection.execute(
            text(
                "INSERT INTO blend_version (id, blend_id, number, saved_at, note, product, habits) "
                "VALUES (1, 1, 1, '2026-01-01 00:00:00', '', 'body-oil', '{}')"
            )
        )
    migrate(url)
    with Session(engine) as session:
        recipe = load_blend(session, 1).newest.recipe
    engine.dispose()

    assert (recipe.wearer, recipe.use, recipe.reasons) == (None, IntendedUse(), {})
