"""What a route asks for: a transaction, the catalogue with their shelf, the person's measures."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated

from fastapi import Depends, Request
from sqlalchemy.orm import Session

from uptide.catalogue.load import Catalogue
from uptide.core.measures.habits import Habits
from uptide.store.preferences import load_habits
from uptide.web.workshop import Shelf, shelf_of


def _session(request: Request) -> Iterator[Session]:
    with request.app.state.sessions() as session, session.begin():
        yield session


# One transaction a request, committed before the answer leaves: hence scope="function".
Store = Annotated[Session, Depends(_session, scope="function")]


def _shelf(request: Request, store: Store) -> Shelf:
    return shelf_of(request.app, store)


OnShelf = Annotated[Shelf, Depends(_shelf)]


def _catalogue(shelf: OnShelf) -> Catalogue:
    return shelf.facts


Facts = Annotated[Catalogue, Depends(_catalogue)]


def _habits(store: Store) -> Habits:
    return load_habits(store)


Measures = Annotated[Habits, Depends(_habits)]
