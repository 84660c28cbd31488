"""What a jar wants on which day, whether it was done, and what is due: what was missed is seen, and is never fatal."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from itertools import pairwise

from uptide.core.infusion.following import SEEN, JarUnderWay, NoteKind

A_DAY, A_WEEK = timedelta(days=1), timedelta(days=7)
LOOKS = (1, 3, 7)  # days after which it is looked at; then every week
VENTED_DAILY = 10  # days; afterwards every week, unless water must leave. Assumption
LAST_ADDED = 14  # days before its way ends in which nothing more is put in: the last has the least time. Assumption


class Work(StrEnum):
    """What is done with a jar."""

    TOP_UP = "Top it up"
    RENEW = "Strain it onto fresh plant"
    ADD_PLANT = "Add what has opened since, and oil over it"
    READ = "Stay with it, and read the thermometer"
    VENT = "Vent it"
    SHAKE = "Shake it"
    LOOK = "Look at it"
    SMELL = "Smell it"
    STRAIN = "Strain it"


# What is noted once a thing was done; what is in none of them needs more than a note.
NOTED_BY: Mapping[Work, NoteKind] = {
    Work.TOP_UP: NoteKind.TOPPED_UP,
    Work.RENEW: NoteKind.RENEWED,
    Work.ADD_PLANT: NoteKind.PLANT_ADDED,
    Work.VENT: NoteKind.VENTED,
    Work.SHAKE: NoteKind.SHAKEN,
    Work.LOOK: NoteKind.LOOKED,
    Work.SMELL: NoteKind.SMELL,
}
HOW: Mapping[Work, str] = {
    Work.TOP_UP: "The level sinks as air leaves.",
    Work.RENEW: "As dry as the first: water is added again, and the clock starts again.",
    Work.ADD_PLANT: "A handful of it, wilted or dry; what there is none of needs no note.",
    Work.READ: "Every quarter of an hour, in the middle of the jar; shake it every half.",
    Work.VENT: "Lid off for a minute, its inside wiped dry.",
    Work.SHAKE: "Until all of it moves.",
    Work.LOOK: "Clear, no bubbles, no fuzz, no water below, all of it under oil.",
    Work.SMELL: "Of oil, and faintly of the plant; what smells sour or of yeast is binned.",
    Work.STRAIN: "Let it cool on the plant first; settle, decant, and leave the bottoms.",
}
OF_WHAT: Mapping[Work, str] = {Work.TOP_UP: " with {:.0f} g of oil", Work.RENEW: ", {:.0f} g of it"}
SMELT = frozenset({NoteKind.SMELL, NoteKind.SOUR})


class Standing(StrEnum):
    """How it stands with a thing that is to be done."""

    DONE = "done"
    DUE = "due"
    MISSED = "missed"
    COMES = "to come"


@dataclass(frozen=True, slots=True)
class Planned:
    """A thing to do on a day, how it stands and how it is done; `grams` where it is known how much."""

    on: date
    work: Work
    standing: Standing
    grams: float | None = None

    @property
    def words(self) -> str:
        """What is to be done."""
        if self.grams is None:
            return self.work.value
        return f"{self.work.value}{OF_WHAT[self.work].format(self.grams)}"

    @property
    def how(self) -> str:
        """How it is done."""
        return HOW[self.work]


@dataclass(frozen=True, slots=True)
class Task:
    """Something to do with a jar, since when it is due, and how it is done."""

    words: str
    since: date
    how: str
    noted_by: NoteKind | None  # what is noted once it is done; None where more has to be said
    grams: float | None = None

    @property
    def asks_grams(self) -> bool:
        """Whether its note needs grams that only the person knows."""
        return self.noted_by is NoteKind.PLANT_ADDED


def schedule_of(jar: JarUnderWay) -> tuple[Planned, ...]:
    """Everything that a jar wants from the day it was begun until its way ends, in the order of the days."""
    return tuple(sorted(_planned(jar), key=lambda each: each.on))


def due_of(jar: JarUnderWay) -> tuple[Task, ...]:
    """What is due, the longest on top, each since the first time it was left out; nothing of a jar that has ended."""
    schedule = schedule_of(jar) if jar.ended is None else ()
    found = []
    for work in Work:
        since: date | None = None
        for each in schedule:
            if each.work is not work or each.standing is Standing.COMES:
                continue
            since = None if each.standing is Standing.DONE else since or each.on
            if each.standing is Standing.DUE:
                found.append(
                    Task(each.words, since or each.on, how=each.how, noted_by=NOTED_BY.get(work), grams=each.grams)
                )
    return tuple(sorted(found, key=lambda task: task.since))


def look_days(last: int) -> list[int]:
    """The days on which a jar is looked at, up to one: after 1, 3 and 7, then every week.

    >>> look_days(22)
    [1, 3, 7, 14, 21]
    """
    return [day for day in (*LOOKS, *range(14, last + 1, 7)) if day <= last]


def _planned(jar: JarUnderWay) -> Iterator[Planned]:
    days, ends = jar.planned_days, jar.planned_days + A_WEEK.days
    noted = {work: [note.on for note in jar.notes if note.kind in _kinds(work)] for work in Work}
    if jar.plan.covers.top_up >= 1 and days:
        done = bool(noted[Work.TOP_UP])
        on = jar.begun_on + A_DAY
        yield Planned(on, Work.TOP_UP, _standing(jar, on, None, done=done), float(round(jar.plan.covers.top_up)))
    if jar.plan.method.watched:
        read = bool(jar.readings)
        yield Planned(jar.begun_on, Work.READ, _standing(jar, jar.begun_on, jar.begun_on + A_DAY, done=read))
    weekly = list(range(A_WEEK.days, days + 1, A_WEEK.days))
    yield from _each(jar, Work.LOOK, look_days(days), ends, noted[Work.LOOK])
    yield from _each(jar, Work.SMELL, weekly, ends, noted[Work.SMELL])
    yield from _each(jar, Work.SHAKE, range(1, days), days, noted[Work.SHAKE])
    if jar.plan.method.in_light:
        daily = days if jar.plan.must_leave else min(days, VENTED_DAILY + 1)
        vents = (*range(1, daily), *(day for day in weekly if daily <= day < days))
        yield from _each(jar, Work.VENT, vents, days, noted[Work.VENT])
    if jar.plan.method.charges > 1:
        grams, on = float(round(jar.plan.plant_grams)), jar.renewed_on
        yield Planned(on, Work.RENEW, _standing(jar, on, None, done=bool(noted[Work.RENEW])), grams)
    if jar.plan.method.adds_plant:
        last = days - LAST_ADDED
        adds = [day for day in weekly if day <= last]
        yield from _each(jar, Work.ADD_PLANT, adds, last + A_WEEK.days, noted[Work.ADD_PLANT])
    strained = jar.ended is not None and jar.ended.kind is NoteKind.STRAINED
    yield Planned(jar.done_on, Work.STRAIN, _standing(jar, jar.done_on, None, done=strained))


def _kinds(work: Work) -> frozenset[NoteKind]:
    """Notes that say that a thing was done; who looks and sees something has looked."""
    if work in (Work.LOOK, Work.SMELL):
        return SEEN if work is Work.LOOK else SMELT
    return frozenset({NOTED_BY[work]} if work in NOTED_BY else ())


def _each(jar: JarUnderWay, work: Work, days: Iterable[int], ends: int, noted: list[date]) -> Iterator[Planned]:
    """A thing that comes again: each time it can be done until the next, and the last time until the day it ends."""
    dates = [jar.begun_on + timedelta(days=day) for day in days]
    for on, following in pairwise([*dates, jar.begun_on + timedelta(days=ends)] if dates else []):
        done = any(on <= day < following for day in noted)
        yield Planned(on, work, _standing(jar, on, following, done=done))


def _standing(jar: JarUnderWay, on: date, before: date | None, *, done: bool) -> Standing:
    """How a thing stands that is to be done on a day, or until the day before another."""
    if done:
        return Standing.DONE
    last = jar.ended.on if jar.ended else jar.today
    if on > last:
        return Standing.COMES
    over = jar.ended is not None or (before is not None and before <= jar.today)
    return Standing.MISSED if over else Standing.DUE
