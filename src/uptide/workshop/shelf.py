"""The shelf of a day: the catalogue with a workshop's own oils, and its lots as they stand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.stock import stocked, with_plants
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.ingredients.lot import Lot
from uptide.core.keeping.lot_life import LotLife, lot_life
from uptide.core.making.trace import Trace
from uptide.core.oxidation.simulate import standard_draws
from uptide.store.plants import own_plants
from uptide.store.shelf import all_lots, own_oils, recipes_on_shelf, shelf_revision
from uptide.workshop.clock import today


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
    traces: dict[object, Trace] = field(default_factory=dict)  # that were followed since it stands so

    @property
    def lots(self) -> dict[str, Lot]:
        """Every lot there ever was, by its code."""
        return {lot.code: lot for lot in (*(each.lot for each in self.standing), *self.used_up, *self.lost)}

    def lots_of(self, key: str) -> tuple[StandingLot, ...]:
        """The lots of an oil that are on hand."""
        return tuple(each for each in self.standing if each.item.base_key == key)


def stock_of(shipped: Catalogue, store: Session, day: date) -> Catalogue:
    """The catalogue with a workshop's own oils and lots, as they stand on a day."""
    return _with_lots(shipped, all_lots(store), store, day)


def _with_lots(shipped: Catalogue, lots: Sequence[Lot], store: Session, day: date) -> Catalogue:
    own = own_oils(store)
    shipped = with_plants(shipped, tuple(own_plants(store).values()))
    return stocked(shipped, own, lots, recipes_on_shelf(store, lots), day) if lots or own else shipped


class ShelfOfTheDay:
    """The shelf as it stands today, made once a day and whenever something on it changes."""

    def __init__(self, shipped: Catalogue) -> None:
        self._shipped = shipped
        self._known: tuple[tuple[int, date], Shelf] | None = None

    def of(self, store: Session) -> Shelf:
        """The catalogue with the own oils and lots of this database."""
        stamp = (shelf_revision(store), today())
        if self._known is None or self._known[0] != stamp:
            self._known = (stamp, _shelf(self._shipped, store, stamp[1]))
        return self._known[1]


def _shelf(shipped: Catalogue, store: Session, day: date) -> Shelf:
    lots = all_lots(store)
    facts = _with_lots(shipped, lots, store, day)
    items = [(lot, facts.ingredients[lot.key]) for lot in lots if lot.left_g > 0 and lot.key in facts.ingredients]
    standing = [StandingLot(lot, item, lot_life(lot, item, day, standard_draws())) for lot, item in items]
    in_order = sorted(standing, key=lambda each: (each.life.ends_on or date.max, each.lot.code))
    return Shelf(
        facts,
        tuple(in_order),
        frozenset(each.item.base_key for each in in_order),
        used_up=tuple(lot for lot in lots if lot.left_g <= 0),
        lost=tuple(lot for lot in lots if lot.left_g > 0 and lot.key not in facts.ingredients),
    )


def lot_name(lot: Lot, facts: Catalogue) -> str:
    """What a lot is of, without its code; that it is not known any more, when it is not."""
    item = facts.ingredients.get(lot.key)
    return item.name.removesuffix(f", lot {lot.code}") if item else f"“{lot.ingredient}”, not known any more"
