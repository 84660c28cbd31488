"""Why nothing keeps a wish: limits that exclude one another, how far each must give, and two against each other."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from math import exp, floor, inf, log10
from typing import NamedTuple

import numpy as np

from uptide.core.arrays import Array
from uptide.core.finder.search.oil_table import OilTable
from uptide.core.finder.search.rows import LOGARITHMIC, Ratio, ratio_of
from uptide.core.finder.search.search import Dive, dive_for
from uptide.core.finder.search.wish import Limit, Objective, Wish
from uptide.core.finder.search.wish_clauses import FRESH, MAY_SET
from uptide.core.oxidation.simulate import Draws
from uptide.core.tolerance import reaches

LOOSE = 1e6  # of any figure: more than there is
POINTS = 7  # of a frontier
SLACK = 0.005  # of a figure: looser than it must be by so much, lest no measured blend keeps it
FIGURES_KEPT = 3  # that a loosened limit is rounded to
LEAST_MONTHS = 1.0  # with less it is no answer
LOTS_HOLD = "limits on acids hold for nine lots in ten"
UNGRADED = ("clear", "solid", "tint")  # of which it is not worked out how far they must give
SAME = 1e-9  # of a figure
MONTHS_SHOWN = 4  # before what was asked, at the least


@dataclass(frozen=True, slots=True)
class Give:
    """How far one limit alone must give, in words; `limit` with `bound` where it is a figure that gives.

    `clause` is what would have to be said besides, where something gives as a whole.
    """

    words: str
    limit: Limit | None = None
    bound: float | None = None
    clause: str = ""

    @property
    def asked(self) -> float | None:
        """What to ask for: no more than can be, in few figures."""
        return None if self.limit is None or self.bound is None else looser(self.limit, self.bound)


@dataclass(frozen=True, slots=True)
class Conflict:
    """Limits that exclude one another, and for each how far it alone would have to give.

    `is_shown`: that nothing keeps all of them is shown, and not only what a search did not find.
    """

    words: tuple[str, ...]
    gives: tuple[Give, ...]
    is_shown: bool

    @property
    def pair(self) -> tuple[Give, Give] | None:
        """Two figures that can give against each other: how long it keeps first, what nobody said last."""
        able = [
            (limit.figure != "keeps", not limit.typed, place, give)
            for place, give in enumerate(self.gives)
            if (limit := give.limit) is not None and give.bound is not None and limit.figure != "clog"
        ]
        first_two = [give for *_, give in sorted(able)[:2]]
        return (first_two[0], first_two[1]) if len(first_two) == len(("one", "other")) else None


@dataclass(frozen=True, slots=True)
class _Part:
    """A part of a wish: in words, the wish without it, what to say where it may go, and its limit if it is one."""

    words: str
    drop: Callable[[Wish], Wish]
    instead: str
    limit: Limit | None = None
    is_said: bool = True
    clause: str = ""


class _Furthest(NamedTuple):
    """How far a figure can be, and a blend that is so far where one is known."""

    value: float
    shares: Array | None


@dataclass(frozen=True, eq=False)
class Conflicts:
    """Looks for why nothing keeps a wish, among the oils of one table; `go_on` is asked before each step."""

    wish: Wish
    table: OilTable
    draws: Draws
    go_on: Callable[[], None] = lambda: None

    def found(self) -> Conflict | None:
        """A smallest set of limits that exclude one another; None where something keeps them all."""
        found = [*self.steps()]
        return found[-1] if found else None

    def steps(self) -> Iterator[Conflict]:
        """The same, give by give; nothing where something keeps them all.

        Each part is left out in its turn, and stays out where nothing keeps the rest either. It says what a search
        finds: where a blend is hard to find, a limit may give less than it would have to.
        """
        if self._can_be(self.wish):
            return
        left = self.wish
        kept: list[_Part] = []
        for part in sorted(self._parts(), key=lambda part: part.is_said):  # what nobody said is left out first
            without = part.drop(left)
            if self._can_be(without):
                kept.append(part)
            else:
                left = without
        dive = self._dive(left)
        is_shown = dive is None or dive.boxes().any().is_none
        conflict = Conflict(tuple(part.words for part in kept), (), is_shown)
        yield conflict
        for part in kept:
            give = self._give(part, part.drop(self.wish))
            if give is not None:
                conflict = replace(conflict, gives=(*conflict.gives, give))
                yield conflict

    def frontier(self, first: Give, second: Give) -> Iterator[tuple[float, float]]:
        """How far two limits give against each other: from one as it was asked to the other as it was asked.

        Each point is one figure that is asked for, and the furthest that the other can be with it, the strictest first.
        """
        one, other = first.limit, second.limit
        if one is None or other is None or first.bound is None:
            return
        wish = replace(self.wish, limits=tuple(each for each in self.wish.limits if each not in (one, other)))
        near: Array | None = None  # what keeps the stricter keeps the looser: no point is worse than the one before it
        for bound in _between(one, first.bound):
            furthest = self._furthest(other, replace(wish, limits=(*wish.limits, replace(one, bound=bound))), near)
            if furthest is not None:
                near = furthest.shares
                yield bound, furthest.value

    def _parts(self) -> list[_Part]:
        wish, table = self.wish, self.table

        def without(limit: Limit) -> Callable[[Wish], Wish]:
            return lambda w: replace(w, limits=tuple(each for each in w.limits if each != limit))

        found = [
            _Part(
                each.words,
                without(each),
                instead=MAY_SET if each.figure == "clear" else f"without “{each.words}”",
                limit=each,
                is_said=bool(each.typed),
                clause=MAY_SET if each.figure == "clear" else "",
            )
            for each in wish.limits
        ]
        if wish.months and not wish.fresh and np.isfinite(table.lasts).any():
            found.append(
                _Part(
                    "the suppliers' dates of what stands on the shelf",
                    lambda w: replace(w, fresh=True),
                    FRESH,
                    is_said=False,
                    clause=FRESH,
                )
            )
        if wish.lots:
            found.append(_Part(LOTS_HOLD, lambda w: replace(w, lots=0.0), "for typical lots"))
        if wish.skin:
            other = f"for other skin than {wish.skin}"
            found.append(_Part(f"suits {wish.skin} skin", lambda w: replace(w, skin=""), other))
        if wish.families:
            names = " or ".join(sorted(name.replace("_", " ") for name in wish.families))
            found.append(_Part(f"without {names}", lambda w: replace(w, families=frozenset()), f"{names} allowed"))
        named = {key: item.name for item in table.items for key in (item.base_key, item.key)}
        if wish.without:
            names = ", ".join(sorted(named.get(key, key) for key in wish.without))
            found.append(_Part(f"without {names}", lambda w: replace(w, without=frozenset()), f"{names} allowed"))
        if wish.must:
            names = ", ".join(named.get(key, key) for key in wish.must)
            found.append(_Part(f"with {names}", lambda w: replace(w, must={}), f"{names} left out"))
        return found

    def _dive(self, wish: Wish) -> Dive | None:
        table = self.table if not wish.fresh else replace(self.table, lasts=np.full(len(self.table), inf))
        return dive_for(wish, table, self.draws, go_on=self.go_on)

    def _can_be(self, wish: Wish) -> bool:
        dive = self._dive(wish)
        if dive is None:
            return False
        return dive.exists() if not wish.lots else dive.answer(Objective.STEADIEST) is not None

    def _give(self, part: _Part, loosened: Wish) -> Give | None:
        """How far a part alone must give for the rest to be kept; nothing where that does not help."""
        limit = part.limit
        if limit is None or limit.figure in UNGRADED or loosened.lots:
            return Give(f"or {part.instead}", limit, clause=part.clause) if self._can_be(loosened) else None
        furthest = self._furthest(limit, loosened)
        if furthest is None:
            return None
        name, unit = loosened.titled(limit.figure)
        return Give(f"or {name} {furthest.value:.3g} {unit}".strip(), limit, furthest.value)

    def _furthest(self, limit: Limit, loosened: Wish, near: Array | None = None) -> _Furthest | None:
        """The most, or the least, of a figure among blends that keep all other limits; None where there are none."""

        def asking(bound: float) -> Dive | None:
            return self._dive(replace(loosened, limits=(*loosened.limits, replace(limit, bound=bound))))

        if limit.figure == "clog":
            ratings = np.unique(self.table.clog[self.table.clog > limit.bound])
            can = (float(each) for each in ratings if (dive := asking(each)) is not None and dive.exists())
            return next((_Furthest(rating, None) for rating in can), None)
        dive = asking(0.0 if limit.at_least else LOOSE)
        if dive is None:
            return None
        ratio = ratio_of(limit.figure, loosened, self.table)
        if ratio is None:  # how long it keeps
            found = dive.longest()
            months = 0.0 if found is None else dive.promised(found)
            return _Furthest(months, found) if reaches(months, LEAST_MONTHS) else None
        found = dive.furthest(ratio if limit.at_least else Ratio(-ratio.over, ratio.under), near)
        return None if found is None else _Furthest(_value(limit, ratio, found), found)


def looser(limit: Limit, furthest: float) -> float:
    """A bound that can be kept: a little looser than the furthest that was found, whole months, in few figures."""
    if limit.figure == "keeps" and reaches(furthest, 1):
        return float(floor(furthest + SAME))
    if limit.figure == "clog" or furthest == 0:
        return furthest
    step = 10.0 ** (floor(log10(abs(furthest))) + 1 - FIGURES_KEPT)
    slack = SLACK * abs(furthest)
    if limit.at_least:
        return floor((furthest - slack) / step) * step
    return -floor(-(furthest + slack) / step) * step


def _between(limit: Limit, gives: float) -> list[float]:
    """Bounds from what was asked to what a limit gives alone: of months, whole ones."""
    if limit.figure == "keeps":
        months = np.arange(min(floor(gives + SAME), limit.bound - MONTHS_SHOWN), limit.bound + SAME)
        return [float(each) for each in months[:: -(-len(months) // POINTS)][::-1] if each > 0]
    return [float(each) for each in np.linspace(limit.bound, gives, POINTS)]


def _value(limit: Limit, ratio: Ratio, shares: Array) -> float:
    return exp(ratio.of(shares)) if limit.figure in LOGARITHMIC else ratio.of(shares)
