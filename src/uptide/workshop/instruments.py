"""The instruments of a workshop: where each is found, and each as it is used; none is there unless it is said."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from sqlalchemy.orm import Session, sessionmaker

if TYPE_CHECKING:  # few have one, and every start would wait for what drives it
    from uptide.devices.printer import Printer
    from uptide.workshop.scale import Scale
    from uptide.workshop.thermometer import Thermometer


@dataclass(frozen=True, slots=True)
class Instruments:
    """Where the instruments are found; nothing for none. From settings and the command line, never from a form.

    Args:
        thermometer: a device or a socket, see `devices.port.check_address`.
        thermometer_speed: how many times a simulated one is sped up.
        scale: as the thermometer.
        scale_pattern: of its lines, where they are laid out otherwise than ours; see `devices.line.line_pattern`.
        spool: folder that labels are printed into.
    """

    thermometer: str = ""
    thermometer_speed: float = 1.0
    scale: str = ""
    scale_pattern: str = ""
    spool: str = ""

    def make_thermometer(self, sessions: sessionmaker[Session]) -> Thermometer | None:
        """The thermometer; raise UptideError where its address may not be opened."""
        if not self.thermometer:
            return None
        from uptide.devices.port import Port
        from uptide.workshop.thermometer import Thermometer

        return Thermometer(Port(self.thermometer), sessions, self.thermometer_speed)

    def make_scale(self) -> Scale | None:
        """The scale; raise UptideError where its address may not be opened or its pattern is none."""
        if not self.scale:
            return None
        from uptide.devices.line import LINE, line_pattern
        from uptide.devices.port import Port
        from uptide.workshop.scale import Scale

        return Scale(Port(self.scale, pattern=line_pattern(self.scale_pattern) if self.scale_pattern else LINE))

    def make_printer(self) -> Printer | None:
        """The label printer."""
        if not self.spool:
            return None
        from uptide.devices.printer import SpoolPrinter

        return SpoolPrinter(Path(self.spool))
