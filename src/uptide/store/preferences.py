"""A person's settings, the secret that signs forms, and the forms that were used."""

from __future__ import annotations

import secrets
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from uptide.core.measures.habits import Habits
from uptide.core.oxidation.learning import is_shift, shift_of_a_house
from uptide.store.blends import habits_from_json
from uptide.store.models import PreferenceRow, UsedFormRow
from uptide.store.reading import to_json

SECRET, HABITS, LEARNT, FEED = "form_secret", "habits", "learnt_rates", "calendar_secret"
PASSPHRASES = "passphrase", "bench_passphrase"
NOBODY_ELSES = frozenset({SECRET, FEED, *PASSPHRASES})  # what goes out with nothing


def load_habits(session: Session) -> Habits:
    """How this person measures; the trade's defaults until they say otherwise."""
    row = session.get(PreferenceRow, HABITS)
    return habits_from_json(row.value)[0] if row else Habits()


def save_habits(session: Session, habits: Habits) -> None:
    """Keep how this person measures; blends that were saved keep the measures they were saved with."""
    session.merge(PreferenceRow(key=HABITS, value=to_json(habits)))


def form_secret(session: Session) -> str:
    """The secret that signs forms; made on first use."""
    row = session.get(PreferenceRow, SECRET)
    if row is None:
        row = PreferenceRow(key=SECRET, value=secrets.token_urlsafe(32))
        session.add(row)
        session.flush()
    return str(row.value)


def calendar_secret(session: Session) -> str:
    """The secret part of the calendar's address; nothing until somebody asks for one."""
    row = session.get(PreferenceRow, FEED)
    return str(row.value) if row is not None else ""


def renew_calendar_secret(session: Session) -> None:
    """Give the calendar another address; who asks for the one before gets nothing any more."""
    session.merge(PreferenceRow(key=FEED, value=secrets.token_urlsafe(24)))
    session.flush()


def kept_passphrases(session: Session) -> tuple[str, str]:
    """The passphrases of the workshop and of its bench, as they are kept; nothing where there is none."""
    whole, bench = (session.get(PreferenceRow, key) for key in PASSPHRASES)
    return str(whole.value) if whole else "", str(bench.value) if bench else ""


def keep_passphrases(session: Session, whole: str, bench: str) -> None:
    """Keep both in place of those that were kept; nothing takes one away."""
    for key, kept in zip(PASSPHRASES, (whole, bench), strict=True):
        session.merge(PreferenceRow(key=key, value=kept))
    session.flush()


def led_to(session: Session, token: str) -> str | None:
    """Where a form led when it was sent before; None for a form that is new."""
    row = session.get(UsedFormRow, token)
    return row.led_to if row else None


def remember_form(session: Session, token: str, target: str) -> None:
    """Note that a form was acted on. A writer does, so that a twin finds the note and never acts itself."""
    session.add(UsedFormRow(token=token, used_at=datetime.now(UTC), led_to=target))
    session.flush()


def keep_learnt(session: Session, bottle: int, shift: float | None) -> None:
    """Keep what the readings of one bottle taught of this person's storage: ln rate, already shrunk."""
    known = _learnt(session)
    known.pop(str(bottle), None)
    if shift is not None and is_shift(shift):
        known[str(bottle)] = shift
    session.merge(PreferenceRow(key=LEARNT, value=known))


def carried_over(session: Session, bottle: int | None) -> float:
    """What the other bottles taught of where they all stand, as an ln rate."""
    return shift_of_a_house([shift for key, shift in _learnt(session).items() if key != str(bottle)])


def learnt_stamp(session: Session) -> str:
    """A word that changes with what bottles taught, so that what follows from it is worked out once."""
    return f"{shift_of_a_house(list(_learnt(session).values())):.3f}"


def bottles_that_taught(session: Session) -> int:
    """Of how many bottles readings are carried over to others."""
    return sum(1 for shift in _learnt(session).values() if shift)


def forget_learnt(session: Session) -> None:
    """Drop all that bottles taught of others; their own readings stay with them."""
    session.merge(PreferenceRow(key=LEARNT, value={}))


def _learnt(session: Session) -> dict[str, float]:
    """What each bottle taught, by its number; what can be no ln rate was never learnt."""
    row = session.get(PreferenceRow, LEARNT)
    stored = row.value if row and isinstance(row.value, dict) else {}
    return {key: float(shift) for key, shift in stored.items() if is_shift(shift)}
