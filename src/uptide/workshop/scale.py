"""The scale of a workshop: what lies on it now, how fast it changes, and the practice scale that needs none."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from uptide.devices.port import Port, Seen
    from uptide.devices.simulated_scale import SimulatedScale

STALE = 0.5  # s after which a value is no reading
IN_GRAMS = {"g": 1.0, "kg": 1000.0, "oz": 28.349523125}
NOTHING = 0.5  # g: no more than this is an empty scale
PRACTICE_STEP = 0.1  # g


@dataclass(frozen=True, slots=True)
class OnScale:
    """What a scale says now [g]; None where it says nothing that counts, for a reason in words.

    `moments` are (s, g, stable) of the last seconds.
    """

    grams: float | None
    stable: bool = False
    is_net: bool = False
    fault: str = ""
    moments: tuple[tuple[float, float, bool], ...] = ()
    fell_from: float = 0.0  # g that rested on it before it last fell to nothing
    fell_at: datetime | None = None


class Scale:
    """A scale that is read for as long as the program runs.

    Args:
        port: what it is read from.
        practice: the simulated one behind it, where it is for practice.
    """

    def __init__(self, port: Port, practice: SimulatedScale | None = None) -> None:
        self._port = port
        self.practice = practice
        self._rested = 0.0
        self._fell: tuple[float, datetime] | None = None
        port.watch = self._watch

    def start(self) -> None:
        """Begin to read."""
        if self.practice is not None:
            self.practice.start()
        self._port.start()

    def stop(self) -> None:
        """Stop reading; nothing waits for it."""
        self._port.stop()
        if self.practice is not None:
            self.practice.stop()

    def now(self) -> OnScale:
        """What lies on it at this moment; looking never waits."""
        seen, age = self._port.newest(), self._port.age()
        if self._port.has_no_value:
            return OnScale(None, fault="it shows no value: too much, too little, or a fault")
        if seen is None or age is None:
            return OnScale(None, fault=self._port.fault or "nothing came yet")
        if seen.unit not in IN_GRAMS:
            return OnScale(None, fault=f"it weighs in “{seen.unit}”; grams, kilograms or ounces are read")
        if age > STALE:
            return OnScale(None, fault=self._port.fault or f"no reading for {age:.0f} s")
        times = IN_GRAMS[seen.unit]
        moments = tuple((each.at, times * each.value, each.stable) for each in self._port.history())
        fell_from, fell_at = self._fell or (0.0, None)
        return OnScale(
            times * seen.value,
            seen.stable,
            is_net=seen.is_net,
            fault="",
            moments=moments,
            fell_from=fell_from,
            fell_at=fell_at,
        )

    def _watch(self, seen: Seen) -> None:
        """Keep what rested on it when it falls to nothing: somebody pressed its tare, or took everything off."""
        grams = IN_GRAMS.get(seen.unit, 0.0) * seen.value
        if abs(grams) <= NOTHING:
            if self._rested > NOTHING:
                self._fell = (self._rested, datetime.now(UTC))
            self._rested = 0.0
        elif seen.stable:
            self._rested = grams


def practice_scale() -> Scale:
    """A scale that is not there, to try the bench with."""
    from uptide.devices.port import Port  # few ever need what drives it
    from uptide.devices.simulated_scale import SimulatedScale

    simulated = SimulatedScale(step=PRACTICE_STEP)
    return Scale(Port(simulated.address), simulated)
