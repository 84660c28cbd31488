"""What there is once in a workshop, however many processes serve its pages.

Instruments, which one program alone can read; the backup of a day; and who said a wrong passphrase how often. One
process has them to itself. Where several serve the pages, the one that started them keeps the desk, and each of them
asks it over a socket of the machine that nobody else may open.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Thread
from typing import TYPE_CHECKING, cast

from sqlalchemy import Engine
from sqlalchemy.orm import Session, sessionmaker

from uptide.store.backups import folder_of
from uptide.store.condition import DatabaseError
from uptide.store.database import file_of
from uptide.workshop.daily_copies import DailyCopies
from uptide.workshop.entrance import Attempts

if TYPE_CHECKING:
    from uptide.workshop.instruments import Instruments
    from uptide.workshop.scale import OnScale, Scale
    from uptide.workshop.thermometer import NowWarm, Thermometer

NO_COPIES = "This database is no file: back it up by the means of its own server."


class Desk:
    """The instruments as they are used, and what is counted for all who serve pages.

    Args:
        scale: of the bench; None where there is none, until somebody takes the one for practice.
        thermometer: in a jar.
        copies: the backups of a database that is a file.
        by_itself: whether a backup is made once a day without being asked for.
    """

    def __init__(
        self,
        scale: Scale | None = None,
        thermometer: Thermometer | None = None,
        copies: DailyCopies | None = None,
        *,
        by_itself: bool = False,
    ) -> None:
        self._scale, self._thermometer, self._copies, self._by_itself = scale, thermometer, copies, by_itself
        self._attempts = Attempts()

    def start(self) -> None:
        """Begin to read the instruments, and to look whether a backup is due."""
        for each in (self._thermometer, self._scale, self._copies if self._by_itself else None):
            if each is not None:
                each.start()

    def stop(self) -> None:
        """Stop both."""
        for each in (self._thermometer, self._scale, self._copies):
            if each is not None:
                each.stop()

    def on_scale(self) -> OnScale | None:
        """What lies on the scale at this moment; None where there is none."""
        return self._scale.now() if self._scale is not None else None

    def is_practice(self) -> bool:
        """Whether the scale is the one to try the bench with."""
        return self._scale is not None and self._scale.practice is not None

    def practise(self, grams: float | None, rate: float) -> None:
        """Take the practice scale where there is no real one, and pour on it [g, g/s]; None pours nothing."""
        if self._scale is None:
            from uptide.workshop.scale import practice_scale  # few ever need what drives it

            self._scale = practice_scale()
            self._scale.start()
        if self._scale.practice is not None and grams is not None:
            self._scale.practice.pour(grams, rate)

    def warmth(self) -> NowWarm | None:
        """What the thermometer says at this moment; None where there is none."""
        return self._thermometer.now() if self._thermometer is not None else None

    def back_up(self) -> Path:
        """Make a backup now; raise DatabaseError where that cannot be."""
        if self._copies is None:
            raise DatabaseError(NO_COPIES)
        return self._copies.make()

    def backup_problem(self) -> str:
        """Why the last backup was not made; nothing when it was."""
        return self._copies.problem if self._copies is not None else ""

    def wait(self, address: str) -> float:
        """How long an address must still wait before it may say a passphrase [s]."""
        return self._attempts.wait(address)

    def was_wrong(self, address: str) -> None:
        """Note a wrong one."""
        self._attempts.was_wrong(address)

    def was_right(self, address: str) -> None:
        """Forget what was wrong before."""
        self._attempts.was_right(address)


def make_desk(engine: Engine, instruments: Instruments, backups: Path | None) -> Desk:
    """The desk of a workshop; backups are made by themselves where their folder is named.

    Raises:
        UptideError: an instrument's address that may not be opened, or a pattern that is none.
    """
    database = file_of(str(engine.url))
    return Desk(
        instruments.make_scale(),
        instruments.make_thermometer(sessionmaker(engine, class_=Session)),
        DailyCopies(engine, database, backups or folder_of(database)) if database is not None else None,
        by_itself=backups is not None,
    )


ASKED = tuple(name for name in vars(Desk) if not name.startswith("_") and name not in ("start", "stop"))


@contextmanager
def shared(desk: Desk) -> Iterator[str]:
    """Start a desk and let the processes that this one starts ask it; yield where it is found."""
    from multiprocessing.managers import BaseManager  # few ever need it

    class Manager(BaseManager):
        """Hands out the one desk."""

    Manager.register("desk", callable=lambda: desk, exposed=ASKED)
    server = Manager().get_server()  # at a socket in a folder that its owner alone may enter, gone when this one ends
    Thread(target=server.serve_forever, name="desk", daemon=True).start()
    desk.start()
    try:
        yield str(server.address)
    finally:
        desk.stop()


def desk_at(address: str) -> Desk:
    """The desk that another process keeps; asked as if it were here."""
    from multiprocessing.managers import BaseManager

    class Manager(BaseManager):
        """Finds the one desk."""

    Manager.register("desk", exposed=ASKED)
    manager = Manager(address=address)
    manager.connect()
    return cast("Desk", manager.desk())  # type: ignore[attr-defined]  # what `register` adds, no checker sees
