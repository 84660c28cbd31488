"""A batch rounded to what a scale can show: restricted things down, and the largest free carrier takes the rest."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from math import sqrt

from uptide.core.errors import QuantityError

STEPS_G = (0.01, 0.1, 1.0)  # what kitchen and bench scales show
REPEATS, READS = 0.4, 2  # of a step: how a scale repeats itself (assumption); readings of one pour
SURE = 2.0  # standard deviations that 95 of 100 stay within, rounded
DROP_SPREAD, CALIBRATED = 0.10, 0.04  # of a drop, and of a calibrated dropper; assumption
WANTED = 0.05  # of an amount: how well it should be known
DILUTION = 10  # times as much of a tenth as of the thing itself
WHOLE_DROP = 0.005  # of a drop: so near the next one, it is that one and its grams were rounded
MG = 1000.0


class How(StrEnum):
    """How an amount is measured out."""

    WEIGHED = "weighed"
    DROPS = "drops"
    DILUTED = "10 % dilution"


@dataclass(frozen=True, slots=True)
class Target:
    """An amount as it should be [mg], and how it is measured; `exact_mg` is what the recipe asks for.

    Of what is measured as a dilution `mg` is what is weighed, a tenth of it the thing itself.
    """

    exact_mg: float
    restricted: bool
    mg: int = 0
    how: How = How.WEIGHED
    drops: int = 0
    said: str = ""  # what has to be known of it

    @property
    def holds_mg(self) -> int:
        """What of the thing itself it holds [mg]."""
        return round(self.mg / DILUTION) if self.how is How.DILUTED else self.mg


def of_one_pour(step_g: float) -> float:
    """How well one pour is known [g], 95 %: two readings, each rounded, and how the scale repeats itself.

    >>> round(of_one_pour(0.01), 4)
    0.014
    """
    return SURE * step_g * sqrt(READS / 12 + READS * REPEATS**2)


def by_scale(grams: float, step_g: float) -> float:
    """How well an amount is known once it was weighed, as a part of it.

    >>> [round(100 * by_scale(0.3315, step), 1) for step in (0.01, 0.1)]
    [4.2, 42.1]
    """
    return of_one_pour(step_g) / grams


def by_drops(count: int) -> float:
    """How well so many drops of a calibrated dropper are known, as a part of them.

    >>> round(100 * by_drops(12), 1)
    9.9
    """
    return SURE * sqrt(DROP_SPREAD**2 / count + CALIBRATED**2)


def least_weighed(step_g: float) -> float:
    """The least that a scale weighs well enough [g].

    >>> round(least_weighed(0.1), 1)
    2.8
    """
    return of_one_pour(step_g) / WANTED


def round_to_scale(
    targets: Sequence[Target], step_g: float, drop_mg: Sequence[float], small: How = How.DROPS
) -> tuple[Target, ...]:
    """Round every amount to what can be measured; together they come to a multiple of the step, but for drops.

    Args:
        targets: what the recipe asks for, in its order.
        step_g: what the scale shows [g].
        drop_mg: what a drop of each weighs [mg]; 0 for what is poured and neither dropped nor diluted.
        small: how what the scale cannot weigh well is measured.

    Raises:
        QuantityError: a scale that is none, or nothing that could take the rest.
    """
    if step_g not in STEPS_G:
        raise QuantityError(f"A scale that shows {step_g:g} g is not known; {', '.join(map(str, STEPS_G))} are.")
    step = round(step_g * MG)
    found = [_rounded(each, step, drop, small) for each, drop in zip(targets, drop_mg, strict=True)]
    free = [place for place, each in enumerate(found) if not each.restricted and each.how is How.WEIGHED]
    if not free:
        return tuple(found)
    takes = max(free, key=lambda place: found[place].exact_mg)
    whole = round(sum(each.exact_mg for each in targets) / step) * step
    others = sum(each.mg for place, each in enumerate(found) if place != takes)
    rest = round((whole - others) / step) * step
    if rest <= 0:
        raise QuantityError("The pre-dilutions take more carrier than the recipe has: count drops instead.")
    found[takes] = replace(found[takes], mg=rest)
    return tuple(found)


def _rounded(target: Target, step: int, drop_mg: float, small: How) -> Target:
    step_g = step / MG
    steps = target.exact_mg / step
    mg = int(steps + 1e-9) * step if target.restricted else round(steps) * step
    if target.exact_mg / MG >= least_weighed(step_g):
        return replace(target, mg=mg)
    doubt = f"{100 * by_scale(target.exact_mg / MG, step_g):.0f} %" if target.exact_mg else "any part"
    why = f"a scale of {step_g:g} g would know {target.exact_mg / MG:.3g} g to {doubt} only"
    if small is How.DROPS and drop_mg > 0:
        count = int(target.exact_mg / drop_mg + WHOLE_DROP) if target.restricted else round(target.exact_mg / drop_mg)
        if count:
            said = f"{count} drops, known to {100 * by_drops(count):.0f} %: {why}"
            return replace(target, mg=round(count * drop_mg), how=How.DROPS, drops=count, said=said)
    if small is How.DILUTED and drop_mg > 0:
        tenfold = int(DILUTION * steps + 1e-9) * step
        if tenfold:
            known = 100 * by_scale(tenfold / MG, step_g)
            said = f"{tenfold / MG:g} g of a 10 % dilution in the carrier, known to {known:.0f} %: {why}"
            return replace(target, mg=tenfold, how=How.DILUTED, said=said)
    nothing = "it is left out: " if mg == 0 else ""
    return replace(target, mg=mg, said=f"{nothing}{why}")
