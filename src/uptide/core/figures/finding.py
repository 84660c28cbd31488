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


@dataclass(frozen=True, slots=True, kw_only=True)
class FigureSpec:
    """What a figure is, whatever its value: its key and title, the method it is worked out by, how it is shown."""

    key: str
    title: str
    unit: str
    method: str
    decimals: int = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """One figure. `value` is None when it is unknown, and `remark` then says why."""

    spec: FigureSpec
    value: float | None = None
    low: float | None = None
    high: float | None = None
    inputs: tuple[Input, ...] = ()
    sources: tuple[str, ...] = ()
    confidence: str = "medium"
    remark: str = ""
    word: str = ""  # the verdict in a word or two
    other: str = ""  # what another school of the trade would say

    @classmethod
    def unknown(
        cls,
        spec: FigureSpec,
        why: str = "",
        *,
        inputs: tuple[Input, ...] = (),
        sources: tuple[str, ...] = (),
        confidence: str = "medium",
        word: str = "",
        other: str = "",
    ) -> Finding:
        """A figure that nobody can work out, and why; a word may be known all the same."""
        return cls(spec=spec, inputs=inputs, sources=sources, confidence=confidence, remark=why, word=word, other=other)

    @property
    def key(self) -> str:
        """What it is called by programs."""
        return self.spec.key

    @property
    def title(self) -> str:
        """What it is called by people."""
        return self.spec.title

    @property
    def unit(self) -> str:
        """What it is counted in."""
        return self.spec.unit

    @property
    def method(self) -> str:
        """How it is worked out: a key of the methods."""
        return self.spec.method

    @property
    def decimals(self) -> int:
        """So many are shown."""
        return self.spec.decimals


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
