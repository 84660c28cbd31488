"""What is known about a blend: the one thing that page, print, export and command line read."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

from uptide.core.figures.finding import AcidPart, Finding, Looks, Setting
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.keeping.shelf_life import ShelfLife
from uptide.core.physics.bottle import Container
from uptide.core.recipe.recipe import Recipe, Resolution, Row
from uptide.core.safety.caution import Caution
from uptide.core.skin.verdicts import OnSkin
from uptide.core.skin.wearer import ANYONE, Wearer

if TYPE_CHECKING:  # safety reads figures of the blend, and the assessment holds what safety found
    from uptide.core.safety.check import Safety


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
    """The container with its pours; `past_shoulder_ml` is above 0 when too much was poured.

    Of a recipe that names none, it is the smallest usual one that holds it: `is_assumed`.
    """

    container: Container
    pours: tuple[Pour, ...]
    past_shoulder_ml: float
    room_ml: float
    is_assumed: bool = False


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
    shelf_life: ShelfLife | None = None
    setting: Setting | None = None
    looks: Looks | None = None
    safety: Safety | None = None
    wearer: Wearer = ANYONE
    day: date = date(2026, 1, 1)  # the day it was judged on
    on_skin: OnSkin | None = None

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
