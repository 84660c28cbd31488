"""What could take the place of an oil in a blend of this workshop: for whom it is made, and with what is on hand."""

from __future__ import annotations

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.finder.search.stand_ins import StandIn, stand_ins
from uptide.core.finder.search.wish import Wish
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.safety.person import judge
from uptide.store.people import wearer_of
from uptide.store.preferences import carried_over
from uptide.workshop.assessment import assess_here
from uptide.workshop.clock import today


def stand_ins_here(found: Assessment, index: int, facts: Catalogue, store: Session) -> tuple[StandIn, ...]:
    """Ways to fill a row's place that nothing speaks against for its wearer, each assessed by the one road.

    Raises:
        UptideError: a row whose place cannot be filled.
    """
    wearer, day = wearer_of(store, found.recipe.wearer), today()
    wish = Wish(storage=found.recipe.storage, start_month=day.month - 1, rate_shift=carried_over(store, None))
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
    )
