"""Lots on the shelf, in and out of the database."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from uptide.core.blend.ingredient import Price
from uptide.store.models import LotRow
from uptide.store.records import Lot


def put_lots(session: Session, lots: Iterable[Lot]) -> tuple[int, int]:
    """Store lots by their code; return how many were new and how many replaced an earlier entry."""
    new = changed = 0
    for lot in lots:
        row = session.scalar(select(LotRow).where(LotRow.code == lot.code))
        if row is None:
            session.add(LotRow(**asdict(lot)))
            new += 1
        else:
            for name, value in asdict(lot).items():
                setattr(row, name, value)
            changed += 1
    session.flush()
    return new, changed


def list_lots(session: Session) -> tuple[Lot, ...]:
    """All lots with something left, the one that ends first on top; those without a date last."""
    rows = session.scalars(select(LotRow).where(LotRow.left_g > 0))
    lots = [Lot(**{name: getattr(row, name) for name in Lot.__dataclass_fields__}) for row in rows]
    return tuple(sorted(lots, key=lambda lot: (lot.best_before or date.max, lot.code)))


def lots_in_use(session: Session) -> dict[str, Lot]:
    """The lot of each ingredient that is used next: the oldest opened one, else the oldest unopened."""
    by_age = sorted(
        list_lots(session), key=lambda lot: (lot.opened_on is None, lot.opened_on or lot.received_on or date.max)
    )
    found: dict[str, Lot] = {}
    for lot in by_age:
        found.setdefault(lot.ingredient, lot)
    return found


def prices(session: Session) -> dict[str, Price]:
    """What a gram costs, by ingredient: from the oldest opened lot with a price, else the oldest unopened one."""
    priced = [lot for lot in list_lots(session) if lot.price is not None]
    by_age = sorted(priced, key=lambda lot: (lot.opened_on is None, lot.opened_on or lot.received_on or date.max))
    found: dict[str, Price] = {}
    for lot in by_age:
        if lot.price is not None:
            found.setdefault(lot.ingredient, Price(lot.price / lot.bought_g, lot.currency, f"lot {lot.code}"))
    return found
