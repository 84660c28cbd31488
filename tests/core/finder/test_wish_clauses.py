"""The clauses of a wish: what is said of a limit is read as that limit, and its number can be changed."""

from __future__ import annotations

from dataclasses import replace

import pytest
from tests.core.finder.wishes import FACTS

from uptide.core.finder.ask import PRODUCTS
from uptide.core.finder.search.wish import FIGURES, Limit
from uptide.core.finder.search.wish_clauses import clause_of, with_bound
from uptide.core.finder.search.wish_words import ReadWish, read_wish
from uptide.core.oxidation.surroundings import PLACES


def read(text: str) -> ReadWish:
    return read_wish(text, FACTS.names, PRODUCTS)


@pytest.mark.parametrize("figure", FIGURES)
@pytest.mark.parametrize("at_least", [True, False])
def test_what_is_said_of_a_limit_is_read_as_that_limit(figure: str, at_least: bool) -> None:
    one_way = {"keeps": True, "clear": True, "cost": False, "inert": False}
    limit = Limit(figure, one_way.get(figure, at_least), 12.5, currency="GBP" if figure == "cost" else "")
    said = clause_of(limit)
    found = read(said)

    assert found.not_read == ()
    assert replace(limit, typed=said) in found.wish.limits


def test_omega_3_is_read_with_its_hyphen_too() -> None:
    found = read("omega-3 over 10")

    assert found.not_read == ()
    assert found.wish.limits[0] == Limit("omega_3", at_least=True, bound=10.0, typed="omega-3 over 10")


@pytest.mark.parametrize("place", PLACES)
def test_where_it_is_kept_is_said_along(place: str) -> None:
    found = read(clause_of(Limit("keeps", at_least=True, bound=5), place))

    assert found.wish.storage.place == place
    assert found.wish.months == 5


@pytest.mark.parametrize(
    ("text", "figure", "bound", "changed"),
    [
        ("60 ml face oil, linoleic over 60, no nuts", "linoleic", 55, "60 ml face oil, linoleic over 55, no nuts"),
        ("60 ml face oil keeps 6 months, light", "keeps", 5, "60 ml face oil keeps 5 months, light"),
        ("keeps 6 months in the fridge and light", "feel", 2.8, "keeps 6 months in the fridge, feel under 2.8"),
        ("30 ml, light", "inert", 30, "30 ml, light, at most 30 % inert"),
        ("under 3 pounds", "cost", 2.5, "under 2.5 pounds"),
        ("light, feel under 2,5", "feel", 2, "light, feel under 2"),
        ("linoleic over 40, linoleic under 60", "linoleic", 65, "linoleic over 40, linoleic under 65"),
    ],
)
def test_a_number_is_changed_in_its_clause_and_nowhere_else(text: str, figure: str, bound: float, changed: str) -> None:
    limit = [each for each in read(text).wish.limits if each.figure == figure][-1]

    assert with_bound(text, limit, bound) == changed
    assert any(each.figure == figure and each.bound == bound for each in read(changed).wish.limits)
