"""How long the finder takes: thirty wishes over all oils that are known, the first answer and all of them."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from itertools import islice, product

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.finder.ask import PRODUCTS
from uptide.core.finder.search.offers import offers
from uptide.core.finder.search.oil_table import oil_table
from uptide.core.finder.search.wish_words import read_wish
from uptide.core.measures.habits import Habits
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Recipe

WISHES = tuple(
    f"60 ml face oil{skin}, {acid}, keeps {months}, {more}"
    for (skin, acid), months, more in product(
        (
            (" for oily skin", "linoleic over 50"),
            (" for dry skin", "oleic over 45"),
            ("", "linoleic over 35"),
            ("", "omega 3 over 5"),
            (" for combination skin", "saturated under 15"),
        ),
        ("4 months", "5 months in the bathroom", "6 months in the fridge"),
        ("light, no nuts", "with jojoba, at most 4 oils, clear at 10"),
    )
)


def finder(
    show: Callable[[str, list[float]], None], timed: Callable[[Callable[[int], object], int], list[float]]
) -> None:
    """Measure it; the first wish also reads scipy, and is made beforehand."""
    facts, draws = shipped_catalogue(), standard_draws()
    table = oil_table([item for item in facts.ingredients.values() if not item.lot], {})

    def look(recipe: Recipe) -> Assessment:
        usage = facts.usage_context(recipe, date(2026, 1, 15))
        return assess(recipe, facts.ingredients, facts.names, draws=draws, usage=usage)

    def found(turn: int, count: int | None) -> int:
        wish = read_wish(WISHES[turn % len(WISHES)], facts.names, PRODUCTS).wish
        return len(list(islice(offers(wish, table, draws, look, habits=Habits()), count)))

    found(0, 1)
    show("finder: the first answer of thirty wishes", timed(lambda turn: found(turn, 1), len(WISHES)))
    show("finder: all answers of thirty wishes", timed(lambda turn: found(turn, None), len(WISHES)))
