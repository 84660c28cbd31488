"""How an oil was made: refined, unrefined or drawn out by carbon dioxide, and what that changes.

People choose by it (“light olive, the virgin stains”). What each changes is common practice and Codex, from memory.
High-oleic seeds are no grade: they are oils of their own.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from uptide.core.ingredients.ingredient import Appearance, Ingredient
from uptide.core.oxidation.oil import OilOxidation


@dataclass(frozen=True, slots=True)
class OilGrade:
    """A grade: its name, its other names as people write them, and what it does to an oil."""

    key: str
    name: str
    written: str  # a pattern
    short: str
    says: str


GRADES: Mapping[str, OilGrade] = {
    grade.key: grade
    for grade in (
        OilGrade(
            "refined",
            "refined",
            r"refined|deodori[sz]ed|bleached|rbd|pomace|(?:extra[- ])?light(?=.*\bolive\b)",
            "pale, hardly smells, begins fresher",
            "pale, hardly smells, stains little; begins fresher, with about a third less tocopherols; fewer traces of "
            "protein, and no safe limit of them is known",
        ),
        OilGrade(
            "unrefined",
            "unrefined",
            r"unrefined|extra[- ]virgin|virgin|cold[- ]?pressed|raw|unfiltered",
            "its own colour and smell, begins with more peroxides",
            "its own colour and smell, which stain and show; begins with more peroxides, and keeps its tocopherols and "
            "traces of protein",
        ),
        OilGrade(
            "co2",
            "CO2-extracted",
            r"co2[- ]extracted|supercritical(?:ly extracted)?",
            "deeper in colour and smell",
            "deep in colour and smell, with more of what does not saponify; no solvent in it, and all of its protein "
            "traces as in a pressed oil",
        ),
    )
}
SAID = {key: re.compile(rf"\b(?:{grade.written})\b", re.IGNORECASE) for key, grade in GRADES.items()}
# Words of a grade that are no part of a name; all others are qualifiers, which the index of names leaves out.
UNNAMED = re.compile(
    r"\b(?:extra[- ])?light\s+(?=.*\bolive\b)|\bco2[- ]extracted\b|\bsupercritical(?:ly extracted)?\b", re.IGNORECASE
)
PALE, PALEST = 2, "#f6f1da"  # step of tint, and colour, of what was bleached
BLEACHED = 0.7  # part of the way to PALEST
TOCOPHEROLS_LEFT = 0.7  # g/g after deodorising; two thirds to four fifths, from memory
PHENOLS_GONE = {"olive": 0.65}  # of the induction time, which virgin olive owes to its phenols; from memory
VIRGIN_OF = {"olive": "olive"}  # the class of peroxides of an unrefined lot, where it is one of its own
MOST_ODOUR = 3


def grade_said(name: str) -> str:
    """The grade that a name says; nothing where it says none, or two.

    >>> [grade_said(name) for name in ("extra virgin olive oil", "light olive oil", "unrefined shea", "jojoba")]
    ['unrefined', 'refined', 'unrefined', '']
    """
    found = [key for key, pattern in SAID.items() if pattern.search(name)]
    return found[0] if len(found) == 1 else ""


def without_grade(name: str) -> str:
    """A name without the words of a grade that would make another name of it.

    >>> [without_grade(name) for name in ("extra light olive oil", "light coconut", "rosehip oil, CO2-extracted")]
    ['olive oil', 'light coconut', 'rosehip oil']
    """
    return UNNAMED.sub("", name).strip(" ,")


def regraded(name: str, grade: str) -> str:
    """A name that says another grade; nothing for none.

    >>> [regraded("extra virgin olive oil", grade) for grade in ("refined", "co2", "")]
    ['refined olive oil', 'CO2-extracted olive oil', 'olive oil']
    """
    for pattern in SAID.values():
        name = pattern.sub("", name)
    plain = re.sub(r"\s+", " ", name).strip(" ,")
    return f"{GRADES[grade].name} {plain}" if grade else plain


def has_grades(item: Ingredient) -> bool:
    """Whether it is an oil that is sold in grades: a lot is of one already, and what cannot oxidise has none."""
    return (
        item.is_fatty and not item.lot and not item.parts and item.oxidation is not None and not item.oxidation.is_inert
    )


def graded(item: Ingredient, grade: str) -> Ingredient:
    """An oil of a grade; the thing itself where no grade is said, or where it has none."""
    if grade not in GRADES or not item.is_fatty or item.parts or item.grade:
        return item
    title = re.sub(r"\s*\((?:virgin|refined|unrefined)\)", "", item.name)
    found = replace(item, name=f"{title}, {GRADES[grade].name}", grade=grade)
    if grade == "refined":
        return replace(
            found,
            colour=_paler(item.colour),
            appearance=item.appearance and Appearance(min(item.appearance.tint, PALE), "pale, refined", 0),
            oxidation=item.oxidation and _refined(item.base_key, item.oxidation),
        )
    looks, oil = item.appearance, item.oxidation
    more = 1 if grade == "co2" else 0
    return replace(
        found,
        appearance=looks and replace(looks, tint=looks.tint + more, odour=min(MOST_ODOUR, max(looks.odour, 1) + more)),
        oxidation=oil and _unrefined(item.base_key, oil),
    )


def changed_by(item: Ingredient, made: Ingredient) -> str:
    """What its grade changes of an oil, shortly; nothing where it is as it usually is."""
    if not made.grade or (item.appearance, item.oxidation) == (made.appearance, made.oxidation):
        return ""
    return GRADES[made.grade].short


def _refined(key: str, oil: OilOxidation) -> OilOxidation:
    if oil.is_inert or oil.lot_class == "refined":
        return replace(oil, chlorophyll=0.0)
    return replace(
        oil,
        lot_class="refined",
        osi_hours=(oil.osi_hours or 0.0) * PHENOLS_GONE.get(key, 1.0),
        tocopherols_gamma=TOCOPHEROLS_LEFT * oil.tocopherols_gamma,
        tocopherols_alpha=TOCOPHEROLS_LEFT * oil.tocopherols_alpha,
        chlorophyll=0.0,
    )


def _unrefined(key: str, oil: OilOxidation) -> OilOxidation:
    return oil if oil.is_inert else replace(oil, lot_class=VIRGIN_OF.get(key, "virgin"))


def _paler(colour: str) -> str:
    """A colour most of the way to that of a bleached oil.

    >>> _paler("#6b7a2f")
    '#cccda7'
    """
    pairs = zip(_channels(colour), _channels(PALEST), strict=True)
    return "#" + "".join(f"{round(own + BLEACHED * (pale - own)):02x}" for own, pale in pairs)


def _channels(colour: str) -> tuple[int, ...]:
    return tuple(int(colour[place : place + 2], 16) for place in (1, 3, 5))
