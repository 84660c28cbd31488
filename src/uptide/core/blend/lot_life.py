"""How far a lot has turned, and how long it still keeps where it stands: by the median of the model, without a band."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from math import fsum

from uptide.core.blend.ingredient import Ingredient, LotPast
from uptide.core.blend.keeping import TRACE_PV
from uptide.core.blend.lot import Lot, warmth_of
from uptide.core.oxidation import rate
from uptide.core.oxidation.history import peroxides_after
from uptide.core.oxidation.oil import OilOxidation
from uptide.core.oxidation.pool import Part, pool
from uptide.core.oxidation.surroundings import OPENED_AGEING, OPENED_OXIDATION

DAYS_A_MONTH = rate.HOURS_A_MONTH / 24
SOON = 1.0  # months: a lot with less is said to turn soon


@dataclass(frozen=True, slots=True)
class LotLife:
    """Part of its life that a lot has spent (1 at its end), months left and the day they end on, and what says so.

    `months_left` is None where neither the model nor the supplier knows; `peroxides` [meq/kg] where the model does.
    """

    spent: float | None
    months_left: float | None
    ends_on: date | None
    limited_by: str
    peroxides: float | None = None
    limit: float | None = None

    @property
    def is_over(self) -> bool:
        """It has turned, or is past its supplier's date."""
        return self.months_left is not None and self.months_left <= 0

    @property
    def ends_soon(self) -> bool:
        """It should be used up now."""
        return self.months_left is not None and self.months_left <= SOON


def lot_life(lot: Lot, item: Ingredient, today: date) -> LotLife:
    """Say how long a lot keeps from today: as the model says, or until the supplier's best before if that is first."""
    model = _by_model(lot, item)
    supplier = (lot.best_before - today).days / DAYS_A_MONTH if lot.best_before else None
    if model is None:
        ends = lot.best_before
        return LotLife(None, supplier, ends, "the supplier’s best before" if ends else "nothing is known of it")
    spent, left, peroxides, limit = model
    if supplier is not None and supplier < left:
        return LotLife(spent, supplier, lot.best_before, "the supplier’s best before", peroxides, limit)
    ends_on = today + timedelta(days=round(left * DAYS_A_MONTH))
    return LotLife(spent, left, ends_on, "the oil itself, typically", peroxides, limit)


def _by_model(lot: Lot, item: Ingredient) -> tuple[float, float, float, float] | None:
    """Life spent, months left, peroxides now and their limit; None for what the model does not know."""
    oils = [(part, share) for part, share in item.parts or ((item, 1.0),) if part.is_fatty]
    if not oils or any(part.oxidation is None for part, _ in oils):
        return None
    mixed = pool(
        [Part(part.oxidation, share, _now(part.oxidation, part.past)) for part, share in oils if part.oxidation]
    )
    celsius = warmth_of(lot.place)
    opened = lot.opened_on is not None
    aged = item.past.aged if item.past else ()
    ageing_life = float(rate.ageing_months(celsius + 273.15)) / (OPENED_AGEING if opened else 1.0)
    old = fsum(step.hours / rate.HOURS_A_MONTH / float(rate.ageing_months(step.celsius + 273.15)) for step in aged)
    if mixed.pooled is None:
        return old, (1 - old) * ageing_life, 0.0, mixed.limit_pv
    whole = fsum(part.share for part in mixed.parts)
    held = [(part.share / whole, part.pv if part.pv is not None else part.oil.fresh_pv) for part in mixed.parts]
    peroxides = max(fsum(share * pv for share, pv in held), TRACE_PV)
    turned = float(rate.dose(min(peroxides, 250.0), mixed.fresh_pv, mixed.limit_pv))
    kappa = float(rate.speed(mixed.pooled, mixed.fresh_pv, celsius + 273.15)) * (OPENED_OXIDATION if opened else 1.0)
    oxidising = float(rate.life_span(mixed.fresh_pv, mixed.limit_pv)) / kappa / rate.HOURS_A_MONTH
    spent = max(0.0, turned) + old
    return spent, (1 - spent) / (1 / oxidising + 1 / ageing_life), peroxides, mixed.limit_pv


def _now(oil: OilOxidation, past: LotPast | None) -> float | None:
    """Peroxide value [meq/kg] after what the lot has behind it; None for a fresh one."""
    if past is None or oil.is_inert:
        return None
    start = oil.fresh_pv if past.peroxide_value is None else max(past.peroxide_value, TRACE_PV)
    return peroxides_after(oil, (*past.aged, *past.steps), start)
