"""Wearers' cards as JSON: out for whoever asks for theirs, and in again, with patch tests."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from datetime import date, datetime
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StrictBool, TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from uptide.core.errors import UptideError
from uptide.core.skin.patch import Saw
from uptide.core.skin.wearer import ANYONE, GROUPS, Ticks, Wearer
from uptide.core.text import shown, whole
from uptide.store.blends import names_of_blends
from uptide.store.bottles import bottles_that_name
from uptide.store.people import WORDS, ever_made_for, wearer_to_json
from uptide.store.records import Person

WEARER = TypeAdapter(Wearer)
TICKED = TypeAdapter(dict[str, StrictBool])
ON_A_CARD = tuple(key for key in wearer_to_json(ANYONE) if key != "name")
NONE_OF_THE_OTHERS = "none_of_the_others"


class Given(BaseModel):
    """Something that was given in a file: what is not known is refused."""

    model_config = ConfigDict(extra="forbid")


Text = Annotated[str, AfterValidator(whole)]


class LookIn(Given):
    """What was seen at one look, counted from 1."""

    look: int = Field(ge=1)
    saw: Saw
    note: Text = ""


class TestIn(Given):
    """A patch test of a version of a blend."""

    blend: Text
    version: int = Field(ge=1)
    protocol: Text
    site: Text
    begun: datetime
    note: Text = ""
    looks: list[LookIn] = Field(default_factory=list)


class EarlierIn(Given):
    """A card as it was from a moment on; given out, and not read in again."""

    since: datetime
    card: dict[str, Any]


class BlendIn(Given):
    """A version of a blend that was made for somebody; given out, and not read in again."""

    blend: Text
    version: int


class NoteIn(Given):
    """What was noted of a bottle about somebody."""

    on: date
    kind: Text
    words: Text = ""


class BottleIn(BlendIn):
    """A bottle that somebody has, had or tried; given out, and not read in again."""

    number: Text
    made: date
    notes: list[NoteIn] = Field(default_factory=list)


class PersonIn(Given):
    """Somebody: the card (none: it is there already) and patch tests."""

    name: Text
    card: dict[str, Any] | None = None
    tests: list[TestIn] = Field(default_factory=list)
    earlier: list[EarlierIn] = Field(default_factory=list)
    made_for: list[BlendIn] = Field(default_factory=list)
    bottles: list[BottleIn] = Field(default_factory=list)


class PeopleIn(Given):
    """The whole file."""

    people: list[PersonIn]


def write_people(people: Iterable[Person], store: Session) -> str:
    """Everything that is kept of somebody, to give to them or to bring in elsewhere."""
    blends = names_of_blends(store)
    written = {"people": [_written(person, blends, store) for person in people]}
    return json.dumps(written, ensure_ascii=False, indent=2) + "\n"


def _written(person: Person, blends: Mapping[int, str], store: Session) -> dict[str, Any]:
    return {
        "name": person.wearer.name,
        "card": _card(person.wearer),
        "tests": [
            {
                "blend": test.blend_name,
                "version": test.version,
                "protocol": test.protocol,
                "site": test.site,
                "begun": test.begun_at.isoformat(),
                "note": test.note,
                "looks": [
                    {"look": look.step + 1, "saw": look.saw.value, "note": look.note}
                    for look in test.looks
                    if look.saw is not None
                ],
            }
            for test in person.tests
        ],
        "earlier": [{"since": since.isoformat(), "card": _card(card)} for since, card in person.earlier],
        "made_for": [{"blend": name, "version": number} for name, number in ever_made_for(store, person.id)],
        "bottles": [
            {
                "number": bottle.number,
                "blend": blends[bottle.blend_id],
                "version": bottle.version,
                "made": bottle.made_on.isoformat(),
                "notes": [
                    {"on": note.on.isoformat(), "kind": note.kind, "words": note.words}
                    for note in bottle.live
                    if note.wearer == person.id  # what it says of others is theirs
                ],
            }
            for bottle in bottles_that_name(store, person.id)
        ],
    }


def _card(wearer: Wearer) -> dict[str, Any]:
    return {key: value for key, value in wearer_to_json(wearer).items() if key != "name"}


def read_people(name: str, text: str) -> PeopleIn:
    """Read a file of people.

    Raises:
        UptideError: everything in it that cannot be, by where it stands.
    """
    try:
        return PeopleIn.model_validate(json.loads(text))
    except json.JSONDecodeError as error:
        raise UptideError(f"{name}, line {error.lineno}: this is no JSON: {error.msg}.") from error
    except RecursionError as error:
        raise UptideError(f"{name} is nested too deeply to be a file of people.") from error
    except ValidationError as error:
        said = [f"{name}: {'.'.join(map(str, e['loc']))}: {e['msg']}" for e in error.errors()]
        raise UptideError(shown("\n".join(said))) from error


def wearer_in(person: PersonIn) -> Wearer:
    """The wearer of an entry.

    A group says of each thing whether it holds (`{"peanut": true, "sesame": false}`); what it does not name was not
    asked, unless it says `"none_of_the_others": true`. A list names what holds, and an empty one “none of these”.

    Raises:
        UptideError: something on the card that is not known or cannot be.
    """
    card = person.card or {}
    strange = [key for key in card if key not in ON_A_CARD]
    if strange:
        raise UptideError(
            f"{person.name}: a card says nothing of {', '.join(strange)}; known are {', '.join(ON_A_CARD)}."
        )
    for key in WORDS:
        whole(str(card.get(key, "")))
    try:
        groups = {name: _ticks(person.name, name, card[name]) for name in GROUPS if card.get(name) is not None}
        plain = {key: value for key, value in card.items() if key not in GROUPS}
        return WEARER.validate_python({**plain, **groups, "name": person.name})
    except ValidationError as error:
        said = [f"{person.name}, {'.'.join(map(str, e['loc']))}: {e['msg']}" for e in error.errors()]
        raise UptideError("\n".join(said)) from error


def _ticks(who: str, group: str, given: Any) -> Ticks:
    known = GROUPS[group]
    if isinstance(given, list) and all(isinstance(key, str) for key in given):
        said = dict.fromkeys(given, True) | ({} if given else {NONE_OF_THE_OTHERS: True})
    else:
        try:
            said = TICKED.validate_python(given)
        except ValidationError as error:
            raise UptideError(
                f"{who}, {group}: give what holds as a list, or true and false for each of {', '.join(known)}."
            ) from error
    others = said.pop(NONE_OF_THE_OTHERS, False)
    yes = frozenset(key for key, held in said.items() if held)
    no = frozenset(said).difference(yes) | (known.keys() - yes if others else set())
    strange = sorted((yes | no) - known.keys())
    if strange:
        raise UptideError(f"{who}, {group}: “{', '.join(strange)}” is not known; known are {', '.join(known)}.")
    return Ticks(yes, no)
