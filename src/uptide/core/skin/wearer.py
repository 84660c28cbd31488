"""Who wears it, as far as they said; what was not asked is unknown, and unknown is never taken for no."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

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
TONES = ("very fair", "fair", "medium", "olive", "brown", "dark")
GROUPS: Mapping[str, Mapping[str, str]] = {
    "allergies": ALLERGIES, "conditions": CONDITIONS, "medicines": MEDICINES, "health": HEALTH, "uses": USES,
}  # fmt: skip
PROCEDURE_REST = timedelta(days=14)  # customary pause; common practice
OLDEST = 120  # years


@dataclass(frozen=True, slots=True)
class Wearer:
    """One person. A group is None when it was not asked, and empty when it was and nothing was ticked.

    Raises:
        UptideError: something ticked that is not known, or a day of birth that cannot be.
    """

    name: str = ""
    born: date | None = None
    skin: str = ""
    sensitive: bool | None = None
    tone: str = ""
    pregnant: bool | None = None
    planning: bool | None = None
    breastfeeding: bool | None = None
    allergies: frozenset[str] | None = None
    conditions: frozenset[str] | None = None
    medicines: frozenset[str] | None = None
    health: frozenset[str] | None = None
    uses: frozenset[str] | None = None
    procedure_on: date | None = None
    procedure: str = ""
    other_allergies: str = ""
    dislikes: str = ""
    note: str = ""
    reacted_to: frozenset[str] = frozenset()  # keys of what a patch test or use went wrong with

    def __post_init__(self) -> None:
        for group, known in GROUPS.items():
            strange = sorted((getattr(self, group) or frozenset()) - known.keys())
            if strange:
                raise UptideError(f"{group}: “{', '.join(strange)}” is not known; known are {', '.join(known)}.")
        if self.skin and self.skin not in SKINS:
            raise UptideError(f"“{self.skin}” is no kind of skin; known are {', '.join(SKINS)}.")
        if self.tone and self.tone not in TONES:
            raise UptideError(f"“{self.tone}” is no skin tone; known are {', '.join(TONES)}.")

    def age_months(self, today: date) -> float | None:
        """Age [months] on a day, by the calendar: on a second birthday it is 24; None when it is not known."""
        if self.born is None:
            return None
        months = 12 * (today.year - self.born.year) + today.month - self.born.month
        return max(0.0, months + (today.day - self.born.day) / 31)

    def age_words(self, today: date) -> str:
        """Age in words: months below two years, else years."""
        months = self.age_months(today)
        if months is None:
            return ""
        number, unit = (round(months), "month") if months < 24 else (months // 12, "year")
        return f"{number:.0f} {unit}{'' if number == 1 else 's'}"

    def within_procedure(self, today: date) -> bool | None:
        """Whether something was done to the skin within two weeks before or after a day."""
        if self.procedure_on is None:
            return None if not self.name else False
        return abs(today - self.procedure_on) <= PROCEDURE_REST


ANYONE = Wearer()  # nobody in particular: everything is unknown
