"""How the figures of what is in a blend are computed, in words a person can check."""

from __future__ import annotations

from math import log10

from uptide.core.figures.dispensing import LIMITS
from uptide.core.figures.method import Method
from uptide.core.figures.physical import INDEX_ERROR, INDEX_SLOPE
from uptide.core.figures.setting import WAXED
from uptide.core.lipids.lipid import IODINE_MOLAR_MASS, KOH_MOLAR_MASS
from uptide.core.measures.habits import DROPS_HIGH, DROPS_LOW
from uptide.core.physics.colour import FILM, JUST_SEEN, PER_STEP, PLAIN
from uptide.core.physics.density import DENSITY_ERROR, LIQUID_SLOPE
from uptide.core.physics.settling import HINDERED
from uptide.core.physics.solid import STATES
from uptide.core.physics.viscosity import BLEND_ERROR, INTERCEPT, MEAN_CHAIN, PER_CARBON, PER_DOUBLE_BOND

WAX_WORDS = ", ".join(f"below {bound:g} % {word}" for bound, word in WAXED[:-1])
SOLID_WORDS = ", ".join(f"below {bound:g} % {word}" for bound, word in STATES[:-1])

WORKINGS = (
    Method(
        "sum_of_rows",
        "m = Σ mᵢ",
        "The rows that were read, added up. Spoons and millilitres became grams through the density of each oil.",
        "As good as the measuring: a level spoon is good to about 5 %, a drop to half of itself.",
        ("nist-sp-811", "metric-spoons"),
    ),
    Method(
        "additive_volume",
        "V = Σ mᵢ / ρᵢ",
        "Volumes of oils add when they are mixed.",
        "Oils mix almost without shrinking; 0.1 % is typical.",
        ("additive-volumes",),
    ),
    Method(
        "additive_specific_volume",
        "1/ρ = Σ wᵢ / ρᵢ at 20 °C",
        "Each oil brings its volume. Densities measured at another temperature were brought to 20 °C along "
        f"{LIQUID_SLOPE:g} g/mL per kelvin. A butter counts as the liquid it is once melted.",
        f"± {DENSITY_ERROR:g} g/mL for the spread between lots of one oil.",
        ("additive-volumes", "codex-210", "lipid-literature"),
    ),
    Method(
        "aocs_cd_1c_85",
        f"IV = 100 · {IODINE_MOLAR_MASS:.3f} · n(C=C) / M",
        "Each double bond takes up one iodine molecule. A triglyceride has three acids to the molecule, a wax "
        "ester one acid and one alcohol, a hydrocarbon none. The blend is the mean by mass of its fatty part.",
        "The band holds 95 of 100 lots drawn from the low and high of each acid, closed to 100 %.",
        ("aocs-cd-1c-85",),
    ),
    Method(
        "aocs_cd_3a_94",
        f"SV = 1000 · {KOH_MOLAR_MASS:g} · n(ester) / M · (1 − U)",
        "Potassium hydroxide that splits every ester bond, less the unsaponifiable part U. M is the harmonic "
        "mean, since the acids are given by mass. The blend is the mean by mass of its fatty part.",
        "The band holds 95 of 100 lots drawn from the low and high of each acid, closed to 100 %.",
        ("aocs-cd-3a-94",),
    ),
    Method(
        "fatty_acids_by_yield",
        "fₖ = Σ wᵢ yᵢ fᵢₖ / Σ wᵢ yᵢ",
        "Acids are weighed by the grams of fatty acid that each oil holds: about 0.96 g/g for most oils, 0.51 for "
        "jojoba (the rest of it is alcohol), none for squalane.",
        "The band holds 95 of 100 lots drawn from the low and high of each acid, closed to 100 %; a certificate "
        "for your own lot is better.",
        ("usda-sr28", "lipid-literature"),
    ),
    Method(
        "fatty_acid_mass",
        "100 · Σ wᵢ yᵢ",
        "Grams of fatty acid, bound, in 100 g of everything that was read.",
        "As good as the profiles.",
        ("usda-sr28", "lipid-literature"),
    ),
    Method(
        "arrhenius_viscosity",
        "ln η = Σ wᵢ ln ηᵢ",
        "The logarithms of the oils’ viscosities, averaged by mass. Each oil follows its own two values; one "
        "without a value is estimated from its mean double bonds and chain length: ln η(35 °C) = "
        f"{INTERCEPT:g} − {-PER_DOUBLE_BOND:.4f} d + {PER_CARBON:g} (C − {MEAN_CHAIN:g}), brought to the "
        "temperature along Vogel’s law.",
        "Model. Left out one by one, twelve oils come back within 1.9 mPa·s (4.8 %) on the mean; a blend is good "
        f"to about {100 * BLEND_ERROR:.0f} %. Not for a paste.",
        ("fasina-2008", "lipid-literature"),
    ),
    Method(
        "wax_by_share",
        "Σ wᵢ · strengthᵢ, as a share of the oils",
        f"How firm a wax makes a balm, by its share: {WAX_WORDS}, above {WAXED[-1][1]}; other waxes are "
        "counted as so much beeswax.",
        "Common practice, from memory: wax differs from lot to lot, and butters in it make it firmer in the cold.",
        ("common-practice",),
    ),
    Method(
        "solid_fat_dilution",
        "1/T* = 1/T + (R/ΔH) ln w; solid = Σ wᵢ · SFCᵢ(T*)",
        "Each butter’s own melting curve, read at the temperature at which the pure fat would be as solid as it "
        "is diluted to the share w of its crystal family. Liquid oils throw out their most saturated glycerides "
        f"in the cold. By solid fat: {SOLID_WORDS}, above {STATES[-1][1]}.",
        "Model, low confidence. Pure fats agree with their curves by construction; blends were not compared with "
        "measurements. No melting point is good to better than 2 °C, and how it was cooled matters.",
        ("melting-literature",),
    ),
    Method(
        "mean_refractive_index",
        "n = Σ wᵢ nᵢ at 20 °C",
        f"The mean by mass, brought to 20 °C along {-INDEX_SLOPE:.5f} per kelvin.",
        f"± {INDEX_ERROR:g}. A reading far from it says that an oil is not what its label says.",
        ("lipid-literature", "codex-210"),
    ),
    Method(
        "tint_by_strength",
        f"A = {FILM:g} · Σ wᵢ · 10^(−{-log10(PER_STEP):g} (10 − tintᵢ)) · hueᵢ; skin · exp(−A)",
        "Light that a thin film takes away from the colour of skin, by the tint strength of each oil (1 pale to "
        f"10 deep). Below ΔE {JUST_SEEN:g} nobody sees it; above {PLAIN:g} anybody does.",
        "Model, low confidence: set to the trade’s rule for sea buckthorn fruit oil (two droppers in 60 mL for "
        "fair skin, five or six for a glow). Refined oils tint less than unrefined ones.",
        ("tint-model", "common-practice"),
    ),
    Method(
        "stokes_settling",
        f"t = h / v, v = 2/9 · (ρ(grain) − ρ(oil)) · g · r² / η · (1 − φ)^{HINDERED:g}",
        "Grains of their typical size fall through the oil as thick as it is where it will stand; many hinder one "
        "another. Set fat or wax holds them; where half of the volume is grains, it is a paste.",
        "Kitchen powders are not round, clump, and differ from sack to sack. A jar that stands a day shows it.",
        ("stokes-1851",),
    ),
    Method(
        "dispenser_limits",
        "η, % solid and grains against what each container gives out",
        f"A spray wants {LIMITS['spray'].thickest:g} mPa·s at most, a roller {LIMITS['roller'].thinnest:g} to "
        f"{LIMITS['roller'].thickest:g}, a dropper {LIMITS['dropper'].thickest:g}, a pump "
        f"{LIMITS['pump'].thickest:g}; a jar holds what does "
        "not pour. Grains clog what is fine, and what sets clogs what is narrow.",
        "Common practice, from memory; pumps and sprays differ. Try one before many are bought.",
        ("common-practice",),
    ),
    Method(
        "scent_by_mass",
        "100 · Σ m(scent) / Σ mᵢ",
        "Essential oils, absolutes, CO₂ extracts and resinoids together. The figure counts the upper end of every "
        "range and the coarsest dropper, because it is there for safety.",
        f"Drops run from {DROPS_LOW:g} to {DROPS_HIGH:g} to the mL. Weigh, or calibrate your dropper, to narrow it.",
        ("common-practice",),
    ),
    Method(
        "sum_of_prices",
        "Σ mᵢ · price per gram",
        "What each row costs at the price of your oldest open lot of it.",
        "Unknown as soon as one row has no price.",
        ("person",),
    ),
)
