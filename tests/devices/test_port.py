"""An instrument is read for as long as the program runs, whatever befalls it, and nobody waits for it."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from math import isclose

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.core.errors import UptideError
from uptide.devices.line import InstrumentLine, read_line, write_line
from uptide.devices.port import SILENT, Port, check_address
from uptide.devices.simulated import SETUPS, SimulatedThermometer, WarmedJar


def until(holds: Callable[[], bool], seconds: float = 6.0) -> bool:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if holds():
            return True
        time.sleep(0.02)
    return False


@pytest.fixture
def thermometer() -> Iterator[SimulatedThermometer]:
    made = SimulatedThermometer("bath", speed=10)
    made.start()
    yield made
    made.stop()


@pytest.fixture
def port(thermometer: SimulatedThermometer) -> Iterator[Port]:
    made = Port(thermometer.address)
    made.start()
    yield made
    made.stop()


@given(st.floats(-99, 999).map(lambda value: round(value, 1)), st.sampled_from("SU"), st.sampled_from(["C", "g", "kg"]))
def test_what_is_written_is_read(value: float, status: str, unit: str) -> None:
    line = InstrumentLine(status, value, unit)  # type: ignore[arg-type] # one of two that are allowed
    raw = write_line(line)
    read = read_line(raw.rstrip(b"\n"))

    assert len(raw) == 20
    assert read is not None
    assert read.value is not None
    assert isclose(read.value, value, abs_tol=1e-9)
    assert (read.status, read.unit) == (status, unit)


@given(st.binary(max_size=60))
def test_garbage_is_no_line_and_no_error(raw: bytes) -> None:
    found = read_line(raw)
    assert found is None or raw[:1] in (b"S", b"U", b"O", b"L", b"E")


@pytest.mark.parametrize("raw", [b"O +---------- C  G", b"E +---------- C  G", b"L -      12.0 C  G"])
def test_overload_and_a_fault_have_no_value(raw: bytes) -> None:
    read = read_line(raw)
    assert read is not None
    assert read.value is None


@pytest.mark.parametrize(
    "address",
    ["spy:///dev/ttyUSB0?file=x", "socket://host", "loop://", "/etc/passwd", "/dev/../etc/passwd", "http://x:1", ""],
)
def test_only_a_device_or_a_socket_is_opened(address: str) -> None:
    with pytest.raises(UptideError, match="is no instrument"):
        check_address(address)


@pytest.mark.parametrize("address", ["/dev/ttyUSB0", "/dev/serial/by-id/usb-1", "COM3", "socket://127.0.0.1:7070"])
def test_devices_and_sockets_are_allowed(address: str) -> None:
    assert check_address(address) == address


def test_it_is_read_unplugged_and_read_again(thermometer: SimulatedThermometer, port: Port) -> None:
    assert until(lambda: port.newest() is not None)
    seen = port.newest()
    assert seen is not None
    assert seen.unit == "C"
    assert 15 < seen.value < 60
    assert port.fault == ""

    thermometer.unplugged = True
    assert until(lambda: port.fault != "")
    assert until(lambda: (port.age() or 0.0) > 1.0)
    thermometer.unplugged = False
    assert until(lambda: port.fault == "" and (port.age() or 9.0) < 0.5)


def test_garbage_and_silence_are_said(thermometer: SimulatedThermometer, port: Port) -> None:
    assert until(lambda: port.newest() is not None)
    thermometer.garbage = 1.0
    assert until(lambda: "nothing that can be read" in port.fault, SILENT + 4)
    old = port.newest()
    thermometer.garbage = 0.3
    assert until(lambda: port.newest() is not old)
    now = port.newest()
    assert now is not None
    assert 15 < now.value < 60


def test_what_is_not_there_is_said_at_once() -> None:
    port = Port("socket://127.0.0.1:9")
    port.start()
    assert until(lambda: "plugged in" in port.fault)
    assert (port.newest(), port.age()) == (None, None)
    port.stop()


def test_a_damaged_line_that_passes_does_not_count() -> None:
    left = [write_line(InstrumentLine("S", value, "C")) for value in (50.0, 50.1, 90.0, 50.2, 50.1)]

    class Lines:
        in_waiting = 0

        def read(self, size: int = 1) -> bytes:
            if not left:
                raise OSError("unplugged")
            return left.pop(0)

        def write(self, data: bytes, /) -> int:
            return len(data)

        def close(self) -> None:
            raise OSError("gone already")

    port = Port("/dev/ttyUSB9", opening=lambda _: Lines())
    port.start()
    assert until(lambda: port.fault == "it was unplugged")
    seen = port.newest()
    assert seen is not None
    assert seen.value == 50.2
    port.stop()


@pytest.mark.parametrize(
    ("setup", "hours_to_45", "hottest"),
    # Worked out beside the model, in the note on steeping; capacities are assumptions.
    [
        ("bath", 0.47, 56.7),
        ("packed", 0.99, 56.7),
        ("hob", 0.21, 72.3),
        ("slow-cooker", 1.9, 66.8),
        ("slow-cooker-ajar", 2.9, 49.2),
        ("slow-cooker-low", 1.0, 94.0),
    ],
)
def test_the_simulated_jar_warms_as_worked_out(setup: str, hours_to_45: float, hottest: float) -> None:
    jar, minutes, reached, most = WarmedJar(SETUPS[setup]), 0, 0.0, 0.0
    while minutes < 16 * 60:
        jar.after(60)
        minutes += 1
        most = max(most, jar.oil)
        reached = reached or (minutes / 60 if jar.oil >= 45 else 0.0)

    assert reached == pytest.approx(hours_to_45, rel=0.2)
    assert most == pytest.approx(hottest, abs=1.6)
