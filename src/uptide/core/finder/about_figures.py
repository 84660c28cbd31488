"""A figure of one thing, asked for by its name: “iodine value of olive”, “does coconut melt”, “INCI of rosehip”."""

from __future__ import annotations

import re

from uptide.core.figures.finding import Finding
from uptide.core.figures.specs import (
    COX_VALUE,
    DENSITY_20C,
    INDUCTION_TIME_110C,
    IODINE_VALUE,
    REFRACTIVE_INDEX_20C,
    SAPONIFICATION_VALUE,
    SLIP,
    SOLID_FAT_CONTENT_22C,
)
from uptide.core.finder.by_itself import alone
from uptide.core.finder.known import Known
from uptide.core.finder.named import of_that_name
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.quick import QuickAnswer

INCI = "inci"
# What a figure is called when somebody asks for it, in small letters.
ASKED_FOR = {
    "iodine value": IODINE_VALUE.key,
    "iodine number": IODINE_VALUE.key,
    "saponification value": SAPONIFICATION_VALUE.key,
    "saponification number": SAPONIFICATION_VALUE.key,
    "sap value": SAPONIFICATION_VALUE.key,
    "density": DENSITY_20C.key,
    "specific gravity": DENSITY_20C.key,
    "refractive index": REFRACTIVE_INDEX_20C.key,
    "viscosity": SLIP.key,
    "thickness": SLIP.key,
    "induction time": INDUCTION_TIME_110C.key,
    "osi": INDUCTION_TIME_110C.key,
    "oxidizability": COX_VALUE.key,
    "cox value": COX_VALUE.key,
    "melting point": SOLID_FAT_CONTENT_22C.key,
    "melting temperature": SOLID_FAT_CONTENT_22C.key,
    "cloud point": SOLID_FAT_CONTENT_22C.key,
    "inci name": INCI,
    "inci": INCI,
}
NAMED = "|".join(sorted(ASKED_FOR, key=len, reverse=True)).replace(" ", r"\s+")
OF = re.compile(rf"^(?:what(?:[’']s| is)\s+)?(?:the\s+)?(?P<figure>{NAMED})\s+(?:of|for)\s+(?P<of>.+)$", re.I)
BEHIND = re.compile(rf"^(?:what(?:[’']s| is)\s+)?(?P<of>.+?)(?:[’']s)?\s+(?P<figure>{NAMED})$", re.I)
BEFORE = re.compile(rf"^(?P<figure>{NAMED})\s+(?P<of>.+)$", re.I)
SETS = r"(?:solidify|set|harden|freeze|cloud|melt|go (?:solid|hard|cloudy)|get (?:solid|hard|cloudy))"
SOLID = re.compile(
    rf"^(?:(?:when|at what temperature|where)\s+)?(?:does|do|will|can)\s+(?P<of>.+?)\s+{SETS}"
    r"(?:\s+(?:in|at|on|below)\s+.+)?$"
    r"|^(?:is|are)\s+(?P<is>.+?)\s+(?:solid|hard|soft|liquid|cloudy|runny)(?:\s+(?:in|at|on)\s+.+)?$",
    re.I,
)


def about_figure(asked: str, known: Known) -> list[QuickAnswer]:
    """What one thing’s figure is, with its doubt; empty where none is asked for.

    Raises:
        QuantityError: a name that is often taken for another's, with what it is.
    """
    found = SOLID.match(asked)
    if found is not None:
        return [_of(item, SOLID_FAT_CONTENT_22C.key, known) for item in of_that_name(found["of"] or found["is"], known)]
    for pattern in (OF, BEHIND, BEFORE):
        found = pattern.match(asked)
        if found is not None and (items := of_that_name(found["of"], known)):
            return [_of(item, ASKED_FOR[" ".join(found["figure"].lower().split())], known) for item in items]
    return []


def _of(item: Ingredient, key: str, known: Known) -> QuickAnswer:
    if key == INCI:
        said = item.inci or "no INCI name is known"
        return QuickAnswer(f"{item.name}: {said}", "", about=item.key)
    whole = alone(item, known)
    finding = next((each for each in whole.findings if each.key == key), None)
    if finding is None or (finding.value is None and not finding.word):
        why = finding.remark if finding is not None else ""
        return QuickAnswer(f"{item.name}: that is not known of it", why, about=item.key)
    value = "" if finding.value is None else _with_band(finding)
    if key == SOLID_FAT_CONTENT_22C.key:  # a word says more than how much is solid at one temperature
        return QuickAnswer(f"{item.name}: {finding.word or value}", finding.remark, finding.other, about=item.key)
    title = f"{finding.title[:1].lower()}{finding.title[1:]}"
    return QuickAnswer(f"{item.name}: {title} {value}", finding.remark, about=item.key)


def _with_band(finding: Finding) -> str:
    """A figure with its unit, and between what it lies where that is known."""
    value, low, high = (
        None if each is None else f"{each:.{finding.decimals}f}" for each in (finding.value, finding.low, finding.high)
    )
    band = f" ({low} to {high})" if low is not None and high is not None and low != high else ""
    return f"{value}{f' {finding.unit}' if finding.unit else ''}{band}"
