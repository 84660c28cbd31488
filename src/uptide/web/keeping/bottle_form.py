"""What is noted of a bottle, as it was typed."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy.orm import Session

from uptide.core.errors import UptideError
from uptide.core.keeping.bottle import HANDS, NEEDS_WORDS, USED_UP, BottleNote, Noted
from uptide.core.keeping.storage_history import EVENT_KINDS, IN_WATER
from uptide.store.people import names_of_people
from uptide.web.base.forms import FieldError, TokenForm, day_of, in_field, number_of
from uptide.workshop.clock import today

OFF, FINE = "off", "fine"
LONGEST_WORDS = 500
# How each kind is asked for; those that take words say so by themselves.
KIND_WORDS: Mapping[str, str] = {"smell": "smell or look", "in water": "what it does in water"}
GROUPS = (
    ("How it is", ("smell", Noted.SEEN.value, "strip", "titration", "in water")),
    ("Where it is", ("opened", "moved", "heated", "made")),
    ("Who has it", (Noted.GIVEN.value, Noted.SOLD.value, Noted.BACK.value)),
    ("What they say", (Noted.FELT.value, Noted.REACTION.value, Noted.WISH.value)),
    ("Its end", (USED_UP, Noted.DISCARDED.value)),
    ("Else", (Noted.REMARK.value,)),
)

OF_PEOPLE = (
    *(kind.value for kind in Noted if kind in HANDS),
    *(kind.value for kind in (Noted.FELT, Noted.REACTION, Noted.WISH)),
)  # that ask who
OF_WORDS = (USED_UP, *(kind.value for kind in Noted))  # that take a few words


class NoteForm(TokenForm):
    """A note about a bottle as it was typed."""

    kind: str = "smell"
    on: str = ""
    place: str = ""
    celsius: str = ""
    hours: str = ""
    low: str = ""
    high: str = ""
    smell: str = FINE
    in_water: str = IN_WATER[0]
    words: str = ""
    wearer: str = ""
    whom: str = ""
    price: str = ""
    back: str = ""  # where it was seen, when that is the board
    said: str = ""  # one tap there: the kind, and how it smells


class StrikeForm(TokenForm):
    """Why a note counts no more."""

    why: str = ""


def read_note(form: NoteForm, store: Session) -> BottleNote:
    """Read a note; raise UptideError that says beside which field what was wrong."""
    if form.said:
        kind, _, smell = form.said.partition(":")
        form = form.model_copy(update={"kind": kind, "smell": smell or FINE})
    with in_field("on"):
        on = day_of(form.on, "day", latest=today())
    if on is None:
        raise FieldError("on", f"On which day? Write it as {today().isoformat()}.")
    wearer, whom = _whom(form, store) if form.kind in HANDS or form.kind in NEEDS_WORDS else (None, "")
    return BottleNote(0, on, kind=form.kind, detail=_detail(form), wearer=wearer, whom=whom)


def _whom(form: NoteForm, store: Session) -> tuple[int | None, str]:
    known = dict(names_of_people(store))
    if form.wearer.strip():
        if not form.wearer.isdecimal() or int(form.wearer) not in known:
            raise FieldError("wearer", "This card is no more: choose another, or write a name.")
        return int(form.wearer), known[int(form.wearer)]
    named = [number for number, name in known.items() if name.casefold() == form.whom.strip().casefold()]
    return (named[0] if len(named) == 1 else None), form.whom.strip()


def _detail(form: NoteForm) -> dict[str, object]:
    """What belongs to a kind of note."""
    detail: dict[str, object] = {}
    if form.kind not in EVENT_KINDS or form.kind == USED_UP:
        detail = {"words": form.words.strip()[:LONGEST_WORDS]} if form.words.strip() else {}
        if form.kind == Noted.SOLD and form.price.strip():
            with in_field("price"):
                detail["price"] = number_of(form.price, "price", most=10_000)
    elif form.kind == "moved":
        detail["place"] = form.place
    elif form.kind == "heated":
        with in_field("celsius"):
            detail["celsius"] = number_of(form.celsius, "temperature")
        with in_field("hours"):
            detail["hours"] = number_of(form.hours, "number of hours")
    elif form.kind in ("strip", "titration"):
        with in_field("low"):
            detail["low"] = number_of(form.low, "peroxide value")
        if form.kind == "strip":
            with in_field("high"):
                detail["high"] = number_of(form.high, "peroxide value")
    elif form.kind == "smell":
        if form.smell not in (OFF, FINE):
            raise UptideError(f"It smells {FINE} or {OFF}; “{form.smell}” is neither.")
        detail["off"] = form.smell == OFF
    elif form.kind == "in water":
        detail["saw"] = form.in_water
    return detail
