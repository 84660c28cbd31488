"""How the figures of what happens in a jar are computed, in words a person can check."""

from __future__ import annotations

from uptide.core.figures.method import Method
from uptide.core.infusion.packing import OIL_DENSITY
from uptide.core.infusion.water import GAB_C, GAB_K, MONOLAYER, SAFE_ACTIVITY

WORKINGS = (
    Method(
        "jar_cover",
        f"{OIL_DENSITY:g} · m (1/b − 1/ρe) + {OIL_DENSITY:g} · π/4 · D² · h",
        "The bed that the plant makes, less the plant with the air in its tissue, in oil, and a layer above it.",
        "How loose a plant lies differs by half: the band is from its densest to its loosest.",
    ),
    Method(
        "jar_top_up",
        f"{OIL_DENSITY:g} · m (1/ρe − 1/ρs)",
        "In the first days air leaves the tissue and oil takes its place: the level sinks by that much.",
        "Densities with air and without are assumptions, from handling.",
    ),
    Method(
        "jar_head_room",
        f"1 − (m/ρs + oil/{OIL_DENSITY:g}) / jar",
        "What stays above plant and oil once the air is out; oil grows by 1.8 % from 15 to 40 °C, 2.9 % to 60.",
        "As good as the size of the jar to its brim, and as the plant’s own density.",
    ),
    Method(
        "jar_activity",
        f"X(a) = φ · Xm C K a / [(1 − K a)(1 − K a + C K a)], Xm {MONOLAYER:g}, C {GAB_C:g}, K {GAB_K:g}",
        "Water of plant and oil spreads until both have one activity; what neither holds stays free.",
        "The isotherm is one for leaf, flower and root, from memory: ± 0.05 in activity.",
    ),
    Method(
        "jar_must_leave",
        f"water brought − water held at activity {SAFE_ACTIVITY:.2f}",
        f"Below an activity of {SAFE_ACTIVITY:.2f} nothing grows; what stands above it must leave, before or while "
        "it is warm.",
        "As good as the water content: weigh a handful, dry it in the oven, and weigh it again.",
    ),
    Method(
        "jar_clear",
        "a · s(T strained) = s(T clear)",
        "Oil holds less water in the cold: what it held when it was strained stands out below this temperature.",
        "How much water an oil holds cancels; how fast that falls with the cold is from memory.",
    ),
    Method(
        "jar_out",
        "(oil + what dissolves − u·m)(1 − dregs) − films",
        "The plant keeps u grams a gram, by the way of straining; dregs and films stay on glass and cloth.",
        "What a plant keeps is from memory and low: your own weighings teach it.",
    ),
    Method(
        "jar_life",
        "Σ hours · rate(T) · light · air, over the life at 20 °C in the dark",
        "Each step ages the oil as fast as its warmth, light and air have it.",
        "The model behind it is calibrated on trade lives; light and air are measured by nobody.",
        ("oxidation-calibration",),
    ),
    Method(
        "jar_done",
        "w·(1 − e^(−t/τ₁)) + (1 − w)(1 − e^(−t/τ₂)) = 95 %, t in hours at 20 °C shaken daily",
        "What washes off goes in hours, the rest diffuses; a warm jar is faster as its oil is thinner, one that "
        "is not shaken three times slower.",
        "The times are assumptions, × or ÷ 4: colour and smell say more than the clock.",
    ),
    Method(
        "jar_bound",
        "Σ scent at most · dry plant / oil that it stands in",
        "As if all of the scent passed over: the most that can be in the oil, and usually far less.",
        "An upper bound: nothing measured here could be higher unless the plant holds more scent than is usual.",
    ),
    Method(
        "jar_twice",
        "1 + (m₂/O₁) / (m₁/O), O₁ = O − u·m₁",
        "The second charge stands in less oil, since the first keeps some of it.",
        "For what passes over wholly; of what the plant holds on to it is less, 1.6 to 1.9 times.",
    ),
)
