"""Jars of a workshop as they stand today: what was asked of them as plain JSON, and back."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import TypedDict, cast

from pydantic import BaseModel, Field, TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import UptideError
from uptide.core.infusion.charge import Charge
from uptide.core.infusion.following import JarNote, JarUnderWay, NoteKind
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import PlantFacts, State
from uptide.core.infusion.straining import Straining
from uptide.core.safety.caution import Grade
from uptide.store.jars import Jar, add_note, begin_jar, list_jars

AMOUNTS = ("jar_ml", "grams", "fill", "oil_grams", "water", "width_cm")  # the fields of Amounts


def ask_to_json(ask: JarAsk) -> dict[str, object]:
    """What is asked of a jar, as plain JSON: plant and oil by their keys."""
    return {
        "plant": ask.plant.key,
        "state": ask.state.value,
        "oil": ask.oil.key,
        "method": ask.method,
        "pressed": ask.pressed,
        "to_the_rim": ask.to_the_rim,
        "straining": ask.straining.value,
        **{name: getattr(ask, name) for name in AMOUNTS},
        "also": [
            {"plant": each.plant.key, "state": each.state.value, "grams": each.grams, "water": each.water}
            for each in ask.also
        ],
    }


def ask_from_json(stored: Mapping[str, object], facts: Catalogue) -> JarAsk:
    """What was asked of a stored jar.

    Raises:
        UptideError: a plant or an oil that is known no more, or an amount that is none.
    """
    try:
        return JarAsk(
            plant=_plant(stored, facts),
            state=State(str(stored.get("state"))),
            oil=facts.ingredient(str(stored.get("oil"))),
            method=str(stored.get("method")),
            pressed=bool(stored.get("pressed")),
            to_the_rim=bool(stored.get("to_the_rim")),
            straining=Straining(str(stored.get("straining"))),
            also=tuple(_charge(each, facts) for each in _records(stored.get("also"))),
            **_amounts(stored),
        )
    except ValueError as error:  # every error of the trade is one, and so is a word that is none of its kind
        raise UptideError(f"What was asked of this jar can be read no more: {error}") from error


def _plant(stored: Mapping[str, object], facts: Catalogue) -> PlantFacts:
    found = facts.plants.get(str(stored.get("plant")))
    if found is None:
        raise UptideError(f"Nobody knows a plant “{stored.get('plant')}” any more.")
    return found


def _records(stored: object) -> list[Mapping[str, object]]:
    return [each for each in stored if isinstance(each, Mapping)] if isinstance(stored, list) else []


def _charge(stored: Mapping[str, object], facts: Catalogue) -> Charge:
    water = None if stored.get("water") is None else float(str(stored["water"]))
    return Charge(_plant(stored, facts), State(str(stored.get("state"))), float(str(stored.get("grams"))), water)


def _amounts(stored: Mapping[str, object]) -> Amounts:
    given = {name: float(str(stored[name])) for name in AMOUNTS if stored.get(name) is not None}
    return cast("Amounts", given)


class Amounts(TypedDict, total=False):
    """The amounts of a jar by their names [mL, g, parts of one]."""

    jar_ml: float
    grams: float
    fill: float
    oil_grams: float
    water: float
    width_cm: float


def jar_today(jar: Jar, facts: Catalogue, day: date) -> JarUnderWay | None:
    """A stored jar as it stands on a day; None where what was asked of it can be read no more."""
    try:
        return JarUnderWay(JarPlan(ask_from_json(jar.asked, facts)), jar.begun_on, jar.notes, day, jar.readings)
    except UptideError:
        return None


@dataclass(frozen=True, slots=True)
class WantsDoing:
    """A jar under way that wants something today: what cannot wait first, else what is due."""

    jar: Jar
    day: int
    words: str


def jars_that_want(store: Session, facts: Catalogue, day: date) -> list[WantsDoing]:
    """The jars under way of which something is due on a day."""
    found = []
    for jar in list_jars(store):
        under_way = jar_today(jar, facts, day)
        if under_way is None or under_way.ended:
            continue
        stops = [said.message for said in under_way.says if said.grade is Grade.STOP]
        wanted = stops[:1] or [task.words for task in under_way.due]
        if wanted:
            found.append(WantsDoing(jar, under_way.day, "; ".join(wanted)))
    return found


class NoteIn(BaseModel):
    """A note of a jar in a file."""

    on: date
    kind: NoteKind
    grams: float | None = None
    words: str = ""


class JarIn(BaseModel):
    """A jar in a file: its name, the day it was begun, what was asked of it, and its notes."""

    name: str
    begun_on: date
    asked: dict[str, object]
    notes: list[NoteIn] = Field(default_factory=list)


def bring_jars(name: str, text: str, facts: Catalogue, store: Session) -> str:
    """Bring jars in from JSON; say how many. A jar of the same name and day is there already, and is left as it is.

    Raises:
        UptideError: a file that is none, or a jar that cannot be; nothing is brought in then.
    """
    try:
        jars = TypeAdapter(list[JarIn]).validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(map(str, first["loc"]))
        raise UptideError(f"{name} is no list of jars: {where}: {first['msg']}.") from error
    known = {(jar.name, jar.begun_on) for jar in list_jars(store)}
    new = [jar for jar in jars if (jar.name, jar.begun_on) not in known]
    for jar in new:
        number = begin_jar(store, jar.name, jar.begun_on, ask_to_json(ask_from_json(jar.asked, facts)))
        for note in jar.notes:
            add_note(store, number, JarNote(note.on, note.kind, note.grams, note.words))
    return f"{len(new)} jar{'' if len(new) == 1 else 's'} added."
