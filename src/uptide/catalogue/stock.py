"""The catalogue as it stands in one workshop: with the person's own oils and the lots on their shelf."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from datetime import date
from functools import lru_cache
from types import MappingProxyType

from uptide.catalogue.catalogue import Catalogue, names_of
from uptide.catalogue.plants import flags_by_name
from uptide.catalogue.safety import called
from uptide.core.errors import UptideError
from uptide.core.infusion.own_plant import OwnPlant, own_facts
from uptide.core.ingredients.infusion import Infusion
from uptide.core.ingredients.ingredient import Ingredient, Price
from uptide.core.ingredients.lot import Lot, infused_ingredient, lot_ingredient, mixture_ingredient
from uptide.core.ingredients.mixture import known_oil
from uptide.core.ingredients.own_oil import OwnOil, own_ingredient
from uptide.core.lipids.fatty_acids import FattyAcid
from uptide.core.measures.names import NameIndex, essence, normalise
from uptide.core.recipe.recipe import Recipe
from uptide.core.recipe.resolve import resolve
from uptide.core.safety.tables import SafetyTables

INFUSED = "infused-oil"  # the key of an infused oil of which nobody says what it is
OWN_INFUSION = "An oil of your own was infused with it."

# Name and recipe of each blend's version that stands as a lot; of what was left over from a batch by the lot's code.
Made = Mapping[tuple[int, int] | str, tuple[str, Recipe]]


def stocked(shipped: Catalogue, own: Mapping[str, OwnOil], lots: Iterable[Lot], made: Made, today: date) -> Catalogue:
    """Put own oils and lots beside what is shipped; every one of them can then stand in a row.

    Args:
        shipped: the published facts.
        own: the person's own oils by key.
        lots: in the order in which they came, so that a lot made of another finds it.
        made: name and recipe of each version of a blend that a lot was made from.
        today: the day to which lots have aged.
    """
    ingredients = dict(shipped.ingredients)
    names = list(names_of(shipped.ingredients, shipped.synonyms))
    own_names = tuple(
        (key, name) for key, oil in own.items() for name in (oil.name, oil.inci, oil.botanical_name) if name
    )
    names += own_names
    for key, oil in own.items():
        ingredients[key] = _own_ingredient(oil, shipped.acids, key)
    codes: list[tuple[str, str]] = []
    asked = dict(shipped.asked)
    on_hand: dict[str, list[tuple[str, float]]] = defaultdict(list)

    def index() -> NameIndex:
        kinds = {key: item.kind for key, item in ingredients.items()}
        return NameIndex(names, kinds, codes, asked)

    lots = tuple(lots)
    by_code = {lot.code: lot for lot in lots}
    for lot in lots:
        item = _ingredient(lot, shipped, ingredients=ingredients, made=made, index=index, today=today, lots=by_code)
        if item is not None:
            if lot.status:
                item = replace(item, held=f"{lot.status}, {lot.status_why}" if lot.status_why else lot.status)
            ingredients[item.key] = item
            codes += _codes(lot, item, ingredients)
            if lot.left_g > 0 and lot.infusion is not None:
                _ask_about(lot, lot.infusion, asked, names)
            elif lot.left_g > 0 and not lot.status:
                on_hand[item.base_key].append((lot.code, lot.left_g))
    return replace(
        shipped,
        ingredients=MappingProxyType(ingredients),
        names=index(),
        on_hand={key: tuple(found) for key, found in on_hand.items()},
        prices=_prices(lots),
        best_before=_best_before(lots, ingredients),
        safety=_with_names(shipped, own_names) if own else shipped.safety,
    )


def aged_to(facts: Catalogue, lots: Sequence[Lot], made: Made, day: date) -> Catalogue:
    """The catalogue with some of its lots as they were on a day; what was made of them aged elsewhere since.

    `lots` come in the order in which they came, with every lot that one of them was made from.
    """
    ingredients = dict(facts.ingredients)
    by_code = {lot.code: lot for lot in lots}
    for lot in lots:
        item = _ingredient(
            lot, facts, ingredients=ingredients, made=made, index=lambda: facts.names, today=day, lots=by_code
        )
        if item is not None:
            ingredients[item.key] = item
    return replace(facts, ingredients=MappingProxyType(ingredients))


# What was judged by the tables of safety is remembered by them, and they stay the same while lots come and go.
@lru_cache(maxsize=4)
def _with_names(shipped: Catalogue, own: tuple[tuple[str, str], ...]) -> SafetyTables:
    """The tables of safety, in which own oils are called by their names too."""
    return replace(shipped.safety, called=called((*names_of(shipped.ingredients, shipped.synonyms), *own)))


@lru_cache(maxsize=4)
def with_plants(shipped: Catalogue, own: tuple[OwnPlant, ...]) -> Catalogue:
    """Put a person's own plants beside those of the table, with what they are not for."""
    found = {plant.key: plant for each in own if (plant := own_facts(each, shipped.plants)) is not None}
    if not found:
        return shipped
    plants = MappingProxyType({**shipped.plants, **found})
    return replace(shipped, plants=plants, safety=replace(shipped.safety, plants=flags_by_name(plants)))


