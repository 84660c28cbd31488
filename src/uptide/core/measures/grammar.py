"""The grammar of an amount as people say it, and its reading into a `Quantity`.

The grammar knows amounts only. Which words of a line are the amount and which are the name is decided in `lines`.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from lark import Token, Tree
from lark.exceptions import LarkError

from uptide.core.errors import NotAnAmountError, QuantityError
from uptide.core.grammar import Grammar

# One pattern per unit, tried in this order: the first that matches the whole token names the unit.
UNIT_WORDS = {
    "oz_weight": r"(?:weight|dry)\s+(?:oz|ounces?)|(?:oz|ounces?)\.?\s*(?:wt\.?|by\s+(?:weight|mass)|\(weight\))",
    "fl_oz": r"fl(?:uid)?\.?[\s-]*(?:oz|ounces?)\.?|(?:oz|ounces?)\.?\s*(?:by\s+volume|\(volume\))",
    "oz": r"(?:oz|ounces?)\.?",
    "tsp": r"tea[\s-]?spoon(?:ful)?s?|tsps?\.?|(?-i:t)(?![\w'’.-])",
    "tbsp": r"table[\s-]?spoon(?:ful)?s?|tbsps?\.?|tbs\.?|tbl\.?|tb\.?|tblsps?\.?|(?-i:T)(?![\w'’.-])",
    "dessertspoon": r"dess?ert[\s-]?spoon(?:ful)?s?|dsp",
    "spoon": r"spoon(?:ful)?s?",
    "cup": r"cup(?:ful)?s?|(?-i:c)(?![\w'’.-])",
    "pint": r"pints?|pt",
    "quart": r"quarts?|qt",
    "gallon": r"gallons?|gal",
    "ml": r"milli\s?lit(?:er|re)s?|mls?|cc",
    "cl": r"centilit(?:er|re)s?|cl",
    "dl": r"decilit(?:er|re)s?|dl",
    "l": r"lit(?:er|re)s?|l",
    "mg": r"milligram(?:me)?s?|mg",
    "kg": r"kilogram(?:me)?s?|kilos?|kgs?",
    "g": r"gram(?:me)?s?|gr|gms?|g",
    "lb": r"pounds?|lbs?",
    "drop": r"drops?|drps?|gtts?",
    "iu": r"(?-i:IU|I\.U\.)|international\s+units?",
    "pump": r"pumps?",
    "capful": r"capfuls?",
    "dropper": r"droppers?(?:\s?ful)?s?|droppersful|pipettes?(?:ful)?",
    "capsule": r"(?:gel[\s-]?)?caps(?:ules?)?|perles?",
    "blob": r"blobs?|dollops?",
    "pinch": r"pinch(?:es)?",
    "dash": r"dash(?:es)?",
}
_UNIT = "|".join(UNIT_WORDS.values())

ONES = ("one", "two", "three", "four", "five", "six", "seven", "eight", "nine")
TEENS = ("ten", "eleven", "twelve", "thirteen", "fourteen", "fifteen", "sixteen", "seventeen", "eighteen", "nineteen")
TENS = ("twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety")
# What a word of a fraction divides by.
PARTS_OF_ONE = {
    "half": 2,
    "halve": 2,
    "third": 3,
    "quarter": 4,
    "fourth": 4,
    "fifth": 5,
    "sixth": 6,
    "eighth": 8,
    "tenth": 10,
    "sixteenth": 16,
}
_ONES, _TENS = "|".join(ONES), "|".join(TENS)
_UNDER_100 = rf"(?:(?:{_TENS})(?:[\s-]+(?:{_ONES}))?|{'|'.join(TEENS)}|{_ONES})"
_WORD_NUMBER = (
    rf"(?:(?:(?:{_ONES}|an?)\s+)?hundred(?:(?:\s+and)?\s+{_UNDER_100})?|{_UNDER_100}|(?:a\s+)?couple(?:\s+of)?)\b"
)
_WORD_FRACTION = rf"(?:(?:{_ONES}|a)[\s-]+)?(?:{'|'.join(PARTS_OF_ONE)})s?\b"
# With a thin or a plain space before three digits as well, as in 1 000.
_DECIMAL = r"\d{1,3}(?:[ \u00a0\u2009\u202f]000)+(?!\d)|\d+(?:[.,]\d+)*|\.\d+"
_NUMBER = rf"{_DECIMAL}|{_WORD_NUMBER}"

# A pattern of the grammar cannot be broken over lines.
# ruff: noqa: E501
RULES = rf"""
quantity: (APPROX | MOST)? (measure | percent | parts | equal_parts | bottle_share | fill | bare | vague) EACH?
words: (WORD | MARK)+

