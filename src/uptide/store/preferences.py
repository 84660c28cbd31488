"""A person's settings, the secret that signs forms, and the forms that were used."""

from __future__ import annotations

import secrets
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from uptide.core.measures.habits import Habits
from uptide.store.blends import habits_from_json, habits_to_json
from uptide.store.models import PreferenceRow, UsedFormRow

SECRET, HABITS, LEARNT = "form_secret", "habits", "learnt_rates"


def load_habits(session: Session) -> Habits:
    """How this person measures; the trade's defaults until they say otherwise."""
    row = session.get(PreferenceRow, HABITS)
    return habits_from_json(row.value) if row else Habits()


def save_habits(session: Session, habits: Habits) -> None:
    """Keep how this person measures; blends that were saved keep the measures they were saved with."""
    session.merge(PreferenceRow(key=HABITS, value=habits_to_json(habits)))


def form_secret(session: Session) -> str:
    """The secret that signs forms; made on first use."""
    row = session.get(PreferenceRow, SECRET)
    if row is None:
        row = PreferenceRow(key=SECRET, value=secrets.token_urlsafe(32))
        session.add(row)
        session.flush()
    return str(row.value)


def led_to(session: Session, token: str) -> str | None:
    """Where a form led when it was sent before; None for a form that is new."""
    row = session.get(UsedFormRow, token)
    return row.led_to if row else None


def remember_form(session: Session, token: str, target: str) -> None:
    """Note that a form was acted on."""
    session.add(UsedFormRow(token=token, used_at=datetime.now(UTC), led_to=target))
    session.flush()


def keep_learnt(session: Session, blend_id: int, shift: float | None) -> None:
    """Keep what the readings of one blend's bottle taught of this person's storage: ln rate, already shrunk."""
    row = session.get(PreferenceRow, LEARNT)
    known = dict(row.value) if row else {}
    known.pop(str(blend_id), None)
    if shift is not None:
        known[str(blend_id)] = shift
    session.merge(PreferenceRow(key=LEARNT, value=known))


def carried_over(session: Session, blend_id: int | None) -> float:
    """What the other bottles taught: their mean, counted as if one more bottle had taught nothing."""
    row = session.get(PreferenceRow, LEARNT)
    others = [float(shift) for key, shift in row.value.items() if key != str(blend_id)] if row else []
    return sum(others) / (len(others) + 1)
