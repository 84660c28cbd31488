"""What could take the place of an oil in a blend of this workshop: for whom it is made, and with what is on hand."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError
from uptide.core.finder.search.stand_ins import StandIn, changes, stand_ins
from uptide.core.finder.search.wish import Wish
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.edit import step_row
from uptide.core.safety.person import judge
from uptide.store.preferences import carried_over
from uptide.workshop.assessment import assess_here, worn_by
from uptide.workshop.clock import today


@dataclass(frozen=True, eq=False)
class Step:
    """A row a step more, or less: what it would say, and the figures that change, each as it was and would be."""

    more: bool
    typed: str
    changes: tuple[tuple[str, float, float], ...]


def steps_here(found: Assessment, index: int, facts: Catalogue, store: Session) -> tuple[Step, ...]:
    """A row one step more and one step less, each assessed by the one road; none of what takes what is left."""
    row, made = found.resolution.rows[index], []
    for more in (True, False):
        try:
            recipe = step_row(found.recipe, row, 1 if more else -1, facts.ingredients, facts.names)
        except QuantityError:
            continue
        after = assess_here(recipe, facts, store)
        typed = recipe.entries[index].typed
        made.append(Step(more, typed, tuple(changes(found, after, wish_as(found, store)))))
    return tuple(made)


def wish_as(found: Assessment, store: Session) -> Wish:
    """Where a blend stands and how much of it there is, as a wish has it."""
    return Wish(
        millilitres=found.resolution.total_millilitres or 1.0,
        storage=found.recipe.storage,
        start_month=today().month - 1,
        rate_shift=carried_over(store, None),
    )


def stand_ins_here(
    found: Assessment, index: int, facts: Catalogue, store: Session, kept: float = 0.0
) -> tuple[StandIn, ...]:
    """Ways to fill a row's place that nothing speaks against for its wearer, each assessed by the one road.

    `kept` is the part of the place that the oil keeps, to stretch it.

    Raises:
        UptideError: a row whose place cannot be filled.
    """
    wearer, day, wish = worn_by(found.recipe, store), today(), wish_as(found, store)
    return stand_ins(
        found,
        index,
        [
            item
            for item in facts.ingredients.values()
            if item.is_fatty and not item.lot and judge(item, wearer, facts.safety, day).allowed
        ],
        standard_draws(),
        wish=wish,
        on_hand=frozenset(facts.on_hand),
        look=lambda recipe: assess_here(recipe, facts, store),
        kept=kept,
    )
