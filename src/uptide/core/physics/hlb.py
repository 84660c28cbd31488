"""HLB: how much a mix of emulsifiers must love water so that an oil parts in it, and how two of them make it so.

Source: griffin-1954, from memory: shares by weight, linear. It says which type to take, not how much, nor whether it
stays; tables of the oils differ by ± 2.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from uptide.core.errors import UptideError
from uptide.core.tolerance import exceeds, reaches

TABLES_DIFFER = 2.0  # HLB
SELF_DISPERSING = (8.0, 11.0)  # HLB of the emulsifiers in a self-dispersing bath or cleansing oil; common practice
KNOWN_ENOUGH = 0.80  # g/g of the oil phase whose required HLB must be known


class HlbError(UptideError):
    """Emulsifiers that cannot reach what an oil requires."""


def share_of_two(required: float, high: float, low: float) -> float:
    """Share [g/g] of the emulsifier with the higher HLB, of two that together make the required HLB.

    Raises:
        HlbError: a required HLB outside the two.

    >>> round(share_of_two(8.0, 9.5, 5.0), 4)
    0.6667
    """
    if high < low:
        high, low = low, high
    if not low <= required <= high or high == low:
        raise HlbError(
            f"An HLB of {required:.1f} cannot be made of {low:g} and {high:g}; choose one below and one above it."
        )
    return (required - low) / (high - low)


def share_of_three(required: float, high: float, low: float, third: float, share: float) -> float:
    """Share [g/g] of the emulsifier with the higher HLB when a third takes a share [g/g] of its own.

    Raises:
        HlbError: no share between nothing and what the third leaves makes it.

    >>> round(share_of_three(8.0, 15.0, 4.3, 9.0, 0.2), 4)
    0.2579
    """
    found = (required - share * third - (1 - share) * low) / (high - low)
    if not 0 <= found <= 1 - share:
        raise HlbError(f"An HLB of {required:.1f} cannot be made with {share:.0%} of the third at {third:g}.")
    return found


@dataclass(frozen=True, slots=True)
class Emulsified:
    """An oil phase and its emulsifiers.

    `required` is what the oils want, with the least and most that the tables allow; `present` what the emulsifiers in
    it have together; `unknown` names keys of oils without a value, that make it None when they are too many.
    """

    required: float | None
    required_low: float | None
    required_high: float | None
    present: float | None
    unknown: tuple[str, ...]

    @classmethod
    def of(
        cls,
        oils: Sequence[tuple[str, float]],
        emulsifiers: Sequence[tuple[str, float]],
        *,
        required: Mapping[str, RequiredHlb],
        known_emulsifiers: Mapping[str, Emulsifier],
    ) -> Emulsified:
        """Work out both from (key, mass) pairs and the tables; an essential oil goes by the key `scent`."""
        total = sum(mass for _, mass in oils)
        known = [(mass, required[key]) for key, mass in oils if key in required]
        held = sum(mass for mass, _ in known)
        unknown = tuple(key for key, _ in oils if key not in required)
        means: list[float | None] = [None, None, None]
        if total > 0 and reaches(held, KNOWN_ENOUGH * total):
            means = [
                sum(mass * hlb.typical for mass, hlb in known) / held,
                sum(mass * hlb.low for mass, hlb in known) / held,
                sum(mass * hlb.high for mass, hlb in known) / held,
            ]
        working = [(mass, known_emulsifiers[key].hlb) for key, mass in emulsifiers if key in known_emulsifiers]
        weight = sum(mass for mass, _ in working)
        present = sum(mass * hlb for mass, hlb in working) / weight if weight else None
        return cls(means[0], means[1], required_high=means[2], present=present, unknown=unknown)

    @property
    def fits(self) -> bool | None:
        """Whether what is present is what is required, as far as the tables can tell; None when either is unknown."""
        if self.present is None or self.required_low is None or self.required_high is None:
            return None
        return reaches(self.present, self.required_low - TABLES_DIFFER) and not exceeds(
            self.present, self.required_high + TABLES_DIFFER
        )


@dataclass(frozen=True, slots=True)
class Emulsifier:
    """What makes oil part in water: HLB, usual share of the product [%], parts for one part of scent."""

    key: str
    hlb: float
    usual: tuple[float, float] | None
    ratio: tuple[float, float] | None
    ionic: str
    natural: str
    brings_water: bool
    effect: str
    caution: str
    source: str
    confidence: str


@dataclass(frozen=True, slots=True)
class RequiredHlb:
    """The HLB that an oil wants of its emulsifiers, oil in water: what most tables say, and how far they differ."""

    low: float
    typical: float
    high: float
    source: str
