"""Wishes and a shelf that several tests of the finder share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.finder.search.oil_table import OilTable, oil_table
from uptide.core.finder.search.search import Answer, dive_for
from uptide.core.finder.search.wish import Limit, Objective, Wish
from uptide.core.ingredients.ingredient import Price
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Recipe

FACTS, DRAWS = shipped_catalogue(), standard_draws()
# A shelf of 18, with what 100 g cost: invented.
SHELF = {
    "grapeseed": 1.02,
    "jojoba": 3.18,
    "rosehip": 4.04,
    "squalane": 4.00,
    "sunflower-high-oleic": 0.48,
    "sunflower": 0.45,
    "mct": 0.85,
    "shea-butter": 1.15,
    "castor": 0.91,
    "camellia": 2.19,
    "almond-sweet": 1.11,
    "olive": 0.85,
    "apricot-kernel": 1.52,
    "sea-buckthorn-fruit": 22.83,
    "argan": 2.50,
    "hemp-seed": 4.21,
    "evening-primrose": 3.55,
    "rice-bran": 1.06,
}
PRICES = {key: price / 100 for key, price in SHELF.items()}


def table(keys: Sequence[str] = tuple(SHELF)) -> OilTable:
    return oil_table([FACTS.ingredient(key) for key in keys], PRICES)


def limits(words: str) -> tuple[Limit, ...]:
    parts = [part.split() for part in f"acids >= 60;{words}".split(";")]
    return tuple(Limit(figure, sign == ">=", float(bound)) for figure, sign, bound in parts)


def look(recipe: Recipe) -> Assessment:
    prices = {key: Price(price, "GBP", "a test") for key, price in PRICES.items()}
    usage = FACTS.usage_context(recipe, date(2026, 1, 15))
    return assess(recipe, FACTS.ingredients, FACTS.names, prices, draws=DRAWS, usage=usage)


def answer(wish: Wish, objective: Objective, oils: OilTable | None = None) -> Answer | None:
    dive = dive_for(wish, oils or table(), DRAWS)
    return dive.answer(objective) if dive is not None else None


def cost(found: Answer, wish: Wish, oils: OilTable) -> float:
    return float(wish.millilitres * (found.shares @ oils.price) / (found.shares @ oils.volume))


BRIEF = Wish(
    limits("linoleic >= 50;keeps >= 6;clog <= 2;feel <= 3.4;cost <= 3;clear >= 15"),
    60,
    "combination",
    {"jojoba": 0.03},
    families=frozenset({"tree_nut"}),
    fewest=3,
)
EVERYTHING = Wish(
    limits(
        "linoleic >= 38;oleic <= 40;omega_3 >= 2;keeps >= 6;clog <= 2;feel <= 2.6;feel >= 1.6;thickness <= 45;"
        "cost <= 4;clear >= 15"
    ),
    30,
    fewest=3,
    most=6,
    least=0.02,
)


EVERY_OIL = oil_table([item for item in FACTS.ingredients.values() if not item.lot], {})
NOT_DEAR = replace(BRIEF, limits=limits("linoleic >= 50;keeps >= 6;clog <= 2;feel <= 3.4;clear >= 15"))
ARGAN_LIKE = Wish(limits("linoleic >= 40;clog <= 2;feel <= 3.4;clear >= 15"), 30, fewest=3, most=6, least=0.02)
NEVER = Wish(limits("linoleic >= 60;keeps >= 12;clog <= 2;feel <= 3.4;clear >= 15"), 30, fewest=3, most=6, least=0.02)
