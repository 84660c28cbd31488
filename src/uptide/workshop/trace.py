"""Where a batch comes from, lot by lot to the first, and where a lot went."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy.orm import Session

from uptide.core.ingredients.lot import Lot
from uptide.core.making.batch_record import LEFTOVER, BatchRecord
from uptide.core.making.making_plan import LOT
from uptide.store.batches import batches_of_lot, load_batch
from uptide.store.records import NotFoundError
from uptide.store.shelf import all_lots

DEEPEST = 12  # lots behind lots


@dataclass(frozen=True, slots=True)
class WentInto:
    """A batch that a lot went into: how much of it [g], and what part of the batch that is."""

    number: str
    grams: float
    share: float


def origins(store: Session, record: BatchRecord) -> dict[str, float]:
    """What part of a batch comes from which lot, through jars and what was left over; shares of one.

    A lot that another was made of is named beside it: 0.3 of an infused lot that is 0.92 of an oil is 0.276 of that
    oil.
    """
    lots = {lot.code: lot for lot in all_lots(store)}
    found: dict[str, float] = {}
    _trace(store, record, 1.0, lots, found, 0)
    return found


def _trace(
    store: Session,
    record: BatchRecord,
    part: float,
    lots: Mapping[str, Lot],
    found: dict[str, float],
    depth: int,
) -> None:
    whole = sum(each.grams for each in record.composition)
    for each in record.composition:
        if each.key.startswith(LOT) and whole > 0:
            _lot(store, each.key.removeprefix(LOT), part * each.grams / whole, lots, found, depth)


def _lot(store: Session, code: str, part: float, lots: Mapping[str, Lot], found: dict[str, float], depth: int) -> None:
    found[code] = found.get(code, 0.0) + part
    lot = lots.get(code)
    if lot is None or depth >= DEEPEST:
        return
    if lot.infusion is not None and lot.infusion.oil_lot:
        dissolved = sum(plant.dissolved for plant in lot.infusion.plants)
        _lot(store, lot.infusion.oil_lot, part * (1 - dissolved), lots, found, depth + 1)
    elif code.startswith(LEFTOVER):
        try:
            made = load_batch(store, code.removeprefix(LEFTOVER))
        except NotFoundError:  # a code that only looks like one
            return
        _trace(store, made, part, lots, found, depth + 1)


def went_into(store: Session, code: str) -> tuple[WentInto, ...]:
    """The batches that a lot was poured into, the newest on top."""
    found = []
    for number in batches_of_lot(store, code):
        record = load_batch(store, number)
        whole = sum(each.grams for each in record.composition)
        grams = sum(each.grams for each in record.composition if each.key == LOT + code)
        if whole > 0 and grams > 0:
            found.append(WentInto(number, grams, grams / whole))
    return tuple(found)
