"""The little language of the rules: what is in it and who wears it, as words that can stand in a table.

Alternatives are parted by `|`, conditions that must all hold by `&`, and `!` turns one around:
`family:tree_nut/argan,coconut` (of this family, but for these), `has:MENTHOL>5,CAMPHOR>5` (a scent that holds so
much of one of them, typically; `may-have` at most), `genus:Anthemis` (a plant of this genus), `oleic>50`,
`text:microwave` (a pattern in name, note and rows), `age<2y`, `allergy:sesame`.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from functools import lru_cache

from uptide.core.safety.tables import ScentFacts
from uptide.core.skin.wearer import ALLERGIES, CONDITIONS, HEALTH, MEDICINES, USES
from uptide.core.tolerance import exceeds, reaches

LISTS: Mapping[str, tuple[str, ...] | None] = {
    "oil": None,
    "kind": None,
    "family": None,
    "flag": None,
    "has": None,
    "may-have": None,
    "genus": None,
    "plant": None,
    "product": None,
    "area": ("face", "eye", "body", "bath", "shower", "scalp", "spot"),
    "material": ("glass", "PET", "HDPE"),
    "region": ("EU", "UK", "US", "other"),
    "text": None,
    "past": ("heated", "fresh", "infused"),
    "over-law": None,
    "claim": ("stop", "spf", "warn"),
    "allergy": tuple(ALLERGIES),
    "skin": tuple(CONDITIONS),
    "medicine": (*MEDICINES, "any"),
    "health": tuple(HEALTH),
    "uses": tuple(USES),
    "younger-than": ("any", "face"),
}
NUMBERS = ("oleic", "poly", "water", "re", "phototoxicity", "scent", "tint", "mass", "vitamin-e", "age")
WORDS = (
    "any", "oils", "scent", "rinsed", "left_on", "phototoxic", "phototoxic-unsure", "emulsified", "settles",
    "antioxidant", "turned", "old-scent", "for-sale", "pregnant", "planning", "breastfeeding", "procedure", "sun",
    "sunbed", "anyone", "nobody-named", "reacted",
)  # fmt: skip
PATTERNS = frozenset({"text"})
OF_CONSTITUENTS = frozenset({"has", "may-have"})
COMPARED = re.compile(r"^([a-z-]+)(<=|>=|<|>)(\d+(?:\.\d+)?)([my]?)$")


@dataclass(frozen=True, slots=True)
class Condition:
    """One condition: its word, what it is compared with or which things it names, and whether it is turned around."""

    word: str
    names: tuple[str, ...] = ()
    excepting: tuple[str, ...] = ()
    sign: str = ""
    bound: float = 0.0
    turned: bool = False


Alternatives = tuple[tuple[Condition, ...], ...]


@lru_cache(maxsize=1024)
def read_words(words: str) -> Alternatives:
    """Read an expression; raise ValueError for a word that is none."""
    return tuple(tuple(_condition(part) for part in _split(way, "&")) for way in _ways(words))


OF_NO_WEARER = frozenset({"anyone", "nobody-named", "region"})


@lru_cache(maxsize=1024)
def is_personal(who: str) -> bool:
    """Whether whom a rule is about depends on the wearer."""
    return any(condition.word not in OF_NO_WEARER for way in read_words(who) for condition in way)


@lru_cache(maxsize=1024)
def is_of_allergy(who: str) -> bool:
    """Whether a rule is about an allergy."""
    return any(condition.word == "allergy" for way in read_words(who) for condition in way)


def problem_of(words: str, ingredients: Collection[str]) -> str:
    """What is wrong with an expression; nothing when it can be read and names only what there is."""
    try:
        alternatives = read_words(words)
    except (ValueError, re.error) as error:
        return str(error)
    for way in alternatives:
        for condition in way:
            named = {"oil": condition.names, "family": condition.excepting, "oils": condition.excepting}
            strange = [key for key in named.get(condition.word, ()) if key not in ingredients]
            if strange:
                return f"“{words}” names {', '.join(strange)}, which is not among the ingredients"
    return ""


def _split(text: str, sign: str) -> list[str]:
    """Split at a sign that stands in no bracket and after no backslash."""
    parts, depth, start = [], 0, 0
    for place, letter in enumerate(text):
        if letter in "([":
            depth += 1
        elif letter in ")]":
            depth -= 1
        elif letter == sign and depth == 0 and text[place - 1 : place] != "\\":
            parts.append(text[start:place])
            start = place + 1
    return [*parts, text[start:]]


def _ways(words: str) -> list[str]:
    """The alternatives; what follows a pattern and is no word of the language belongs to the pattern."""
    ways: list[str] = []
    for part in _split(words, "|"):
        head = re.split(r"[:<>=/&]", part.lstrip("!"), maxsplit=1)[0]
        known = head in LISTS or head in NUMBERS or head in WORDS
        if ways and not known and "text:" in ways[-1]:
            ways[-1] += "|" + part
        else:
            ways.append(part)
    return ways


def _condition(text: str) -> Condition:
    turned = text.startswith("!")
    plain = text.removeprefix("!")
    compared = COMPARED.match(plain)
    if compared and compared[1] in NUMBERS:
        bound = float(compared[3]) * (12 if compared[4] == "y" else 1)
        return Condition(compared[1], sign=compared[2], bound=bound, turned=turned)
    word, colon, rest = plain.partition(":")
    if colon and word in LISTS:
        if word in PATTERNS:
            re.compile(rest)
            return Condition(word, (rest,), turned=turned)
        named, _, excepting = rest.partition("/")
        names = tuple(_names(named, word))
        if word in OF_CONSTITUENTS:
            for name in names:
                wanted_share(name)
        allowed = LISTS[word]
        strange = [name for name in names if allowed is not None and name not in allowed]
        if strange:
            raise ValueError(f"“{text}”: {', '.join(strange)} is not known; known are {', '.join(allowed or ())}")
        return Condition(word, names, tuple(filter(None, excepting.split(","))), turned=turned)
    word, _, excepting = plain.partition("/")
    if word in WORDS:
        return Condition(word, excepting=tuple(filter(None, excepting.split(","))), turned=turned)
    raise ValueError(f"“{text}” is no word of the rules")


def _names(text: str, word: str) -> list[str]:
    """Names parted by commas; of constituents a comma before a digit belongs to the name, as in 1,8-cineole."""
    return [name for name in (re.split(r",(?!8-)", text) if word in OF_CONSTITUENTS else text.split(",")) if name]


def holds(scent: ScentFacts, wanted: str, *, at_most: bool = False) -> bool:
    """Whether a scent holds as much of a constituent as `MENTHOL>=5` or `MENTHOL>5` asks [%], typically or at most."""
    name, sign, bound = wanted_share(wanted)
    part = scent.constituents.get(name)
    if part is None:
        return False
    share = part.high if at_most else part.typical
    return reaches(share, bound) if sign == ">=" else exceeds(share, bound)


@lru_cache(maxsize=256)
def wanted_share(wanted: str) -> tuple[str, str, float]:
    """The constituent, the sign and the share [%] of `MENTHOL>=5`; raise ValueError for what is none."""
    found = re.fullmatch(r"(.+?)(>=|>)(\d+(?:\.\d+)?)", wanted)
    if found is None:
        raise ValueError(f"“{wanted}” is no share of a constituent; write it as in “MENTHOL>=5”")
    return found[1], found[2], float(found[3])


def flags_named(words: str) -> frozenset[str]:
    """What an expression asks of infused plants, by the flags of their table."""
    return frozenset(
        name for way in read_words(words) for condition in way if condition.word == "plant" for name in condition.names
    )
