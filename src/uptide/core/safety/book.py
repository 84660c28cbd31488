"""What is known of scents, limits and cautions: the tables of safety as the rules read them."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class Constituent:
    """Part of a scent [% of it]: least, typical, most; all the same where a certificate gives it."""

    low: float
    typical: float
    high: float
    confidence: str = "low"
    certified: bool = False


@dataclass(frozen=True, slots=True)
class ScentFacts:
    """What is known of one essential oil, extract or absolute.

    `most_leave_on` [%] is None where no limit is stated, which is not the same as no limit: caps of the whole apply.
    `sun` is yes, no or uncertain; `sun_limit` [%] is its limit left on skin that sees the sun. Ages in years.
    """

    key: str
    extraction: str
    most_leave_on: float | None
    driver: str
    sun: str
    sun_limit: float | None
    flags: frozenset[str]
    least_age: float | None
    least_age_near_face: float | None
    opened_months: float | None
    runs: str
    eu_label_name: str
    constituents: Mapping[str, Constituent]
    source: str
    confidence: str


@dataclass(frozen=True, slots=True)
class AllergenName:
    """A name that EU law wants on the label, and since which list."""

    name: str
    whole_oil: bool
    listed_in: int  # 2003 or 2023
    source: str


@dataclass(frozen=True, slots=True)
class ConstituentLimit:
    """The most [%] of a constituent in the finished product; `law` is EU law, the others are of the literature."""

    name: str
    law: bool
    rinsed: bool
    most: float
    source: str


@dataclass(frozen=True, slots=True)
class DoseLimit:
    """How much scent [% of the whole]: what is suggested, and the most; for a product or for a wearer."""

    applies_to: str
    for_wearer: bool
    low: float
    suggested: float
    most: float
    source: str
    words: str
    confidence: str


@dataclass(frozen=True, slots=True)
class Rule:
    """A caution as data: what in the product and who together make it fire (see rules.py for the words)."""

    key: str
    grade: str
    what: str
    who: str
    message: str
    why: str
    clears: str
    answerable: bool
    source: str
    confidence: str


@dataclass(frozen=True, slots=True)
class ClaimPattern:
    """Words that make a medicine of a cosmetic, promise too much, or repeat a false belief; and what to say instead."""

    key: str
    grade: str
    kind: str
    pattern: re.Pattern[str]
    why: str
    instead: tuple[str, ...]
    source: str


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


@dataclass(frozen=True, slots=True)
class SafetyBook:
    """All tables of safety. An empty book knows nothing, and everything scented is then unknown."""

    scents: Mapping[str, ScentFacts] = field(default_factory=dict)
    allergens: Mapping[str, AllergenName] = field(default_factory=dict)
    constituent_limits: tuple[ConstituentLimit, ...] = ()
    dose_limits: tuple[DoseLimit, ...] = ()
    rules: tuple[Rule, ...] = ()
    claims: tuple[ClaimPattern, ...] = ()
    emulsifiers: Mapping[str, Emulsifier] = field(default_factory=dict)
    required_hlb: Mapping[str, RequiredHlb] = field(default_factory=dict)

    @property
    def constituent_names(self) -> frozenset[str]:
        """Every constituent that a certificate of a scent may give."""
        return frozenset(name for scent in self.scents.values() for name in scent.constituents)


EMPTY = SafetyBook()
