"""What a thermometer in a jar says: the heat that the oil really had, whether it is too hot, and what to do then."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from itertools import pairwise

from uptide.core.errors import QuantityError
from uptide.core.infusion.methods import HOTTEST, HOTTEST_RESIN, SCORCHES
from uptide.core.oxidation.history import HeatStep, lasting
from uptide.core.safety.caution import Grade

COLDEST, HOTTEST_READ = -30.0, 200.0  # °C that a thermometer in oil can say
GAP = 600.0  # s between two readings from which nobody knows what was in between; the dose is good to 0.4 % up to here
SECONDS = 3600.0  # of an hour
LEVEL = 1.0  # K: hours of like warmth are kept together


@dataclass(frozen=True, slots=True)
class Reading:
    """What a thermometer said [°C] at a moment (with its time zone); typed by hand or read by the machine.

    Raises:
        QuantityError: a temperature that no kitchen has.
    """

    at: datetime
    celsius: float
    typed: bool = False

    def __post_init__(self) -> None:
        if not COLDEST <= self.celsius <= HOTTEST_READ:
            raise QuantityError(
                f"{self.celsius:g} °C is no temperature of a jar; {COLDEST:g} to {HOTTEST_READ:g} °C can be."
            )


@dataclass(frozen=True)
class TemperatureLog:
    """The readings of a jar in the order of their moments.

    Between two readings the oil counts as warm as their mean; over a gap, as the hotter of both, and that is marked.
    """

    readings: Sequence[Reading]
    resin: bool = False
    air: float = 1.0  # how much faster the oil oxidises for the jar being open

    @cached_property
    def allowed(self) -> float:
        """The warmest that is wanted [°C]."""
        return HOTTEST_RESIN if self.resin else HOTTEST

    @cached_property
    def latest(self) -> Reading | None:
        """The newest reading."""
        return self.readings[-1] if self.readings else None

    @cached_property
    def hottest(self) -> Reading | None:
        """The hottest reading."""
        return max(self.readings, key=lambda reading: reading.celsius, default=None)

    @cached_property
    def gaps(self) -> tuple[tuple[Reading, Reading], ...]:
        """Where nobody knows how warm it was: the readings before and after."""
        return tuple((a, b) for a, b in pairwise(self.readings) if (b.at - a.at).total_seconds() > GAP)

    @cached_property
    def heat(self) -> tuple[HeatStep, ...]:
        """The heat that the oil had in the dark, in levels of a degree, the coolest first; nothing of one reading."""
        hours: defaultdict[float, float] = defaultdict(float)
        for a, b in pairwise(self.readings):
            seconds = (b.at - a.at).total_seconds()
            warm = max(a.celsius, b.celsius) if seconds > GAP else (a.celsius + b.celsius) / 2
            hours[round(warm / LEVEL) * LEVEL] += seconds / SECONDS
        levels = sorted((celsius, spent) for celsius, spent in hours.items() if spent > 0)
        return tuple(step for celsius, spent in levels for step in lasting(HeatStep(celsius, 1, air=self.air), spent))

    @cached_property
    def hours_warm(self) -> float:
        """How long it was followed [h]."""
        if len(self.readings) < 2:
            return 0.0
        return (self.readings[-1].at - self.readings[0].at).total_seconds() / SECONDS

    def says(self, celsius: float) -> tuple[Grade, str] | None:
        """What has to be done at a temperature [°C]; None where all is well."""
        if celsius > SCORCHES:
            return (
                Grade.STOP,
                f"{celsius:.0f} °C: it scorches. Take the jar out of the heat now, with dry cloths; no water into it.",
            )
        if celsius > self.allowed:
            return (
                Grade.WARN,
                f"{celsius:.0f} °C, and {self.allowed:.0f} °C are the most: turn the heat off, take the lid of the "
                "bath off, and stir cold water into the bath, never into the jar.",
            )
        return None
