"""What is named in a question, and one answer of one or of several things."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from uptide.core.errors import QuantityError
from uptide.core.finder.known import BODY, Known
from uptide.core.ingredients.infusion import each_plant
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.ingredients.plant_names import named_plants
from uptide.core.measures.quick import QuickAnswer
from uptide.core.recipe.naming import UNNAMED_INFUSION, infusion_in, plant_in, plant_of
from uptide.core.skin.wearer import ANYONE

MOST_MEANT = 3  # things that a name may mean before one has to say which
AND = re.compile(r"[,;+&]|\band\b|\bwith\b", re.I)


def each_thing(words: str, known: Known, *, in_drops: bool) -> list[list[Ingredient]]:
    """What each of several names may mean, as in “peppermint and rosemary”; a name may hold such a word itself.

    Raises:
        QuantityError: a name that nothing has, or no name at all.
    """
    apart = [words] if is_name(words, known, in_drops=in_drops) else AND.split(words)
    names = [*filter(None, map(str.strip, apart))]
    if not names:
        raise QuantityError(f"“{words}” names nothing.")
    return [_meant_things(name, known, in_drops=in_drops) for name in names]


def is_name(words: str, known: Known, *, in_drops: bool = False) -> bool:
    """Whether something is called exactly so, or is an oil that is said to be infused with a plant."""
    return bool(known.names.exactly(words, in_drops=in_drops)) or bool(_infused(words, known))


def _meant_things(words: str, known: Known, *, in_drops: bool) -> list[Ingredient]:
    """All that a name may mean: who asks about bergamot is told of both kinds."""
    if infused := _infused(words, known):
        return infused
    if infusion_in(words) and not known.names.exactly(words):  # what is near is the oil without what is in it
        raise QuantityError(f"“{words}” is no oil known here with a plant that is known here.")
    match = known.names.match(words, in_drops=in_drops)
    if not match.keys and not _are_plants(words, known):  # “cayenne oil” can be nothing but steeped
        raise QuantityError(f"“{words}” is not in the catalogue.")
    keys = match.keys[: 1 if match.sure else MOST_MEANT] or (UNNAMED_INFUSION,)
    return [_as_said(known.ingredients[key], words, known) for key in keys]


def _infused(words: str, known: Known) -> list[Ingredient]:
    """The oils that are meant where a name says what was steeped in which; none where it says no such thing.

    A plant that is not known is none: what is said there may be whom it is for, or the sun.
    """
    said = infusion_in(words)
    if said is None or not _are_plants(said[0], known):
        return []
    plant, base = said
    match = known.names.exactly(base)
    oils = [known.ingredients[key] for key in match.keys[: 1 if match.sure else MOST_MEANT]]
    return [replace(oil, name=f"{oil.name}, infused with {plant}", infused_with=plant) for oil in oils if oil.is_fatty]


def _as_said(item: Ingredient, words: str, known: Known) -> Ingredient:
    """What is meant, with what was steeped in it where that is all that its name says: its cautions go by that.

    Raises:
        QuantityError: a plant that is not known, as one that is not spelled as it is here.
    """
    plant = plant_of(item, words)
    if plant and not _are_plants(plant, known):
        raise QuantityError(f"“{words}” is not in the catalogue; “{plant}” is no plant known here.")
    said = f"{plant[:1].upper()}{plant[1:]} oil, base not stated"
    return replace(item, name=said, infused_with=plant) if plant else item


def _are_plants(words: str, known: Known) -> bool:
    """Whether words name plants that are known, and nothing else."""
    plants = known.usage_of(BODY, ANYONE).tables.plants
    return all(named_plants(each, plants).is_all for each in each_plant(plant_in(words)) or (words,))


def together(answers: list[QuickAnswer]) -> QuickAnswer:
    """One answer of one or of several."""
    if len(answers) == 1:
        return answers[0]
    return QuickAnswer(
        "; ".join(each.answer for each in answers),
        "",
        answers[0].remark if len({each.remark for each in answers}) == 1 else "",
        lines=tuple(line for each in answers for line in _as_lines(each)),
    )


def _as_lines(found: QuickAnswer) -> Iterator[tuple[str, str]]:
    """One of several answers: how it came about under its name, and all that it says besides."""
    if found.working:
        yield found.answer.partition(":")[0], found.working
    yield from found.lines


def of_that_name(words: str, known: Known) -> list[Ingredient]:
    """All that bears a name; what is merely near one is not meant.

    Raises:
        QuantityError: a name that is often taken for another's, with what it is.
    """
    words = re.sub(r"^(?:an?|the|my)\s+", "", words.strip(), flags=re.IGNORECASE)
    if infused := _infused(words, known):
        return infused
    match = known.names.exactly(words)
    if match.is_taken_for_another:
        raise QuantityError(match.remark)
    return [_as_said(known.ingredients[key], words, known) for key in match.keys[: 1 if match.sure else MOST_MEANT]]
