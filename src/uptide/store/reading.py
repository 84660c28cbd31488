"""Read what was stored as far as it can be read today: one field that cannot never takes its record with it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass, replace
from datetime import date
from functools import cache
from math import isfinite
from typing import TYPE_CHECKING, Any, TypeVar, get_type_hints

from pydantic import ConfigDict, TypeAdapter

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
NO_READERS: Readers = {}
FINITE = ConfigDict(allow_inf_nan=False)


@cache
def readers_of(record: type) -> Readers:
    """How each field of a record is read from JSON, by its type; numbers are finite."""
    types = get_type_hints(record)
    return {field.name: _reader(types[field.name]) for field in fields(record)}


def _reader(kind: Any) -> Callable[[Any], Any]:
    """How a type is read from JSON; a record within a record says itself which numbers it takes."""
    return TypeAdapter(kind, config=None if is_dataclass(kind) else FINITE).validate_python


@cache
def _writer_of(record: Any) -> TypeAdapter[Any]:
    return TypeAdapter(record)


def to_json(record: DataclassInstance) -> dict[str, Any]:
    """A record as plain JSON, by the types of its fields."""
    written: dict[str, Any] = _writer_of(type(record)).dump_python(record, mode="json")
    return written


def read_as(plain: Made, stored: object, readers: Readers = NO_READERS) -> tuple[Made, dict[str, str]]:
    """`plain` with every field of `stored` that can stand in it, and what cannot, by field.

    A field that is no longer known is left out.

    Args:
        plain: what stands where nothing was stored, or nothing that can be read.
        stored: a JSON object; anything else is a record without fields.
        readers: how fields are read from JSON where their types do not say all; they raise one of NOT_THIS.
    """
    unread: dict[str, str] = {}
    given = stored if isinstance(stored, Mapping) else {}
    every = {**readers_of(type(plain)), **readers}
    for field in fields(plain):
        if field.name not in given:
            continue
        try:
            value: dict[str, Any] = {field.name: every[field.name](given[field.name])}
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


def day_of(value: object) -> date | None:
    """A day, or none; raise ValueError for what is not one."""
    return date.fromisoformat(text_of(value)) if value else None
