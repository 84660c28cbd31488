"""A wish: what is asked of a blend, as limits that can be loosened or dropped one by one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from uptide.core.figures.physical import ROOM_CELSIUS
from uptide.core.finder.chart import OilChart
from uptide.core.oxidation.surroundings import Storage
from uptide.core.physics.solid import SKIN_CELSIUS


class Objective(StrEnum):
    """What is best among blends that keep every limit."""

    STEADIEST = "steadiest"
    LONGEST = "keeps longest"
    CHEAPEST = "costs least"
    LIGHTEST = "lightest"
    FEWEST = "fewest oils"
    USES_UP = "uses up what turns first"


# What is looked for where nobody said what is to be best.
USUAL = (Objective.STEADIEST, Objective.LONGEST, Objective.CHEAPEST, Objective.LIGHTEST, Objective.FEWEST)


# Figures that can be bounded: how they are called, and their unit.
FIGURES: Mapping[str, tuple[str, str]] = {
    "linoleic": ("linoleic", "% of the acids"),
    "oleic": ("oleic", "% of the acids"),
    "omega_3": ("omega-3", "% of the acids"),
    "saturated": ("saturated", "% of the acids"),
    "monounsaturated": ("monounsaturated", "% of the acids"),
    "polyunsaturated": ("polyunsaturated", "% of the acids"),
    "acids": ("fatty acids in it", "g/100 g"),
    "iodine": ("iodine value", "g/100 g"),
    "saponification": ("saponification value", "mg KOH/g"),
    "carries": ("carries in", "% oleic of the oils"),
    "balance": ("balance", "% linoleic of the C18 acids"),
    "feel": ("feel", "of 4"),
    "thickness": ("thickness on skin", "mPa·s"),
    "viscosity": ("viscosity at 25 °C", "mPa·s"),
    "clog": ("clog rating", "of 5"),
    "clog_by_mass": ("clog rating by mass", "of 5"),
    "tint": ("tint on skin", "ΔE"),
    "across": ("across the chart", "% of the way"),
    "upward": ("up the chart", "% of the way"),
    "cost": ("cost", ""),
    "keeps": ("keeps", "months"),
    "clear": ("clear", "°C"),
    "solid": ("solid fat", "%"),
    "inert": ("what cannot oxidise", "% of it"),
}


# Where it must be clear for a figure to be one [°C]: a paste has no viscosity.
CLEAR_FOR: Mapping[str, float] = {"thickness": SKIN_CELSIUS, "viscosity": ROOM_CELSIUS}


@dataclass(frozen=True, slots=True)
class Limit:
    """One limit: a figure is at least or at most so much.

    `typed` is what was said for it, `currency` that of a cost, `celsius` where it must be solid [°C].
    """

    figure: str
    at_least: bool
    bound: float
    typed: str = ""
    currency: str = ""
    celsius: float = 0.0

    @property
    def words(self) -> str:
        """As a plain line.

        >>> Limit("linoleic", True, 50).words, Limit("clear", True, 15).words
        ('linoleic at least 50 % of the acids', 'clear at 15 °C')
        """
        return " ".join(filter(None, self.parts))

    @property
    def parts(self) -> tuple[str, str, str]:
        """The same in three: what stands before its number, the number, and its unit."""
        name, unit = FIGURES[self.figure]
        if self.figure == "clear":
            return "clear at", f"{self.bound:g}", unit
        name = f"{name} at {self.celsius:g} °C" if self.figure == "solid" else name
        way = "at least" if self.at_least else "at most"
        return f"{name} {way}", f"{self.bound:g}", unit or self.currency


@dataclass(frozen=True, slots=True)
class Wish:
    """What is asked of a blend.

    Args:
        limits: bounds on figures; all must hold.
        millilitres: of the bottle.
        skin: that it must suit, or nothing.
        must: keys of oils that must be in it, each with its least share [g/g].
        along: keys of what comes along, a scent or what protects it, each with its percent by mass of the whole.
        without: keys of oils that must not.
        families: allergen families that must not.
        barred: keys of what whoever it is for must not have; these never give way.
        fewest, most: how many oils.
        least: the least share of an oil [g/g].
        storage: where it will stand.
        on_hand: only what stands on the shelf.
        start_month: of the year, in which it is made (0 is January).
        rate_shift: ln rate that the same person's bottles taught.
        currency: that the prices are in.
        lots: part of the lots that oils may come as in which limits on their make-up must hold; 0 for the typical ones.
        chart: on which a blend has a place.
        fresh: bottles are bought for it, so that the suppliers' dates of what stands on the shelf do not end it.
    """

    limits: tuple[Limit, ...] = ()
    millilitres: float = 30.0
    skin: str = ""
    must: Mapping[str, float] = field(default_factory=dict)
    along: Mapping[str, float] = field(default_factory=dict)
    without: frozenset[str] = frozenset()
    families: frozenset[str] = frozenset()
    barred: frozenset[str] = frozenset()
    fewest: int = 1
    most: int = 5
    least: float = 0.03
    storage: Storage = field(default_factory=Storage)
    on_hand: bool = False
    start_month: int = 0
    rate_shift: float = 0.0
    currency: str = ""
    chart: OilChart | None = None
    fresh: bool = False
    lots: float = 0.0

    def titled(self, figure: str) -> tuple[str, str]:
        """What a figure is called, and its unit: of a cost the currency, and of how much.

        >>> Wish(millilitres=60, currency="GBP").titled("cost"), Wish().titled("feel")
        (('cost of 60 mL', 'GBP'), ('feel', 'of 4'))
        """
        title, unit = FIGURES[figure]
        return (f"{title} of {self.millilitres:g} mL", self.currency) if figure == "cost" else (title, unit)

    @property
    def oils_millilitres(self) -> float:
        """How much of the bottle is left for the oils [mL]: what comes along weighs about as much."""
        return self.millilitres * (1 - sum(self.along.values()) / 100)

    @property
    def months(self) -> float:
        """How long it must keep; 0 where that was not asked."""
        return max((limit.bound for limit in self.limits if limit.figure == "keeps"), default=0.0)

    @property
    def clear_at(self) -> float | None:
        """The temperature [°C] at which it must be clear, the coldest that was asked or is needed; None for none."""
        needed = (CLEAR_FOR[limit.figure] for limit in self.limits if limit.figure in CLEAR_FOR)
        return min((*needed, *(limit.bound for limit in self.limits if limit.figure == "clear")), default=None)
