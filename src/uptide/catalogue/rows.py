"""The rows of the catalogue's tables, with what each cell may hold."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator

from uptide.catalogue.tables import TableRow

Key = Annotated[str, StringConstraints(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$")]
Confidence = Literal["low", "medium", "high"]
Percent = Annotated[float, Field(ge=0, le=100)]
Kind = Literal[
    "carrier",
    "butter",
    "liquid_wax",
    "hydrocarbon",
    "ester",
    "wax",
    "active",
    "powder",
    "emulsifier",
    "antioxidant",
    "essential_oil",
    "absolute",
    "co2_extract",
    "resinoid",
    "water_phase",
]


class SourceRow(TableRow):
    """A source that other tables cite by key; `how_read` says whether it was read or recalled."""

    key: Key
    citation: str
    licence: str
    how_read: str


class FattyAcidRow(TableRow):
    """A fatty acid, or an alcohol of a wax."""

    code: str
    common_name: str
    systematic_name: str
    role: Literal["acid", "alcohol"]
    carbons: Annotated[int, Field(ge=2, le=30)]
    double_bonds: Annotated[int, Field(ge=0, le=6)]
    hydroxyl_groups: Annotated[int, Field(ge=0, le=3)]
    conjugated: Literal["yes", "no"]
    molar_mass_g_per_mol: Annotated[float, Field(gt=40, lt=500)]
    source: Key
    locator: str = ""
    confidence: Confidence


class IngredientRow(TableRow):
    """Anything that can stand in a row of a recipe."""

    key: Key
    name: str
    kind: Kind
    lipid_class: Literal["triglyceride", "wax_ester", "hydrocarbon", "synthetic_ester", ""] = ""
    state_at_20c: Literal["liquid", "solid"]
    inci: str = ""
    botanical_name: str = ""
    allergen_family: str = ""
    allergen_note: str = ""
    colour_hex: Annotated[str, StringConstraints(pattern=r"^#[0-9a-f]{6}$")]
    source: Key
    locator: str = ""
    confidence: Confidence
    allergen_relatives: str = ""  # families whose allergies may answer to it, parted by a semicolon


@cache
def _range_of(row: type[TableRow]) -> tuple[str, str, str]:
    """The names of the three columns, whatever unit stands in them."""
    found = {name.split("_")[0]: name for name in row.model_fields}
    return found["low"], found["typical"], found["high"]


class RangeRow(TableRow):
    """A low, a typical and a high value that stand in this order."""

    @model_validator(mode="after")
    def _in_order(self) -> RangeRow:
        low, typical, high = (getattr(self, name) for name in _range_of(type(self)))
        if low is not None and high is not None and low > high:
            raise ValueError(f"low {low:g} is above high {high:g}")
        if low is not None and high is not None and typical is not None and not low <= typical <= high:
            raise ValueError(f"typical {typical:g} is outside {low:g} to {high:g}")
        return self


class ProfileRow(RangeRow):
    """One acid of one ingredient, in percent of its fatty acids (or alcohols) by mass."""

    ingredient: Key
    code: str
    low_percent: Percent
    typical_percent: Percent
    high_percent: Percent
    range_source: Key
    source: Key
    locator: str = ""
    confidence: Confidence


class PropertyRow(RangeRow):
    """One property of one ingredient; a range alone is a published range to compare with."""

    ingredient: Key
    property: str
    temperature_c: float | None = None
    low: float | None = None
    typical: float | None = None
    high: float | None = None
    unit: str
    source: Key
    locator: str = ""
    confidence: Confidence
    basis: Literal["class", ""] = ""  # of its class of oils, by the usual acids: not measured on this one


class MeltingRow(TableRow):
    """One point of the melting curve of a pure fat, and the family whose crystals it shares."""

    ingredient: Key
    crystal_family: Literal["lauric", "symmetric", "palm", "myristic", "jojoba", "isopropyl"]
    fusion_enthalpy_kj_per_mol: Annotated[float, Field(gt=0)]
    temperature_c: Annotated[float, Field(ge=-20, le=80)]
    solid_percent: Percent
    source: Key
    locator: str = ""
    confidence: Confidence


class AppearanceRow(TableRow):
    """How strongly an oil colours and smells, in the steps of the trade."""

    ingredient: Key
    tint_1_to_10: Annotated[int, Field(ge=1, le=10)]
    tint_words: str
    odour_0_to_3: Annotated[int, Field(ge=0, le=3)]
    source: Key
    locator: str = ""
    confidence: Confidence


class UseRow(TableRow):
    """What a thing is usually taken for, and how much of a blend it usually is."""

    ingredient: Key
    share_low_percent: Percent
    share_high_percent: Percent
    price_level: Annotated[int, Field(ge=1, le=4)]
    role: str
    source: Key
    locator: str = ""
    confidence: Confidence


class TraditionRow(TableRow):
    """What people hold of an oil by tradition; nobody has measured it."""

    ingredient: Key
    temper: Literal["warming", "cooling", "neutral"]
    seasons: Annotated[
        str, StringConstraints(pattern=r"^(all|(spring|summer|autumn|winter)(;(spring|summer|autumn|winter))*)$")
    ]
    practice: str
    source: Key
    locator: str = ""
    confidence: Confidence


class OxidationRow(TableRow):
    """What the shelf-life model knows of one oil; an empty induction time means that it cannot oxidise."""

    ingredient: Key
    osi_110c_h: Annotated[float, Field(gt=0)] | None = None
    lot_class: Literal["refined", "virgin", "olive"]
    saturated_percent: Percent
    mono_percent: Percent
    di_percent: Percent
    tri_percent: Percent
    tocopherols_gamma_mg_per_kg: Annotated[float, Field(ge=0)]
    tocopherols_alpha_mg_per_kg: Annotated[float, Field(ge=0)]
    chlorophyll: Annotated[float, Field(ge=0, le=1)]
    trade_life_low_months: Annotated[float, Field(gt=0)]
    trade_life_high_months: Annotated[float, Field(gt=0)]
    source: Key
    locator: str = ""
    confidence: Confidence


class AntioxidantRow(TableRow):
    """How much of an antioxidant product is the substance that protects [g/g]."""

    ingredient: Key
    substance: Literal[
        "mixed_tocopherols", "alpha_tocopherol", "tocopheryl_acetate", "carnosic_acid", "ascorbyl_palmitate"
    ]
    active_g_per_g: Annotated[float, Field(gt=0, le=1)]
    low_g_per_g: Annotated[float, Field(gt=0, le=1)]
    high_g_per_g: Annotated[float, Field(gt=0, le=1)]
    source: Key
    locator: str = ""
    confidence: Confidence


class SynonymRow(TableRow):
    """A name by which an ingredient is known; one that several share is asked about."""

    ingredient: Key
    name: str
    source: Key


class AskedNameRow(TableRow):
    """A name that is easily taken for another thing: what to offer (keys parted by semicolons), and why it is asked."""

    name: str
    offers: str = ""
    why: str
    source: Key


class ProductRow(TableRow):
    """A kind of product, its usual size and container."""

    key: Key
    name: str
    left_on: Literal["yes", "no"]
    area: Literal["face", "eye", "body", "bath", "shower", "scalp", "spot"]
    usual_ml: Annotated[float, Field(gt=0)]
    container: str
    note: str
    source: Key
    locator: str = ""
