"""Answers beside one another: what each gives up for what it is best at, and how near it is to the best there is."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from math import inf
from typing import NamedTuple

from uptide.core.finder.search.bounding import Bound
from uptide.core.finder.search.offers import Offer
from uptide.core.finder.search.wish import Objective, Wish
from uptide.core.tolerance import reaches

MOST_SAID = 3
OF_A_COST = 0.1  # of the cheapest: a step that is felt; policy
AS_GOOD = 0.5  # percent: no better than this is as good as the best


class _Axis(NamedTuple):
    """What answers are compared by: its value in one, a step that is felt, and what it is to have so much less good."""

    value: Callable[[Offer, Wish], float | None]
    step: float  # of the figure; for a cost, of the best
    said: str
    more_is_better: bool = False


def _figure(name: str) -> Callable[[Offer, Wish], float | None]:
    return lambda offer, wish: offer.figure(name, wish)


AXES = (
    _Axis(_figure("keeps"), 1.0, "keeps {:.1f} months less", more_is_better=True),
    _Axis(_figure("feel"), 0.4, "feels {:.1f} of 4 heavier"),
    _Axis(_figure("cost"), OF_A_COST, "costs {:.2f} {} more"),
    _Axis(lambda offer, _: float(len(offer.recipe.entries)), 1.0, "{:.0f} oils more"),
    _Axis(lambda offer, _: offer.room, 0.5, "{:.1f} felt steps less to spare", more_is_better=True),
)


def gives_up(offer: Offer, found: Sequence[Offer], wish: Wish) -> str:
    """What an answer is worse in than the best of the others, where that is felt, the most of it first."""
    said = sorted(_worse(offer, found, wish), reverse=True)[:MOST_SAID]
    return "; ".join(words for _, words in said)


def _worse(offer: Offer, found: Sequence[Offer], wish: Wish) -> Iterator[tuple[float, str]]:
    """How many felt steps it is worse in something, and that in words."""
    for axis in AXES:
        mine = axis.value(offer, wish)
        others = [value for each in found if (value := axis.value(each, wish)) is not None]
        if mine is None or not others:
            continue
        best = max(others) if axis.more_is_better else min(others)
        step = axis.step * best if axis.step == OF_A_COST else axis.step
        apart = abs(best - mine)
        if reaches(apart, step):
            words = axis.said.format(apart, wish.currency)
            yield apart / step, words.replace("1 oils", "1 oil")


def bound_said(offer: Offer, bound: Bound, wish: Wish) -> str:
    """How much better than an answer a blend could be that keeps all that was asked, at the most."""
    if bound.value is None:
        return "Not shown: how much better another could be is not known"
    return f"Shown: none {_bounded(offer, bound.objective, bound.value, wish)}"


def lots_said(offer: Offer, wish: Wish) -> str:
    """What it costs that limits hold for so many lots, in what the answer is best at; nothing where nobody asked."""
    typical = offer.for_typical_lots() if wish.lots else None
    if typical is None:
        return ""
    dive, own = offer.dive, offer.answer
    match offer.objective:
        case Objective.LONGEST:
            costs = f"{max(0.0, typical.months - own.months):.1f} months"
        case Objective.STEADIEST:
            costs = f"{max(0.0, dive.room(typical.shares) - dive.room(own.shares)):.1f} felt steps of room"
        case Objective.FEWEST:
            costs = f"{max(0, len(own.places) - len(typical.places))} oils"
        case _:
            aim = dive.aim(offer.objective)
            less = 0.0 if aim is None else max(0.0, aim.of(typical.shares) - aim.of(own.shares))
            costs = {
                Objective.CHEAPEST: f"{less * wish.millilitres:.2f} {wish.currency}",
                Objective.LIGHTEST: f"{less:.2f} of 4 of feel",
            }.get(offer.objective, f"{less:.2f} a month of what turns first")
    return f"Holding for {100 * wish.lots:.0f} lots in a hundred costs {costs}"


def _bounded(offer: Offer, objective: Objective, value: float, wish: Wish) -> str:
    match objective:
        case Objective.FEWEST:
            return f"has fewer than {value:.0f}"
        case Objective.LONGEST:
            return f"keeps longer than {value:.1f} months"
        case Objective.STEADIEST:
            own = max(0.0, offer.room)
            return f"has more than {value:.1f} felt steps to spare in every limit; this has {own:.1f}"
        case Objective.CHEAPEST:
            return f"costs less than {value:.2f} {wish.currency}{_less(offer.figure('cost', wish), value)}"
        case Objective.USES_UP:
            return f"uses up more than {_more(offer, value):.0f} % more of what turns first"
        case Objective.LIGHTEST:
            return f"feels lighter than {value:.2f} of 4{_less(offer.figure('feel', wish), value)}"


def _more(offer: Offer, bound: float) -> float:
    aim = offer.dive.aim(Objective.USES_UP)
    used = aim.of(offer.shares) if aim is not None else 0.0
    return 100 * max(0.0, bound / used - 1) if used else inf


def _less(shown: float | None, least: float) -> str:
    percent = 100 * (shown - least) / shown if shown else inf
    if percent == inf:
        return ""
    return f", {percent:.0f} % less" if reaches(percent, AS_GOOD) else ", and this is as good"
