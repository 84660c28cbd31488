"""Blends to offer for a wish: measured, assessed by the one road, and confirmed."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from uptide.core.arrays import Array
from uptide.core.assessment.assessment import Assessment
from uptide.core.finder.search.bounding import Bound, bound_of
from uptide.core.finder.search.confirming import not_kept, value_of
from uptide.core.finder.search.measuring import Measure, measured
from uptide.core.finder.search.oil_table import OilTable
from uptide.core.finder.search.search import BIG, Answer, Dive, dive_for
from uptide.core.finder.search.wish import USUAL, Limit, Objective, Wish
from uptide.core.measures.habits import Habits
from uptide.core.oxidation.simulate import Draws
from uptide.core.physics.bottle import SMALLEST, Container
from uptide.core.recipe.recipe import Entry, Recipe

FINER_G = 0.1  # g: where no half gram keeps the wish
STEP_G = 0.5
Look = Callable[[Recipe], Assessment]


@dataclass(frozen=True, eq=False)
class Offer:
    """A blend that keeps every limit, as it is measured, with its assessment."""

    objective: Objective
    recipe: Recipe
    assessment: Assessment
    dive: Dive
    answer: Answer
    shares: Array  # of its oils as they are measured [g/g]

    def bound(self) -> Bound:
        """What no blend that keeps the wish is better than; it takes as long as the search, or longer."""
        return bound_of(self.dive, self.answer)

    @property
    def held(self) -> float:
        """In what part of the lots that its oils may come as the limits on their make-up hold."""
        return self.dive.lots.held(self.shares)

    def for_typical_lots(self) -> Answer | None:
        """What could be best if limits had to hold for typical lots alone; it takes as long as the search."""
        return self.dive.for_typical_lots().answer(self.objective)

    @property
    def room(self) -> float:
        """How many felt steps it has to spare in every limit."""
        return self.dive.room(self.shares)

    def figure(self, name: str, wish: Wish) -> float | None:
        """One of its figures, as the assessment has it."""
        return value_of(Limit(name, at_least=True, bound=0.0), wish, self.assessment)


def offers(
    wish: Wish,
    table: OilTable,
    draws: Draws,
    look: Look,
    *,
    habits: Habits,
    measure: Measure = Measure.GRAMS,
    product: str = "body-oil",
    wearer: int | None = None,
    names: Mapping[str, str] = MappingProxyType({}),
    objectives: Sequence[Objective] = USUAL,
    go_on: Callable[[], None] = lambda: None,
    refused: Callable[[tuple[str, ...]], None] = lambda _: None,
) -> Iterator[Offer]:
    """Offers that differ by a large oil each; what the assessment does not confirm is never one.

    `names` are of what comes along, by its key; `refused` is told what the assessment had against a blend.
    """
    shown: list[tuple[int, ...]] = []
    for objective in objectives:
        if objective is Objective.CHEAPEST and np.isnan(table.price).all():
            continue  # nobody has said what anything costs
        dive = dive_for(wish, table, draws, tuple(shown), go_on)
        answer = dive.answer(objective) if dive is not None else None
        if dive is None or (answer is None and not shown and dive.is_impossible):
            return
        if answer is None:
            continue
        tries = ((measure, STEP_G), (Measure.GRAMS, STEP_G), (Measure.GRAMS, FINER_G))
        for how, step in dict.fromkeys(tries):
            found = measured(dive, answer, how, habits, step)
            if found is None:
                continue
            oils = [Entry(typed, {"name": key}) for typed, key in found.rows]
            along = [
                Entry(f"{percent:g} % {names.get(key, key)}", {"name": key}) for key, percent in wish.along.items()
            ]
            recipe = Recipe(
                (*oils, *along),
                product or "body-oil",
                container=Container("bottle", max(SMALLEST, wish.millilitres)),
                habits=habits,
                storage=wish.storage,
                wearer=wearer,
            )
            assessment = look(recipe)
            against = not_kept(wish, assessment)
            if against:
                refused(against)
            else:
                shown.append(tuple(place for place in answer.places if answer.shares[place] >= BIG))
                yield Offer(objective, recipe, assessment=assessment, dive=dive, answer=answer, shares=found.shares)
                break
