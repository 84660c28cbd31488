"""Blends that keep a wish: one for each thing that can be best, and clearly different ones.

A blend that keeps long enough, and is clear, is dived for: where the best by the rows is not, the row along which its
months grow is added, and it is solved again; then it is polished in the company of its own oils. Nothing here proves
that no better blend is.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from uptide.core.arrays import Array, BoolArray
from uptide.core.finder.search.boxes import Boxes, Most
from uptide.core.finder.search.keeping import Keeping
from uptide.core.finder.search.lots import LotRows
from uptide.core.finder.search.oil_table import OilTable
from uptide.core.finder.search.rows import Ratio, rows_of
from uptide.core.finder.search.setting import Setting
from uptide.core.finder.search.solving import MOST_ROOM, Program
from uptide.core.finder.search.wish import Objective, Wish
from uptide.core.oxidation.simulate import Draws

DIVES, POLISHED, CLIMBS = 8, 12, 8  # times
ENOUGH = 5e-3  # months that are aimed at beyond what was asked, so that whole months are whole
SHORT = 0.05  # months that a dive asks for beyond, since months bend away from their tangent
BIG = 0.10  # g/g: oils that make a blend another one
TIGHTENED, SPARE = 10, 0.02  # times that limits are tightened for lots; of the lots, beyond what is asked
RESTARTS, WORTH = 3, 2e-3  # dives from the best that was found, while each betters it by so much of it
CLOSE = 0.01  # of a ratio: nearer, boxes are not looked into
WORTH_ROOM = 0.05  # felt steps: the same, for room
AT_ONCE = 0.25  # months: what turns sooner is as urgent
SMALL = 1e-4  # of a share: nearer, polishing ends
RATIOS = 4  # times that a ratio is bettered
Aim = Ratio | None  # what there is to be most of; None: as much room as can be in every limit


@dataclass(frozen=True, eq=False)
class Answer:
    """A blend that keeps a wish: what it is best at, the shares of its oils [g/g], and the months it keeps."""

    objective: Objective
    shares: Array
    months: float

    @property
    def places(self) -> tuple[int, ...]:
        """Its oils, by their places in the table, the largest first."""
        return tuple(int(place) for place in np.argsort(-self.shares) if self.shares[place] > 0)


def _go_on() -> None:
    """Nobody ends the search."""


def dive_for(
    wish: Wish,
    table: OilTable,
    draws: Draws,
    shown: tuple[tuple[int, ...], ...] = (),
    go_on: Callable[[], None] = _go_on,
) -> Dive | None:
    """What looks for answers to a wish; None where an oil that must be in it is none of those there are.

    `go_on` is asked before each step; what it raises ends the search.
    """
    must = {place: share for key, share in wish.must.items() if (place := table.place(key)) is not None}
    if not len(table) or len(must) < len(wish.must):
        return None
    return Dive(
        wish, table, Keeping(table, wish, draws, go_on), Program(wish, rows_of(wish, table), must, shown, go_on=go_on)
    )


@dataclass(eq=False)
class Dive:
    """Looks for blends that keep one wish, among the oils of one table."""

    wish: Wish
    table: OilTable
    keeping: Keeping
    program: Program

    @cached_property
    def lots(self) -> LotRows:
        """Its limits on acids, over the lots that the oils may come as."""
        return LotRows.of(self.wish, self.table)

    def answer(self, objective: Objective) -> Answer | None:
        """The blend that is best at one thing, as far as it is found; None where none is.

        Where limits must hold over lots, they are tightened where the best holds in too few, and it is looked for anew.
        """
        dive, part = self, self.wish.lots
        for _ in range(TIGHTENED if part else 1):
            found = dive.longest() if objective is Objective.LONGEST else dive.best(objective)
            if found is None:
                return None
            if self.holds_in_lots(found):
                return Answer(objective, found, self.keeping.months(found))
            more = self.lots.tangents(found, part + SPARE)
            dive = replace(dive, program=replace(dive.program, more=(*dive.program.more, *more)))
        return None

    def for_typical_lots(self) -> Dive:
        """The same where limits on the make-up must hold for typical lots alone."""
        return replace(self, wish=replace(self.wish, lots=0.0))

    def holds_in_lots(self, shares: Array) -> bool:
        """Whether limits on its make-up hold in as many lots as was asked."""
        return not self.wish.lots or self.lots.held(shares) >= self.wish.lots

    def best(self, objective: Objective) -> Array | None:
        """Dive for the best by a row, and polish it."""
        if objective is Objective.FEWEST:
            for count in range(self.wish.fewest, self.wish.most + 1):
                fewer = replace(self.program, wish=replace(self.wish, most=count))
                found = replace(self, program=fewer).best(Objective.STEADIEST)
                if found is not None:
                    return found
            return None
        return self.for_objective(objective).most(self.aim(objective))

    def for_objective(self, objective: Objective) -> Dive:
        """The same among the oils that it may be of: what has no price is not cheapest, what is over not used up."""
        if objective is Objective.CHEAPEST:
            return self._among(~np.isnan(self.table.price))
        return self._among(self._alone > 0) if objective is Objective.USES_UP else self

    def exists(self) -> bool:
        """Whether a blend is found that keeps the wish."""
        return self._anchor is not None

    def most(self, aim: Aim) -> Array | None:
        """Dive for the most of a ratio, and polish it; None where nothing keeps the wish."""
        found = self._dived(aim, [], None)
        if found is None and (anchor := self._anchor) is not None:
            found = self._from(aim, anchor)
        worth = self.room if aim is None else aim.of
        least = WORTH_ROOM if aim is None else 0.0
        for _ in range(RESTARTS if self.keeping.is_asked else 0):
            if found is None:
                break
            again = self._from(aim, found)
            if again is None or worth(again) <= worth(found) + max(least, WORTH * abs(worth(found))):
                break
            found = again
        return found

    def furthest(self, aim: Ratio, near: Array | None = None) -> Array | None:
        """The most of a ratio, looked for `near` a blend and in boxes as well; None where there is none."""
        tried = [self.most(aim)]
        if near is not None and self.holds(near):
            tried += [near, self._from(aim, near)]
        found = max((each for each in tried if each is not None), key=aim.of, default=None)
        if found is None:
            return None
        gain, close = aim.over - aim.of(found) * aim.under, CLOSE * abs(aim.of(found)) * float(aim.under.mean())
        met = self.boxes().most(gain, 0.0, close).met
        tried = [found] if met is None else [found, met, self._from(aim, met)]
        return max((each for each in tried if each is not None), key=aim.of)

    def _from(self, aim: Aim, start: Array) -> Array | None:
        """Dive from a blend that keeps the wish."""
        rows = [self.keeping.row(start, self.wish.months)] if self.keeping.is_asked else []
        return self._dived(aim, rows, start)

    def _dived(self, aim: Aim, learnt: list[Array], kept: Array | None) -> Array | None:
        """Solve, learn from what falls short, and solve again; at the end the best that was kept, polished."""
        found = self._by(aim, learnt)
        for _ in range(DIVES):
            if found is None:
                break
            rows = self._learn(found, SHORT)
            if not rows:
                kept = found
                break
            learnt = [*learnt, *rows]
            found = self._by(aim, learnt)
        return None if kept is None else self._polished(kept, aim)

    @cached_property
    def _looked_into(self) -> Most:
        return self.boxes().any()

    @property
    def is_impossible(self) -> bool:
        """Whether it is shown that no blend keeps the wish, whatever it should be best at."""
        return self._looked_into.is_none

    @cached_property
    def _anchor(self) -> Array | None:
        """A blend that keeps the wish, from which to look on; None where none is met."""
        found = self._looked_into
        if found.met is not None or found.is_none:
            return found.met
        longest = self._longest_by_model()
        return longest if longest is not None and self.holds(longest) else None

    def with_room(self, rows: Sequence[Array]) -> Array | None:
        """The shares with the most room in rows of their own, of those that keep the wish; None where none is found."""
        learnt: list[Array] = []
        for _ in range(DIVES):
            found = self.program.best(np.zeros(len(self.table)), [*rows, *learnt], room=1.0)
            more = [] if found is None else self._learn(found, SHORT)
            if found is None or not more:
                return found
            learnt += more
        return None

    def longest(self) -> Array | None:
        """The longest keeping, by the model and by the dates of what is poured.

        Oils are left out that end sooner and sooner, until what ends sooner could not better what was found.
        """
        best, worth = None, -np.inf
        ends = np.unique(self.table.lasts[self.program.rows.most > 0])[::-1]
        for end in ends:
            if end <= worth:
                break
            found = self._among(self.table.lasts >= end)._longest_by_model()
            if found is not None and (promised := self.promised(found)) > worth:
                best, worth = found, promised
        return best

    def promised(self, shares: Array) -> float:
        """Months that it keeps, or until the first date of what is in it [months]."""
        return min(self.keeping.months(shares), float(self.table.lasts[shares > 0].min()))

    def lasting(self, months: float) -> Dive:
        """The same among the oils whose suppliers' dates let them keep so long."""
        return self._among(self.table.lasts >= months)

    def boxes(self, months: float | None = None, more: Sequence[Array] = ()) -> Boxes:
        """Bounds on blends that keep the wish, or so many months, and more rows."""
        asked = self.wish.months if months is None else months
        return Boxes(self.program, self.keeping, cloudy=self.cloudy, months=asked, more=list(more))

    def room(self, shares: Array) -> float:
        """How many felt steps every limit has to spare in a blend."""
        months = self.keeping.months(shares) - self.wish.months if self.keeping.is_asked else MOST_ROOM
        return float(min(self.room_in_rows(shares[None])[0], months))

    def room_in_rows(self, blends: Array) -> Array:
        """The same of several blends (blends x oils), in what is a row, which how long they keep is not."""
        rows = self.program.rows
        felt = rows.units > 0
        return np.asarray((blends @ rows.all_of[felt].T / rows.units[felt]).min(axis=1, initial=MOST_ROOM))

    def _among(self, allowed: BoolArray) -> Dive:
        """The same among some of the oils."""
        rows = self.program.rows
        return replace(self, program=replace(self.program, rows=replace(rows, most=np.where(allowed, rows.most, 0.0))))

    def _longest_by_model(self) -> Array | None:
        """By the induction time first, then along its own slope among its own oils."""
        found = self._ratio(self.table.keeping[:, 0], self.table.keeping[:, 1] + 1e-9, [])
        if found is None:
            return None
        for _ in range(DIVES):
            rows = [row for row in (self.cloudy(found),) if row is not None]
            if not rows:
                break
            found = self.program.best(self.table.keeping[:, 0], rows)
            if found is None:
                return None
        start = self._climbed(found, self.program.within(_places(found)))
        wider = self._climbed(start, self.program)
        return wider if self.holds(wider) else start if self.holds(start) else None

    def _climbed(self, shares: Array, program: Program) -> Array:
        for _ in range(CLIMBS):
            ahead = program.best(self.keeping.slope(shares))
            if ahead is None:
                break
            tried = [ahead]
            if set(_places(ahead)) == set(_places(shares)):
                tried += [shares + part * (ahead - shares) for part in (0.5, 0.2)]
            clear = [each for each in tried if self.cloudy(each) is None]
            better = max(clear, key=self.keeping.months, default=shares)
            if self.keeping.months(better) <= self.keeping.months(shares) + ENOUGH:
                break
            shares = better
        return shares

    def aim(self, objective: Objective) -> Aim:
        """The ratio that an objective is the most of; None for room, which is none."""
        table = self.table
        if objective is Objective.CHEAPEST:
            return Ratio(-np.nan_to_num(table.price), table.volume)
        if objective is Objective.USES_UP:
            return Ratio(self._urgency, np.ones(len(table)))
        if objective is Objective.LIGHTEST:
            return Ratio(-np.nan_to_num(table.feel, nan=4.0), np.ones(len(table)))
        return None

    @cached_property
    def _alone(self) -> Array:
        """How long each oil keeps by itself [months]; 0 of what is over."""
        return np.array([self.keeping.months(shares) for shares in np.eye(len(self.table))])

    @property
    def _urgency(self) -> Array:
        """How urgent it is to use an oil up [1/month]: by how long it keeps alone, or until its supplier's date."""
        return np.asarray(1 / np.maximum(np.minimum(self._alone, self.table.lasts), AT_ONCE))

    def _by(self, aim: Aim, learnt: list[Array]) -> Array | None:
        if aim is None:
            return self.program.best(np.zeros(len(self.table)), learnt, room=1.0)
        if np.ptp(aim.under) == 0:
            return self.program.best(aim.over, learnt)
        return self._ratio(aim.over, aim.under, learnt)

    def _ratio(self, over: Array, under: Array, learnt: list[Array]) -> Array | None:
        """The most of a ratio of two sums: solved again with the ratio that was found, until it grows no more."""
        found, worth = None, -np.inf
        guess = float(over.max() / under.mean()) if over.max() < 0 else 0.0
        for _ in range(RATIOS):
            ahead = self.program.best(over - guess * under, learnt)
            if ahead is None:
                return found
            guess = float(over @ ahead / (under @ ahead))
            if guess <= worth + 1e-9:
                break
            found, worth = ahead, guess
        return found

    def _learn(self, shares: Array, beyond: float) -> list[Array]:
        """Rows for what a blend falls short of; none where it keeps long enough and is clear."""
        rows = []
        if self.keeping.is_asked and self.keeping.months(shares) < self.wish.months:
            rows.append(self.keeping.row(shares, self.wish.months + beyond))
        cloudy = self.cloudy(shares)
        return rows if cloudy is None else [*rows, cloudy]

    def _polished(self, shares: Array, aim: Aim) -> Array | None:
        """The best of its own oils, by the tangent where it stands, until it keeps exactly as long as was asked."""
        own = replace(self, program=self.program.within(_places(shares)))
        kept = shares if self.holds(shares) else None
        for _ in range(POLISHED if self.keeping.is_asked else 0):
            ahead = own._by(aim, [self.keeping.row(shares, self.wish.months + ENOUGH)])
            if ahead is None or np.abs(ahead - shares).max() < SMALL:
                break
            shares = ahead
            if self.holds(shares):
                kept = shares
        return kept

    def holds(self, shares: Array) -> bool:
        """Whether a blend keeps as long as it was asked to, and is clear, or as solid as was asked."""
        long_enough = not self.keeping.is_asked or self.keeping.months(shares) >= self.wish.months
        return long_enough and self.cloudy(shares) is None

    def cloudy(self, shares: Array) -> Array | None:
        """A row along which it is clearer, or as solid as was asked, where it is not; None where it is."""
        return self._setting.unmet(shares)

    @cached_property
    def _setting(self) -> Setting:
        return Setting(self.wish, self.table, self.program.rows.most)


def _places(shares: Array) -> list[int]:
    return [int(place) for place in np.flatnonzero(shares > 0)]
