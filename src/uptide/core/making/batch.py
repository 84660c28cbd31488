"""A batch: one blend made for so many bottles, in an order that can be chosen."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.amounts import grams_of
from uptide.core.measures.grammar import QuantityKind, read_quantity
from uptide.core.measures.habits import Habits
from uptide.core.measures.say import say_amount, say_poured, say_weighed
from uptide.core.measures.units import UNITS, Dimension
from uptide.core.recipe.order import PourOrder, in_order, mixing, order_words
from uptide.core.recipe.recipe import Row, RowStatus

SHORT = 1e-6  # of what its bottles hold: what rounding may leave a batch short of
ENOUGH = 0.5  # g: less than this is not called missing
MOST_BOTTLES = 1000
MOST_LOSS = 50.0  # percent
DROPS_BY_VOLUME_ML = 2.0  # above this much scent nobody should count drops; common practice


@dataclass(frozen=True, slots=True)
class Step:
    """One pour of a batch.

    `said` is the scaled amount in the measures of the recipe, `said_error` how far it is off the grams [%];
    `after_grams` is what the scale shows after this pour when it is not tared.
    """

    number: int
    row: Row
    ingredient: Ingredient
    phase: Phase
    grams: float
    millilitres: float
    said: str
    said_error: float
    after_grams: float
    weigh_rather: bool


@dataclass(frozen=True, slots=True)
class Batch:
    """A plan for a batch; `factor` is how many times the recipe, `unmeasured` what is not counted in it.

    The recipe as it is written is made for no bottles in particular: then there are 0 of 0 mL.
    """

    bottles: int
    bottle_ml: float
    loss_percent: float
    order: PourOrder
    factor: float
    total_grams: float
    total_ml: float
    steps: tuple[Step, ...]
    unmeasured: tuple[Row, ...]
    mixing: str  # how it is mixed, in words
    poured_order: str  # in which order, in words

    @property
    def is_as_written(self) -> bool:
        """Whether it is the recipe itself, and not scaled to bottles."""
        return self.bottles == 0

    @property
    def asked_ml(self) -> float:
        """What its bottles and their loss ask for [mL]."""
        return self.bottles * self.bottle_ml * (1 + self.loss_percent / 100)


def batch_code(made_on: date, blend_id: int) -> str:
    """What a making is called: its day and the number of its blend.

    >>> batch_code(date(2026, 11, 26), 7)
    '20261126-7'
    """
    return f"{made_on:%Y%m%d}-{blend_id}"


def plan_batch(assessment: Assessment, bottles: int, bottle_ml: float, loss_percent: float, order: PourOrder) -> Batch:
    """Scale a blend to `bottles` of `bottle_ml` [mL], with `loss_percent` more for what stays in jug and funnel.

    Raises:
        QuantityError: a number of bottles, a size or a loss outside what can be made, or a blend with nothing in it.
    """
    if not 1 <= bottles <= MOST_BOTTLES:
        raise QuantityError(f"{bottles} bottles cannot be planned; 1 to {MOST_BOTTLES} can.")
    if not 0 <= loss_percent <= MOST_LOSS:
        raise QuantityError(f"A loss of {loss_percent:g} % cannot be planned; 0 to {MOST_LOSS:g} % can.")
    if not 1 <= bottle_ml <= 20_000:
        raise QuantityError(f"Bottles of {bottle_ml:g} mL cannot be planned; 1 to 20,000 mL can.")
    total_ml = bottles * bottle_ml * (1 + loss_percent / 100)
    return _planned(
        assessment, bottles=bottles, bottle_ml=bottle_ml, loss_percent=loss_percent, order=order, total_ml=total_ml
    )


def plan_total(assessment: Assessment, batch: Batch, total_ml: float) -> Batch:
    """The same batch made of another total [mL].

    Raises:
        QuantityError: too little for its bottles.
    """
    if total_ml < batch.bottles * batch.bottle_ml * (1 - SHORT):
        raise QuantityError(f"{total_ml:g} mL do not fill {batch.bottles} bottles of {batch.bottle_ml:g} mL.")
    return _planned(
        assessment,
        bottles=batch.bottles,
        bottle_ml=batch.bottle_ml,
        loss_percent=batch.loss_percent,
        order=batch.order,
        total_ml=total_ml,
    )


def as_written(assessment: Assessment, order: PourOrder) -> Batch:
    """The recipe as it is written, in the order it is poured; raise QuantityError where nothing has an amount."""
    total_ml = assessment.resolution.total_millilitres
    return _planned(assessment, bottles=0, bottle_ml=0.0, loss_percent=0.0, order=order, total_ml=total_ml)


def _planned(
    assessment: Assessment,
    *,
    bottles: int,
    bottle_ml: float,
    loss_percent: float,
    order: PourOrder,
    total_ml: float,
) -> Batch:
    resolution = assessment.resolution
    if resolution.total_millilitres <= 0:
        raise QuantityError("There is nothing to make yet: no row of this blend has an amount.")
    factor = total_ml / resolution.total_millilitres
    steps: list[Step] = []
    poured = 0.0
    for number, (row, item) in enumerate(in_order(resolution.read, order), start=1):
        grams = (row.grams or 0.0) * factor
        poured += grams
        said, error = _say(row, item, grams, assessment.recipe.habits)
        drops = row.line.quantity is not None and any(term.unit == "drop" for term in row.line.quantity.terms)
        steps.append(
            Step(
                number,
                row,
                ingredient=item,
                phase=item.phase,
                grams=grams,
                millilitres=grams / item.spoon_density,
                said=said,
                said_error=error,
                after_grams=poured,
                weigh_rather=drops and grams / item.spoon_density > DROPS_BY_VOLUME_ML,
            )
        )
    unmeasured = tuple(
        row
        for row in assessment.rows
        if row.status in (RowStatus.UNMEASURED, RowStatus.ASKED, RowStatus.NOT_UNDERSTOOD)
    )
    return Batch(
        bottles,
        bottle_ml,
        loss_percent=loss_percent,
        order=order,
        factor=factor,
        total_grams=poured,
        total_ml=total_ml,
        steps=tuple(steps),
        unmeasured=unmeasured,
        mixing=mixing(order, [step.ingredient for step in steps], assessment.recipe.product),
        poured_order=order_words(order, [step.ingredient for step in steps]),
    )


@dataclass(frozen=True, slots=True)
class Shortage:
    """Something of which less is on hand than a batch asks for [g]; `what` is the lot, or the oil with all its lots."""

    what: str
    wanted_g: float
    left_g: float

    @property
    def words(self) -> str:
        """What is missing, in a sentence."""
        return (
            f"{self.what}: {self.left_g:.0f} g left, and {self.wanted_g:.0f} g are asked for: "
            f"{self.wanted_g - self.left_g:.0f} g are missing."
        )


def shortages(batch: Batch, on_hand: Mapping[str, Sequence[tuple[str, float]]]) -> tuple[Shortage, ...]:
    """What of a batch the shelf cannot give; `on_hand` has (lot code, g left) by oil. What is not kept is not named."""
    wanted: dict[str, float] = {}
    left: dict[str, float] = {}
    for step in batch.steps:
        item = step.ingredient
        lots = on_hand.get(item.base_key, ())
        if item.lot:
            name, held = item.name, sum(grams for code, grams in lots if code == item.lot)
        else:
            name, held = item.name, sum(grams for _, grams in lots)
        if lots or item.lot:
            wanted[name] = wanted.get(name, 0.0) + step.grams
            left[name] = held
    return tuple(Shortage(name, grams, left[name]) for name, grams in wanted.items() if grams > left[name] + ENOUGH)


def _say(row: Row, item: Ingredient, grams: float, habits: Habits) -> tuple[str, float]:
    """The scaled amount in the unit it was typed in, and by how many percent that is off; parts and percents in mL."""
    unit, system = unit_of(row)
    if unit in ("tsp", "tbsp") and not system:
        unit = "cup" if grams / item.spoon_density > 100 else unit
    if unit == "ml":
        said = say_poured(grams / item.spoon_density)
    elif unit == "g":
        said = say_weighed(grams)
    else:
        said = say_amount(grams, item.spoon_density, unit, habits, system)
    meant = _grams_said(said, item, habits)
    return said, 100 * (meant - grams) / grams


def unit_of(row: Row) -> tuple[str, str]:
    """The unit in which a row is measured at the bench, and its system: the one it was typed in, else millilitres."""
    quantity = row.line.quantity
    if quantity is None or quantity.kind is not QuantityKind.MEASURE:
        return "ml", ""
    first = quantity.terms[0]
    return ("ml", "") if UNITS[first.unit].dimension is Dimension.UNCLEAR else (first.unit, first.system)


def _grams_said(said: str, item: Ingredient, habits: Habits) -> float:
    """Read our own words again, so that the error shown is that of the words and not of a formula beside them."""
    return grams_of(read_quantity(said).terms, item.spoon_density, habits).typical
