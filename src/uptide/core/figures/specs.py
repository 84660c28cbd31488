"""What every figure is, whatever its value: one table."""

from __future__ import annotations

from dataclasses import replace

from uptide.core.figures.finding import FigureSpec

FIT_TO_SELL = FigureSpec(key="fit_to_sell", title="Fit to sell", unit="months", method="fit_to_sell", decimals=0)
KEEPS_MONTHS = FigureSpec(key="keeps_months", title="Keeps", unit="months", method="kinetic_life", decimals=0)
COX_VALUE = FigureSpec(
    key="cox_value", title="Oxidizability (Cox value)", unit="oleic = 1", method="cox_value", decimals=2
)
INDUCTION_TIME_110C = FigureSpec(
    key="induction_time_110c", title="Induction time at 110 °C", unit="h", method="pooled_induction"
)
REFRACTIVE_INDEX_20C = FigureSpec(
    key="refractive_index_20c", title="Refractive index at 20 °C", unit="", method="mean_refractive_index", decimals=4
)
TOTAL_MASS = FigureSpec(key="total_mass", title="Total mass", unit="g", method="sum_of_rows")
TOTAL_VOLUME = FigureSpec(key="total_volume", title="Total volume", unit="mL", method="additive_volume")
DENSITY_20C = FigureSpec(
    key="density_20c", title="Density at 20 °C", unit="g/mL", method="additive_specific_volume", decimals=3
)
SCENT_SHARE = FigureSpec(
    key="scent_share", title="Scent, at most", unit="% by mass", method="scent_by_mass", decimals=2
)
FATTY_ACID_MASS = FigureSpec(key="fatty_acid_mass", title="Fatty acids in it", unit="g/100 g", method="fatty_acid_mass")
SOLID_FAT_CONTENT_22C = FigureSpec(
    key="solid_fat_content_22c", title="Solid fat (set and cloud)", unit="% solid at 22 °C", method="solid_fat_dilution"
)
SCENT_DOSE = FigureSpec(key="scent_dose", title="Scent", unit="% at most", method="scent_against_limits", decimals=2)
PHOTOTOXICITY = FigureSpec(
    key="phototoxicity",
    title="Phototoxicity (sun)",
    unit="sum of ratios",
    method="sum_of_phototoxic_ratios",
    decimals=2,
)
ALLERGENS_DECLARED = FigureSpec(
    key="allergens_declared", title="Allergens to declare", unit="names", method="allergens_above_threshold", decimals=0
)
RETINOL_EQUIVALENTS = FigureSpec(
    key="retinol_equivalents", title="Vitamin A", unit="% as retinol", method="retinol_equivalents", decimals=3
)
MEDICINES_TAKEN = FigureSpec(
    key="medicines", title="Medicines", unit="to ask about", method="medicines_by_rule", decimals=0
)
FEEL = FigureSpec(key="feel", title="Feel", unit="of 4", method="feel_by_class")
COMEDOGENICITY = FigureSpec(
    key="comedogenicity", title="Comedogenicity (clog risk)", unit="of 5", method="comedogenicity_by_worst", decimals=0
)
SKIN_FIT = FigureSpec(key="skin_fit", title="Skin fit", unit="% linoleic of C18", method="linoleic_balance", decimals=0)
PENETRATION = FigureSpec(
    key="penetration", title="Carries things in", unit="% oleic of the oils", method="oleic_by_mass", decimals=0
)
IODINE_VALUE = FigureSpec(key="iodine_value", title="Iodine value", unit="g I₂/100 g", method="aocs_cd_1c_85")
SAPONIFICATION_VALUE = FigureSpec(
    key="saponification_value", title="Saponification value", unit="mg KOH/g", method="aocs_cd_3a_94"
)
SOLIDS = FigureSpec(key="settling", title="Solids", unit="hours to fall 5 cm", method="stokes_settling")
SLIP = FigureSpec(key="slip", title="Slip (glide)", unit="mPa·s", method="arrhenius_viscosity", decimals=0)
COST = FigureSpec(key="cost", title="Cost", unit="", method="sum_of_prices", decimals=2)  # unit: the currency
SET_BY_WAX = replace(SOLID_FAT_CONTENT_22C, method="wax_by_share")
DISPENSING = FigureSpec(
    key="dispenser", title="Dispenser", unit="reasons against it", method="dispenser_limits", decimals=0
)
# Of a jar; each has its method for itself.
JAR_COVER = FigureSpec(key="jar-cover", title="To cover it at once", unit="g", method="jar_cover")
JAR_TOP_UP = FigureSpec(key="jar-top-up", title="Top up on day 1", unit="g", method="jar_top_up")
JAR_HEAD_ROOM = FigureSpec(key="jar-head-room", title="Head room", unit="%", method="jar_head_room")
JAR_ACTIVITY = FigureSpec(key="jar-activity", title="Activity of the water", unit="", method="jar_activity", decimals=2)
JAR_MUST_LEAVE = FigureSpec(key="jar-must-leave", title="Water that must leave", unit="g", method="jar_must_leave")
JAR_CLEAR = FigureSpec(key="jar-clear", title="Clear above", unit="°C", method="jar_clear")
JAR_OUT = FigureSpec(key="jar-out", title="Comes out", unit="g", method="jar_out")
JAR_LIFE = FigureSpec(key="jar-life", title="Of the oil’s life", unit="%", method="jar_life")
JAR_DONE = FigureSpec(key="jar-done", title="Most has passed over after", unit="days", method="jar_done")
JAR_BOUND = FigureSpec(key="jar-bound", title="Scent in it, at most", unit="%", method="jar_bound", decimals=2)
JAR_TWICE = FigureSpec(
    key="jar-twice", title="Strength after a second charge", unit="times", method="jar_twice", decimals=2
)


def share_of_acids_spec(key: str, title: str) -> FigureSpec:
    """A sum of fatty acids."""
    return FigureSpec(key=key, title=title, unit="% of fatty acids", method="fatty_acids_by_yield")


def viscosity_spec(celsius: float) -> FigureSpec:
    """The viscosity at a temperature."""
    title = f"Viscosity at {celsius:g} °C"
    return FigureSpec(key=f"viscosity_{celsius:g}c", title=title, unit="mPa·s", method="arrhenius_viscosity")


def tint_spec(tone: str) -> FigureSpec:
    """The tint on a skin tone."""
    return FigureSpec(key="skin_tint", title=f"Tint on {tone} skin", unit="ΔE", method="tint_by_strength")
