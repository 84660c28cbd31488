"""Wishes that are kept, to be asked again when the shelf has changed."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from uptide.store.models import WishRow
from uptide.store.shelf import shelf_revision


@dataclass(frozen=True, slots=True)
class KeptWish:
    """A wish in its words, what it is measured in, when it was kept, and whether the shelf has changed since."""

    said: str
    measure: str
    kept_at: datetime
    shelf_changed: bool


def keep_wish(session: Session, said: str, measure: str) -> None:
    """Keep a wish, or note that one that is kept was looked for on the shelf as it stands."""
    row = _row(session, said) or WishRow(said=said)
    row.measure, row.kept_at, row.shelf = measure, datetime.now(UTC), shelf_revision(session)
    session.add(row)


def forget_wish(session: Session, said: str) -> None:
    """Keep a wish no longer; its row stays."""
    row = _row(session, said)
    if row is not None:
        row.removed_at = datetime.now(UTC)


def forget_names(session: Session, names: Iterable[str]) -> None:
    """Take the names of somebody who is deleted out of all wishes, also of those that are kept no longer."""
    for name in names:
        named = re.compile(rf",?\s*\bfor {re.escape(name)}(?!\w)", re.IGNORECASE)
        for row in session.scalars(select(WishRow)):
            if named.search(row.said):
                row.said = named.sub("", row.said).strip(", ")
                if not row.said:
                    session.delete(row)


def kept_wishes(session: Session) -> tuple[KeptWish, ...]:
    """The wishes that are kept, the newest first."""
    stands = shelf_revision(session)
    rows = session.scalars(select(WishRow).where(WishRow.removed_at.is_(None)).order_by(WishRow.kept_at.desc()))
    return tuple(KeptWish(row.said, row.measure, row.kept_at, row.shelf != stands) for row in rows)


def _row(session: Session, said: str) -> WishRow | None:
    return session.scalars(select(WishRow).where(WishRow.said == said, WishRow.removed_at.is_(None))).first()
