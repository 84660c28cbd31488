"""Too much went in: what can be done about it, and what each way would make of the batch.

With ρ the most that anything is over (poured / wanted), a part f of the mixture taken out and the recipe scaled by k,
every share is right again where k = (1 − f)·ρ.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from uptide.core.errors import QuantityError

WORTH = 0.02  # of a pour: less too much is not worth doing anything about
SCALE_DOUBT = 1.4  # steps of the scale: what one pour is known to
HALF = 0.5


class Way(StrEnum):
    """What is done about too much."""

    SCALE = "make more of it"
    ACCEPT = "leave it as it is"
    TAKE_OUT = "take some out and go on"
    BETWEEN = "take a little out and make a little more"
    THIN = "thin it with carriers alone"


@dataclass(frozen=True, slots=True)
class Remedy:
    """A way out: what is taken of the mixture first, and what each line then should be in all [mg]."""

    way: Way
    removed_mg: int
    targets: tuple[int, ...]
    scale: float  # times the recipe

    @property
    def total_mg(self) -> int:
        """What the batch then weighs."""
        return sum(self.targets)


def over(wanted: Sequence[int], poured: Sequence[int]) -> float:
    """The most that anything is over: ρ, and 1 where nothing is.

    >>> round(over([120_000, 60_000], [120_200, 66_000]), 3)
    1.1
    """
    return max([1.0, *(have / want for want, have in zip(wanted, poured, strict=True) if want)])


def is_worth_saying(wanted_mg: int, poured_mg: int, step_mg: int) -> bool:
    """Whether a pour is over by more than what a scale cannot see and nobody would mind."""
    return poured_mg - wanted_mg > max(SCALE_DOUBT * step_mg, WORTH * wanted_mg)


def remedy(way: Way, wanted: Sequence[int], poured: Sequence[int], part: float = 0.0) -> Remedy:
    """Work a way out [all mg].

    Args:
        way: what is done.
        wanted: what each line should be.
        poured: what is in the vessel of each.
        part: of the mixture that is taken out, where that is chosen.

    Raises:
        QuantityError: a part that cannot be taken out.
    """
    rho = over(wanted, poured)
    if way is Way.ACCEPT:
        return Remedy(way, 0, tuple(max(want, have) for want, have in zip(wanted, poured, strict=True)), 1.0)
    part = {Way.SCALE: 0.0, Way.TAKE_OUT: 1 - 1 / rho, Way.BETWEEN: part or HALF * (1 - 1 / rho)}.get(way, part)
    if not 0 <= part < 1:
        raise QuantityError(f"{100 * part:g} % of the mixture cannot be taken out; up to 100 can.")
    scale = (1 - part) * rho
    return Remedy(way, round(part * sum(poured)), tuple(round(scale * want) for want in wanted), scale)


def still_to_pour(found: Remedy, poured: Sequence[int]) -> tuple[int, ...]:
    """What of each line is then still to be poured [mg]: what was taken out took its part of everything with it.

    >>> gone = remedy(Way.TAKE_OUT, [120_000, 60_000, 18_000, 1_000, 1_000], [120_200, 66_000, 0, 0, 0])
    >>> gone.removed_mg, still_to_pour(gone, [120_200, 66_000, 0, 0, 0])
    (16927, (10727, 0, 18000, 1000, 1000))
    """
    left = 1 - found.removed_mg / sum(poured) if sum(poured) else 1.0
    return tuple(max(0, round(want - left * have)) for want, have in zip(found.targets, poured, strict=True))


def thinned(wanted: Sequence[int], poured: Sequence[int], place: int, share: float, carriers: Sequence[int]) -> Remedy:
    """More of the carriers alone, in their own proportion, until the one at `place` is a share of the whole.

    >>> wanted = [120_000, 60_000, 18_000, 1_000, 1_000]
    >>> found = thinned(wanted, [120_000, 60_000, 18_000, 1_600, 1_000], 3, 0.006, [0, 1, 2])
    >>> round((found.total_mg - 200_600) / 1000, 2)
    66.07
    """
    total = poured[place] / share
    more = total - sum(max(want, have) for want, have in zip(wanted, poured, strict=True))
    if more < 0:
        raise QuantityError(f"It is {100 * poured[place] / sum(poured):.2f} % already: no thinner than was asked for.")
    base = sum(wanted[each] for each in carriers)
    targets = [float(max(want, have)) for want, have in zip(wanted, poured, strict=True)]
    for each in carriers:
        targets[each] += more * wanted[each] / base
    return Remedy(Way.THIN, 0, tuple(round(each) for each in targets), 1.0)
