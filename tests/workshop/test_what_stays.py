"""What was judged once is not judged anew while lots come and go, nor for a line that somebody is still typing."""

from __future__ import annotations

from datetime import date

import pytest
from sqlalchemy.orm import Session

from uptide.catalogue.shipped import shipped_catalogue
from uptide.catalogue.stock import stocked, with_plants
from uptide.core.infusion.own_plant import OwnPlant
from uptide.core.ingredients.lot import Lot
from uptide.core.ingredients.own_oil import OwnOil
from uptide.core.safety.check import is_stopped_in
from uptide.core.skin.wearer import Wearer
from uptide.store.database import open_engine
from uptide.store.people import add_person
from uptide.workshop.finding import is_wish, wish_here

DAY = date(2026, 11, 26)


def test_the_tables_of_safety_stay_while_lots_come_and_go() -> None:
    own = {oil.key: oil for oil in (OwnOil("Rock samphire seed oil"),)}
    plants = (OwnPlant("Sea holly", "calendula"),)
    one, two = (
        stocked(with_plants(shipped_catalogue(), plants), own, lots, {}, DAY)
        for lots in ((), (Lot("SR-0446", "grapeseed", left_g=500.0),))
    )

    assert one.safety is two.safety
    assert "rock samphire seed" in one.safety.called
    assert "own:sea-holly" in one.plants
    others = {oil.key: oil for oil in (OwnOil("Plum kernel oil"),)}
    other = stocked(with_plants(shipped_catalogue(), plants), others, (), {}, DAY)
    assert "rock samphire seed" not in other.safety.called


@pytest.mark.parametrize(
    ("line", "is_one"),
    [
        ("30 g jojoba", False),
        ("light", False),
        ("light, no nuts", True),
        ("light, for Wren", True),
        ("light, keeps eleventy", False),
        ("light, under 5 € for 30 ml", False),  # no lot here has a price
    ],
)
def test_whether_a_line_is_a_wish_is_told_without_judging_an_oil(database_url: str, line: str, *, is_one: bool) -> None:
    facts = shipped_catalogue()
    with Session(open_engine(database_url)) as store:
        add_person(store, Wearer(name="Wren"))
        judged = is_stopped_in.cache_info()
        assert is_wish(line, facts, store) is is_one
        assert is_stopped_in.cache_info() == judged
        read, _ = wish_here(line, facts, store)

    assert is_stopped_in.cache_info() != judged
    assert (not read.not_read and len({clause for _, clause in read.lines if clause}) >= 2) is is_one
