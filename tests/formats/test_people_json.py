"""People out as JSON and in again; a file with anything wrong in it changes nothing."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from pathlib import Path

import pytest
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import UptideError
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.skin.patch import Outcome
from uptide.core.skin.wearer import MEDICINES, NOT_ASKED, Ticks
from uptide.formats.people_json import read_people, wearer_in, write_people
from uptide.store.blends import create_blend
from uptide.store.database import open_engine
from uptide.store.migrating import migrate
from uptide.store.people import delete_person, list_people
from uptide.workshop.people import bring_people, contents_of

INES = {"name": "Ines", "card": {"born": "1991-03-09", "allergies": ["tree_nut"], "medicines": [], "note": "Swims."}}
TEST = {
    "blend": "Face oil", "version": 1, "protocol": "two-days", "site": "inner wrist", "begun": "2026-11-01T18:00:00",
    "looks": [{"look": 1, "saw": "nothing"}, {"look": 2, "saw": "red or itching", "note": "washed off"}],
}  # fmt: skip


def file(*people: Mapping[str, object]) -> str:
    return json.dumps({"people": people})


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Session]:
    url = f"sqlite:///{tmp_path / 'people.db'}"
    migrate(url)
    engine = open_engine(url)
    with Session(engine) as session, session.begin():
        create_blend(session, "Face oil", Recipe((Entry("2 tbsp jojoba"), Entry("3 drops lavender"))))
        yield session
    engine.dispose()


def test_what_is_given_out_comes_in_again_the_same(store: Session, catalogue: Catalogue) -> None:
    assert bring_people("p.json", file(INES | {"tests": [TEST]}), catalogue, store) == (
        "1 card and 1 patch tests brought in."
    )
    given = write_people(list_people(store), store)
    (person,) = list_people(store)
    assert person.wearer.reacted_to == {"jojoba", "lavender"}
    assert person.tests[0].outcome is Outcome.REACTED

    delete_person(store, person.id)
    bring_people("p.json", given, catalogue, store)
    assert write_people(list_people(store), store) == given


def test_brought_in_twice_nothing_is_doubled(store: Session, catalogue: Catalogue) -> None:
    for _ in range(2):
        bring_people("p.json", file(INES | {"tests": [TEST]}), catalogue, store)
    (person,) = list_people(store)

    assert (len(person.tests), person.earlier) == (1, ())


def test_tests_alone_find_the_card_that_is_there(store: Session, catalogue: Catalogue) -> None:
    with pytest.raises(UptideError, match="no card for “Ines”"):
        bring_people("p.json", file({"name": "Ines", "tests": [TEST]}), catalogue, store)
    bring_people("p.json", file(INES), catalogue, store)
    bring_people("p.json", file({"name": "ines", "tests": [TEST]}), catalogue, store)

    assert len(list_people(store)[0].tests) == 1


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("{", "line 1: this is no JSON"),
        (file({"name": "Ines", "card": {"shoe": 39}}), "a card says nothing of shoe; known are born, skin"),
        (file({"name": "Ines", "card": {"born": "yesterday"}}), "Ines, born: "),
        (file({"name": "Ines", "card": {"allergies": ["moon dust"]}}), "known are tree_nut"),
        (file(INES | {"tests": [TEST | {"blend": "Soup"}]}), "no blend “Soup”; known are Face oil"),
        (file(INES | {"tests": [TEST | {"looks": [{"look": 9, "saw": "nothing"}]}]}), "no look 9"),
        (file(INES | {"tests": [TEST | {"looks": [{"look": 1, "saw": "purple"}]}]}), "saw"),
    ],
)
def test_what_is_wrong_is_named(store: Session, catalogue: Catalogue, text: str, says: str) -> None:
    with pytest.raises(UptideError, match=says):
        bring_people("p.json", text, catalogue, store)


def test_null_is_not_asked_and_an_empty_list_is_none_of_these() -> None:
    wearer = wearer_in(read_people("p.json", file(INES)).people[0])

    assert wearer.medicines == Ticks.answered(MEDICINES)
    assert wearer.health == NOT_ASKED


def test_contents_of_a_version_are_named_once(store: Session, catalogue: Catalogue) -> None:
    assert contents_of(catalogue, store, 1, 1) == ("jojoba", "lavender")
