"""The little language of the rules: what is in it and who wears it, as words that can stand in a table.

Alternatives are parted by `|`, conditions that must all hold by `&`, and `!` turns one around:
`family:tree_nut/argan,coconut` (of this family, but for these), `has:MENTHOL>5,CAMPHOR>5` (a scent that holds so
much of one of them, typically; `may-have` at most), `genus:Anthemis` (a plant of this genus), `oleic>50`,
`text:/microwave/` (a pattern in name, note and rows), `age<2y`, `allergy:sesame`.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from functools import lru_cache

from lark import Token, Tree
from lark.exceptions import UnexpectedCharacters, UnexpectedToken

from uptide.core.grammar import Grammar
from uptide.core.skin.wearer import ALLERGIES, CONDITIONS, HEALTH, MEDICINES, USES

# What stands before a colon, and which names may follow; None where they are names of things.
LISTS: Mapping[str, tuple[str, ...] | None] = {
    "oil": None,
    "kind": None,
    "family": None,
    "flag": None,
    "genus": None,
    "plant": None,
    "product": None,
    "area": ("face", "eye", "body", "bath", "shower", "scalp", "spot"),
    "material": ("glass", "PET", "HDPE"),
    "region": ("EU", "UK", "US", "other"),
    "past": ("heated", "fresh", "infused"),
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
    "sunbed", "anyone", "nobody-named", "reacted", "sensitive",
)  # fmt: skip
OF_NO_WEARER = frozenset({"anyone", "nobody-named", "region"})
MONTHS = {"m": 1, "y": 12}  # of an age

RULES = rf"""
alternatives: way ("|" way)*
way: condition ("&" condition)*
condition: TURN? (compared | shares | named | pattern | plain)
compared: FIGURE SIGN NUMBER AGE?
shares: (HAS | MAY_HAVE) ":" share ("," share)*
share: CONSTITUENT SIGN NUMBER
named: LIST ":" NAME ("," NAME)* excepting? | OVER_LAW ":" CONSTITUENT
excepting: "/" NAME ("," NAME)*
pattern: "text" ":" PATTERN
plain: WORD excepting?

TURN: "!"
SIGN: "<=" | ">=" | "<" | ">"
AGE: "m" | "y"
HAS: "has"
MAY_HAVE: "may-have"
OVER_LAW: "over-law"
FIGURE: /(?:{"|".join(NUMBERS)})(?=[<>])/
LIST: /(?:{"|".join(LISTS)})(?=:)/
WORD: /(?:{"|".join(WORDS)})(?![\w:<>-])/
NUMBER: /\d+(?:\.\d+)?/
NAME: /\w[\w-]*/
CONSTITUENT: /(?:\d,)?[\w-]+(?: [\w-]+)*/
PATTERN: /\/(?:[^\/\\]|\\.)+\//
"""


@dataclass(frozen=True, slots=True)
class Share:
    """A constituent of a scent, and the share [%] that it is compared with."""

    constituent: str
    sign: str
    percent: float


@dataclass(frozen=True, slots=True)
class Condition:
    """One condition: its word, what it is compared with or which things it names, and whether it is turned around."""

    word: str
    names: tuple[str, ...] = ()
    excepting: tuple[str, ...] = ()
    sign: str = ""
    bound: float = 0.0  # of an age in months
    shares: tuple[Share, ...] = ()
    pattern: re.Pattern[str] | None = None
    turned: bool = False


Alternatives = tuple[tuple[Condition, ...], ...]


EXPRESSIONS = Grammar(RULES, start="alternatives", maybe_placeholders=False)


@lru_cache(maxsize=1024)
def read_words(words: str) -> Alternatives:
    """Read an expression.

    Raises:
        ValueError: a word is none of the language, or names what cannot be named there; the message says which.
    """
    try:
        tree = EXPRESSIONS.parser.parse(words)
    except UnexpectedToken as error:
        where = "at its end" if error.token.type == "$END" else f"from “{words[error.pos_in_stream or 0 :]}” on"
        raise ValueError(f"“{words}” is no expression of the rules {where}") from error
    except UnexpectedCharacters as error:
        raise ValueError(f"“{words}” is no expression of the rules from “{words[error.pos_in_stream :]}” on") from error
    return tuple(tuple(_condition(part) for part in _trees(way)) for way in _trees(tree))


def is_personal(who: Alternatives) -> bool:
    """Whether whom a rule is about depends on the wearer."""
    return any(condition.word not in OF_NO_WEARER for way in who for condition in way)


def asks_for(who: Alternatives, word: str) -> bool:
    """Whether a word stands in any of the alternatives."""
    return any(condition.word == word for way in who for condition in way)


def problem_of(words: str, ingredients: Collection[str]) -> str:
    """What is wrong with an expression; nothing when it can be read and names only what there is."""
    try:
        alternatives = read_words(words)
    except ValueError as error:
        return str(error)
    for way in alternatives:
        for condition in way:
            named = {"oil": condition.names, "family": condition.excepting, "oils": condition.excepting}
            strange = [key for key in named.get(condition.word, ()) if key not in ingredients]
            if strange:
                return f"“{words}” names {', '.join(strange)}, which is not among the ingredients"
    return ""


def flags_named(what: Alternatives) -> frozenset[str]:
    """What an expression asks of infused plants, by the flags of their table."""
    return frozenset(name for way in what for condition in way if condition.word == "plant" for name in condition.names)


def _trees(tree: Tree[Token]) -> list[Tree[Token]]:
    return [child for child in tree.children if isinstance(child, Tree)]


def _tokens(tree: Tree[Token]) -> list[str]:
    return [str(child) for child in tree.children if isinstance(child, Token)]


def _condition(tree: Tree[Token]) -> Condition:
    (body,) = _trees(tree)
    turned = bool(_tokens(tree))
    said = _tokens(body)
    match body.data:
        case "compared":
            word, sign, number, *age = said
            bound = float(number) * MONTHS[age[0] if age else "m"]
            return Condition(word, sign=sign, bound=bound, turned=turned)
        case "shares":
            return Condition(said[0], shares=tuple(_share(part) for part in _trees(body)), turned=turned)
        case "pattern":
            return Condition("text", pattern=_pattern(said[0]), turned=turned)
        case _:
            word, *names = said
            excepting = tuple(name for part in _trees(body) for name in _tokens(part))
            return Condition(word, _known(word, names), excepting, turned=turned)


def _share(tree: Tree[Token]) -> Share:
    constituent, sign, percent = _tokens(tree)
    return Share(constituent, sign, float(percent))


def _pattern(said: str) -> re.Pattern[str]:
    try:
        return re.compile(said[1:-1])
    except re.error as error:
        raise ValueError(f"{said} is no pattern: {error}") from error


def _known(word: str, names: list[str]) -> tuple[str, ...]:
    allowed = LISTS.get(word)
    strange = [name for name in names if allowed is not None and name not in allowed]
    if strange:
        raise ValueError(f"“{word}”: {', '.join(strange)} is not known; known are {', '.join(allowed or ())}")
    return tuple(names)
