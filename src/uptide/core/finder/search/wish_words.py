"""A wish as people say it: “60 ml face oil for oily skin, linoleic over 50, keeps 6 months in the fridge, no nuts”.

Every clause becomes a limit with a plain line of its own, or is said not to be understood; none is passed over.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType

from uptide.core.finder.search.wish import Limit, Objective, Wish
from uptide.core.finder.search.wish_asked import HINT, NOTHING_ALONG, Along, AskedReader
from uptide.core.finder.search.wish_clauses import clauses_of
from uptide.core.finder.search.wish_reader import WishReader
from uptide.core.measures.names import NameIndex
from uptide.core.skin.wearer import Wearer

ACIDS_AT_LEAST, INERT_AT_MOST = 60.0, 20.0  # g/100 g; %: against an acid that is bought by dilution; shown as limits
POURED = 18.0  # °C: a cool room, in which an oil is expected to pour; policy
SET = frozenset({"whipped-butter", "balm", "scrub"})  # products that are not poured
LONGEST_WISH, SHOWN = 500, 40  # characters that are read, and of more that are shown


@dataclass(frozen=True, slots=True)
class ReadWish:
    """A wish as it was understood: its limits, the product, what is to be best, and what was not understood and why.

    `lines` are what was understood, each with the clause that said it; of what was said by nobody that is empty.
    """

    wish: Wish
    product: str
    objective: Objective | None
    lines: tuple[tuple[str, str], ...]
    not_read: tuple[tuple[str, str], ...]
    whom: str = ""  # the name of the person it is for, or the words that say who
    described: Wearer | None = None  # whom it is for, where that was said without a name
    kinds: frozenset[str] = frozenset()  # of what is asked: “size”, “product”, the rules of the grammar


def read_wish(
    text: str,
    names: NameIndex,
    products: Mapping[str, str],
    people: Collection[str] = frozenset(),
    along: Mapping[str, Along] = NOTHING_ALONG,
    figure_of: Callable[[str, str], float | None] = lambda key, figure: None,
    *,
    described: Mapping[str, str] = MappingProxyType({}),
) -> ReadWish:
    """Read a wish. Never raises.

    `products` are keys of kinds of product by the names people have for them; `people` the names that are known, and
    the words behind “for” that say somebody; `described` such words by what stands before a product, as in “baby’s
    oil”; `along` is what is no oil and can come along, by its key; `figure_of` gives a figure of the shelf's words of
    an oil.
    """
    reader = WishReader(along, figure_of)
    if len(text) > LONGEST_WISH:
        why = f"this has {len(text)} characters; up to {LONGEST_WISH} are read"
        return ReadWish(reader.wish, "", objective=None, lines=(), not_read=((text[:SHOWN] + "…", why),))
    clauses = clauses_of(text)
    for asked in AskedReader(names, products, people, along, described).all_of(clauses):
        reader.take(asked)
    if not clauses:
        reader.not_read.append((text, HINT))
    limits = list(reader.limits)
    if not any(limit.figure == "acids" for limit in limits):
        limits.append(Limit("acids", at_least=True, bound=ACIDS_AT_LEAST))
    if not any(limit.figure == "inert" for limit in limits):
        limits.append(Limit("inert", at_least=False, bound=INERT_AT_MOST))
    if not (reader.may_set or reader.product in SET or any(limit.figure in ("clear", "solid") for limit in limits)):
        limits.append(Limit("clear", at_least=True, bound=POURED))
    wish = replace(reader.wish, limits=tuple(limits))
    lines = (*reader.lines, *((each.words, each.typed) for each in limits))
    return ReadWish(
        wish,
        reader.product,
        objective=reader.objective,
        lines=lines,
        not_read=tuple(reader.not_read),
        whom=reader.whom,
        kinds=frozenset(reader.kinds),
    )
