"""Filter the shelf by what is asked in words: “lighter than avocado, keeps longer, no nuts, linoleic over 50”.

Each clause between commas is one condition. What names no condition is looked for as a name; what cannot be read is
handed back with the reason. A figure that is unknown never passes a condition on it: those oils are listed apart.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

from uptide.core.figures.oil_profile import OilProfile
from uptide.core.finder.filter_grammar import split_clauses
from uptide.core.finder.filter_reader import FilterCondition, FilterReader, Prices, Whom
from uptide.core.finder.substitutes import in_use
from uptide.core.lipids.nearest import displaced
from uptide.core.measures.names import NameIndex, normalise


@dataclass(frozen=True, slots=True)
class Filter:
    """What was asked: conditions, words of names, the oil that others are held against, what was not read.

    `order` is the figure that a superlative puts them in order by, and whether from the greatest down.
    """

    conditions: tuple[FilterCondition, ...] = ()
    names: tuple[str, ...] = ()
    example: str = ""
    likeness: str = ""
    not_read: tuple[tuple[str, str], ...] = ()
    order: tuple[str, bool] | None = None

    @property
    def is_empty(self) -> bool:
        """Nothing was asked."""
        return not (self.conditions or self.names or self.likeness)


@dataclass(frozen=True, slots=True)
class Filtered:
    """The oils that pass, and those of which something that was asked is unknown."""

    oils: tuple[OilProfile, ...]
    unknown: tuple[OilProfile, ...]


def read_filter(
    text: str,
    portraits: Mapping[str, OilProfile],
    names: NameIndex,
    on_hand: frozenset[str] = frozenset(),
    prices: Prices | None = None,
    whom: Whom | None = None,
) -> Filter:
    """Read what is asked of the shelf; never raises.

    `whom` reads somebody (“Ines”, “oily skin”, “pregnancy”) and gives words and what passes for them; None if nobody.
    """
    reader = FilterReader(split_clauses(text), portraits, names, on_hand=on_hand, prices=prices or {}, whom=whom)
    return Filter(
        tuple(reader.conditions),
        tuple(reader.name_words),
        example=reader.example,
        likeness=reader.likeness,
        not_read=tuple(reader.not_read),
        order=reader.order,
    )


def apply_filter(filter_: Filter, portraits: Mapping[str, OilProfile], names: NameIndex) -> Filtered:
    """Keep the oils that pass everything, in the order given; where one was named, the nearest to it on top.

    Of “like …” that is the nearest by its fatty acids, of “lighter than …” the nearest in use.
    """
    passed: list[OilProfile] = []
    unknown: list[OilProfile] = []
    for found in portraits.values():
        if filter_.names and not all(_is_called(found, word, names) for word in filter_.names):
            continue
        answers = [condition.passes(found) for condition in filter_.conditions]
        if all(answers):
            passed.append(found)
        elif False not in answers:
            unknown.append(found)
    if filter_.likeness:
        own = portraits[filter_.likeness].shares
        passed = sorted((p for p in passed if p.acids), key=lambda p: displaced(own, p.shares))
    elif filter_.example:
        example = portraits[filter_.example]
        apart = {p.key: in_use(example, p) for p in passed}
        passed.sort(key=lambda p: (apart[p.key] is None, apart[p.key] or 0.0))
    return Filtered(tuple(passed), tuple(unknown))


def _is_called(found: OilProfile, words: str, names: NameIndex) -> bool:
    return any(_has_name(found, word, names) for word in re.split(r"\s+or\s+|/", words) if word.strip())


def _has_name(found: OilProfile, word: str, names: NameIndex) -> bool:
    if found.item.base_key in names.match(word).keys or found.key in names.match(word).keys:
        return True
    item = found.item
    held = normalise(f"{item.name} {item.inci} {item.botanical_name}")
    return all(part in held for part in normalise(word).split())
