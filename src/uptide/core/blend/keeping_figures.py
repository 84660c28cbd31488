"""The figures of keeping, as findings: months, oxidizability, induction time."""

from __future__ import annotations

from collections.abc import Mapping

from uptide.core.blend.assessment import Finding, Input
from uptide.core.blend.keeping import Keeping


def keeping_findings(keeping: Keeping, names: Mapping[str, str]) -> tuple[Finding, ...]:
    """Months that may be promised, Cox value and induction time of the oils; `names` by ingredient key."""
    titles = (("keeps_months", "Keeps", "months"), ("cox_value", "Oxidizability (Cox value)", "oleic = 1"))
    pool = keeping.pool
    if pool is None:
        return tuple(
            Finding(key, title, None, None, None, unit, "kinetic_life", remark=keeping.reason)
            for key, title, unit in titles
        )
    parts = [part for part in pool.parts if not part.oil.is_inert]
    hours = tuple(
        Input(
            names.get(p.oil.key, p.oil.key), p.oil.osi_hours or 0.0, "h at 110 °C", 100 * p.share, p.oil.source,
            f"{p.oil.lot_class}, Cox value {p.oil.cox:.2f}", p.oil.confidence,
        )
        for p in parts
    )  # fmt: skip
    more = (
        Input("Protection factor of what was added", keeping.protection, "×"),
        Input("Limit of the peroxide value", pool.limit_pv, "meq/kg"),
        Input("Half of such bottles reach", keeping.typical, "months"),
    )
    sources = tuple(dict.fromkeys(["ozilgen-1990", "oxidation-calibration", *(p.oil.source for p in parts)]))
    trade = (
        f" The trade’s shortest-lived oil, {keeping.trade_oil}, gives {keeping.trade_months:.0f} months."
        if keeping.trade_months
        else ""
    )
    why = keeping.reason or f"Limited by {keeping.limited_by}.{trade}"
    return (
        Finding("keeps_months", "Keeps", float(keeping.months or 0), keeping.low, keeping.high, "months",
                "kinetic_life", (*hours, *more), sources, "low", why, decimals=0),
        Finding("cox_value", "Oxidizability (Cox value)", pool.cox, None, None, "oleic = 1", "cox_value",
                tuple(Input(names.get(p.oil.key, p.oil.key), p.oil.cox, "", 100 * p.share) for p in parts),
                ("cox-1980",), "medium", "", decimals=2),
        Finding("induction_time_110c", "Induction time at 110 °C", pool.pooled, pool.careful, pool.pooled, "h",
                "pooled_induction", hours, sources, "low",
                "" if pool.pooled else "Nothing in it can oxidise.", decimals=1),
    )  # fmt: skip
