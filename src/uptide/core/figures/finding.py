"""One figure with its working: value, band, inputs, sources and doubt."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.lipids.fatty_acids import FattyAcid


@dataclass(frozen=True, slots=True)
class Input:
    """One number that went into a figure."""

    name: str
    value: float
    unit: str
    share: float | None = None  # percent by mass of what the figure is about
    source: str = ""
    locator: str = ""
    confidence: str = ""


@dataclass(frozen=True, slots=True)
class Finding:
    """One figure. `value` is None when it is unknown, and `remark` then says why."""

    key: str
    title: str
    value: float | None
    low: float | None
    high: float | None
    unit: str
    method: str
    inputs: tuple[Input, ...] = ()
    sources: tuple[str, ...] = ()
    confidence: str = "medium"
    remark: str = ""
    decimals: int = 1
    word: str = ""  # the verdict in a word or two
    other: str = ""  # what another school of the trade would say


@dataclass(frozen=True, slots=True)
class AcidPart:
    """One fatty acid in the blend: percent of its fatty acids, g in 100 g of blend, and which oil brings how much."""

    acid: FattyAcid
    percent: float
    grams_per_100g: float
    parts: tuple[tuple[Ingredient, float], ...]  # percentage points of all fatty acids


@dataclass(frozen=True, slots=True)
class Setting:
    """Solid fat [%] at every degree from 0 to 45 °C; places with their °C, % solid and word; °C of clearing.

    `reason` says why nothing is known; the others are then empty.
    """

    curve: tuple[float, ...]
    places: tuple[tuple[str, float, float, str], ...]
    clear_above: float | None
    reason: str = ""


@dataclass(frozen=True, slots=True)
class Looks:
    """Colour [#rrggbb] in a glass of 1 cm, and of skin tones under a film of it."""

    glass: str
    skin: Mapping[str, str]
