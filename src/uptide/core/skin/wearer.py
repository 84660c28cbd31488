"""Who wears it, as far as they said; what was not asked is unknown, and unknown is never taken for no."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any

from uptide.core.errors import UptideError

# What a person may tick, by group: the key that rules know, and the words for it.
ALLERGIES: Mapping[str, str] = {
    "tree_nut": "tree nuts", "peanut": "peanut", "sesame": "sesame", "soy": "soy", "wheat": "wheat, or coeliac disease",
    "mustard": "mustard, cabbage family", "celery": "celery, carrot family", "stone_fruit": "stone fruit",
    "birch_pollen": "birch pollen", "daisy": "daisy family, ragweed", "latex": "latex", "lanolin": "lanolin",
    "bee": "bee products", "fish": "fish", "shellfish": "shellfish", "aspirin": "aspirin, salicylates",
}  # fmt: skip
SKINS: Mapping[str, str] = {
    "oily": "oily", "combination": "combination", "normal": "normal", "dry": "dry", "mature": "mature",
}  # fmt: skip
CONDITIONS: Mapping[str, str] = {
    "acne": "acne-prone", "eczema": "eczema, atopic", "rosacea": "rosacea, flushes", "psoriasis": "psoriasis",
    "seborrhoeic": "seborrhoeic, scaly scalp", "peeling": "peeling", "infected": "infected now", "broken": "broken now",
}  # fmt: skip
MEDICINES: Mapping[str, str] = {
    "retinoid": "a retinoid", "acid_exfoliant": "an acid peel or exfoliant", "benzoyl_peroxide": "benzoyl peroxide",
    "anticoagulant": "blood thinners, daily aspirin", "photosensitiser": "one that makes skin sensitive to light",
    "cyp2b6": "one broken down by CYP2B6", "cyp2d6": "tamoxifen, codeine or another of CYP2D6",
    "other": "another medicine",
}  # fmt: skip
HEALTH: Mapping[str, str] = {
    "epilepsy": "epilepsy, fever fits", "asthma": "asthma", "migraine": "migraine", "g6pd": "G6PD deficiency",
    "heart_rhythm": "disorder of heart rhythm", "diabetes": "diabetes", "bleeding": "bleeding disorder",
    "photosensitive": "lupus, porphyria or the like", "clot": "clot in the past, swollen leg",
    "scalp": "lice or ringworm", "serious": "cancer treatment, heart failure, fever",
}  # fmt: skip
USES: Mapping[str, str] = {
    "latex": "latex condoms, diaphragm or gloves", "pets": "animals in the home", "sunbed": "sunbed or light therapy",
    "sun": "much in the sun",
}  # fmt: skip
# Conditions in which the skin's barrier is weak: plain and linoleic oils, little scent; danby-2013, common practice.
WEAK_SKIN = frozenset({"eczema", "rosacea", "psoriasis", "peeling"})
TONES = ("very fair", "fair", "medium", "olive", "brown", "dark")
GROUPS: Mapping[str, Mapping[str, str]] = {
    "allergies": ALLERGIES, "conditions": CONDITIONS, "medicines": MEDICINES, "health": HEALTH, "uses": USES,
}  # fmt: skip
PROCEDURE_REST = timedelta(days=14)  # customary pause; common practice
OLDEST = 120  # years
WEEKS_UP_TO = 28  # days: an age of fewer is said in weeks


@dataclass(frozen=True, slots=True)
class Ticks:
    """What was asked of one group of a card: what holds, and what does not. The rest was not asked, and is unknown.

    >>> Ticks(yes=frozenset({"peanut"})).holds("sesame") is None
    True
    """

    yes: frozenset[str] = frozenset()
    no: frozenset[str] = frozenset()

    @classmethod
    def answered(cls, known: Collection[str], *yes: str) -> Ticks:
        """Everything that is known was asked, and only these hold."""
        return cls(frozenset(yes), frozenset(known).difference(yes))

    def holds(self, *keys: str) -> bool | None:
        """Whether one of these holds; None when none is said to, and one of them was not asked."""
        if self.yes.intersection(keys):
            return True
        return False if self.no.issuperset(keys) else None

    def holds_any(self, known: Collection[str]) -> bool | None:
        """Whether anything of the group holds; None when nothing is said to, and something was not asked."""
        return True if self.yes else self.holds(*known)

    def also(self, *keys: str) -> Ticks:
        """The same with more that holds."""
        return Ticks(self.yes.union(keys), self.no.difference(keys))


NOT_ASKED = Ticks()


@dataclass(frozen=True, slots=True)
class Wearer:
    """One person. What was not said of them is None, and what was not asked of a group is in neither of its sets.

    Raises:
        UptideError: something ticked that is not known, or ticked both ways.
    """

    name: str = ""
    born: date | None = None
    skin: str = ""
    sensitive: bool | None = None
    tone: str = ""
    pregnant: bool | None = None
    planning: bool | None = None
    breastfeeding: bool | None = None
    allergies: Ticks = NOT_ASKED
    conditions: Ticks = NOT_ASKED
    medicines: Ticks = NOT_ASKED
    health: Ticks = NOT_ASKED
    uses: Ticks = NOT_ASKED
    procedure_on: date | None = None
    procedure: str = ""
    other_allergies: str = ""
    dislikes: str = ""
    note: str = ""
    reacted_to: frozenset[str] = frozenset()  # keys of what a patch test or use went wrong with

    def __post_init__(self) -> None:
        for group, known in GROUPS.items():
            ticks = self.ticks(group)
            strange = sorted((ticks.yes | ticks.no) - known.keys())
            if strange:
                raise UptideError(f"{group}: “{', '.join(strange)}” is not known; known are {', '.join(known)}.")
            both = sorted(ticks.yes & ticks.no)
            if both:
                raise UptideError(f"{group}: {', '.join(both)} cannot both hold and not hold.")
        if self.skin and self.skin not in SKINS:
            raise UptideError(f"“{self.skin}” is no kind of skin; known are {', '.join(SKINS)}.")
        if self.tone and self.tone not in TONES:
            raise UptideError(f"“{self.tone}” is no skin tone; known are {', '.join(TONES)}.")

    def ticks(self, group: str) -> Ticks:
        """What was asked of a group of GROUPS."""
        found: Ticks = getattr(self, group)
        return found

    def with_ticks(self, group: str, *keys: str) -> Wearer:
        """The same person, of whom this holds as well."""
        more: dict[str, Any] = {group: self.ticks(group).also(*keys)}
        return replace(self, **more)

    def not_asked_of(self, group: str) -> tuple[str, ...]:
        """What of a group nobody asked, by its words."""
        ticks = self.ticks(group)
        return tuple(words for key, words in GROUPS[group].items() if key not in ticks.yes | ticks.no)

    @property
    def weak_skin(self) -> frozenset[str]:
        """Conditions of a weak barrier that this person has."""
        return self.conditions.yes & WEAK_SKIN

    def age_months(self, today: date) -> float | None:
        """Age [months] on a day, by the calendar: on a second birthday it is 24; None when it is not known."""
        if self.born is None:
            return None
        months = 12 * (today.year - self.born.year) + today.month - self.born.month
        return max(0.0, months + (today.day - self.born.day) / 31)

    def age_words(self, today: date) -> str:
        """Age in words: weeks in the first four, months below two years, else years."""
        months = self.age_months(today)
        if months is None or self.born is None:
            return ""
        number, unit = (round(months), "month") if months < 24 else (months // 12, "year")
        days = (today - self.born).days
        if days < WEEKS_UP_TO:
            number, unit = days // 7, "week"
        return f"{number:.0f} {unit}{'' if number == 1 else 's'}"

    def within_procedure(self, today: date) -> bool | None:
        """Whether something was done to the skin within two weeks before or after a day."""
        if self.procedure_on is None:
            return None if not self.name else False
        return abs(today - self.procedure_on) <= PROCEDURE_REST


ANYONE = Wearer()  # nobody in particular: everything is unknown
