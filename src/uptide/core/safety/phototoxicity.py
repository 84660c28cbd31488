"""Oils that burn in the sun: the sum of their ratios, and the way around it by a certificate of bergapten.

Source: ifra, from memory: left on skin that sees the sun, Σ share/limit ≤ 1; or, where bergapten was measured in every
such citrus oil, at most 15 mg/kg of it in the product. Angelica, cumin, rue, tagetes and mandarin leaf are never
cleared by bergapten. A bath or what is rinsed off lies outside the rule.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from uptide.core.safety.case import Case, Part
from uptide.core.tolerance import exceeds

BERGAPTEN = "BERGAPTEN"
BERGAPTEN_MOST = 15.0  # mg/kg in the product
NEVER_CLEARED = frozenset({"angelica-root", "cumin", "rue", "tagetes", "petitgrain-mandarin"})


@dataclass(frozen=True, slots=True)
class PhototoxicPart:
    """One such oil: its share [%] over its limit [%]; `cleared` when its bergapten was measured."""

    part: Part
    limit: float
    ratio: float
    bergapten: float | None
    cleared: bool


@dataclass(frozen=True, slots=True)
class Phototoxicity:
    """The sum of ratios that counts, that of all, bergapten [mg/kg] when that way was open, and who is unsure."""

    total: float
    all_ratios: float
    bergapten_ppm: float | None
    parts: tuple[PhototoxicPart, ...]
    unsure: tuple[Part, ...]

    @property
    def is_over(self) -> bool:
        """Above the limit, by whichever way was open."""
        return exceeds(self.total, 1)


@lru_cache(maxsize=16)
def phototoxicity_of(case: Case) -> Phototoxicity:
    """Work out what the scents do in the sun; shares count at most.

    Where every citrus oil among them has a certificate of bergapten, their part of the sum is bergapten over its limit.
    """
    found: list[PhototoxicPart] = []
    unsure: list[Part] = []
    for part in case.scents:
        facts = case.facts(part)
        if facts is None:
            continue
        if facts.phototoxic == "uncertain":
            unsure.append(part)
        elif facts.phototoxic == "yes":
            limit = facts.phototoxic_limit or 0.0
            ratio = part.high / limit if limit > 0 else float("inf")
            measured = facts.constituents.get(BERGAPTEN)
            certified = measured.typical if measured is not None and measured.certified else None
            found.append(
                PhototoxicPart(
                    part,
                    limit,
                    ratio=ratio,
                    bergapten=certified,
                    cleared=part.key not in NEVER_CLEARED and certified is not None,
                )
            )
    everything = sum(each.ratio for each in found)
    citrus = [each for each in found if each.part.key not in NEVER_CLEARED]
    others = sum(each.ratio for each in found if each.part.key in NEVER_CLEARED)
    if citrus and all(each.cleared for each in citrus):
        ppm = sum(each.part.high * (each.bergapten or 0.0) / 100 for each in citrus) * 1e4
        return Phototoxicity(
            others + ppm / BERGAPTEN_MOST, everything, bergapten_ppm=ppm, parts=tuple(found), unsure=tuple(unsure)
        )
    found = [PhototoxicPart(e.part, e.limit, e.ratio, e.bergapten, cleared=False) for e in found]
    return Phototoxicity(everything, everything, bergapten_ppm=None, parts=tuple(found), unsure=tuple(unsure))
