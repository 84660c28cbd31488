"""A simulated thermometer in a jar that is warmed: the same line as a real one, over a socket.

The bath takes heat and loses it, the jar follows, the probe follows the jar. Capacities and losses of kettles and
cookers are assumptions.
"""

from __future__ import annotations

import socketserver
import threading
import time
from collections.abc import Mapping
from dataclasses import dataclass, field
from random import Random

from uptide.devices.line import InstrumentLine, write_line

ROOM = 20.0  # °C
JAR = 900.0  # J/K of a jar with half a litre of oil
JAR_LOSS = 0.1  # W/K
PROBE = 10.0  # s
NOISE = 0.05  # K
OFFSET = 0.4  # K, standard deviation between one probe and another
BOILS = 100.0
STEP = 1.0  # s of one step of the model
A_SECOND = 1.0  # between two lines
SWITCH = 1.0  # K around what a thermostat is set to


@dataclass(frozen=True, slots=True)
class Setup:
    """A way of warming: capacity of the bath [J/K], heater [W], loss [W/K], how the jar follows [s], what it is set to.

    `until` is where its thermostat, which feels the oil, switches [°C]; None for a cooker without one.
    """

    bath: float
    watts: float
    loss: float
    follows: float
    until: float | None = None


SETUPS: Mapping[str, Setup] = {
    "bath": Setup(8900, 300, loss=2.5, follows=900, until=50.0),
    "packed": Setup(8900, 300, loss=2.5, follows=4400, until=50.0),
    "hob": Setup(8900, 1000, loss=2.5, follows=900, until=50.0),  # overshoots by twenty degrees
    "slow-cooker": Setup(10500, 70, 1.3, 900),
    "slow-cooker-ajar": Setup(10500, 70, 2.2, 900),
    "slow-cooker-low": Setup(10500, 120, 1.3, 900),
}


@dataclass
class WarmedJar:
    """A jar in a bath as it warms; `heat_off` is what a person does who sees it overheat."""

    setup: Setup
    bath: float = ROOM
    oil: float = ROOM
    probe: float = ROOM
    heating: bool = True
    heat_off: bool = False

    def after(self, seconds: float) -> float:
        """Let so many seconds go by; return what the probe feels [°C]."""
        for _ in range(max(1, round(seconds / STEP))):
            self._step()
        return self.probe

    def _step(self) -> None:
        setup = self.setup
        if setup.until is not None:
            if self.oil >= setup.until + SWITCH:
                self.heating = False
            elif self.oil <= setup.until - SWITCH:
                self.heating = True
        power = setup.watts if self.heating and not self.heat_off else 0.0
        into_jar = JAR / setup.follows * (self.bath - self.oil)
        self.bath = min(BOILS, self.bath + STEP * (power - setup.loss * (self.bath - ROOM) - into_jar) / setup.bath)
        self.oil += STEP * (into_jar - JAR_LOSS * (self.oil - ROOM)) / JAR
        self.probe += STEP / PROBE * (self.oil - self.probe)


@dataclass
class SimulatedThermometer:
    """A thermometer that serves its line on a port of this machine, sped up so many times.

    `unplugged` sends nothing more and `garbage` is the share of damaged lines, as a test wants them.
    """

    setup: str
    speed: float = 1.0
    seed: int = 1
    host: str = "127.0.0.1"
    port: int = 0
    garbage: float = 0.0
    unplugged: bool = False
    jar: WarmedJar = field(init=False)

    def __post_init__(self) -> None:
        self.jar = WarmedJar(SETUPS[self.setup])
        self._random = Random(self.seed)  # noqa: S311 - noise of a probe
        self._offset = self._random.gauss(0.0, OFFSET)
        self._stop = threading.Event()
        thermometer = self

        class Handler(socketserver.BaseRequestHandler):
            def handle(self) -> None:
                while not thermometer._stop.wait(A_SECOND / max(1.0, min(10.0, thermometer.speed))):
                    if thermometer.unplugged:
                        return
                    try:
                        self.request.sendall(thermometer.line)
                    except OSError:
                        return

        class Server(socketserver.ThreadingTCPServer):
            daemon_threads = True
            allow_reuse_address = True

        self._server = Server((self.host, self.port), Handler)
        self.port = self._server.server_address[1]
        self._now = time.monotonic()
        self._line = self._say()

    @property
    def address(self) -> str:
        """Where it can be read."""
        return f"socket://{self.host}:{self.port}"

    @property
    def line(self) -> bytes:
        """The newest line."""
        if self._random.random() < self.garbage:
            return self._random.randbytes(len(self._line) - 1) + b"\n"
        return self._line

    def start(self) -> None:
        """Serve and warm in threads of their own."""
        threading.Thread(target=self._server.serve_forever, daemon=True).start()
        threading.Thread(target=self._warm, daemon=True).start()

    def stop(self) -> None:
        """Stop both."""
        self._stop.set()
        self._server.shutdown()
        self._server.server_close()

    def _warm(self) -> None:
        while not self._stop.wait(0.1):
            now = time.monotonic()
            self.jar.after(self.speed * (now - self._now))
            self._now = now
            self._line = self._say()

    def _say(self) -> bytes:
        felt = self.jar.probe + self._offset + self._random.gauss(0.0, NOISE)
        return write_line(InstrumentLine("S", round(felt, 1), "C"))
