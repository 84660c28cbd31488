"""How solid a blend is: a soft butter by two limits, what is clear, and what cannot be."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tests.core.finder.wishes import DRAWS, EVERY_OIL, FACTS, PRICES, look, table

from uptide.core.figures.setting import solid_at
from uptide.core.finder.search.conflicts import Conflicts
from uptide.core.finder.search.offers import offers
from uptide.core.finder.search.setting import Setting
from uptide.core.finder.search.wish import Limit, Objective, Wish
from uptide.core.finder.search.wish_words import read_wish
from uptide.core.finder.use import PRODUCTS
from uptide.core.measures.habits import Habits


def solids(*limits: tuple[bool, float, float]) -> tuple[Limit, ...]:
    return tuple(Limit("solid", at_least, bound, celsius=celsius) for at_least, bound, celsius in limits)


@pytest.mark.parametrize("objective", [Objective.STEADIEST, Objective.LIGHTEST, Objective.LONGEST])
def test_a_soft_butter_is_as_solid_as_was_asked(objective: Objective) -> None:
    read = read_wish("60 ml, solid over 12 % at 22, solid under 30 at 22, with shea butter", FACTS.names, PRODUCTS)
    assert read.not_read == ()
    assert read.wish.clear_at is None  # what must be solid need not be clear
    made = list(offers(read.wish, EVERY_OIL, DRAWS, look, habits=Habits(), objectives=(objective,)))

    assert len(made) == 1
    fatty = [(row.grams or 0.0, item) for row, item in made[0].assessment.resolution.parts]
    solid = solid_at(fatty, 22)
    assert solid is not None
    assert 12 <= solid <= 30


def test_what_is_solid_is_said_as_a_limit_and_liquid_oils_cannot_be() -> None:
    (limit,) = solids((True, 40.0, 22.0))
    wish = Wish(limits=(limit,), without=frozenset({"shea-butter"}))
    found = Conflicts(wish, table(), DRAWS).found()

    assert limit.words == "solid fat at 22 °C at least 40 %"
    assert found is not None
    assert limit.words in found.words
    assert all(give.bound is None for give in found.gives if give.limit == limit)
    assert set(PRICES) >= {item.key for item in table().items}


def test_a_row_leads_towards_what_is_asked() -> None:
    """Nothing of liquid oils is solid: along the row butters are what makes it so, and no oil is."""
    oils = table(["grapeseed", "shea-butter", "olive"])
    setting = Setting(Wish(limits=solids((True, 20.0, 22.0))), oils, np.ones(3))
    row = setting.unmet(np.array([0.5, 0.0, 0.5]))
    assert row is not None
    assert row[1] > 0 > max(row[0], row[2])
    assert setting.unmet(np.array([0.0, 1.0, 0.0])) is None
    clear = replace(setting, wish=Wish(limits=(Limit("clear", at_least=True, bound=15.0),)))
    assert clear.unmet(np.array([0.5, 0.0, 0.5])) is None
    cloudy = clear.unmet(np.array([0.5, 0.5, 0.0]))
    assert cloudy is not None
    assert cloudy[1] < 0 < cloudy[0]
