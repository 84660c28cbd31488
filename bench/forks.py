"""Do one thing after the other, each in a fork of this process: what is imported before is imported once."""

from __future__ import annotations

import os
import resource
from collections.abc import Callable, Iterable, Iterator
from typing import TypeVar

Thing = TypeVar("Thing")
FAILED = 1


def in_forks(
    things: Iterable[Thing], do: Callable[[Thing], int], *, seconds_for: Callable[[Thing], float]
) -> Iterator[tuple[Thing, int]]:
    """Each thing and the exit code that `do` gave for it, as they end; FAILED for what raised.

    `seconds_for` says how much time of the processor one may take [s]; what takes more is killed, by a code below 0.
    """
    running: dict[int, Thing] = {}

    def ended() -> tuple[Thing, int]:
        child, status = os.wait()
        return running.pop(child), os.waitstatus_to_exitcode(status)

    for thing in things:
        if len(running) >= (os.cpu_count() or 1):
            yield ended()
        child = os.fork()
        if child == 0:
            _do(thing, do, int(seconds_for(thing)))
        running[child] = thing
    while running:
        yield ended()


def _do(thing: Thing, do: Callable[[Thing], int], seconds: int) -> None:
    """Do a thing without a word, and end this process, which must not go on as if it were the first."""
    code = FAILED
    try:
        resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
        silent = os.open(os.devnull, os.O_WRONLY)
        for output in (1, 2):
            os.dup2(silent, output)
        code = do(thing)
    finally:
        os._exit(code)
