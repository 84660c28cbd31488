"""Wearers and their patch tests, in and out of the database; what is deleted here is gone."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, datetime
from functools import partial
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session, selectinload

from uptide.core.errors import UptideError
from uptide.core.skin.patch import PROTOCOLS, SITES, UNKNOWN, Outcome, Saw, outcome, plan, protocol_of
from uptide.core.skin.wearer import ANYONE, GROUPS, NOT_ASKED, Ticks, Wearer
from uptide.core.text import whole
from uptide.store.blends import load_version
from uptide.store.bottles import forget_person
from uptide.store.models import BlendRow, PatchLookRow, PatchTestRow, VersionRow, WearerCardRow, WearerRow
from uptide.store.reading import Readers, day_of, flag_of, read_as, to_json
from uptide.store.records import NotFoundError, PatchTest, Person
from uptide.store.wishes import forget_names

LONGEST_NAME = 80
DATES = ("born", "procedure_on")
CHOICES = ("sensitive", "pregnant", "planning", "breastfeeding")
WORDS = ("name", "skin", "tone", "procedure", "other_allergies", "dislikes", "note")


NO_PEOPLE = "no_people"  # in what is known of a session: it is of a screen that shows nobody


class PersonError(UptideError):
    """A card that cannot be."""


def wearer_to_json(wearer: Wearer) -> dict[str, Any]:
    """A card as plain JSON: of each group, what was asked and whether it holds; what was not asked is not there.

    What tests found is not on the card but with the tests.
    """
    plain = to_json(wearer)
    del plain["reacted_to"]
    for name in GROUPS:
        ticks = wearer.ticks(name)
        plain[name] = {key: key in ticks.yes for key in GROUPS[name] if key in ticks.yes | ticks.no}
    return plain


def wearer_from_json(stored: object) -> tuple[Wearer, dict[str, str]]:
    """A card from JSON, and what of it cannot be read.

    What an older card did not know takes its default, and what is no longer known is left out.
    """
    return read_as(ANYONE, stored, READERS)


def _ticks(group: str, stored: Any) -> Ticks:
    """One group of a card. Older cards kept what was ticked alone: the rest of it counts as not asked.

    An older card with nothing ticked in a group was asked about it, and has none of it.
    """
    known = GROUPS[group]
    if isinstance(stored, Mapping):
        said = {key: flag_of(held) for key, held in stored.items() if key in known}
        return Ticks(
            frozenset(key for key, held in said.items() if held),
            frozenset(key for key, held in said.items() if not held),
        )
    if stored is None:
        return NOT_ASKED
    return Ticks(frozenset(stored).intersection(known)) if stored else Ticks.answered(known)


READERS: Readers = (
    dict.fromkeys(DATES, day_of)
    | {name: partial(_ticks, name) for name in GROUPS}
    | {"reacted_to": lambda _: frozenset()}  # what tests found is with the tests
)


def half_asked(stored: object) -> tuple[str, ...]:
    """The groups of an older card of which only what was ticked is known."""
    if not isinstance(stored, Mapping):
        return ()
    return tuple(name for name in GROUPS if isinstance(stored.get(name), list) and stored[name])


def add_person(session: Session, wearer: Wearer) -> int:
    """Make a card for somebody; return their number. Raise PersonError for a name that cannot be."""
    wearer = _checked(session, wearer)
    row = WearerRow(created_at=datetime.now(UTC), cards=[_card(wearer)])
    session.add(row)
    session.flush()
    return row.id


def change_person(session: Session, person_id: int, wearer: Wearer) -> None:
    """Put a new card on top of somebody's; the same one again changes nothing."""
    row = _row(session, person_id)
    wearer = _checked(session, wearer, person_id)
    if wearer_to_json(wearer) != row.cards[-1].said:
        row.cards.append(_card(wearer))
        session.flush()


def delete_person(session: Session, person_id: int) -> None:
    """Delete somebody with all their cards and patch tests, for good."""
    row = _row(session, person_id)
    forget_names(session, {name for card in row.cards if (name := _stored_name(person_id, card.said))})
    session.delete(row)
    forget_person(session, person_id)
    session.flush()


