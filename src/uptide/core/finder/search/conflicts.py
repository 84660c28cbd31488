"""Why nothing keeps a wish: limits that exclude one another, and how far each alone would have to give."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import exp

import numpy as np

from uptide.core.finder.search.oil_table import OilTable
from uptide.core.finder.search.rows import Ratio, ratio_of
from uptide.core.finder.search.search import Dive, dive_for
from uptide.core.finder.search.wish import Limit, Objective, Wish
from uptide.core.oxidation.simulate import Draws

LOOSE = 1e6  # of any figure: more than there is


@dataclass(frozen=True, slots=True)
class Conflict:
    """Limits that exclude one another, and for each how far it alone would have to give."""

    words: tuple[str, ...]
    gives: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class _Part:
    """A part of a wish: in words, the wish without it, what to say where it may go, and its limit if it is one."""

    words: str
    drop: Callable[[Wish], Wish]
    instead: str
    limit: Limit | None = None

    @property
    def is_said(self) -> bool:
        """Whether somebody said it, or it is taken for granted."""
        return self.limit is None or bool(self.limit.typed)


def conflict(wish: Wish, table: OilTable, draws: Draws) -> Conflict | None:
    """A smallest set of limits that exclude one another; None where something keeps them all.

    Each part is left out in its turn, and stays out where nothing keeps the rest either. It says what a search finds:
    where a blend is hard to find, a limit may give less than it would have to.
    """
    if _can_be(wish, table, draws):
        return None
    left = wish
    kept: list[_Part] = []
    for part in sorted(_parts(wish, table), key=lambda part: part.is_said):  # what nobody said is left out first
        without = part.drop(left)
        if _can_be(without, table, draws):
            kept.append(part)
        else:
            left = without
    gives = (_give(part, part.drop(wish), table, draws) for part in kept)
    return Conflict(tuple(part.words for part in kept), tuple(filter(None, gives)))


def _parts(wish: Wish, table: OilTable) -> list[_Part]:
    def without(limit: Limit) -> Callable[[Wish], Wish]:
        return lambda w: replace(w, limits=tuple(each for each in w.limits if each != limit))

    found = [_Part(limit.words, without(limit), "it may set", limit) for limit in wish.limits]
    if wish.skin:
        found.append(
            _Part(f"suits {wish.skin} skin", lambda w: replace(w, skin=""), f"for other skin than {wish.skin}")
        )
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


def _can_be(wish: Wish, table: OilTable, draws: Draws) -> bool:
    dive = dive_for(wish, table, draws)
    return dive is not None and dive.best(Objective.STEADIEST) is not None


def _give(part: _Part, loosened: Wish, table: OilTable, draws: Draws) -> str:
    """How far a part alone must give for the rest to be kept; nothing where that does not help."""
    limit = part.limit
    if limit is None or limit.figure == "clear":
        return f"or {part.instead}" if _can_be(loosened, table, draws) else ""
    furthest = _furthest(limit, loosened, table, draws)
    if furthest is None:
        return ""
    name, unit = loosened.titled(limit.figure)
    return f"or {name} {furthest:.3g} {unit}".strip()


def _furthest(limit: Limit, loosened: Wish, table: OilTable, draws: Draws) -> float | None:
    """The most, or the least, of a limit's figure among blends that keep all the others; None where there are none."""

    def asking(bound: float) -> Dive | None:
        return dive_for(replace(loosened, limits=(*loosened.limits, replace(limit, bound=bound))), table, draws)

    if limit.figure == "clog":
        ratings = np.unique(table.clog[table.clog > limit.bound])
        can = (dive is not None and dive.best(Objective.STEADIEST) is not None for dive in map(asking, ratings))
        return next((float(rating) for rating, it_can in zip(ratings, can, strict=True) if it_can), None)
    dive = asking(0.0 if limit.at_least else LOOSE)
    if dive is None:
        return None
    ratio = ratio_of(limit.figure, loosened, table)
    if ratio is None:  # how long it keeps
        found = dive.longest()
        return None if found is None else dive.promised(found)
    found = dive.most(ratio if limit.at_least else Ratio(-ratio.over, ratio.under))
    if found is None:
        return None
    return exp(ratio.of(found)) if limit.figure == "thickness" else ratio.of(found)
