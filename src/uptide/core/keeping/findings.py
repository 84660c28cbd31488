"""The figures of keeping, as findings: months, oxidizability, induction time."""

from __future__ import annotations

from collections.abc import Mapping

from uptide.core.figures.finding import Finding, Input
from uptide.core.keeping.shelf_life import ShelfLife


def shelf_life_findings(shelf_life: ShelfLife, names: Mapping[str, str]) -> tuple[Finding, ...]:
    """Months that may be promised, Cox value and induction time of the oils; `names` by ingredient key."""
    titles = (("keeps_months", "Keeps", "months"), ("cox_value", "Oxidizability (Cox value)", "oleic = 1"))
    mixture = shelf_life.mixture
    if mixture is None:
        return tuple(
            Finding(key, title, None, None, None, unit, "kinetic_life", remark=shelf_life.reason)
            for key, title, unit in titles
        )
    parts = [part for part in mixture.parts if not part.oil.is_inert]
    hours = tuple(
        Input(
            names.get(p.oil.key, p.oil.key), p.oil.osi_hours or 0.0, "h at 110 °C", 100 * p.share, p.oil.source,
            f"{p.oil.lot_class}, Cox value {p.oil.cox:.2f}", p.oil.confidence,
        )
        for p in parts
    )  # fmt: skip
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
            "keeps_months",
            "Keeps",
            float(shelf_life.months or 0),
            shelf_life.low,
            shelf_life.high,
            "months",
            "kinetic_life",
            (*hours, *more),
            sources,
            "low",
            why,
            decimals=0,
        ),
        Finding(
            "cox_value",
            "Oxidizability (Cox value)",
            mixture.cox,
            None,
            None,
            "oleic = 1",
            "cox_value",
            tuple(Input(names.get(p.oil.key, p.oil.key), p.oil.cox, "", 100 * p.share) for p in parts),
            ("cox-1980",),
            "medium",
            "",
            decimals=2,
        ),
        Finding(
            "induction_time_110c",
            "Induction time at 110 °C",
            mixture.induction_hours,
            mixture.careful_hours,
            mixture.induction_hours,
            "h",
            "pooled_induction",
            hours,
            sources,
            "low",
            "" if mixture.induction_hours else "Nothing in it can oxidise.",
            decimals=1,
        ),
    )
