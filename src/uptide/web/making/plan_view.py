"""A planned batch in the words of its page."""

from __future__ import annotations

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.figures.citing import listed
from uptide.core.ledger.movement import grams
from uptide.core.making.making_plan import MakingPlan, PlanLine
from uptide.core.making.one_pot import POT_KEY
from uptide.core.months import say_day
from uptide.core.safety.check import Safety
from uptide.web.base.pages import number
from uptide.web.drawing.view import View
from uptide.web.making.words import keeps
from uptide.workshop.assessment import assess_here
from uptide.workshop.one_pot import PotPlan
from uptide.workshop.shelf import Shelf


class LineView(View):
    """A pour of a plan."""

    position: int
    name: str
    typed: str
    grams: str
    measured: str
    from_lots: str
    options: tuple[tuple[str, str], ...]  # lots that it could be taken from
    missing: str


class PlanView(View):
    """A planned batch: its lines, what they come to, and what speaks against it."""

    sentence: str
    lines: tuple[LineView, ...]
    keeps: str
    why: str
    notes: tuple[str, ...]
    stops: tuple[str, ...]
    order: str
    mixing: str
    cost: str
    title: str = ""
    parts: tuple[PlanView, ...] = ()  # the scents of a pot


def pot_view(pot: PotPlan, store: Session, shelf: Shelf) -> PlanView:
    """A base and its parts in words; of the base by itself nothing keeps, costs or is filled into bottles."""
    base = plan_view(pot.base, store, shelf.facts)
    names = listed([part.scent.name for part in pot.parts])
    left_out = [f"In none of them unless a line says so: {typed}." for typed in pot.left_out]
    return base.model_copy(
        update={
            "title": "The base",
            "sentence": f"One pot for {names}: {number(grams(pot.base.total_mg), 1)} g in all, "
            f"{pot.base.ask.amount.loss_words}.",
            "cost": "",
            "notes": (*base.notes, *left_out),
            "parts": tuple(
                plan_view(part.plan, store, part.facts).model_copy(update={"title": part.scent.name})
                for part in pot.parts
            ),
        }
    )


def plan_view(plan: MakingPlan, store: Session, facts: Catalogue) -> PlanView:
    """A plan in words; the rules run on the rounded grams of the lots that are picked."""
    assessment = assess_here(plan.recipe, facts, store)
    safety = assessment.safety or Safety()
    amount = plan.ask.amount
    bottles = " and ".join(each.words for each in amount.containers)
    notes = [f"{line.name}: {line.target.said}." for line in plan.lines if line.target.said]
    notes += [f"Not measured, and in none of these amounts: {typed}." for typed in plan.unmeasured]
    return PlanView(
        sentence=(
            f"{bottles}: {number(amount.net_g, 1)} g in the bottles, {amount.loss_words}; "
            f"{number(grams(plan.total_mg), 1)} g in all."
        ),
        lines=tuple(_line(line) for line in plan.lines),
        keeps=keeps(assessment.shelf_life, plan.ask.day),
        why=_first_to_end(plan),
        notes=tuple(notes),
        stops=tuple(stop.words for stop in safety.open_stops),
        order=plan.order_words,
        mixing=plan.mixing,
        cost=_cost(plan),
    )


def _first_to_end(plan: MakingPlan) -> str:
    """Which of its lots ends first, with the one that lasts longer."""
    ends = [
        (lot.on_hand.ends_on, line, lot.on_hand.code)
        for line in plan.lines
        for lot in line.lots
        if lot.on_hand.ends_on is not None and lot.on_hand.code in {each.code for each in line.picked.picks}
    ]
    why = ""
    if ends:
        first, line, code = min(ends, key=lambda each: each[0])
        later = [
            lot.on_hand
            for lot in line.lots
            if lot.on_hand.ends_on is not None and lot.on_hand.ends_on > first and lot.on_hand.code != code
        ]
        why = f"The first of its lots to end is {code} of {line.name}, on {say_day(first)}."
        if later:
            longer = max(later, key=lambda lot: (lot.ends_on or first, lot.code))
            why += f" Lot {longer.code} of it lasts until {say_day(longer.ends_on or first)}."
    return why


def _line(line: PlanLine) -> LineView:
    lots = {lot.on_hand.code: lot.on_hand for lot in line.lots}
    of_pot = line.item.key == POT_KEY
    taken = [f"{grams(each.mg):.2f} g of {each.code}" for each in line.picked.picks]
    missing = ""
    if line.missing_mg:
        short = grams(line.missing_mg)
        missing = f"{short:.1f} g are missing: buy {number(short / line.item.spoon_density, 0)} mL"
        priced = next((lot for lot in line.lots if lot.price is not None), None)
        if priced is not None and priced.price is not None:
            missing += f", about {number(short * priced.price, 2)} {priced.currency} as the last was"
    ends = {code: f"ends {say_day(lot.ends_on)}" if lot.ends_on else "no end known" for code, lot in lots.items()}
    return LineView(
        position=line.position,
        name=line.name,
        typed="the base" if of_pot else line.typed,
        grams=f"{grams(line.target.mg):.2f}",
        measured=f"{line.target.drops} drops" if line.target.drops else line.target.how.value,
        from_lots="the pot"
        if of_pot
        else " and ".join(taken) or ("no lot of it is on the shelf" if not lots else "none"),
        options=()
        if of_pot
        else tuple((code, f"{code}, {grams(lot.left_mg):.0f} g, {ends[code]}") for code, lot in lots.items()),
        missing=missing,
    )


def _cost(plan: MakingPlan) -> str:
    cost = plan.cost
    if cost is None:
        return ""
    beside = " with container and label" if plan.ask.container_price is not None else ", the oils alone"
    without = f"; without {', '.join(cost.unpriced)}, of which nobody said a price" if cost.unpriced else ""
    return f"Costs {number(cost.total, 2)} {cost.currency}, {number(cost.per_container, 3)} a bottle{beside}{without}."
