"""What forms are read with: one parser of numbers, one of days, and the form that carries a token."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date
from math import isfinite

from pydantic import BaseModel

from uptide.core.errors import QuantityError, UptideError
from uptide.workshop.clock import today

LONGEST_TEXT = 20_000  # characters in one paste


class TokenForm(BaseModel):
    """A form with nothing but its token."""

    token: str = ""


class FieldError(UptideError):
    """What is wrong with one field of a form, to be said beside it."""

    def __init__(self, field: str, words: str) -> None:
        super().__init__(words)
        self.field = field


@contextmanager
def in_field(field: str) -> Iterator[None]:
    """What cannot be read within is said of this field."""
    try:
        yield
    except UptideError as error:
        raise FieldError(field, str(error)) from error


def errors_of(error: UptideError | None) -> dict[str, str]:
    """What is wrong, by the field it is about; nothing where it is about no field in particular."""
    return {error.field: str(error)} if isinstance(error, FieldError) else {}


def amount_of(text: str, what: str) -> float:
    """Read a number that is not below nothing; raise QuantityError that says what it should have been."""
    value = number_of(text, what)
    if value < 0:
        raise QuantityError(f"{text} is no {what}: it is below nothing.")
    return value


def number_of(text: str, what: str, most: float = 1000) -> float:
    """Read a number with a decimal point or comma; raise QuantityError that says what it should have been."""
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError as error:
        raise QuantityError(f"“{text}” is not {_a(what)}; write a number.") from error
    if not isfinite(value):
        raise QuantityError(f"“{text}” is not {_a(what)}; write a number.")
    if abs(value) > most:
        raise QuantityError(f"{text} is too much for a {what}; up to {most:g} is read.")
    return value


def _a(what: str) -> str:
    return f"{'an' if what[:1] in 'aeiou' else 'a'} {what}"


def share_of(text: str) -> float:
    """Read a share in percent, its sign or none; raise QuantityError that says what it should have been."""
    try:
        return number_of(text.rstrip("% "), "share", most=100)
    except QuantityError as error:
        raise QuantityError(f"“{text}” is not a share; write a number of percent above 0 and below 100.") from error


def day_of(text: str, what: str, *, earliest: date = date.min, latest: date = date.max) -> date | None:
    """Read a day, None for nothing; raise QuantityError that says what was found and which days can be."""
    if not text.strip():
        return None
    try:
        day = date.fromisoformat(text.strip())
    except ValueError as error:
        raise QuantityError(f"“{text}” is not a {what}; write it as {today().isoformat()}.") from error
    if not earliest <= day <= latest:
        raise QuantityError(f"{text} is no {what}; {earliest.isoformat()} to {latest.isoformat()} can be.")
    return day
