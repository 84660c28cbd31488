"""A recipe as a text file: the words of the recipe, with a few lines above them that say what it is.

name: Wind-and-salt face oil
product: facial-oil
container: 30 mL dropper
answer: sunflower = sunflower-high-oleic

2 tbsp sunflower
12 drops lavender
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from uptide.catalogue.load import Catalogue
from uptide.core.blend.recipe import LONGEST_RECIPE, Entry, Recipe
from uptide.core.errors import ContainerError, UptideError
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import parse_line, split_recipe
from uptide.core.measures.names import normalise
from uptide.core.physics.bottle import KINDS, Container

HEADING = re.compile(r"^\s*(name|product|container|answer|note)\s*:\s*(.+)$", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class RecipeFile:
    """What such a file says."""

    name: str
    note: str
    recipe: Recipe


def read_recipe_file(text: str, catalogue: Catalogue, habits: Habits, product: str = "") -> RecipeFile:
    """Read a recipe file; `product`, when given, wins over the one in the file.

    Raises:
        UptideError: nothing in it is a row, it has too many rows, or a heading that cannot be.
    """
    headings: dict[str, str] = {}
    answers: dict[str, str] = {}
    rows: list[str] = []
    for line in text.splitlines():
        heading = HEADING.match(line)
        if heading is None:
            rows.append(line)
        elif heading[1].lower() == "answer":
            name, _, value = heading[2].partition("=")
            answers[normalise(name)] = value.strip()
        else:
            headings[heading[1].lower()] = heading[2].strip()
    lines = split_recipe("\n".join(rows))
    if not lines:
        raise UptideError("There is no row in this recipe; write one thing to a line, as in “2 tbsp grapeseed”.")
    if len(lines) > LONGEST_RECIPE:
        raise UptideError(f"The recipe has {len(lines)} rows; up to {LONGEST_RECIPE} are weighed.")
    chosen = catalogue.product(product or headings.get("product", "body-oil"))
    entries = tuple(Entry(typed, _answers(typed, answers)) for typed in lines)
    container = _container(headings["container"]) if "container" in headings else None
    return RecipeFile(
        headings.get("name", ""), headings.get("note", ""), Recipe(entries, chosen.key, container, habits)
    )


def _answers(typed: str, answers: dict[str, str]) -> dict[str, str]:
    line = parse_line(typed)
    value = answers.get(normalise(line.name))
    if value is None:
        return {}
    return {"unit" if value in ("fl_oz", "oz_weight", "tsp", "tbsp", "dessertspoon") else "name": value}


def _container(text: str) -> Container:
    found = re.fullmatch(r"([\d.]+)\s*ml\s+([a-z]+)", text.strip().lower())
    if found is None:
        raise ContainerError(
            f"“{text}” is not a container; write it as “30 mL dropper”, with one of {', '.join(KINDS)}."
        )
    return Container(found[2], float(found[1]))
