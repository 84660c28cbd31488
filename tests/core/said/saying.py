"""A thing that was worked out as lines of text, whole: every field and every property that says something."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping, Set
from dataclasses import fields, is_dataclass
from enum import Enum
from functools import cached_property
from typing import Any

import numpy as np

from uptide.core.errors import UptideError
from uptide.core.figures.finding import FigureSpec
from uptide.core.finder.search.wish import Limit
from uptide.core.infusion.methods import Method
from uptide.core.infusion.plan import JarPlan
from uptide.core.infusion.plants import PlantFacts
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.oxidation.surroundings import Storage
from uptide.core.recipe.recipe import Recipe, Row
from uptide.core.skin.wearer import Wearer

DEEPEST = 9  # fields within fields
ON_A_LINE = 9  # fields at most


def lines_of(value: object, name: str = "", depth: int = 0) -> Iterator[str]:
    """The lines of a value, with numbers to four digits; what says nothing (None, no, an empty text) has none."""
    if value is None or value is False or callable(value) or (isinstance(value, str | Collection) and len(value) == 0):
        return
    one = None if depth == 0 and isinstance(value, Ingredient | PlantFacts | JarPlan) else _in_short(value)
    if one is not None:
        yield f"{name}: {one}"
    elif depth > DEEPEST:
        yield f"{name}: …"
    elif isinstance(value, Mapping):
        for key, each in sorted((str(_in_short(key) or key), each) for key, each in value.items()):
            yield from lines_of(each, f"{name}.{key}", depth + 1)
    elif isinstance(value, Collection):
        in_order = sorted(value, key=str) if isinstance(value, Set) else value
        for place, each in enumerate(in_order):
            yield from lines_of(each, f"{name}.{place}", depth + 1)
    else:
        parts = [(each, list(lines_of(getattr(value, each), each, depth + 1))) for each in _names(value)]
        if len(parts) <= ON_A_LINE and all(len(lines) <= 1 for _, lines in parts):
            yield f"{name}: " + "; ".join(line for _, lines in parts for line in lines)
        else:
            yield from (f"{name}.{line}" for _, lines in parts for line in lines)


def _names(value: object) -> list[str]:
    """The fields of a record, and what it works out from them by itself."""
    own = [field.name for field in fields(value)] if is_dataclass(value) else []
    worked_out = [
        name
        for kind in type(value).__mro__
        for name, member in vars(kind).items()
        if isinstance(member, property | cached_property)
    ]
    return [name for name in dict.fromkeys([*own, *worked_out]) if not name.startswith("_")]


# Values that are said on one line, by their sort; the first that fits.
SHORT: tuple[tuple[Any, Callable[[Any], str]], ...] = (
    (Enum, lambda value: str(value.value)),
    (float | np.floating, lambda value: f"{value:.4g}"),
    (np.ndarray, lambda value: f"{value.size} numbers of {value.mean():.4g}"),
    (Ingredient | PlantFacts | Method | FigureSpec, lambda value: str(value.key)),
    (JarPlan, lambda value: f"{value.plant_grams:.4g} g in {value.oil_grams:.4g} g"),
    (Limit, lambda value: " | ".join(filter(None, (value.words, value.typed, value.currency)))),
    (Storage, lambda value: f"{value.place}, {value.celsius}, {value.light.value}, {value.glass.value}"),
    (Row, lambda value: str(value.typed)),
    (Wearer, lambda value: str(value.name)),
    (Recipe, lambda value: "; ".join(entry.typed for entry in value.entries)),
)


def _in_short(value: object) -> str | None:
    """A value that is said on one line; None where it has parts."""
    for kind, say in SHORT:
        if isinstance(value, kind):
            return say(value)
    has_parts = is_dataclass(value) or (isinstance(value, Collection) and not isinstance(value, str))
    return None if has_parts else str(value)


def or_why(read: Callable[..., object], *arguments: object) -> object:
    """What is read, or why it is not."""
    try:
        return read(*arguments)
    except UptideError as error:
        return f"not read: {error}"
