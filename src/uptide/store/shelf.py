"""The shelf: lots with their certificates, and a person's own oils, in and out of the database."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import asdict, replace
from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from uptide.core.errors import UptideError
from uptide.core.ingredients.certificate import Certificate
from uptide.core.ingredients.infusion import Infusion, Steeped
from uptide.core.ingredients.lot import KEY as LOT_KEY
from uptide.core.ingredients.lot import STATUSES, Lot
from uptide.core.ingredients.own_oil import KEY, LONGEST_NAME, OwnOil
from uptide.core.ledger.movement import MovementKind, counted, grams, milligrams, opening
from uptide.core.lipids.pasted import FIGURES, AcidAmount
from uptide.core.making.batch_record import LEFTOVER
from uptide.core.making.making_plan import made_of
from uptide.core.measures.names import normalise
from uptide.core.recipe.recipe import Recipe
from uptide.store.batches import load_batch
from uptide.store.blends import load_blend, load_version
from uptide.store.infusions import infusion_from_json
from uptide.store.ledger import add_movement, every_left_mg, left_mg
from uptide.store.models import CertificateRow, LotRow, OwnOilRow, PreferenceRow
from uptide.store.reading import Readers, number_of, read_as, text_of, to_json, unread_words
from uptide.store.records import CertificateEntry, LotError, NotFoundError

FIRST_CODE = "L-001"
REVISION = "shelf_revision"
PLAIN = (
    "code", "ingredient", "supplier", "received_on", "opened_on", "best_before", "bought_g", "price", "currency",
    "place", "supplier_lot", "container", "note", "grade",
)  # fmt: skip
LONGEST_CODE = 40
MASSES, PRICES, DAYS = ("bought_g",), ("price",), ("received_on", "opened_on", "best_before")
MOST_GRAMS, MOST_PRICE = 1e6, 1e7  # a lot of a tonne, and what nobody pays for one
FIRST_DAY, LAST_DAY = date(1990, 1, 1), date(2199, 12, 31)  # of a lot's
UNREAD = Infusion((Steeped("a plant that can be read no more"),))
COUNTED = "put right by hand"
RESERVED = ("new", "bring-in", "certificates.csv", "own-oils.csv")  # words that stand in the addresses of the shelf


def shelf_revision(session: Session) -> int:
    """A number that changes whenever the shelf does, so that what follows from it is worked out once."""
    row = session.get(PreferenceRow, REVISION)
    return int(row.value) if row else 0


def shelf_changed(session: Session) -> None:
    """Say that what stands on the shelf, or can be steeped, has changed."""
    session.merge(PreferenceRow(key=REVISION, value=shelf_revision(session) + 1))
    session.flush()


def put_lots(session: Session, lots: Iterable[Lot]) -> tuple[int, int]:
    """Store lots by their code; return how many were new and how many brought an earlier entry up to date.

    What a file leaves empty does not erase what the shelf knows. Certificates are added to those that a lot has,
    unless the same stands there already.

    Raises:
        LotError: a code that is none, or an amount that cannot be.
    """
    new = changed = 0
    rows = {row.code: row for row in session.scalars(select(LotRow).options(selectinload(LotRow.certificates)))}
    for lot in lots:
        row = rows.get(lot.code)
        new, changed = (new + 1, changed) if row is None else (new, changed + 1)
        known = _lot(row, left_mg(session, row.id)) if row is not None else None
        merged = lot if known is None else replace(lot, **{n: getattr(known, n) for n in PLAIN if not _said(lot, n)})
        if known is not None and known.infusion is not None:  # its jar knows more than a file
            merged = replace(merged, infusion=known.infusion)
        row = rows[lot.code] = _put(session, row, merged)
        entered = [_certificate(entry) for entry in row.certificates if entry.removed_at is None]
        for certificate in lot.certificates:
            if certificate not in entered:
                row.certificates.append(_certificate_row(certificate, ""))
    shelf_changed(session)
    return new, changed


def _said(lot: Lot, name: str) -> bool:
    return getattr(lot, name) not in ("", None)


def save_lot(session: Session, lot: Lot) -> None:
    """Store one lot as given, fields that were emptied included; its certificates stay.

    What is left of it is counted against the ledger: what does not agree goes into it as put right.

    Raises:
        LotError: a code that is none, or an amount that cannot be.
    """
    _put(session, session.scalar(select(LotRow).where(LotRow.code == lot.code)), lot)
    shelf_changed(session)


def _put(session: Session, row: LotRow | None, lot: Lot) -> LotRow:
    is_new = row is None
    row = LotRow(code=lot.code) if row is None else row
    was = 0 if is_new else left_mg(session, row.id)
    _check(lot, known_mg=was)
    for name in PLAIN:
        setattr(row, name, getattr(lot, name))
    if lot.made_from is not None:
        _refuse_of_itself(lot, load_version(session, *lot.made_from).recipe)
        row.blend_id, row.blend_version = lot.made_from
    if lot.infusion != UNREAD:  # what cannot be read stays as it was stored
        row.infusion = None if lot.infusion is None else to_json(lot.infusion)
    session.add(row)
    session.flush()
    left = milligrams(lot.left_g)
    made = MovementKind.MAKE if lot.made_from or (lot.infusion and lot.infusion.jar) else MovementKind.RECEIVE
    moved = opening(milligrams(lot.bought_g), left, made) if is_new else counted(was, left, COUNTED)
    for movement in moved:
        add_movement(session, row.id, movement, on=lot.received_on if is_new else None)
    return row


def _refuse_of_itself(lot: Lot, recipe: Recipe) -> None:
    """Raise LotError for a lot that would have gone into itself."""
    named = re.compile(rf"\blot {re.escape(lot.code)}(?![\w.+-])", re.IGNORECASE)
    if any(f"{LOT_KEY}{lot.code}" in entry.answers.values() or named.search(entry.typed) for entry in recipe.entries):
        raise LotError(f"Lot {lot.code} cannot be of a version that it went into; choose the one that was made before.")


def _check(lot: Lot, *, known_mg: int = 0) -> None:
    if not re.fullmatch(r"[\w][\w .+-]*", lot.code) or len(lot.code) > LONGEST_CODE or lot.code in RESERVED:
        raise LotError(f"“{lot.code}” is not a lot’s code; 1 to {LONGEST_CODE} letters, digits, dots and dashes are.")
    if not lot.ingredient and lot.made_from is None and not (lot.infusion and lot.infusion.oil_lot):
        raise LotError(f"Lot {lot.code}: of what? Name the oil.")
    is_counted = milligrams(lot.left_g) == known_mg  # what was found in a container can be more than was said to come
    if not 0 < lot.bought_g <= MOST_GRAMS or not (0 <= lot.left_g <= lot.bought_g or is_counted):
        raise LotError(
            f"Lot {lot.code}: {lot.left_g:g} g left of {lot.bought_g:g} g cannot be; more than 0 and up to "
            f"{MOST_GRAMS:,.0f} g came, and no more is left than came."
        )
    if lot.price is not None and not 0 <= lot.price <= MOST_PRICE:
        raise LotError(f"Lot {lot.code}: a price of {lot.price:g} cannot be; 0 to {MOST_PRICE:,.0f} can.")
    for name in DAYS:
        day = getattr(lot, name)
        if day is not None and not FIRST_DAY <= day <= LAST_DAY:
            raise LotError(
                f"Lot {lot.code}: {day.isoformat()} is no day of a lot's; {FIRST_DAY.isoformat()} to "
                f"{LAST_DAY.isoformat()} can be."
            )
    if lot.received_on and lot.opened_on and lot.opened_on < lot.received_on:
        raise LotError(f"Lot {lot.code} cannot have been opened on {lot.opened_on} before it came, {lot.received_on}.")


def all_lots(session: Session) -> tuple[Lot, ...]:
    """Every lot there ever was, in the order in which they came: blends may still name one that is used up."""
    left = every_left_mg(session)
    rows = session.scalars(select(LotRow).order_by(LotRow.id).options(selectinload(LotRow.certificates)))
    return tuple(_lot(row, left.get(row.id, 0)) for row in rows)


def hold_lot(session: Session, code: str, status: str, why: str) -> None:
    """Hold or block a lot, for a reason, or let it free again.

    Raises:
        NotFoundError: there is no such lot.
        LotError: no status that there is, or no reason.
    """
    if status and status not in STATUSES:
        raise LotError(f"“{status}” is no status of a lot; {', '.join(STATUSES)} are, or none.")
    if status and not why.strip():
        raise LotError(f"Say why lot {code} is {status}: who wants to pour it asks.")
    row = _row(session, code)
    row.status, row.status_why = status, why.strip() if status else ""
    shelf_changed(session)


def next_code(codes: Sequence[str]) -> str:
    """A code for a lot that is new: the next number after those of the newest kind; `codes` stand as they came.

    >>> next_code(["SR-0418", "SR-0509", "gift"]), next_code([])
    ('SR-0510', 'L-001')
    """
    numbered = [found for code in codes if (found := re.fullmatch(r"(.*?)(\d+)", code))]
    if not numbered:
        return FIRST_CODE
    prefix, width = numbered[-1][1], len(numbered[-1][2])
    last = max(int(found[2]) for found in numbered if found[1] == prefix)
    return f"{prefix}{last + 1:0{width}}"


def load_lot(session: Session, code: str) -> Lot:
    """One lot by its code; raise NotFoundError if there is none."""
    row = _row(session, code)
    return _lot(row, left_mg(session, row.id))


def _row(session: Session, code: str) -> LotRow:
    row = session.scalar(select(LotRow).where(LotRow.code == code))
    if row is None:
        raise NotFoundError(f"There is no lot “{code}” on the shelf.")
    return row


def _lot(row: LotRow, left: int) -> Lot:
    """A lot as far as it can be read: what is no number and no day of a lot's counts as not given, and is said."""
    made = (row.blend_id, row.blend_version) if row.blend_id and row.blend_version else None
    plain = {name: getattr(row, name) for name in PLAIN}
    strange = {
        **{name: plain[name] for name in MASSES if not 0 <= plain[name] <= MOST_GRAMS},
        **{name: plain[name] for name in PRICES if plain[name] is not None and not 0 <= plain[name] <= MOST_PRICE},
        **{name: plain[name] for name in DAYS if plain[name] is not None and not FIRST_DAY <= plain[name] <= LAST_DAY},
    }
    plain |= dict.fromkeys(strange, None) | {name: 1.0 for name in ("bought_g",) if name in strange}
    # Of what nobody knows how much came nothing is taken; more than all of it can be gone where somebody put it right.
    left_g = 0.0 if "bought_g" in strange else max(0.0, grams(left))
    infusion = infusion_from_json(row.infusion)
    if row.infusion and infusion is None:  # it is no plain oil, whatever it was
        strange["infusion"] = row.infusion
        infusion = UNREAD
    kept = sorted(
        (entry for entry in row.certificates if entry.removed_at is None),
        key=lambda entry: (entry.dated_on or date.min, entry.id),
    )
    return Lot(
        **plain,
        left_g=left_g,
        made_from=made,
        infusion=infusion,
        status=row.status if row.status in STATUSES else "",
        status_why=row.status_why,
        unread={name: unread_words(value) for name, value in strange.items()},
        certificates=tuple(_certificate(entry) for entry in kept),
    )


