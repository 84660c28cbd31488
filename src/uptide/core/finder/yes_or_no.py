"""What is asked of one thing with yes or no: whether it is vegan, burns in the sun, or holds what somebody must not."""

from __future__ import annotations

import re
from itertools import chain

from uptide.core.finder.known import BODY, Known, is_of_animals
from uptide.core.finder.named import each_thing, together
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.quick import QuickAnswer
from uptide.core.safety.card import answer_for
from uptide.core.skin.whom import Whom, read_whom

OF_PLANTS = re.compile(r"^(?:is|are)\s+(?P<of>.+?)\s+(?:vegan|plant[- ]based|(?:of|from)\s+(?:an?\s+)?animals?)$", re.I)
IN_THE_SUN = re.compile(
    r"^(?:is|are)\s+(?P<of>.+?)\s+photo-?(?:toxic|sensiti[sz]ing)$"
    r"|^(?:does|do|will|can)\s+(?P<burns>.+?)\s+burn(?:\s+(?:me|skin|the skin))?(?:\s+in the sun)?$",
    re.I,
)
HOLDS = re.compile(
    r"^(?:does|do)\s+(?P<of>.+?)\s+(?:contain|have|hold)\s+(?:any\s+)?(?P<what>.+)$"
    r"|^(?:is|are)\s+(?P<free>.+?)\s+(?P<without>\S+?)[- ]free$"
    r"|^(?:is|are)\s+(?P<kind>.+?)\s+an?\s+(?P<a>tree nut|nut|seed|bean|grain)(?:\s+oil)?$",
    re.I,
)


def yes_or_no(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “is beeswax vegan”, “is bergamot phototoxic”, “does argan contain nuts”; None for any other question."""
    if found := OF_PLANTS.match(asked):
        return together([_of_plants(item) for item in _things(found["of"], known)])
    if found := IN_THE_SUN.match(asked):
        whom = read_whom("the sun", {}, known.today)
        return _for_whom(found["of"] or found["burns"], whom, known)
    if found := HOLDS.match(asked):
        what = found["what"] or found["without"] or found["a"]
        whom = read_whom(f"{what} allergy", {}, known.today)
        if whom is None or not whom.wearer.allergies.yes:  # “does argan contain oleic acid” asks of no allergy
            return None
        return _for_whom(found["of"] or found["free"] or found["kind"], whom, known)
    return None


def _things(words: str, known: Known) -> list[Ingredient]:
    return list(chain.from_iterable(each_thing(words, known, in_drops=False)))


def _for_whom(words: str, whom: Whom | None, known: Known) -> QuickAnswer | None:
    if whom is None:
        return None
    tables = known.usage_of(BODY, whom.wearer).tables
    return together([answer_for(item, whom, tables, known.today) for item in _things(words, known)])


def _of_plants(item: Ingredient) -> QuickAnswer:
    """What a workshop enters for itself says nothing of where it comes from."""
    held = is_of_animals(item)
    if held:
        return QuickAnswer(f"{item.name}: of an animal, not vegan", "", about=item.key)
    if held is None:
        return QuickAnswer(f"{item.name}: nobody has said what it is made of", "", about=item.key)
    return QuickAnswer(f"{item.name}: nothing of animals in it", "Ask the maker what else was used.", about=item.key)
