"""A bottle: one container of what was made, with what befell it from the day it was filled."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum
from functools import cached_property
from typing import Any

from uptide.core.keeping.storage_history import EVENT_KINDS, OLDEST_BOTTLE, problem_of


class Noted(StrEnum):
    """What is noted of a bottle beside how it was stored and read; those kinds stand in EVENT_KINDS."""

    SEEN = "looked at"
    DISCARDED = "thrown out"
    GIVEN = "given"
    SOLD = "sold"
    BACK = "came back"
    FELT = "how it felt"
    REACTION = "reaction"
    WISH = "wish for the next"
    REMARK = "remark"


USED_UP = "used up"
HANDS = frozenset({Noted.GIVEN, Noted.SOLD, Noted.BACK})  # that it goes through
NEEDS_WORDS = frozenset({Noted.FELT, Noted.REACTION, Noted.WISH, Noted.REMARK, Noted.DISCARDED})
LOOKS = frozenset({"smell", "strip", "titration", Noted.SEEN})  # what counts as having looked at it
KINDS: tuple[str, ...] = (*EVENT_KINDS, *Noted)


class State(StrEnum):
    """How a bottle stands."""

    STANDS = "stands"
    OFF = "off"
    GONE = "gone"


@dataclass(frozen=True, slots=True)
class BottleNote:
    """Something that befell a bottle; `detail` depends on the kind, `struck` says why it no longer counts.

    `whom` is a name, `wearer` the number of a card where there is one.
    """

    id: int
    on: date
    kind: str
    detail: Mapping[str, Any] = field(default_factory=dict)
    wearer: int | None = None
    whom: str = ""
    struck: str | None = None

    @property
    def words(self) -> str:
        """What was said of it."""
        return str(self.detail.get("words") or "")


@dataclass(frozen=True)
class Bottle:
    """One container of a version, of a batch where it came from one; sizes in mL, what it was filled with in g."""

    number: str
    blend_id: int
    version: int
    filled_on: date
    batch: str = ""
    place_in_batch: int = 0
    size_ml: float = 0.0
    fill_g: float | None = None
    notes: tuple[BottleNote, ...] = ()

    @cached_property
    def live(self) -> tuple[BottleNote, ...]:
        """What counts, in the order of its days."""
        return tuple(sorted((each for each in self.notes if each.struck is None), key=lambda each: (each.on, each.id)))

    @cached_property
    def made_on(self) -> date:
        """The day it was made: as noted, else the day it was filled."""
        made = [each.on for each in self.live if each.kind == "made"]
        return made[-1] if made else self.filled_on

    @cached_property
    def events(self) -> tuple[BottleNote, ...]:
        """How it was stored and read, as the model takes it, the day of its making first."""
        stored = [each for each in self.live if each.kind in EVENT_KINDS and each.kind != "made"]
        return (BottleNote(0, self.made_on, "made"), *stored)

    @cached_property
    def opened_on(self) -> date | None:
        """The day it was opened; None while it is closed, or nobody said."""
        return next((each.on for each in self.live if each.kind == "opened"), None)

    @cached_property
    def place(self) -> str:
        """Where it was put last; nothing where nobody moved it."""
        return next((str(each.detail.get("place", "")) for each in reversed(self.live) if each.kind == "moved"), "")

    @cached_property
    def handed(self) -> BottleNote | None:
        """The note by which somebody else has it; None where it is here."""
        last = next((each for each in reversed(self.live) if each.kind in HANDS), None)
        return last if last is not None and last.kind != Noted.BACK else None

    @cached_property
    def state(self) -> State:
        """How it stands: gone is gone, and what smelled off stays off."""
        if any(each.kind in (USED_UP, Noted.DISCARDED) for each in self.live):
            return State.GONE
        is_off = any(each.kind == "smell" and each.detail.get("off") for each in self.live)
        return State.OFF if is_off else State.STANDS

    @cached_property
    def reactions(self) -> tuple[BottleNote, ...]:
        """What happened to somebody's skin."""
        return tuple(each for each in self.live if each.kind == Noted.REACTION)

    @cached_property
    def looked_at(self) -> tuple[date, ...]:
        """The days on which somebody looked, smelled or measured."""
        return tuple(each.on for each in self.live if each.kind in LOOKS)

    @cached_property
    def ended_on(self) -> date | None:
        """The day it was used up, thrown out or found off; None while it stands."""
        ends = (
            each.on
            for each in self.live
            if each.kind in (USED_UP, Noted.DISCARDED) or (each.kind == "smell" and each.detail.get("off"))
        )
        return min(ends, default=None)


def note_problem(note: BottleNote, bottle: Bottle, today: date) -> str:
    """Why something cannot be noted of a bottle, in a sentence; nothing when it can."""
    if note.kind in EVENT_KINDS:
        return problem_of(note, today)
    years = OLDEST_BOTTLE.days // 365
    wrong = (
        (
            note.kind not in KINDS,
            f"“{note.kind}” is nothing that is noted of a bottle; known are {', '.join(KINDS)}.",
        ),
        (
            not today - OLDEST_BOTTLE <= note.on <= today,
            f"{note.on.isoformat()} cannot be: a day of the last {years} years up to today can.",
        ),
        (
            note.kind in NEEDS_WORDS and not note.words.strip(),
            f"“{note.kind}” wants a few words: who reads it later was not there.",
        ),
        (
            note.kind in (Noted.GIVEN, Noted.SOLD) and not (note.whom or note.wearer),
            "To whom? Choose a card, or write a name.",
        ),
        (
            note.kind == Noted.BACK and bottle.handed is None,
            f"Bottle {bottle.number} is here: nobody has it who could bring it back.",
        ),
    )
    return next((words for is_wrong, words in wrong if is_wrong), "")


def shared_readings(bottle: Bottle, others: Sequence[Bottle]) -> tuple[BottleNote, ...]:
    """What strips and noses said of its siblings that stand where it stands: it is the same oil in the same air.

    What smelled off is left out: one bottle that turned says “look at the others”, and does not end them (assumption).
    """
    return tuple(
        note
        for other in others
        if other.place == bottle.place and other.opened_on == bottle.opened_on
        for note in other.live
        if note.kind in ("strip", "titration") or (note.kind == "smell" and not note.detail.get("off"))
    )
