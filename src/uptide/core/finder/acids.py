"""A fatty acid by its name: what it is, what it makes of an oil, and which oils hold most of it."""

from __future__ import annotations

import re
from collections.abc import Iterable

from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.known import Known
from uptide.core.lipids.fatty_acids import FattyAcid, Saturation
from uptide.core.measures.quick import QuickAnswer

MOST_NAMED = 4  # oils
WORTH_NAMING = 1.0  # % of the acids of an oil
ASKED = re.compile(
    r"^(?:(?:what(?:[’']s| is| are| does)|tell me about|about|(?:what|which oils?) (?:has|have)(?: the)? most)\s+)?"
    r"(?P<of>.+?)(?:\s+(?:fatty\s+)?acids?)?(?:\s+do)?$",
    re.IGNORECASE,
)
ALSO = {
    "gla": "18:3n6", "ala": "18:3n3", "la": "18:2n6", "linolenic": "18:3n3", "omega 3": "n3", "omega-3": "n3",
    "omega 6": "n6", "omega-6": "n6", "omega 9": "n9", "omega-9": "n9",
}  # fmt: skip
# What each sort makes of an oil: common practice.
MAKES = {
    Saturation.SATURATED: "Much of it makes an oil firm in the cold, and it keeps long.",
    Saturation.MONOUNSATURATED: "Much of it makes an oil rich to the touch, and it keeps well.",
    Saturation.POLYUNSATURATED: "Much of it makes an oil light and dry to the touch, and it turns soon.",
}


def about_acid(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “what is linoleic acid”, “omega 3”, “GLA”; None when it names no acid."""
    found = ASKED.match(asked)
    said = " ".join(found["of"].lower().split()) if found else ""
    oils = [oil_profile(item) for item in known.ingredients.values() if item.is_fatty and not item.lot]
    acids = {part.acid for oil in oils for part in oil.acids if not part.acid.is_alcohol}
    meant = _meant(said, acids)
    if not meant:
        return None
    held = {oil.item.name: sum(part.percent for part in oil.acids if part.acid in meant) for oil in oils}
    most = sorted(((name, share) for name, share in held.items() if share >= WORTH_NAMING), key=lambda each: -each[1])
    return QuickAnswer(
        _named(meant, said),
        MAKES[max(meant, key=lambda acid: acid.double_bonds).saturation],
        "Shares of the fatty acids; each oil’s page names their source, and a certificate goes before them.",
        lines=(("Most in", ", ".join(f"{name} {share:.0f} %" for name, share in most[:MOST_NAMED])),),
    )


def _meant(said: str, acids: Iterable[FattyAcid]) -> tuple[FattyAcid, ...]:
    """The acids of a name, a code, or an omega family, those of most double bonds last."""
    code = ALSO.get(said, said)
    family = code if code in ("n3", "n6", "n9") else ""
    found = [acid for acid in acids if code == acid.code or said == acid.common_name]
    found += [acid for acid in acids if family and acid.code.endswith(family)]
    return tuple(sorted(found, key=lambda acid: (acid.double_bonds, acid.code)))


def _named(acids: tuple[FattyAcid, ...], said: str) -> str:
    """An acid with its code and sort, or a family with its members."""
    if len(acids) > 1:
        return f"{said.capitalize()}: {', '.join(f'{acid.common_name} ({acid.code})' for acid in acids)}"
    (acid,) = acids
    bonds = f"{acid.double_bonds or 'no'} double bond{'s' if acid.double_bonds > 1 else ''}"
    name = f"{acid.common_name.capitalize()} acid"
    return f"{name}: {acid.carbons} carbons, {bonds}, {acid.saturation} ({acid.code})"
