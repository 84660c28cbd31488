"""What a year taught: what was foreseen of bottles and what came, what batches cost, and what was thrown out."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from uptide.core.ingredients.lot import Lot
from uptide.core.ledger.movement import MovementKind, grams
from uptide.store.batches import list_batches
from uptide.store.bottles import discarded_bottles, ended_bottles
from uptide.store.flows import flows_of
from uptide.store.models import LotRow, MovementRow
from uptide.store.shelf import all_lots
from uptide.workshop.clock import today

A_YEAR = timedelta(days=365)
BATCHES = 60  # the newest, of which the cost is worked out


@dataclass(frozen=True, slots=True)
class Finished:
    """A bottle that ended: what was foreseen of it, and whether it turned or was used up before that."""

    number: str
    name: str
    made_on: date
    foreseen_on: date
    turns_on: date | None
    ended_on: date
    turned: bool

    @property
    def promise_held(self) -> bool:
        """Whether it lasted as long as nine in ten should; one that was used up earlier breaks no promise."""
        return not self.turned or self.ended_on >= self.foreseen_on


@dataclass(frozen=True, slots=True)
class Cost:
    """What a batch cost; `unpriced` part of it has no price."""

    number: str
    name: str
    made_on: date
    total: float
    currency: str
    unpriced: float


@dataclass(frozen=True, slots=True)
class Thrown:
    """Something that was thrown out: of which lot how much, why, and what it had cost."""

    code: str
    on: date
    grams: float
    why: str
    cost: float | None
    currency: str


@dataclass(frozen=True, slots=True)
class Taught:
    """All of it."""

    finished: tuple[Finished, ...]
    costs: tuple[Cost, ...]
    thrown: tuple[Thrown, ...]
    discarded: tuple[tuple[str, str, date, str], ...]  # bottles: number, name, when and why

    @property
    def turned(self) -> tuple[Finished, ...]:
        """Those of which somebody smelled the end."""
        return tuple(each for each in self.finished if each.turned)

    @property
    def kept_promise(self) -> int:
        """Of those, how many lasted as long as nine in ten should."""
        return sum(1 for each in self.turned if each.promise_held)


def what_it_taught(store: Session) -> Taught:
    """Look back over all finished bottles, and over a year of batches and of what was thrown out."""
    lots = {lot.code: lot for lot in all_lots(store)}
    discarded = discarded_bottles(store, today() - A_YEAR)
    return Taught(tuple(_finished(store)), tuple(_costs(store, lots)), tuple(_thrown(store, lots)), discarded)


def _finished(store: Session) -> Iterable[Finished]:
    for row, turned in ended_bottles(store):
        if row.ends_on is not None and row.ended_on is not None:
            yield Finished(
                row.number,
                row.name,
                made_on=row.made_on,
                foreseen_on=row.ends_on,
                turns_on=row.turns_on,
                ended_on=row.ended_on,
                turned=turned,
            )


def _costs(store: Session, lots: Mapping[str, Lot]) -> Iterable[Cost]:
    since = today() - A_YEAR
    recent = [each.number for each in list_batches(store, BATCHES) if each.made_on >= since]
    for flow in sorted(flows_of(store, recent), key=lambda each: each.number, reverse=True):
        total, unpriced, currencies = 0.0, 0.0, set()
        for code, amount in flow.poured.items():
            price = lots[code].unit_price if code in lots else None
            if price is None:
                unpriced += amount
            else:
                total += price.per_gram * amount
                currencies.add(price.currency)
        if flow.made and len(currencies) == 1:
            yield Cost(
                flow.number,
                flow.name,
                made_on=flow.made_on,
                total=total,
                currency=currencies.pop(),
                unpriced=unpriced / flow.made,
            )


def _thrown(store: Session, lots: Mapping[str, Lot]) -> Iterable[Thrown]:
    undone = select(MovementRow.reverses).where(MovementRow.reverses.is_not(None))
    query = (
        select(LotRow.code, MovementRow.happened_on, MovementRow.mg, MovementRow.reason)
        .join(LotRow, LotRow.id == MovementRow.lot_id)
        .where(
            MovementRow.kind == MovementKind.DISCARD.value,
            MovementRow.happened_on >= today() - A_YEAR,
            MovementRow.reverses.is_(None),
            MovementRow.id.not_in(undone),
        )
        .order_by(MovementRow.happened_on.desc())
    )
    for code, on, mg, why in store.execute(query):
        price = lots[code].unit_price if code in lots else None
        amount = grams(-mg)
        cost = None if price is None else price.per_gram * amount
        yield Thrown(code, on, grams=amount, why=why, cost=cost, currency=price.currency if price is not None else "")