def add_certificate(session: Session, code: str, certificate: Certificate, typed: str) -> None:
    """Add a certificate to a lot, with the words it was read from."""
    row = _row(session, code)
    row.certificates.append(_certificate_row(certificate, typed))
    shelf_changed(session)


def put_certificates(session: Session, entered: Iterable[tuple[str, Certificate, str]]) -> int:
    """Add certificates, each (code of its lot, certificate, words it was read from); return how many were new.

    Raises:
        NotFoundError: there is no such lot.
    """
    rows = {row.code: row for row in session.scalars(select(LotRow).options(selectinload(LotRow.certificates)))}
    added = 0
    for code, certificate, typed in entered:
        row = rows.get(code) or _row(session, code)
        if all(_certificate(known) != certificate for known in row.certificates if known.removed_at is None):
            row.certificates.append(_certificate_row(certificate, typed))
            added += 1
    shelf_changed(session)
    return added


def remove_certificate(session: Session, code: str, certificate_id: int) -> None:
    """Take a certificate out of the account; the row stays, marked, so that nothing written is lost."""
    row = session.get(CertificateRow, certificate_id)
    if row is None or row.lot_id != _row(session, code).id:
        raise NotFoundError(f"Lot {code} has no certificate {certificate_id}.")
    row.removed_at = datetime.now(UTC)
    shelf_changed(session)


