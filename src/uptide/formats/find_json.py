"""What was found for a wish, as JSON: limits as understood, answers, and what excludes one another."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel, Field

from uptide.core.finder.search.comparing import bound_said, gives_up, lots_said
from uptide.core.finder.search.conflicts import Conflict
from uptide.core.finder.search.offers import Offer
from uptide.core.finder.search.wish import FIGURES
from uptide.core.finder.search.wish_words import ReadWish

OF_A_TEMPERATURE = ("clear", "solid")  # figures that are none without one


class NotUnderstood(BaseModel):
    """A clause that was not understood, and why."""

    said: str
    why: str


class BoundOut(BaseModel):
    """What no blend that keeps the wish is better than, in the units of its objective; null where nothing is shown.

    Months of keeping, the cost of the bottle, feel, how many oils, felt steps that every limit has to spare, or how
    urgent it is to use a gram of it up, in 1/month.
    """

    value: float | None
    words: str


class AnswerOut(BaseModel):
    """A blend that keeps every limit, as it is measured, and was confirmed by its assessment."""

    best_at: str
    rows: list[str]
    oils: list[str] = Field(description="Keys of its oils, in the order of the rows.")
    percent: list[float] = Field(description="By mass.")
    figures: dict[str, float | None] = Field(description="By figure, in the units of `units`; null where unknown.")
    gives_up: str = Field(description="What it is worse in than the best of the others, where that is felt.")
    bound: BoundOut
    held_percent: float = Field(description="Of the lots that its oils may come as: limits on acids hold in so many.")
    for_lots: str = Field(description="What it costs that they hold in as many as was asked; empty where nobody did.")


class ConflictOut(BaseModel):
    """Limits that exclude one another, how far each alone would have to give, and whether it is shown that none can."""

    limits: list[str]
    gives: list[str]
    is_shown: bool


class FoundOut(BaseModel):
    """A wish with its answers."""

    limits: list[str]
    not_understood: list[NotUnderstood]
    units: dict[str, str] = Field(description="The unit of each figure; a cost is of the whole bottle.")
    answers: list[AnswerOut]
    conflict: ConflictOut | None = None


def found_out(read: ReadWish, found: Sequence[Offer], excluded: Conflict | None) -> FoundOut:
    """Put what was found into JSON."""
    return FoundOut(
        limits=[words for words, _ in read.lines],
        not_understood=[NotUnderstood(said=said, why=why) for said, why in read.not_read],
        units={name: read.wish.titled(name)[1] for name in FIGURES if name not in OF_A_TEMPERATURE},
        answers=[
            AnswerOut(
                best_at=offer.objective.value,
                rows=[entry.typed for entry in offer.recipe.entries],
                oils=[row.ingredient.key for row in offer.assessment.rows if row.ingredient is not None],
                percent=[row.percent_mass or 0.0 for row in offer.assessment.rows],
                figures={name: offer.figure(name, read.wish) for name in FIGURES if name not in OF_A_TEMPERATURE},
                gives_up=gives_up(offer, found, read.wish),
                bound=_bound(offer, read),
                held_percent=100 * offer.held,
                for_lots=lots_said(offer, read.wish),
            )
            for offer in found
        ],
        conflict=_conflict(excluded) if excluded else None,
    )


def _bound(offer: Offer, read: ReadWish) -> BoundOut:
    bound = offer.bound()
    return BoundOut(value=bound.value, words=bound_said(offer, bound, read.wish))


def _conflict(found: Conflict) -> ConflictOut:
    return ConflictOut(limits=list(found.words), gives=[give.words for give in found.gives], is_shown=found.is_shown)
