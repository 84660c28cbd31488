"""What the quick line is asked with: the shipped oils, a card, and a day."""

from __future__ import annotations

from datetime import date

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import assess
from uptide.core.finder.known import Known
from uptide.core.measures.habits import Habits
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.skin.wearer import ALLERGIES, Ticks, Wearer

TODAY = date(2026, 11, 25)
INES = Wearer("Ines", allergies=Ticks.answered(ALLERGIES, "tree_nut"), skin="combination")


def known_of(catalogue: Catalogue) -> Known:
    return Known(
        catalogue.ingredients,
        catalogue.names,
        habits=Habits(),
        people={"Ines": INES},
        products=catalogue.product_names,
        today=TODAY,
        usage_of=lambda product, wearer: catalogue.usage_of(product, TODAY, wearer),
        assess=lambda recipe, wearer: assess(
            recipe,
            catalogue.ingredients,
            catalogue.names,
            draws=standard_draws(),
            usage=catalogue.usage_context(recipe, TODAY, wearer),
        ),
    )
