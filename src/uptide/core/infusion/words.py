"""A jar in the words of the kitchen, as in “a jar three quarters full of dried calendula, covered with sunflower”.

The grammar knows the clauses; amounts are read as everywhere else, and names are left to whoever knows them.
"""

from __future__ import annotations

import re
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

from lark import Lark, Token, Transformer
from lark.exceptions import LarkError, VisitError

from uptide.core.errors import QuantityError
from uptide.core.infusion.plants import State
from uptide.core.infusion.straining import Straining
from uptide.core.measures.say import say_number

LONGEST = 300  # characters
HELP = (
    "Say it as in “a 500 ml jar three quarters full of dried calendula, covered with sunflower, sunny window” or “30 g "
    "dried calendula in 300 g olive, warm bath”."
)
ASKS = re.compile(r"^how much oil (?:(?:do i need|is needed|goes|to use) )?(?:for|on|to cover|with) ")
# “How do I make a calendula oil”, “infuse comfrey”, “calendula infusion”: a plant, and that it is to be steeped.
STEEP = r"(?:make|infuse|steep|macerate)"
ASKS_TO_STEEP = re.compile(
    rf"^(?:how (?:(?:do|can|should|must) (?:i|we|you|one)|to|long (?:do|should|must) (?:i|we|you|one)) {STEEP}|"
    r"(?:can i )?(?:infuse|steep|macerate))\s+(?:an? |the |my |some )?(?P<plant>.+?)(?: (?:infused )?oil| infusion)?$|"
    r"^(?P<of>(?!.*\b(?:second|double)\b).+) (?:infusion|maceration)$"
)
# Which words mean which way to steep; the most particular first.
WAYS = (
    ("sunny-window-wrapped", r"wrapped(?:\s+in\s+paper)?|paper\s+bag"),
    ("sunny-window-amber", r"(?:amber|brown)\s+(?:jar|glass)"),
    ("sunny-window", r"sunny\s+(?:window(?:\s*sill)?|sill|spot)|window(?:\s*sill)?|in\s+the\s+sun|sun"),
    ("second-infusion", r"(?:second|double)\s+infusion|infused\s+twice|twice|double\s+strength"),
    ("powder-overnight", r"overnight"),
    ("topped-up", r"(?:through|over)\s+(?:a|the)\s+season|topped\s+up\s+through\s+(?:a|the)\s+season"),
    ("slow-cooker", r"slow\s+cooker|crock\s*pot"),
    ("warm-bath", r"(?:warm\s+)?(?:water\s+)?bath|double\s+(?:boiler|pan)|bain[\s-]marie"),
    ("oven", r"oven"),
    ("low-heat", r"(?:direct\s+)?low\s+heat|on\s+the\s+(?:hob|stove)"),
    ("dark-shelf", r"dark(?:\s+(?:shelf|cupboard|place))?|cupboard"),
)
STRAINED = (
    (Straining.DRIP, r"drip(?:ped|ping)?"),
    (Straining.HAND, r"squeezed|by\s+hand"),
    (Straining.PRESS, r"pressed\s+out"),
)
SHARES = (
    r"three[\s-]+quarters?|two[\s-]+thirds?|(?:a|one)[\s-]+third|(?:an?[\s-]+)?quarter|half|\d\/\d|[¼½¾]|"
    r"\d+(?:\.\d+)?\s*%"
)
GRAMMAR = rf"""
start: ratio? clause (_SEPARATOR clause | way | strained | covered | ratio)*
     | plant (_SEPARATOR? (way | strained | covered | ratio))+
?clause: jar | plant_in_oil | covered | way | strained | ratio
jar: _ARTICLE? size? _JAR (_FILLED? share)? _OF_FULL? plant (_IN oil)?
   | _ARTICLE? size? _JAR -> jar_alone
plant_in_oil: amount? plant ratio? _IN oil
            | amount plant
            | _ONE_PART plant in_parts oil
in_parts: IN_PARTS
covered: _COVERED oil
way: _HOW? WAY
strained: STRAINED
ratio: RATIO
plant: (STATE | PRESSED)* NAME+
oil: amount? NAME+
amount: NUMBER MASS
size: NUMBER VOLUME
share: SHARE
_SEPARATOR.3: /[,;]|\band\b/
_ARTICLE.3: /\b(?:an?|the|one)\b/
_JAR.3: /\bjars?\b/
_FILLED.3: /\bfilled\b/
_OF_FULL.3: /\b(?:full\s+)?(?:of|with)\b/
_COVERED.4: /\b(?:covered|topped(?:\s+up)?|filled\s+up)\s+(?:with|in|by)\b/
_IN.3: /\bin\b/
_HOW.4: /\b(?:in|on|by)\s+(?:an?|the)?\b(?=\s*(?:{"|".join(words for _, words in WAYS)})\b)/
WAY.4: /\b(?:{"|".join(words for _, words in WAYS)})\b/
STRAINED.4: /\b(?:{"|".join(words for _, words in STRAINED)})\b/
SHARE.4: /(?:{SHARES})(?=\s+(?:full|of|with)\b)/
RATIO.5: /\b1\s*(?::|to)\s*\d+(?:[.,]\d+)?(?![\w:\/])/
_ONE_PART.5: /\b(?:1|one|a)\s+part(?:\s+of)?\b/
IN_PARTS.5: /\b(?:to|in)\s+\d+(?:[.,]\d+)?\s+parts?(?:\s+of)?\b/
STATE.3: /\b(?:dried|dry|wilted|fresh|roasted|toasted|powdered|ground)\b/
PRESSED.3: /\b(?:pressed(?:\s+down)?|packed)\b(?!\s+out)/
NUMBER.3: /\d+(?:[.,]\d+)?/
MASS.3: /(?:g|grams?|kg|oz|ounces?)\b/
VOLUME.3: /(?:ml|millilit(?:er|re)s?|l|lit(?:er|re)s?|cl)\b/
NAME: /[^\s,;]+/
%ignore /\s+/
%ignore /\b(?:loosely|loose|please|about|full)\b/
"""
STATES = {
    "dried": "dried",
    "dry": "dried",
    "wilted": "wilted",
    "fresh": "fresh",
    "roasted": "roasted",
    "toasted": "roasted",
    "powdered": "powdered",
    "ground": "powdered",
}
PARTS = {"half": 0.5, "½": 0.5, "¼": 0.25, "¾": 0.75}
OUNCE, MILLILITRES = 28.349523125, {"m": 1.0, "c": 10.0, "l": 1000.0}  # g; mL by the first letter of the unit


