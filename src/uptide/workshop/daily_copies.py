"""A backup a day while the program runs, from a thread of its own, so that nobody waits for it."""

from __future__ import annotations

import logging
from datetime import UTC, datetime
from pathlib import Path
from threading import Event, Lock, Thread

from sqlalchemy import Engine

from uptide.store.backups import Copy, back_up, copies, erase_in_copies
from uptide.store.condition import DatabaseError

FIRST, EVERY = 5.0, 600.0  # s after the start, and between two looks whether one is due
log = logging.getLogger(__name__)


class DailyCopies:
    """Makes backups of one database, a day's first by itself and others when asked.

    `problem` says why the last one was not made; nothing when it was.
    """

    def __init__(self, engine: Engine, database: Path, folder: Path) -> None:
        self._engine, self.database, self.folder = engine, database, folder
        self.problem = ""
        self._ended, self._one_at_a_time = Event(), Lock()
        self._thread: Thread | None = None

    @property
    def made(self) -> tuple[Copy, ...]:
        """What there is, the newest first."""
        return copies(self.database, self.folder)

    def is_due(self, now: datetime) -> bool:
        """Whether there is none of this day yet; one of a day that has not come, from a wrong clock, is none."""
        return not any(copy.made_at.date() == now.astimezone(UTC).date() for copy in self.made)

    def make(self) -> Path:
        """Make one now; raise DatabaseError where that cannot be, which `problem` says as well."""
        with self._one_at_a_time:
            try:
                made = back_up(self.database, self.folder, datetime.now(UTC))
            except DatabaseError as error:
                self.problem = str(error)
                raise
            self.problem = ""
            erase_in_copies(self._engine, self.folder)  # should a deletion have been cut off before it came to these
            return made

    def start(self) -> None:
        """Look from time to time whether one is due."""
        self._thread = Thread(target=self._run, name="daily copies", daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """Make none any more; one that is under way is finished first."""
        self._ended.set()
        if self._thread is not None:
            self._thread.join()

    def _run(self) -> None:
        wait = FIRST
        while not self._ended.wait(wait):
            wait = EVERY
            try:
                if self.is_due(datetime.now(UTC)):
                    self.make()
            except DatabaseError:
                log.warning("The backup of today could not be made; the page of your data says why.")
