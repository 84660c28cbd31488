"""A blend of one's own, asked for by its name: “Hut hand balm”, “can Ines use the Hut hand balm”."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import TypeVar

from uptide.core.assessment.assessment import Assessment
from uptide.core.assessment.brief import in_brief
from uptide.core.errors import QuantityError
from uptide.core.finder.by_itself import lower
from uptide.core.finder.known import NOBODY, Known
from uptide.core.finder.use import Use, read_use
from uptide.core.measures.names import normalise
from uptide.core.measures.quick import QuickAnswer
from uptide.core.safety.caution import Grade
from uptide.core.safety.person import Heeded
from uptide.core.skin.whom import read_whom

Key = TypeVar("Key")
ARTICLE = r"(?:(?:the|my|our)\s+)?"
ASKS = r"(?:is|are|does|what\s+is)|(?:can|could|may|should)\s+(?:i|we|you|one)\s+(?:use|wear|have)"
LEAD = re.compile(rf"^(?:(?:{ASKS})\s+)?{ARTICLE}", re.IGNORECASE)
MAY = re.compile(
    rf"^(?:can|could|may|should)\s+(?P<whom>.+?)\s+(?:use|wear|have)\s+{ARTICLE}(?P<name>.+)$", re.IGNORECASE
)
BY = re.compile(r"\s(?:for|in|during|with|on|when|while|if)\s", re.IGNORECASE)
GOOD = re.compile(r"(?:\s(?:good|ok|okay|safe|right|fine|allowed|suitable)){1,4}$", re.IGNORECASE)


def blend_asked(asked: str, names: Mapping[str, Key], known: Known) -> tuple[Key, Use] | None:
    """Which blend is asked for, and whom or what for; None where its name does not stand there.

    Args:
        asked: the question.
        names: blends by their names in normal form; one that is called as an oil is not asked for.
        known: whom and what is known.

    Raises:
        QuantityError: what stands behind its name is neither a product nor somebody known.
    """

    def called(name: str) -> Key | None:
        return None if known.names.exactly(name) else names.get(normalise(name))

    if found := MAY.match(asked):
        whom = read_whom(found["whom"], known.people, known.today)
        blend = called(found["name"])
        if whom is not None and blend is not None:
            return blend, Use(whom=whom)
    for name, words in _parted(LEAD.sub("", asked.strip().rstrip("?"))):
        blend = called(name)
        if blend is None:
            continue
        use = read_use(words, known) if words else Use()
        if use is None:
            raise QuantityError(f"“{words}” is neither a product nor somebody known here.")
        return blend, use
    return None


def _parted(asked: str) -> Iterator[tuple[str, str]]:
    """A name and what stands behind it, the longest name first: it may hold such words itself."""
    yield asked, ""
    for by in reversed(list(BY.finditer(asked))):
        yield GOOD.sub("", asked[: by.start()]), asked[by.end() :]


def of_blend(name: str, found: Assessment, use: Use, anyone: Assessment, rules: frozenset[str]) -> QuickAnswer:
    """What a blend is, in a line and what is to be heeded; of whom it is asked for, whether it may be.

    Args:
        name: what it is called.
        found: what was found of it for whom and what it is asked for.
        use: whom and what.
        anyone: what was found of it for anyone: what is warned of there says nothing of this wearer.
        rules: that ask about an allergy.
    """
    brief = in_brief(found, "")
    if use.whom is NOBODY:
        return QuickAnswer(f"{name}: {lower(brief.answer)}", brief.working, lines=brief.lines)
    general = {(c.rule, c.message) for c in anyone.cautions if not (c.is_unknown or c.grade is Grade.STOP)}
    heeded = Heeded(tuple(c for c in found.cautions if (c.rule, c.message) not in general), rules)
    held = {grade: [c.message for c in heeded.holds if c.grade is grade] for grade in Grade}
    if held[Grade.STOP]:
        verdict, why = "not", held[Grade.STOP]
    elif heeded.doubts or found.resolution.unsettled:
        verdict = "unknown"
        why = [c.message for c in heeded.doubts] + [
            f"“{row.typed}” is not settled." for row in found.resolution.unsettled
        ]
    elif held[Grade.WARN]:
        verdict, why = "with care", held[Grade.WARN]
    else:
        verdict, why = "nothing known stops it", []
    said = " ".join(dict.fromkeys((*why, f"{brief.answer}.")))
    return QuickAnswer(f"{name}: {verdict} {use.whom.words}", said, lines=brief.lines)
