"""What is named in a question, and one answer of one or of several things."""

from __future__ import annotations

import re
from collections.abc import Iterator

from uptide.core.errors import QuantityError
from uptide.core.finder.known import Known
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.quick import QuickAnswer

MOST_MEANT = 3  # things that a name may mean before one has to say which
AND = re.compile(r"[,;+&]|\band\b|\bwith\b", re.I)


def each_thing(words: str, known: Known, *, in_drops: bool) -> list[list[Ingredient]]:
    """What each of several names may mean, as in “peppermint and rosemary”; a name may hold such a word itself.

    Raises:
        QuantityError: a name that nothing has, or no name at all.
    """
    apart = [words] if known.names.exactly(words, in_drops=in_drops) else AND.split(words)
    names = [*filter(None, map(str.strip, apart))]
    if not names:
        raise QuantityError(f"“{words}” names nothing.")
    return [_meant_things(name, known, in_drops=in_drops) for name in names]


def _meant_things(words: str, known: Known, *, in_drops: bool) -> list[Ingredient]:
    """All that a name may mean: who asks about bergamot is told of both kinds."""
    match = known.names.match(words, in_drops=in_drops)
    if not match.keys:
        raise QuantityError(f"“{words}” is not in the catalogue.")
    keys = match.keys[:1] if match.sure else match.keys[:MOST_MEANT]
    return [known.ingredients[key] for key in keys]


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
    match = known.names.exactly(re.sub(r"^(?:an?|the|my)\s+", "", words.strip(), flags=re.IGNORECASE))
    if match.is_taken_for_another:
        raise QuantityError(match.remark)
    return [known.ingredients[key] for key in match.keys[: 1 if match.sure else MOST_MEANT]]