@dataclass(frozen=True, slots=True)
class AlsoWords:
    """Another plant that was named [g]; None where nobody said how much."""

    plant: str
    state: State | None = None
    grams: float | None = None


@dataclass(frozen=True, slots=True)
class JarWords:
    """What a person said of a jar; empty or None where nothing was said. Amounts in g and mL."""

    plant: str = ""
    state: State | None = None
    pressed: bool = False
    grams: float | None = None
    fill: float | None = None
    jar_ml: float | None = None
    oil: str = ""
    oil_grams: float | None = None
    method: str = ""
    straining: Straining | None = None
    parts: float | None = None  # of oil to one of plant, by weight
    also: tuple[AlsoWords, ...] = ()

    def weighed(self, usual: float) -> JarWords:
        """The same with the grams that follow from its parts; of plant it is the `usual` [g] where nobody said any.

        Raises:
            QuantityError: parts by weight of what is filled in by eye.
        """
        if self.parts is None:
            return self
        if self.fill is not None:
            raise QuantityError(
                f"1 to {say_number(self.parts)} goes by weight: say the grams of plant, and not how full the jar is."
            )
        grams = self.grams
        if grams is None:
            grams = usual if self.oil_grams is None else self.oil_grams / self.parts
        oil_grams = grams * self.parts if self.oil_grams is None else self.oil_grams
        return replace(self, grams=grams, oil_grams=oil_grams)


def read_jar_words(text: str) -> JarWords:
    """Read what is said of a jar.

    Raises:
        QuantityError: words that are no jar, with how it can be said.
    """
    if len(text) > LONGEST:
        raise QuantityError(f"That is {len(text)} characters; up to {LONGEST} are read. {HELP}")
    said = ASKS.sub("", " ".join(text.lower().split()).rstrip(".?"))
    asked = ASKS_TO_STEEP.match(said)
    plant = asked and (asked["plant"] or asked["of"])
    if plant:
        with suppress(QuantityError):
            return _read(plant, text)
        said = f"jar of {plant}"
    return _read(said, text)


