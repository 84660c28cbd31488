"""What is asked in a wish, piece by piece, whether commas stand between or not: “60 ml light face oil no nuts”."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType
from typing import NamedTuple

from lark import Token, Tree

from uptide.core.finder.filter_words import FAMILIES
from uptide.core.finder.parting import ALL_UNDERSTOOD, Missed, parted
from uptide.core.finder.search.wish_grammar import LEAD, plainly, read_ask
from uptide.core.grammar import token_of
from uptide.core.measures.lines import parse_line
from uptide.core.measures.names import NameIndex, NameMatch

HINT = "say it as in “linoleic over 50”, “with jojoba”, “no nuts”, “keeps 6 months”"
OR = re.compile(r" n?or |/")
GOES_ON = re.compile(r"\s(?:in|for|of|with|on|to|and)(?: (?:an?|the|my))?$")  # a name that is cut off in its middle
BEHIND_A_NAME = re.compile(r"\b(?:for|in|during|while|with|without|no|under|over|that)\b")
OF_A_PRODUCT = re.compile(r"^(?:of|for|on)\s+(?:(?:the|my|her|his|their|our)\s+)?(?=\S)")
FREE = re.compile(r"[ -]free$")
FOR_WHOM = re.compile(r"^(?:for|in|during|while)\s+(?=\S)")
NAMES_OILS = ("comparative", "without", "holds")


class Along(NamedTuple):
    """What can come along: its name, and the percent by mass that is taken where nobody says one."""

    name: str
    percent: float


NOTHING_ALONG: Mapping[str, Along] = MappingProxyType({})


@dataclass(frozen=True, slots=True)
class Asked:
    """One thing that is asked: how it was typed, its kind, what it is made of, and the keys of what it names.

    `kind` is a rule of the grammar, “product”, “whom”, or empty for what asks nothing that is known; `problem` says why
    it is not understood.
    """

    typed: str
    kind: str = ""
    tree: Tree[Token] | None = None
    keys: tuple[str, ...] = ()
    problem: str = ""
    missed: Missed = ALL_UNDERSTOOD


class AskedReader:
    """Parts what is said into what is asked, by the names of oils, products and people."""

    def __init__(
        self,
        names: NameIndex,
        products: Mapping[str, str],
        people: Collection[str],
        along: Collection[str],
        described: Mapping[str, str] = MappingProxyType({}),
    ) -> None:
        self.names, self.along = names, frozenset(along)
        self.described = {said.casefold(): name for said, name in described.items()}
        self.products = {name.lower(): key for name, key in products.items()}
        self.people = {name.casefold(): name for name in people}

    def all_of(self, clauses: Iterator[str] | Collection[str]) -> Iterator[Asked]:
        """What each clause asks, in order."""
        before = ""
        for clause in clauses:
            for asked in self._parted(clause, before):
                yield asked
                before = asked.kind

    def _parted(self, clause: str, before: str) -> tuple[Asked, ...]:
        """A clause as the things that it asks; `before` is the kind of what was asked before it."""

        def read(typed: str, last: Asked | None) -> tuple[Asked, Missed]:
            asked = self.read(typed, last.kind if last else before)
            return asked, asked.missed

        return parted(clause, read)[1]

    def read(self, typed: str, before: str = "") -> Asked:
        """What a piece asks as a whole.

        `before` is the kind of what was asked before: “with” and “no” go for what is named after them too.
        """
        words = plainly(typed)
        bare = bare_product(typed)
        if product := self.products.get(bare) or self.products.get(bare.removesuffix(" oil")):
            return Asked(typed, "product", keys=(product,))
        if (tree := read_ask(words)) is not None:
            return self._with_names(Asked(typed, tree.data, tree))
        behind = FOR_WHOM.sub("", words)  # or before a product, as in “baby massage oil”
        if name := self.people.get(behind) if behind != words else self.described.get(words):
            return Asked(typed, "whom", keys=(name,))
        if before == "holds" and self.names.exactly(words):
            return self._with_names(Asked(typed, before, read_ask(f"with {words}")))
        if before == "without" and OR.search(words):  # as in “no nuts, sesame or soy”
            return self._with_names(Asked(typed, before, read_ask(f"no {words}")))
        return _nothing(typed)

    def _with_names(self, asked: Asked) -> Asked:
        """The same with the keys of the oils that it names."""
        if asked.kind not in NAMES_OILS or asked.tree is None:
            return asked
        names = listed(asked.tree) if asked.kind == "without" else [token_of(asked.tree, "REST")]
        keys: list[str] = []
        guessed = 0
        for name in names:
            if asked.kind == "without" and name in FAMILIES:
                continue
            # “30 ml with ten drops lavender” and “10 % clove bud in 30 ml” are no wishes.
            if parse_line(name).quantity is not None or GOES_ON.search(name):
                return _nothing(asked.typed)
            match = self._called(name)
            guessed += 0 if self.names.exactly(name) else len(name.split())
            if not (match.sure or (match.keys and self.along >= set(match.keys))):
                why = f"“{name}” is {'one of several' if match.keys else 'no oil that is known'}: say which"
                missed = Missed(names=1 if match.keys else 2, guessed=guessed)  # several are nearer than none
                return replace(asked, keys=tuple(keys), problem=why, missed=missed)
            keys.append(match.keys[0])  # of scents the first, and it is said
        return replace(asked, keys=tuple(keys), missed=Missed(guessed=guessed))

    def _called(self, name: str) -> NameMatch:
        """What is called so, or nearly so; of what has more words behind it nothing, or they would be passed over."""
        words = name.split()
        begins = (" ".join(words[:count]) for count in range(1, len(words)))
        if self.names.exactly(name):
            return self.names.match(name)
        has_more = any(self.names.exactly(each) for each in begins) or BEHIND_A_NAME.search(name)
        return NameMatch(()) if has_more else self.names.match(name)


def _nothing(typed: str) -> Asked:
    """What asks nothing that is known."""
    return Asked(typed, problem=HINT, missed=Missed(words=len(typed.split())))


def bare_product(typed: str) -> str:
    """What may be the name of a product, without the words before it.

    >>> bare_product("of a Face oil")
    'face oil'
    """
    return LEAD.sub("", OF_A_PRODUCT.sub("", plainly(typed)))


def listed(tree: Tree[Token]) -> list[str]:
    """What must not be in it, as it is called: “nuts”, “sesame”."""
    return OR.split(token_of(tree, "REST") or FREE.sub("", token_of(tree, "FREE")))
