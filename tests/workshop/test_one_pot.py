"""A pot is planned from the shelf of a workshop: what is in its base is in every part."""

from __future__ import annotations

from pathlib import Path

from sqlalchemy.orm import Session

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.making.making_plan import MakingAsk
from uptide.core.making.one_pot import POT_KEY, read_scents
from uptide.core.making.sizes import Amount, Containers
from uptide.core.recipe.order import PourOrder
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.store.database import open_engine
from uptide.store.migrating import migrate
from uptide.workshop.assessment import assess_here
from uptide.workshop.clock import today
from uptide.workshop.one_pot import plan_pot
from uptide.workshop.shelf import ShelfOfTheDay


def test_a_part_knows_what_was_steeped_in_its_base_and_what_was_written_of_it(tmp_path: Path) -> None:
    rows = ("60 g olive oil infused with st john's wort", "40 g jojoba", "a blob of sesame")
    url = f"sqlite:///{tmp_path / 'pot.sqlite'}"
    migrate(url)
    with Session(open_engine(url)) as store:
        shelf = ShelfOfTheDay(shipped_catalogue()).of(store)
        recipe = assess_here(Recipe(tuple(Entry(row) for row in rows)), shelf.facts, store)
        ask = MakingAsk(Amount((Containers(1, 30.0),), 0.91), PourOrder.CARRIERS_FIRST, today())
        part = plan_pot(store, shelf, recipe, ask, read_scents("A: 1 x 30 ml; 2 drops lavender")).parts[0]
    base = part.facts.ingredients[POT_KEY]
    steeped = {item.base_key: item.infused_with for item, _ in base.parts}
    assert steeped == {"olive": "st john's wort", "jojoba": "", "sesame": ""}  # an allergen stays one without an amount
    assert "infused with st john's wort" in base.said
