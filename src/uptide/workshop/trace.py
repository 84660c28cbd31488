"""Where a batch comes from, lot by lot to the first, and where a lot went."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import QuantityError, UptideError
from uptide.core.infusion.plan import JarPlan
from uptide.core.ingredients.lot import Lot
from uptide.core.making.batch_record import LEFTOVER
from uptide.core.making.trace import JarFlow, LotFlow, Trace
from uptide.store.flows import batches_from, flows_of, ledger_of, poured_into_jars, written_last
from uptide.store.jars import load_jar
from uptide.store.records import NotFoundError
from uptide.workshop.jars import ask_from_json
from uptide.workshop.shelf import Shelf, lot_name

DEEPEST = 12  # lots behind lots
TRACES_KEPT = 16


@dataclass(frozen=True, slots=True)
class WentInto:
    """A batch that a lot went into: how much of it [g], and what part of the batch that is."""

    number: str
    grams: float
    share: float


def origins(store: Session, shelf: Shelf, number: str) -> dict[str, float]:
    """What part of a batch comes from which lot, through jars and what was left over; shares of one.

    A lot that another was made of is named beside it: 0.3 of an infused lot that is 0.92 of an oil is 0.276 of that
    oil.
    """
    jars = {jar.lot: jar for jar in _jars(store, shelf.lots) if jar.lot}
    found: dict[str, float] = {}
    ahead = [(f"{LEFTOVER}{number}", 1.0, 0)]
    while ahead:
        code, part, depth = ahead.pop()
        if depth > DEEPEST:
            continue
        shares: Mapping[str, float] = {}
        if code in jars:
            jar = _with_all_oil(store, shelf.facts, jars[code])
            shares = {lot: jar.share_of(lot) for lot in jar.poured}
        elif code.startswith(LEFTOVER):
            shares = next((flow.shares for flow in flows_of(store, {code.removeprefix(LEFTOVER)})), {})
        for lot, share in shares.items():
            found[lot] = found.get(lot, 0.0) + part * share
            ahead.append((lot, part * share, depth + 1))
    return found


def went_into(store: Session, code: str) -> tuple[WentInto, ...]:
    """The batches that a lot was poured into, the newest on top."""
    found = [
        WentInto(flow.number, flow.poured.get(code, 0.0) - flow.removed.get(code, 0.0), flow.shares.get(code, 0.0))
        for flow in flows_of(store, batches_from(store, {code}))
    ]
    return tuple(sorted((each for each in found if each.share > 0), key=lambda each: each.number, reverse=True))


def trace_of(store: Session, shelf: Shelf, code: str, *, each_bottle: bool = False) -> Trace:
    """Everything that a lot can have gone into: jars, batches, what was left over of them, and bottles.

    Bottles of a batch that are alike stand together, unless each is asked for.

    Raises:
        NotFoundError: there is no such lot.
    """
    if code not in shelf.lots:
        raise NotFoundError(f"There is no lot “{code}” on the shelf.")
    asked = (code, each_bottle, written_last(store))
    if asked not in shelf.traces:
        if len(shelf.traces) >= TRACES_KEPT:
            shelf.traces.clear()
        shelf.traces[asked] = _follow(store, shelf, code, each_bottle=each_bottle)
    return shelf.traces[asked]


def _follow(store: Session, shelf: Shelf, code: str, *, each_bottle: bool) -> Trace:
    lots = shelf.lots
    jars = _jars(store, lots)
    reached, batches = {code}, set[str]()
    new = {code}
    while new:
        numbers = batches_from(store, new) - batches
        batches |= numbers
        next_lots = {f"{LEFTOVER}{number}" for number in numbers if f"{LEFTOVER}{number}" in lots}
        next_lots |= {jar.lot for jar in jars if jar.lot and new & set(jar.poured)}
        new = next_lots - reached
        reached |= new
    ledger = ledger_of(store, reached)
    return Trace(
        code,
        {each: LotFlow(each, lot_name(lots[each], shelf.facts), *ledger[each]) for each in sorted(reached)},
        tuple(_with_all_oil(store, shelf.facts, jar) for jar in jars if reached & set(jar.poured)),
        flows_of(store, batches, each_bottle=each_bottle),
    )


def _jars(store: Session, lots: Mapping[str, Lot]) -> tuple[JarFlow, ...]:
    """Jars by what the ledger says was poured into them, by their lot where it says nothing; all of their oil."""
    poured = poured_into_jars(store)
    steeped = [lot for lot in lots.values() if lot.infusion is not None]
    strained = {lot.infusion.jar for lot in steeped if lot.infusion is not None}
    found = [_of_lot(lot, poured) for lot in steeped]
    found += [
        JarFlow(number, f"jar {number}", into, sum(into.values()))
        for number, into in poured.items()
        if number not in strained
    ]
    return tuple(found)


def _of_lot(lot: Lot, poured: Mapping[int, Mapping[str, float]]) -> JarFlow:
    """The jar that a lot came of; where it was steeped elsewhere or before the ledger, by what its lot says."""
    infusion = lot.infusion
    number = (infusion.jar if infusion is not None else None) or 0
    dissolved = infusion.dissolved if infusion is not None else 0.0
    into = dict(poured.get(number, {}))
    if not into and infusion is not None and infusion.oil_lot:
        into = {infusion.oil_lot: lot.bought_g * (1 - dissolved)}
    name = f"jar {number}" if number else f"the jar of lot {lot.code}"
    return JarFlow(
        number, name, poured=into, oil=sum(into.values()), lot=lot.code, out=lot.bought_g, dissolved=dissolved
    )


def _with_all_oil(store: Session, facts: Catalogue, jar: JarFlow) -> JarFlow:
    """A jar with its name and with the oil that came of no lot; as it is where that can be read no more."""
    try:
        stored = load_jar(store, jar.number)
        oil = JarPlan(ask_from_json(stored.asked, facts)).oil_grams
    except UptideError:
        return jar
    return replace(jar, name=stored.name, oil=max(oil, jar.oil))


def held_lots(store: Session, shelf: Shelf) -> dict[str, str]:
    """Lots that may not be poured, each with why: held or blocked, or with some of such a lot in them."""
    found: dict[str, list[str]] = {}
    for lot in shelf.lots.values():
        if lot.status:
            trace = trace_of(store, shelf, lot.code)
            for code in trace.lots:
                if trace.share_of_lot(code) > 0:
                    of_it = f"Lot {lot.code} is {lot.status}: {lot.status_why}"
                    through = f"Lot {code} has some of lot {lot.code} in it, which is {lot.status}: {lot.status_why}"
                    found.setdefault(code, []).append(of_it if code == lot.code else through)
    return {code: "; ".join(why) for code, why in found.items()}


def refuse_held(store: Session, shelf: Shelf, codes: Iterable[str]) -> None:
    """Raise QuantityError where something would be poured from a lot that may not be."""
    held = held_lots(store, shelf)
    for code in codes:
        if code in held:
            raise QuantityError(f"{held[code]}. Take another, or let it free first.")


def held_batches(store: Session, shelf: Shelf) -> dict[str, str]:
    """Batches with some of a lot in them that is held or blocked, each with which and why."""
    found: dict[str, str] = {}
    for lot in shelf.lots.values():
        if lot.status:
            for batch, _ in trace_of(store, shelf, lot.code).reached:
                said = f"lot {lot.code} is {lot.status}: {lot.status_why}"
                found[batch.number] = f"{found[batch.number]}; {said}" if batch.number in found else said
    return found
