"""The line that an instrument sends, ten times a second at most: 20 bytes, such as “S +      49.8 C  G” and CR LF.

Status S (stable), U (moving), O (overload), L (underload) or E (fault); sign; ten places for the value, dashes where
there is none; the unit; N (net) or G (gross).
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

LINE = re.compile(rb"([SUOLE]) ([+-])( {0,9}\d{1,10}(?:\.\d{1,8})?|-{10}) ([A-Za-z]{1,2}) {0,2}([NG])\r?")
WIDTH = 10  # places of the value
NO_VALUE = "-" * WIDTH


@dataclass(frozen=True, slots=True)
class InstrumentLine:
    """What one line says; `value` is None where the instrument has none: overload, underload, a fault."""

    status: Literal["S", "U", "O", "L", "E"]
    value: float | None
    unit: str
    is_net: bool = False


def read_line(raw: bytes) -> InstrumentLine | None:
    """Read a line without its end; None for garbage.

    >>> read_line(b"S +      49.8 C  G")
    InstrumentLine(status='S', value=49.8, unit='C', is_net=False)
    >>> read_line(b"E +---------- C  G").value is None, read_line(b"S +   49") is None
    (True, True)
    """
    found = LINE.fullmatch(raw)
    if found is None:
        return None
    status, sign, digits, unit, net = (part.decode("ascii") for part in found.groups())
    value = None if digits == NO_VALUE or status in "OLE" else float(digits) * (-1 if sign == "-" else 1)
    return InstrumentLine(status, value, unit, net == "N")  # type: ignore[arg-type] # the pattern allows no other


def write_line(line: InstrumentLine, decimals: int = 1) -> bytes:
    r"""Write a line with its end.

    >>> write_line(InstrumentLine("S", -2.5, "C"))
    b'S -       2.5 C  G\r\n'
    """
    digits = NO_VALUE if line.value is None else f"{abs(line.value):{WIDTH}.{decimals}f}"
    sign = "-" if line.value is not None and line.value < 0 else "+"
    return f"{line.status} {sign}{digits} {line.unit:<2} {'N' if line.is_net else 'G'}\r\n".encode("ascii")
