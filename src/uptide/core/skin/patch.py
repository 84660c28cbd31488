"""Patch testing a finished product at home: when to look, what was seen, and what that means.

A home check for an early reaction. It clears nobody: a first allergy needs 10 to 14 days to form, a reaction to light
needs light, and a food allergy is never tried out on skin. Protocols: common practice and escd-2015 (the
repeated open application), from memory.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from enum import StrEnum

from uptide.core.errors import UptideError

LONGEST_AGO, SOON = timedelta(days=731), timedelta(days=1)  # when a test that is noted can have begun
LATE = timedelta(hours=12)  # a look this long after its hour says less about that hour; assumption


class Saw(StrEnum):
    """What was seen or felt at the place."""

    NOTHING = "nothing"
    FAINT = "faint pink, no itch"
    RED = "red or itching"
    RAISED = "swollen, bumps, burning"
    BLISTERS = "blisters or weeping"


REACTIONS = frozenset({Saw.RED, Saw.RAISED, Saw.BLISTERS})
SITES = ("inner elbow", "inner wrist", "inner forearm", "behind the ear", "side of the neck")

BEFORE: tuple[str, ...] = (
    "Healthy skin: no cut, rash or shaving there; no acid or retinoid on it for 48 hours, no cortisone cream, no "
    "antihistamine.",
    "The finished product, never a neat essential oil. What is rinsed off in use is rinsed off here too.",
)
IF_IT_REACTS: tuple[str, ...] = (
    "Wash it off with much water and mild soap. Do not test it again.",
    "Swollen lips, tongue or throat, hives over the body, wheezing or faintness: call the emergency number at once.",
    "A rash that spreads or weeps, or lasts longer than two days: a doctor or pharmacist.",
)
WHAT_IT_CANNOT = (
    "No reaction is no proof: a first allergy takes 10 to 14 days to form, and sensitivity can come with use. Start on "
    "a small area."
)


@dataclass(frozen=True, slots=True)
class Look:
    """A time to look: hours after the first application, and what to do then."""

    hours: float
    words: str


@dataclass(frozen=True, slots=True)
class Protocol:
    """A way of testing: how it is done, and when to look."""

    key: str
    name: str
    how: str
    looks: tuple[Look, ...]
    source: str


def _open_looks(days: int) -> tuple[Look, ...]:
    return tuple(
        Look(24.0 * day, f"day {day}: look, then apply" if day < days else f"day {day}: look, and it is done")
        for day in range(1, days + 1)
    )


PROTOCOLS: Mapping[str, Protocol] = {
    each.key: each
    for each in (
        Protocol(
            "two-days",
            "Two days: twice for 24 hours",
            how="One or two drops on 2 cm of skin, marked, and left; after 24 hours again at the same place.",
            looks=(
                Look(0.5, "30 minutes: look"),
                Look(6.0, "6 hours: look"),
                Look(24.0, "24 hours: look, then apply again at the same place"),
                Look(48.0, "48 hours: look, and it is done"),
            ),
            source="common-practice",
        ),
        Protocol(
            "open-7",
            "Seven days: twice daily, open",
            how="Twice daily about 0.1 mL on the same 5 × 5 cm of the forearm, left open; stop at the first reaction.",
            looks=_open_looks(7),
            source="escd-2015",
        ),
        Protocol(
            "open-14",
            "Fourteen days: twice daily, open",
            how="Twice daily about 0.1 mL on the same 5 × 5 cm of the forearm, left open; stop at the first reaction. "
            "The longer run finds more.",
            looks=_open_looks(14),
            source="escd-2015",
        ),
    )
}


# A test that was kept in a way that is no longer known: looked at as long as the longest of those that are.
UNKNOWN = replace(PROTOCOLS["open-14"], key="", name="a way of testing that is no longer known")


class Outcome(StrEnum):
    """How a test stands."""

    RUNNING = "running"
    CLEAR = "no reaction"
    DOUBTFUL = "doubtful: repeat it or leave it"
    REACTED = "reacted: do not use it"
    BROKEN_OFF = "broken off"


@dataclass(frozen=True, slots=True)
class Planned:
    """One look of a test: when it is due, and what was seen, if somebody looked."""

    step: int
    due: datetime
    words: str
    saw: Saw | None
    note: str

    def is_due(self, now: datetime) -> bool:
        """Whether it is time to look and nobody has."""
        return self.saw is None and now >= self.due

    def is_late(self, now: datetime) -> bool:
        """Whether its time has passed by so much that a look now says little about it."""
        return self.saw is None and now - LATE > self.due


def can_have_begun(begun: datetime, now: datetime) -> bool:
    """Whether a test that is noted now can have begun at an hour: within two years, and not after tomorrow."""
    return now - LONGEST_AGO <= begun <= now + SOON


def protocol_of(key: str) -> Protocol:
    """The protocol of this key; raise UptideError that lists those there are."""
    if key not in PROTOCOLS:
        raise UptideError(f"There is no patch test “{key}”; known are {', '.join(PROTOCOLS)}.")
    return PROTOCOLS[key]


def plan(protocol: Protocol, begun: datetime, seen: Mapping[int, tuple[Saw, str]]) -> tuple[Planned, ...]:
    """When to look, with what was seen so far by the number of the look; what was seen beside them comes first."""
    beside = (step for step in sorted(seen) if not 0 <= step < len(protocol.looks))
    return tuple(Planned(step, begun, "another look", *seen[step]) for step in beside) + tuple(
        Planned(step, _after(begun, look.hours), look.words, *seen.get(step, (None, "")))
        for step, look in enumerate(protocol.looks)
    )


def _after(begun: datetime, hours: float) -> datetime:
    """So many hours later, or the same moment where the calendar ends."""
    try:
        return begun + timedelta(hours=hours)
    except OverflowError:
        return begun


def outcome(looks: Sequence[Planned], *, ended: bool = False) -> Outcome:
    """How a test stands: any reaction counts at once, faint pink leaves doubt, and only the last look clears.

    A look that was missed is no look at nothing: without the last one, the test stays open until it is broken off.
    """
    saw = [look.saw for look in looks if look.saw is not None]
    if any(each in REACTIONS for each in saw):
        return Outcome.REACTED
    if looks and looks[-1].saw is not None:
        return Outcome.DOUBTFUL if Saw.FAINT in saw else Outcome.CLEAR
    return Outcome.BROKEN_OFF if ended else Outcome.RUNNING
