"""Bring files into a database: each import is one transaction, so that a bad row changes nothing."""

from __future__ import annotations

from importlib.resources.abc import Traversable
from pathlib import Path

from sqlalchemy.orm import Session

from uptide.catalogue.load import shipped_catalogue
from uptide.core.errors import UptideError
from uptide.formats.lots_csv import read_lots
from uptide.formats.recipe_file import read_recipe_file
from uptide.store.blends import create_blend, list_blends, save_version
from uptide.store.bottles import add_event, list_events
from uptide.store.database import open_engine
from uptide.store.preferences import load_habits
from uptide.store.shelf import put_lots


def import_lots(database: str, file: Path | Traversable) -> tuple[int, int]:
    """Import lots from CSV; return how many were new and how many were brought up to date."""
    lots = read_lots(file, shipped_catalogue())
    engine = open_engine(database)
    try:
        with Session(engine) as session, session.begin():
            return put_lots(session, lots)
    finally:
        engine.dispose()


def import_blend(database: str, file: Path | Traversable) -> str:
    """Import a recipe file as a new blend, or as the next version of the blend of that name; return the name."""
    engine = open_engine(database)
    try:
        with Session(engine) as session, session.begin():
            read = read_recipe_file(file.read_text(encoding="utf-8"), shipped_catalogue(), load_habits(session))
            if not read.name:
                raise UptideError(f"{file.name} gives the blend no name; put “name: …” on its first line.")
            known = {blend.name: blend.id for blend in list_blends(session)}
            if read.name in known:
                blend_id = known[read.name]
                save_version(session, blend_id, read.recipe, read.note)
            else:
                blend_id = create_blend(session, read.name, read.recipe, read.note)
            known_notes = {(event.on, event.kind) for event in list_events(session, blend_id)}
            for note in read.noted:
                if (note.on, note.kind) not in known_notes:
                    add_event(session, blend_id, note.on, note.kind, note.detail)
            return read.name
    finally:
        engine.dispose()
