"""What wants doing as a calendar (RFC 5545), as a file or as a feed that a calendar program asks for."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta

from icalendar import Calendar, Event, vRecur

from uptide.core.infusion.following import JarUnderWay
from uptide.core.infusion.schedule import Planned, Standing, Work, schedule_of

OPEN = frozenset({Standing.DUE, Standing.COMES})
A_DAY = timedelta(days=1)


@dataclass(frozen=True, slots=True)
class Due:
    """Something of a day that is no jar's: a look, a patch test, an end. The same `uid` is the same entry."""

    uid: str
    on: date
    what: str
    how: str = ""


def write_calendar(
    jars: Iterable[tuple[int, str, JarUnderWay]], due: Iterable[Due] = (), name: str = "Steeping"
) -> bytes:
    """Jars under way, each (number, name, jar), and all else that is due, as a calendar of whole days.

    What was done is left out. Shaking is one entry that comes every day. The same thing gives the same entries, so that
    a feed does not double them.
    """
    calendar = Calendar()
    calendar.add("prodid", f"-//Up Tide//{name}//EN")
    calendar.add("version", "2.0")
    calendar.add("name", name)
    for one in due:
        event = Event()
        event.add("uid", f"{one.uid}@up-tide")
        event.add("dtstamp", _midnight(one.on))
        event.add("dtstart", one.on)
        event.add("dtend", one.on + A_DAY)
        event.add("summary", one.what)
        event.add("description", one.how)
        event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    for number, title, jar in jars:
        if jar.ended is not None:
            continue
        planned = [each for each in schedule_of(jar) if each.standing in OPEN]
        shakes = [each for each in planned if each.work is Work.SHAKE]
        for each in planned:
            if each.work is not Work.SHAKE:
                calendar.add_component(_event(number, title, jar, each))
        if shakes:
            event = _event(number, title, jar, shakes[0])
            event.add("rrule", vRecur(freq="daily", count=len(shakes)))
            calendar.add_component(event)
    written: bytes = calendar.to_ical()
    return written


def _event(number: int, name: str, jar: JarUnderWay, planned: Planned) -> Event:
    event = Event()
    event.add("uid", f"jar-{number}-{planned.work.name.lower()}-{planned.on.isoformat()}@up-tide")
    event.add("dtstamp", _midnight(jar.begun_on))
    event.add("dtstart", planned.on)
    event.add("dtend", planned.on + A_DAY)
    event.add("summary", f"{planned.work.value}: {name}")
    event.add("description", planned.how)
    event.add("transp", "TRANSPARENT")
    return event


def _midnight(day: date) -> datetime:
    return datetime.combine(day, time(), UTC)
