"""What could take the place of one oil in one blend, so that the blend stays what it is: one other oil, or two.

Every pair of oils is tried at every twentieth of the place; the figures are those of the whole blend, not of the oils.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from math import log

import numpy as np

from uptide.core.arrays import Array
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError, UptideError
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.search.confirming import value_of
from uptide.core.finder.search.keeping import Keeping
from uptide.core.finder.search.oil_table import OilTable, oil_table
from uptide.core.finder.search.rows import TRACE, ratio_of
from uptide.core.finder.search.wish import Limit, Wish
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.oxidation.simulate import Draws
from uptide.core.recipe.edit import replace_row
from uptide.core.recipe.recipe import Recipe, Row
from uptide.core.skin.verdicts import COMEDOGENIC_FROM
from uptide.core.tolerance import exceeds, reaches

# A step that is felt of each figure, and so much a place of two oils and a month less must be worth; policy.
STEPS = {
    "linoleic": 5.0,
    "oleic": 5.0,
    "saturated": 5.0,
    "omega_3": 2.0,
    "feel": 0.4,
    "thickness": log(1.12),
    "iodine": 8.0,
}
SECOND, A_MONTH, ON_HAND = 0.4, 1.0, 0.1
SPLITS, LEAST = 20, 2  # parts that a place is split in, and the fewest that are worth an oil
TRIED, SHOWN = 80, 3
# What is worth saying of a change.
SAID: Mapping[str, float] = {
    "linoleic": 0.5,
    "oleic": 0.5,
    "saturated": 0.5,
    "omega_3": 0.5,
    "feel": 0.1,
    "clog": 0.5,
    "keeps": 0.1,
    "cost": 0.01,
}


@dataclass(frozen=True, eq=False)
class StandIn:
    """Oils for a place, each with its part of it [g/g], and how many felt steps the blend is from what it was.

    `changes` are figures of the whole: the key of the figure, what it was, and what it would be.
    """

    oils: tuple[tuple[Ingredient, float], ...]
    apart: float
    recipe: Recipe
    changes: tuple[tuple[str, float, float], ...]


def stand_ins(
    found: Assessment,
    index: int,
    candidates: Iterable[Ingredient],
    draws: Draws,
    *,
    wish: Wish,
    on_hand: frozenset[str],
    look: Callable[[Recipe], Assessment],
    kept: float = 0.0,
) -> tuple[StandIn, ...]:
    """What could take a row's place, the nearest first, each with another largest oil and confirmed by `look`.

    Args:
        found: the blend as it stands.
        index: of the row.
        candidates: oils that may take the place.
        draws: what is uncertain about keeping.
        wish: where it stands, and from which month on.
        on_hand: keys of oils that are on the shelf: where two are alike, they come first.
        look: the one road.
        kept: part of the place [g/g] that the oil keeps, to stretch it; one other oil takes the rest.

    Raises:
        UptideError: a row that is no oil, or one that the rest of the blend cannot be worked out without.
    """
    fatty = [(row, item) for row, item in found.resolution.parts if item.is_fatty and row.grams]
    place = next((n for n, (row, _) in enumerate(fatty) if row.index == index), None)
    if place is None:
        raise UptideError("Only an oil that is weighed has a place that other oils could take.")
    own = fatty[place][1]
    there = {item.base_key for _, item in fatty}
    rivals = [item for item in candidates if item.base_key not in there and _may(item, own)]
    table = oil_table([*(item for _, item in fatty), *rivals], {})
    if own not in table.items:
        raise UptideError(f"Nobody knows what {own.name} is made of, so that nothing can be as it is.")
    shares = np.zeros(len(table))
    for row, item in fatty:
        if item in table.items:
            shares[table.items.index(item)] += row.grams or 0.0
    shares /= shares.sum()
    part = (fatty[place][0].percent_mass or 0.0) / 100
    worst = _worst_clog(found)
    search = _Search(table, shares, table.items.index(own), wish)
    taken = part * (1 - kept)
    allowed = [n for n in range(len(table)) if table.items[n] in rivals and _fits(table, n, taken, worst)]
    ranked = [
        (apart, tuple((table.items[oil], part) for oil, part in filled))
        for apart, filled in search.ranked(allowed, draws, on_hand, kept)
    ]
    return tuple(_confirmed(ranked, found, fatty[place][0], wish, look))


def _may(item: Ingredient, own: Ingredient) -> bool:
    """Whether an oil brings no family of allergens that the other does not, and pours as it does."""
    brought, had = oil_profile(item).allergens, oil_profile(own).allergens or frozenset()
    return brought is not None and brought <= had and item.is_solid is own.is_solid


def _worst_clog(found: Assessment) -> float:
    value = found.finding("comedogenicity").value
    return COMEDOGENIC_FROM if value is None else value


def _fits(table: OilTable, place: int, part: float, worst: float) -> bool:
    """Whether an oil may be so large a part [g/g] of a blend, and clogs no more than what is in it."""
    clogs = table.clog[place]
    return reaches(table.usual[place], part) and (not exceeds(part, TRACE) or (clogs == clogs and clogs <= worst))


@dataclass(frozen=True, eq=False)
class _Search:
    table: OilTable
    shares: Array
    own: int
    wish: Wish

    def ranked(
        self, allowed: list[int], draws: Draws, on_hand: frozenset[str], kept: float
    ) -> list[tuple[float, tuple[tuple[int, float], ...]]]:
        """Ways to fill the place, the nearest first: how far, and the oils with their parts."""
        size = float(self.shares[self.own])
        first, second, split = self._stretched(allowed, kept) if kept else self._ways(allowed)
        if not len(first):
            return []
        far = np.zeros(len(first))
        for figure, step in STEPS.items():
            far += self._moved(figure, size, first, second, split) / step
        known = np.array([item.base_key in on_hand for item in self.table.items])
        far += np.where(first == second, 0.0, SECOND) - ON_HAND * (known[first] & known[second])
        keeping = Keeping(self.table, self.wish, draws)
        before, judged = keeping.months(self.shares), []
        for n in self._best_of_each_pair(far, first, second):
            parts = {int(first[n]): float(split[n])}
            parts[int(second[n])] = parts.get(int(second[n]), 0.0) + 1 - float(split[n])
            tried = self.shares.copy()
            tried[self.own] = 0.0
            for oil, part in parts.items():
                tried[oil] += size * part
            shorter = max(0.0, before - keeping.months(tried))
            filled = sorted(((oil, part) for oil, part in parts.items() if part > 0), key=lambda pair: -pair[1])
            judged.append((float(far[n]) + A_MONTH * shorter, tuple(filled)))
        return sorted(judged)

    def _stretched(self, allowed: list[int], kept: float) -> tuple[Array, Array, Array]:
        """The oil itself in a part of its place, and every other in the rest."""
        return np.full(len(allowed), self.own), np.array(allowed, int), np.full(len(allowed), kept)

    def _ways(self, allowed: list[int]) -> tuple[Array, Array, Array]:
        """Every oil alone, and every pair at every split."""
        places = np.array(allowed, int)
        one, other = np.triu_indices(len(places), 1)
        inner = np.arange(LEAST, SPLITS - LEAST + 1) / SPLITS
        first = np.concatenate([places, np.repeat(places[one], len(inner))])
        second = np.concatenate([places, np.repeat(places[other], len(inner))])
        return first, second, np.concatenate([np.ones(len(places)), np.tile(inner, len(one))])

    def _moved(self, figure: str, size: float, first: Array, second: Array, split: Array) -> Array:
        """By how much a figure of the blend would move; beyond all measure where nobody knows it of an oil."""
        ratio = ratio_of(figure, self.wish, self.table)
        if ratio is None:
            return np.zeros(len(first))
        known = self.table.patchy(figure)
        unknown = np.isnan(ratio.over if known is None else known)
        if unknown[self.own]:
            return np.zeros(len(first))

        def filled(sums: Array) -> Array:
            rest = float(sums @ self.shares) - size * sums[self.own]
            return np.asarray(rest + size * (split * sums[first] + (1 - split) * sums[second]))

        under = filled(ratio.under)
        after = np.divide(filled(ratio.over), under, out=np.zeros_like(under), where=under > 0)
        moved = np.abs(after - ratio.of(self.shares)) if ratio.under @ self.shares > 0 else np.abs(after)
        return np.asarray(np.where(unknown[first] | unknown[second], np.inf, moved))

    def _best_of_each_pair(self, far: Array, first: Array, second: Array) -> Iterator[int]:
        seen: set[tuple[int, int]] = set()
        for n in map(int, np.argsort(far, kind="stable")):
            if len(seen) >= TRIED or not np.isfinite(far[n]):
                return
            pair = (int(first[n]), int(second[n]))
            if pair not in seen:
                seen.add(pair)
                yield n


def _confirmed(
    ranked: list[tuple[float, tuple[tuple[Ingredient, float], ...]]],
    found: Assessment,
    row: Row,
    wish: Wish,
    look: Callable[[Recipe], Assessment],
) -> Iterator[StandIn]:
    stops = {caution.rule for caution in found.safety.open_stops} if found.safety is not None else set()
    largest: set[str] = set()
    for apart, oils in ranked:
        newcomer = next(item.key for item, _ in oils if item != row.ingredient)
        if newcomer in largest:
            continue
        try:
            recipe = replace_row(found.recipe, row, oils)
        except QuantityError:
            continue  # what takes what is left can be one oil alone
        after = look(recipe)
        if after.safety is not None and {caution.rule for caution in after.safety.open_stops} - stops:
            continue
        largest.add(newcomer)
        yield StandIn(oils, apart, recipe, tuple(changes(found, after, wish)))
        if len(largest) == SHOWN:
            return


def changes(before: Assessment, after: Assessment, wish: Wish) -> Iterator[tuple[str, float, float]]:
    """The figures that change so much that it is worth saying: the key of each, what it was, and what it would be."""
    for figure, least in SAID.items():
        limit = Limit(figure, at_least=True, bound=0.0)
        was, is_now = value_of(limit, wish, before), value_of(limit, wish, after)
        if was is not None and is_now is not None and reaches(abs(is_now - was), least):
            yield figure, was, is_now
