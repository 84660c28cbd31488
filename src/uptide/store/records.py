"""What the store hands out: plain records, without a database behind them."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime

from uptide.core.errors import UptideError
from uptide.core.ingredients.certificate import Certificate
from uptide.core.recipe.recipe import Recipe
from uptide.core.skin.patch import Outcome, Planned
from uptide.core.skin.wearer import Wearer
from uptide.store.reading import Unread


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
    unread: Unread = field(default_factory=dict)  # what of it cannot be read today, by field


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
class CertificateEntry:
    """A certificate as it was entered: what was pasted, and what was read of it."""

    id: int
    entered_at: datetime
    typed: str
    certificate: Certificate


@dataclass(frozen=True, slots=True)
class PatchTest:
    """A patch test: of which version, how, where, since when, what was seen, and how it stands.

    `suspects` are keys of what in it may be to blame, if the skin reacted.
    """

    id: int
    blend_id: int
    blend_name: str
    version: int
    protocol: str
    site: str
    begun_at: datetime
    note: str
    suspects: tuple[str, ...]
    looks: tuple[Planned, ...]
    outcome: Outcome


@dataclass(frozen=True, slots=True)
class Person:
    """Somebody with their newest card, their patch tests, and the cards that were true before."""

    id: int
    wearer: Wearer
    tests: tuple[PatchTest, ...]
    since: datetime
    earlier: tuple[tuple[datetime, Wearer], ...]
    unread: Unread = field(default_factory=dict)  # what of the card cannot be read today, by field
    half_asked: tuple[str, ...] = ()  # groups of an older card of which only what was ticked is known


class LotError(UptideError):
    """A lot that cannot stand on the shelf."""
