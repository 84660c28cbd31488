"""How long the finder takes: thirty wishes over all oils that are known, the first answer and all of them."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from itertools import islice, product
from threading import Thread
from urllib.parse import quote

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.finder.search.bounding import bound_of
from uptide.core.finder.search.offers import offers
from uptide.core.finder.search.oil_table import oil_table
from uptide.core.finder.search.search import dive_for
from uptide.core.finder.search.wish import Objective
from uptide.core.finder.search.wish_words import read_wish
from uptide.core.finder.use import PRODUCTS
from uptide.core.measures.habits import Habits
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Recipe

A_STEP_OF_ROOM = 0.26  # felt steps
SOON = 2500.0  # ms
LONG = "60 ml face oil, linoleic over 35, keeps 5 months in the bathroom, light, no nuts, with fresh bottles"
MOST_PAGES = 80
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

    def bounded(turn: int) -> None:
        """The steadiest and its bound, or that it cannot be: what is to be known within SOON."""
        dive = dive_for(read_wish(WISHES[turn], facts.names, PRODUCTS).wish, table, draws)
        answer = dive.answer(Objective.STEADIEST) if dive is not None else None
        if dive is not None and answer is not None:
            bound = bound_of(dive, answer).value
            near.append(bound is not None and bound <= dive.room(answer.shares) + A_STEP_OF_ROOM)
        else:
            near.append(dive is None or dive.boxes().any().is_none)

    near: list[bool] = []
    found(0, 1)
    show("finder: the first answer of thirty wishes", timed(lambda turn: found(turn, 1), len(WISHES)))
    times = timed(bounded, len(WISHES))
    show("finder: the steadiest of thirty wishes, and its bound", times)
    soon = sum(is_near and each <= SOON for is_near, each in zip(near, times, strict=True))
    print(f"  {soon} of {len(WISHES)} are within a quarter of a felt step of their bound, or shown not to be, in 2.5 s")
    show("finder: all answers of thirty wishes", timed(lambda turn: found(turn, None), len(WISHES)))


def beside(
    base: str,
    get: Callable[[str, int], object],
    show: Callable[[str, list[float]], None],
    timed: Callable[[Callable[[int], object], int], list[float]],
) -> None:
    """How long other pages take while a search runs in the same program."""
    searching = Thread(target=get, args=(f"{base}/shelf/find/stream?wish={quote(LONG)}", 0), daemon=True)
    pages = ("/", "/blends/1", "/shelf", "/keeping")
    for page in (*pages, f"/shelf/find?wish={quote('light, steadiest')}"):  # which also reads scipy
        get(base + page, 0)
    searching.start()
    times: list[float] = []
    while searching.is_alive() and len(times) < MOST_PAGES:
        times += timed(lambda turn: get(base + pages[turn % len(pages)], turn), len(pages))
    show("server: pages while a wish is looked for", times)
