"""Change a recipe by its shares, and give the answer back in the words it was typed in."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from uptide.core.errors import QuantityError
from uptide.core.ingredients.grade import GRADES, regraded
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.amounts import unit_size
from uptide.core.measures.grammar import QuantityKind
from uptide.core.measures.lines import parse_line
from uptide.core.measures.names import NameIndex
from uptide.core.measures.say import SPOON_LADDER, say_amount, say_number
from uptide.core.measures.units import UNITS, Dimension
from uptide.core.recipe.recipe import Entry, Recipe, Resolution, Row, RowStatus
from uptide.core.recipe.resolve import resolve

DOUBLINGS, HALVINGS = 14, 44  # from the present amount up to 16,000 times it, then down to nine digits
NEAR = 1e-4  # percentage points
HALF, WHOLE_GRAMS_FROM = 0.5, 50.0  # g


def set_share(
    recipe: Recipe, index: int, percent: float, ingredients: Mapping[str, Ingredient], names: NameIndex
) -> Recipe:
    """Make one row this percent by mass of the whole.

    The other rows stay as typed, unless the recipe is stated in percents alone: then they make room.
    The row keeps its unit and is rounded as that unit is measured (whole drops, quarter teaspoons), so that its share
    comes out near the wanted one and not always on it.

    Raises:
        QuantityError: a share outside 0 to 100, or a row whose amount cannot be set.
    """
    if not 0 < percent < 100:
        raise QuantityError(f"A share of {percent:g} % cannot be set; above 0 and below 100 can.")
    resolution = resolve(recipe, ingredients, names)
    if not 0 <= index < len(resolution.rows) or resolution.rows[index].status is not RowStatus.READ:
        raise QuantityError("Only a row that was read has a share to change.")
    row = resolution.rows[index]
    if len(resolution.read) == 1:
        raise QuantityError("There is only this row: it is 100 % whatever its amount.")
    if resolution.stated_percent is not None:
        return _share_among_percents(recipe, resolution, row, percent)
    if row.kind is QuantityKind.FILL:
        raise QuantityError(f"“{row.typed}” takes what is left; change another row, or give this one an amount.")

    write = _writer(row, recipe)
    amount = _approach(recipe, row, percent, write, lambda changed: resolve(changed, ingredients, names))
    return _with_text(recipe, row, _final_text(row, recipe, amount))


def _share_among_percents(recipe: Recipe, resolution: Resolution, row: Row, percent: float) -> Recipe:
    """A recipe in percents alone keeps to 100: the other rows make room, each by the same factor."""
    others = [other for other in resolution.read if other.index != row.index]
    stated = {o.index: o.line.quantity.terms[0].typical for o in others if o.line.quantity}
    factor = (100 - percent) / sum(stated.values())
    recipe = _with_text(recipe, row, f"{say_number(percent)} %")
    for other in others:
        recipe = _with_text(recipe, other, f"{say_number(stated[other.index] * factor)} %")
    return recipe


def _writer(row: Row, recipe: Recipe) -> Callable[[float], str]:
    """Write a trial amount exactly: in percent or parts where the row is stated so, else in grams."""
    name = row.line.name
    if row.kind is QuantityKind.PERCENT:
        return lambda amount: f"{amount:.8f} % {name}"
    if row.kind is QuantityKind.PARTS:
        return lambda amount: f"{amount:.8f} parts {name}"
    return lambda amount: f"{amount:.8f} g {name}"


def _approach(
    recipe: Recipe, row: Row, percent: float, write: Callable[[float], str], weigh: Callable[[Recipe], Resolution]
) -> float:
    """Find the amount by halving: a share grows with its amount, up to where nothing is left for the others."""

    def share(amount: float) -> float | None:
        return weigh(_with_text(recipe, row, write(amount))).rows[row.index].percent_mass

    def is_enough(found: float | None) -> bool:
        return found is None or found >= percent

    if row.kind in (QuantityKind.PERCENT, QuantityKind.PARTS) and row.line.quantity is not None:
        high = row.line.quantity.terms[0].typical
    else:
        high = row.grams or 0.0
    for _ in range(DOUBLINGS):
        if is_enough(share(high)):
            break
        high *= 2
    low = 0.0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if is_enough(share(middle)) else (middle, high)
    reached = share(low)
    if reached is None or abs(reached - percent) > NEAR:
        raise QuantityError(
            f"{say_number(percent)} % cannot be reached by changing this row; the other rows do not allow it."
        )
    return low


def _final_text(row: Row, recipe: Recipe, amount: float) -> str:
    if row.kind is QuantityKind.PERCENT:
        return f"{say_number(amount)} %"
    if row.kind is QuantityKind.PARTS:
        return f"{say_number(amount)} parts"
    if row.ingredient is None or row.line.quantity is None:
        raise QuantityError("Only a row that was read has a share to change.")
    unit, system = "ml", ""
    if row.kind is not QuantityKind.BOTTLE_SHARE:
        term = row.line.quantity.terms[0]
        unit, system = (term.unit, term.system) if (term.unit, term.system) != ("tbsp", "uk") else ("ml", "")
        if not unit or UNITS[unit].dimension is Dimension.UNCLEAR:
            unit = recipe.entries[row.index].answers.get("unit") or recipe.habits.bare_ounce.value
            unit = unit if unit in UNITS else "g"
    return say_amount(amount, row.ingredient.spoon_density, unit, recipe.habits, system)


def _with_text(recipe: Recipe, row: Row, words: str) -> Recipe:
    """Put a new amount in the place of the old one; the name and every other word stay where they were."""
    entry = recipe.entries[row.index]
    old = row.line.quantity.words if row.line.quantity else ""
    typed = (
        entry.typed.replace(old, words, 1)
        if old and words != old and old in entry.typed
        else f"{words} {row.line.name}"
    )
    if row.line.name and typed.endswith(row.line.name) and words.endswith(row.line.name):
        typed = words
    answers = {key: value for key, value in entry.answers.items() if key != "unit"}
    entries = list(recipe.entries)
    entries[row.index] = Entry(typed, answers)
    return replace(recipe, entries=tuple(entries))


def swap(recipe: Recipe, index: int, item: Ingredient) -> Recipe:
    """Put another thing in the place of a row's, in the same amount; the words of the amount stay.

    Raises:
        QuantityError: a row that is not there, or that names nothing that could be replaced.
    """
    if not 0 <= index < len(recipe.entries):
        raise QuantityError("That row is no longer there.")
    entry = recipe.entries[index]
    line = parse_line(entry.typed)
    if not line.name or line.is_comment:
        raise QuantityError(f"“{entry.typed}” names nothing that could be swapped.")
    name = re.sub(r"\s*\([^)]*\)", "", item.name)
    typed = entry.typed.replace(line.name, name, 1) if line.name in entry.typed else f"{entry.typed} {name}"
    kept = {key: value for key, value in entry.answers.items() if key == "unit"}
    entries = list(recipe.entries)
    entries[index] = Entry(typed, {**kept, "name": item.key})
    return replace(recipe, entries=tuple(entries))


def set_grade(recipe: Recipe, index: int, grade: str) -> Recipe:
    """Say another grade of a row's oil, in its words; nothing for as it usually is.

    Raises:
        QuantityError: a row that is not there or names nothing, or a grade that is none.
    """
    if grade and grade not in GRADES:
        raise QuantityError(f"“{grade}” is no grade; {', '.join(GRADES)} are.")
    if not 0 <= index < len(recipe.entries):
        raise QuantityError("That row is no longer there.")
    entry = recipe.entries[index]
    line = parse_line(entry.typed)
    if not line.name or line.is_comment or line.name not in entry.typed:
        raise QuantityError(f"“{entry.typed}” names nothing that has a grade.")
    typed = entry.typed.replace(line.name, regraded(line.name, grade), 1)
    entries = list(recipe.entries)
    entries[index] = replace(entry, typed=typed)
    return replace(recipe, entries=tuple(entries))


def replace_row(recipe: Recipe, row: Row, oils: Sequence[tuple[Ingredient, float]]) -> Recipe:
    """Put things in the place of a row, each with its part of the row's mass [g/g]; one alone keeps the row's words.

    Each is measured as the row is, and rounded as that unit is measured.

    Raises:
        QuantityError: a row that was not read, or several things for what takes what is left.
    """
    (first, _), *more = oils
    whole = swap(recipe, row.index, first)
    if not more:
        return whole
    if row.grams is None or row.kind is QuantityKind.FILL:
        raise QuantityError(f"“{row.typed}” takes what is left; one oil can take its place, and not several.")
    stated = row.line.quantity.terms[0].typical if row.line.quantity is not None else 0.0
    is_share = row.kind in (QuantityKind.PERCENT, QuantityKind.PARTS)
    rows = []
    for item, part in oils:
        words = _final_text(replace(row, ingredient=item), recipe, part * (stated if is_share else row.grams))
        rows.append(Entry(f"{words} {item.name}", {"name": item.key}))
    return replace(recipe, entries=(*recipe.entries[: row.index], *rows, *recipe.entries[row.index + 1 :]))


def step_row(recipe: Recipe, row: Row, ways: int, ingredients: Mapping[str, Ingredient], names: NameIndex) -> Recipe:
    """One step more of a row, or one less (`ways` 1 or -1): the least that is measured in its unit.

    A quarter teaspoon, half a dropper, a drop, half a gram (a whole one from 50 g on), a millilitre, a percent.

    Raises:
        QuantityError: a row that has no amount of its own, or of which nothing would be left.
    """
    if row.kind in (QuantityKind.FILL, QuantityKind.BOTTLE_SHARE):
        raise QuantityError(f"“{row.typed}” takes what is left; change another row.")
    if row.status is not RowStatus.READ or row.line.quantity is None or row.ingredient is None:
        raise QuantityError("Only a row that was read can be a step more or less.")
    stated = row.line.quantity.terms[0].typical
    if row.kind is QuantityKind.PERCENT:
        resolution = resolve(recipe, ingredients, names)
        amount, least = stated + ways, 0.0
        if resolution.stated_percent is not None and least < amount < 100 and len(resolution.read) > 1:
            return _share_among_percents(recipe, resolution, row, amount)
    elif row.kind is QuantityKind.PARTS:
        amount, least = stated + ways * HALF, 0.0
    else:
        least = _step_of(row, recipe)
        amount = (row.grams or 0.0) + ways * least
    if amount < least * (1 - NEAR) or amount <= 0:
        raise QuantityError(f"A step less, and nothing would be left of “{row.typed}”.")
    return _with_text(recipe, row, _final_text(row, recipe, amount))


def _step_of(row: Row, recipe: Recipe) -> float:
    """The least that is measured in the unit of a row [g]."""
    density = row.ingredient.spoon_density if row.ingredient is not None else 1.0
    unit = row.line.quantity.terms[0].unit if row.line.quantity is not None else ""
    kind = UNITS.get(unit)
    if kind is None or kind.dimension is Dimension.MASS:
        return HALF if (row.grams or 0.0) < WHOLE_GRAMS_FROM else 1.0
    if kind.dimension is Dimension.DROPS:
        return density / recipe.habits.drops_per_ml
    if kind.dimension is Dimension.HELD:
        return HALF * recipe.habits.in_one(unit)[1] * density
    if unit in SPOON_LADDER:
        return unit_size(UNITS["tsp"], recipe.habits) / 4 * density
    return density  # a millilitre


def normalise_percents(recipe: Recipe, ingredients: Mapping[str, Ingredient], names: NameIndex) -> Recipe:
    """Rewrite percents that do not make 100 so that they do, each by the same factor; with what comes on top of them.

    Raises:
        QuantityError: the recipe is not stated in percents, alone or with something on top.
    """
    resolution = resolve(recipe, ingredients, names)
    if not resolution.stated_percent and not resolution.on_top:
        raise QuantityError("Only a recipe that is stated in percents can be made to add up to 100 %.")
    on_top = sum(row.percent_mass or 0.0 for row in resolution.on_top)
    stated = resolution.stated_percent or sum(
        row.line.quantity.terms[0].typical
        for row in resolution.read
        if row.kind is QuantityKind.PERCENT and row.line.quantity is not None
    )
    factor = (100 - on_top) / stated
    for row in resolution.read:
        if row.line.quantity is not None and row.kind is QuantityKind.PERCENT:
            recipe = _with_text(recipe, row, f"{say_number(row.line.quantity.terms[0].typical * factor)} %")
    return recipe
