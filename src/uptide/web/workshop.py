"""The workshop that a request is made in: its day, its shelf, and an assessment with all that is known there."""

from __future__ import annotations

import logging
import traceback
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime
from pathlib import Path

from fastapi import FastAPI
from sqlalchemy.orm import Session

from uptide.catalogue.load import Catalogue
from uptide.catalogue.stock import stocked
from uptide.core.blend.assess import assess, unassessed
from uptide.core.blend.assessment import Assessment
from uptide.core.blend.bottle_life import life_of, made_on, months_between
from uptide.core.blend.ingredient import Ingredient
from uptide.core.blend.lot import Lot
from uptide.core.blend.lot_life import LotLife, lot_life
from uptide.core.blend.recipe import Recipe
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.skin.wearer import Wearer
from uptide.store.bottles import list_events
from uptide.store.people import wearer_of
from uptide.store.preferences import carried_over
from uptide.store.shelf import all_lots, own_oils, recipes_on_shelf, shelf_revision
from uptide.web.pages import day

USUAL_PRODUCT = "body-oil"  # what is made while nothing is said of it
LOG = logging.getLogger("uptide")


def today() -> date:
    """The day, in UTC."""
    return datetime.now(UTC).date()


@dataclass(frozen=True, slots=True, eq=False)
class StandingLot:
    """A lot as it stands today: the ingredient it is, and how far it has turned."""

    lot: Lot
    item: Ingredient
    life: LotLife


@dataclass(frozen=True, slots=True, eq=False)
class Shelf:
    """Everything that can stand in a row here, and the lots that are on hand, the first to end on top."""

    facts: Catalogue
    standing: tuple[StandingLot, ...]
    on_hand: frozenset[str]  # keys of what is on hand
    used_up: tuple[Lot, ...] = ()
    lost: tuple[Lot, ...] = ()  # of what is not known any more

    def lots_of(self, key: str) -> tuple[StandingLot, ...]:
        """The lots of an oil that are on hand."""
        return tuple(each for each in self.standing if each.item.base_key == key)


def stock_of(shipped: Catalogue, store: Session, day_: date) -> Catalogue:
    """The catalogue with a workshop's own oils and lots, as they stand on a day."""
    lots, own = all_lots(store), own_oils(store)
    return stocked(shipped, own, lots, recipes_on_shelf(store, lots), day_) if lots or own else shipped


def shelf_of(app: FastAPI, store: Session) -> Shelf:
    """The catalogue with this workshop's own oils and lots; made once a day and whenever the shelf changes."""
    stamp = (shelf_revision(store), today())
    known: tuple[tuple[int, date], Shelf] | None = app.state.shelf
    if known is not None and known[0] == stamp:
        return known[1]
    lots = all_lots(store)
    facts = stock_of(app.state.catalogue, store, stamp[1])
    items = [(lot, facts.ingredients[lot.key]) for lot in lots if lot.left_g > 0 and lot.key in facts.ingredients]
    standing = [StandingLot(lot, item, lot_life(lot, item, stamp[1])) for lot, item in items]
    in_order = sorted(standing, key=lambda each: (each.life.ends_on or date.max, each.lot.code))
    shelf = Shelf(
        facts,
        tuple(in_order),
        frozenset(each.item.base_key for each in in_order),
        used_up=tuple(lot for lot in lots if lot.left_g <= 0),
        lost=tuple(lot for lot in lots if lot.left_g > 0 and lot.key not in facts.ingredients),
    )
    app.state.shelf = (stamp, shelf)
    return shelf


def assess_here(
    recipe: Recipe,
    catalogue: Catalogue,
    store: Session,
    blend_id: int | None = None,
    texts: Mapping[str, str] | None = None,
    wearer: Wearer | None = None,
) -> Assessment:
    """Assess a recipe with the prices of this shelf, for its wearer and, if saved, with what befell its bottle.

    `texts` are its name, note and the like, by what they are.
    `wearer` stands in for the one on the recipe.
    """
    if recipe.product not in catalogue.products:  # what is stored must open; its page says so
        recipe = replace(recipe, product=USUAL_PRODUCT)
    events = list_events(store, blend_id) if blend_id else ()
    carried = carried_over(store, blend_id)
    around = catalogue.circumstances(recipe, today(), wearer or wearer_of(store, recipe.wearer), texts)
    try:
        made = made_on(events, today())
        return assess(
            recipe,
            catalogue.ingredients,
            catalogue.names,
            catalogue.prices,
            draws=standard_draws(),
            life=replace(
                life_of(events, recipe.storage, today()),
                carried_over=carried,
                supplier={
                    key: (months_between(made, best_before), f"{lot}, {day(best_before)}")
                    for key, (best_before, lot) in catalogue.best_before.items()
                },
            ),
            around=around,
        )
    except Exception as error:  # noqa: BLE001 - what is stored must open, whatever its figures do
        LOG.error(  # noqa: TRY400 - a traceback would tell what was typed
            "A blend could not be assessed: %s in %s",
            type(error).__name__,
            _place(error),
        )
        return unassessed(recipe, catalogue.ingredients, catalogue.names, around)


def _place(error: BaseException) -> str:
    """Where an error came from, by file and line; what was typed is not told to the log."""
    frames = traceback.extract_tb(error.__traceback__)
    return ", ".join(f"{Path(frame.filename).name}:{frame.lineno}" for frame in frames[-3:])
