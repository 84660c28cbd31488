"""Wearers' cards as JSON: out for whoever asks for theirs, and in again, with patch tests."""

from __future__ import annotations

import json
from collections.abc import Iterable
from datetime import datetime
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StrictBool, TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from uptide.catalogue.load import Catalogue
from uptide.core.blend.resolve import resolve
from uptide.core.errors import UptideError
from uptide.core.skin.patch import Saw
from uptide.core.skin.wearer import ANYONE, GROUPS, Ticks, Wearer
from uptide.core.text import shown, whole
from uptide.store.blends import list_blends, load_version
from uptide.store.people import (
    WORDS,
    add_person,
    begin_test,
    change_person,
    list_people,
    names_of_people,
    note_look,
    wearer_to_json,
)
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


class PersonIn(Given):
    """Somebody: the card (none: it is there already) and patch tests."""

    name: Text
    card: dict[str, Any] | None = None
    tests: list[TestIn] = Field(default_factory=list)
    earlier: list[EarlierIn] = Field(default_factory=list)


class PeopleIn(Given):
    """The whole file."""

    people: list[PersonIn]


def write_people(people: Iterable[Person]) -> str:
    """Everything that is kept of somebody, to give to them or to bring in elsewhere."""
    return json.dumps({"people": [_written(person) for person in people]}, ensure_ascii=False, indent=2) + "\n"


def _written(person: Person) -> dict[str, Any]:
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


def bring_people(name: str, text: str, catalogue: Catalogue, store: Session) -> str:
    """Store everybody in a file: new cards, or new entries on known ones; tests that are not there yet.

    Raises:
        UptideError: anything in the file that cannot be; nothing of it is stored then.
    """
    cards = tests = 0
    for person in read_people(name, text).people:
        known = {words.casefold(): number for number, words in names_of_people(store)}
        number = known.get(person.name.casefold())
        if person.card is not None:
            wearer = wearer_in(person)
            if number is None:
                number = add_person(store, wearer)
            else:
                change_person(store, number, wearer)
            cards += 1
        if number is None:
            raise UptideError(f"{name}: there is no card for “{person.name}”, and the file gives none.")
        tests += sum(_bring_test(name, test, number, catalogue, store) for test in person.tests)
    said = f"{cards} cards" if cards != 1 else "1 card"
    return f"{said} and {tests} patch tests brought in."


def _bring_test(name: str, test: TestIn, number: int, catalogue: Catalogue, store: Session) -> bool:
    blends = {blend.name: blend.id for blend in list_blends(store)}
    if test.blend not in blends:
        raise UptideError(f"{name}: there is no blend “{test.blend}”; known are {', '.join(blends) or 'none'}.")
    blend = (blends[test.blend], test.version)
    person = next(each for each in list_people(store) if each.id == number)
    begun = test.begun.replace(tzinfo=None)
    if any((known.blend_id, known.version) == blend and known.begun_at == begun for known in person.tests):
        return False
    contents = contents_of(catalogue, store, *blend)
    test_id = begin_test(store, number, blend, test.protocol, test.site, begun, contents, test.note)
    for look in test.looks:
        note_look(store, number, test_id, look.look - 1, look.saw, look.note)
    return True


def contents_of(catalogue: Catalogue, store: Session, blend_id: int, version: int) -> tuple[str, ...]:
    """Keys of everything in a version of a blend, each once."""
    recipe = load_version(store, blend_id, version).recipe
    parts = resolve(recipe, catalogue.ingredients, catalogue.names).parts
    return tuple(dict.fromkeys(item.base_key for _, item in parts))