def load_person(session: Session, person_id: int) -> Person:
    """Somebody by number; raise NotFoundError if there is no such card."""
    return _person(session, _row(session, person_id))


def list_people(session: Session) -> tuple[Person, ...]:
    """Everybody, by name; nobody where people are not shown."""
    if session.info.get(NO_PEOPLE):
        return ()
    rows = session.scalars(
        select(WearerRow).options(
            selectinload(WearerRow.cards), selectinload(WearerRow.tests).selectinload(PatchTestRow.looks)
        )
    )
    return tuple(sorted((_person(session, row) for row in rows), key=lambda person: person.wearer.name.casefold()))


def names_of_people(session: Session) -> tuple[tuple[int, str], ...]:
    """Numbers and names of everybody, by name: what a list to choose from needs; nobody where people are not shown."""
    if session.info.get(NO_PEOPLE):
        return ()
    newest = select(func.max(WearerCardRow.id)).group_by(WearerCardRow.wearer_id)
    rows = session.execute(select(WearerCardRow.wearer_id, WearerCardRow.said).where(WearerCardRow.id.in_(newest)))
    found = [(number, _stored_name(number, said)) for number, said in rows]
    return tuple(sorted(found, key=lambda each: each[1].casefold()))


def _stored_name(number: int, said: object) -> str:
    """The name on a stored card, and nothing else of it: this is read at every key."""
    name = said.get("name") if isinstance(said, Mapping) else None
    return _name(number, name if isinstance(name, str) else "")


def _name(number: int, name: str) -> str:
    return name or f"card {number}"


def wearers(session: Session) -> tuple[Wearer, ...]:
    """Everybody’s newest card, by name."""
    return tuple(person.wearer for person in list_people(session))


def wearer_of(session: Session, person_id: int | None) -> Wearer:
    """Whom a blend is for; nobody in particular for None, and for a card that was deleted."""
    row = session.get(WearerRow, person_id) if person_id is not None else None
    return _person(session, row).wearer if row is not None else ANYONE


def made_for(session: Session, person_id: int) -> tuple[tuple[int, str, int], ...]:
    """The blends whose newest version is for somebody: number, name and version."""
    newest = (
        select(VersionRow.blend_id, func.max(VersionRow.number).label("number"))
        .group_by(VersionRow.blend_id)
        .subquery()
    )
    rows = session.execute(
        select(BlendRow.id, BlendRow.name, VersionRow.number)
        .join(VersionRow, VersionRow.blend_id == BlendRow.id)
        .join(newest, (newest.c.blend_id == BlendRow.id) & (newest.c.number == VersionRow.number))
        .where(VersionRow.wearer_id == person_id)
        .order_by(BlendRow.name)
    )
    return tuple((blend_id, name, number) for blend_id, name, number in rows)


def ever_made_for(session: Session, person_id: int) -> tuple[tuple[str, int], ...]:
    """Every version that was for somebody when it was saved: name of the blend and number, as they came."""
    query = select(BlendRow.name, VersionRow.number).join(VersionRow, VersionRow.blend_id == BlendRow.id)
    rows = session.execute(query.where(VersionRow.wearer_id == person_id).order_by(VersionRow.id))
    return tuple((name, number) for name, number in rows)


def begin_test(
    session: Session,
    person_id: int,
    blend: tuple[int, int],
    protocol: str,
    site: str,
    begun_at: datetime,
    contents: tuple[str, ...],
    note: str = "",
) -> int:
    """Begin a patch test of a version (blend and number) on somebody; return its number.

    `contents` are the keys of what is in it: all of it is suspect if the skin reacts.

    Raises:
        UptideError: an unknown protocol or site. NotFoundError: no such person or version.
    """
    _row(session, person_id)
    load_version(session, *blend)
    protocol_of(protocol)
    if site not in SITES:
        raise UptideError(f"“{site}” is no place for a patch test; known are {', '.join(SITES)}.")
    row = PatchTestRow(
        wearer_id=person_id,
        blend_id=blend[0],
        blend_version=blend[1],
        protocol=protocol,
        site=site,
        begun_at=begun_at,
        note=note.strip(),
        suspects=list(contents),
    )
    session.add(row)
    session.flush()
    return row.id


