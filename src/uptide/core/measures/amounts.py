"""From a measured amount to grams, for a liquid of known density and a person of known habits."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from uptide.core.errors import QuantityError
from uptide.core.measures.grammar import Term
from uptide.core.measures.habits import CAPSULE_G, DROPS_HIGH, DROPS_LOW, IU_G, Habits
from uptide.core.measures.units import UNITS, Dimension, Unit, size_of


@dataclass(frozen=True, slots=True)
class Grams:
    """A mass [g] with the range it may lie in; `high` is what safety counts with."""

    low: float
    typical: float
    high: float

    def __add__(self, other: Grams) -> Grams:
        return Grams(self.low + other.low, self.typical + other.typical, self.high + other.high)

    def scaled(self, factor: float) -> Grams:
        """The same, this many times."""
        return Grams(self.low * factor, self.typical * factor, self.high * factor)


def unit_size(unit: Unit, habits: Habits, system: str = "") -> float:
    """Size of a spoon, cup, ounce or metric unit [mL or g] as this person means it.

    `system` is what the line itself said (us, uk, metric) and wins over the habits where the unit exists in it.
    """
    sizes = dict(unit.by_system)
    for wanted in (system, "any", habits.spoons, habits.ounces):
        if wanted in sizes:
            return size_of(sizes[wanted])
    return size_of(next(iter(sizes.values())))


def grams_of(terms: Iterable[Term], density: float, habits: Habits) -> Grams:
    """Weigh a sum of terms.

    Spoons and millilitres go through the density [g/mL]. Drops keep their doubt: `low` is for the finest dropper,
    `high` for the coarsest, unless the dropper was calibrated.

    Raises:
        QuantityError: a unit that has no size (a blob) or several (a bare ounce).
    """
    total = Grams(0, 0, 0)
    for term in terms:
        total += _weigh(term, density, habits)
    return total


def _weigh(term: Term, density: float, habits: Habits) -> Grams:
    unit = UNITS[term.unit]
    least, typical, most = _one(unit, term, density, habits)
    return Grams(term.low * least, term.typical * typical, term.high * most)


def _one(unit: Unit, term: Term, density: float, habits: Habits) -> tuple[float, float, float]:
    """Grams in one of a unit: least, typical and most."""
    match unit.dimension:
        case Dimension.VOLUME | Dimension.MASS:
            size = unit_size(unit, habits, term.system) * (density if unit.dimension is Dimension.VOLUME else 1.0)
            return size, size, size
        case Dimension.DROPS:
            drop = density / habits.drops_per_ml
            if habits.drops == "own":
                return drop, drop, drop
            return density / DROPS_HIGH, drop, max(density / DROPS_LOW, drop)
        case Dimension.HELD:
            least, taken, most = habits.in_one(unit.key)
            return least * density, taken * density, most * density
        case Dimension.CAPSULES:
            small, large = CAPSULE_G
            return small, (small + large) / 2, large
        case Dimension.IU:
            return IU_G[0], IU_G[1], IU_G[1]
        case _:
            raise QuantityError(f"“{unit.singular}” has no size of its own.")
