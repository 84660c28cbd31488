"""From a recipe in people's words to a weighed one.

First every row is read on its own (`_read_row`): which thing, which amount, what must be asked. Then the rows that
depend on the whole are weighed together (`_balance`): percents, parts, and the row that tops up.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from math import fsum

from uptide.core.errors import QuantityError
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.ingredients.past import read_past
from uptide.core.measures.amounts import Grams, grams_of, unit_size
from uptide.core.measures.grammar import QuantityKind, Term
from uptide.core.measures.habits import Habits, PartsBy
from uptide.core.measures.lines import Line
from uptide.core.measures.names import NameIndex
from uptide.core.measures.say import say_number
from uptide.core.measures.units import UNITS, Dimension
from uptide.core.physics.bottle import Container
from uptide.core.recipe.assuming import assume
from uptide.core.recipe.reading import Draft, read_row
from uptide.core.recipe.recipe import LONGEST_RECIPE, Entry, Recipe, Resolution, Row, RowStatus

BASIS_GRAMS = 100.0  # what a recipe of nothing but percents or parts is weighed as when no container is named
WHOLE = 1 - 1e-9
WHOLE_TOLERANCE = 0.005  # of the whole: percents that make it by themselves, rounded
ROWS_UNDER_A_TITLE = 2


def resolve(recipe: Recipe, ingredients: Mapping[str, Ingredient], names: NameIndex) -> Resolution:
    """Weigh a recipe; never raises for anything typed: what cannot be weighed is marked and says why."""
    entries = recipe.entries[:LONGEST_RECIPE]
    read = [read_row(i, entry, recipe, ingredients, names) for i, entry in enumerate(entries)]
    drafts = [
        _with_past(draft, entry) for draft, entry in zip(assume(read, recipe, ingredients, names), entries, strict=True)
    ]
    drafts = _with_title(drafts, names)
    drafts += [_too_many(i, entry) for i, entry in enumerate(recipe.entries) if i >= LONGEST_RECIPE]
    container = recipe.container
    measured = any(draft.quantity is not None and draft.quantity.kind is QuantityKind.MEASURE for draft in drafts)
    if container is None and recipe.usual_ml and any(_fills(draft, beside=measured) for draft in drafts):
        container = Container("bottle", recipe.usual_ml)
    whole = _shares(_balance(drafts, replace(recipe, container=container)))
    return replace(whole, container=container, is_container_assumed=container is not recipe.container)


def _fills(draft: Draft, *, beside: bool) -> bool:
    """Whether a row says how full a container becomes, and not of which size; parts do so `beside` measured rows."""
    if draft.quantity is None:
        return False
    kind = draft.quantity.kind
    by_size = kind in (QuantityKind.FILL, QuantityKind.BOTTLE_SHARE) and draft.quantity.bottle is None
    return by_size or (kind is QuantityKind.PARTS and beside)


def _with_title(drafts: list[Draft], names: NameIndex) -> list[Draft]:
    """What stands on top of rows with amounts, has none, and names nothing that is known, is the recipe’s title."""
    first, rest = drafts[:1], drafts[1:]
    amounts = sum(draft.row.line.quantity is not None for draft in rest)
    for draft in first:
        line = draft.row.line
        named = draft.ingredient is not None or names.exactly(line.name)
        if line.quantity is None and not line.problem and not named and amounts >= ROWS_UNDER_A_TITLE:
            row = replace(draft.row, status=RowStatus.COMMENT, reason="", questions=())
            return [Draft(row), *rest]
    return drafts


def _too_many(index: int, entry: Entry) -> Draft:
    reason = f"Up to {LONGEST_RECIPE} rows are read, and this is row {index + 1}: it is kept, and counts for nothing."
    line = Line(entry.typed)
    return Draft(Row(index, entry.typed, RowStatus.NOT_UNDERSTOOD, line, reason=reason, is_past_longest=True))


def _with_past(draft: Draft, entry: Entry) -> Draft:
    known = draft.ingredient.past if draft.ingredient else None
    past = read_past(entry.answers) or known
    if past is None:
        return draft
    return replace(draft, row=replace(draft.row, past=past.after(known).after(draft.row.past)))


def _balance(drafts: list[Draft], recipe: Recipe) -> list[Draft]:
    """Weigh all rows: the measured first, then percents, parts and the top-up out of what is left."""
    drafts = [_weigh_alone(draft, recipe) for draft in drafts]
    drafts = _refuse_rivals(drafts)
    by_kind = {
        kind: [d for d in drafts if d.quantity and d.quantity.kind is kind and d.mass is None] for kind in QuantityKind
    }
    percents, parts, fills = by_kind[QuantityKind.PERCENT], by_kind[QuantityKind.PARTS], by_kind[QuantityKind.FILL]
    if not (percents or parts or fills):
        return drafts
    fixed = [d for d in drafts if d.mass is not None]
    stated = fsum(_percent(d) for d in percents)
    if abs(stated - 1) <= WHOLE_TOLERANCE and fixed and not parts and not fills:
        return _on_top(drafts, percents, recipe, fixed)
    if stated >= WHOLE and (fixed or parts or fills):
        reason = (
            f"The percents already make {say_number(100 * stated)} %, so nothing is left for the other rows. "
            "Lower them, or take the other rows out."
        )
        refused = [*parts, *fills] or percents
        weighed = _by_percent(drafts, percents, recipe, fixed) if parts or fills else drafts
        return [_refuse(d, reason) if d.row.index in {r.row.index for r in refused} else d for d in weighed]
    if fills:
        return _top_up(drafts, fixed, percents, fills[0], recipe)
    if parts:
        return _by_parts(drafts, fixed, percents, parts, recipe)
    return _by_percent(drafts, percents, recipe, fixed)


def _weigh_alone(draft: Draft, recipe: Recipe) -> Draft:
    if draft.quantity is None or draft.ingredient is None:
        return draft
    quantity, density = draft.quantity, draft.ingredient.spoon_density
    if quantity.kind is QuantityKind.MEASURE:
        try:
            return replace(draft, mass=grams_of(quantity.terms, density, recipe.habits))
        except QuantityError as error:
            return _refuse(draft, str(error))
    if quantity.kind is QuantityKind.BOTTLE_SHARE:
        if quantity.bottle is not None:
            size = _bottle_ml(quantity.bottle, density, recipe.habits)
        elif recipe.container is not None:
            size = recipe.container.size_ml
        else:
            return _refuse(draft, "Which bottle? Give the container a size, or write it as “3/4 of a 60 mL bottle”.")
        share = quantity.terms[0]
        return replace(draft, mass=Grams(share.low, share.typical, share.high).scaled(size * density))
    return draft


def _bottle_ml(bottle: Term, density: float, habits: Habits) -> float:
    unit = UNITS[bottle.unit]
    size = bottle.typical * unit_size(unit, habits, bottle.system)
    return size if unit.dimension is Dimension.VOLUME else size / density


def _refuse(draft: Draft, reason: str) -> Draft:
    return Draft(replace(draft.row, status=RowStatus.NOT_UNDERSTOOD, reason=reason), draft.ingredient)


def _refuse_rivals(drafts: list[Draft]) -> list[Draft]:
    """Only one row can take what is left: the first top-up wins over a second one and over parts."""
    fills = [d for d in drafts if d.quantity is not None and d.quantity.kind is QuantityKind.FILL]
    if not fills:
        return drafts
    first = fills[0]
    return [
        _refuse(d, f"“{first.row.typed}” already takes what is left; give this row an amount of its own.")
        if d.quantity is not None and d is not first and d.quantity.kind in (QuantityKind.FILL, QuantityKind.PARTS)
        else d
        for d in drafts
    ]


def _percent(draft: Draft) -> float:
    """The share a percent row states [g/g]: the middle of its range."""
    return draft.quantity.terms[0].typical / 100 if draft.quantity else 0.0


def _weighed(drafts: list[Draft], masses: Mapping[int, Grams]) -> list[Draft]:
    return [replace(d, mass=masses[d.row.index]) if d.row.index in masses else d for d in drafts]


def _percent_masses(percents: list[Draft], total: float) -> dict[int, Grams]:
    masses = {}
    for draft in percents:
        if draft.quantity is not None:
            term = draft.quantity.terms[0]
            masses[draft.row.index] = Grams(term.low / 100, term.typical / 100, term.high / 100).scaled(total)
    return masses


def _density(draft: Draft) -> float:
    return draft.ingredient.density if draft.ingredient else 1.0


def _by_percent(drafts: list[Draft], percents: list[Draft], recipe: Recipe, fixed: list[Draft]) -> list[Draft]:
    stated = fsum(_percent(d) for d in percents)
    if fixed and stated < WHOLE:
        total = fsum(d.mass.typical for d in fixed if d.mass) / (1 - stated)
    elif recipe.container is not None and stated > 0:
        specific_volume = fsum(_percent(d) / _density(d) for d in percents) / stated  # mL/g
        total = recipe.container.size_ml / specific_volume
    else:
        total = BASIS_GRAMS
    return _weighed(drafts, _percent_masses(percents, total))


def _on_top(drafts: list[Draft], percents: list[Draft], recipe: Recipe, fixed: list[Draft]) -> list[Draft]:
    """Percents that make a whole by themselves, with measured rows on top: drops in a base."""
    stated = fsum(_percent(d) for d in percents)
    specific_volume = fsum(_percent(d) / _density(d) for d in percents) / stated  # mL/g
    base = BASIS_GRAMS
    if recipe.container is not None:
        fixed_ml = fsum(d.mass.typical / _density(d) for d in fixed if d.mass)
        base = max(recipe.container.size_ml - fixed_ml, 0.0) / specific_volume
    weighed = _weighed(drafts, _percent_masses(percents, base / stated))
    return [replace(d, row=replace(d.row, is_on_top=True)) if d in fixed else d for d in weighed]


def _top_up(drafts: list[Draft], fixed: list[Draft], percents: list[Draft], fill: Draft, recipe: Recipe) -> list[Draft]:
    """Solve for the total T and the top-up x: x = T (1 - P) - A, and the volumes (or masses) make the target."""
    stated = fsum(_percent(d) for d in percents)
    fixed_grams = fsum(d.mass.typical for d in fixed if d.mass)
    target = fill.quantity.bottle if fill.quantity else None
    density = _density(fill)
    if target is not None and UNITS[target.unit].dimension is Dimension.MASS:
        total = target.typical * unit_size(UNITS[target.unit], recipe.habits)
        wanted = f"{say_number(total)} g"
    else:
        if target is not None:
            volume = target.typical * unit_size(UNITS[target.unit], recipe.habits, target.system)
        elif recipe.container is not None:
            volume = recipe.container.size_ml
        else:
            return _replace_one(
                drafts,
                _refuse(fill, "Top up to what? Choose the container’s size, or write “top up to 100 mL with …”."),
            )
        wanted = f"{say_number(volume)} mL"
        fixed_ml = fsum(d.mass.typical / _density(d) for d in fixed if d.mass)
        percent_ml = fsum(_percent(d) / _density(d) for d in percents)
        total = (volume - fixed_ml + fixed_grams / density) / (percent_ml + (1 - stated) / density)
    rest = total * (1 - stated) - fixed_grams
    if rest <= 0 or total <= 0:
        reason = f"Nothing is left to top up: the other rows already come to {wanted} or more."
        return _replace_one(
            _by_percent(drafts, percents, replace(recipe, container=None), fixed), _refuse(fill, reason)
        )
    masses = _percent_masses(percents, total) | {fill.row.index: Grams(rest, rest, rest)}
    return _weighed(drafts, masses)


def _replace_one(drafts: list[Draft], new: Draft) -> list[Draft]:
    return [new if d.row.index == new.row.index else d for d in drafts]


def _by_parts(
    drafts: list[Draft], fixed: list[Draft], percents: list[Draft], parts: list[Draft], recipe: Recipe
) -> list[Draft]:
    """Share what is left of the container by parts, counted in spoons (mL) or on the scale (g)."""
    by_volume = recipe.habits.parts_by is PartsBy.VOLUME
    stated = fsum(_percent(d) for d in percents)
    fixed_grams = fsum(d.mass.typical for d in fixed if d.mass)
    counts = {d.row.index: d.quantity.terms[0] for d in parts if d.quantity}
    # Grams in one part of each row.
    weights = {d.row.index: d.ingredient.spoon_density if by_volume and d.ingredient else 1.0 for d in parts}
    part_grams = fsum(counts[i].typical * weights[i] for i in counts)
    part_ml = fsum(counts[d.row.index].typical * weights[d.row.index] / _density(d) for d in parts)
    if part_grams <= 0:
        return [_refuse(d, "Nothing can be shared into no parts; write how many.") if d in parts else d for d in drafts]
    if recipe.container is not None:
        # One part is u: T = A + P T + u G and V = A_ml + T P_ml + u G_ml.
        volume = recipe.container.size_ml
        fixed_ml = fsum(d.mass.typical / _density(d) for d in fixed if d.mass)
        percent_ml = fsum(_percent(d) / _density(d) for d in percents)
        per_total = part_ml / part_grams * (1 - stated) + percent_ml
        total = (volume - fixed_ml + fixed_grams * part_ml / part_grams) / per_total
    elif fixed:
        reason = "Parts of what? Choose the container’s size, so that the parts can share what is left of it."
        return [_refuse(d, reason) if d in parts else d for d in _by_percent(drafts, percents, recipe, fixed)]
    else:
        total = BASIS_GRAMS
    one = (total * (1 - stated) - fixed_grams) / part_grams
    if one <= 0:
        reason = "Nothing is left to share by parts: the other rows already fill the container."
        return [_refuse(d, reason) if d in parts else d for d in _by_percent(drafts, percents, recipe, fixed)]
    masses = {
        i: Grams(term.low, term.typical, term.high).scaled(one * weights[i]) for i, term in counts.items()
    } | _percent_masses(percents, total)
    return _weighed(drafts, masses)


def _shares(drafts: list[Draft]) -> Resolution:
    weighed = {d.row.index: d for d in drafts if d.mass is not None and d.mass.typical > 0}
    grams = fsum(d.mass.typical for d in weighed.values() if d.mass)
    volume = fsum(d.mass.typical / _density(d) for d in weighed.values() if d.mass)
    rows = []
    for draft in drafts:
        mass = draft.mass
        if mass is not None and mass.typical > 0:
            millilitres = mass.typical / _density(draft)
            row = replace(
                draft.row,
                grams=mass.typical,
                grams_low=mass.low,
                grams_high=mass.high,
                millilitres=millilitres,
                percent_mass=100 * mass.typical / grams,
                percent_volume=100 * millilitres / volume,
            )
        elif draft.row.status is RowStatus.READ:
            row = replace(draft.row, status=RowStatus.NOT_UNDERSTOOD, reason="An amount of nothing is not counted.")
        else:
            row = draft.row
        rows.append(row)
    read = [d for d in drafts if d.quantity is not None and d.mass is not None]
    only_percents = bool(read) and all(d.quantity and d.quantity.kind is QuantityKind.PERCENT for d in read)
    stated = 100 * fsum(_percent(d) for d in read) if only_percents else None
    return Resolution(tuple(rows), grams, volume, stated)
