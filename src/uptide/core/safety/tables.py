"""What is known of scents, limits and cautions: the tables of safety as the rules read them."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

from uptide.core.physics.hlb import Emulsifier, RequiredHlb
from uptide.core.safety.words import Alternatives, is_personal
from uptide.core.tolerance import exceeds

# Age [years] from which a scent that holds more of it than CLOSES_AIRWAYS [%] may come near the face;
# tisserand-young-2014, from memory.
AGES_BY_CONSTITUENT = {"1,8-CINEOLE": 10.0, "CAMPHOR": 10.0, "MENTHOL": 6.0}
CLOSES_AIRWAYS = 5.0


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

    `most_leave_on` and `most_rinse_off` [%] are None where no limit is stated, which is not the same as no limit: caps
    of the whole apply. `phototoxic` is yes, no or
    uncertain; `phototoxic_limit` [%] is its limit left on skin that sees the sun.
    Ages in years.
    """

    key: str
    extraction: str
    most_leave_on: float | None
    most_rinse_off: float | None
    rinse_off_source: str
    driver: str
    phototoxic: str
    phototoxic_limit: float | None
    flags: frozenset[str]
    least_age: float | None
    stated_age_near_face: float | None
    opened_months: float | None
    runs: str
    eu_label_name: str
    constituents: Mapping[str, Constituent]
    source: str
    confidence: str

    @property
    def least_age_near_face(self) -> float | None:
        """The age [years] from which it may come near the face: as stated, or by what closes children’s airways."""
        ages = [age for name, age in AGES_BY_CONSTITUENT.items() if self._holds(name)]
        return max([*ages, *([] if self.stated_age_near_face is None else [self.stated_age_near_face])], default=None)

    def _holds(self, name: str) -> bool:
        part = self.constituents.get(name)
        return part is not None and exceeds(part.typical, CLOSES_AIRWAYS)


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

    product: str  # its key; empty where the limit is a wearer’s
    whom: Alternatives
    low: float
    suggested: float
    most: float
    source: str
    words: str
    confidence: str

    @property
    def for_wearer(self) -> bool:
        """Whether it depends on who wears it."""
        return not self.product


@dataclass(frozen=True, slots=True)
class Rule:
    """A caution as data: what in the product and who together make it fire (see words.py), and what a label says."""

    key: str
    grade: str
    what: Alternatives
    who: Alternatives
    message: str
    why: str
    remedy: str
    label: str
    answerable: bool
    source: str
    confidence: str

    @property
    def is_personal(self) -> bool:
        """Whether it depends on who wears it."""
        return is_personal(self.who)


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
class AllergyWord:
    """What a word for an allergy means: what can be ticked, families, things, constituents, or any scent at all.

    One that means nothing of all this is understood, and nothing here holds it.
    """

    allergies: frozenset[str] = frozenset()
    families: frozenset[str] = frozenset()
    ingredients: frozenset[str] = frozenset()
    constituents: frozenset[str] = frozenset()
    any_scent: bool = False


@dataclass(frozen=True, eq=False)
class SafetyTables:
    """All tables of safety. An empty book knows nothing, and everything scented is then unknown.

    Words and names are keyed as `measures.names.stems` gives them, joined by spaces.
    """

    scents: Mapping[str, ScentFacts] = field(default_factory=dict)
    allergens: Mapping[str, AllergenName] = field(default_factory=dict)
    constituent_limits: tuple[ConstituentLimit, ...] = ()
    dose_limits: tuple[DoseLimit, ...] = ()
    rules: tuple[Rule, ...] = ()
    claims: tuple[ClaimPattern, ...] = ()
    emulsifiers: Mapping[str, Emulsifier] = field(default_factory=dict)
    required_hlb: Mapping[str, RequiredHlb] = field(default_factory=dict)
    allergy_words: Mapping[str, AllergyWord] = field(default_factory=dict)
    called: Mapping[str, frozenset[str]] = field(default_factory=dict)  # keys of what a name may mean
    plants: Mapping[str, frozenset[str]] = field(default_factory=dict)  # what a plant is not for, by each of its names

    @cached_property
    def personal_rules(self) -> tuple[Rule, ...]:
        """The rules that depend on who wears it."""
        return tuple(rule for rule in self.rules if rule.is_personal)

    @cached_property
    def general_rules(self) -> tuple[Rule, ...]:
        """The rules that hold whoever wears it."""
        return tuple(rule for rule in self.rules if not rule.is_personal)

    @cached_property
    def with_stops_alone(self) -> SafetyTables:
        """The same with no rule but those that may stop a blend."""
        return replace(self, rules=tuple(rule for rule in self.rules if rule.grade == "stop"))

    @cached_property
    def words_of_names(self) -> frozenset[tuple[str, ...]]:
        """Every name that anything has, as its words."""
        return frozenset(tuple(name.split()) for name in self.called)

    @cached_property
    def named_constituents(self) -> frozenset[str]:
        """Every constituent that is known by name, of a scent or from the list of allergens."""
        return self.constituent_names | frozenset(n for n, known in self.allergens.items() if not known.whole_oil)

    @cached_property
    def constituent_names(self) -> frozenset[str]:
        """Every constituent that a certificate of a scent may give."""
        return frozenset(name for scent in self.scents.values() for name in scent.constituents)


EMPTY = SafetyTables()
