"""Which plants words name: “sage leaves” is sage, “juniper berries” juniper."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from itertools import product

from uptide.core.measures.names import normalise

# By themselves the name of no plant: its parts, what is said of them, and what ends the names of many.
PARTS = (
    "bark",
    "berry",
    "blossom",
    "bud",
    "cone",
    "flower",
    "fruit",
    "head",
    "herb",
    "leaf",
    "needle",
    "peel",
    "petal",
)
MORE_PARTS = ("pod", "powder", "resin", "rhizome", "root", "seed", "shell", "stem", "tip", "top", "twig", "wood")
STATES = ("crushed", "cut", "dried", "dry", "flowering", "fresh", "ground", "powdered", "whole", "wilted")
GROWN = ("garden", "home", "homegrown", "grown", "organic", "wild", "of", "the")
ENDS = ("broad", "heal", "tea", "wort")
NO_NAME = frozenset({*PARTS, *MORE_PARTS, *STATES, *GROWN, *ENDS})
LONGEST = 6  # words of a plant's name, as in “rosa damascena var. trigintipetala flower”
ENDINGS = (("ies", "y"), ("ves", "f"), ("es", ""), ("s", ""))  # of several, and what stands there of one


@dataclass(frozen=True, slots=True)
class NamedPlants:
    """Names that stand within words, and whether nothing else does but parts of plants and what is said of them."""

    names: tuple[str, ...]
    is_all: bool


def named_plants(words: str, names: Collection[str]) -> NamedPlants:
    """The plants that words name, the longest names first: “green tea” is no tea.

    Args:
        words: of one plant, in a person's words.
        names: of plants, in normal form.

    >>> named_plants("dried sage leaves", {"sage", "green tea", "clove"})
    NamedPlants(names=('sage',), is_all=True)
    >>> named_plants("cloves in the sun", {"sage", "green tea", "clove"})
    NamedPlants(names=('clove',), is_all=False)
    """
    said = normalise(words).split()
    found: list[str] = []
    left: list[str | None] = list(said)
    for length in range(min(len(said), LONGEST), 0, -1):
        for start in range(len(said) - length + 1):
            part = left[start : start + length]
            name = next((name for name in _forms(part) if name in names and name not in NO_NAME), None)
            if name is not None:
                found.append(name)
                left[start : start + length] = [None] * length
    is_all = bool(found) and all(word is None or not NO_NAME.isdisjoint(_forms([word])) for word in left)
    return NamedPlants(tuple(found), is_all)


def _forms(part: list[str | None]) -> list[str]:
    """Words that no name took yet, as they stand, and as they are of one where they are of several."""
    each = [(word, *_of_one(word)) for word in part if word]
    return [" ".join(words) for words in product(*each)]


def _of_one(word: str) -> list[str]:
    return [word.removesuffix(several) + one for several, one in ENDINGS if word.endswith(several)]
