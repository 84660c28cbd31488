"""What the store hands out: plain records, without a database behind them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from uptide.core.blend.recipe import Recipe
from uptide.core.errors import UptideError


class NotFoundError(UptideError):
    """Something was asked for by number that is not there."""


class BlendNameError(UptideError):
    """A name that a blend cannot have."""


@dataclass(frozen=True, slots=True)
class VersionHeader:
    """A version without its rows."""

    number: int
    saved_at: datetime
    note: str


@dataclass(frozen=True, slots=True)
class Version:
    """One save of a blend, with its recipe."""

    number: int
    saved_at: datetime
    note: str
    recipe: Recipe


@dataclass(frozen=True, slots=True)
class Blend:
    """A blend with its newest version and the headers of all."""

    id: int
    name: str
    archived: bool
    newest: Version
    versions: tuple[VersionHeader, ...]


@dataclass(frozen=True, slots=True)
class BlendHeader:
    """A blend as a line in a list."""

    id: int
    name: str
    product: str
    versions: int
    saved_at: datetime
    archived: bool
    rows: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class BottleEvent:
    """Something that befell a bottle; `detail` depends on the kind."""

    id: int
    on: date
    kind: str
    detail: dict[str, Any]


@dataclass(frozen=True, slots=True)
class Lot:
    """One container on the shelf; masses in g, price for the whole container."""

    code: str
    ingredient: str
    supplier: str
    received_on: date | None
    opened_on: date | None
    best_before: date | None
    bought_g: float
    left_g: float
    price: float | None
    currency: str
    place: str

    @property
    def price_per_100g(self) -> float | None:
        """Price of 100 g, in its currency; None when the price is not known."""
        return None if self.price is None else 100 * self.price / self.bought_g
