"""The figures of keeping, as findings: months, oxidizability, induction time."""

from __future__ import annotations

from collections.abc import Mapping

from uptide.core.figures.finding import Finding, Input
from uptide.core.figures.specs import COX_VALUE, FIT_TO_SELL, INDUCTION_TIME_110C, KEEPS_MONTHS
from uptide.core.keeping.shelf_life import ShelfLife

SOLD_FOR = 12  # months that a thing to be sold is wanted to hold: the way to a shelf, and a year on it; common practice


def fit_to_sell(shelf_life: ShelfLife) -> tuple[Finding, ...]:
    """Whether nine bottles in ten hold as long as a thing to be sold must, where it will stand."""
    if shelf_life.months is None or shelf_life.mixture is None:
        why = f"Unknown, so not fit to sell: {shelf_life.reason}"
        return (Finding.unknown(FIT_TO_SELL, why, word="not fit to sell"),)
    holds = shelf_life.months >= SOLD_FOR
    short = SOLD_FOR - shelf_life.months
    said = (
        f"Nine bottles in ten hold {shelf_life.months} months where it will stand, and {SOLD_FOR} are wanted."
        if holds
        else f"It holds {shelf_life.months} months, {short} too few. “What would help most” says what lengthens it."
    )
    return (
        Finding(
            spec=FIT_TO_SELL,
            value=float(shelf_life.months),
            low=shelf_life.low,
            high=shelf_life.high,
            sources=("common-practice",),
            confidence="low",
            remark=f"{said} A model is no stability test: keep bottles of each batch and look at them.",
            word=f"holds {SOLD_FOR} months" if holds else f"not {SOLD_FOR} months",
        ),
    )


def shelf_life_findings(shelf_life: ShelfLife, names: Mapping[str, str]) -> tuple[Finding, ...]:
    """Months that may be promised, Cox value and induction time of the oils; `names` by ingredient key."""
    mixture = shelf_life.mixture
    if mixture is None:
        return tuple(Finding.unknown(spec, shelf_life.reason) for spec in (KEEPS_MONTHS, COX_VALUE))
    parts = [part for part in mixture.parts if not part.oil.is_inert]
    hours = tuple(
        Input(
            names.get(p.oil.key, p.oil.key),
            p.oil.osi_hours or 0.0,
            unit="h at 110 °C",
            share=100 * p.share,
            source=p.oil.source,
            locator=f"{p.oil.lot_class}, Cox value {p.oil.cox:.2f}",
            confidence=p.oil.confidence,
        )
        for p in parts
    )
    more = (
        Input("Protection factor of what was added", shelf_life.protection, "×"),
        Input("Limit of the peroxide value", mixture.limit_pv, "meq/kg"),
        Input("Half of such bottles reach", shelf_life.typical, "months"),
    )
    sources = tuple(dict.fromkeys(["ozilgen-1990", "oxidation-calibration", *(p.oil.source for p in parts)]))
    trade = (
        f" The trade’s shortest-lived oil, {shelf_life.trade_oil}, gives {shelf_life.trade_months:.0f} months."
        if shelf_life.trade_months
        else ""
    )
    why = shelf_life.reason or f"Limited by {shelf_life.limited_by}.{trade}"
    return (
        Finding(
            spec=KEEPS_MONTHS,
            value=float(shelf_life.months or 0),
            low=shelf_life.low,
            high=shelf_life.high,
            inputs=(*hours, *more),
            sources=sources,
            confidence="low",
            remark=why,
        ),
        Finding(
            spec=COX_VALUE,
            value=mixture.cox,
            inputs=tuple(Input(names.get(p.oil.key, p.oil.key), p.oil.cox, "", 100 * p.share) for p in parts),
            sources=("cox-1980",),
            confidence="medium",
            remark="",
        ),
        Finding(
            spec=INDUCTION_TIME_110C,
            value=mixture.induction_hours,
            low=mixture.careful_hours,
            high=mixture.induction_hours,
            inputs=hours,
            sources=sources,
            confidence="low",
            remark="" if mixture.induction_hours else "Nothing in it can oxidise.",
        ),
    )
