"""What passes from plant into oil, and when: progress of what dissolves at all, strength, and a second infusion.

Times and parts are assumptions, × or ÷ 4. What is firm is how much faster a warm jar is, which follows from the
viscosity of the oil: a few hours in a bath do not equal weeks. Progress is shown as “about done by”, never as a share
that was extracted.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import Enum
from math import exp, fsum

from uptide.core.physics.viscosity import viscosity_at

ROOM = 20.0  # °C
KELVIN = 273.15
DONE = 0.95  # of what will dissolve: from here on it is called done
REFERENCE_VISCOSITY = 80.0  # mPa s at 20 °C of a common oil; the ratio is what counts
LONGEST = 24 * 365.0  # h


@dataclass(frozen=True, slots=True)
class ExtractionClass:
    """How a plant gives what it has: part that washes off, and the time constants of that and of the rest [h]."""

    key: str
    washes_off: float
    washing_hours: float
    diffusing_hours: float


CLASSES: Mapping[str, ExtractionClass] = {
    each.key: each
    for each in (
        ExtractionClass("powder", 0.5, 0.25, 2.0),
        ExtractionClass("leaf", 0.4, 2.0, 36.0),
        ExtractionClass("heads", 0.3, 4.0, 112.0),
        ExtractionClass("seed", 0.2, 6.0, 112.0),
        ExtractionClass("root", 0.2, 6.0, 254.0),
    )
}


class Mixing(float, Enum):
    """How much faster than a jar that is shaken daily; assumption."""

    UNSHAKEN = 1 / 3
    SHAKEN_DAILY = 1.0
    STIRRED = 2.0


def speed(celsius: float) -> float:
    """How many times faster than at 20 °C it diffuses (Stokes-Einstein, by the viscosity of the oil).

    >>> round(speed(50), 2)
    3.32
    """
    thinner = REFERENCE_VISCOSITY / viscosity_at(REFERENCE_VISCOSITY, ROOM, celsius)
    return (celsius + KELVIN) / (ROOM + KELVIN) * thinner


@dataclass(frozen=True, slots=True)
class Steep:
    """Some hours at a temperature [°C], moved in some way."""

    celsius: float
    hours: float
    mixing: Mixing = Mixing.SHAKEN_DAILY


def equivalent_hours(steps: Iterable[Steep]) -> float:
    """A history as hours at 20 °C, shaken daily: splitting it changes nothing."""
    return fsum(step.hours * speed(step.celsius) * step.mixing for step in steps)


def progress(kind: ExtractionClass, hours: float) -> float:
    """Part of what will dissolve at all that has, after so many equivalent hours.

    >>> round(100 * progress(CLASSES["leaf"], 72), 2)
    91.88
    """
    rest = 1 - kind.washes_off
    return 1 - kind.washes_off * exp(-hours / kind.washing_hours) - rest * exp(-hours / kind.diffusing_hours)


def done_after(kind: ExtractionClass, share: float = DONE) -> float:
    """Equivalent hours until so much of what will dissolve has.

    >>> round(done_after(CLASSES["heads"], 0.8) / 24, 1)
    5.8
    """
    low, high = 0.0, LONGEST
    while high - low > 1e-6:
        middle = (low + high) / 2
        low, high = (middle, high) if progress(kind, middle) < share else (low, middle)
    return high


@dataclass(frozen=True, slots=True)
class Addition:
    """Dry herb [g] that went in, and how far it has come [0 to 1]."""

    dry_grams: float
    progress: float = 1.0


def strength(additions: Iterable[Addition], oil_grams: float) -> float:
    """Dry herb that has passed over, per gram of oil [g/g]."""
    return fsum(each.dry_grams * each.progress for each in additions) / oil_grams


def concentration(
    plant_grams: float, oil_grams: float, *, carried: float = 0.0, partition: float = float("inf")
) -> float:
    """What is dissolved per gram of oil once plant and oil are in balance, in units of what a gram of plant brings.

    Args:
        plant_grams: fresh charge of plant [g].
        oil_grams: oil [g].
        carried: what the oil holds already, per gram, in the same units.
        partition: how much rather it is in oil than in plant, per gram; without an end all of it passes over.
    """
    return (plant_grams + carried * oil_grams) / (oil_grams + plant_grams / partition)


def second_infusion(
    first: float, second: float, oil_grams: float, keeps: float, partition: float = float("inf")
) -> float:
    """How many times stronger an oil is after a second charge of plant, of which `keeps` g/g of oil stay in the first.

    >>> round(second_infusion(100, 100, 800, 1.2), 3), round(second_infusion(100, 85, 800, 1.2), 3)
    (2.176, 2.0)
    """
    once = concentration(first, oil_grams, partition=partition)
    left = oil_grams - keeps * first
    return concentration(second, left, carried=once, partition=partition) / once


def spent_again(parts: float, keeps: float) -> float:
    """How strong new oil on strained plant is, of the first: `parts` of oil to one of plant that keeps so much [g/g].

    >>> round(100 * spent_again(8, 2.5), 2), round(100 * spent_again(8, 1.2), 2)
    (23.81, 13.04)
    """
    return keeps / (parts + keeps)


def bound(share: float, charges: Iterable[tuple[float, float]]) -> float:
    """The most of a substance that can be in the oil [g/g]: all of it passes over, plant and oil in balance.

    Args:
        share: of the substance in the plant [g/g].
        charges: each plant and the oil it stood in [g, g].

    >>> round(100 * bound(0.18 * 0.85, [(1, 12)]), 3)
    1.275
    """
    return share * fsum(plant / oil for plant, oil in charges)
