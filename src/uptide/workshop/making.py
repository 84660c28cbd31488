"""Batches of a workshop: planned from its shelf, poured into its ledger, and assessed as they really are."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError, UptideError
from uptide.core.ingredients.lot import Lot
from uptide.core.ledger.movement import milligrams
from uptide.core.making.batch_record import LEFTOVER, BatchRecord, EntryKind, PlannedLine, Taken
from uptide.core.making.making_plan import LOT, LotOnHand, MakingPlan, PouredOf, made_of
from uptide.core.making.overpour import Remedy, Way, is_worth_saying, remedy, still_to_pour, thinned
from uptide.core.making.picking import OnHand
from uptide.core.making.rounding import DILUTION, MG, How
from uptide.core.recipe.recipe import Recipe
from uptide.store.batches import add_entry, load_batch
from uptide.store.blends import load_version
from uptide.store.ledger import movement_under, take, take_back
from uptide.store.records import NotFoundError
from uptide.store.shelf import all_lots, save_lot, shelf_changed
from uptide.workshop.assessment import assess_here
from uptide.workshop.shelf import Shelf
from uptide.workshop.trace import held_lots


def lots_on_hand(store: Session, shelf: Shelf) -> Mapping[str, tuple[LotOnHand, ...]]:
    """The lots of a shelf by their stock key, as a plan takes from them; none that may not be poured."""
    found: dict[str, list[LotOnHand]] = {}
    held = held_lots(store, shelf)
    for each in shelf.standing:
        lot = each.lot
        if lot.code in held:
            continue
        on_hand = OnHand(
            code=lot.code,
            left_mg=milligrams(lot.left_g),
            came_mg=milligrams(lot.bought_g),
            ends_on=each.life.ends_on,
            opened_on=lot.opened_on,
            received_on=lot.received_on,
        )
        price = lot.unit_price
        for key in each.item.stands_for:
            found.setdefault(key, []).append(
                LotOnHand(on_hand, price.per_gram if price else None, price.currency if price else "")
            )
    return {key: tuple(lots) for key, lots in found.items()}


def freeze(plan: MakingPlan) -> dict[str, Any]:
    """A plan as plain JSON: what was decided, and nothing that can be worked out again."""
    ask = plan.ask
    return {
        "lines": [
            asdict(
                PlannedLine(
                    position=line.position,
                    typed=line.typed,
                    key=line.item.key,
                    name=line.name,
                    restricted=line.restricted,
                    target_mg=line.target.mg,
                    how=line.target.how.value,
                    drops=line.target.drops,
                    said=line.target.said,
                    picks=tuple((each.code, each.mg) for each in line.picked.picks),
                )
            )
            for line in plan.lines
        ],
        "containers": [[each.count, each.size_ml] for each in ask.amount.containers],
        "density": ask.amount.density,
        "loss": ask.amount.loss_words,
        "step_g": ask.step_g,
        "drops_per_ml": ask.drops_per_ml,
        "order": plan.order_words,
        "mixing": plan.mixing,
        "container_price": ask.container_price,
        "unmeasured": list(plan.unmeasured),
        "present": list(plan.present),
    }


def shelve_leftover(store: Session, record: BatchRecord) -> str:
    """Put what was left over on the shelf, once, as a lot of what was really poured; return the code of that lot."""
    code = f"{LEFTOVER}{record.number}"
    grams = record.balance.leftover / MG
    if grams > 0 and all(lot.code != code for lot in all_lots(store)):
        note = f"{'Base' if record.plan['parts'] else 'Left over'} from batch {record.number}"
        made = (record.blend_id, record.version)
        lot = Lot(code, "", received_on=record.made_on, bought_g=grams, left_g=grams, note=note, made_from=made)
        save_lot(store, lot)
    return code


def keep_base(store: Session, number: str) -> None:
    """Put the base that several scents are made from on the shelf as soon as it is mixed, whole."""
    record = load_batch(store, number)
    if not record.plan["parts"]:
        return
    if not record.balance.leftover:
        mg = sum(record.in_vessel)
        add_entry(
            store, number, EntryKind.LEFTOVER, expected=record.seq, by=record.made_by, mg=mg, token=f"base-{number}"
        )
    shelve_leftover(store, load_batch(store, number))


def recipe_of(store: Session, record: BatchRecord) -> Recipe:
    """The recipe that a batch was made by; an empty one where nobody knows it any more: what was poured still opens."""
    try:
        return load_version(store, record.blend_id, record.version).recipe
    except NotFoundError:
        return Recipe(())


def assessed(store: Session, facts: Catalogue, record: BatchRecord, poured: Sequence[PouredOf]) -> Assessment | None:
    """What a vessel holds, assessed; None while it is empty. Of what is known no more the assessment says so itself."""
    if not poured:
        return None
    return assess_here(made_of(recipe_of(store, record), poured, record.present), facts, store)


def as_it_would_be(record: BatchRecord, targets: Sequence[int]) -> tuple[PouredOf, ...]:
    """What a vessel would hold once every line is at its target: what is in it, and the rest from its lots."""
    found = []
    carrier = diluted_in(record)
    for line, target in zip(record.lines, targets, strict=True):
        held = [(each.code, mg) for each, mg in record.contents if each.position == line.position]
        whole = sum(mg for _, mg in held)
        if whole < target:
            held.append((record.next_pick(line.position)[0], target - whole))
        elif whole > 0:
            held = [(code, mg * target / whole) for code, mg in held]
        diluted = line.how == How.DILUTED
        for code, mg in held:
            key = LOT + code if code else line.key
            found.append(PouredOf(key, line.name, mg / MG / (DILUTION if diluted else 1)))
        if diluted and carrier is not None:
            found.append(PouredOf(_lot_or_oil(carrier), carrier.name, target * (1 - 1 / DILUTION) / MG))
    return tuple(each for each in found if each.grams > 0)


def _lot_or_oil(line: PlannedLine) -> str:
    """The key of what a line is poured from first: its lot, or the plain oil where it has none."""
    return LOT + line.picks[0][0] if line.picks else line.key


def diluted_in(record: BatchRecord) -> PlannedLine | None:
    """The carrier that dilutions are made in: the most of what is free."""
    free = [line for line in record.lines if not line.restricted]
    return max(free, key=lambda line: line.target_mg, default=None)


def lots_poured(record: BatchRecord, position: int, code: str) -> frozenset[str]:
    """The lots that a pour is of: the one that is said or that its line names, and that which it is diluted in."""
    line = record.lines[position]
    carrier = diluted_in(record) if line.how == How.DILUTED else None
    keys = (LOT + code if code else line.key, _lot_or_oil(carrier) if carrier is not None else "")
    return frozenset(key.removeprefix(LOT) for key in keys if key.startswith(LOT))


@dataclass(frozen=True, slots=True)
class Measured:
    """An amount as it was taken: mg, how, and what the scale said before and after."""

    mg: int
    how: Taken
    drops: int = 0
    gross_before: int | None = None
    gross_after: int | None = None
    stable: bool | None = None


def begin_pour(
    store: Session, number: str, position: int, *, expected: int, by: str, token: str = "", gross: int | None = None
) -> None:
    """Write that a pour begins, with what the scale says now [mg], so that nothing is lost if all goes dark."""
    add_entry(
        store,
        number,
        EntryKind.BEGUN,
        expected=expected,
        by=by,
        position=position,
        token=token,
        detail={"gross_before": gross},
    )


def confirm_pour(
    store: Session, number: str, position: int, measured: Measured, code: str, *, expected: int, by: str, token: str
) -> None:
    """Write a pour, take it out of its lot, and begin the next one: one transaction, committed before any answer.

    Raises:
        QuantityError: no amount.
        StaleError: something was written since.
        ClosedError: the batch has ended, or is a base that is on the shelf.
    """
    record = load_batch(store, number)
    if not 0 <= position < len(record.lines):
        raise QuantityError(f"Batch {number} has no line {position + 1}.")
    if measured.mg <= 0:
        raise QuantityError("Nothing was poured: confirm once something is in the vessel.")
    if code == f"{LEFTOVER}{number}":
        raise QuantityError(f"Lot {code} is what was left over from this batch: it cannot go into itself.")
    line = record.lines[position]
    carrier = diluted_in(record) if line.how == How.DILUTED else None
    detail = {
        "how": measured.how.value,
        "drops": measured.drops,
        "step_mg": record.step_mg,
        "gross_before": measured.gross_before,
        "gross_after": measured.gross_after,
        "stable": measured.stable,
    }
    if carrier is not None:
        detail |= {"diluted_in": _lot_or_oil(carrier), "diluted_in_name": carrier.name}
    seq = add_entry(
        store,
        number,
        EntryKind.POUR,
        expected=expected,
        by=by,
        position=position,
        key=line.key,
        code=code,
        mg=measured.mg,
        token=token,
        detail=detail,
    )
    if seq is None:
        return
    for lot, mg in _from_lots(code, measured.mg, detail):
        take(store, lot, mg, f"batch {number}", token=_token(number, seq, lot))
        shelf_changed(store)
    then = load_batch(store, number)
    if then.next_position is not None and not overpoured(then):
        begin_pour(store, number, then.next_position, expected=then.seq, by=by, gross=measured.gross_after)


def _from_lots(code: str, mg: int, detail: Mapping[str, Any]) -> Iterator[tuple[str, int]]:
    carrier = str(detail.get("diluted_in") or "")
    itself = round(mg / DILUTION) if carrier else mg
    if code:
        yield code, itself
    if carrier.startswith(LOT) and mg > itself:
        yield carrier.removeprefix(LOT), mg - itself


def _token(number: str, seq: int, lot: str) -> str:
    return f"batch-{number}-{seq}-{lot}"


def void_pour(store: Session, number: str, seq: int, *, expected: int, by: str, token: str) -> None:
    """Take a pour back: by an entry of its own, and by the opposite in the ledger.

    Raises:
        UptideError: there is no such pour, it was taken back already, or mixture with some of it was taken out since.
    """
    record = load_batch(store, number)
    pour = next((each for each in record.pours if each.seq == seq), None)
    if pour is None:
        raise UptideError(f"Batch {number} has no pour {seq} that could be taken back.")
    if any(each.kind is EntryKind.REMOVED and each.seq > seq for each in record.entries):
        raise UptideError("Mixture was taken out since: some of this pour went with it, so it cannot be taken back.")
    if add_entry(store, number, EntryKind.VOID, expected=expected, by=by, token=token, detail={"of": seq}) is None:
        return
    for lot, _ in _from_lots(pour.code, pour.mg, pour.detail):
        moved = movement_under(store, f"{_token(number, seq, lot)}-use")
        if moved is not None:
            take_back(store, lot, moved)
            shelf_changed(store)


def overpoured(record: BatchRecord) -> bool:
    """Whether something is over by more than a scale cannot see."""
    return any(
        is_worth_saying(want, have, record.step_mg) for want, have in zip(record.targets, record.in_vessel, strict=True)
    )


@dataclass(frozen=True, slots=True)
class WayOut:
    """A remedy with what it makes of the batch: still to be poured [mg], what a lot lacks, and the assessment."""

    remedy: Remedy
    to_pour: tuple[int, ...]
    lacking: tuple[str, ...]
    assessment: Assessment | None


def ways_out(store: Session, shelf: Shelf, record: BatchRecord) -> tuple[WayOut, ...]:
    """Every way out of an overpour, with what each does, before one is chosen."""
    left = {each.lot.code: milligrams(each.lot.left_g) for each in shelf.standing}
    found = []
    ways = [remedy(way, record.targets, record.in_vessel) for way in (Way.SCALE, Way.ACCEPT, Way.TAKE_OUT, Way.BETWEEN)]
    thin = thinned_to(record)
    for one in [*ways, *([thin] if thin is not None else [])]:
        rest = still_to_pour(one, record.in_vessel)
        lacking = tuple(_lacking(record, rest, left))
        found.append(
            WayOut(one, rest, lacking, assessed(store, shelf.facts, record, as_it_would_be(record, one.targets)))
        )
    return tuple(found)


def _lacking(record: BatchRecord, rest: Sequence[int], left: Mapping[str, int]) -> Iterator[str]:
    for line, mg in zip(record.lines, rest, strict=True):
        has = sum(left.get(code, 0) for code, _ in line.picks)
        if line.picks and mg > has:
            yield f"{line.name}: {(mg - has) / 1000:.1f} g more than its lots have"


def thinned_to(record: BatchRecord) -> Remedy | None:
    """More of the carriers alone, until what is over is the share that it should be; None where a carrier is over."""
    wanted, poured = record.targets, record.in_vessel
    place = max(range(len(wanted)), key=lambda each: poured[each] / max(1, wanted[each]))
    carriers = [line.position for line in record.lines if not line.restricted]
    if place in carriers or not carriers:
        return None
    return thinned(wanted, poured, place, wanted[place] / sum(wanted), carriers)


def chosen_remedy(record: BatchRecord, way: Way, part: float = 0.0) -> Remedy:
    """A way out as it is chosen; `part` of the mixture is taken out where that is said.

    Raises:
        QuantityError: a way that is none here, or a part that cannot be.
    """
    if way is Way.THIN:
        found = thinned_to(record)
        if found is None:
            raise QuantityError("A carrier is over: more carriers alone do not put that right.")
        return found
    return remedy(way, record.targets, record.in_vessel, part)


def apply_remedy(
    store: Session, number: str, way: Way, *, expected: int, by: str, token: str, part: float = 0.0
) -> None:
    """Take a way out: mixture that is taken out, and the amounts as they then should be."""
    record = load_batch(store, number)
    found = chosen_remedy(record, way, part)
    if found.removed_mg:
        detail = {"why": way.value}
        if (
            add_entry(
                store,
                number,
                EntryKind.REMOVED,
                expected=expected,
                by=by,
                mg=found.removed_mg,
                token=f"{token}-removed",
                detail=detail,
            )
            is None
        ):
            return
        expected += 1
    # The next pour begins when somebody says so: mixture is taken out by hand first, and the scale then shows less.
    targets = {"why": way.value, "targets": list(found.targets)}
    add_entry(store, number, EntryKind.RETARGET, expected=expected, by=by, token=token, detail=targets)
