"""A bottle in the words of its page."""

from __future__ import annotations

from datetime import date

from uptide.core.keeping.bottle import Bottle, BottleNote, Noted, State
from uptide.core.keeping.storage_history import EVENT_KINDS
from uptide.core.months import say_day
from uptide.store.bottles import Worked
from uptide.web.base.pages import number
from uptide.web.drawing.tide import event_words
from uptide.web.drawing.view import View


class NoteView(View):
    """A note in words; `struck` says why it counts no more."""

    id: int
    on: str
    words: str
    struck: str


class SiblingView(View):
    """Another bottle of the batch."""

    number: str
    words: str


def note_view(note: BottleNote, today: date) -> NoteView:
    """A note as it stands on the page."""
    struck = f"struck: {note.struck}" if note.struck is not None else ""
    return NoteView(id=note.id, on=say_day(note.on), words=note_words(note, today), struck=struck)


def note_words(note: BottleNote, today: date) -> str:
    """What befell it, in a sentence."""
    if note.kind in EVENT_KINDS:
        return f"{event_words(note, today)}{': ' + note.words if note.words else ''}"
    said = note.kind
    if note.kind in (Noted.GIVEN, Noted.SOLD):
        said = f"{note.kind} to {note.whom or 'somebody'}"
        price = note.detail.get("price")
        said += f", for {number(price, 2)}" if isinstance(price, int | float) else ""
    elif note.whom:
        said = f"{note.whom}, {note.kind}"
    return f"{said}{': ' + note.words if note.words else ''}"


def sentence(bottle: Bottle, worked: Worked) -> str:
    """What it is, where it stands, and who has it."""
    size = f"{number(bottle.size_ml, 0)} mL" if bottle.size_ml else "A bottle"
    parts = [f"{size}, made {say_day(bottle.made_on)}"]
    parts += [f"{number(bottle.fill_g, 2)} g in it"] if bottle.fill_g else []
    parts += [bottle.place or worked.place] if bottle.place or worked.place else []
    parts += [f"opened {say_day(bottle.opened_on)}"] if bottle.opened_on else []
    handed = bottle.handed
    if handed is not None:
        parts.append(f"{handed.kind} to {handed.whom or 'somebody'} on {say_day(handed.on)}")
    if bottle.state is State.GONE and bottle.ended_on is not None:
        parts.append(f"gone since {say_day(bottle.ended_on)}")
    return f"{', '.join(filter(None, parts))}."


def until(bottle: Bottle, worked: Worked, today: date) -> str:
    """Until when it keeps, against today."""
    if bottle.state is State.OFF:
        return "It smelled off: it is over, whatever was worked out"
    if bottle.state is State.GONE:
        return ""
    if worked.ends_on is None:
        return "How long it keeps is not worked out"
    by = f"; what ends it: {worked.limited_by}" if worked.limited_by else ""
    if worked.turns_on is not None and worked.turns_on <= today:
        return f"Over: half of such bottles had turned by {say_day(worked.turns_on)}{by}"
    if worked.ends_on <= today:
        return f"Past {say_day(worked.ends_on)}: smell and test it before use{by}"
    return f"Keeps until {say_day(worked.ends_on)}{by}"


def sibling_view(bottle: Bottle) -> SiblingView:
    """Another bottle of the batch, in a line."""
    words = [f"{number(bottle.size_ml, 0)} mL"] if bottle.size_ml else []
    words += [bottle.state.value] if bottle.state is not State.STANDS else []
    words += [f"with {bottle.handed.whom or 'somebody'}"] if bottle.handed is not None else []
    words += [bottle.place] if bottle.place else []
    words += [f"open since {say_day(bottle.opened_on)}"] if bottle.opened_on else []
    return SiblingView(number=bottle.number, words=", ".join(words))
