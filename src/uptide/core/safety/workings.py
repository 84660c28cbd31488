"""How the figures of whom a blend may harm are computed, in words a person can check."""

from __future__ import annotations

from uptide.core.figures.method import Method
from uptide.core.measures.habits import DROPS_HIGH, DROPS_LOW
from uptide.core.safety.case import RETINOL_EQUIVALENT
from uptide.core.safety.limits import LEFT_ON, RINSED

WORKINGS = (
    Method(
        "scent_against_limits",
        "T = Σ pᵢ, against min(product, wearer, age)",
        "All scents at the upper end of their range together, by mass; of the limits that apply the lowest "
        "counts. Above the suggested share a note, above the most a stop; each oil is also held against its own "
        "limit.",
        f"Limits from memory; a certificate and local law win. Drops run from {DROPS_LOW:g} to {DROPS_HIGH:g} to "
        "the mL: weigh.",
        ("tisserand-young-2014", "common-practice"),
    ),
    Method(
        "sum_of_phototoxic_ratios",
        "S = Σ pᵢ / limitᵢ, or 10⁴ · Σ pᵢ bᵢ / 100 against 15 mg/kg",
        "Oils that burn in the sun, each share over its limit; above 1 left on skin is a stop. Where bergapten "
        "was certified for every citrus oil, it counts in their place; angelica, cumin, rue, tagetes and mandarin "
        "leaf are never cleared by it.",
        "Limits from memory. Bath and what is rinsed off lie outside the rule, but a film may stay.",
        ("ifra",),
    ),
    Method(
        "allergens_above_threshold",
        f"c = Σ pᵢ xᵢ / 100 > {LEFT_ON:g} % left on, {RINSED:g} % rinsed off",
        "Each scent’s constituents at their highest, or as certified; whole oils on the list by their own share. "
        "The list has 81 names after 31 July 2026 for what is new, after 31 July 2028 for all; till then 24 may.",
        "Compositions from memory: a certificate of the lot is better. Lists differ by country.",
        ("eu-1223-2009", "eu-2023-1545"),
    ),
    Method(
        "retinol_equivalents",
        "RE = Σ pᵢ · M(retinol) / Mᵢ",
        "Each form of vitamin A counts as the retinol in it: 1 of retinol, "
        f"{RETINOL_EQUIVALENT['retinyl-acetate']:.3f} of the acetate, {RETINOL_EQUIVALENT['retinyl-palmitate']:.3f} "
        "of the palmitate. What is diluted counts by what is in it.",
        "As good as the stated strength of what was bought; such things lose strength in light and air.",
        ("eu-1223-2009",),
    ),
    Method(
        "medicines_by_rule",
        "each medicine of the card × each thing in it",
        "Every rule about a medicine is asked of each thing by itself, however little of it there is. A scent of "
        "which no rule speaks is named as one of which nothing is known.",
        "From memory, most of it seen in the test tube or by mouth. A pharmacist knows more.",
        ("tisserand-young-2014",),
    ),
)
