"""Into the water: what a bath or cleansing oil does in a tub or on a wet face.

Figures are arithmetic; areas, tubs and rules of thumb are common practice, from memory.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from math import floor

from uptide.core.physics.hlb import SELF_DISPERSING, Emulsified, Emulsifier, HlbError, share_of_two
from uptide.core.safety.case import Case
from uptide.core.tolerance import exceeds, reaches

TUB_LITRES, BABY_TUB_LITRES, FOOT_BATH_LITRES = 150.0, 20.0, 8.0
TUB_AREA, SKIN_AREA = 0.9, 1.7  # m² of water's surface and of an adult's skin; common practice
POURED_ML = 15.0  # mL of bath oil to a bath
SHOWER_ML = 10.0  # mL of shower oil over a wet body; common practice
FLOATS_IN = {
    "bath": "it floats as a film on water, tub and skin",
    "shower": "a film of it stays on skin, floor and drain",
    "face": "a film of it stays on the face",
}
DROPS_A_TUB = (2, 4, 6)  # least, usual, most of essential oil in 150 L, dispersed; common practice
DROPS_IN_15_ML = 6  # drops of essential oil to 15 mL of carrier; common practice
BATH_EMULSIFIER = (10.0, 30.0)  # % that makes an oil disperse itself; common practice
CLEANSING_EMULSIFIER = (10.0, 20.0)  # % in a cleansing oil; common practice
NEAR_HLB = 1.0  # from what the oils want: so near, one emulsifier does it alone; common practice
LEAST_PART = 0.15  # g/g of a pair: with less of one, the pair is hardly one
CLEANSE_ML = 2.0  # mL of cleansing oil on a face; common practice
CONTACT_SECONDS = 60  # a cleansing oil is worked in dry for at least so long; common practice

# What does not disperse oil in a bath, and why: common practice, from memory.
DOES_NOT_DISPERSE: Mapping[str, str] = {
    "milk": "its own fat is already coated; a little oil holds after hard shaking, and lets go when poured thin",
    "honey": "it dissolves in water and has no soap to it",
    "sea-salt": "crystals hold oil on their surface until they dissolve; salt even drives oil out",
    "epsom-salt": "crystals hold oil on their surface until they dissolve; salt even drives oil out",
    "baking-soda": "crystals hold oil on their surface until they dissolve",
    "aloe-gel": "thick water holds drops in place only until it is diluted",
    "witch-hazel": "water with at most 15 % of alcohol",
    "ethanol": "neat it dissolves oil, but a spoonful in a tub is 0.01 %: the oil comes out again",
    "glycerin": "it does not dissolve terpenes",
    "corn-starch": "powder takes oil up and lets it go when it is wet",
    "colloidal-oat": "powder takes oil up and lets it go when it is wet",
    "kaolin": "powder takes oil up and lets it go when it is wet",
    "cider-vinegar": "it is water",
}


class InWater(StrEnum):
    """What an oil does when it meets water."""

    FLOATS = "floats"
    DISPERSES = "disperses"
    SOAP_CARRIED = "carried by soap"
    UNSURE = "may disperse"


class Rinse(StrEnum):
    """The three schools of taking a cleansing oil off."""

    CLOTH = "wipe with a damp cloth"
    SECOND = "a second, mild cleanser"
    EMULSIFIER = "water alone, by an emulsifier in the oil"


def milligrams_per_litre(grams: float, litres: float) -> float:
    """How much of something there is in a tub if it were mixed through.

    >>> round(milligrams_per_litre(0.1105, 150), 4)
    0.7367
    """
    return 1000 * grams / litres


def film_micrometres(millilitres: float, square_metres: float) -> float:
    """How thick a film an oil makes if all of it floats.

    >>> round(film_micrometres(15, 1.7), 1)
    8.8
    """
    return millilitres / square_metres


def drops_for(litres: float) -> int:
    """How many drops a smaller or larger tub may have: the most for 150 L in proportion, rounded down.

    >>> drops_for(150), drops_for(20), drops_for(8)
    (6, 0, 0)
    """
    return floor(DROPS_A_TUB[2] * litres / TUB_LITRES + 1e-9)


@dataclass(frozen=True, slots=True)
class Emulsifying:
    """One or two emulsifiers that make what the oils want: keys with their shares of the whole [%]."""

    shares: tuple[tuple[str, float], ...]
    natural: bool


@dataclass(frozen=True, slots=True)
class Bath:
    """What happens in the water: the verdict and its reason, HLB, films [µm], scent in the tub, what does not help.

    `place` is where it meets water: a bath, a shower or a face. `residue` is what each school of rinsing leaves on a
    face [g], for a cleansing oil; `drops` the scent in a bath.
    """

    place: str
    verdict: InWater
    reason: str
    emulsified: Emulsified
    emulsifier_percent: float
    wanted_percent: tuple[float, float]
    natural: bool | None
    film_tub: float
    film_skin: float
    scent_mg_per_l: float
    drops: float | None
    idle: tuple[tuple[str, str], ...]
    offers: tuple[Emulsifying, ...]
    residue: tuple[tuple[Rinse, float], ...]
    solvent_percent: float


SOLVENT_KINDS = frozenset({"ester", "hydrocarbon"})  # with MCT: thin oils that loosen make-up; common practice
SOAPS = frozenset({"liquid-soap", "body-wash-unscented"})
# Parts of soap to one of oil from which it carries it; common practice (a tablespoon to 5 or 6 drops).
SOAP_RATIO = 20.0


def bath_of(case: Case, *, poured_ml: float = POURED_ML, litres: float = TUB_LITRES) -> Bath | None:
    """Work out what a bath, shower or cleansing oil does in water; None for a product that meets none."""
    if case.purpose.area not in ("bath", "shower") and case.purpose.product != "cleansing-oil":
        return None
    tables = case.tables
    workers = [part for part in case.parts if part.key in tables.emulsifiers and part.measured]
    oils = [(part.key, part.typical) for part in case.oils] + [("scent", part.typical) for part in case.scents]
    emulsified = Emulsified.of(
        oils,
        [(part.key, part.typical) for part in workers],
        required=tables.required_hlb,
        known_emulsifiers=tables.emulsifiers,
    )
    share = sum(part.typical for part in workers)
    oily = sum(part.typical for part in (*case.oils, *case.scents))
    soap = sum(part.typical for part in workers if part.key in SOAPS)
    cleansing = case.purpose.product == "cleansing-oil"
    wanted = CLEANSING_EMULSIFIER if cleansing else BATH_EMULSIFIER
    place = "face" if cleansing else case.purpose.area
    verdict, reason = _verdict(emulsified, share, wanted, oily, soap=soap, place=place)
    if place == "shower":
        poured_ml = min(poured_ml, SHOWER_ML)
    density = 100 / sum(part.typical / part.item.density for part in case.parts) if case.is_weighed else 0.92
    scent_g = poured_ml * density * case.scent_by_mass / 100
    naturals = {tables.emulsifiers[part.key].natural for part in workers}
    solvents = sum(part.typical for part in case.oils if part.item.kind in SOLVENT_KINDS or part.key == "mct")
    return Bath(
        place,
        verdict,
        reason=reason,
        emulsified=emulsified,
        emulsifier_percent=share,
        wanted_percent=wanted,
        natural=naturals <= {"yes", "often"} if naturals else None,
        film_tub=film_micrometres(poured_ml, TUB_AREA),
        film_skin=film_micrometres(poured_ml, SKIN_AREA),
        scent_mg_per_l=milligrams_per_litre(scent_g, litres),
        drops=scent_g / _scent_density(case) * DROPS_PER_ML if scent_g else None,
        idle=tuple((p.item.name, DOES_NOT_DISPERSE[p.key]) for p in case.parts if p.key in DOES_NOT_DISPERSE),
        offers=_offers(case, emulsified, wanted, share),
        residue=_residue(verdict, oily) if cleansing else (),
        solvent_percent=solvents,
    )


DROPS_PER_ML = 20.0  # as everywhere in the rules: counts the dose rather too high
RESIDUE = {
    InWater.DISPERSES: 0.05,
    InWater.SOAP_CARRIED: 0.05,
    InWater.UNSURE: 0.3,
    InWater.FLOATS: 0.6,
}  # g/g of the oil that water alone leaves on the face; assumption
LEFT_BY_CLOTH, LEFT_BY_CLEANSER = 0.25, 0.05  # g/g of the oil that they leave; assumption


def _residue(verdict: InWater, oily: float) -> tuple[tuple[Rinse, float], ...]:
    """Grams of oil that stay on a face after one cleansing, by each school; assumptions, and said so."""
    on_face = CLEANSE_ML * 0.92 * oily / 100
    return (
        (Rinse.CLOTH, on_face * LEFT_BY_CLOTH),
        (Rinse.SECOND, on_face * LEFT_BY_CLEANSER),
        (Rinse.EMULSIFIER, on_face * RESIDUE[verdict]),
    )


def _scent_density(case: Case) -> float:
    total = sum(part.high for part in case.scents)
    return total / sum(part.high / part.item.density for part in case.scents)


def _verdict(
    emulsified: Emulsified, share: float, wanted: tuple[float, float], oily: float, *, soap: float, place: str
) -> tuple[InWater, str]:
    if share <= 0:
        return InWater.FLOATS, f"Nothing in it makes oil part in water: {FLOATS_IN[place]}."
    if soap and oily and reaches(soap / oily, SOAP_RATIO):
        return InWater.SOAP_CARRIED, f"{soap / oily:.0f} parts of soap to one of oil carry it through the water."
    if share < wanted[0]:
        return (
            InWater.UNSURE,
            f"{share:.1f} % of emulsifier is little; {wanted[0]:g} to {wanted[1]:g} % is usual. "
            f"{'Most of it will float.' if place == 'bath' else 'Most of it will not rinse off.'}",
        )
    if emulsified.present is None:
        return InWater.UNSURE, "The HLB of its emulsifier is not known."
    least, most = SELF_DISPERSING
    if emulsified.fits or least <= emulsified.present <= most:
        required = "" if emulsified.required is None else f" The oils want about {emulsified.required:.1f}."
        return InWater.DISPERSES, f"{share:.1f} % of emulsifier with an HLB of {emulsified.present:.1f}.{required}"
    side = "low: it will part at once" if emulsified.present < least else "high: it will foam without a cloud"
    return InWater.UNSURE, f"The emulsifier’s HLB of {emulsified.present:.1f} is {side}."


def _offers(case: Case, emulsified: Emulsified, wanted: tuple[float, float], share: float) -> tuple[Emulsifying, ...]:
    """Water-free emulsifiers that make what the oils want, alone or in pairs; those natural standards accept first."""
    required = emulsified.required
    if required is None:
        return ()
    usable: list[Emulsifier] = [
        e for e in case.tables.emulsifiers.values() if e.usual is not None and not e.brings_water
    ]
    total = share if share >= wanted[0] else sum(wanted) / 2
    alone = [
        (abs(e.hlb - required), Emulsifying(((e.key, total),), _is_natural(e)))
        for e in usable
        if not exceeds(abs(e.hlb - required), NEAR_HLB)
    ]
    pairs = []
    for high in usable:
        for low in usable:
            if high.hlb <= low.hlb or high.ionic != low.ionic:
                continue
            try:
                part = share_of_two(required, high.hlb, low.hlb)
            except HlbError:
                continue
            if reaches(part, LEAST_PART) and not exceeds(part, 1 - LEAST_PART):
                made = ((high.key, total * part), (low.key, total * (1 - part)))
                pairs.append((abs(2 * part - 1), Emulsifying(made, _is_natural(high) and _is_natural(low))))
    return tuple(offer for found in (alone, pairs) for offer in _best(found))


def _is_natural(emulsifier: Emulsifier) -> bool:
    return emulsifier.natural in ("yes", "often")


def _best(found: list[tuple[float, Emulsifying]]) -> list[Emulsifying]:
    """The first of those that natural standards often accept, and the first two of the others."""
    ranked = [offer for _, offer in sorted(found, key=lambda pair: pair[0])]
    natural = [offer for offer in ranked if offer.natural]
    return natural[:2] + [offer for offer in ranked if not offer.natural][: 2 if not natural else 1]
