"""Plants of one's own, in and out of the database."""

from __future__ import annotations

from dataclasses import asdict
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from uptide.core.infusion.own_plant import OwnPlant
from uptide.store.models import OwnPlantRow
from uptide.store.reading import Readers, number_of, read_as, text_of
from uptide.store.shelf import shelf_changed


def save_own_plant(session: Session, own: OwnPlant) -> None:
    """Keep a plant of the person's own, new or changed; earlier entries stay."""
    said = asdict(own) | {"flags": sorted(own.flags)}
    session.add(OwnPlantRow(key=own.key, entered_at=datetime.now(UTC), said=said))
    shelf_changed(session)


def own_plants(session: Session) -> dict[str, OwnPlant]:
    """The person's own plants by key, each as last given and as far as it can be read."""
    rows = session.scalars(select(OwnPlantRow).order_by(OwnPlantRow.id))
    return {row.key: _own(row.key, row.said) for row in rows}


def _own(key: str, said: object) -> OwnPlant:
    name = key.partition(":")[2].replace("-", " ") or "plant"
    return read_as(OwnPlant(name, ""), said, READERS)[0]


def _maybe(value: Any) -> float | None:
    return None if value is None else number_of(value)


def _flags(value: Any) -> frozenset[str]:
    return frozenset(text_of(each) for each in value)


READERS: Readers = {
    **dict.fromkeys(("name", "like", "botanical_name", "inci", "heed"), text_of),
    **dict.fromkeys(("water_fresh", "bulk", "months_dried", "months_fresh"), _maybe),
    "flags": _flags,
}
