"""The grammar of what the shelf is asked: where one clause ends, and what a clause is made of.

What a clause means is decided in `filter_reader`; a clause that is none of these is looked for as a name.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from lark import Token, Tree
from lark.exceptions import LarkError

from uptide.core.finder.filter_words import (
    ABOVE,
    AT_LEAST,
    AT_MOST,
    BELOW,
    COMPARATIVES,
    FAMILIES,
    FEEL_WORDS,
    FIGURE_WORDS,
    KIND_WORDS,
    NEVER_CLOGS,
    NUMBER,
    SUPERLATIVES,
    TRADITIONS,
)
from uptide.core.finder.parting import Missed, parted
from uptide.core.grammar import Grammar, token_of


def _any(words: Iterable[str]) -> str:
    """A pattern of any of these, the longest first, with a hyphen for a blank."""
    ordered = sorted(words, key=len, reverse=True)
    return f"(?:{'|'.join(re.escape(word).replace(chr(92) + ' ', '[^_a-z0-9]+') for word in ordered)})(?![a-z0-9])"


_SKIN = r"(?:very\s+)?(?:oily|dry|combination|normal|mature|sensitive|acne[-\s]prone)\s+skin"
# A comma between digits is a decimal comma; an “and” between two numbers is none between clauses.
_SEPARATOR = re.compile(
    rf"(?P<within>\bbetween\s+{NUMBER}\s*%?\s+and\s+{NUMBER})"
    rf"|(?<!\d),|,(?!\d)|[;\n]|\band\b(?=\s)|\b(?:that|which)\s+(?=keeps?\b|do|are\b)|(?<=\s)(?=for\s+{_SKIN})"
    r"|(?<=\w)\s+(?:with\s+)?(?=(?:no|without)\s+\w)",
    re.IGNORECASE,
)
# Words around what is asked that ask nothing: “which oils are …”, “the best oil for …”, “… oils”.
_WHICH = r"^(?:(?:which|what|show(?:\s+me)?|find(?:\s+me)?|list|the|all|any|some|best|good|right)\s+)*oils?"
_ARE = r"(?:is|are|that|to\s+use|suitable|good|safe|best|with|which)"
_AROUND = (
    re.compile(rf"{_WHICH}\s+(?:{_ARE}\s+)*(?=\S)", re.IGNORECASE),
    re.compile(r"(?<=\w)\s+oils?$", re.IGNORECASE),
    re.compile(r"^(?:something|anything)\s+(?=\S)", re.IGNORECASE),
)
_FREE, _OR = re.compile(r"free$", re.IGNORECASE), re.compile(r"\bn?or\b|/")
_NOTHING_MORE = re.compile(rf"{_WHICH}(?:\s+{_ARE})*$", re.IGNORECASE)

# A pattern of the grammar cannot be broken over lines.
RULES = rf"""
?clause: on_hand | ordered | vegan | tradition | somebody | family | likeness | comparative
    | figure | much | unscented | never_clogs | keeps_long | feel | kind | state

on_hand: ON_HAND
ordered: "the"i? SUPERLATIVE "first"i?
vegan: VEGAN
tradition: LEAD? TRADITION
somebody: LEAD REST | SKIN
family: NO REST | FREE
likeness: LIKE REST
comparative: IT? IS? COMPARATIVE (THAN REST)?
figure: FIGURE (IS? bound)? | bound FIGURE?
much: (HIGH | LOW) "in"i? FIGURE
unscented: UNSCENTED
never_clogs: NEVER_CLOGS
keeps_long: KEEPS_LONG
bound: (ABOVE | AT_LEAST | BELOW | AT_MOST)? number | BETWEEN? number ("to"i | "–" | "and"i)? number
number: NUMBER (PERCENT | MONTHS | YEARS | UNIT)? | A_YEAR
feel: FEELS? FEEL (("or"i | "/") FEEL)* FEELS? | NOT_GREASY | ("a"i | "an"i)? FEEL OILS
kind: KIND
state: SOLID | LIQUID | ANY_STATE

