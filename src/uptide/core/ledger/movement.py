"""What moved in and out of a lot, in whole milligrams: floats that run up and down never come back to nothing."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from uptide.core.errors import QuantityError

MOST_MG = 10**9  # a tonne
PER_GRAM = 1000  # mg
FOUND = "found in the container: more was in it than the ledger had"
BEFORE = "used before the ledger"


class MovementKind(StrEnum):
    """Why something moved."""

    RECEIVE = "receive"
    USE = "use"
    ADJUST = "adjust"
    DISCARD = "discard"
    MAKE = "make"
    RETURN = "return"


COMES = frozenset({MovementKind.RECEIVE, MovementKind.MAKE, MovementKind.RETURN})
GOES = frozenset({MovementKind.USE, MovementKind.DISCARD})
REASONED = frozenset({MovementKind.ADJUST, MovementKind.DISCARD})  # nobody may wonder later why


@dataclass(frozen=True, slots=True)
class Movement:
    """Something that came into a lot or went out of it [mg, below nothing where it went], and why.

    Raises:
        QuantityError: an amount that cannot be, of the wrong sign, or without a reason where one is needed.
    """

    kind: MovementKind
    mg: int
    reason: str = ""

    def __post_init__(self) -> None:
        if not 0 < abs(self.mg) <= MOST_MG:
            raise QuantityError(f"{grams(self.mg):g} g cannot move; from 0.001 g to a tonne can.")
        if (self.kind in COMES and self.mg < 0) or (self.kind in GOES and self.mg > 0):
            raise QuantityError(f"{grams(self.mg):+g} g cannot be “{self.kind.value}”.")
        if self.kind in REASONED and not self.reason.strip():
            raise QuantityError(f"Say why: “{self.kind.value}” needs a reason.")

    @property
    def undone(self) -> Movement:
        """What takes it back: as much the other way."""
        kind = MovementKind.RETURN if self.kind is MovementKind.USE else MovementKind.ADJUST
        return Movement(kind, -self.mg, f"taken back: {self.reason or self.kind.value}")


def milligrams(amount: float) -> int:
    """Grams as whole milligrams.

    >>> milligrams(0.3) - 3 * milligrams(0.1)
    0
    """
    return round(amount * PER_GRAM)


def grams(mg: int) -> float:
    """Milligrams as grams."""
    return mg / PER_GRAM


def balance(movements: Iterable[Movement]) -> int:
    """What is left after them all [mg]."""
    return sum(each.mg for each in movements)


def opening(bought_mg: int, left_mg: int, came_as: MovementKind = MovementKind.RECEIVE) -> tuple[Movement, ...]:
    """The first movements of a lot that is known by what came and what is left of it.

    >>> [each.mg for each in opening(920_000, 210_000)]
    [920000, -710000]
    """
    came = (Movement(came_as, bought_mg),) if bought_mg else ()
    return (*came, *counted(bought_mg, left_mg, BEFORE))


def counted(known_mg: int, left_mg: int, reason: str) -> tuple[Movement, ...]:
    """What puts the ledger right once somebody counted; nothing where it is right."""
    return (Movement(MovementKind.ADJUST, left_mg - known_mg, reason),) if left_mg != known_mg else ()


def taken(left_mg: int, wanted_mg: int, reason: str) -> tuple[Movement, ...]:
    """What was really taken, though the ledger may have less: the scale is right, and what was found is said.

    >>> [(each.kind.value, each.mg) for each in taken(12_000, 15_000, "batch 1")]
    [('adjust', 3000), ('use', -15000)]
    """
    found = max(0, wanted_mg - left_mg)
    more = (Movement(MovementKind.ADJUST, found, FOUND),) if found else ()
    return (*more, Movement(MovementKind.USE, -wanted_mg, reason))


def check_left(left_mg: int, movement: Movement) -> int:
    """What is left after a movement [mg]; raise QuantityError where less than nothing would be, without a reason."""
    after = left_mg + movement.mg
    if after < 0 and movement.kind is not MovementKind.ADJUST:
        raise QuantityError(
            f"{grams(left_mg):.2f} g are left and {grams(-movement.mg):.2f} g are asked for: {grams(-after):.2f} g are "
            "missing."
        )
    return after
