"""Keep reading an instrument, whatever happens to it: unplugged, silent or sending garbage, nothing waits for it.

A thread of its own drains the port and keeps the newest value with the moment at which it came; who wants it looks, and
sees how old it is. What was met with real ports stands beside each precaution.
"""

from __future__ import annotations

import re
import threading
import time
from collections import deque
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from statistics import median
from typing import Protocol

import serial

from uptide.core.errors import UptideError
from uptide.devices.line import LINE, InstrumentLine, read_line

SOCKET = re.compile(r"socket://[A-Za-z0-9_.:\[\]-]+:\d{1,5}")
DEVICE = re.compile(r"/dev/[A-Za-z0-9_./-]+|COM\d{1,3}")
BAUD = 9600
WAIT = 0.25  # s: `read` on a socket waits as long for bytes that do not come
FIRST_WAIT, LONGEST_WAIT = 0.2, 2.0  # s before it is opened again
SILENT = 2.0  # s without a line: what is open is not connected
LONGEST_BUFFER = 4096  # bytes without a line end: garbage
REMEMBERED = 120  # values: twelve seconds of a scale
CONFIRMED_BY = 3  # readings whose median counts: one in fifty damaged lines passes for another number


class Opened(Protocol):
    """What is read from and written to: a serial port or a socket."""

    @property
    def in_waiting(self) -> int:
        """Bytes that wait."""
        ...

    def read(self, size: int = 1) -> bytes:
        """Bytes, as many as came in time."""
        ...

    def write(self, data: bytes, /) -> int | None:
        """Send bytes."""
        ...

    def close(self) -> None:
        """Close it."""
        ...


Open = Callable[[str], Opened]


def check_address(address: str) -> str:
    """An address that may be opened: a device path or a socket, and nothing else.

    The library behind it knows schemes that write files named in the address.

    Raises:
        UptideError: any other address.
    """
    if not SOCKET.fullmatch(address) and (not DEVICE.fullmatch(address) or ".." in address):
        raise UptideError(f"“{address}” is no instrument; a device such as /dev/ttyUSB0 or socket://host:port is.")
    return address


def open_port(address: str) -> Opened:
    """Open a device or a socket; no other process reads it then."""
    exclusive = {} if address.startswith("socket:") else {"exclusive": True}
    port: Opened = serial.serial_for_url(check_address(address), baudrate=BAUD, timeout=WAIT, **exclusive)
    return port


@dataclass(frozen=True, slots=True)
class Seen:
    """The newest value of an instrument, confirmed by others, and the moment it came, by a clock that never jumps."""

    value: float
    unit: str
    at: float
    stable: bool = True
    is_net: bool = False


class Port:
    """An instrument that is read for as long as the program runs.

    Args:
        address: a device path or `socket://host:port`.
        opening: how it is opened; for tests.
        pattern: of its lines, where they are laid out otherwise than ours.

    Raises:
        UptideError: an address that may not be opened.
    """

    def __init__(self, address: str, opening: Open = open_port, pattern: re.Pattern[bytes] = LINE) -> None:
        self.address = check_address(address)
        self._open = opening
        self._stop = threading.Event()
        self._thread: threading.Thread | None = None
        self._recent: deque[InstrumentLine] = deque(maxlen=CONFIRMED_BY)
        self._seen: Seen | None = None
        self._fault = ""
        self._pattern = pattern
        self._history: deque[Seen] = deque(maxlen=REMEMBERED)
        self._has_no_value = False
        self._port: Opened | None = None
        self.watch: Callable[[Seen], None] = lambda seen: None  # told every value that counts

    def start(self) -> None:
        """Begin to read."""
        self._thread = threading.Thread(target=self._run, name=f"reads {self.address}", daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """Stop reading; no request waits for this."""
        self._stop.set()

    def newest(self) -> Seen | None:
        """The newest value, however old."""
        return self._seen

    def history(self) -> tuple[Seen, ...]:
        """The last values, the newest last; none of before it lost its value."""
        return tuple(self._history)

    @property
    def has_no_value(self) -> bool:
        """Whether its last line said that it has none: overload, underload, a fault."""
        return self._has_no_value

    def send(self, words: bytes) -> bool:
        """Send it a word, such as T for tare; say whether there was anything to send it to."""
        port = self._port
        if port is None:
            return False
        try:
            port.write(words)
        except (OSError, serial.SerialException):
            return False
        return True

    def age(self) -> float | None:
        """How old the newest value is [s]; None before the first."""
        seen = self._seen
        return None if seen is None else time.monotonic() - seen.at

    @property
    def fault(self) -> str:
        """What is the matter, in words; nothing while values come."""
        return self._fault

    def _run(self) -> None:
        wait = FIRST_WAIT
        while not self._stop.is_set():
            try:
                port = self._open(self.address)
            except (OSError, serial.SerialException):
                self._fault = "it cannot be opened: is it plugged in?"
            else:
                if self._drain(port):
                    wait = FIRST_WAIT
            self._stop.wait(wait)
            wait = min(LONGEST_WAIT, 2 * wait)

    def _drain(self, port: Opened) -> bool:
        """Read until it fails or falls silent; say whether any line came."""
        buffer, last, any_line = b"", time.monotonic(), False
        self._port = port
        try:
            while not self._stop.is_set():
                # Half lines come at the time-out: they wait for their other half.
                buffer += port.read(max(1, port.in_waiting))
                *lines, buffer = buffer.split(b"\n")
                buffer = buffer[-LONGEST_BUFFER:]
                for raw in lines:
                    if self._take(raw):
                        last, any_line = time.monotonic(), True
                if time.monotonic() - last > SILENT:
                    self._fault = "it sends nothing that can be read"
                    return any_line
        except (OSError, serial.SerialException):  # which of both depends on how it was unplugged
            self._fault = "it was unplugged"
        finally:
            self._port = None
            self._recent.clear()
            self._history.clear()
            with suppress(OSError, serial.SerialException):
                port.close()
        return any_line

    def _take(self, raw: bytes) -> bool:
        """Take a line; say whether it was one."""
        line = read_line(raw, self._pattern)
        if line is None:
            return False
        self._has_no_value = line.value is None
        if line.value is None:
            self._recent.clear()
            self._history.clear()
            self._fault = "it says that it has no value: its probe may be off"
            return True
        self._recent.append(line)
        values = [each.value for each in self._recent if each.value is not None and each.unit == line.unit]
        if len(values) == CONFIRMED_BY:
            stable = all(each.status == "S" for each in self._recent)
            self._seen = Seen(median(values), line.unit, at=time.monotonic(), stable=stable, is_net=line.is_net)
            self._history.append(self._seen)
            self.watch(self._seen)
            self._fault = ""
        return True
