"""In which order a blend is poured: the schools of the trade."""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum

from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.recipe.recipe import Row

SCENT_BELOW = 40.0  # °C: warmer, a scent is driven off; common practice


class PourOrder(StrEnum):
    """Which phase goes into the bottle first."""

    CARRIERS_FIRST = "carriers-first"
    SCENT_FIRST = "scent-first"
    AS_TYPED = "as-typed"


ORDER_TITLES = {
    PourOrder.CARRIERS_FIRST: "carriers, then protection, scent last",
    PourOrder.SCENT_FIRST: "scent first, swirl, then carriers (roller bottles)",
    PourOrder.AS_TYPED: "as typed",
}
MELTED_FIRST = "what melts first and warm, then the oils, then protection, scent last"
MIXING = {
    PourOrder.CARRIERS_FIRST: "Invert ten to twenty times. Shaking beats in air, and air turns oil rancid.",
    PourOrder.SCENT_FIRST: "Swirl after the scent, fill with the carriers, then invert ten to twenty times.",
    PourOrder.AS_TYPED: "Invert ten to twenty times.",
}
# What is solid goes in first and warm; common practice, from memory.
MELT = (
    "Melt wax and butter first, no warmer than they need; then the oils, then what protects. Scent below "
    f"{SCENT_BELOW:.0f} °C. Pour, and let it set undisturbed."
)
WHIP = (
    "Melt wax and butter first, no warmer than they need; then the oils, then what protects. Chill until the rim sets, "
    "add the scent, whip, chill again."
)
WHIPPED = frozenset({"whipped-butter"})  # kinds of product that are whipped
_RANKS = {
    PourOrder.CARRIERS_FIRST: (Phase.CARRIERS, Phase.CHARACTER, Phase.PROTECTION, Phase.WATER, Phase.SCENT),
    PourOrder.SCENT_FIRST: (Phase.SCENT, Phase.CARRIERS, Phase.CHARACTER, Phase.PROTECTION, Phase.WATER),
}


def usual_order(container_kind: str) -> PourOrder:
    """The school by what is filled: a roller's neck is narrow, so that its scent goes in first; common practice."""
    return PourOrder.SCENT_FIRST if container_kind == "roller" else PourOrder.CARRIERS_FIRST


def order_words(order: PourOrder, items: Iterable[Ingredient]) -> str:
    """A school in words; where something in it is melted, that goes first."""
    melts = order is not PourOrder.AS_TYPED and any(_is_melted(item) for item in items)
    return MELTED_FIRST if melts else ORDER_TITLES[order]


def mixing(order: PourOrder, items: Iterable[Ingredient], product: str) -> str:
    """How it is mixed: melted where something in it is solid, whipped where its product is."""
    if any(_is_melted(item) for item in items):
        return WHIP if product in WHIPPED else MELT
    return MIXING[order]


def _is_melted(item: Ingredient) -> bool:
    return item.is_solid and item.is_fatty


def in_order(rows: Iterable[Row], order: PourOrder) -> list[tuple[Row, Ingredient]]:
    """Sort the rows that have an ingredient into a school's order; rows of one phase stay as typed.

    What has to be melted goes first, whatever the school.
    """
    known = [(row, row.ingredient) for row in rows if row.ingredient is not None]
    if order is PourOrder.AS_TYPED:
        return known
    rank = {phase: place for place, phase in enumerate(_RANKS[order])}
    return sorted(known, key=lambda pair: (not _is_melted(pair[1]), rank[pair[1].phase]))
