"""A label printer behind a small protocol, and the simulated one that ships: it puts each job into a spool folder."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Protocol

from uptide.core.errors import UptideError

MOST_JOBS = 9999
NAME = re.compile(r"[^A-Za-z0-9._-]+")


class Printer(Protocol):
    """What takes a job and says what it is called."""

    def send(self, name: str, content: bytes) -> str:
        """Take a job; raise UptideError that says why it could not be taken."""
        ...


class SpoolPrinter:
    """Puts each job into a folder, numbered, whole or not at all.

    Args:
        folder: of the spool, from settings and never from a form.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def send(self, name: str, content: bytes) -> str:
        """Put a PDF into the folder; return the name of its file."""
        safe = NAME.sub("-", name).strip(".-") or "labels"
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            taken = [int(each.name[:4]) for each in self.folder.glob("[0-9][0-9][0-9][0-9]-*.pdf")]
            number = max(taken, default=0) + 1
            if number > MOST_JOBS:
                raise UptideError(f"The spool holds {MOST_JOBS} jobs: empty it first.")
            target = self.folder / f"{number:04d}-{safe}.pdf"
            half = target.with_suffix(".part")
            half.write_bytes(content)
            half.replace(target)
        except OSError as error:
            raise UptideError(f"The printer’s spool cannot be written: {error.strerror}.") from error
        return target.name
