"""What the quick line may look up."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date

from uptide.core.assessment.assessment import Assessment
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.ingredients.own_oil import KEY as OWN
from uptide.core.measures.habits import Habits
from uptide.core.measures.names import NameIndex
from uptide.core.recipe.recipe import Recipe
from uptide.core.safety.case import UsageContext
from uptide.core.skin.wearer import ANYONE, Wearer
from uptide.core.skin.whom import Whom

BASE = "sunflower-high-oleic"  # what a scent is thought into: plain, and of the density of most oils
BODY, FACE = "body-oil", "facial-oil"  # what a scent is for where nothing is said
# What comes of an animal; everything else that is shipped is of plants, minerals or synthesis (common practice).
OF_ANIMALS = frozenset({"beeswax", "lanolin", "honey", "milk"})
LIMITS = "Limits are from memory; its page names their sources, and local law comes first."
NOBODY = Whom(ANYONE, "")


def is_of_animals(item: Ingredient) -> bool | None:
    """Whether something of an animal is in it; None of an own oil, of which nobody has said."""
    held = {is_of_animals(part) for part, _ in item.parts}
    if item.base_key in OF_ANIMALS or True in held:
        return True
    return None if item.base_key.startswith(OWN) or None in held else False


@dataclass(frozen=True, slots=True)
class Known:
    """What the quick line may look up: things and their names, how a person measures, cards by name, products by key.

    `usage_of` gives what is around a product that somebody wears, `assess` works out a recipe.
    """

    ingredients: Mapping[str, Ingredient]
    names: NameIndex
    habits: Habits
    people: Mapping[str, Wearer]
    products: Mapping[str, str]
    today: date
    usage_of: Callable[[str, Wearer], UsageContext]
    assess: Callable[[Recipe, Wearer], Assessment]
