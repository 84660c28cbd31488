"""The shelf: lots with their certificates, and a person's own oils, in and out of the database."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import asdict, replace
from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from uptide.core.blend.certificate import Certificate
from uptide.core.blend.lot import Lot
from uptide.core.blend.own import COLOUR, FAMILIES, PALE, OwnOil
from uptide.core.blend.recipe import Recipe
from uptide.core.lipids.pasted import Amount
from uptide.store.blends import load_blend, load_version
from uptide.store.models import CertificateRow, LotRow, OwnOilRow, PreferenceRow
from uptide.store.records import CertificateEntry, LotError, NotFoundError

REVISION = "shelf_revision"
PLAIN = (
    "code", "ingredient", "supplier", "received_on", "opened_on", "best_before", "bought_g", "left_g", "price",
    "currency", "place", "supplier_lot", "container", "note",
)  # fmt: skip
LONGEST_CODE = 40
RESERVED = ("new", "bring-in", "certificates.csv", "own-oils.csv")  # words that stand in the addresses of the shelf


def shelf_revision(session: Session) -> int:
    """A number that changes whenever the shelf does, so that what follows from it is worked out once."""
    row = session.get(PreferenceRow, REVISION)
    return int(row.value) if row else 0


def _changed(session: Session) -> None:
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
    for lot in lots:
        row = session.scalar(select(LotRow).where(LotRow.code == lot.code))
        new, changed = (new + 1, changed) if row is None else (new, changed + 1)
        known = _lot(row) if row is not None else None
        merged = lot if known is None else replace(lot, **{n: getattr(known, n) for n in PLAIN if not _said(lot, n)})
        row = _put(session, row, merged)
        entered = [_certificate(entry) for entry in row.certificates if entry.removed_at is None]
        for certificate in lot.certificates:
            if certificate not in entered:
                row.certificates.append(_certificate_row(row.id, certificate, ""))
    _changed(session)
    return new, changed


def _said(lot: Lot, name: str) -> bool:
    return getattr(lot, name) not in ("", None)


def save_lot(session: Session, lot: Lot) -> None:
    """Store one lot as given, fields that were emptied included; its certificates stay.

    Raises:
        LotError: a code that is none, or an amount that cannot be.
    """
    _put(session, session.scalar(select(LotRow).where(LotRow.code == lot.code)), lot)
    _changed(session)


def _put(session: Session, row: LotRow | None, lot: Lot) -> LotRow:
    _check(lot)
    if row is None:
        row = LotRow(code=lot.code)
        session.add(row)
    for name in PLAIN:
        setattr(row, name, getattr(lot, name))
    if lot.made_from is not None:
        load_version(session, *lot.made_from)
        row.blend_id, row.blend_version = lot.made_from
    session.flush()
    return row


def _check(lot: Lot) -> None:
    if not re.fullmatch(r"[\w][\w .+-]*", lot.code) or len(lot.code) > LONGEST_CODE or lot.code in RESERVED:
        raise LotError(f"“{lot.code}” is not a lot’s code; 1 to {LONGEST_CODE} letters, digits, dots and dashes are.")
    if not lot.ingredient and lot.made_from is None:
        raise LotError(f"Lot {lot.code}: of what? Name the oil.")
    if lot.bought_g <= 0 or not 0 <= lot.left_g <= lot.bought_g:
        raise LotError(
            f"Lot {lot.code}: {lot.left_g:g} g left of {lot.bought_g:g} g cannot be; more than 0 g came, and no more "
            "is left than came."
        )
    if lot.price is not None and lot.price < 0:
        raise LotError(f"Lot {lot.code}: a price of {lot.price:g} cannot be; 0 or more can.")
    if lot.received_on and lot.opened_on and lot.opened_on < lot.received_on:
        raise LotError(f"Lot {lot.code} cannot have been opened on {lot.opened_on} before it came, {lot.received_on}.")


def list_lots(session: Session, *, empty: bool = False) -> tuple[Lot, ...]:
    """All lots with something left, the one that ends first on top; those without a date last. `empty`: all others."""
    wanted = LotRow.left_g <= 0 if empty else LotRow.left_g > 0
    return tuple(sorted(_lots(session, wanted), key=lambda lot: (lot.best_before or date.max, lot.code)))


def all_lots(session: Session) -> tuple[Lot, ...]:
    """Every lot there ever was, in the order in which they came: blends may still name one that is used up."""
    return tuple(_lots(session, LotRow.id > 0))


def _lots(session: Session, wanted: Any) -> list[Lot]:
    query = select(LotRow).where(wanted).order_by(LotRow.id).options(selectinload(LotRow.certificates))
    return [_lot(row) for row in session.scalars(query)]


def load_lot(session: Session, code: str) -> Lot:
    """One lot by its code; raise NotFoundError if there is none."""
    return _lot(_row(session, code))


def _row(session: Session, code: str) -> LotRow:
    row = session.scalar(select(LotRow).where(LotRow.code == code))
    if row is None:
        raise NotFoundError(f"There is no lot “{code}” on the shelf.")
    return row


def _lot(row: LotRow) -> Lot:
    made = (row.blend_id, row.blend_version) if row.blend_id and row.blend_version else None
    kept = sorted(
        (entry for entry in row.certificates if entry.removed_at is None),
        key=lambda entry: (entry.dated_on or date.min, entry.id),
    )
    return Lot(
        **{name: getattr(row, name) for name in PLAIN},
        made_from=made,
        certificates=tuple(_certificate(entry) for entry in kept),
    )


def add_certificate(session: Session, code: str, certificate: Certificate, typed: str) -> None:
    """Add a certificate to a lot, with the words it was read from."""
    row = _row(session, code)
    row.certificates.append(_certificate_row(row.id, certificate, typed))
    _changed(session)


def remove_certificate(session: Session, code: str, certificate_id: int) -> None:
    """Take a certificate out of the account; the row stays, marked, so that nothing written is lost."""
    row = session.get(CertificateRow, certificate_id)
    if row is None or row.lot_id != _row(session, code).id:
        raise NotFoundError(f"Lot {code} has no certificate {certificate_id}.")
    row.removed_at = datetime.now(UTC)
    _changed(session)


def list_certificates(session: Session, code: str) -> tuple[CertificateEntry, ...]:
    """The certificates of a lot that count, the newest entry first."""
    rows = [row for row in _row(session, code).certificates if row.removed_at is None]
    return tuple(
        CertificateEntry(row.id, row.entered_at, row.typed, _certificate(row))
        for row in sorted(rows, key=lambda r: -r.id)
    )


def _certificate_row(lot_id: int, certificate: Certificate, typed: str) -> CertificateRow:
    return CertificateRow(
        lot_id=lot_id,
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
    found = row.found
    return Certificate(
        row.dated_on,
        {code: Amount(*values) for code, values in found.get("acids", {}).items()},
        dict(found.get("figures", {})),
        dict(found.get("constituents", {})),
    )


def save_own_oil(session: Session, own: OwnOil, typed: str, key: str = "") -> str:
    """Keep an oil of the person's own, new or changed; return its key. Earlier entries stay."""
    key = key or own.key
    session.add(OwnOilRow(key=key, entered_at=datetime.now(UTC), typed=typed, said=asdict(own)))
    _changed(session)
    return key


