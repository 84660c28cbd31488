"""What is asked of a blend of this workshop by its name."""

from __future__ import annotations

from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.finder.known import BODY, NOBODY, Known
from uptide.core.finder.own_blend import blend_asked, of_blend
from uptide.core.measures.names import normalise
from uptide.core.measures.quick import QuickAnswer
from uptide.core.safety.person import allergy_rules
from uptide.core.skin.wearer import ANYONE
from uptide.store.blends import load_blend, names_of_blends
from uptide.workshop.assessment import assess_here


@dataclass(frozen=True, slots=True)
class AskedBlend:
    """A blend that was asked for, by its number, and the answer."""

    blend_id: int
    answer: QuickAnswer


def of_own_blend(asked: str, store: Session, facts: Catalogue, known: Known) -> AskedBlend | None:
    """Answer “Hut hand balm”, “is the Hut hand balm ok for Ines”; None where no blend of that name is here.

    Of whom nothing is said, it is for whoever it is made for.

    Raises:
        QuantityError: what stands behind its name is neither a product nor somebody known.
    """
    names = {normalise(name): number for number, name in names_of_blends(store).items()}
    found = blend_asked(asked, names, known)
    if found is None:
        return None
    blend_id, use = found
    blend = load_blend(store, blend_id)
    recipe = replace(blend.newest.recipe, product=use.said or blend.newest.recipe.product)
    wearer = use.whom.wearer if use.whom is not NOBODY else None
    answer = of_blend(
        blend.name,
        assess_here(recipe, facts, store, wearer=wearer),
        use,
        assess_here(recipe, facts, store, wearer=ANYONE),
        allergy_rules(known.usage_of(BODY, ANYONE).tables),
    )
    return AskedBlend(blend_id, answer)
