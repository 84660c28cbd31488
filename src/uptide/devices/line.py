"""The line that an instrument sends, ten times a second at most: 20 bytes, such as “S +      49.8 C  G” and CR LF.

Status S (stable), U (moving), O (overload), L (underload) or E (fault); sign; ten places for the value, dashes where
there is none; the unit; N (net) or G (gross).
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from uptide.core.errors import UptideError

LINE = re.compile(
    rb"(?P<status>[SUOLE]) (?P<sign>[+-])(?P<value> {0,9}\d{1,10}(?:\.\d{1,8})?|-{10}) (?P<unit>[A-Za-z]{1,2}) {0,2}"
    rb"(?P<net>[NG])\r?"
)
GROUPS = frozenset({"status", "sign", "value", "unit", "net"})  # what a pattern of another layout may name
STATUSES = frozenset("SUOLE")
WIDTH = 10  # places of the value
NO_VALUE = "-" * WIDTH


@dataclass(frozen=True, slots=True)
class InstrumentLine:
    """What one line says; `value` is None where the instrument has none: overload, underload, a fault."""

    status: Literal["S", "U", "O", "L", "E"]
    value: float | None
    unit: str
    is_net: bool = False


def line_pattern(text: str) -> re.Pattern[bytes]:
    """A pattern for the lines of another instrument: a regular expression whose groups are named as ours.

    Raises:
        UptideError: no expression, or one that names no value.
    """
    try:
        pattern = re.compile(text.encode("ascii"))
    except (re.error, UnicodeEncodeError) as error:
        raise UptideError(f"“{text}” is no pattern of an instrument’s lines: {error}.") from error
    if "value" not in pattern.groupindex or set(pattern.groupindex) - GROUPS:
        raise UptideError(f"A pattern of lines names the group value, and may name {', '.join(sorted(GROUPS))}.")
    return pattern


def read_line(raw: bytes, pattern: re.Pattern[bytes] = LINE) -> InstrumentLine | None:
    """Read a line without its end; None for garbage. What a pattern does not name is stable, above nothing, in g.

    >>> read_line(b"S +      49.8 C  G")
    InstrumentLine(status='S', value=49.8, unit='C', is_net=False)
    >>> read_line(b"E +---------- C  G").value is None, read_line(b"S +   49") is None
    (True, True)
    """
    found = pattern.fullmatch(raw)
    if found is None:
        return None
    said = {name: (part or b"").decode("ascii", "replace").strip() for name, part in found.groupdict().items()}
    status, sign, digits = said.get("status") or "S", said.get("sign", "+"), said["value"]
    unit, net = said.get("unit") or "g", said.get("net", "G")
    if status not in STATUSES:
        return None
    try:
        value = None if digits == NO_VALUE or status in "OLE" else float(digits) * (-1 if sign == "-" else 1)
    except ValueError:
        return None
    return InstrumentLine(status, value, unit, net == "N")  # type: ignore[arg-type] # the pattern allows no other


def write_line(line: InstrumentLine, decimals: int = 1) -> bytes:
    r"""Write a line with its end.

    >>> write_line(InstrumentLine("S", -2.5, "C"))
    b'S -       2.5 C  G\r\n'
    """
    digits = NO_VALUE if line.value is None else f"{abs(line.value):{WIDTH}.{decimals}f}"
    sign = "-" if line.value is not None and line.value < 0 else "+"
    return f"{line.status} {sign}{digits} {line.unit:<2} {'N' if line.is_net else 'G'}\r\n".encode("ascii")
