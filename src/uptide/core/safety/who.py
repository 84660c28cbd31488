"""Whom a rule is about, in words."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

from uptide.core.safety.tables import DoseLimit
from uptide.core.safety.words import Alternatives, Condition
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
    return " or ".join(dict.fromkeys(_way(way) for way in alternatives))


def _way(way: Sequence[Condition]) -> str:
    """Where on the body comes last, and is no “and”: under 6 years on the face."""
    who = " and ".join(_who(condition) for condition in way if condition.word != "area")
    return who + "".join(f" on the {' or '.join(condition.names)}" for condition in way if condition.word == "area")


def _who(condition: Condition) -> str:
    if condition.word in GROUPS:
        lead, words = GROUPS[condition.word]
        return lead + " or ".join(words.get(name, name) for name in condition.names)
    if condition.word == "age":
        years = condition.bound / 12
        age = f"{years:g} years" if years >= 1 else f"{condition.bound:g} months"
        return f"{'under' if condition.sign == '<' else 'over'} {age}"
    return WHO.get(condition.word, condition.word)


def limit_words(limit: DoseLimit) -> str:
    """Whom or what a limit of the dose is for, in words."""
    return who_words(limit.whom) if limit.for_wearer else limit.product.replace("-", " ")


def age_below(alternatives: Alternatives) -> float:
    """The age [months] below which it is about anyone, and about nobody else; 0 where it is about others."""
    ways = [way for way in alternatives if len(way) == 1 and way[0].word == "age" and way[0].sign == "<"]
    return max(way[0].bound for way in ways) if ways and len(ways) == len(alternatives) else 0.0
