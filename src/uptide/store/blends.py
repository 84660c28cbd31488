"""Blends and their versions, in and out of the database."""

from __future__ import annotations

from dataclasses import asdict
from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from uptide.core.blend.recipe import Entry, Recipe, Use
from uptide.core.measures.habits import BareOunce, Habits, Ounces, PartsBy, Spoons
from uptide.core.oxidation.surroundings import Glass, Light, Storage
from uptide.core.physics.bottle import Container
from uptide.store.models import BlendRow, EntryRow, VersionRow
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
        row.archived_at is not None,
        _version(newest),
        tuple(VersionHeader(*header) for header in headers),
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
            row.versions[-1].product,
            len(row.versions),
            row.versions[-1].saved_at,
            archived,
            tuple(entry.typed for entry in row.versions[-1].entries),
        )
        for row in rows
        if row.versions
    ]
    return tuple(sorted(headers, key=lambda header: header.saved_at, reverse=True))


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
        habits=habits_to_json(recipe.habits),
        storage=asdict(recipe.storage),
        use={**asdict(recipe.use), "placed_on": recipe.use.placed_on and recipe.use.placed_on.isoformat()},
        wearer_id=recipe.wearer,
        reasons=dict(recipe.reasons),
        entries=[
            EntryRow(position=position, typed=entry.typed, answers=dict(entry.answers))
            for position, entry in enumerate(recipe.entries)
        ],
    )


def _version(row: VersionRow) -> Version:
    container = None
    if row.container_kind is not None and row.container_ml is not None:
        container = Container(row.container_kind, row.container_ml)
    entries = tuple(Entry(entry.typed, entry.answers) for entry in row.entries)
    return Version(
        row.number,
        row.saved_at,
        row.note,
        Recipe(
            entries,
            row.product,
            container,
            habits_from_json(row.habits),
            storage_from_json(row.storage),
            use_from_json(row.use),
            row.wearer_id,
            dict(row.reasons or {}),
        ),
    )


def use_from_json(stored: dict[str, Any] | None) -> Use:
    """What was said of the use, from JSON; versions from before it was kept take the default."""
    plain = asdict(Use()) | (stored or {})
    placed = plain["placed_on"]
    return Use(
        str(plain["region"]),
        bool(plain["for_sale"]),
        date.fromisoformat(placed) if placed else None,
        bool(plain["night_only"]),
    )


def storage_from_json(stored: dict[str, object] | None) -> Storage:
    """Where a version stands, from JSON; versions from before storage was kept take the default."""
    if not stored:
        return Storage()
    plain = asdict(Storage()) | stored
    return Storage(
        place=str(plain["place"]),
        celsius=tuple(float(t) for t in plain["celsius"]),
        swing=float(plain["swing"]),
        light=Light(plain["light"]),
        glass=Glass(plain["glass"]),
        wall=str(plain["wall"]),
        opened=bool(plain["opened"]),
        uses_a_week=float(plain["uses_a_week"]),
        ml_a_use=float(plain["ml_a_use"]),
        head_room=float(plain["head_room"]),
    )


def habits_to_json(habits: Habits) -> dict[str, object]:
    """A person's measures as plain JSON."""
    return {key: (list(map(list, value)) if key == "meanings" else value) for key, value in asdict(habits).items()}


def habits_from_json(stored: dict[str, object]) -> Habits:
    """A person's measures from JSON; what an older version did not store takes its default."""
    plain = Habits()
    meanings = stored.get("meanings", [])
    return Habits(
        spoons=Spoons(str(stored.get("spoons", plain.spoons))),
        ounces=Ounces(str(stored.get("ounces", plain.ounces))),
        bare_ounce=BareOunce(str(stored.get("bare_ounce", plain.bare_ounce))),
        parts_by=PartsBy(str(stored.get("parts_by", plain.parts_by))),
        drops=str(stored.get("drops", plain.drops)),
        own_drops_per_ml=float(str(stored.get("own_drops_per_ml", plain.own_drops_per_ml))),
        keeps_by=str(stored.get("keeps_by", plain.keeps_by)),
        meanings=tuple((str(name), str(key)) for name, key in meanings) if isinstance(meanings, list) else (),
    )
