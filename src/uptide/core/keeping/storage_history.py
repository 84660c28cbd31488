"""From what was noted about one bottle, day by day, to what the model needs: months since it was made."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date, timedelta
from typing import Any, Protocol

from uptide.core.errors import UptideError
from uptide.core.keeping.shelf_life import StorageHistory
from uptide.core.months import months_between
from uptide.core.oxidation.history import HeatStep
from uptide.core.oxidation.learning import Reading, ReadingKind
from uptide.core.oxidation.surroundings import PLACES, Storage

EVENT_KINDS = ("made", "opened", "moved", "heated", "strip", "titration", "smell", "in water", "used up")
OLDEST_BOTTLE = timedelta(days=3653)  # nobody notes anything of an older one
# What 1 g of a bath or cleansing oil did in 100 mL of water at 38 °C, shaken and left for half an hour.
IN_WATER = ("even milk", "clear", "milk, then a ring", "drops of oil")


class Event(Protocol):
    """Something that was noted."""

    @property
    def on(self) -> date:
        """The day."""
        ...

    @property
    def kind(self) -> str:
        """One of KINDS."""
        ...

    @property
    def detail(self) -> Mapping[str, Any]:
        """What belongs to the kind: place; celsius and hours; low and high; value; off."""
        ...


def problem_of(event: Event, today: date) -> str:
    """Why something cannot have befallen a bottle, in a sentence; nothing when it can."""
    if not today - OLDEST_BOTTLE <= event.on <= today:
        years = OLDEST_BOTTLE.days // 365
        return f"{event.on.isoformat()} cannot be: a day of the last {years} years up to today can."
    if event.kind not in EVENT_KINDS:
        return f"“{event.kind}” is nothing that is noted of a bottle; known are {', '.join(EVENT_KINDS)}."
    try:
        if event.kind == "moved":
            placed(Storage(), str(event.detail["place"]))
        elif event.kind == "heated":
            HeatStep(float(event.detail["celsius"]), float(event.detail["hours"]))
        elif event.kind in ("strip", "titration", "smell"):
            read_event(event.kind, 0.0, event.detail)
        elif event.kind == "in water" and event.detail["saw"] not in IN_WATER:
            return f"“{event.detail['saw']}” is nothing it does in water; known are {', '.join(IN_WATER)}."
    except UptideError as error:
        return str(error)
    except (KeyError, TypeError, ValueError):
        return "What belongs to it cannot be read."
    return ""


def possible(events: Sequence[Event], today: date) -> list[Event]:
    """The events that can have been; what was once stored and cannot be counts for nothing, and is said."""
    return [event for event in events if not problem_of(event, today)]


def made_on(events: Sequence[Event], today: date) -> date:
    """The day it was made: as noted, else the first day anything was noted, else today."""
    return _made_on(possible(events, today), today)


def _made_on(events: Sequence[Event], today: date) -> date:
    made = [event.on for event in events if event.kind == "made"]
    return made[-1] if made else min((event.on for event in events if event.kind != "in water"), default=today)


def placed(storage: Storage, place: str) -> Storage:
    """The same bottle in another of the usual places."""
    if place not in PLACES:
        raise UptideError(f"There is no place “{place}”; known are {', '.join(PLACES)}.")
    celsius, swing, light = PLACES[place]
    return replace(storage, place=place, celsius=celsius, swing=swing, light=light)


def history_of(events: Sequence[Event], storage: Storage, today: date) -> StorageHistory:
    """Put events on the time line of months since making; where an opening is noted, it was closed until then.

    What smelled off stays off: a day of making that is noted later, and lies after it, does not undo that.
    """
    events = possible(events, today)
    start = _made_on(events, today)
    later = sorted((event for event in events if event.on >= start), key=lambda event: event.on)
    moves: dict[int, Storage] = {}
    heated: defaultdict[int, tuple[HeatStep, ...]] = defaultdict(tuple)
    readings: list[Reading] = []
    here = storage
    if any(event.kind == "opened" for event in later):
        here = replace(storage, opened=False)
        moves[0] = here
    for event in later:
        months = months_between(start, event.on)
        if event.kind == "opened":
            here = replace(here, opened=True)
            moves[int(months)] = here
        elif event.kind == "moved":
            here = placed(here, str(event.detail["place"]))
            moves[int(months)] = here
        elif event.kind == "heated":
            heated[int(months)] += (HeatStep(float(event.detail["celsius"]), float(event.detail["hours"])),)
        elif event.kind in ("strip", "titration", "smell"):
            readings.append(read_event(event.kind, months, event.detail))
    readings += [
        read_event(event.kind, 0.0, event.detail)
        for event in events
        if event.on < start and event.kind == "smell" and event.detail["off"]
    ]
    return StorageHistory(start.month - 1, moves, dict(heated), tuple(readings), made_on=start)


def read_event(kind: str, months: float, detail: Mapping[str, Any]) -> Reading:
    """A noted reading as the model takes it; raise UptideError for one that cannot be."""
    if kind == "smell":
        return Reading(months, ReadingKind.SMELL, off=bool(detail["off"]))
    low = float(detail["low"])
    high = low if kind == "titration" else float(detail["high"])
    return Reading(months, ReadingKind(kind), low, high)