def _read(said: str, text: str) -> JarWords:
    """Read words that stand for what a person typed."""
    try:
        found = _Words().transform(_grammar().parse(said))
    except (LarkError, VisitError) as error:
        raise QuantityError(f"“{text.strip()}” is not read as a jar. {HELP}") from error
    if not found:  # “a jar”, and nothing of it
        raise QuantityError(f"“{text.strip()}” says nothing of a jar. {HELP}")
    return JarWords(**found)


@cache
def _grammar() -> Lark:
    return Lark(GRAMMAR, parser="lalr")


@cache
def _keys(table: tuple[tuple[object, str], ...]) -> tuple[tuple[object, re.Pattern[str]], ...]:
    return tuple((key, re.compile(words)) for key, words in table)


def _meant(word: str, table: tuple[tuple[object, str], ...]) -> object:
    return next(key for key, pattern in _keys(table) if pattern.fullmatch(word))


class _Words(Transformer[Token, dict[str, Any]]):
    """Each clause as the fields it fills; the first that says a thing is believed."""

    def start(self, clauses: list[dict[str, Any]]) -> dict[str, Any]:
        found: dict[str, Any] = {}
        also: list[AlsoWords] = []
        for clause in clauses:
            if clause.get("plant") and found.get("plant"):
                also.append(AlsoWords(clause["plant"], clause.get("state"), clause.get("grams")))
                clause = {key: value for key, value in clause.items() if key not in ("plant", "state", "grams")}
            found = clause | found
        return found | ({"also": tuple(also)} if also else {})

    def _together(self, parts: list[dict[str, Any]]) -> dict[str, Any]:
        return {key: value for part in parts for key, value in part.items()}

    jar = jar_alone = _together

    def plant_in_oil(self, parts: list[dict[str, Any]]) -> dict[str, Any]:
        weighed = {"grams": parts.pop(0)["amount"]} if "amount" in parts[0] else {}
        return weighed | self._together(parts)

    def covered(self, parts: list[dict[str, Any]]) -> dict[str, Any]:
        return parts[0]

    def plant(self, words: list[Token]) -> dict[str, Any]:
        states = [State(STATES[word]) for word in words if word.type == "STATE"]
        said: dict[str, Any] = {"plant": " ".join(word for word in words if word.type == "NAME")}
        said |= {"state": states[0]} if states else {}
        return said | ({"pressed": True} if any(word.type == "PRESSED" for word in words) else {})

    def oil(self, words: list[Any]) -> dict[str, Any]:
        weighed = {"oil_grams": words.pop(0)["amount"]} if isinstance(words[0], dict) else {}
        return {"oil": " ".join(words)} | weighed

    def amount(self, words: list[Token]) -> dict[str, Any]:
        unit = words[1]
        size = 1000.0 if unit.startswith("k") else OUNCE if unit.startswith("o") else 1.0
        return {"amount": _number(words[0]) * size}

    def size(self, words: list[Token]) -> dict[str, Any]:
        return {"jar_ml": _number(words[0]) * MILLILITRES[words[1][0]]}

    def share(self, words: list[Token]) -> dict[str, Any]:
        return {"fill": _share(words[0])}

    def way(self, words: list[Token]) -> dict[str, Any]:
        return {"method": _meant(words[0], WAYS)}

    def ratio(self, words: list[Token]) -> dict[str, Any]:
        parts = _number(re.split(r":|to", words[0])[1].strip())
        if not parts:
            raise QuantityError("Plant that is steeped in nothing is no jar.")
        return {"parts": parts}

    def in_parts(self, words: list[Token]) -> dict[str, Any]:
        return self.ratio([Token("RATIO", f"1:{words[0].split()[1]}")])

    def strained(self, words: list[Token]) -> dict[str, Any]:
        return {"straining": _meant(words[0], STRAINED)}


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _share(text: str) -> float:
    """A part of a jar: words, a fraction, or percents."""
    if text.endswith("%"):
        return _number(text.removesuffix("%").strip()) / 100
    if "/" in text:
        above, below = text.split("/")
        return int(above) / int(below)
    if text in PARTS:
        return PARTS[text]
    times = {"three": 3, "two": 2}.get(text.split()[0].split("-")[0], 1)
    return times / (4 if "quarter" in text else 3)
