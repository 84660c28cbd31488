"""What was changed elsewhere while a form was open: taken over where one left it alone, shown where both changed it."""

from __future__ import annotations

import json
from typing import TypeVar

from pydantic import BaseModel

from uptide.web.base.forms import TokenForm

Form = TypeVar("Form", bound="SeenForm")
NOT_TOLD = frozenset({"token", "seen"})


class SeenForm(TokenForm):
    """A form that brings along how it stood when it was opened."""

    seen: str = ""


class Both(BaseModel):
    """A field that was changed here and elsewhere, each to something else."""

    words: str
    theirs: str
    mine: str


def opened(form: Form) -> Form:
    """A form as it is opened: it knows how it stood."""
    return form.model_copy(update={"seen": json.dumps(_plain(form))})


def merged(mine: Form, theirs: Form) -> tuple[Form, tuple[Both, ...]]:
    """What one typed, with what was changed elsewhere in fields that one left as they were; and what both changed.

    Args:
        mine: what was sent, in the words that a form is opened with.
        theirs: how it would be opened now.
    """
    seen = _read(mine.seen)
    if seen is None:
        return mine, ()
    typed, now = _plain(mine), _plain(theirs)
    elsewhere = {name for name, value in now.items() if value != seen.get(name, "")}
    both = tuple(
        Both(words=name.replace("_", " ").replace("-", ": "), theirs=_said(now[name]), mine=_said(typed.get(name)))
        for name in now
        if name in elsewhere and typed.get(name) not in (now[name], seen.get(name, ""))
    )
    taken = {name: now[name] for name in elsewhere if typed.get(name) == seen.get(name, "")}
    return type(mine).model_validate(mine.model_dump() | taken | {"seen": json.dumps(now)}), both


def _plain(form: SeenForm) -> dict[str, object]:
    return {name: value for name, value in form.model_dump(mode="json").items() if name not in NOT_TOLD}


def _read(seen: str) -> dict[str, object] | None:
    try:
        found = json.loads(seen)
    except (ValueError, RecursionError):
        return None
    return found if isinstance(found, dict) else None


def _said(value: object) -> str:
    if isinstance(value, list):
        value = ", ".join(map(str, value))
    return "nothing" if value in (None, "") else str(value)
