"""Who may see what: a passphrase for all of the workshop, and one for a tablet at the bench, which shows no people."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from enum import StrEnum
from threading import Lock
from time import monotonic

from uptide.core.errors import UptideError
from uptide.core.text import whole

SHORTEST, LONGEST = 10, 200  # characters of a passphrase; NIST SP 800-63B asks for 8 at least
FREE, WAIT, REMEMBERED = 5, 60.0, 1000  # failures before one waits, how long [s], and of how many addresses


class Level(StrEnum):
    """What somebody may see."""

    WHOLE = "whole"
    BENCH = "bench"


@dataclass(frozen=True, slots=True)
class Passphrases:
    """The passphrases as they are kept (argon2id), and nothing where there is none."""

    whole: str = ""
    bench: str = ""

    def __bool__(self) -> bool:
        return bool(self.whole)

    def level(self, said: str) -> Level | None:
        """What a passphrase opens; None for a wrong one. Takes some 50 ms on purpose."""
        for level, kept in ((Level.WHOLE, self.whole), (Level.BENCH, self.bench)):
            if kept and _fits(kept, said):
                return level
        return None


def _fits(kept: str, said: str) -> bool:
    from argon2 import PasswordHasher
    from argon2.exceptions import InvalidHashError, VerificationError

    try:
        return PasswordHasher().verify(kept, said.strip()[:LONGEST])
    except (VerificationError, InvalidHashError):
        return False


def keep(passphrase: str) -> str:
    """A passphrase as it is kept (argon2id with the library's own strength); raise UptideError for a short one."""
    from argon2 import PasswordHasher

    said = whole(passphrase).strip()
    if not SHORTEST <= len(said) <= LONGEST:
        raise UptideError(
            f"A passphrase has {SHORTEST} to {LONGEST} characters; this has {len(said)}. Several words are best."
        )
    return PasswordHasher().hash(said)


class Attempts:
    """Counts wrong passphrases by address, so that nobody tries many."""

    def __init__(self) -> None:
        self._wrong: OrderedDict[str, tuple[int, float]] = OrderedDict()
        self._lock = Lock()

    def wait(self, address: str) -> float:
        """How long an address must still wait [s]; 0 where it may try."""
        with self._lock:
            count, last = self._wrong.get(address, (0, 0.0))
        return max(0.0, last + WAIT - monotonic()) if count >= FREE else 0.0

    def was_wrong(self, address: str) -> None:
        """Note a wrong one; the oldest addresses are forgotten where there are many."""
        with self._lock:
            count, _ = self._wrong.pop(address, (0, 0.0))
            self._wrong[address] = count + 1, monotonic()
            while len(self._wrong) > REMEMBERED:
                self._wrong.popitem(last=False)

    def was_right(self, address: str) -> None:
        """Forget what was wrong before."""
        with self._lock:
            self._wrong.pop(address, None)