measure: term ((PLUS | AND)? term)* half_more?
half_more: AND range
term: range (MORE | ISH)? _filler? GRADE? SYSTEM? UNIT SYSTEM?
    | GRADE range _filler? SYSTEM? UNIT
    | GRADE UNIT
    | range UNIT OR number -> either
percent: range (MORE | ISH)? _filler? PERCENT
parts: range PARTS
equal_parts: EQUAL
bottle_share: FILL? range _filler? BOTTLE | range _filler? size UNIT BOTTLE
fill: FILL (TO? target)? | FILL? REST | TO target | TO FILL | FILL ARTICLE size UNIT BOTTLE
target: range UNIT | range PERCENT | SHOULDER
bare: range
vague: VAGUE UNIT?

_filler: OF ARTICLE? | ARTICLE
range: number ((TO | DASH | OR) number)? | BETWEEN
size: DECIMAL | FRACTION | VULGAR | DECIMAL FRACTION | DECIMAL VULGAR
number: ARTICLE | DECIMAL | FRACTION | VULGAR | WORD_NUMBER | WORD_FRACTION | DOZEN
    | DECIMAL FRACTION | DECIMAL VULGAR | ARTICLE WORD_FRACTION
    | (DECIMAL | WORD_NUMBER) AND ARTICLE? (WORD_FRACTION | FRACTION | VULGAR)
    | (DECIMAL | WORD_NUMBER | WORD_FRACTION) DOZEN -> product
    | DECIMAL TIMES DECIMAL -> product

