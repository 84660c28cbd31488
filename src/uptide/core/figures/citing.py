"""What a figure rests on, in words: its sources, its lowest confidence, names as a person lists them."""

from __future__ import annotations

from collections.abc import Iterable

from uptide.core.figures.finding import Input
from uptide.core.ingredients.ingredient import CONFIDENCES


def least_confidence(confidences: Iterable[str]) -> str:
    """The lowest confidence: a figure is no better than its worst input."""
    return min(confidences, key=CONFIDENCES.index, default="low")


def cited(inputs: Iterable[Input], *also: str) -> tuple[str, ...]:
    """The keys of all sources that the inputs name, each once, after those given."""
    return tuple(dict.fromkeys([*also, *(entry.source for entry in inputs if entry.source)]))


def listed(names: list[str]) -> str:
    """Names as a person lists them, each once: “a, b and c”."""
    unique = list(dict.fromkeys(names))
    return unique[0] if len(unique) == 1 else f"{', '.join(unique[:-1])} and {unique[-1]}"
