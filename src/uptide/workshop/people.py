"""People brought in from a file: new cards, new entries on known ones, and their patch tests."""

from __future__ import annotations

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import UptideError
from uptide.core.recipe.resolve import resolve
from uptide.formats.people_json import TestIn, read_people, wearer_in
from uptide.store.blends import list_blends, load_version
from uptide.store.people import add_person, begin_test, change_person, list_people, names_of_people, note_look


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
    test_id = begin_test(
        store,
        number,
        blend=blend,
        protocol=test.protocol,
        site=test.site,
        begun_at=begun,
        contents=contents,
        note=test.note,
    )
    for look in test.looks:
        note_look(store, number, test_id, look.look - 1, look.saw, look.note)
    return True


def contents_of(catalogue: Catalogue, store: Session, blend_id: int, version: int) -> tuple[str, ...]:
    """Keys of everything in a version of a blend, each once."""
    recipe = load_version(store, blend_id, version).recipe
    parts = resolve(recipe, catalogue.ingredients, catalogue.names).parts
    return tuple(dict.fromkeys(item.base_key for _, item in parts))
