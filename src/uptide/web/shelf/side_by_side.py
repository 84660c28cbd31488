"""Two to five oils or lots side by side, the figure in which they differ most on top."""

from __future__ import annotations

from dataclasses import replace
from math import log

from markupsafe import Markup

from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.figures.finding import Finding
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.keeping.shelf_life import StorageHistory
from uptide.core.months import months_between, say_day
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.oxidation.surroundings import Storage
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.web.base.pages import number, piece
from uptide.web.drawing.ribbon import draw_ribbon
from uptide.web.drawing.view import View
from uptide.web.views.figures import FigureView, figure_view
from uptide.workshop.clock import today
from uptide.workshop.shelf import Shelf

MOST = 5
NOT_AN_OIL_S = ("total_mass", "total_volume", "cost", "scent_share", "fatty_acid_mass")
TINY = 1e-9


class Cell(View):
    """One figure of one oil, and how much of the greatest in its line it is [%], for the bar behind it."""

    figure: FigureView
    part: float


class Line(View):
    """One figure of all oils; `apart` says how far they differ."""

    title: str
    unit: str
    apart: str
    cells: tuple[Cell, ...]


class SideBySide(View):
    """Everything the comparison shows."""

    oils: tuple[tuple[str, str, Markup, str], ...]  # address, name, ribbon, colour
    words: tuple[tuple[str, tuple[str, ...]], ...]
    lines: tuple[Line, ...]
    alike: tuple[Line, ...]


def alone(item: Ingredient, shelf: Shelf) -> Assessment:
    """What is known of a hundred grams of one thing; a lot on hand stands where it stands, and ends by its date."""
    standing = next((each for each in shelf.standing if each.item.key == item.key), None)
    storage = standing.lot.storage if standing else Storage()
    history = StorageHistory(start_month=today().month - 1)
    if standing and standing.lot.best_before:
        left = months_between(today(), standing.lot.best_before)
        words = f"{item.name}, {say_day(standing.lot.best_before)}"
        keys = [part.key for part, _ in item.parts] or [item.key]
        history = replace(history, supplier=dict.fromkeys(keys, (left, words)))
    recipe = Recipe((Entry(f"100 g {item.name}", {"name": item.key}),), storage=storage)
    return assess(recipe, shelf.facts.ingredients, shelf.facts.names, draws=standard_draws(), history=history)


def oil_address(item: Ingredient) -> str:
    """Where the page of an oil or a lot is."""
    return f"/shelf/lots/{item.lot}" if item.lot else f"/shelf/{item.key}"


def side_by_side(keys: list[str], shelf: Shelf) -> SideBySide:
    """Lay oils or lots side by side.

    Raises:
        UnknownKeyError: a key that names nothing on this shelf.
    """
    items = [shelf.facts.ingredient(key) for key in keys]
    assessed = [alone(item, shelf) for item in items]
    found = [{f.key: f for f in a.findings if f.key not in NOT_AN_OIL_S} for a in assessed]
    shared = [key for key in found[0] if all(key in figures for figures in found)]
    rows = sorted(([figures[key] for figures in found] for key in shared), key=_apart, reverse=True)
    lines = [(_apart(row), _line(row, shelf)) for row in rows]
    return SideBySide(
        oils=tuple(
            (
                oil_address(item),
                item.name,
                piece("drawing/_ribbon.html", "mini", draw_ribbon(a.acids, strips=False), f"Fatty acids of {item.name}")
                if a.acids
                else Markup(""),
                item.colour,
            )
            for item, a in zip(items, assessed, strict=True)
        ),
        words=_words(items),
        lines=tuple(line for apart, line in lines if apart > ALIKE),
        alike=tuple(line for apart, line in lines if apart <= ALIKE),
    )


ALIKE = log(1.1)  # figures within a tenth of one another are called alike, and those unknown somewhere stand with them


def _apart(row: list[Finding]) -> float:
    """How far a figure spreads over the oils: ln of greatest over least, percents from 1 on; -1 if one is unknown."""
    values = [abs(finding.value) for finding in row if finding.value is not None]
    if len(values) < len(row):
        return -1.0
    floor = 1.0 if row[0].unit.startswith("%") else TINY
    return log(max(max(values), floor) / max(min(values), floor))


def _line(row: list[Finding], shelf: Shelf) -> Line:
    views = [figure_view(finding, shelf.facts.sources) for finding in row]
    most = max((abs(f.value) for f in row if f.value is not None), default=0.0)
    apart = _apart(row)
    values = [f.value for f in row if f.value is not None]
    words = "unknown of some" if apart < 0 else f"{number(max(values) - min(values), row[0].decimals)} apart"
    return Line(
        title=row[0].title,
        unit=row[0].unit,
        apart=words,
        cells=tuple(
            Cell(figure=view, part=100 * abs(f.value) / most if f.value is not None and most else 0.0)
            for view, f in zip(views, row, strict=True)
        ),
    )


def _words(items: list[Ingredient]) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """What is said of oils in words: lines in which all say the same come last."""
    portraits = [oil_profile(item) for item in items]
    lines = (
        ("Feel on dry skin (common practice)", tuple(p.feel_word for p in portraits)),
        ("Clog rating, the highest listed, 0 to 5", tuple(number(p.comedogenicity, 0) for p in portraits)),
        ("Allergen family", tuple(_families(p.allergens) for p in portraits)),
        ("Colour strength, 1 to 10", tuple(number(p.tint, 0) for p in portraits)),
        ("Keeps, fresh, closed, 20 °C, median months", tuple(number(p.keeps) for p in portraits)),
        ("Usually", tuple(_use(item) for item in items)),
    )
    return tuple(sorted(lines, key=lambda line: len(set(line[1])) == 1))


def _families(allergens: frozenset[str] | None) -> str:
    if allergens is None:
        return "not said"
    return ", ".join(sorted(family.replace("_", " ") for family in allergens)) or "none known"


def _use(item: Ingredient) -> str:
    return f"{item.use.low:g} to {item.use.high:g} %: {item.use.role}" if item.use else "not said"
