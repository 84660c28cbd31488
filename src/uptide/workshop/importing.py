"""Bring files into a database: each import is one transaction, so that a bad row changes nothing."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from importlib.resources.abc import Traversable
from pathlib import Path

from sqlalchemy.orm import Session

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import QuantityError, UptideError
from uptide.core.keeping.bottle import BottleNote
from uptide.core.recipe.recipe import Recipe
from uptide.formats.recipe_file import read_recipe_file
from uptide.formats.xlsx import text_of
from uptide.store.blends import create_blend, list_blends, save_version
from uptide.store.database import open_engine
from uptide.store.people import names_of_people
from uptide.store.preferences import load_habits
from uptide.workshop.assessment import whom_in_words
from uptide.workshop.batch_file import bring_batches
from uptide.workshop.bottles import bring_notes
from uptide.workshop.clock import today
from uptide.workshop.jars import bring_jars
from uptide.workshop.lots import bring_in
from uptide.workshop.people import bring_people
from uptide.workshop.shelf import ShelfOfTheDay, stock_of


def import_shelf(database: str, file: Path | Traversable) -> str:
    """Import lots, certificates or own oils from CSV, told apart by the header; say how much that was."""
    text = _text(file)
    engine = open_engine(database)
    try:
        with Session(engine) as session, session.begin():
            return bring_in(file.name, text, stock_of(shipped_catalogue(), session, today()), session)
    finally:
        engine.dispose()


def import_people(database: str, file: Path | Traversable) -> str:
    """Import wearers' cards and patch tests from JSON; say how many."""
    engine = open_engine(database)
    try:
        with Session(engine) as session, session.begin():
            facts = stock_of(shipped_catalogue(), session, today())
            return bring_people(file.name, _text(file), facts, session)
    finally:
        engine.dispose()


def import_jars(database: str, file: Path | Traversable) -> str:
    """Import jars under way and ended from JSON; say how many."""
    engine = open_engine(database)
    try:
        with Session(engine) as session, session.begin():
            facts = stock_of(shipped_catalogue(), session, today())
            return bring_jars(file.name, _text(file), facts, session)
    finally:
        engine.dispose()


def import_batches(database: str, file: Path | Traversable) -> str:
    """Import batches from JSON, each poured from the shelf; say how many."""
    engine = open_engine(database)
    try:
        with Session(engine) as session, session.begin():
            shelf = ShelfOfTheDay(shipped_catalogue()).of(session)
            return bring_batches(file.name, _text(file), shelf, session)
    finally:
        engine.dispose()


def _for_whom(recipe: Recipe, session: Session, file: str, said: str) -> Recipe:
    """A recipe for whom a file says: by the name on a card, or in words that are understood without one."""
    known = {words.casefold(): number for number, words in names_of_people(session)}
    if not said or said.casefold() in known:
        return replace(recipe, wearer=known.get(said.casefold()))
    try:
        return replace(recipe, whom=whom_in_words(said))
    except QuantityError as error:
        cards = ", ".join(known) or "none"
        raise UptideError(f"{file} is for “{said}”, who has no card; known are {cards}. {error}") from error


def import_blend(database: str, file: Path | Traversable) -> str:
    """Import a recipe file as a new blend, or as the next version of the blend of that name; return the name."""
    engine = open_engine(database)
    try:
        with Session(engine) as session, session.begin():
            facts = stock_of(shipped_catalogue(), session, today())
            read = read_recipe_file(_text(file), facts, load_habits(session))
            if not read.name and file.name.endswith(".xlsx"):
                read = replace(read, name=file.name.removesuffix(".xlsx"))
            if not read.name:
                raise UptideError(f"{file.name} gives the blend no name; put “name: …” on its first line.")
            recipe = _for_whom(read.recipe, session, file.name, read.wearer)
            known = {blend.name: blend.id for blend in list_blends(session)}
            if read.name in known:
                blend_id = known[read.name]
                save_version(session, blend_id, recipe, read.note)
            else:
                blend_id = create_blend(session, read.name, recipe, read.note)
            if read.noted:
                notes = [BottleNote(0, each.on, each.kind, each.detail) for each in read.noted]
                bring_notes(session, facts, blend_id, notes)
            return read.name
    finally:
        engine.dispose()


# What can be brought in, and what is said of it.
IMPORTED: Mapping[str, Callable[[str, Path], str]] = {
    "lots": import_shelf,
    "blend": lambda database, file: f"“{import_blend(database, file)}” added.",
    "people": import_people,
    "jars": import_jars,
    "batches": import_batches,
}


def _text(file: Path | Traversable) -> str:
    """The text of a file, a workbook as CSV; raise UptideError for what is no text, or cannot be read."""
    try:
        return text_of(file.name, file.read_bytes())
    except OSError as error:
        raise UptideError(f"{file.name} cannot be read: {error.strerror}.") from error
