"""A wish asked of a workshop: read in its words, looked for among its oils, with its prices."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.finder.ask import PRODUCTS
from uptide.core.finder.search.conflicts import Conflicts
from uptide.core.finder.search.measuring import Measure
from uptide.core.finder.search.offers import Offer, offers
from uptide.core.finder.search.oil_table import OilTable, oil_table
from uptide.core.finder.search.wish import USUAL, Objective, Wish
from uptide.core.finder.search.wish_words import ReadWish, read_wish
from uptide.core.ingredients.lot import KEY
from uptide.core.measures.habits import Habits
from uptide.core.months import months_between
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Recipe
from uptide.workshop.clock import today

NO_PRICES = "no lot on the shelf has a price yet, so that nobody knows what anything costs"


def wish_said(text: str, facts: Catalogue, rate_shift: float = 0.0) -> ReadWish:
    """Read a wish in the words of this workshop: its oils, its products, and what its bottles taught of its rate."""
    products = {name.lower(): key for key, name in facts.product_names.items()}
    read = read_wish(text, facts.names, products | {name: key for name, key in PRODUCTS.items() if " " in name})
    read = replace(read, wish=replace(read.wish, rate_shift=rate_shift, start_month=today().month - 1))
    currency = _currency(facts)
    read = replace(read, wish=replace(read.wish, currency=currency))
    dear = [each for each in read.wish.limits if each.figure == "cost"]
    if not dear and read.objective is not Objective.CHEAPEST:
        return read
    said = next((each.typed for each in dear), "what it costs")
    why = ""
    if not facts.prices:
        why = NO_PRICES
    elif not currency:
        why = "the prices on the shelf are in several currencies, and nothing here changes one into another"
    elif any(each.currency not in ("", currency) for each in dear):
        why = f"the prices on the shelf are in {currency}; say it in that"
    if why:
        return replace(read, not_read=(*read.not_read, (said, why)))
    limits = tuple(replace(each, currency=currency) if each in dear else each for each in read.wish.limits)
    words = {each.words: replace(each, currency=currency).words for each in dear}
    lines = tuple((words.get(line, line), clause) for line, clause in read.lines)
    return replace(read, wish=replace(read.wish, limits=limits), lines=lines)


def _currency(facts: Catalogue) -> str:
    """The currency of all prices on the shelf; nothing where there are none, or several."""
    found = {price.currency for price in facts.prices.values()}
    return found.pop() if len(found) == 1 else ""


def oils_for(wish: Wish, facts: Catalogue) -> OilTable:
    """The oils that it may be made of: the lots on the shelf, no more than there is, or all that are known."""
    left = {f"{KEY}{code}": grams for lots in facts.on_hand.values() for code, grams in lots}
    items = [item for item in facts.ingredients.values() if (item.key in left if wish.on_hand else not item.lot)]
    ends = {} if wish.fresh else facts.best_before
    lasts = {key: months_between(today(), day) for key, (day, _) in ends.items()}
    prices = {key: price.per_gram for key, price in facts.prices.items()} if wish.currency else {}
    return oil_table(items, prices, left if wish.on_hand else {}, lasts)


def conflicts_of(read: ReadWish, facts: Catalogue, go_on: Callable[[], None] = lambda: None) -> Conflicts:
    """What looks for the limits of a wish that exclude one another."""
    return Conflicts(read.wish, oils_for(read.wish, facts), standard_draws(), go_on)


def find(
    read: ReadWish,
    facts: Catalogue,
    look: Callable[[Recipe], Assessment],
    habits: Habits,
    measure: Measure,
    *,
    go_on: Callable[[], None] = lambda: None,
) -> Iterator[Offer]:
    """Blends that keep a wish, each confirmed by its assessment, as they are found.

    `go_on` is asked before each step of the search; what it raises ends it.
    """
    return offers(
        read.wish,
        oils_for(read.wish, facts),
        standard_draws(),
        look,
        habits=habits,
        measure=measure,
        product=read.product,
        objectives=(read.objective,) if read.objective is not None else USUAL,
        go_on=go_on,
    )
