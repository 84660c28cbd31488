"""Blends to offer for a wish: measured, assessed by the one road and confirmed; and, where there are none, why not."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from uptide.core.assessment.assessment import Assessment
from uptide.core.finder.search.confirming import not_kept, value_of
from uptide.core.finder.search.measuring import Measure, measured
from uptide.core.finder.search.oil_table import OilTable
from uptide.core.finder.search.search import BIG, dive_for
from uptide.core.finder.search.wish import FIGURES, Limit, Objective, Wish
from uptide.core.measures.habits import Habits
from uptide.core.oxidation.simulate import Draws
from uptide.core.physics.bottle import SMALLEST, Container
from uptide.core.recipe.recipe import Entry, Recipe

FINER_G = 0.1  # g: where no half gram keeps the wish
STEP_G = 0.5
RATIO_STEPS = 24  # halvings in which the furthest that one limit can be kept is looked for
Look = Callable[[Recipe], Assessment]


@dataclass(frozen=True, eq=False)
class Offer:
    """A blend that keeps every limit, as it is measured, with its assessment."""

    objective: Objective
    recipe: Recipe
    assessment: Assessment

    def figure(self, name: str, wish: Wish) -> float | None:
        """One of its figures, as the assessment has it."""
        return value_of(Limit(name, at_least=True, bound=0.0), wish, self.assessment)


@dataclass(frozen=True, slots=True)
class Conflict:
    """Limits that exclude one another, and for each how far it alone would have to give."""

    words: tuple[str, ...]
    gives: tuple[str, ...]


def offers(
    wish: Wish,
    table: OilTable,
    draws: Draws,
    look: Look,
    *,
    habits: Habits,
    measure: Measure = Measure.GRAMS,
    product: str = "body-oil",
    objectives: Sequence[Objective] = tuple(Objective),
) -> Iterator[Offer]:
    """Offers that differ by a large oil each; what the assessment does not confirm is never one."""
    shown: list[tuple[int, ...]] = []
    for objective in objectives:
        if objective is Objective.CHEAPEST and np.isnan(table.price).all():
            continue  # nobody has said what anything costs
        dive = dive_for(wish, table, draws, tuple(shown))
        answer = dive.answer(objective) if dive is not None else None
        if dive is None or answer is None:
            continue
        tries = ((measure, STEP_G), (Measure.GRAMS, STEP_G), (Measure.GRAMS, FINER_G))
        for how, step in dict.fromkeys(tries):
            found = measured(dive, answer, how, habits, step)
            if found is None:
                continue
            recipe = Recipe(
                tuple(Entry(typed, {"name": key}) for typed, key in found.rows),
                product or "body-oil",
                container=Container("bottle", max(SMALLEST, wish.millilitres)),
                habits=habits,
                storage=wish.storage,
            )
            assessment = look(recipe)
            if not not_kept(wish, assessment):
                shown.append(tuple(place for place in answer.places if answer.shares[place] >= BIG))
                yield Offer(objective, recipe, assessment)
                break


def conflict(wish: Wish, table: OilTable, draws: Draws) -> Conflict | None:
    """A smallest set of limits that exclude one another; None where something keeps them all, or nothing helps."""
    asked = _asked(wish)
    if _can_be(wish, table, draws):
        return None
    left = wish
    kept: list[tuple[str, Callable[[Wish], Wish]]] = []
    for words, drop in asked:
        without = drop(left)
        if _can_be(without, table, draws):
            kept.append((words, drop))  # it is one of those that exclude one another
        else:
            left = without
    gives = [_give(words, drop(wish), wish, table, draws) for words, drop in kept]
    return Conflict(tuple(words for words, _ in kept), tuple(filter(None, gives)))


def _asked(wish: Wish) -> list[tuple[str, Callable[[Wish], Wish]]]:
    """What can be dropped of a wish, each in words."""

    def without(limit: Limit) -> Callable[[Wish], Wish]:
        return lambda w: replace(w, limits=tuple(each for each in w.limits if each != limit))

    found = [(limit.words, without(limit)) for limit in wish.limits]
    if wish.skin:
        found.append((f"suits {wish.skin} skin", lambda w: replace(w, skin="")))
    if wish.families:
        names = " or ".join(sorted(name.replace("_", " ") for name in wish.families))
        found.append((f"without {names}", lambda w: replace(w, families=frozenset())))
    if wish.without:
        found.append(("without what was named", lambda w: replace(w, without=frozenset())))
    if wish.must:
        found.append(("with what was named", lambda w: replace(w, must={})))
    return found


def _can_be(wish: Wish, table: OilTable, draws: Draws) -> bool:
    dive = dive_for(wish, table, draws)
    return dive is not None and dive.best(Objective.STEADIEST) is not None


def _give(words: str, loosened: Wish, wish: Wish, table: OilTable, draws: Draws) -> str:
    """How far a limit alone must give for the rest to be kept; nothing where that does not help."""
    limit = next((each for each in wish.limits if each.words == words), None)
    if limit is None:
        return f"or not “{words}”" if _can_be(loosened, table, draws) else ""
    if limit.figure == "clear":
        return f"or not {words}" if _can_be(loosened, table, draws) else ""
    low, high = (0.0, limit.bound) if limit.at_least else (limit.bound, 4 * limit.bound + 1)
    possible = low if limit.at_least else high

    def at(bound: float) -> bool:
        return _can_be(replace(loosened, limits=(*loosened.limits, replace(limit, bound=bound))), table, draws)

    if not at(possible):
        return ""
    for _ in range(RATIO_STEPS):
        middle = (low + high) / 2
        if at(middle):
            low, high = (middle, high) if limit.at_least else (low, middle)
        else:
            low, high = (low, middle) if limit.at_least else (middle, high)
        if high - low < NEAR * max(limit.bound, 1.0):
            break
    bound = low if limit.at_least else high
    name, unit = FIGURES[limit.figure]
    return f"or {name} {bound:.3g} {unit}".strip()


NEAR = 0.01  # of a bound: nearer than this nobody asks
