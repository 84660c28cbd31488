"""What is known about a blend: the one thing that page, print, export and command line read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

from uptide.core.blend.ingredient import Ingredient, Phase
from uptide.core.blend.keeping import Keeping
from uptide.core.blend.recipe import Recipe, Resolution, Row
from uptide.core.lipids.fatty_acids import FattyAcid
from uptide.core.physics.bottle import Container
from uptide.core.safety.caution import Caution
from uptide.core.skin.wearer import ANYONE, Wearer

if TYPE_CHECKING:  # safety reads figures of the blend, and the assessment holds what safety found
    from uptide.core.safety.check import Safety


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


@dataclass(frozen=True, slots=True)
class Pour:
    """One pour into the bottle: its layer in mL, and the mark to fill to in mL and in mm above the base."""

    row: Row
    ingredient: Ingredient
    phase: Phase
    millilitres: float
    fill_to_ml: float
    bottom_mm: float
    top_mm: float


@dataclass(frozen=True, slots=True)
class Bottle:
    """The container with its pours; `past_shoulder_ml` is above 0 when too much was poured."""

    container: Container
    pours: tuple[Pour, ...]
    past_shoulder_ml: float
    room_ml: float


@dataclass(frozen=True, slots=True)
class Assessment:
    """A recipe with everything that follows from it."""

    recipe: Recipe
    resolution: Resolution
    findings: tuple[Finding, ...]
    cautions: tuple[Caution, ...]
    remarks: tuple[str, ...]
    acids: tuple[AcidPart, ...]
    bottle: Bottle | None
    keeping: Keeping | None = None
    setting: Setting | None = None
    looks: Looks | None = None
    safety: Safety | None = None
    wearer: Wearer = ANYONE
    day: date = date(2026, 1, 1)  # the day it was judged on

    @property
    def rows(self) -> tuple[Row, ...]:
        """All rows, in the order typed."""
        return self.resolution.rows

    def finding(self, key: str) -> Finding:
        """The figure of this key; raise KeyError if the assessment has none."""
        for finding in self.findings:
            if finding.key == key:
                return finding
        raise KeyError(key)
