"""Allergies in a person's own words: what each means, and which of them nobody here understands.

The table of words knows families, cross-reactions and what no oil holds; the rest is looked for among the names of
things and of constituents. What is still not understood is never dropped: it is asked about.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.names import stems
from uptide.core.safety.tables import AllergyWord, SafetyTables, ScentFacts

PARTED = re.compile(r"[,;\n/]|\band\b|\bor\b", re.IGNORECASE)
NO_WORDS = re.compile(
    r"^(?:i am |she is |he is |is |am )?(?:very |severely |badly )?(?:allerg(?:ic|y|ies)(?: to)?|sensitive to|no)\b|"
    r"\ball(?:ergy|ergies)$",
    re.IGNORECASE,
)
NOTHING = AllergyWord()
SHORTEST = 3  # letters: less than this names nothing


@dataclass(frozen=True, slots=True)
class NamedAllergy:
    """One allergy as somebody typed it, and what of it the table and the names know."""

    said: str
    meaning: AllergyWord = NOTHING
    keys: frozenset[str] = frozenset()  # of things that are called so
    constituents: frozenset[str] = frozenset()
    understood: bool = True

    def names(self, item: Ingredient, facts: ScentFacts | None) -> bool:
        """Whether a thing is what was named, or holds it: by its name, its family, its constituents, or as a scent."""
        wanted = stems(self.said)
        if item.base_key in self.keys or item.base_key in self.meaning.ingredients:
            return True
        if wanted and any(_within(wanted, stems(name)) for name in _names_of(item)):
            return True
        if item.allergen_family and item.allergen_family in self.meaning.families:
            return True
        if item.phase is Phase.SCENT and self.meaning.any_scent:
            return True
        held = facts.constituents if facts is not None else {}
        return any(name in held and held[name].high > 0 for name in self.constituents)

    def may_hold(self, item: Ingredient, facts: ScentFacts | None) -> bool:
        """Whether nobody knows if a thing holds it: a scent of which no constituents are known."""
        return bool(self.constituents) and item.phase is Phase.SCENT and (facts is None or not facts.constituents)


@lru_cache(maxsize=512)
def read_allergies(text: str, tables: SafetyTables) -> tuple[NamedAllergy, ...]:
    """Read what somebody typed, parted by commas or “and”; each part is one allergy."""
    found = []
    for part in PARTED.split(text):
        said = NO_WORDS.sub("", part.strip(" .!?-")).strip(" .:-")
        if said:
            found.append(_read(said, tables))
    return tuple(found)


def _read(said: str, tables: SafetyTables) -> NamedAllergy:
    words = " ".join(stems(said))
    meaning = tables.allergy_words.get(words)
    keys = tables.called.get(words, frozenset()) if len(words) >= SHORTEST else frozenset()
    constituents = frozenset(
        name for name in tables.named_constituents if " ".join(stems(name)) == words or words in _parts_of(name)
    )
    if meaning is not None:
        return NamedAllergy(said, meaning, keys, constituents | meaning.constituents)
    wanted = stems(said)
    inside = bool(wanted) and len(words) >= SHORTEST and any(_within(wanted, name) for name in tables.words_of_names)
    return NamedAllergy(said, keys=keys, constituents=constituents, understood=bool(keys or constituents or inside))


def _parts_of(constituent: str) -> tuple[str, ...]:
    """A sum of two is known by each of them: thymol is in `CARVACROL+THYMOL`."""
    return tuple(" ".join(stems(part)) for part in constituent.split("+")) if "+" in constituent else ()


def _within(wanted: tuple[str, ...], name: tuple[str, ...]) -> bool:
    """Whether words stand together in a name, whole words only: rose is not in rosehip."""
    size = len(wanted)
    return any(name[place : place + size] == wanted for place in range(len(name) - size + 1))


def _names_of(item: Ingredient) -> Iterable[str]:
    return (item.name, item.inci, item.botanical_name)
