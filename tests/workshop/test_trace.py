"""In a whole workshop no gram is lost: of every lot all that came is somewhere, forward as back."""

from __future__ import annotations

from pathlib import Path

import pytest
from sqlalchemy.orm import Session

from uptide.catalogue.shipped import shipped_catalogue
from uptide.store.batches import list_batches
from uptide.store.database import open_engine
from uptide.store.records import NotFoundError
from uptide.workshop.found import number_leads_to
from uptide.workshop.shelf import ShelfOfTheDay
from uptide.workshop.trace import origins, trace_of


def test_of_every_lot_of_the_demo_all_that_came_is_somewhere(demo: Path) -> None:
    with Session(open_engine(f"sqlite:///{demo}")) as store:
        shelf = ShelfOfTheDay(shipped_catalogue()).of(store)
        reached: dict[str, dict[str, float]] = {}
        for code in shelf.lots:
            trace = trace_of(store, shelf, code)
            assert sum(each.grams for each in trace.ends) == pytest.approx(trace.came, abs=0.01), code
            each = trace_of(store, shelf, code, each_bottle=True)
            assert sum(end.grams for end in each.ends) == pytest.approx(trace.came, abs=0.01), code
            for batch, share in trace.reached:
                reached.setdefault(batch.number, {})[code] = share
        assert len(reached) == len(list_batches(store)) == 2
        for number, shares in reached.items():
            assert origins(store, shelf, number) == pytest.approx(shares)
        with pytest.raises(NotFoundError, match="There is no lot “SR-9” on the shelf"):
            trace_of(store, shelf, "SR-9")
        assert number_leads_to(store, "SR-0448") == "/shelf/lots/SR-0448"
        assert number_leads_to(store, "SR-9") is None
        assert number_leads_to(store, "12 drops of what?") is None