ON_HAND.4: /(?:on\s+hand|mine|on\s+my\s+shelf|in\s+stock|have)\s*$/i
VEGAN.4: /(?:vegan|plant[-\s]based|(?:no|nothing)\s+animal)\s*$/i
UNSCENTED.4: /(?:no\s+(?:scent|smell|odour)|unscented|odourless|scentless)\s*$/i
NEVER_CLOGS.4: /{NEVER_CLOGS}\s*$/i
KEEPS_LONG.4: /(?:long(?:er)?[-\s](?:shelf[-\s]life|lasting)|keeps\s+long)\s*$/i
NOT_GREASY.4: /no[nt][-\s](?:greasy|oily)\s*$/i
ANY_STATE.4: /(?:solid\s+or\s+liquid|liquid\s+or\s+solid)\s*$/i
KIND.3: /{_any(KIND_WORDS)}\s*$/i
TRADITION.3: /(?:the\s+)?{_any(TRADITIONS)}(?:\s+oils?)?\s*$/i
SKIN.4: /{_SKIN}\s*$/i
FREE.4: /.*\w(?=[-\s]*free\s*$)[-\s]*free/i
SOLID.3: /{_any(("solid", "hard"))}/i
LIQUID.3: /{_any(("liquid", "pourable"))}/i
COMPARATIVE.3: /{_any(COMPARATIVES)}/i
ABOVE.3: /(?:{ABOVE})/i
AT_LEAST.3: /(?:{AT_LEAST})/i
BELOW.3: /(?:{BELOW})/i
AT_MOST.3: /(?:{AT_MOST})/i
SUPERLATIVE.3: /{_any(SUPERLATIVES)}/i
HIGH.4: /(?:high|rich|highest|richest)(?=\s+(?!(?:first|or|oils?)\b)\w)/i
LOW.3: /(?:low|poor|lowest)(?![a-z])/i
FIGURE.2: /{_any(FIGURE_WORDS)}/i
FEEL.2: /{_any(FEEL_WORDS)}/i
FEELS.2: /(?:skin\s+)?feel(?:s|ing)?(?![a-z])/i
OILS.2: /oils?(?![a-z])/i
LIKE.2: /(?:most\s+)?(?:like|similar\s+to|near\s+to|near)(?![a-z])/i
NO.2: /(?:no|without|not|free\s+of|free\s+from)(?![a-z])/i
LEAD.2: /(?:(?:(?:good|ok|right|chosen|suitable)\s+)?for|suits?|with|in|during|on|when)(?![a-z])/i
IT.2: /(?:it|which|that)(?![a-z])/i
IS.2: /(?:is|are|has)(?![a-z])/i
THAN.2: /than(?![a-z])/i
BETWEEN.2: /between(?![a-z])/i
A_YEAR.2: /(?:a|one)\s+year(?![a-z])/i
NUMBER.2: /{NUMBER}/
PERCENT.2: /%|percent(?![a-z])/i
MONTHS.2: /months?(?![a-z])/i
YEARS.2: /years?(?![a-z])/i
UNIT.2: /(?:points?|of\s+\d+|mpa[\s·]*s)(?![a-z])/i
REST.1: /\w.*/s

BETWEEN_WORDS: /[^\w<>=≥≤%\/–]+/
%ignore BETWEEN_WORDS
"""


CLAUSES = Grammar(RULES, start="clause", maybe_placeholders=False)


def split_clauses(text: str) -> list[str]:
    """The clauses of a question, as they were typed."""
    clauses, start = [], 0
    for found in _SEPARATOR.finditer(text):
        if found["within"] is None:
            clauses.append(text[start : found.start()])
            start = found.end()
    said = [clause.strip() for clause in (*clauses, text[start:]) if clause.strip()]
    said = [piece for clause in said for piece in _without_commas(clause)]
    return [clause for clause in said if not _NOTHING_MORE.match(clause)] or said


def _without_commas(clause: str) -> tuple[str, ...]:
    """A clause that is none by itself in those that it holds, where it holds nothing else: “light keeps a year”."""
    missed, pieces = parted(clause, _read_piece)
    return pieces if not any(missed) else (clause,)


def _read_piece(typed: str, _: str | None) -> tuple[str, Missed]:
    tree = read_clause(typed)
    if tree is None:
        return typed, Missed(words=len(typed.split()))
    return typed, Missed(names=sum(name not in FAMILIES for name in left_out(tree)))


def left_out(tree: Tree[Token]) -> list[str]:
    """The allergen families that must not be in it, as they are called; of any other clause none."""
    if tree.data != "family":
        return []
    listed = token_of(tree, "REST") or _FREE.sub("", token_of(tree, "FREE"))
    return [plain_word(name) for name in _OR.split(listed)]


def plain_word(said: str) -> str:
    """As it stands in the tables of words: small, with one blank for whatever parts its words."""
    return " ".join(re.split(r"[^\w°]+", said.lower())).strip()


def is_asked_of_all_oils(text: str) -> bool:
    """Whether each clause of it is a condition, and none the name of an oil."""
    clauses = split_clauses(text)
    return bool(clauses) and all(read_clause(clause) is not None for clause in clauses)


def read_clause(clause: str) -> Tree[Token] | None:
    """What a clause is made of; None when it is nothing that can be asked but by name."""
    bare = clause
    for words in _AROUND:
        bare = words.sub("", bare)
    for said in dict.fromkeys((clause, bare)):
        try:
            return CLAUSES.parser.parse(said)
        except LarkError:
            continue
    return None