def note_look(session: Session, person_id: int, test_id: int, step: int, saw: Saw, note: str = "") -> None:
    """Note what was seen at a look; a later note of the same look counts instead of the earlier one."""
    row = _test_row(session, person_id, test_id)
    if not 0 <= step < len(protocol_of(row.protocol).looks):
        raise UptideError(f"This test has no look {step + 1}; it has {len(protocol_of(row.protocol).looks)}.")
    row.looks.append(PatchLookRow(step=step, entered_at=datetime.now(UTC), saw=saw.value, note=note.strip()))
    session.flush()


def end_test(session: Session, person_id: int, test_id: int) -> None:
    """Break a test off; what was seen stays."""
    _test_row(session, person_id, test_id).ended_at = datetime.now(UTC)


def suspect(session: Session, person_id: int, test_id: int, keys: tuple[str, ...]) -> None:
    """Narrow down what of a blend somebody reacted to; none is not an answer, for something in it did it."""
    row = _test_row(session, person_id, test_id)
    if not keys:
        raise UptideError("Something in it did it: leave at least one ticked, or all when nobody knows.")
    row.suspects = list(keys)


def _checked(session: Session, wearer: Wearer, person_id: int | None = None) -> Wearer:
    name = " ".join(whole(wearer.name).split())
    if not name:
        raise PersonError("A card needs a name, or a word by which you know whom you mean.")
    if len(name) > LONGEST_NAME:
        raise PersonError(f"This name has {len(name)} characters; up to {LONGEST_NAME} fit.")
    if any(known.casefold() == name.casefold() and number != person_id for number, known in names_of_people(session)):
        raise PersonError(f"There is a card for “{name}” already; add a word that tells the two apart.")
    return replace(wearer, name=name)


def _card(wearer: Wearer) -> WearerCardRow:
    return WearerCardRow(entered_at=datetime.now(UTC), said=wearer_to_json(wearer))


def _row(session: Session, person_id: int) -> WearerRow:
    row = session.get(WearerRow, person_id)
    if row is None:
        raise NotFoundError(f"There is no card {person_id}; perhaps it was deleted.")
    return row


def _test_row(session: Session, person_id: int, test_id: int) -> PatchTestRow:
    row = session.get(PatchTestRow, test_id)
    if row is None or row.wearer_id != person_id:
        raise NotFoundError(f"There is no patch test {test_id} on this card.")
    return row


def _person(session: Session, row: WearerRow) -> Person:
    tests = tuple(_test(session, test) for test in row.tests)
    reacted = frozenset(key for test in tests if test.outcome is Outcome.REACTED for key in test.suspects)
    wearer, unread = wearer_from_json(row.cards[-1].said)
    return Person(
        row.id,
        replace(wearer, name=_name(row.id, wearer.name), reacted_to=reacted),
        tests=tests,
        since=row.cards[-1].entered_at,
        earlier=tuple((card.entered_at, wearer_from_json(card.said)[0]) for card in row.cards[:-1]),
        unread=unread,
        half_asked=half_asked(row.cards[-1].said),
    )


def _test(session: Session, row: PatchTestRow) -> PatchTest:
    seen = {look.step: (Saw(look.saw), look.note) for look in row.looks if look.saw in set(Saw)}
    looks = plan(PROTOCOLS.get(row.protocol, UNKNOWN), row.begun_at, seen)
    blend = session.get(BlendRow, row.blend_id)
    return PatchTest(
        row.id,
        row.blend_id,
        blend_name=blend.name if blend else "",
        version=row.blend_version,
        protocol=row.protocol,
        site=row.site,
        begun_at=row.begun_at,
        note=row.note,
        suspects=tuple(key for key in row.suspects if isinstance(key, str)),
        looks=looks,
        outcome=outcome(looks, ended=row.ended_at is not None),
    )
