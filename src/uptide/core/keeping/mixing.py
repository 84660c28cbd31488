"""The oils of a blend as one mixture, each with what its lot has behind it, and what was added to protect them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import fsum, log, sqrt

from uptide.core.ingredients.ingredient import Ingredient, LotPast
from uptide.core.oxidation import rate
from uptide.core.oxidation.history import ageing_spent, peroxides_after, standing
from uptide.core.oxidation.mixture import MixturePart, OilMixture, mix_oils
from uptide.core.oxidation.oil import OilOxidation
from uptide.core.oxidation.protection import Antioxidants, protection_factor
from uptide.core.oxidation.simulate import LEAST_START, book_peroxide, total_sd
from uptide.core.oxidation.surroundings import Storage
from uptide.core.recipe.recipe import Row

MOST_PV = 250.0  # meq/kg: more than any oil is read at
AS_BOUGHT = replace(Storage(), celsius=(rate.CALIBRATED_KELVIN - 273.15,) * 12, opened=False)  # of known age alone
MEASURED_SD, CLASS_SD = 0.15, 0.5  # ln of the peroxide value at the start: measured, or by the lot's class

Read = Sequence[tuple[Row, Ingredient]]


def inert(key: str) -> OilOxidation:
    """Something that cannot oxidise."""
    return OilOxidation(key, None, "refined", (100.0, 0.0, 0.0, 0.0, 0.0), source="definition")


def mixture_of(read: Read) -> OilMixture:
    """The oils of a blend; waxes are counted as inert, for want of figures."""
    parts = [
        part_of(item.oxidation or inert(item.key), row.grams, row.past)
        for row, item in read
        if item.is_fatty and (item.oxidation is not None or item.kind == "wax") and row.grams
    ]
    protects = fsum(row.grams or 0.0 for row, item in read if item.protects is not None)
    oils = fsum(part.share for part in parts)
    return replace(mix_oils(parts), dissolved=protects / (protects + oils))


def part_of(oil: OilOxidation, grams: float, past: LotPast | None) -> MixturePart:
    """An oil with what its lot has behind it: a measured peroxide value, or an age and heat that make one likely."""
    if past is None:
        return MixturePart(oil, grams)
    stood = past.aged
    before = standing(past.months_old, AS_BOUGHT) if past.months_old else ()
    if past.peroxide_value is None:
        stood = (*stood, *before)
    ageing = past.ageing + ageing_spent((*before, *past.steps))
    if oil.is_inert:
        return MixturePart(oil, grams, ageing=ageing)
    start, spread = (oil.fresh_pv, CLASS_SD) if past.peroxide_value is None else (past.peroxide_value, MEASURED_SD)
    if stood:
        grown = max(peroxides_after(oil, stood, start), LEAST_START)
        # A lot that oxidises faster than the book has aged more: its error enters through how far it has grown.
        spread = sqrt(spread**2 + (total_sd(oil.osi_sd) * log(grown / max(start, LEAST_START))) ** 2)
        start = grown
    if past.steps:
        start = peroxides_after(oil, past.steps, start)
    return MixturePart(oil, grams, min(start, MOST_PV), spread, ageing=ageing)


def antioxidants_of(read: Read) -> Antioxidants:
    """Active substance in the whole [mg/kg], product by product."""
    total = sum(row.grams or 0.0 for row, _ in read)
    amounts: dict[str, float] = {}
    for row, item in read:
        if item.protects is not None:
            substance, active = item.protects
            amounts[substance] = amounts.get(substance, 0.0) + 1e6 * (row.grams or 0.0) * active / total
    return Antioxidants(**amounts)


def protection_of(oils: OilMixture, added: Antioxidants) -> float:
    """By how much what was added slows these oils down: less, once they had begun to turn."""
    return protection_factor(added, oils.gamma, oils.alpha, oils.cox, turned_before(oils))


def turned_before(oils: OilMixture) -> float:
    """How far the oils had turned when they were mixed [meq/kg above fresh]: an antioxidant then comes late."""
    fresh = sum(part.share * part.oil.fresh_pv for part in oils.parts if not part.oil.is_inert)
    return max(0.0, book_peroxide(oils) - fresh)
