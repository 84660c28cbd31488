"""A pot with several scents, planned from the shelf of a workshop: the base, and each part with what goes into it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import fsum
from typing import Any

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError
from uptide.core.ingredients.mixture import mixture
from uptide.core.ledger.movement import grams
from uptide.core.making.batch_record import LEFTOVER
from uptide.core.making.making_plan import LOT, LotOnHand, MakingAsk, MakingPlan
from uptide.core.making.one_pot import POT, POT_KEY, Scent, base_of, part_of_pot
from uptide.core.making.picking import OnHand
from uptide.core.making.sizes import Amount, Containers
from uptide.store.batches import plan_batch, set_parts
from uptide.workshop.assessment import assess_here
from uptide.workshop.making import freeze, lots_on_hand
from uptide.workshop.shelf import Shelf

PLENTY_MG = 10**9  # of the base: its parts together are what it was planned for


@dataclass(frozen=True, slots=True)
class ScentedPart:
    """A part of a pot: its plan, and the catalogue in which the base is something that can be poured."""

    scent: Scent
    plan: MakingPlan
    facts: Catalogue


@dataclass(frozen=True, slots=True)
class PotPlan:
    """A base and its parts; `left_out` are the scents of the recipe itself, which go into none of them."""

    base: MakingPlan
    parts: tuple[ScentedPart, ...]
    left_out: tuple[str, ...]


def plan_pot(store: Session, shelf: Shelf, recipe: Assessment, ask: MakingAsk, scents: Sequence[Scent]) -> PotPlan:
    """Plan a base for all scents, and every part of it.

    Raises:
        QuantityError: nothing but scent in the recipe, or a scent that cannot be read.
    """
    bare = assess_here(base_of(recipe.recipe, recipe.resolution), shelf.facts, store)
    whole = bare.resolution
    if whole.total_grams <= 0:
        raise QuantityError("There is no base yet: no oil of this blend has an amount.")
    density = whole.total_grams / whole.total_millilitres
    amounts = [replace(ask.amount, containers=each.containers, density=density, leftover_ml=0.0) for each in scents]
    facts = _with_base(shelf.facts, bare)
    taken = [
        part_of_pot(recipe.recipe, scent, amount.total_g, facts.ingredients, facts.names)
        for scent, amount in zip(scents, amounts, strict=True)
    ]
    pot_ml = fsum(base_g for _, base_g in taken) / density + ask.amount.leftover_ml
    of_pot = Amount((Containers(1, round(pot_ml, 1)),), density)
    lots = lots_on_hand(store, shelf)
    base = MakingPlan(replace(ask, amount=of_pot, container_price=None), bare, lots)
    facts = _with_base(shelf.facts, assess_here(base.recipe, shelf.facts, store))
    price = base.cost.total / grams(base.total_mg) if base.cost is not None else None
    of_base = LotOnHand(OnHand(POT, PLENTY_MG, 0), price, base.cost.currency if base.cost is not None else "")
    left = _less(lots, base)
    parts = []
    for scent, amount, (entries, _) in zip(scents, amounts, taken, strict=True):
        assessed = assess_here(entries, facts, store)
        plan = MakingPlan(replace(ask, amount=amount, chosen={}), assessed, {**left, POT_KEY: (of_base,)})
        left = _less(left, plan)
        parts.append(ScentedPart(scent, plan, facts))
    kept = {entry.typed for entry in bare.recipe.entries}
    left_out = tuple(each.typed for each in recipe.recipe.entries if each.typed not in kept)
    return PotPlan(base, tuple(parts), left_out)


def _with_base(facts: Catalogue, base: Assessment) -> Catalogue:
    """The catalogue with a base in it that can stand in a row."""
    poured = mixture(POT_KEY, "The base", base.resolution.pourable)
    said = "\n".join(row.typed for row in base.resolution.rows)
    return replace(facts, ingredients={**facts.ingredients, POT_KEY: replace(poured, said=said)})


def _less(lots: Mapping[str, Sequence[LotOnHand]], plan: MakingPlan) -> dict[str, tuple[LotOnHand, ...]]:
    """The lots as they are once a plan was made."""
    taken: dict[str, int] = {}
    for line in plan.lines:
        for each in line.picked.picks:
            taken[each.code] = taken.get(each.code, 0) + each.mg
    return {
        key: tuple(
            replace(lot, on_hand=replace(lot.on_hand, left_mg=lot.on_hand.left_mg - taken.get(lot.on_hand.code, 0)))
            for lot in of_oil
        )
        for key, of_oil in lots.items()
    }


def begin_pot(store: Session, pot: PotPlan, blend_id: int, version: int, *, made_by: str) -> str:
    """Freeze a pot as one batch for the base and one for each part; return the number of the base."""
    day = pot.base.ask.day
    scents = "\n".join(part.scent.words for part in pot.parts)
    number = plan_batch(store, blend_id, version, freeze(pot.base) | {"scents": scents}, made_on=day, made_by=made_by)
    parts = [
        plan_batch(store, blend_id, version, _freeze_part(part, number), made_on=day, made_by=made_by)
        for part in pot.parts
    ]
    set_parts(store, number, parts)
    return number


def _freeze_part(part: ScentedPart, number: str) -> dict[str, Any]:
    """A part as plain JSON, its base by the lot that the batch of the base becomes."""
    frozen = freeze(part.plan)
    code = f"{LEFTOVER}{number}"
    for line in frozen["lines"]:
        if line["key"] == POT_KEY:
            line |= {"key": LOT + code, "name": f"The base, batch {number}", "typed": "the base"}
            line["picks"] = [(code, line["target_mg"])]
    return frozen | {"pot": number, "scent": part.scent.name, "scents": part.scent.words}
