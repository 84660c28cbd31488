"""Blends and their versions, in and out of the database."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from uptide.core.errors import ContainerError
from uptide.core.measures.habits import Habits
from uptide.core.oxidation.surroundings import Storage
from uptide.core.physics.bottle import Container
from uptide.core.recipe.recipe import Entry, IntendedUse, Recipe
from uptide.core.safety.case import REGIONS
from uptide.store.models import BlendRow, EntryRow, VersionRow
from uptide.store.reading import day_of, read_as, to_json, unread_words
from uptide.store.records import Blend, BlendHeader, BlendNameError, NotFoundError, Version, VersionHeader

LONGEST_NAME = 120


def checked_name(name: str) -> str:
    """A blend's name without stray spaces; raise BlendNameError if it has none or too long a one."""
    tidy = " ".join(name.split())
    if not tidy:
        raise BlendNameError("A blend needs a name, so that it can be found again.")
    if len(tidy) > LONGEST_NAME:
        raise BlendNameError(f"This name has {len(tidy)} characters; up to {LONGEST_NAME} fit on a label.")
    return tidy


def create_blend(session: Session, name: str, recipe: Recipe, note: str = "", copied_from: int | None = None) -> int:
    """Store a new blend with its first version; return its number."""
    blend = BlendRow(name=checked_name(name), created_at=datetime.now(UTC), copied_from=copied_from)
    session.add(blend)
    session.flush()
    session.add(_version_row(blend.id, 1, recipe, note))
    session.flush()
    return blend.id


def save_version(session: Session, blend_id: int, recipe: Recipe, note: str = "") -> int:
    """Store a recipe as the next version and return its number; an unchanged one without a note is not stored again."""
    blend = load_blend(session, blend_id)
    if blend.newest.recipe == recipe and not note.strip():
        return blend.newest.number
    number = blend.newest.number + 1
    session.add(_version_row(blend_id, number, recipe, note))
    session.flush()
    return number


def load_blend(session: Session, blend_id: int) -> Blend:
    """Load a blend with its newest version; raise NotFoundError if there is none of this number."""
    row = _blend_row(session, blend_id)
    newest = session.scalar(
        select(VersionRow)
        .where(VersionRow.blend_id == blend_id)
        .order_by(VersionRow.number.desc())
        .options(selectinload(VersionRow.entries))
        .limit(1)
    )
    if newest is None:
        raise NotFoundError(f"Blend {blend_id} has no version.")
    headers = session.execute(
        select(VersionRow.number, VersionRow.saved_at, VersionRow.note)
        .where(VersionRow.blend_id == blend_id)
        .order_by(VersionRow.number)
    )
    return Blend(
        row.id,
        row.name,
        archived=row.archived_at is not None,
        newest=_version(newest),
        versions=tuple(VersionHeader(*header) for header in headers),
    )


def load_version(session: Session, blend_id: int, number: int) -> Version:
    """Load one version of a blend; raise NotFoundError if there is none of this number."""
    row = session.scalar(
        select(VersionRow)
        .where(VersionRow.blend_id == blend_id, VersionRow.number == number)
        .options(selectinload(VersionRow.entries))
    )
    if row is None:
        raise NotFoundError(f"Blend {blend_id} has no version {number}.")
    return _version(row)


def list_blends(session: Session, *, archived: bool = False) -> tuple[BlendHeader, ...]:
    """All blends, the one saved last first."""
    wanted = BlendRow.archived_at.is_not(None) if archived else BlendRow.archived_at.is_(None)
    rows = session.scalars(
        select(BlendRow).where(wanted).options(selectinload(BlendRow.versions).selectinload(VersionRow.entries))
    )
    headers = [
        BlendHeader(
            row.id,
            row.name,
            product=row.versions[-1].product,
            versions=len(row.versions),
            saved_at=row.versions[-1].saved_at,
            archived=archived,
            rows=tuple(entry.typed for entry in row.versions[-1].entries),
        )
        for row in rows
        if row.versions
    ]
    return tuple(sorted(headers, key=lambda header: header.saved_at, reverse=True))


