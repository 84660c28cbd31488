"""The ledger in the database: added to and never changed, once for each token, and older shelves come in whole."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import date
from pathlib import Path

import pytest
from alembic import command
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import text
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session

from uptide.core.errors import QuantityError, UptideError
from uptide.core.ingredients.lot import Lot
from uptide.core.ledger.movement import BEFORE, Movement, MovementKind, milligrams
from uptide.store.database import open_engine
from uptide.store.ledger import add_movement, left_mg, lot_number, movements_of, take, take_back
from uptide.store.migrating import migrate, migration_config
from uptide.store.records import LotError, NotFoundError
from uptide.store.shelf import all_lots, load_lot, save_lot

SENT = "a form"
JOJOBA = Lot("A-1", "jojoba", bought_g=920.0, left_g=210.0, received_on=date(2026, 5, 1))


@pytest.fixture
def store(database_url: str) -> Iterator[Session]:
    with Session(open_engine(database_url)) as session:
        save_lot(session, JOJOBA)
        yield session


def kinds(store: Session) -> list[tuple[str, int]]:
    return [(each.movement.kind.value, each.movement.mg) for each in reversed(movements_of(store, "A-1"))]


def test_a_lot_comes_in_as_received_and_used_before(store: Session) -> None:
    assert kinds(store) == [("receive", 920_000), ("adjust", -710_000)]
    adjusted, received = movements_of(store, "A-1")
    assert (adjusted.movement.reason, received.on) == (BEFORE, date(2026, 5, 1))
    assert load_lot(store, "A-1").left_g == 210.0


def test_what_is_counted_afresh_is_put_right_and_what_is_the_same_moves_nothing(store: Session) -> None:
    save_lot(store, replace(JOJOBA, place="fridge"))
    assert len(kinds(store)) == 2
    save_lot(store, replace(JOJOBA, left_g=198.5))
    assert kinds(store)[2:] == [("adjust", -11_500)]
    assert load_lot(store, "A-1").left_g == 198.5


def test_no_movement_is_changed_or_deleted(store: Session) -> None:
    store.commit()
    for statement in ("UPDATE movement SET mg = 1", "DELETE FROM movement"):
        with pytest.raises(DatabaseError, match="only added to"):
            store.execute(text(statement))
        store.rollback()
    assert len(kinds(store)) == 2


def test_what_is_sent_twice_stands_once(store: Session) -> None:
    number = lot_number(store, "A-1")
    used = Movement(MovementKind.USE, -5_000)
    assert add_movement(store, number, used, token=SENT) == add_movement(store, number, used, token=SENT)
    assert left_mg(store, number) == 205_000
    with pytest.raises(UptideError, match="sent before with another amount"):
        add_movement(store, number, Movement(MovementKind.USE, -6_000), token=SENT)


def test_a_movement_is_taken_back_once(store: Session) -> None:
    take(store, "A-1", 10_000, "spilled on the bench")
    used = movements_of(store, "A-1")[0]
    take_back(store, "A-1", used.id)
    assert load_lot(store, "A-1").left_g == 210.0
    back, first = movements_of(store, "A-1")[:2]
    assert (back.reverses, back.movement.kind, first.taken_back) == (used.id, MovementKind.RETURN, True)
    with pytest.raises(UptideError, match="taken back already"):
        take_back(store, "A-1", used.id)
    with pytest.raises(UptideError, match="is not taken back"):
        take_back(store, "A-1", back.id)
    with pytest.raises(NotFoundError):
        take_back(store, "A-1", 999)


def test_more_than_is_left_is_refused_and_more_than_was_known_is_found(store: Session) -> None:
    with pytest.raises(QuantityError, match=r"121.00 g are missing"):
        add_movement(store, lot_number(store, "A-1"), Movement(MovementKind.USE, -331_000))
    take(store, "A-1", 331_000, "batch 1", token=SENT)
    take(store, "A-1", 331_000, "batch 1", token=f"{SENT} again")
    assert kinds(store)[2:] == [("adjust", 121_000), ("use", -331_000), ("adjust", 331_000), ("use", -331_000)]
    assert [lot.left_g for lot in all_lots(store)] == [0]


def test_more_can_be_in_it_than_was_said_to_come(store: Session) -> None:
    add_movement(store, lot_number(store, "A-1"), Movement(MovementKind.RETURN, 800_000))
    lot = load_lot(store, "A-1")
    assert lot.left_g == 1010.0
    save_lot(store, replace(lot, place="fridge"))
    with pytest.raises(LotError, match="cannot be"):
        save_lot(store, replace(lot, left_g=1011.0))


@settings(max_examples=20, deadline=None)
@given(st.lists(st.integers(1, 400_000), max_size=8))
def test_what_is_left_is_the_sum_of_what_moved(amounts: list[int]) -> None:
    url = "sqlite://"
    engine = open_engine(url)
    with engine.connect() as connection:
        from uptide.store.models import Base

        Base.metadata.create_all(connection)
        with Session(connection) as session:
            save_lot(session, JOJOBA)
            for amount in amounts:
                take(session, "A-1", amount, "test")
            left = left_mg(session, lot_number(session, "A-1"))
            assert left == sum(each.movement.mg for each in movements_of(session, "A-1")) >= 0
            assert milligrams(load_lot(session, "A-1").left_g) == left


@pytest.mark.of_files
def test_a_pour_that_was_confirmed_survives_a_power_cut(store: Session) -> None:
    assert store.execute(text("PRAGMA synchronous")).scalar() == 2  # FULL, as SQLite's documentation numbers it


def test_an_older_shelf_comes_in_with_all_that_it_knew(tmp_path: Path) -> None:
    url = f"sqlite:///{tmp_path / 'older.sqlite'}"
    command.upgrade(migration_config(url), "0010")
    with Session(open_engine(url)) as session:
        for code, bought, left in (("A-1", 920, 210), ("B", 0.3, 0.3), ("C", 9e300, 5), ("D", 10, 0)):
            session.execute(
                text(
                    "INSERT INTO lot (code, ingredient, supplier, bought_g, left_g, currency, place, note, "
                    "received_on) VALUES (:code, 'jojoba', '', :bought, :left, '', '', 'as bought', :on)"
                ),
                {"code": code, "bought": bought, "left": left, "on": "2026-05-01" if code == "A-1" else None},
            )
        session.execute(
            text("INSERT INTO certificate (lot_id, entered_at, typed, found) VALUES (1, '2026-05-01', 'PV 1', '{}')")
        )
        session.commit()
    migrate(url)
    with Session(open_engine(url)) as session:
        lots = {code: load_lot(session, code) for code in ["A-1", "B", "C", "D"]}
        assert [lots[code].left_g for code in ("A-1", "B", "D")] == [210.0, 0.3, 0.0]
        assert [each.movement.mg for each in movements_of(session, "A-1")] == [-710_000, 920_000]
        assert movements_of(session, "A-1")[0].on == date(2026, 5, 1)
        assert len(lots["A-1"].certificates) == 1
        assert "Bought and left as they stood before the ledger: 9e+300, 5.0. as bought" in lots["C"].note
    command.downgrade(migration_config(url), "0010")
    with Session(open_engine(url)) as session:
        assert session.execute(text("SELECT left_g FROM lot WHERE code = 'A-1'")).scalar() == 210
