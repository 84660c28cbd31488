"""The clauses of a wish: one left out, one with another number, one that says a limit."""

from __future__ import annotations

import re
from dataclasses import replace

from uptide.core.finder.filter_words import NUMBER
from uptide.core.finder.search.wish import Limit
from uptide.core.oxidation.surroundings import COOL_CUPBOARD

# Between clauses stands no comma of a number, and no “and” of a range.
_SEPARATOR = re.compile(
    rf"(?P<within>\bbetween\s+{NUMBER}\s*%?\s+and\b)|[;\n&]|(?<!\d),|,(?!\d)|\band\b(?=\s)"
    r"|\b(?:that|which)\s+(?=keeps?\b|lasts?\b)|(?<=\w)(?<!\bwith)\s+(?:with\s+)?(?=(?:without|no)\s+\w)(?!no\s+more)",
    re.IGNORECASE,
)
SAID = {  # figures whose words are not their keys
    "omega_3": "omega 3",
    "cost": "costs",
    "clog_by_mass": "clog by mass",
    "across": "across the chart",
    "upward": "up the chart",
}
DECIMALS = 4
FRESH, MAY_SET = "with fresh bottles", "it may set"  # clauses that give way


def clauses_of(text: str) -> list[str]:
    """The clauses of a wish, as they were typed.

    >>> clauses_of("30 ml, light and no nuts, linoleic between 20 and 40,5")
    ['30 ml', 'light', 'no nuts', 'linoleic between 20 and 40,5']
    """
    clauses, start = [], 0
    for found in _SEPARATOR.finditer(text):
        if found["within"] is None:
            clauses.append(text[start : found.start()])
            start = found.end()
    return [clause.strip() for clause in (*clauses, text[start:]) if clause.strip()]


def without_clause(text: str, said: str) -> str:
    """A wish without one of its clauses, or of the things that one of them asks.

    >>> without_clause("30 ml, light, no nuts", "light")
    '30 ml, no nuts'
    >>> without_clause("30 ml light face oil, no nuts", "light")
    '30 ml face oil, no nuts'
    """
    return _instead(text, said, "")


def with_bound(text: str, limit: Limit, bound: float, place: str = COOL_CUPBOARD) -> str:
    """A wish with another number for one of its limits; what nobody said is said from now on.

    >>> with_bound("30 ml face oil, linoleic over 50", Limit("linoleic", True, 50, "linoleic over 50"), 42.5)
    '30 ml face oil, linoleic over 42.5'
    >>> with_bound("30 ml light face oil", Limit("feel", False, 2.4, "light"), 2.8)
    '30 ml feel under 2.8 face oil'
    """
    said = clause_of(replace(limit, bound=bound), place)
    if not (limit.typed and _places(text, limit.typed)):
        return ", ".join([*clauses_of(text), said])
    written = f"{limit.bound:g}".replace(".", "[.,]")
    alone = re.compile(rf"(?<![\d.,]){written}(?:[.,]0+)?(?![\d]|[.,]\d)")
    if len(alone.findall(limit.typed)) == 1:
        said = alone.sub(_number(bound), limit.typed)
    return _instead(text, limit.typed, said)


def _places(text: str, said: str) -> list[tuple[int, int, int]]:
    """Where something is asked: the clause, and from where to where in it."""
    asked = re.compile(rf"(?<!\S){re.escape(said)}(?!\S)")
    return [(at, *each.span()) for at, clause in enumerate(clauses_of(text)) for each in asked.finditer(clause)]


def _instead(text: str, said: str, other: str) -> str:
    """A wish that asks one thing in the place of another, wherever whole clauses ask it, or else the first time."""
    clauses, places = clauses_of(text), _places(text, said)
    whole = [at for at, start, end in places if (start, end) == (0, len(clauses[at]))]
    for at in whole:
        clauses[at] = other
    if places and not whole:
        at, start, end = places[0]
        clauses[at] = " ".join(filter(None, (clauses[at][:start].strip(), other, clauses[at][end:].strip())))
    return ", ".join(filter(None, clauses))


def clause_of(limit: Limit, place: str = COOL_CUPBOARD) -> str:
    """A limit as it is said in a wish.

    >>> clause_of(Limit("keeps", True, 6), "bathroom"), clause_of(Limit("cost", False, 3, currency="GBP"))
    ('keeps 6 months in the bathroom', 'costs under 3 GBP')
    """
    number = _number(limit.bound)
    if limit.figure == "keeps":
        return f"keeps {number} months" if place == COOL_CUPBOARD else f"keeps {number} months in the {place}"
    if limit.figure == "clear":
        return f"clear at {number}"
    if limit.figure == "solid":
        return f"solid {'over' if limit.at_least else 'under'} {number} % at {limit.celsius:g}"
    if limit.figure == "inert":
        return f"at most {number} % inert"
    named = SAID.get(limit.figure, limit.figure)
    return f"{named} {'over' if limit.at_least else 'under'} {number} {limit.currency}".strip()


def _number(bound: float) -> str:
    return f"{round(bound, DECIMALS):.10g}"
