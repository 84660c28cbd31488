"""Batches come from a file: poured from the shelf as it stands, once, and refused with what was wrong."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy.orm import Session

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import UptideError
from uptide.core.ingredients.lot import Lot
from uptide.core.making.batch_record import State
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.store.batches import list_batches, load_batch
from uptide.store.blends import create_blend
from uptide.store.database import open_engine
from uptide.store.migrating import migrate
from uptide.store.shelf import load_lot, save_lot
from uptide.workshop.batch_file import bring_batches
from uptide.workshop.shelf import ShelfOfTheDay

BATCH: dict[str, object] = {
    "blend": "Plain",
    "bottles": "2 x 50 ml",
    "made_on": "2026-11-20",
    "made_by": "Bo",
    "mixed": "clear",
}


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Session]:
    url = f"sqlite:///{tmp_path / 'batches.sqlite'}"
    migrate(url)
    with Session(open_engine(url)) as session:
        create_blend(session, "Plain", Recipe((Entry("60 g olive"), Entry("40 g jojoba"))))
        save_lot(session, Lot("O-1", "olive", bought_g=500.0, left_g=500.0))
        yield session


def bring(store: Session, *batches: dict[str, object]) -> str:
    shelf = ShelfOfTheDay(shipped_catalogue()).of(store)
    return bring_batches("batches.json", json.dumps(batches), shelf, store)


def test_a_batch_is_poured_as_planned_and_closed_with_its_best_before(store: Session) -> None:
    assert bring(store, BATCH | {"fills": [44.0, 44.5], "look": "clear", "closed": True}) == "1 batches"
    (header,) = list_batches(store)
    record = load_batch(store, header.number)
    assert (header.number, record.state) == ("20261120-1", State.CLOSED)
    assert record.next_position is None
    assert record.balance.filled == 88_500
    assert record.best_before is not None
    olive = record.in_vessel[0] / 1000
    assert load_lot(store, "O-1").left_g == pytest.approx(500 - olive)


def test_one_that_is_known_is_left_out_and_one_under_way_stops_where_it_is(store: Session) -> None:
    bring(store, BATCH | {"lines": 1})
    assert bring(store, BATCH) == "0 batches"
    record = load_batch(store, "20261120-1")
    assert (record.state, record.next_position) == (State.MIXED, 1)


@pytest.mark.parametrize(
    ("wrong", "why"),
    [
        ({"blend": "Nobody"}, "nobody knows a blend “Nobody”"),
        ({"bottles": "six"}, "is read as no bottles"),
        ({"made_on": "soon"}, "is no file of batches: 0.made_on"),
        ({"version": 9}, "version"),
    ],
)
def test_what_is_no_batch_says_why(store: Session, wrong: dict[str, object], why: str) -> None:
    with pytest.raises(UptideError, match=why):
        bring(store, BATCH | wrong)
