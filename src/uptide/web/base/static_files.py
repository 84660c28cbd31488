"""Styles, scripts and fonts: the same until the program is another, so that a browser asks for each once."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from zlib import crc32

STATIC = Path(__file__).parents[1] / "static"
PREFIX = "/static/"
FOR_GOOD = "public, max-age=31536000, immutable"  # a year; RFC 8246


@lru_cache(maxsize=1)
def files_stamp() -> str:
    """A word that changes with any of the files; it stands behind their addresses in a page."""
    found = [(file, file.stat()) for file in sorted(STATIC.rglob("*")) if file.is_file()]
    said = "".join(f"{file.relative_to(STATIC)} {stat.st_size} {stat.st_mtime_ns};" for file, stat in found)
    return f"{crc32(said.encode()):08x}"


def is_for_good(query: bytes, status: int) -> bool:
    """Whether a file may be kept: it is there, and was asked for as it stands now."""
    return query == files_stamp().encode() and status == 200
