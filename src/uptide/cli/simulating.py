"""The commands that simulate instruments, to try things with."""

from __future__ import annotations

import sys
from typing import TYPE_CHECKING, Annotated

import typer

from uptide.cli.ending import fail, refuse_taken

if TYPE_CHECKING:
    from uptide.devices.simulated_scale import SimulatedScale

simulate = typer.Typer(no_args_is_help=True, help="Instruments that are not there, to try things with.")


@simulate.command("thermometer")
def simulate_thermometer(
    setup: Annotated[str, typer.Argument(help="What warms the jar, as in bath, hob or slow-cooker.")] = "bath",
    port: Annotated[int, typer.Option(help="Port that it is read at.")] = 7070,
    speed: Annotated[float, typer.Option(help="How many times faster than a clock.", min=1, max=3600)] = 1.0,
    garbage: Annotated[float, typer.Option(help="Share of lines that arrive damaged.", min=0, max=1)] = 0.0,
) -> None:
    """Serve a simulated thermometer in a jar that is warmed; read it with UPTIDE_THERMOMETER=socket://host:port."""
    import threading

    from uptide.devices.simulated import SETUPS, SimulatedThermometer

    if setup not in SETUPS:
        fail(f"There is no way of warming “{setup}”; known are {', '.join(SETUPS)}.")
    refuse_taken("127.0.0.1", port)
    thermometer = SimulatedThermometer(setup, speed=speed, port=port, garbage=garbage)
    thermometer.start()
    typer.echo(f"A simulated thermometer ({setup}, {speed:g} times a clock) is at {thermometer.address}")
    try:
        threading.Event().wait()
    except KeyboardInterrupt:
        thermometer.stop()


@simulate.command("scale")
def simulate_scale(
    port: Annotated[int, typer.Option(help="Port that it is read at.")] = 7071,
    step: Annotated[float, typer.Option(help="What it shows, in g: 0.01, 0.1 or 1.")] = 0.1,
    capacity: Annotated[float, typer.Option(help="What it can weigh, in g.", min=1)] = 3000.0,
    garbage: Annotated[float, typer.Option(help="Share of lines that arrive damaged.", min=0, max=1)] = 0.0,
    pty: Annotated[bool, typer.Option("--pty", help="As a device file instead of a port.")] = False,  # noqa: FBT002
) -> None:
    """Serve a simulated scale, read with UPTIDE_SCALE.

    Type grams to pour so much, “5@0.02” to trickle 5 g at 0.02 g/s, “-50” to take off, T to tare, “unplug” and “plug”.
    """
    from uptide.devices.simulated_scale import DECIMALS, SimulatedScale

    if step not in DECIMALS:
        fail(f"A scale that shows {step:g} g is not simulated; {', '.join(map(str, DECIMALS))} are.")
    if not pty:
        refuse_taken("127.0.0.1", port)
    scale = SimulatedScale(step=step, capacity=capacity, port=port, on_pty=pty, garbage=garbage)
    scale.start()
    typer.echo(f"A simulated scale is at {scale.address}")
    try:
        for line in sys.stdin:
            do_on_scale(scale, line.strip())
    except KeyboardInterrupt:
        pass
    scale.stop()


def do_on_scale(scale: SimulatedScale, words: str) -> None:
    """Do what was typed: grams are poured or taken off, at so many a second; T and Z are its keys."""
    if words in ("unplug", "plug"):
        scale.unplugged = words == "unplug"
        return
    grams, _, rate = words.replace(",", ".").partition("@")
    try:
        scale.pour(float(grams), *([float(rate)] if rate else []))
    except ValueError:
        scale.obey(words.upper().encode("ascii", "ignore"))
