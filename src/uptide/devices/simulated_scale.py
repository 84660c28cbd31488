"""A simulated scale with its noise, lag, drift and stability: the same line as a real one, over a socket or a pty.

Lag, noise and drift are assumptions; what they make of a stream of oil is what misleads on a real one.
"""

from __future__ import annotations

import os
import socketserver
import threading
import time
import tty
from collections import deque
from contextlib import suppress
from dataclasses import dataclass, field
from math import exp, sqrt
from random import Random

from uptide.devices.line import InstrumentLine, write_line

LAG = 0.3  # s until a reading has followed by two thirds
NOISE, DRIFT = 0.35, 0.8  # steps, and steps in the square root of a minute
STABLE_FOR, STABLE_WITHIN = 10, 2.0  # readings, and steps that they stay within
EVERY = 0.1  # s between two lines
DECIMALS = {0.01: 2, 0.1: 1, 1.0: 0}


@dataclass
class Pan:
    """What lies on a scale [g], and what is being poured on it: so many more grams at so many a second."""

    load: float = 0.0
    pouring: float = 0.0
    rate: float = 0.0

    def after(self, seconds: float) -> float:
        """Let so many seconds go by; return what lies on it."""
        falls = min(self.pouring, self.rate * seconds)
        self.load += falls
        self.pouring -= falls
        return self.load


@dataclass
class SimulatedScale:
    """A scale that serves its line; `garbage` is the share of damaged lines, `unplugged` sends nothing more.

    Args:
        step: what it shows [g].
        capacity: above it there is no value [g].
        seed: of its noise.
        noise: how much a reading trembles at rest, a standard deviation [steps].
        port: of the socket; 0 for any that is free.
        on_pty: whether it is a device file instead of a socket.
    """

    step: float = 0.01
    capacity: float = 3000.0
    seed: int = 1
    noise: float = NOISE
    port: int = 0
    on_pty: bool = False
    garbage: float = 0.0
    unplugged: bool = False
    pan: Pan = field(default_factory=Pan)

    def __post_init__(self) -> None:
        self._random = Random(self.seed)  # noqa: S311 - noise of a scale
        self._stop = threading.Event()
        self._shown: deque[float] = deque(maxlen=STABLE_FOR)
        self._felt = self._drift = self._tare = 0.0
        self._line = self._say()
        self._master = self._slave = -1
        self._server: socketserver.ThreadingTCPServer | None = None
        self._serves = False
        self.address = ""
        if self.on_pty:
            self._master, self._slave = os.openpty()
            tty.setraw(self._slave)  # else the line comes back as if somebody had typed it
            os.set_blocking(self._master, False)
            self.address = os.ttyname(self._slave)
        else:
            self._serve()

    def _serve(self) -> None:
        scale = self

        class Handler(socketserver.BaseRequestHandler):
            def handle(self) -> None:
                self.request.settimeout(0.01)
                while not scale._stop.wait(EVERY) and not scale.unplugged:
                    try:
                        self.request.sendall(scale.line)
                        scale.obey(self.request.recv(64))
                    except TimeoutError:
                        continue
                    except OSError:
                        return

        class Server(socketserver.ThreadingTCPServer):
            daemon_threads = True
            allow_reuse_address = True

        self._server = Server(("127.0.0.1", self.port), Handler)
        self.port = self._server.server_address[1]
        self.address = f"socket://127.0.0.1:{self.port}"

    @property
    def line(self) -> bytes:
        """The newest line."""
        if self._random.random() < self.garbage:
            return self._random.randbytes(len(self._line) - 1) + b"\n"
        return self._line

    def pour(self, grams: float, rate: float = 5.0) -> None:
        """Begin to pour so much on it, or take it off at once where it is below nothing."""
        if grams < 0:
            self.pan.load = max(0.0, self.pan.load + grams)
        else:
            self.pan.pouring, self.pan.rate = self.pan.pouring + grams, rate

    def obey(self, words: bytes) -> None:
        """Do what it is told: T tares when stable, Z sets to nothing."""
        if b"Z" in words:
            self._tare, self._drift = 0.0, -self._felt
        elif b"T" in words and self.is_stable:
            self._tare = self._shown[-1] + self._tare

    @property
    def is_stable(self) -> bool:
        """Whether its last readings agree."""
        shown = list(self._shown)
        return len(shown) == STABLE_FOR and max(shown) - min(shown) <= STABLE_WITHIN * self.step

    def start(self) -> None:
        """Serve and weigh in threads of their own."""
        if self._server is not None:
            self._serves = True
            threading.Thread(target=self._server.serve_forever, args=(0.1,), daemon=True).start()
        threading.Thread(target=self._weigh, daemon=True).start()

    def stop(self) -> None:
        """Stop both."""
        self._stop.set()
        if self._server is not None:
            if self._serves:  # else it would wait for ever for what never began
                self._server.shutdown()
            self._server.server_close()
        for handle in (self._master, self._slave):
            if handle >= 0:
                with suppress(OSError):
                    os.close(handle)

    def _weigh(self) -> None:
        last = time.monotonic()
        while not self._stop.wait(EVERY):
            now = time.monotonic()
            self.step_on(now - last)
            last = now
            if self._master >= 0 and not self.unplugged:
                self._over_pty()

    def _over_pty(self) -> None:
        """Write a line, or drop it where nobody reads; obey what came."""
        with suppress(BlockingIOError, OSError):
            os.write(self._master, self.line)
        with suppress(BlockingIOError, OSError):
            self.obey(os.read(self._master, 64))

    def step_on(self, seconds: float) -> None:
        """Let so many seconds go by on it."""
        load = self.pan.after(seconds)
        self._felt += (load - self._felt) * (1 - exp(-seconds / LAG))
        self._drift += self._random.gauss(0.0, DRIFT * self.step * sqrt(max(seconds, 0.0) / 60))
        self._line = self._say()

    def _say(self) -> bytes:
        if self._felt > self.capacity:
            self._shown.clear()
            return write_line(InstrumentLine("O", None, "g"))
        noisy = self._felt + self._drift + self._random.gauss(0.0, self.noise * self.step) - self._tare
        shown = round(round(noisy / self.step) * self.step, 3)
        self._shown.append(shown)
        status = "S" if self.is_stable else "U"
        return write_line(InstrumentLine(status, shown, "g", self._tare != 0), DECIMALS[self.step])  # type: ignore[arg-type]
