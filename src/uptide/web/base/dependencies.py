"""What a route asks for: a transaction, the catalogue with their shelf, the person's measures."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated

from fastapi import Depends, HTTPException, Request
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.measures.habits import Habits
from uptide.store.backups import erase_in_copies
from uptide.store.database import as_writer, stamp_of, wipe_deleted
from uptide.store.people import NO_PEOPLE
from uptide.store.preferences import load_habits
from uptide.web.base.gate import level_of
from uptide.workshop.assessment import ASSESSED
from uptide.workshop.entrance import Level
from uptide.workshop.shelf import Shelf, ShelfOfTheDay

READ_ALONE = frozenset({"/sheet", "/api/assess", "/api/find"})  # what is posted and changes nothing, or one setting
REPLACED = (
    "The file of the database was taken away or another was put in its place while this program ran. Nothing was "
    "stored, and nothing is until the program is started again. What you typed stands below."
)


def _session(request: Request) -> Iterator[Session]:
    state = request.app.state
    if stamp_of(state.database_url) != state.database_stamp:
        raise HTTPException(503, REPLACED)
    with state.sessions() as session:
        session.info[NO_PEOPLE] = level_of(request) is not Level.WHOLE
        with session.begin():
            # Whoever will write waits for their turn first: of two alike, the second finds what the first did.
            if request.method in ("POST", "PUT") and request.url.path not in READ_ALONE:
                as_writer(session)
            yield session
        if getattr(request.state, "wipe", False):
            engine = session.get_bind().engine
            session.info[ASSESSED].forget()
            wipe_deleted(engine)
            erase_in_copies(engine, state.backups[1] if state.backups else None)


# One transaction a request, committed before the answer leaves: hence scope="function".
Store = Annotated[Session, Depends(_session, scope="function")]


def _shelf(request: Request, store: Store) -> Shelf:
    shelf: ShelfOfTheDay = request.app.state.shelf
    return shelf.of(store)


OnShelf = Annotated[Shelf, Depends(_shelf)]


async def _catalogue(shelf: OnShelf) -> Catalogue:  # no work that would need a thread of its own
    return shelf.facts


Facts = Annotated[Catalogue, Depends(_catalogue)]


def _habits(store: Store) -> Habits:
    return load_habits(store)


Measures = Annotated[Habits, Depends(_habits)]
