"""How far a lot has turned, and how long it still keeps where it stands: by the model that a blend is kept by."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache

from uptide.core.arrays import quantiles
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.ingredients.lot import Lot
from uptide.core.keeping.limiting import horizon
from uptide.core.keeping.mixing import antioxidants_of, mixture_of, protection_of
from uptide.core.keeping.shelf_life import School, cap_months, refusal
from uptide.core.measures.lines import Line
from uptide.core.months import DAYS_A_MONTH
from uptide.core.oxidation.mixture import OilMixture
from uptide.core.oxidation.simulate import Draws, book_peroxide, simulate
from uptide.core.oxidation.surroundings import Storage
from uptide.core.recipe.recipe import Row, RowStatus
from uptide.core.tolerance import exceeds

SOON = 1.0  # months: a lot with less is said to turn soon
BY_SUPPLIER, BY_PLANTS = "the supplier’s best before", "the plants in it"
PAST_THE_MEDIAN = 1.2  # median lives: far enough where only half of the lots and one in ten are asked for


@dataclass(frozen=True, slots=True)
class LotLife:
    """Part of its life that a lot has spent (1 at its end), months left and the day they end on, and what says so.

    `months_left` is what nine in ten such lots reach, `typical` what half of them do; both are None where neither the
    model nor the supplier knows. `peroxides` [meq/kg] stand beside their `limit` where the model knows them.
    """

    spent: float | None
    months_left: float | None
    ends_on: date | None
    limited_by: str
    typical: float | None = None
    peroxides: float | None = None
    limit: float | None = None

    @property
    def is_over(self) -> bool:
        """It has turned, typically, or is past its supplier's date."""
        return self.typical is not None and self.typical <= 0

    @property
    def is_in_doubt(self) -> bool:
        """One in ten such lots has turned already: it is smelled and tested before it is used."""
        return not self.is_over and self.months_left is not None and self.months_left <= 0

    @property
    def ends_soon(self) -> bool:
        """It should be used up now."""
        return self.months_left is not None and not exceeds(self.months_left, SOON)


def lot_life(lot: Lot, item: Ingredient, today: date, draws: Draws) -> LotLife:
    """Say how long a lot keeps from today: as the model says, or until the supplier's best before if that is first."""
    supplier = (lot.best_before - today).days / DAYS_A_MONTH if lot.best_before else None
    dated = BY_PLANTS if lot.infusion is not None else BY_SUPPLIER
    read = _read(item)
    if refusal(read, School.COMPUTED) is not None:
        said = dated if lot.best_before else "nothing is known of it"
        return LotLife(None, supplier, ends_on=lot.best_before, limited_by=said, typical=supplier)
    mixed = mixture_of(read)
    protection = protection_of(mixed, antioxidants_of(read))
    low, typical, spent = _left(mixed, protection, lot.storage, today.month - 1, draws)
    cap = cap_months(mixed)
    peroxides = book_peroxide(mixed)
    if supplier is not None and supplier < min(low, cap):
        typical = min(typical, supplier)
        return LotLife(
            spent,
            supplier,
            ends_on=lot.best_before,
            limited_by=dated,
            typical=typical,
            peroxides=peroxides,
            limit=mixed.limit_pv,
        )
    if low > cap:
        left, said = float(cap), f"the cap of {cap:.0f} months that no promise passes"
    else:
        left, said = low, "the oil itself, typically" if typical <= 0 else "the oil itself, in nine lots of ten"
    ends_on = today + timedelta(days=int(left * DAYS_A_MONTH))
    return LotLife(
        spent, left, ends_on=ends_on, limited_by=said, typical=typical, peroxides=peroxides, limit=mixed.limit_pv
    )


def _read(item: Ingredient) -> list[tuple[Row, Ingredient]]:
    """A hundred grams of it as the rows of a blend: what keeps a blend, and what it is refused for, holds for a lot."""
    return [
        (
            Row(
                place,
                part.name,
                status=RowStatus.READ,
                line=Line(part.name),
                ingredient=part,
                grams=100 * share,
                past=part.past,
            ),
            part,
        )
        for place, (part, share) in enumerate(item.parts or ((item, 1.0),))
    ]


@lru_cache(maxsize=2048)
def _left(
    mixed: OilMixture, protection: float, storage: Storage, start_month: int, draws: Draws
) -> tuple[float, float, float]:
    """Months that nine in ten and half of such lots reach from now on, and the part of its life that half have spent.

    Worked out once for what is alike.
    """
    months = horizon(mixed, storage, protection, reach=PAST_THE_MEDIAN)
    found = simulate(mixed, storage, draws, start_month=start_month, protection=protection, months=months)
    (spent,) = quantiles(found.spent(0.0), (0.50,))
    return found.quantile(0.10), found.quantile(0.50), max(0.0, float(spent))