def names_of_blends(session: Session) -> dict[int, str]:
    """What every blend is called, also one that was put away."""
    return dict(iter(session.execute(select(BlendRow.id, BlendRow.name))))


def rename_blend(session: Session, blend_id: int, name: str) -> None:
    """Give a blend another name; raise BlendNameError for a name it cannot have."""
    _blend_row(session, blend_id).name = checked_name(name)


def archive_blend(session: Session, blend_id: int, *, archived: bool) -> None:
    """Put a blend away, or take it out again; nothing of it is lost."""
    _blend_row(session, blend_id).archived_at = datetime.now(UTC) if archived else None


def _blend_row(session: Session, blend_id: int) -> BlendRow:
    row = session.get(BlendRow, blend_id)
    if row is None:
        raise NotFoundError(f"There is no blend {blend_id}.")
    return row


def _version_row(blend_id: int, number: int, recipe: Recipe, note: str) -> VersionRow:
    return VersionRow(
        blend_id=blend_id,
        number=number,
        saved_at=datetime.now(UTC),
        note=note.strip(),
        product=recipe.product,
        container_kind=recipe.container.kind if recipe.container else None,
        container_ml=recipe.container.size_ml if recipe.container else None,
        habits=to_json(recipe.habits),
        storage=to_json(recipe.storage),
        use=to_json(recipe.use),
        wearer_id=recipe.wearer,
        whom=recipe.whom,
        reasons=dict(recipe.reasons),
        entries=[
            EntryRow(position=position, typed=entry.typed, answers=dict(entry.answers))
            for position, entry in enumerate(recipe.entries)
        ],
    )


def _version(row: VersionRow) -> Version:
    unread: dict[str, str] = {}
    container = None
    if row.container_kind is not None and row.container_ml is not None:
        try:
            container = Container(row.container_kind, row.container_ml)
        except ContainerError:
            unread["container_ml"] = unread_words(f"{row.container_kind}, {row.container_ml:g} mL")
    habits, _ = habits_from_json(row.habits)
    storage, of_storage = storage_from_json(row.storage)
    use, of_use = use_from_json(row.use)
    reasons = row.reasons if isinstance(row.reasons, dict) else {}
    recipe = Recipe(
        tuple(Entry(entry.typed, _texts(entry.answers)) for entry in row.entries),
        row.product,
        container=container,
        habits=habits,
        storage=storage,
        use=use,
        wearer=row.wearer_id,
        whom=row.whom,
        reasons=_texts(reasons),
    )
    return Version(row.number, row.saved_at, note=row.note, recipe=recipe, unread={**unread, **of_storage, **of_use})


def _texts(stored: object) -> dict[str, str]:
    """The words of a JSON object; what is no text is left out."""
    given = stored if isinstance(stored, dict) else {}
    return {key: text for key, text in given.items() if isinstance(text, str)}


def use_from_json(stored: object) -> tuple[IntendedUse, dict[str, str]]:
    """What was said of the use, from JSON, and what of it cannot be read; what is not there takes the default."""
    return read_as(IntendedUse(), stored, {"region": _region, "placed_on": day_of})


def _region(value: object) -> str:
    if value not in REGIONS:
        raise ValueError(f"{value} is no region")
    return str(value)


# What was stored under another name before: read as long as there is a database that holds it.
STORAGE_WAS_CALLED = {"wall": "material", "head_room": "headspace"}


def storage_from_json(stored: object) -> tuple[Storage, dict[str, str]]:
    """Where a version stands, from JSON, and what of it cannot be read; what is not there takes the default."""
    if isinstance(stored, dict):
        stored = {STORAGE_WAS_CALLED.get(name, name): value for name, value in stored.items()}
    return read_as(Storage(), stored)


def habits_from_json(stored: object) -> tuple[Habits, dict[str, str]]:
    """A person's measures from JSON, and what of them cannot be read; what is not there takes its default."""
    return read_as(Habits(), stored)
