"""A certificate of analysis: what a laboratory found in one lot, held against what such an oil usually is."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date

from uptide.core.errors import ProfileError
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.lipids.fatty_acids import FattyAcid, FattyAcidProfile, Share
from uptide.core.lipids.lipid import Lipid, LipidClass
from uptide.core.lipids.nearest import most_like, strangeness
from uptide.core.lipids.pasted import FIGURES, AcidAmount
from uptide.core.tolerance import exceeds, reaches

MOST_TOTAL = 102.0  # % of fatty acids: rounding makes no more
FULL = 98.0  # % from which the acids listed are taken for all of them
# How well two laboratories agree on one acid: at least so many points, at least so much of it; common practice.
LEAST_POINTS, RELATIVE = 0.2, 0.03
STRANGE = 2.0  # standard deviations from its own oil, from where another oil is looked for
BETTER = 0.6  # another oil is named when its strangeness is less than this part of the oil's own


@dataclass(frozen=True, slots=True)
class Certificate:
    """Acids [% of fatty acids] by code, figures (see FIGURES) by key, other constituents [%] by name."""

    dated_on: date | None = None
    acids: Mapping[str, AcidAmount] = field(default_factory=dict)
    figures: Mapping[str, float] = field(default_factory=dict)
    constituents: Mapping[str, float] = field(default_factory=dict)

    @property
    def is_empty(self) -> bool:
        """It says nothing."""
        return not (self.acids or self.figures or self.constituents)


@dataclass(frozen=True, slots=True)
class Outlier:
    """Something that lies outside the published range: what, found, allowed, and by how much, in `unit`."""

    title: str
    found: float
    low: float
    high: float
    unit: str
    source: str

    @property
    def beyond(self) -> float:
        """How far beyond the range: above 0 over its high, below 0 under its low."""
        return self.found - self.high if self.found > self.high else self.found - self.low


def certified_profile(
    listed: Mapping[str, AcidAmount],
    acids: Mapping[str, FattyAcid],
    usual: FattyAcidProfile | None = None,
    locator: str = "certificate",
) -> FattyAcidProfile:
    """The profile that a certificate gives; what it does not list keeps the usual proportions in what is left.

    Raises:
        ProfileError: an acid that is not known; a sum of more than a hundred, or of much less with nothing known of
            the rest.
    """
    strange = [code for code in listed if code not in acids]
    if strange:
        raise ProfileError(f"There is no fatty acid {', '.join(strange)} here.")
    total = sum(amount.typical for amount in listed.values())
    if exceeds(total, MOST_TOTAL):
        raise ProfileError(f"The acids sum to {total:.1f} %; up to {MOST_TOTAL:g} % can be rounding.")
    shares = [_measured(acids[code], amount, locator) for code, amount in listed.items()]
    rest = (100 - total) / 100
    others = [share for share in usual.shares if share.acid.code not in listed] if usual is not None else []
    known = sum(share.typical for share in others)
    if reaches(total, FULL):
        pass
    elif known > 0:
        shares += [
            Share(
                share.acid,
                share.low / known * rest,
                typical=share.typical / known * rest,
                high=share.high / known * rest,
                source=share.source,
                locator="not on the certificate: its usual part of what is left",
                confidence="low",
                range_source=share.range_source,
            )
            for share in others
        ]
    else:
        raise ProfileError(
            f"The acids sum to {total:.1f} %, and nothing is known of the other {100 - total:.1f} %; "
            f"give them all ({FULL:g} to {MOST_TOTAL:g} %)."
        )
    whole = sum(share.typical for share in shares)
    return FattyAcidProfile(
        tuple(
            Share(
                s.acid,
                s.low / whole,
                typical=s.typical / whole,
                high=s.high / whole,
                source=s.source,
                locator=s.locator,
                confidence=s.confidence,
                range_source=s.range_source,
            )
            for s in shares
        )
    )


def _measured(acid: FattyAcid, amount: AcidAmount, locator: str) -> Share:
    if amount.low < amount.high:
        low, high = amount.low, amount.high
    else:
        spread = max(LEAST_POINTS, RELATIVE * amount.typical)
        low, high = max(0.0, amount.typical - spread), min(100.0, amount.typical + spread)
    return Share(
        acid,
        low / 100,
        typical=amount.typical / 100,
        high=high / 100,
        source="person",
        locator=locator,
        confidence="high",
    )


def acids_problem(certificate: Certificate, base: Ingredient, acids: Mapping[str, FattyAcid]) -> str:
    """Why the acids of a certificate cannot be a profile; nothing when they can."""
    if not certificate.acids:
        return ""
    if base.is_fatty is False or (base.lipid is not None and base.lipid.acids is None):
        return f"{base.name} has no fatty acids; leave them out and give its other figures."
    try:
        certified_lipid(base, certified_profile(certificate.acids, acids, base.lipid.acids if base.lipid else None))
    except ProfileError as error:
        return str(error)
    return ""


def certified_lipid(base: Ingredient, profile: FattyAcidProfile) -> Lipid:
    """The same kind of fat with another profile; something of unknown class is taken for a triglyceride."""
    if base.lipid is None:
        return Lipid(LipidClass.TRIGLYCERIDE, profile)
    return Lipid(base.lipid.lipid_class, profile, base.lipid.alcohols, base.lipid.unsaponifiable)


def outliers(certificate: Certificate, base: Ingredient) -> tuple[Outlier, ...]:
    """What lies outside the published range of the oil, what lies furthest out first."""
    found = []
    published = {share.acid.code: share for share in base.lipid.acids.shares} if base.lipid and base.lipid.acids else {}
    for code, amount in certificate.acids.items():
        share = published.get(code)
        if share is not None and not share.low <= amount.typical / 100 <= share.high:
            source = share.range_source or share.source
            name = share.acid.common_name.capitalize()
            found.append(
                Outlier(
                    name,
                    amount.typical,
                    low=100 * share.low,
                    high=100 * share.high,
                    unit="% of fatty acids",
                    source=source,
                )
            )
    for key, value in certificate.figures.items():
        ranges = base.properties.get(key, ())
        if ranges and ranges[0].low is not None and ranges[0].high is not None and key in COMPARED:
            low, high = ranges[0].low, ranges[0].high
            if not low <= value <= high:
                found.append(
                    Outlier(
                        FIGURES[key].title, value, low=low, high=high, unit=FIGURES[key].unit, source=ranges[0].source
                    )
                )
    return tuple(sorted(found, key=lambda outlier: -abs(outlier.beyond)))


COMPARED = ("iodine_value", "saponification_value", "tocopherols")


def looks_like(
    certificate: Certificate, base: Ingredient, others: Iterable[Ingredient]
) -> tuple[Ingredient, float] | None:
    """The oil that a lot is more like than the one it is sold as, and its distance; None when it is like its own.

    Distances are in standard deviations of the oil's own published ranges.
    """
    measured = {code: amount.typical / 100 for code, amount in certificate.acids.items()}
    if not measured or base.lipid is None or base.lipid.acids is None:
        return None
    own = strangeness(measured, base.lipid.acids)
    if own < STRANGE:
        return None
    known = [item for item in others if not item.lot and item.lipid is not None and item.lipid.acids is not None]
    # Another chemotype of the same plant is likelier than another plant.
    for among in ([item for item in known if item.botanical_name == base.botanical_name], known):
        items = {item.key: item for item in among if item.key != base.key}
        candidates = [(key, item.lipid.acids) for key, item in items.items() if item.lipid and item.lipid.acids]
        for best, distance in most_like(measured, candidates, 1):
            if distance < BETTER * own:
                return items[best], distance
    return None
