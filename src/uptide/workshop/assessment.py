"""The workshop that a request is made in: its day, its shelf, and an assessment with all that is known there."""

from __future__ import annotations

import logging
import traceback
from collections.abc import Mapping, Sequence
from dataclasses import replace
from pathlib import Path

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import assess, unassessed
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError
from uptide.core.keeping.storage_history import Event, history_of
from uptide.core.months import months_between, say_day
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Recipe
from uptide.core.skin.wearer import ANYONE, Wearer
from uptide.core.skin.whom import WITHOUT_CARD, read_whom
from uptide.store.people import wearer_of
from uptide.store.preferences import carried_over
from uptide.workshop.assessed import Asked, Assessed
from uptide.workshop.clock import today

ASSESSED = "assessed"  # in what is known of a session: what was assessed last in its workshop
USUAL_PRODUCT = "body-oil"  # what is made while nothing is said of it
LOG = logging.getLogger("uptide")


def whom_in_words(words: str) -> str:
    """The words that say whom a blend is for where no card is meant; empty for anyone.

    Raises:
        QuantityError: they mean nobody.
    """
    said = " ".join(words.split())
    if said and read_whom(said, {}, today()) is None:
        raise QuantityError(
            f"“{said}” is nobody’s card, nor anybody that is understood; write it as in “{WITHOUT_CARD[1]}”, "
            f"“{WITHOUT_CARD[4]}” or “{WITHOUT_CARD[9]}”."
        )
    return said


def worn_by(recipe: Recipe, store: Session) -> Wearer:
    """Who wears a blend: by their card, or by the words that say it; anyone where neither does any more."""
    if recipe.wearer is not None or not recipe.whom:
        return wearer_of(store, recipe.wearer)
    meant = read_whom(recipe.whom, {}, today())
    return meant.wearer if meant is not None else ANYONE


def assess_here(
    recipe: Recipe,
    catalogue: Catalogue,
    store: Session,
    bottle: int | None = None,
    texts: Mapping[str, str] | None = None,
    wearer: Wearer | None = None,
    events: Sequence[Event] = (),
) -> Assessment:
    """Assess a recipe with the prices of this shelf, for its wearer and, of a bottle, with what befell it.

    `texts` are its name, note and the like, by what they are.
    `wearer` stands in for the one on the recipe; `events` are what befell the bottle of the number `bottle`.

    What follows from the very same is worked out once, where the session knows what was assessed last. A bottle's is
    stored with it, and is not kept besides.
    """
    if recipe.product not in catalogue.products:  # what is stored must open; its page says so
        recipe = replace(recipe, product=USUAL_PRODUCT)
    carried = carried_over(store, bottle)
    usage = catalogue.usage_context(recipe, today(), wearer or worn_by(recipe, store), texts)
    known: Assessed | None = store.info.get(ASSESSED) if bottle is None else None
    try:
        history = history_of(events, recipe.storage, today())
        history = replace(
            history,
            carried_over=carried,
            supplier={
                key: (months_between(history.made_on, best_before), f"{lot}, {say_day(best_before)}")
                for key, (best_before, lot) in catalogue.best_before.items()
            },
        )
        asked = Asked(recipe, usage, history)
        found = known.find(catalogue, asked) if known is not None else None
        if found is None:
            found = assess(
                recipe,
                catalogue.ingredients,
                catalogue.names,
                catalogue.prices,
                draws=standard_draws(),
                history=history,
                usage=usage,
            )
            if known is not None:
                known.keep(catalogue, asked, found)
    except Exception as error:  # noqa: BLE001 - what is stored must open, whatever its figures do
        LOG.error(  # noqa: TRY400 - a traceback would tell what was typed
            "A blend could not be assessed: %s in %s",
            type(error).__name__,
            _place(error),
        )
        return unassessed(recipe, catalogue.ingredients, catalogue.names, usage)
    return found


def _place(error: BaseException) -> str:
    """Where an error came from, by file and line; what was typed is not told to the log."""
    frames = traceback.extract_tb(error.__traceback__)
    return ", ".join(f"{Path(frame.filename).name}:{frame.lineno}" for frame in frames[-3:])