def _own_ingredient(oil: OwnOil, acids: Mapping[str, FattyAcid], key: str) -> Ingredient:
    """The oil as an ingredient; without its acids when they can be no profile, which its page says."""
    try:
        return own_ingredient(oil, acids, key)
    except UptideError:
        return own_ingredient(replace(oil, acids={}), acids, key)


def _in_turn(lots: Iterable[Lot]) -> list[Lot]:
    """In the order in which they are used: opened ones first, the oldest first."""
    return sorted(lots, key=lambda lot: (lot.opened_on is None, lot.opened_on or lot.received_on or date.max))


def _is_plain(lot: Lot) -> bool:
    """Whether it stands for its oil wherever that is asked for: what plants were steeped in is another thing."""
    return bool(lot.ingredient) and lot.left_g > 0 and lot.infusion is None


def _ask_about(
    lot: Lot, infusion: Infusion, asked: dict[str, tuple[tuple[str, ...], str]], names: Iterable[tuple[str, str]]
) -> None:
    """Offer an own infused oil first where a name may mean it: “calendula oil”, not “lavender”, a scent."""
    borne = {essence(name) for _, name in names}
    for plant in infusion.plants:
        for name in filter(None, (normalise(plant.name), normalise(plant.botanical_name))):
            if name in asked or essence(name) not in borne:
                keys, why = asked.get(name, ((INFUSED,), OWN_INFUSION))
                asked[name] = ((lot.key, *keys), why)


def _prices(lots: Iterable[Lot]) -> dict[str, Price]:
    """What a gram costs: of each lot by its own key, and of an ingredient the next lot in use that has a price."""
    found: dict[str, Price] = {}
    for lot in _in_turn(lots):
        price = lot.unit_price
        if price is not None:
            found[lot.key] = price
            if _is_plain(lot):
                found.setdefault(lot.ingredient, price)
    return found


def _best_before(lots: Iterable[Lot], ingredients: Mapping[str, Ingredient]) -> dict[str, tuple[date, str]]:
    """The supplier's best before, and that lot in words: by lot, and by ingredient of the lot that is used next."""
    found: dict[str, tuple[date, str]] = {}
    used: set[str] = set()
    for lot in _in_turn(lots):
        item = ingredients.get(lot.key if lot.infusion else lot.ingredient)
        words = f"lot {lot.code} of {item.name.removesuffix(f', lot {lot.code}')}" if item is not None else ""
        dated = (lot.best_before, words) if lot.best_before and words else None
        if dated is not None:
            found[lot.key] = dated
        if _is_plain(lot) and lot.ingredient not in used:
            used.add(lot.ingredient)
            if dated is not None:
                found[lot.ingredient] = dated
    return found


def _ingredient(
    lot: Lot,
    shipped: Catalogue,
    ingredients: Mapping[str, Ingredient],
    made: Made,
    index: Callable[[], NameIndex],
    today: date,
    lots: Mapping[str, Lot],
) -> Ingredient | None:
    """The lot as an ingredient; None for a lot of something that is no longer known."""
    if lot.infusion is not None:
        poured = lots.get(lot.infusion.oil_lot)
        begun = lot.infusion.begun_on or today
        base = known_oil(lot.ingredient, ingredients)
        if poured is not None:  # as it was when the jar was filled
            others = {code: each for code, each in lots.items() if code != lot.code}  # none was poured on itself
            base = (
                _ingredient(poured, shipped, ingredients=ingredients, made=made, index=index, today=begun, lots=others)
                or base
            )
        return base and infused_ingredient(lot, base, shipped.acids, today, ingredients)
    if lot.made_from is not None:
        return _mixture(lot, ingredients, made, index, today)
    base = ingredients.get(lot.ingredient)
    return base and _of_oil(lot, base, shipped.acids, today)


def _of_oil(lot: Lot, base: Ingredient, acids: Mapping[str, FattyAcid], today: date) -> Ingredient:
    """A lot of one oil, without the acids of its certificate where they can be no profile."""
    try:
        return lot_ingredient(lot, base, acids, today)
    except UptideError:  # its page says why; the figures of its certificate still count
        plain = tuple(replace(one, acids={}) for one in lot.certificates)
        return lot_ingredient(replace(lot, certificates=plain), base, acids, today)


def _mixture(
    lot: Lot, ingredients: Mapping[str, Ingredient], made: Made, index: Callable[[], NameIndex], today: date
) -> Ingredient | None:
    """A lot of a blend; None where the blend is known no more, or nothing is in it."""
    found = made.get(lot.code) or (made.get(lot.made_from) if lot.made_from is not None else None)
    if found is None:
        return None
    title, recipe = found
    weighed = resolve(recipe, ingredients, index())
    said = [row.ingredient.said for row in weighed.rows if row.ingredient is not None and row.ingredient.said]
    try:
        return mixture_ingredient(
            lot, title, weighed.pourable, today, "\n".join([title, *(r.typed for r in weighed.rows), *said])
        )
    except UptideError:
        return None


def _codes(lot: Lot, item: Ingredient, ingredients: Mapping[str, Ingredient]) -> Iterator[tuple[str, str]]:
    yield item.key, lot.code
    yield item.key, f"lot {lot.code}"
    yield item.key, item.name
    base = ingredients.get(item.base_key)
    if base is not None and base is not item:
        yield item.key, f"{base.name} {lot.code}"
        yield item.key, f"{essence(base.name)} {lot.code}"
