"""A scale is read over a socket and a pty, whatever befalls it; only a confirmed and fresh reading counts."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from pathlib import Path
from statistics import pstdev

import pytest

from uptide.cli.simulating import do_on_scale
from uptide.core.errors import UptideError
from uptide.devices.line import InstrumentLine, line_pattern, read_line, write_line
from uptide.devices.port import Port
from uptide.devices.printer import SpoolPrinter
from uptide.devices.simulated_scale import Pan, SimulatedScale
from uptide.workshop.instruments import Instruments
from uptide.workshop.scale import IN_GRAMS, Scale, practice_scale


def until(holds: Callable[[], bool], seconds: float = 6.0) -> bool:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if holds():
            return True
        time.sleep(0.02)
    return False


@pytest.fixture(params=[False, True], ids=["socket", "pty"])
def simulated(request: pytest.FixtureRequest) -> Iterator[SimulatedScale]:
    made = SimulatedScale(step=0.1, on_pty=request.param)
    made.start()
    yield made
    made.stop()


@pytest.fixture
def scale(simulated: SimulatedScale) -> Iterator[Scale]:
    made = Scale(Port(simulated.address))
    made.start()
    yield made
    made.stop()


def near(scale: Scale, grams: float) -> bool:
    now = scale.now().grams
    return now is not None and abs(now - grams) < 1.0


def test_what_lies_on_it_is_read_and_is_stable_at_rest(simulated: SimulatedScale, scale: Scale) -> None:
    simulated.pour(50, rate=500)
    assert until(lambda: near(scale, 50) and scale.now().stable, 10)
    moments = scale.now().moments
    assert len(moments) > 3
    assert moments == tuple(sorted(moments))


def test_unplugged_it_says_nothing_and_comes_back(simulated: SimulatedScale, scale: Scale) -> None:
    simulated.pan.load = 20.0
    assert until(lambda: near(scale, 20), 10)
    simulated.unplugged = True
    assert until(lambda: scale.now().grams is None)
    assert scale.now().fault
    simulated.unplugged = False
    assert until(lambda: near(scale, 20), 10)


def test_of_garbage_nothing_counts(simulated: SimulatedScale, scale: Scale) -> None:
    simulated.pan.load = 20.0
    simulated.garbage = 0.3
    assert until(lambda: near(scale, 20), 10)
    for _ in range(20):
        now = scale.now().grams
        assert now is None or abs(now - 20) < 1.5
        time.sleep(0.05)


def test_overloaded_it_has_no_value_and_never_the_last_good_one(simulated: SimulatedScale, scale: Scale) -> None:
    simulated.pan.load = 20.0
    assert until(lambda: near(scale, 20), 10)
    simulated.pan.load = 9_000.0
    assert until(lambda: scale.now().grams is None)
    assert "shows no value" in scale.now().fault
    assert scale.now().moments == ()
    simulated.pan.load = 20.0
    assert until(lambda: near(scale, 20), 10)


def test_it_tares_when_it_is_told_and_stable(simulated: SimulatedScale, scale: Scale) -> None:
    simulated.pan.load = 100.0
    assert until(lambda: near(scale, 100) and scale.now().stable, 10)
    assert scale._port.send(b"T\r\n")
    assert until(lambda: near(scale, 0) and scale.now().is_net, 10)
    assert scale.now().fell_from == pytest.approx(100, abs=1)  # what lay on it is known, although it shows nothing now
    assert scale.now().fell_at is not None


class Hostile:
    """A peer whose line never ends."""

    in_waiting = 4096

    def read(self, size: int = 1) -> bytes:
        time.sleep(0.001)
        return b"S" * size

    def write(self, data: bytes, /) -> int:
        return len(data)

    def close(self) -> None: ...


def test_a_line_that_never_ends_is_garbage_and_fills_nothing() -> None:
    port = Port("/dev/ttyUSB9", opening=lambda _: Hostile())
    port.start()
    assert until(lambda: "nothing that can be read" in port.fault, 8)
    assert port.newest() is None
    port.stop()


@pytest.mark.parametrize("simulated", [False], indirect=True, ids=["socket"])
def test_idle_it_takes_hardly_any_of_a_processor(simulated: SimulatedScale, scale: Scale) -> None:
    assert until(lambda: scale.now().grams is not None)
    began, at = time.process_time(), time.monotonic()
    time.sleep(2.0)
    used = (time.process_time() - began) / (time.monotonic() - at)
    assert used < 0.2  # scale and reader together; what a timed test can say on a busy machine. `make bench` says more


def test_other_layouts_are_read_by_a_pattern() -> None:
    pattern = line_pattern(r"(?P<sign>[+-])(?P<value>\d+\.\d) ?(?P<unit>kg|g)")
    assert read_line(b"+12.5 kg", pattern) == InstrumentLine("S", 12.5, "kg")
    assert read_line(b"-3.0g", pattern) == InstrumentLine("S", -3.0, "g")
    assert read_line(b"nonsense", pattern) is None
    for wrong in ("(", "no value", "(?P<value>x)(?P<colour>y)", "é(?P<value>1)"):
        with pytest.raises(UptideError, match=r"pattern|names the group"):
            line_pattern(wrong)


@pytest.mark.parametrize(("unit", "grams"), [("g", 2.0), ("kg", 2000.0), ("oz", 56.699)])
def test_units_are_grams_or_refused_aloud(unit: str, grams: float) -> None:
    left = [write_line(InstrumentLine("S", 2.0, unit)) for _ in range(4)] * 200

    class Lines(Hostile):
        in_waiting = 0

        def read(self, size: int = 1) -> bytes:
            time.sleep(0.01)
            return left.pop()

    scale = Scale(Port("/dev/ttyUSB9", opening=lambda _: Lines()))
    scale.start()
    assert until(lambda: scale.now().grams is not None)
    assert scale.now().grams == pytest.approx(grams, abs=0.001)
    left[:] = [write_line(InstrumentLine("S", 2.0, "lb"))] * 400
    assert until(lambda: "it weighs in “lb”" in scale.now().fault)
    scale.stop()


def test_the_simulated_scale_lags_is_noisy_and_is_stable_at_rest() -> None:
    scale = SimulatedScale(step=0.01, seed=3)
    scale.pan.load = 50.0
    shown, stable = [], []
    for _ in range(100):
        scale.step_on(0.1)
        line = read_line(scale.line.rstrip(b"\n"))
        assert line is not None
        shown.append(line.value or 0.0)
        stable.append(line.status == "S")
    # A third of a second of lag: after 0.3 s two thirds have come; stable some 2 to 4.5 s after the step.
    assert 0.55 < shown[2] / 50 < 0.75
    assert 20 <= stable.index(True) <= 45
    assert sum(stable[45:]) / len(stable[45:]) > 0.9
    assert 0.002 < pstdev(shown[60:]) < 0.01
    scale.stop()


def test_one_drop_every_second_and_a_half_is_often_called_stable() -> None:
    scale = SimulatedScale(step=0.01, seed=5)
    scale.pan.load = 50.0
    calm = []
    for tick in range(600):
        if tick % 15 == 0:
            scale.pan.load += 0.027
        scale.step_on(0.1)
        if tick > 60:
            calm.append(scale.is_stable)
    assert 0.3 < sum(calm) / len(calm) < 0.9  # why stable alone must not confirm a pour
    scale.stop()


def test_what_is_poured_runs_on_at_its_rate_and_what_is_taken_off_is_off() -> None:
    pan = Pan()
    pan.pouring, pan.rate = 10.0, 5.0
    assert pan.after(1.0) == 5.0
    assert pan.after(9.0) == 10.0
    practice = practice_scale()
    assert practice.practice is not None
    practice.practice.pan.load = 30.0
    practice.practice.pour(-50)
    assert practice.practice.pan.load == 0.0
    practice.practice.stop()
    assert set(IN_GRAMS) == {"g", "kg", "oz"}


def test_what_is_typed_to_the_simulated_scale_is_poured_or_pressed() -> None:
    scale = SimulatedScale()
    do_on_scale(scale, "12,5")
    assert scale.pan.pouring == 12.5
    scale.pan.load = 30.0
    do_on_scale(scale, "-10")
    assert scale.pan.load == 20.0
    do_on_scale(scale, "5@0.02")
    assert scale.pan.rate == 0.02
    do_on_scale(scale, "unplug")
    assert scale.unplugged
    do_on_scale(scale, "plug")
    assert not scale.unplugged
    scale._felt = 0.2
    do_on_scale(scale, "z")
    assert scale._drift == pytest.approx(-0.2)
    scale.stop()


def test_instruments_are_there_only_where_they_are_said_and_never_at_any_other_address(tmp_path: Path) -> None:
    none = Instruments()
    assert (none.make_scale(), none.make_printer()) == (None, None)
    scale = Instruments(scale="socket://127.0.0.1:9", scale_pattern=r"(?P<value>\d+)").make_scale()
    assert scale is not None
    assert "nothing came yet" in scale.now().fault
    for wrong in ("spy://x?file=y", "file:///etc/passwd", "/etc/passwd", "/dev/../etc/passwd", "loop://"):
        with pytest.raises(UptideError, match="is no instrument"):
            Instruments(scale=wrong).make_scale()
    printer = Instruments(spool=str(tmp_path / "spool")).make_printer()
    assert printer is not None
    assert [printer.send(name, b"%PDF") for name in ("a/../b", "", "labels")] == [
        "0001-a-..-b.pdf",
        "0002-labels.pdf",
        "0003-labels.pdf",
    ]
    (tmp_path / "taken").write_text("")
    with pytest.raises(UptideError, match="cannot be written"):
        SpoolPrinter(tmp_path / "taken").send("x", b"")
