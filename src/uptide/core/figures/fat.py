"""Figures of the oils: the fatty acids with each oil's part in them, and the two titration values."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from math import fsum

import numpy as np

from uptide.core.arrays import Array
from uptide.core.figures.citing import cited, least_confidence, listed
from uptide.core.figures.finding import AcidPart, FigureSpec, Finding, Input
from uptide.core.figures.specs import FATTY_ACID_MASS, IODINE_VALUE, share_of_acids_spec
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.lipids.draws import COUNT, LipidDraws, band, draws_of, sum_of
from uptide.core.lipids.fatty_acids import FattyAcid, Saturation
from uptide.core.lipids.lipid import (
    Lipid,
    fatty_acid_yield,
    iodine_value,
    saponification_value,
)
from uptide.core.tolerance import exceeds

OLEIC, LINOLEIC = "18:1n9", "18:2n6"
UNKNOWN_ALLOWED = 0.02  # g/g of the fatty part whose composition may be unknown before a figure is called unknown
NO_OIL = "There is no oil in it yet."


def acids_of(fatty: list[tuple[float, Ingredient]], total: float) -> tuple[AcidPart, ...]:
    """Share of each acid, with each oil's part in it; in the fixed order of the ribbon (see `ribbon_order`)."""
    grams: dict[FattyAcid, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    items: dict[str, Ingredient] = {}
    for mass, item in fatty:
        if item.lipid is None or item.lipid.acids is None:
            continue
        items[item.key] = item
        held = mass * fatty_acid_yield(item.lipid)
        for acid, part in item.lipid.acids.fractions.items():
            grams[acid][item.key] += held * part
    everything = sum(sum(parts.values()) for parts in grams.values())
    return tuple(
        AcidPart(
            acid,
            100 * sum(parts.values()) / everything,
            100 * sum(parts.values()) / total,
            tuple((items[key], 100 * part / everything) for key, part in parts.items() if part > 0),
        )
        for acid, parts in sorted(grams.items(), key=lambda pair: ribbon_order(pair[0]))
        if sum(parts.values()) > 0
    )


def ribbon_order(acid: FattyAcid) -> tuple[int, int, str]:
    """Order of the acids in every ribbon: by double bonds, then by length, so that like lies under like."""
    return (acid.double_bonds, acid.carbons, acid.code)


def _unknown_fat(fatty: list[tuple[float, Ingredient]]) -> tuple[float, list[str]]:
    """Share [g/g] of the fatty part whose composition is unknown, and the names of it."""
    total = sum(mass for mass, _ in fatty)
    strangers = [(mass, item.name) for mass, item in fatty if item.lipid is None]
    return (sum(mass for mass, _ in strangers) / total if total else 0.0), [name for _, name in strangers]


def _why_unknown(fatty: list[tuple[float, Ingredient]]) -> str:
    if not fatty:
        return NO_OIL
    share, names = _unknown_fat(fatty)
    if exceeds(share, UNKNOWN_ALLOWED):
        part = f"{100 * share:.0f} % of the oils"
        return f"Unknown: the composition of {listed(names)} is not in the catalogue, and it is {part}."
    return ""


def acid_findings(acids: tuple[AcidPart, ...], fatty: list[tuple[float, Ingredient]]) -> tuple[Finding, ...]:
    """Work out the sums by saturation, oleic and linoleic, and grams of fatty acid in 100 g."""
    why = _why_unknown(fatty) or ("" if acids else "Nothing in it has fatty acids.")
    confidence = least_confidence(
        share.confidence for _, item in fatty if item.lipid and item.lipid.acids for share in item.lipid.acids.shares
    )

    lots, sources = _Lots.of(fatty), _profile_sources(fatty)

    def share(key: str, title: str, chosen: list[AcidPart]) -> Finding:
        inputs = tuple(
            Input(f"{part.acid.common_name} ({part.acid.code})", part.percent, "% of fatty acids") for part in chosen
        )
        value = None if why else sum(part.percent for part in chosen)
        low, high = (None, None) if value is None else lots.band_of({part.acid for part in chosen})
        return Finding(
            spec=share_of_acids_spec(key, title),
            value=value,
            low=low,
            high=high,
            inputs=inputs,
            sources=sources,
            confidence=confidence,
            remark=why,
        )

    by_class = {
        kind: share(kind.value, f"{kind.value.capitalize()}", [part for part in acids if part.acid.saturation is kind])
        for kind in Saturation
    }
    bound = None if why else sum(part.grams_per_100g for part in acids)
    return (
        *by_class.values(),
        share("oleic_share", "Oleic", [part for part in acids if part.acid.code == OLEIC]),
        share("linoleic_share", "Linoleic", [part for part in acids if part.acid.code == LINOLEIC]),
        Finding(
            spec=FATTY_ACID_MASS,
            value=bound,
            inputs=tuple(Input(p.acid.common_name, p.grams_per_100g, "g/100 g") for p in acids),
            sources=sources,
            confidence=confidence,
            remark=why,
        ),
    )


def grams_of_acid(fatty: Sequence[tuple[float, Ingredient]], *codes: str) -> float:
    """Grams of some acids in the oils, as far as they are known typically."""
    return fsum(
        mass * fsum(item.lipid.acids.share_of(code) for code in codes)
        for mass, item in fatty
        if item.lipid is not None and item.lipid.acids
    )


def share_of_acids(fatty: Sequence[tuple[float, Ingredient]], *codes: str) -> float | None:
    """Some acids in the oils [% by mass], of a wax or a hydrocarbon none; None where too much of it is unknown."""
    total = fsum(mass for mass, _ in fatty)
    unknown = fsum(mass for mass, item in fatty if item.lipid is None and item.kind != "wax")
    if not total or exceeds(unknown, UNKNOWN_ALLOWED * total):
        return None
    return 100 * grams_of_acid(fatty, *codes) / total


@dataclass(frozen=True, slots=True, eq=False)
class _Lots:
    """The oils of a blend in their possible lots: of each, what it brings of fatty acids [g]; and the sum of that."""

    oils: tuple[tuple[Lipid, LipidDraws, Array], ...]
    whole: Array

    @classmethod
    def of(cls, fatty: list[tuple[float, Ingredient]]) -> _Lots:
        """Draw every oil once, for all figures of the blend."""
        oils, whole = [], np.zeros(COUNT)
        for mass, item in fatty:
            draws = draws_of(item.lipid) if item.lipid else None
            if item.lipid is None or draws is None:
                continue
            bound = mass * draws.fatty_acid_yield
            oils.append((item.lipid, draws, bound))
            whole += bound
        return cls(tuple(oils), whole)

    def band_of(self, chosen: Collection[FattyAcid]) -> tuple[float, float]:
        """Low and high [% of fatty acids] of a sum of acids, over the possible lots of every oil."""
        held = np.zeros(COUNT)
        for lipid, draws, bound in self.oils:
            held += bound * sum_of(lipid, tuple(place for place, acid in enumerate(draws.acids) if acid in chosen))
        return band(100 * held / self.whole)


def _titration_band(spec: FigureSpec, known: list[tuple[float, Ingredient, Lipid]]) -> tuple[float, float]:
    """Low and high of a titration value of the fatty part, over the possible lots of every oil."""
    lots = np.zeros(COUNT)
    for mass, _, lipid in known:
        draws = draws_of(lipid)
        if draws is not None:
            lots += mass * (draws.iodine_value if spec is IODINE_VALUE else draws.saponification_value)
    return band(lots / sum(mass for mass, _, _ in known))


def _profile_sources(fatty: list[tuple[float, Ingredient]]) -> tuple[str, ...]:
    return tuple(
        dict.fromkeys(
            share.source for _, item in fatty if item.lipid and item.lipid.acids for share in item.lipid.acids.shares
        )
    )


def fatty_mean(spec: FigureSpec, fatty: list[tuple[float, Ingredient]]) -> Finding:
    """A titration value of the fatty part (iodine or saponification value): the mean by mass, with its band."""
    value_of = iodine_value if spec is IODINE_VALUE else saponification_value
    known: list[tuple[float, Ingredient, Lipid]] = [(m, i, i.lipid) for m, i in fatty if i.lipid is not None]
    why = _why_unknown(fatty)
    total = sum(mass for mass, _, _ in known)
    if why or not total:
        return Finding.unknown(spec, why or NO_OIL)
    value = sum(mass * value_of(lipid) for mass, _, lipid in known) / total
    low, high = _titration_band(spec, known)
    inputs = tuple(
        Input(
            item.name,
            value_of(lipid),
            unit=spec.unit,
            share=100 * mass / total,
            source=lipid.acids.shares[0].source if lipid.acids else item.source,
            locator=lipid.lipid_class.replace("_", " "),
            confidence=item.confidence,
        )
        for mass, item, lipid in known
    )
    _, left_out = _unknown_fat(fatty)
    remark = f"Leaves out {listed(left_out)}, whose composition is unknown." if left_out else ""
    if any(acid.conjugated for _, _, lipid in known if lipid.acids for acid in lipid.acids.fractions):
        remark = f"{remark} Conjugated acids: a Wijs titration reads lower than this.".strip()
    confidence = least_confidence(item.confidence for _, item, _ in known)
    return Finding(
        spec=spec,
        value=value,
        low=low,
        high=high,
        inputs=inputs,
        sources=cited(inputs, spec.method.replace("_", "-")),
        confidence=confidence,
        remark=remark,
    )
