"""A figure of one thing, asked for by its name: “iodine value of olive”, “does coconut melt”, “INCI of rosehip”."""

from __future__ import annotations

import re

from uptide.core.figures.finding import Finding
from uptide.core.figures.physical import TINTED_SKIN
from uptide.core.figures.specs import (
    COX_VALUE,
    DENSITY_20C,
    FEEL,
    INDUCTION_TIME_110C,
    IODINE_VALUE,
    REFRACTIVE_INDEX_20C,
    SAPONIFICATION_VALUE,
    SLIP,
    SOLID_FAT_CONTENT_22C,
    tint_spec,
)
from uptide.core.finder.by_itself import alone
from uptide.core.finder.known import Known
from uptide.core.finder.named import of_that_name
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.quick import QuickAnswer

INCI = "inci"
WORKED = "Its working and its source stand on its page."
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
FEELS = re.compile(
    r"^how\s+(?:fast|quick(?:ly)?|well|long)\s+(?:does|do)\s+(?P<of>.+?)\s+(?:take\s+to\s+)?(?:absorb|sink|soak)"
    r"(?:\s+in.*)?$"
    r"|^how\s+(?:does|do)\s+(?P<does>.+?)\s+feel(?:\s+on\s+.+)?$"
    r"|^(?:is|are)\s+(?P<is>.+?)\s+(?:greasy|sticky|oily|heavy|light|dry|rich|thick|thin)(?:\s+on\s+.+)?$",
    re.I,
)
TINTS = re.compile(
    r"^(?:does|do|will|can)\s+(?P<of>.+?)\s+(?:stain|tint|colou?r)(?:\s+.+)?$"
    r"|^what\s+colou?r\s+(?:is|are)\s+(?P<is>.+)$",
    re.I,
)
TINT = tint_spec(TINTED_SKIN).key
# What is answered with a word first: questions that ask for it, the figure, and what stands before the word.
IN_A_WORD = ((SOLID, SOLID_FAT_CONTENT_22C.key, ""), (FEELS, FEEL.key, "feels "), (TINTS, TINT, ""))
BEFORE_A_WORD = {key: before for _, key, before in IN_A_WORD}


def about_figure(asked: str, known: Known) -> list[QuickAnswer]:
    """What one thing’s figure is, with its doubt; empty where none is asked for.

    Raises:
        QuantityError: a name that is often taken for another's, with what it is.
    """
    for pattern, key, _ in IN_A_WORD:
        found = pattern.match(asked)
        named = next(filter(None, found.groups()), "") if found is not None else ""
        if named and (items := of_that_name(named, known)):
            return [_of(item, key, known) for item in items]
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
    if key in BEFORE_A_WORD and finding.word:  # it says more than how much is solid at one temperature
        said = f"{item.name}: {BEFORE_A_WORD[key]}{finding.word}"
        return QuickAnswer(said, finding.remark, finding.other, about=item.key)
    title = f"{finding.title[:1].lower()}{finding.title[1:]}"
    return QuickAnswer(f"{item.name}: {title} {value}", finding.remark, WORKED, about=item.key)


def _with_band(finding: Finding) -> str:
    """A figure with its unit, and between what it lies where that is known."""
    value, low, high = (
        None if each is None else f"{each:.{finding.decimals}f}" for each in (finding.value, finding.low, finding.high)
    )
    band = f" ({low} to {high})" if low is not None and high is not None and low != high else ""
    return f"{value}{f' {finding.unit}' if finding.unit else ''}{band}"
