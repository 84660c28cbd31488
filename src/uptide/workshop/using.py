"""What turns first and what to do with it: own blends that use it, and what it is worth to act now."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from math import fsum

from sqlalchemy.orm import Session

from uptide.core.ingredients.lot import Lot
from uptide.core.ingredients.mixture import mixture
from uptide.core.keeping.lot_life import LotLife, lot_life
from uptide.core.oxidation.simulate import standard_draws
from uptide.store.blends import list_blends, load_blend
from uptide.workshop.assessment import assess_here
from uptide.workshop.clock import today
from uptide.workshop.shelf import Shelf, StandingLot
from uptide.workshop.trace import held_lots

FRIDGE, ANTIOXIDANT = "fridge", "mixed-tocopherols"
ADDED = 0.002  # g/g of mixed tocopherols: what oils are usually protected with; common practice
WORTH_SAYING = 0.2  # months: less gain is none
LOTS, BLENDS = 8, 5  # that are shown


@dataclass(frozen=True, slots=True)
class Act:
    """Something that can be done now, and how many months more it then keeps."""

    what: str
    months: float


@dataclass(frozen=True, slots=True)
class Uses:
    """An own blend that uses it: what part of it that is, and how much is made so that all of it goes."""

    blend_id: int
    version: int
    name: str
    share: float
    grams: float
    millilitres: float


@dataclass(frozen=True, slots=True)
class ToUse:
    """A lot that turns soon, with what can be made of it and done with it."""

    standing: StandingLot
    acts: tuple[Act, ...]
    uses: tuple[Uses, ...]

    @property
    def worth(self) -> float | None:
        """What is left of it cost [its currency]; None where nobody said."""
        price = self.standing.lot.unit_price
        return None if price is None else price.per_gram * self.standing.lot.left_g


def to_use(store: Session, shelf: Shelf) -> tuple[ToUse, ...]:
    """The lots that turn first, of those that are not over yet and may be poured, with what uses them."""
    held = held_lots(store, shelf)
    there = [each for each in shelf.standing if each.lot.code not in held]
    soon = [each for each in there if not each.life.is_over and each.life.ends_on is not None]
    recipes = tuple(_shares(store, shelf)) if soon else ()
    return tuple(ToUse(each, tuple(_acts(each, shelf)), tuple(_uses(each, recipes))) for each in soon[:LOTS])


def _acts(each: StandingLot, shelf: Shelf) -> Iterator[Act]:
    """What it would keep longer for: by the model that it is kept by, each by itself."""
    lot, life = each.lot, each.life
    if lot.place != FRIDGE:
        yield from _gain("move it to the fridge", _life(each, replace(lot, place=FRIDGE)), life)
    added = shelf.facts.ingredients.get(ANTIOXIDANT)
    if added is not None and each.item.is_fatty:
        parts = [*each.item.parts] or [(each.item, 1.0)]
        held = [(item, share * (1 - ADDED)) for item, share in parts]
        protected = replace(each.item, parts=mixture(each.item.key, each.item.name, [*held, (added, ADDED)]).parts)
        yield from _gain(f"add {100 * ADDED:g} % of {added.name}", _life(replace(each, item=protected), lot), life)


def _life(each: StandingLot, lot: Lot) -> LotLife:
    return lot_life(lot, each.item, today(), standard_draws())


def _gain(what: str, then: LotLife, now: LotLife) -> Iterator[Act]:
    if then.months_left is not None and now.months_left is not None:
        gained = then.months_left - now.months_left
        if gained >= WORTH_SAYING:
            yield Act(what, gained)


@dataclass(frozen=True, slots=True)
class _OwnBlend:
    """An own blend: its density [g/mL], and what part of it every oil is, by what can be poured for it."""

    id: int
    version: int
    name: str
    density: float
    shares: Mapping[str, float]


def _shares(store: Session, shelf: Shelf) -> Iterator[_OwnBlend]:
    """Own blends of which something has an amount."""
    for header in list_blends(store):
        blend = load_blend(store, header.id)
        found = assess_here(blend.newest.recipe, shelf.facts, store).resolution
        if found.total_grams <= 0:
            continue
        shares: dict[str, float] = {}
        for row in found.read:
            if row.ingredient is not None and (row.ingredient.is_infused or not row.plant):
                key = row.ingredient.stock_key
                shares[key] = shares.get(key, 0.0) + (row.grams or 0.0) / found.total_grams
        density = found.total_grams / found.total_millilitres
        yield _OwnBlend(blend.id, blend.newest.number, name=blend.name, density=density, shares=shares)


def _uses(each: StandingLot, blends: Sequence[_OwnBlend]) -> Iterator[Uses]:
    """Own blends that use most of it, each so large that all of it goes."""
    found = []
    for own in blends:
        share = fsum(own.shares.get(key, 0.0) for key in each.item.stands_for)
        if share > 0:
            grams = each.lot.left_g / share
            found.append(
                Uses(own.id, own.version, name=own.name, share=share, grams=grams, millilitres=grams / own.density)
            )
    yield from sorted(found, key=lambda use: -use.share)[:BLENDS]
