"""Whom a rule is about, in words."""

from __future__ import annotations

import re
from collections.abc import Collection
from functools import lru_cache

from uptide.core.safety.words import Alternatives, Condition, read_words
from uptide.core.skin.wearer import ALLERGIES, HEALTH, MEDICINES, USES

WHO = {
    "pregnant": "in pregnancy",
    "planning": "when planning a pregnancy",
    "breastfeeding": "when breastfeeding",
    "procedure": "within two weeks of a peel, laser, needle or tattoo",
    "sunbed": "with a sunbed or light therapy",
    "sun": "with much sun",
    "younger-than": "for children below the age that its scents allow",
    "sensitive": "on sensitive or ill skin",
    "reacted": "after a reaction to it",
}
CONDITION_WORDS = {
    "acne": "on acne-prone skin",
    "eczema": "with eczema",
    "rosacea": "with rosacea or flushing",
    "psoriasis": "with psoriasis",
    "seborrhoeic": "on seborrhoeic skin or a scaly scalp",
    "peeling": "on peeling skin",
    "infected": "on infected skin",
    "broken": "on broken skin",
}
OF_MEDICINES = {
    **MEDICINES,
    "photosensitiser": "a medicine that makes skin sensitive to light",
    "cyp2b6": "a medicine broken down by CYP2B6",
    "any": "any medicine",
}
GROUPS = {
    "allergy": ("with an allergy to ", ALLERGIES),
    "skin": ("", CONDITION_WORDS),
    "medicine": ("with ", OF_MEDICINES),
    "health": ("with ", HEALTH),
    "uses": ("with ", USES),
}


@lru_cache(maxsize=512)
def who_words(alternatives: Alternatives) -> str:
    """Whom a rule is about, in words: “with an allergy to tree nuts, or in pregnancy”."""
    return " or ".join(dict.fromkeys(" and ".join(_who(condition) for condition in way) for way in alternatives))


def _who(condition: Condition) -> str:
    if condition.word in GROUPS:
        lead, words = GROUPS[condition.word]
        return lead + " or ".join(words.get(name, name) for name in condition.names)
    if condition.word == "age":
        years = condition.bound / 12
        age = f"{years:g} years" if years >= 1 else f"{condition.bound:g} months"
        return f"{'under' if condition.sign == '<' else 'over'} {age}"
    return WHO.get(condition.word, condition.word)


def limit_words(applies_to: str) -> str:
    """Whom or what a limit of the dose is for, in words."""
    if applies_to in WHO:
        return WHO[applies_to]
    try:
        return who_words(read_words(applies_to)).replace(" and area", " on the face")
    except ValueError:
        return applies_to.replace("-", " ")


def oldest_alone(whom: Collection[str]) -> list[str]:
    """Without the lower ages where a higher one stands: under two years includes under three months."""
    ages = {words: found for words in whom if (found := re.fullmatch(r"under (\d+) (months|years)", words))}
    months = {words: int(found[1]) * (12 if found[2] == "years" else 1) for words, found in ages.items()}
    return [words for words in whom if words not in months or months[words] == max(months.values())]
