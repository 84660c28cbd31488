"""Read what was stored as far as it can be read today: one field that cannot never takes its record with it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import fields, replace
from datetime import date
from math import isfinite
from typing import TYPE_CHECKING, Any, TypeVar

from uptide.core.errors import UptideError

if TYPE_CHECKING:
    from _typeshed import DataclassInstance

    Made = TypeVar("Made", bound=DataclassInstance)
else:
    Made = TypeVar("Made")

Unread = Mapping[str, str]  # what cannot be read of a record, by field, in a sentence
# What a reader may raise over a value that is not what it was written as.
NOT_THIS = (UptideError, TypeError, ValueError, KeyError, OverflowError, AttributeError, IndexError)
LONGEST_SHOWN = 60  # characters of a value in a sentence
Readers = Mapping[str, Callable[[Any], Any]]


def read_as(plain: Made, stored: object, readers: Readers) -> tuple[Made, dict[str, str]]:
    """`plain` with every field of `stored` that can stand in it, and what cannot, by field.

    A field that `readers` do not name, and one that is no longer known, is left as it is in `plain`.

    Args:
        plain: what stands where nothing was stored, or nothing that can be read.
        stored: a JSON object; anything else is a record without fields.
        readers: how each field is read from JSON; they raise one of NOT_THIS.
    """
    unread: dict[str, str] = {}
    given = stored if isinstance(stored, Mapping) else {}
    for field in fields(plain):
        if field.name not in given or field.name not in readers:
            continue
        try:
            value: dict[str, Any] = {field.name: readers[field.name](given[field.name])}
            plain = replace(plain, **value)
        except NOT_THIS:
            unread[field.name] = unread_words(given[field.name])
    return plain, unread


def unread_words(value: object) -> str:
    """What is said of a stored value that cannot be read."""
    shown = str(value)
    shown = shown if len(shown) <= LONGEST_SHOWN else f"{shown[:LONGEST_SHOWN]} …"
    return f"“{shown}” was stored here and cannot be read; what is usual stands instead until it is saved afresh."


def number_of(value: object) -> float:
    """A finite number; raise ValueError for anything else."""
    found = float(str(value))
    if not isfinite(found):
        raise ValueError(f"{value} is not finite")
    return found


def text_of(value: object) -> str:
    """Text; raise TypeError for anything else."""
    if not isinstance(value, str):
        raise TypeError(f"{value} is no text")
    return value


def flag_of(value: object) -> bool:
    """True or false, as JSON has them or as 0 and 1; raise TypeError for anything else."""
    if not isinstance(value, bool | int):
        raise TypeError(f"{value} is neither true nor false")
    return bool(value)


def choice_of(value: object) -> bool | None:
    """True, false, or not said."""
    return None if value is None else flag_of(value)


def day_of(value: object) -> date | None:
    """A day, or none; raise ValueError for what is not one."""
    return date.fromisoformat(text_of(value)) if value else None
