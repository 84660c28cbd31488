"""A recipe as a text file: the words of the recipe, with a few lines above them that say what it is.

name: Wind-and-salt face oil
for: Ines
product: facial-oil
container: 30 mL dropper
worn: night only
answer: sunflower = sunflower-high-oleic
    noted: 2026-07-20 made
    noted: 2026-09-20 strip 0 5

2 tbsp sunflower
12 drops lavender
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import ContainerError, UptideError
from uptide.core.keeping.storage_history import EVENT_KINDS, IN_WATER, placed, read_event
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import parse_line, split_recipe
from uptide.core.measures.names import normalise
from uptide.core.oxidation.surroundings import Storage
from uptide.core.physics.bottle import CONTAINER_KINDS, Container
from uptide.core.recipe.recipe import LONGEST_RECIPE, Entry, IntendedUse, Recipe
from uptide.core.safety.case import REGIONS, TIMES

HEADING = re.compile(
    r"^\s*(name|for|product|container|answer|noted|note|law|sold|worn|reason)\s*:\s*(.+)$", re.IGNORECASE
)


@dataclass(frozen=True, slots=True)
class Noted:
    """Something that befell the bottle: the day, the kind, and what belongs to the kind."""

    on: date
    kind: str
    detail: dict[str, object]


@dataclass(frozen=True, slots=True)
class RecipeFile:
    """What such a file says."""

    name: str
    note: str
    recipe: Recipe
    noted: tuple[Noted, ...] = ()
    wearer: str = ""  # the name of whom it is for, to be looked up


def read_recipe_file(text: str, catalogue: Catalogue, habits: Habits, product: str = "") -> RecipeFile:
    """Read a recipe file; `product`, when given, wins over the one in the file.

    Raises:
        UptideError: nothing in it is a row, it has too many rows, or a heading that cannot be.
    """
    headings: dict[str, str] = {}
    answers: dict[str, str] = {}
    rows: list[str] = []
    noted: list[Noted] = []
    reasons: dict[str, str] = {}
    for line in text.splitlines():
        heading = HEADING.match(line)
        if heading is None:
            rows.append(line)
        elif heading[1].lower() == "answer":
            name, _, value = heading[2].partition("=")
            answers[normalise(name)] = value.strip()
        elif heading[1].lower() == "reason":
            rule, _, why = heading[2].partition("=")
            reasons[rule.strip()] = why.strip()
        elif heading[1].lower() == "noted":
            noted.append(read_noted(heading[2].strip()))
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
        headings.get("name", ""),
        headings.get("note", ""),
        recipe=Recipe(entries, chosen.key, container, habits, use=_use(headings), reasons=reasons),
        noted=tuple(noted),
        wearer=headings.get("for", ""),
    )


def _use(headings: dict[str, str]) -> IntendedUse:
    region = headings.get("law", "EU")
    if region not in REGIONS:
        raise UptideError(f"law: “{region}” is not known; known are {', '.join(REGIONS)}.")
    sold = headings.get("sold", "no")
    try:
        placed_on = None if sold in ("no", "yes") else date.fromisoformat(sold)
    except ValueError as error:
        raise UptideError(f"sold: “{sold}” is neither no nor yes nor a day as 2026-08-01.") from error
    worn = headings.get("worn", TIMES[0])
    if worn not in TIMES:
        raise UptideError(f"worn: “{worn}” is not known; known are {', '.join(TIMES)}.")
    return IntendedUse(region, sold != "no", placed_on, worn == TIMES[1])


def read_noted(text: str) -> Noted:
    """Read a note as in “2026-09-20 strip 0 5”, “2026-08-01 moved fridge” or “2026-10-01 smell fine”.

    Raises:
        UptideError: a day or a kind that is none, or words that do not belong to the kind.
    """
    day, _, rest = text.partition(" ")
    kind = next((kind for kind in EVENT_KINDS if rest == kind or rest.startswith(f"{kind} ")), "")
    words = rest[len(kind) :].split()
    try:
        on = date.fromisoformat(day)
        detail: dict[str, object] = {}
        if kind == "moved":
            detail = {"place": " ".join(words)}
            placed(Storage(), " ".join(words))
        elif kind == "heated":
            detail = {"celsius": float(words[0]), "hours": float(words[1])}
        elif kind == "strip":
            detail = {"low": float(words[0]), "high": float(words[1])}
        elif kind == "titration":
            detail = {"low": float(words[0])}
        elif kind == "in water":
            detail = {"saw": IN_WATER[IN_WATER.index(" ".join(words))]}
        elif kind == "smell":
            detail = {"off": {"fine": False, "off": True}[words[0]]}
        if kind in ("strip", "titration", "smell"):
            read_event(kind, 0.0, detail)
    except (ValueError, IndexError, KeyError) as error:
        why = str(error) if isinstance(error, UptideError) else "write it as “2026-09-20 strip 0 5”"
        raise UptideError(f"“{text}” is no note of a bottle: {why}.") from error
    if not kind:
        raise UptideError(f"“{text}” is no note of a bottle; known are {', '.join(EVENT_KINDS)}.")
    return Noted(on, kind, detail)


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
            f"“{text}” is not a container; write it as “30 mL dropper”, with one of {', '.join(CONTAINER_KINDS)}."
        )
    return Container(found[2], float(found[1]))
