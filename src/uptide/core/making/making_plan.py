"""A batch planned: how much of what, from which lots, as the scale can weigh it, what is missing and what it costs."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from functools import cached_property
from math import fsum

from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.ledger.movement import grams, milligrams
from uptide.core.making.picking import OnHand, Pick, Picked, pick
from uptide.core.making.rounding import MG, How, Target, round_to_scale
from uptide.core.making.sizes import Amount
from uptide.core.recipe.order import PourOrder, in_order, mixing, order_words
from uptide.core.recipe.recipe import Entry, Recipe, Row, RowStatus

LOT = "lot:"
RESTRICTED = frozenset({Phase.SCENT, Phase.PROTECTION})
RESTRICTED_KINDS = frozenset({"active", "emulsifier"})  # what has a cap of its own
ENOUGH_MG = 500  # less is not called missing


@dataclass(frozen=True, slots=True)
class LotOnHand:
    """A lot with what it costs a gram; None where nobody said."""

    on_hand: OnHand
    price: float | None = None
    currency: str = ""


@dataclass(frozen=True, slots=True)
class MakingAsk:
    """How a batch is wanted.

    Args:
        amount: containers, loss and leftover.
        order: the school of pouring.
        day: the day of making.
        step_g: what the scale shows.
        small: how what it cannot weigh well is measured.
        drops_per_ml: of the dropper.
        chosen: lot codes to take first, by the position of their line.
        container_price: of a container with its label; None where nobody said.
    """

    amount: Amount
    order: PourOrder
    day: date
    step_g: float = 0.1
    small: How = How.DROPS
    drops_per_ml: float = 20.0
    chosen: Mapping[int, str] = field(default_factory=dict)
    container_price: float | None = None


def _names(item: Ingredient, plant: str) -> bool:
    """Whether an ingredient says by itself what its row says was steeped in it."""
    return plant.casefold() in item.name.casefold()


@dataclass(frozen=True, slots=True)
class PlanLine:
    """One ingredient of a batch: as it was typed, what should go in, and where it comes from."""

    position: int
    typed: str
    item: Ingredient
    target: Target
    picked: Picked
    lots: tuple[LotOnHand, ...]  # that it could be taken from
    plant: str = ""  # that its row says was steeped in it

    @property
    def name(self) -> str:
        """What is poured, with the plant that was steeped in it: as it is read again from plan, record and label."""
        return self.item.name if _names(self.item, self.plant) else f"{self.item.name} infused with {self.plant}"

    @property
    def missing_mg(self) -> int:
        """What no lot has [mg]; nothing of what is kept in none."""
        return self.picked.missing_mg if self.lots and self.picked.missing_mg > ENOUGH_MG else 0

    @property
    def restricted(self) -> bool:
        """Whether it is never rounded up."""
        return self.target.restricted


@dataclass(frozen=True, slots=True)
class Cost:
    """What a batch costs, by currency, and what of it has no price."""

    total: float
    currency: str
    per_container: float
    unpriced: tuple[str, ...]


@dataclass(frozen=True)
class MakingPlan:
    """A batch as it would be made; `assessment` is of the recipe that it is made by."""

    ask: MakingAsk
    assessment: Assessment
    lots: Mapping[str, Sequence[LotOnHand]]  # by the stock key of what they are

    @cached_property
    def lines(self) -> tuple[PlanLine, ...]:
        """What goes in, in the order of pouring; lots that two lines share are taken from once."""
        resolution = self.assessment.resolution
        if resolution.total_grams <= 0:
            raise QuantityError("There is nothing to make yet: no row of this blend has an amount.")
        poured = in_order(resolution.read, self.ask.order)
        scale = milligrams(self.ask.amount.total_g) / resolution.total_grams
        exact = [
            Target((row.grams or 0.0) * scale, item.phase in RESTRICTED or item.kind in RESTRICTED_KINDS)
            for row, item in poured
        ]
        drops = [self._drop_mg(item) for _, item in poured]
        rounded = round_to_scale(exact, self.ask.step_g, drops, self.ask.small)
        taken: dict[str, int] = {}
        lines = []
        for position, ((row, item), target) in enumerate(zip(poured, rounded, strict=True)):
            lots = tuple(self._lots_of(row, item, taken))
            first = self.ask.chosen.get(position, item.lot)
            found = pick(target.holds_mg, (lot.on_hand for lot in lots), self.ask.day, first)
            for each in found.picks:
                taken[each.code] = taken.get(each.code, 0) + each.mg
            lines.append(
                PlanLine(position, row.typed, item=item, target=target, picked=found, lots=lots, plant=row.plant)
            )
        return tuple(lines)

    def _drop_mg(self, item: Ingredient) -> float:
        """What a drop weighs [mg]; 0 of what nobody drops."""
        drops = not item.is_solid and (item.phase in RESTRICTED or item.kind in RESTRICTED_KINDS)
        return MG * item.density / self.ask.drops_per_ml if drops else 0.0

    def _lots_of(self, row: Row, item: Ingredient, taken: Mapping[str, int]) -> Iterator[LotOnHand]:
        """What a row can be taken from; what its row says is infused from no plain oil."""
        for lot in self.lots.get(item.stock_key, ()) if _names(item, row.plant) else ():
            left = lot.on_hand.left_mg - taken.get(lot.on_hand.code, 0)
            yield replace(lot, on_hand=replace(lot.on_hand, left_mg=left))

    @cached_property
    def total_mg(self) -> int:
        """What goes into the vessel as planned."""
        return sum(line.target.mg for line in self.lines)

    @cached_property
    def recipe(self) -> Recipe:
        """The rounded grams of the lots that were picked, as a recipe: rules run on what will be poured."""
        return made_of(self.assessment.recipe, poured_of(self.lines), self.present)

    @cached_property
    def unmeasured(self) -> tuple[str, ...]:
        """Rows of the recipe that are in no amount."""
        return tuple(row.typed for row, _ in self.assessment.resolution.unmeasured)

    @cached_property
    def present(self) -> tuple[str, ...]:
        """Those of which all but the amount is settled: who must not have it is warned, however little it is."""
        rows = self.assessment.resolution.rows
        return tuple(row.typed for row in rows if row.status is RowStatus.UNMEASURED)

    @cached_property
    def mixing(self) -> str:
        """How it is mixed."""
        return mixing(self.ask.order, [line.item for line in self.lines], self.assessment.recipe.product)

    @cached_property
    def order_words(self) -> str:
        """In which order it is poured."""
        return order_words(self.ask.order, [line.item for line in self.lines])

    @cached_property
    def cost(self) -> Cost | None:
        """What its lots cost with containers and labels; None where nothing has a price."""
        found: list[tuple[float, str]] = []
        unpriced = []
        for line in self.lines:
            prices = {lot.on_hand.code: lot for lot in line.lots}
            for each in line.picked.picks:
                lot = prices[each.code]
                if lot.price is None:
                    unpriced.append(line.name)
                else:
                    found.append((lot.price * grams(each.mg), lot.currency))
            if line.missing_mg or not line.lots:
                unpriced.append(line.name)
        currencies = {currency for _, currency in found}
        if len(currencies) != 1:
            return None
        count = self.ask.amount.count
        total = fsum(price for price, _ in found) + count * (self.ask.container_price or 0.0)
        return Cost(total, currencies.pop(), total / count, tuple(dict.fromkeys(unpriced)))


@dataclass(frozen=True, slots=True)
class PouredOf:
    """So much of an ingredient [g], from a lot or from none."""

    key: str
    name: str
    grams: float


def poured_of(lines: Sequence[PlanLine]) -> tuple[PouredOf, ...]:
    """What the lines of a plan come to: of which lot how much, and the rest of the plain ingredient.

    A tenth of a dilution is the thing itself, and the rest of it goes to the carrier that takes the rest.
    """
    found: list[PouredOf] = []
    diluted = 0
    for line in lines:
        diluted += line.target.mg - line.target.holds_mg
        rest = line.target.holds_mg - sum(each.mg for each in line.picked.picks)
        found += [PouredOf(LOT + each.code, line.name, grams(each.mg)) for each in line.picked.picks]
        if rest > 0:
            found.append(PouredOf(line.item.key, line.name, grams(rest)))
    if diluted:
        carrier = max((line for line in lines if not line.restricted), key=lambda line: line.target.mg)
        codes: Sequence[Pick] = carrier.picked.picks[:1]
        key = LOT + codes[0].code if codes else carrier.item.key
        found.append(PouredOf(key, carrier.name, grams(diluted)))
    return tuple(found)


def made_of(recipe: Recipe, poured: Sequence[PouredOf], present: Collection[str] = ()) -> Recipe:
    """A recipe of what is, or will be, poured, and of the rows without an amount that are in it; all else as it was."""
    together: dict[tuple[str, str], float] = {}
    for each in poured:
        together[each.key, each.name] = together.get((each.key, each.name), 0.0) + each.grams
    # Four decimals: three after a point may be thousands, and the row would be asked about instead of read.
    entries = [Entry(f"{amount:.4f} g {name}", {"name": key}) for (key, name), amount in together.items() if amount > 0]
    entries += [each for each in recipe.entries if each.typed in present]
    return replace(recipe, entries=tuple(entries), container=None)
