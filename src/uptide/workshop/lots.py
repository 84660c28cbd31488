"""Bring a CSV of the shelf in: lots, certificates or own oils, told apart by their header."""

from __future__ import annotations

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import UptideError
from uptide.formats.lots_csv import read_certificates, read_lots, read_own_oils, what_is_in
from uptide.store.shelf import put_certificates, put_lots, put_own_oils


def bring_in(name: str, text: str, catalogue: Catalogue, store: Session) -> str:
    """Store what a file holds and say how much that was; a file with a bad row changes nothing.

    Raises:
        UptideError: a file that is none of these, or every bad row of it.
    """
    kind = what_is_in(text)
    if kind == "lots":
        new, changed = put_lots(store, read_lots(name, text, catalogue))
        return f"{_count(new, 'lot')} added, {changed} brought up to date."
    if kind == "certificates":
        return f"{_count(put_certificates(store, read_certificates(name, text, catalogue)), 'certificate')} added."
    if kind == "own oils":
        changed = put_own_oils(store, read_own_oils(name, text, catalogue))
        return f"{_count(changed, 'oil')} of your own added or changed."
    raise UptideError(
        f"{name} is no file of the shelf. Lots need the columns code, ingredient, bought_g and left_g; certificates "
        "code and table; oils of your own name and table."
    )


def _count(number: int, what: str) -> str:
    return f"{number} {what}{'' if number == 1 else 's'}"