def list_certificates(session: Session, code: str) -> tuple[CertificateEntry, ...]:
    """The certificates of a lot that count, the newest entry first."""
    rows = [row for row in _row(session, code).certificates if row.removed_at is None]
    return tuple(
        CertificateEntry(row.id, row.entered_at, row.typed, _certificate(row))
        for row in sorted(rows, key=lambda r: -r.id)
    )


def _certificate_row(certificate: Certificate, typed: str) -> CertificateRow:
    return CertificateRow(
        entered_at=datetime.now(UTC),
        dated_on=certificate.dated_on,
        typed=typed,
        found={
            "acids": {code: [a.low, a.typical, a.high] for code, a in certificate.acids.items()},
            "figures": dict(certificate.figures),
            "constituents": dict(certificate.constituents),
        },
    )


def _certificate(row: CertificateRow) -> Certificate:
    """A certificate as far as it can be read; its page shows the words it was read from beside it."""
    return replace(
        read_as(Certificate(), row.found, CERTIFIED)[0],
        dated_on=row.dated_on if row.dated_on and FIRST_DAY <= row.dated_on <= LAST_DAY else None,
    )


def _amounts(stored: Mapping[str, Any]) -> dict[str, AcidAmount]:
    """Acids by code, each given as low, typical and high; raise ValueError for what cannot be part of a hundred."""
    found = {}
    for code, given in stored.items():
        values = given.values() if isinstance(given, Mapping) else given
        low, typical, high = map(number_of, values)
        if not 0 <= low <= typical <= high <= 100:
            raise ValueError(f"{code}: {low} to {high} is no part of a hundred")
        found[text_of(code)] = AcidAmount(low, typical, high)
    return found


