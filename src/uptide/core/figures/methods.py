"""How each figure is computed, in words a person can check: the text behind *Show the working*."""

from __future__ import annotations

from dataclasses import dataclass

from uptide.core.figures.physical import INDEX_ERROR, INDEX_SLOPE
from uptide.core.figures.setting import WAXED
from uptide.core.physics.density import DENSITY_ERROR
from uptide.core.physics.solid import STATES
from uptide.core.physics.viscosity import BLEND_ERROR, INTERCEPT, MEAN_CHAIN, PER_CARBON, PER_DOUBLE_BOND


@dataclass(frozen=True, slots=True)
class Method:
    """A way of computing a figure: its formula, what it is for, its doubt, and its sources by key."""

    key: str
    formula: str
    explanation: str
    doubt: str
    sources: tuple[str, ...] = ()


WAX_WORDS = ", ".join(f"below {bound:g} % {word}" for bound, word in WAXED[:-1])
SOLID_WORDS = ", ".join(f"below {bound:g} % {word}" for bound, word in STATES[:-1])

METHODS = {
    method.key: method
    for method in (
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
            "0.00065 g/mL per kelvin. A butter counts as the liquid it is once melted.",
            f"± {DENSITY_ERROR:g} g/mL for the spread between lots of one oil.",
            ("additive-volumes", "codex-210", "lipid-literature"),
        ),
        Method(
            "aocs_cd_1c_85",
            "IV = 100 · 253.809 · n(C=C) / M",
            "Each double bond takes up one iodine molecule. A triglyceride has three acids to the molecule, a wax "
            "ester one acid and one alcohol, a hydrocarbon none. The blend is the mean by mass of its fatty part.",
            "The band holds 95 of 100 lots drawn from the low and high of each acid, closed to 100 %.",
            ("aocs-cd-1c-85",),
        ),
        Method(
            "aocs_cd_3a_94",
            "SV = 1000 · 56.1056 · n(ester) / M · (1 − U)",
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
            "A = 2.5 · Σ wᵢ · 10^(−0.31 (10 − tintᵢ)) · hueᵢ; skin · exp(−A)",
            "Light that a thin film takes away from the colour of skin, by the tint strength of each oil (1 pale to "
            "10 deep). Below ΔE 2.3 nobody sees it; above 6 anybody does.",
            "Model, low confidence: set to the trade’s rule for sea buckthorn fruit oil (two droppers in 60 mL for "
            "fair skin, five or six for a glow). Refined oils tint less than unrefined ones.",
            ("tint-model", "common-practice"),
        ),
        Method(
            "feel_by_class",
            "Σ wᵢ · classᵢ, from 1 dry to 4 rich",
            "The trade’s class of each oil on dry skin, averaged by mass; an oil that no list has is classed by its "
            "thickness at 32 °C. Minutes are bands by class: 1 to 3, 2 to 6, 5 to 12, 10 to 30.",
            "Common practice, from memory. Against thickness the named examples rank alike (0.89), the long list only "
            "weakly (0.33); the factors for damp (0.6) and warm skin (0.8) are assumptions.",
            ("common-practice", "skin-feel-model"),
        ),
        Method(
            "comedogenicity_by_worst",
            "max ratingᵢ of what is 5 % and more of the oils",
            "The highest rating that any list gives the ingredients. An average would hide the one that clogs, and "
            "the ratings are too weak to be averaged; a mildly rated oil may still be used at a smaller share.",
            "Ratings come from rabbit ears under undiluted oil and are poorly reproduced in people.",
            ("common-practice", "fulton-1989"),
        ),
        Method(
            "linoleic_balance",
            "100 · linoleic / (linoleic + oleic)",
            "Light, linoleic oils for oily skin (from 50 % on), rich or oleic ones for dry and mature skin, anything "
            "between for normal; what has few acids, as jojoba or squalane, suits most.",
            "Common practice, from memory; trials are few.",
            ("common-practice", "danby-2013"),
        ),
        Method(
            "oleic_by_mass",
            "Σ wᵢ · oleicᵢ / Σ wᵢ over the oils",
            "Oleic acid loosens the ordered fats of the skin’s barrier. A wax or hydrocarbon counts with none.",
            "The line of 50 % is a convention.",
            ("danby-2013",),
        ),
        Method(
            "scent_against_limits",
            "T = Σ pᵢ, against min(product, wearer, age)",
            "All scents at the upper end of their range together, by mass; of the limits that apply the lowest "
            "counts. Above the suggested share a note, above the most a stop; each oil is also held against its own "
            "limit.",
            "Limits from memory; a certificate and local law win. Drops run from 20 to 45 to the mL: weigh.",
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
            "c = Σ pᵢ xᵢ / 100 > 0.001 % left on, 0.01 % rinsed off",
            "Each scent’s constituents at their highest, or as certified; whole oils on the list by their own share. "
            "The list has 81 names after 31 July 2026 for what is new, after 31 July 2028 for all; till then 24 may.",
            "Compositions from memory: a certificate of the lot is better. Lists differ by country.",
            ("eu-1223-2009", "eu-2023-1545"),
        ),
        Method(
            "retinol_equivalents",
            "RE = Σ pᵢ · M(retinol) / Mᵢ",
            "Each form of vitamin A counts as the retinol in it: 1 of retinol, 0.872 of the acetate, 0.546 of the "
            "palmitate. What is diluted counts by what is in it.",
            "As good as the stated strength of what was bought; such things lose strength in light and air.",
            ("eu-1223-2009",),
        ),
        Method(
            "stokes_settling",
            "t = h / v, v = 2/9 · (ρ(grain) − ρ(oil)) · g · r² / η · (1 − φ)^4.65",
            "Grains of their typical size fall through the oil as thick as it is where it will stand; many hinder one "
            "another. Set fat or wax holds them; where half of the volume is grains, it is a paste.",
            "Kitchen powders are not round, clump, and differ from sack to sack. A jar that stands a day shows it.",
            ("stokes-1851",),
        ),
        Method(
            "dispenser_limits",
            "η, % solid and grains against what each container gives out",
            "A spray wants 40 mPa·s at most, a roller 15 to 150, a dropper 400, a pump 1000; a jar holds what does "
            "not pour. Grains clog what is fine, and what sets clogs what is narrow.",
            "Common practice, from memory; pumps and sprays differ. Try one before many are bought.",
            ("common-practice",),
        ),
        Method(
            "fit_to_sell",
            "months that nine in ten hold ≥ 12",
            "What is sold stands in a shop and then with somebody for a year.",
            "As good as the model it rests on, and no stability test.",
            ("common-practice",),
        ),
        Method(
            "medicines_by_rule",
            "each medicine of the card × each thing in it",
            "Every rule about a medicine is asked of each thing by itself, however little of it there is. A scent of "
            "which no rule speaks is named as one of which nothing is known.",
            "From memory, most of it seen in the test tube or by mouth. A pharmacist knows more.",
            ("tisserand-young-2014",),
        ),
        Method(
            "scent_by_mass",
            "100 · Σ m(scent) / Σ mᵢ",
            "Essential oils, absolutes, CO₂ extracts and resinoids together. The figure counts the upper end of every "
            "range and the coarsest dropper, because it is there for safety.",
            "Drops run from 20 to 45 to the mL. Weigh, or calibrate your dropper, to narrow it.",
            ("common-practice",),
        ),
        Method(
            "kinetic_life",
            "D(oxidation) + D(ageing) = 1; du/dt = κ, u = ln[(PV + s)/(M − PV)], κ = L·f/(OSI·S(T)·PF)",
            "Peroxides grow by a logistic law whose speed comes from the induction time at 110 °C, stretched to the "
            "place where it stands, with light, air and antioxidants; a slow ageing runs beside it. What is uncertain "
            "is drawn 2,000 times; promised are the whole months that nine bottles in ten reach, never more than 24 "
            "(36 if nothing can oxidise).",
            "Calibrated on remembered trade lives of 38 oils; light, air, antioxidants and the fridge are not "
            "validated by anybody. See docs/keeping.md.",
            ("ozilgen-1990", "oxidation-calibration"),
        ),
        Method(
            "cox_value",
            "(0.02 sat + 1 mono + 10.3 di + 21.6 tri + 33 tetra) / 100",
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
        Method(
            "sum_of_prices",
            "Σ mᵢ · price per gram",
            "What each row costs at the price of your oldest open lot of it.",
            "Unknown as soon as one row has no price.",
            ("person",),
        ),
        Method(
            "jar_cover",
            "0.92 · m (1/b − 1/ρe) + 0.92 · π/4 · D² · h",
            "The bed that the plant makes, less the plant with the air in its tissue, in oil, and a layer above it.",
            "How loose a plant lies differs by half: the band is from its densest to its loosest.",
        ),
        Method(
            "jar_top_up",
            "0.92 · m (1/ρe − 1/ρs)",
            "In the first days air leaves the tissue and oil takes its place: the level sinks by that much.",
            "Densities with air and without are assumptions, from handling.",
        ),
        Method(
            "jar_head_room",
            "1 − (m/ρs + oil/0.92) / jar",
            "What stays above plant and oil once the air is out; oil grows by 1.8 % from 15 to 40 °C, 2.9 % to 60.",
            "As good as the size of the jar to its brim, and as the plant’s own density.",
        ),
        Method(
            "jar_activity",
            "X(a) = φ · Xm C K a / [(1 − K a)(1 − K a + C K a)], Xm 0.0645, C 12, K 0.86",
            "Water of plant and oil spreads until both have one activity; what neither holds stays free.",
            "The isotherm is one for leaf, flower and root, from memory: ± 0.05 in activity.",
        ),
        Method(
            "jar_must_leave",
            "water brought − water held at activity 0.60",
            "Below an activity of 0.60 nothing grows; what stands above it must leave, before or while it is warm.",
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
}