def own_oil_entries(session: Session) -> dict[str, tuple[OwnOil, str]]:
    """The person's own oils by key, each as last given, with the words from which it was read."""
    return {row.key: (_own(row.said), row.typed) for row in session.scalars(select(OwnOilRow).order_by(OwnOilRow.id))}


def own_oils(session: Session) -> dict[str, OwnOil]:
    """The person's own oils by key, each as last given."""
    return {key: own for key, (own, _) in own_oil_entries(session).items()}


def own_oil(session: Session, key: str) -> tuple[OwnOil, str]:
    """One own oil with the words from which it was last read; raise NotFoundError if there is none of this key."""
    known = own_oil_entries(session)
    if key not in known:
        raise NotFoundError(f"There is no oil “{key}” of your own.")
    return known[key]


def _own(said: Mapping[str, Any]) -> OwnOil:
    acids = {code: Amount(a["low"], a["typical"], a["high"]) for code, a in said.get("acids", {}).items()}
    # What was kept before it was checked is read as what it cannot be told from: pale, and of no known family.
    colour = said.get("colour", PALE) if COLOUR.fullmatch(said.get("colour", PALE)) else PALE
    family = said.get("allergen_family", "") if said.get("allergen_family", "") in FAMILIES else ""
    known = {"acids": acids, "figures": dict(said.get("figures", {})), "colour": colour, "allergen_family": family}
    return OwnOil(**{**said, **known})


def recipes_on_shelf(session: Session, lots: Iterable[Lot]) -> dict[tuple[int, int], tuple[str, Recipe]]:
    """Name and recipe of every version of a blend that stands on the shelf as a lot."""
    wanted = {lot.made_from for lot in lots if lot.made_from is not None}
    return {
        made: (f"{load_blend(session, made[0]).name} v{made[1]}", load_version(session, *made).recipe)
        for made in sorted(wanted)
    }
