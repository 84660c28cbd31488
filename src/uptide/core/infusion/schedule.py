"""What a jar wants on which day, and whether it was done: what was missed is seen, and is never fatal."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from itertools import pairwise

from uptide.core.infusion.following import SEEN, JarUnderWay, NoteKind, look_days

A_DAY = timedelta(days=1)


class Work(StrEnum):
    """What is done with a jar."""

    TOP_UP = "Top it up"
    LOOK = "Look at it"
    SHAKE = "Shake it"
    STRAIN = "Strain it"


class Standing(StrEnum):
    """How it stands with a thing that is to be done."""

    DONE = "done"
    DUE = "due"
    MISSED = "missed"
    COMES = "to come"


@dataclass(frozen=True, slots=True)
class Planned:
    """A thing to do on a day, and how it stands; `how` says what is done."""

    on: date
    work: Work
    standing: Standing
    how: str = ""


def schedule_of(jar: JarUnderWay) -> tuple[Planned, ...]:
    """Everything that a jar wants from the day it was begun until its way ends, in the order of the days."""
    return tuple(sorted((*_top_up(jar), *_looks(jar), *_shakes(jar), *_strain(jar)), key=lambda each: each.on))


def _standing(jar: JarUnderWay, on: date, before: date | None, *, done: bool) -> Standing:
    """How a thing stands that is to be done on a day, or until the day before another."""
    if done:
        return Standing.DONE
    last = jar.ended.on if jar.ended else jar.today
    if on > last:
        return Standing.COMES
    over = jar.ended is not None or (before is not None and before <= jar.today)
    return Standing.MISSED if over else Standing.DUE


def _top_up(jar: JarUnderWay) -> Iterator[Planned]:
    grams = jar.plan.covers.top_up
    if grams >= 1 and jar.planned_days:
        on = jar.begun_on + A_DAY
        done = any(note.kind is NoteKind.TOPPED_UP for note in jar.notes)
        yield Planned(on, Work.TOP_UP, _standing(jar, on, None, done=done), f"With about {grams:.0f} g of oil.")


def _looks(jar: JarUnderWay) -> Iterator[Planned]:
    days = [jar.begun_on + timedelta(days=day) for day in look_days(jar.planned_days)]
    seen = [note.on for note in jar.notes if note.kind in SEEN]
    for on, following in pairwise([*days, jar.done_on + timedelta(days=7)]):
        done = any(on <= day < following for day in seen)
        yield Planned(
            on, Work.LOOK, _standing(jar, on, following, done=done), "Clear, no bubbles, no fuzz, all of it under oil."
        )


def _shakes(jar: JarUnderWay) -> Iterator[Planned]:
    shaken = {note.on for note in jar.notes if note.kind is NoteKind.SHAKEN}
    how = "Lid off, wiped dry, and shaken." if jar.plan.method.in_light else "Until all of it moves."
    for day in range(1, jar.planned_days):
        on = jar.begun_on + timedelta(days=day)
        yield Planned(on, Work.SHAKE, _standing(jar, on, on + A_DAY, done=on in shaken), how)


def _strain(jar: JarUnderWay) -> Iterator[Planned]:
    done = jar.ended is not None and jar.ended.kind is NoteKind.STRAINED
    how = "Let it cool on the plant first; settle, decant, and leave the bottoms."
    yield Planned(jar.done_on, Work.STRAIN, _standing(jar, jar.done_on, None, done=done), how)