APPROX.9: /(?:about|around|approximately|approx\.?|roughly|circa|ca\.|~|≈)/i
MOST.9: /(?:at\s+most|max(?:imum)?(?:\.|\b)(?:\s+of\b)?|no(?:t)?\s+more\s+than)/i
BETWEEN.9: /between\s+(?:{_NUMBER})\s+and\s+(?:{_NUMBER})/i
EACH.9: /each\b/i
MORE.9: /(?<=\d)\+(?=\s|%)/
ISH.9: /-?ish\b/i
PERCENT.9: /(?:%|per\s?cent\b|pct\b)(?:\s*\(?[wv]\/[wv]\)?)?/i
EQUAL.9: /(?:equal\s+(?:parts|amounts)|the\s+same\s+amount)\b/i
PARTS.9: /parts?\b/i
FILL.9: /(?:(?:top(?:ped)?|fill(?:ed)?|make|made|bring)(?:\s+(?:it|the\s+(?:bottle|jar)))?(?:\s+(?:up|off))?\b|q\.?\s?s\b\.?|as\s+(?:needed|required)\b|up(?=\s+to\b))/i
REST.9: /(?:the\s+)?(?:rest|remainder|balance)\b(?:\s+of\s+the\s+(?:bottle|jar))?/i
SHOULDER.9: /(?:the\s+)?(?:shoulder|neck|top|brim|fill\s?line)\b(?:\s+of\s+the\s+(?:bottle|jar))?/i
BOTTLE.8: /(?:bottles?|jars?|containers?)\b/i
SYSTEM.8: /(?:US|metric|UK|imperial|british|american|australian)\b/i
GRADE.8: /(?:level|scant|heaped|heaping|rounded|generous|full)\b/i
VAGUE.8: /(?:(?:just\s+)?a\s+few|some|a\s+(?:little|bit|splash|glug|touch|drizzle|handful|lot)(?:\s+of)?|several|plenty(?:\s+of)?|to\s+taste)\b/i
UNIT.7: /-?(?:{_UNIT.replace("/", chr(92) + "/")})(?![^\W\d_])/i
TIMES.6: /[x×*](?=\s*\d)/i
WORD_FRACTION.7: /{_WORD_FRACTION}/i
DOZEN.7: /(?:an?\s+)?dozen\b/i
WORD_NUMBER.6: /{_WORD_NUMBER}/i
ARTICLE.5: /(?:an|a|the|my)\b/i
OF.5: /of\b/i
TO.5: /to\b/i
OR.5: /or\b/i
AND.5: /-?(?:and\b|&)-?/i
PLUS.5: /(?:\+|plus\b)/i
DASH.5: /[-–—]/
FRACTION.6: /\d+\s*[\/⁄]\s*\d+/
VULGAR.6: /[½⅓⅔¼¾⅕⅖⅗⅘⅙⅚⅐⅛⅜⅝⅞⅑⅒]/
DECIMAL.5: /(?:{_DECIMAL})/
WORD.2: /[^\W\d_][\w'’]*/
MARK.1: /[^\s]/

SPACE: /\s+/
%ignore SPACE
"""

NUMBER_WORDS = (
    {word: count for count, word in enumerate((*ONES, *TEENS), start=1)}
    | {word: 10 * count for count, word in enumerate(TENS, start=2)}
    | {"couple": 2, "dozen": 12}
)
FEW = (3.0, 5.0)  # a few: common practice
MORE = 1.5  # how far “10+” may go: assumption
# How full a spoon is said to be, as a factor low to high: common practice.
GRADES = {
    "level": (1, 1),
    "full": (1, 1),
    "scant": (0.8, 1),
    "generous": (1, 1.25),
    "rounded": (1.25, 1.5),
    "heap": (1.5, 2),
}
SYSTEMS = {
    "us": "us",
    "american": "us",
    "uk": "uk",
    "imperial": "uk",
    "british": "uk",
    "metric": "metric",
    "australian": "au",
}
# A pinch and a dash of the kitchen, in teaspoons: common practice.
SMALL_SPOONS = {"pinch": 1 / 16, "dash": 1 / 8}
COUNTED = frozenset({"drop", "dropper", "pump", "capful", "capsule", "blob"})  # units that no bottle is filled to
FEW_WORDS = re.compile(r"\b(?:few|several)\b", re.IGNORECASE)
BY_VOLUME = "volume"  # the system of a percentage that is said to be by volume
LARGEST = 1e6  # of any unit: more is a slip of the finger


class QuantityKind(StrEnum):
    """The ways in which an amount can be meant."""

    MEASURE = "measure"
    PERCENT = "percent"
    PARTS = "parts"
    BOTTLE_SHARE = "bottle_share"
    FILL = "fill"
    BARE = "bare"
    VAGUE = "vague"


@dataclass(frozen=True, slots=True)
class Term:
    """`low` to `high` of a unit; `system` is us, uk or metric when the person said so."""

    low: float
    high: float
    unit: str
    system: str = ""

    @property
    def typical(self) -> float:
        """The middle of the range."""
        return (self.low + self.high) / 2


@dataclass(frozen=True, slots=True)
class Quantity:
    """An amount: its kind and its terms (several for `1 tbsp + 1 tsp`).

    Percent, parts and bottle shares have one term whose unit is empty. `bottle` is the bottle that was named, as in
    `3/4 of a 2 oz bottle`; for FILL it is what to fill to, or None for the fill line of the container at hand.
    """

    kind: QuantityKind
    terms: tuple[Term, ...] = ()
    bottle: Term | None = None
    approximate: bool = False
    each: bool = False
    words: str = ""
    unit: str = ""  # of VAGUE: what there is some of, where that was said


AMOUNTS = Grammar(RULES, lexer="basic", start=["quantity", "words"], propagate_positions=True)


def tokens(text: str) -> list[Token]:
    """Split a line into the grammar's tokens; every character that is not a space belongs to one."""
    return list(AMOUNTS.parser.lex(text))


def longest_start(stream: Sequence[Token]) -> int:
    """How many tokens at the start of a line an amount could be made of; found by reading them once."""
    reader = AMOUNTS.parser.parse_interactive(start="quantity")
    for count, token in enumerate(stream):
        try:
            reader.feed_token(token)
        except LarkError:
            return count
    return len(stream)


def read_quantity(text: str) -> Quantity:
    """Read a text that is an amount and nothing else.

    Raises:
        NotAnAmountError: it is not an amount.
        QuantityError: it is one that cannot be: a division by zero, a range that runs backwards, more than LARGEST.

    >>> read_quantity("1½ cups").terms
    (Term(low=1.5, high=1.5, unit='cup', system=''),)
    """
    try:
        tree = AMOUNTS.parser.parse(text, start="quantity")
    except LarkError as error:
        raise NotAnAmountError(f"“{text}” is not an amount.") from error
    quantity = _quantity(tree)
    biggest = max((term.high for term in quantity.terms), default=0)
    if biggest > LARGEST:
        raise QuantityError(f"{biggest:g} is more than can be meant here; up to {LARGEST:,.0f} of a unit is read.")
    return replace(quantity, words=text.strip())


def _quantity(tree: Tree[Token]) -> Quantity:
    marks = {child.type for child in tree.children if isinstance(child, Token)}
    body = next(child for child in tree.children if isinstance(child, Tree))
    quantity = _body(body)
    if "MOST" in marks:
        quantity = replace(quantity, terms=tuple(replace(term, low=0.0) for term in quantity.terms))
    approximate = quantity.approximate or bool(marks & {"APPROX", "MOST"})
    return replace(quantity, approximate=approximate, each=quantity.each or "EACH" in marks)


def _body(tree: Tree[Token]) -> Quantity:
    match tree.data:
        case "measure":
            return Quantity(QuantityKind.MEASURE, _measured(tree))
        case "percent" | "parts" | "bare":
            low, high = _range(_subtrees(tree)[0])
            high *= MORE if any(_tokens(tree, "MORE")) else 1
            by_volume = any("v" in token.lower() for token in _tokens(tree, "PERCENT"))
            return Quantity(QuantityKind(str(tree.data)), (Term(low, high, "", BY_VOLUME if by_volume else ""),))
        case "equal_parts":
            return Quantity(QuantityKind.PARTS, (Term(1, 1, ""),), each=True)
        case "bottle_share":
            share, *size = _subtrees(tree)
            bottle = None
            if size:
                amount = _number(size[0])
                unit = next(unit_key(token) for token in _tokens(tree, "UNIT"))
                bottle = Term(amount, amount, unit)
            return Quantity(QuantityKind.BOTTLE_SHARE, (Term(*_range(share), ""),), bottle)
        case "fill":
            return _fill(tree)
        case _:
            return _vague(tree)


def _measured(tree: Tree[Token]) -> tuple[Term, ...]:
    """The terms of an amount; “a cup and a half” is half of its last unit more."""
    terms = [_term(term) for term in _subtrees(tree) if term.data != "half_more"]
    for more in tree.find_data("half_more"):
        low, high = _range(_subtrees(more)[0])
        terms[-1] = replace(terms[-1], low=terms[-1].low + low, high=terms[-1].high + high)
    return tuple(terms)


def _vague(tree: Tree[Token]) -> Quantity:
    """“A few drops” are three to five; of what else is vague nobody knows how much it is."""
    few = any(FEW_WORDS.search(token) for token in _tokens(tree, "VAGUE"))
    units = [unit_key(token) for token in _tokens(tree, "UNIT")]
    if few and units:
        return Quantity(QuantityKind.MEASURE, (Term(*FEW, units[0]),), approximate=True)
    return Quantity(QuantityKind.VAGUE, unit=units[0] if units else "")


def _fill(tree: Tree[Token]) -> Quantity:
    """What tops up; of what is counted, “up to 15 drops” is 15 at most, and nothing else can be filled to it."""
    for size in tree.find_data("size"):
        amount = _number(size)
        named = Term(amount, amount, next(unit_key(token) for token in _tokens(tree, "UNIT")))
        return Quantity(QuantityKind.FILL, (), named)
    target = _target(tree)
    if target is None or target.unit not in COUNTED:
        return Quantity(QuantityKind.FILL, (), target)
    verb = next((str(token).lower() for token in tree.children if isinstance(token, Token)), "")
    if verb == "up":
        return Quantity(QuantityKind.MEASURE, (Term(0, target.high, target.unit),), approximate=True)
    raise QuantityError(
        f"Nothing is filled up to {target.high:g} {target.unit}s. Say how many as in “{target.high:g} {target.unit}s”, "
        "or fill to a volume as in “top up to 30 mL”."
    )


def _target(tree: Tree[Token]) -> Term | None:
    for target in _subtrees(tree):
        for token in _tokens(target, "UNIT"):
            return Term(*_range(_subtrees(target)[0]), unit_key(token))
    return None


def _term(tree: Tree[Token]) -> Term:
    low, high = _range(_subtrees(tree)[0]) if tree.data == "either" or any(tree.find_data("range")) else (1.0, 1.0)
    if tree.data == "either":
        high = _number(_subtrees(tree)[1])
    high *= MORE if any(_tokens(tree, "MORE")) else 1
    key = next(unit_key(token) for token in _tokens(tree, "UNIT"))
    if key in SMALL_SPOONS:
        low, high, key = low * SMALL_SPOONS[key], high * SMALL_SPOONS[key], "tsp"
    for grade in _tokens(tree, "GRADE"):
        word = "heap" if grade.lower().startswith("heap") else grade.lower()
        low, high = low * GRADES[word][0], high * GRADES[word][1]
    system = next((SYSTEMS[token.lower()] for token in _tokens(tree, "SYSTEM")), "")
    return Term(low, high, key, system)


def _range(tree: Tree[Token]) -> tuple[float, float]:
    between = next(_tokens(tree, "BETWEEN"), None)
    if between is not None:
        first, last = re.split(r"\s+and\s+", re.sub(r"^between\s+", "", between, flags=re.I), maxsplit=1, flags=re.I)
        numbers = [_words_or_decimal(first), _words_or_decimal(last)]
    else:
        numbers = [_number(number) for number in _subtrees(tree)]
    low, high = numbers[0], numbers[-1]
    if high < low:
        if high < 1 and low == int(low) and next(iter(_tokens(tree, "DASH")), None):
            return low + high, low + high  # 1-1/2 cups is one and a half
        raise QuantityError(f"A range runs from the lesser to the greater; this one runs from {low:g} to {high:g}.")
    return low, high


def _number(tree: Tree[Token]) -> float:
    values = [
        _value(token) for token in tree.children if isinstance(token, Token) and token.type not in ("AND", "TIMES")
    ]
    if tree.data == "product":
        return values[0] * values[1]
    if len(values) > 1 and any(token.type == "ARTICLE" for token in tree.children if isinstance(token, Token)):
        values = [
            _value(token)
            for token in tree.children
            if isinstance(token, Token) and token.type not in ("AND", "ARTICLE")
        ]
    return sum(values)


def _value(token: Token) -> float:
    text = token.lower()
    match token.type:
        case "ARTICLE":
            return 1
        case "VULGAR":
            return unicodedata.numeric(text)
        case "FRACTION":
            numerator, denominator = re.split(r"[/⁄]", text)
            if float(denominator) == 0:
                raise QuantityError(f"“{token}” divides by nothing.")
            return float(numerator) / float(denominator)
        case "WORD_NUMBER" | "DOZEN":
            return _in_words(text)
        case "WORD_FRACTION":
            *count, part = re.split(r"[\s-]+", text)
            return _in_words(" ".join(count) or "a") / PARTS_OF_ONE[part.removesuffix("s")]
        case _:
            return _decimal(text)


def _words_or_decimal(text: str) -> float:
    return _decimal(text) if text[:1].isdigit() or text[:1] == "." else _in_words(text.lower())


def _in_words(text: str) -> float:
    """The value of a number in words, up to nine hundred and ninety-nine.

    >>> _in_words("two hundred and twenty-five"), _in_words("a dozen")
    (225.0, 12.0)
    """
    total = 0.0
    for word in re.split(r"[\s-]+", text):
        if word == "hundred":
            total = 100 * (total or 1.0)
        elif word in NUMBER_WORDS:
            total += NUMBER_WORDS[word]
    return total or 1.0


def _decimal(text: str) -> float:
    """Read 1.5, 1,5 and 1,000: a comma before exactly three digits after a whole number parts the thousands."""
    if re.fullmatch(r"[1-9]\d{0,2}(?:,\d{3})+(?:\.\d+)?", text):
        return float(text.replace(",", ""))
    spaced = re.sub(r"[ \u00a0\u2009\u202f]", "", text)
    if spaced != text:
        return float(spaced)
    if re.fullmatch(r"[1-9]\d{0,2}\.000", text):
        whole = text.partition(".")[0]
        raise QuantityError(f"“{text}” may be {whole} or {whole} thousand: write it without the point.")
    plain = text.replace(",", ".")
    if plain.count(".") > 1:
        raise QuantityError(f"“{text}” is not one number.")
    return float(plain)


def unit_key(token: Token) -> str:
    """The unit that a word of the grammar means."""
    word = token.removeprefix("-")
    return next(key for key, pattern in UNIT_WORDS.items() if re.fullmatch(pattern, word, re.IGNORECASE))


def _subtrees(tree: Tree[Token]) -> list[Tree[Token]]:
    return [child for child in tree.children if isinstance(child, Tree)]


def _tokens(tree: Tree[Token], kind: str) -> Iterator[Token]:
    return (child for child in tree.children if isinstance(child, Token) and child.type == kind)