def _figures(stored: Mapping[str, Any]) -> dict[str, float]:
    """Figures by the keys of FIGURES; raise KeyError or ValueError for one that cannot be."""
    found = {key: number_of(value) for key, value in stored.items()}
    strange = [key for key, value in found.items() if not FIGURES[key].least <= value <= FIGURES[key].most]
    if strange:
        raise ValueError(f"{', '.join(strange)} cannot be")
    return found


def _constituents(stored: Mapping[str, Any]) -> dict[str, float]:
    """Constituents [%] by name; raise ValueError for one that is no part of a hundred."""
    found = {text_of(name): number_of(value) for name, value in stored.items()}
    if any(not 0 <= value <= 100 for value in found.values()):
        raise ValueError("a constituent is no part of a hundred")
    return found


CERTIFIED: Readers = {"acids": _amounts, "figures": _figures, "constituents": _constituents}
OWN: Readers = {"acids": _amounts, "figures": _figures}


def save_own_oil(session: Session, own: OwnOil, typed: str, key: str = "") -> str:
    """Keep an oil of the person's own, new or changed; return its key. Earlier entries stay."""
    key = _keep_own_oil(session, own, typed, key)
    shelf_changed(session)
    return key


def put_own_oils(session: Session, oils: Iterable[tuple[str, OwnOil, str]]) -> int:
    """Keep oils, each (key or nothing, oil, words it was read from); return how many were new or changed."""
    known = own_oil_entries(session)
    changed = 0
    for key, own, typed in oils:
        if known.get(key or own.key) != (own, typed):
            _keep_own_oil(session, own, typed, key)
            changed += 1
    shelf_changed(session)
    return changed


def _keep_own_oil(session: Session, own: OwnOil, typed: str, key: str) -> str:
    key = key or own.key
    if not key.startswith(KEY):
        raise UptideError(f"“{key}” is no key of an oil of your own; those begin with “{KEY}”.")
    said = {name: value for name, value in asdict(own).items() if name != "unread"}
    session.add(OwnOilRow(key=key, entered_at=datetime.now(UTC), typed=typed, said=said))
    return key


def own_oil_entries(session: Session) -> dict[str, tuple[OwnOil, str]]:
    """The person's own oils by key, each as last given, with the words from which it was read."""
    return {
        row.key: (_own(row.key, row.said), row.typed)
        for row in session.scalars(select(OwnOilRow).order_by(OwnOilRow.id))
    }


def own_oils(session: Session) -> dict[str, OwnOil]:
    """The person's own oils by key, each as last given."""
    return {key: own for key, (own, _) in own_oil_entries(session).items()}


def own_oil(session: Session, key: str) -> tuple[OwnOil, str]:
    """One own oil with the words from which it was last read; raise NotFoundError if there is none of this key."""
    known = own_oil_entries(session)
    if key not in known:
        raise NotFoundError(f"There is no oil “{key}” of your own.")
    return known[key]


def _own(key: str, said: object) -> OwnOil:
    """An own oil as far as today's rules let it be; what they do not is said, and stays as it was stored."""
    named = key.removeprefix(KEY).replace("-", " ").strip() or "oil"
    own, unread = read_as(OwnOil(named[:LONGEST_NAME] if normalise(named) else "oil"), said, OWN)
    return replace(own, unread=unread)


def recipes_on_shelf(session: Session, lots: Iterable[Lot]) -> dict[tuple[int, int] | str, tuple[str, Recipe]]:
    """Name and recipe of every version of a blend that stands on the shelf as a lot.

    Of what was left over from a batch it is what was really poured, by the code of its lot.
    """
    lots = tuple(lots)
    found: dict[tuple[int, int] | str, tuple[str, Recipe]] = {}
    for made in sorted({lot.made_from for lot in lots if lot.made_from is not None}):
        with suppress(NotFoundError):  # a lot of what is no longer known opens, and is nothing that can be used
            found[made] = (f"{load_blend(session, made[0]).name} v{made[1]}", load_version(session, *made).recipe)
    for lot in lots:
        if lot.made_from in found and lot.code.startswith(LEFTOVER):
            with suppress(NotFoundError):  # a code that only looks like one
                record = load_batch(session, lot.code.removeprefix(LEFTOVER))
                name, recipe = found[lot.made_from]
                if record.composition:
                    made_so = made_of(recipe, record.composition, record.present)
                    found[lot.code] = (f"{name}, batch {record.number}", made_so)
    return found
