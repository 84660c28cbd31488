"""What moved where, for many lots at once: what was taken back moved nothing."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from sqlalchemy.orm import Session

from uptide.core.ingredients.lot import Lot
from uptide.core.ledger.movement import Movement, MovementKind
from uptide.store.database import open_engine
from uptide.store.flows import batches_from, flows_of, ledger_of, poured_into_jars, written_last
from uptide.store.ledger import add_movement, lot_number, movement_under, take, take_back
from uptide.store.shelf import save_lot

POUR, JAR = "batch-1-1-O-1", "jar-1-O-1"  # under which a batch and a jar take from a lot


@pytest.fixture
def store(database_url: str) -> Iterator[Session]:
    with Session(open_engine(database_url)) as session:
        save_lot(session, Lot("O-1", "olive", bought_g=500.0, left_g=500.0))
        save_lot(session, Lot("O-2", "olive", bought_g=100.0, left_g=60.0))
        yield session


def test_the_ledger_says_what_came_is_left_was_thrown_out_and_used_by_hand(store: Session) -> None:
    take(store, "O-1", 30_000, "by hand")
    take(store, "O-1", 200_000, "batch 1", token=POUR)
    take(store, "O-1", 100_000, "into the jar", token=JAR)
    add_movement(store, lot_number(store, "O-1"), Movement(MovementKind.DISCARD, -20_000, "dropped"))
    # What was used before the ledger came and went before anybody could know where.
    assert ledger_of(store, {"O-1", "O-2"}) == {"O-1": (500.0, 150.0, 20.0, 30.0), "O-2": (60.0, 60.0, 0.0, 0.0)}


def test_what_was_taken_back_moved_nothing(store: Session) -> None:
    for token in (POUR, JAR, "by-hand"):
        take(store, "O-1", 40_000, "it", token=token)
    assert poured_into_jars(store) == {1: {"O-1": 40.0}}
    before = written_last(store)
    for token in (POUR, JAR, "by-hand"):
        moved = movement_under(store, f"{token}-use")
        assert moved is not None
        take_back(store, "O-1", moved)
    assert ledger_of(store, {"O-1"}) == {"O-1": (500.0, 500.0, 0.0, 0.0)}
    assert poured_into_jars(store) == {}
    assert written_last(store) != before


def test_of_nothing_nothing_is_known(store: Session) -> None:
    assert ledger_of(store, set()) == {}
    assert batches_from(store, {"O-1"}) == set()
    assert flows_of(store, set()) == ()
