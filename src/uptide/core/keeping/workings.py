"""How the figures of how long a blend keeps are computed, in words a person can check."""

from __future__ import annotations

from uptide.core.figures.method import Method
from uptide.core.keeping.findings import SOLD_FOR
from uptide.core.keeping.shelf_life import HARD_CAP, INERT_CAP
from uptide.core.oxidation.oil import COX_WEIGHTS
from uptide.core.oxidation.simulate import BOTTLES

WORKINGS = (
    Method(
        "fit_to_sell",
        f"months that nine in ten hold ≥ {SOLD_FOR}",
        "What is sold stands in a shop and then with somebody for a year.",
        "As good as the model it rests on, and no stability test.",
        ("common-practice",),
    ),
    Method(
        "kinetic_life",
        "D(oxidation) + D(ageing) = 1; du/dt = κ, u = ln[(PV + s)/(M − PV)], κ = L·f/(OSI·S(T)·PF)",
        "Peroxides grow by a logistic law whose speed comes from the induction time at 110 °C, stretched to the "
        "place where it stands, with light, air and antioxidants; a slow ageing runs beside it. What is uncertain "
        f"is drawn {BOTTLES:,} times; promised are the whole months that nine bottles in ten reach, "
        "never more than "
        f"{HARD_CAP} ({INERT_CAP} if nothing can oxidise).",
        "Calibrated on remembered trade lives of 38 oils; light, air, antioxidants and the fridge are not "
        "validated by anybody. See docs/keeping.md.",
        ("ozilgen-1990", "oxidation-calibration"),
    ),
    Method(
        "cox_value",
        "({:g} sat + {:g} mono + {:g} di + {:g} tri + {:g} tetra) / 100".format(*COX_WEIGHTS),
        "How readily the fatty acids oxidise, against oleic acid.",
        "The weights of saturated acids and tetraenes are assumptions.",
        ("cox-1980",),
    ),
    Method(
        "pooled_induction",
        "Σ w·OSI·R / Σ w·R, with R the Cox value",
        "The capacity of the oils to resist, over their readiness to oxidise. The lower figure beside it is the "
        "careful rule, where rates add and no oil protects another.",
        "No table of measured blends was at hand; the rule was chosen by what any rule must satisfy.",
        ("oxidation-calibration",),
    ),
)
