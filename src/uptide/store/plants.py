"""Plants of one's own, in and out of the database."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from uptide.core.infusion.own_plant import OwnPlant
from uptide.store.models import OwnPlantRow
from uptide.store.reading import read_as, to_json
from uptide.store.shelf import shelf_changed


def save_own_plant(session: Session, own: OwnPlant) -> None:
    """Keep a plant of the person's own, new or changed; earlier entries stay."""
    said = to_json(own) | {"flags": sorted(own.flags)}
    session.add(OwnPlantRow(key=own.key, entered_at=datetime.now(UTC), said=said))
    shelf_changed(session)


def own_plants(session: Session) -> dict[str, OwnPlant]:
    """The person's own plants by key, each as last given and as far as it can be read."""
    rows = session.scalars(select(OwnPlantRow).order_by(OwnPlantRow.id))
    return {row.key: _own(row.key, row.said) for row in rows}


def _own(key: str, said: object) -> OwnPlant:
    name = key.partition(":")[2].replace("-", " ") or "plant"
    return read_as(OwnPlant(name, ""), said)[0]
