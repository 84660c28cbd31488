"""The thermometer of a workshop: what it says now, and its readings kept with the jar that it stands in."""

from __future__ import annotations

import logging
import threading
import time
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING

from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session, sessionmaker

from uptide.core.errors import UptideError
from uptide.core.infusion.temperature import Reading
from uptide.store.database import as_writer
from uptide.store.readings import add_reading, thermometer_stands_in

if TYPE_CHECKING:
    from uptide.devices.port import Port

A_MINUTE = 60.0  # s between two looks: the dose is then good to a part in a thousand
CHANGED, AT_LEAST = 0.5, 300.0  # K, and s of the jar: a reading is kept once it is another, or so long after the last
STALE = 3.0  # s after which a value is no longer what the oil has
LOG = logging.getLogger("uptide")


@dataclass(frozen=True, slots=True)
class NowWarm:
    """What the thermometer says now [°C]; None while it says nothing, for `silent` seconds, for a reason in words."""

    celsius: float | None
    silent: float | None = None
    fault: str = ""


class Thermometer:
    """A thermometer that is read and kept for as long as the program runs.

    Args:
        port: what it is read from.
        sessions: of the database that its readings go to.
        speed: how many seconds of the jar go by in one of the clock, for a simulated one that is sped up.
    """

    def __init__(self, port: Port, sessions: sessionmaker[Session], speed: float = 1.0) -> None:
        self._port = port
        self._sessions = sessions
        self._speed = speed
        self._stop = threading.Event()
        self._began, self._began_at = time.monotonic(), datetime.now(UTC)
        self._kept: tuple[int, Reading] | None = None  # the last one, with its jar

    def start(self) -> None:
        """Begin to read and to keep."""
        self._port.start()
        threading.Thread(target=self._run, name="keeps readings", daemon=True).start()

    def stop(self) -> None:
        """Stop both; nothing waits for it."""
        self._stop.set()
        self._port.stop()

    def now(self) -> NowWarm:
        """What it says at this moment; looking never waits."""
        seen, age = self._port.newest(), self._port.age()
        if seen is None or age is None:
            return NowWarm(None, None, self._port.fault or "nothing came yet")
        if seen.unit != "C":
            return NowWarm(None, age, f"it measures in “{seen.unit}”; °C is needed")
        return NowWarm(seen.value if age <= STALE else None, age, self._port.fault)

    def _run(self) -> None:
        while not self._stop.wait(A_MINUTE / self._speed):
            try:
                self.keep()
            except (SQLAlchemyError, UptideError) as error:
                LOG.warning("A reading of the thermometer was not kept: %s", type(error).__name__)

    def keep(self) -> bool:
        """Keep what it says now with the jar that it stands in; say whether there was anything new to keep."""
        now = self.now()
        if now.celsius is None:
            return False
        with self._sessions() as session, session.begin():
            jar_id = thermometer_stands_in(as_writer(session))
            if jar_id is None:
                return False
            passed = timedelta(seconds=self._speed * (time.monotonic() - self._began))
            reading = Reading(self._began_at + passed, now.celsius)
            if not self._is_new(jar_id, reading):
                return False
            add_reading(session, jar_id, reading)
        self._kept = (jar_id, reading)
        return True

    def _is_new(self, jar_id: int, reading: Reading) -> bool:
        """Whether it says more than the last one that was kept: weeks on a shelf are not a reading a minute."""
        if self._kept is None or self._kept[0] != jar_id:
            return True
        last = self._kept[1]
        return abs(reading.celsius - last.celsius) >= CHANGED or (reading.at - last.at).total_seconds() >= AT_LEAST
