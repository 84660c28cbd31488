"""One base for several scents, as a morning and an evening oil are made from one pot."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import fsum

from uptide.core.errors import QuantityError
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.making.making_plan import LOT
from uptide.core.making.sizes import Containers, read_containers
from uptide.core.measures.grammar import QuantityKind
from uptide.core.measures.lines import split_recipe
from uptide.core.measures.names import NameIndex
from uptide.core.recipe.recipe import Entry, Recipe, Resolution, RowStatus
from uptide.core.recipe.resolve import resolve

POT = "base of this plan"  # the code of the base, until its batch has a number
POT_KEY = LOT + POT
MOST_SCENTS = 12
HOW_SAID = "say it as in “Morning: 3 x 30 ml; 1% sweet orange, 4 drops frankincense”"


@dataclass(frozen=True, slots=True)
class Scent:
    """A part of a pot: its name, its bottles, and what goes into it alone; nothing where it stays without scent.

    Percents are of the part; drops and weights are for all of its bottles together.
    """

    name: str
    containers: tuple[Containers, ...]
    rows: tuple[str, ...] = ()

    @property
    def words(self) -> str:
        """As it is written."""
        bottles = ", ".join(f"{each.count} x {each.size_ml:g} ml" for each in self.containers)
        return f"{self.name}: {bottles}{'; ' if self.rows else ''}{', '.join(self.rows)}"


def read_scents(text: str) -> tuple[Scent, ...]:
    """Read scents from words, one to a line; raise QuantityError that says how they can be said.

    >>> [(each.name, each.containers[0].words, each.rows) for each in read_scents("Morning: 3 x 30 ml; 1% orange")]
    [('Morning', '3 × 30 mL', ('1% orange',))]
    """
    found: list[Scent] = []
    for line in filter(None, (line.strip() for line in text.splitlines())):
        name, colon, rest = line.partition(":")
        bottles, _, rows = rest.partition(";")
        if not colon or not name.strip():
            raise QuantityError(f"“{line}” has no name before a colon; {HOW_SAID}.")
        if not bottles.strip():
            raise QuantityError(f"“{line}” says no bottles; {HOW_SAID}.")
        found.append(Scent(name.strip(), read_containers(bottles), split_recipe(rows)))
    names = [each.name.casefold() for each in found]
    twice = next((name for name in names if names.count(name) > 1), "")
    if twice:
        raise QuantityError(f"Two scents are called “{twice}”; their bottles would be mistaken for one another.")
    if len(found) > MOST_SCENTS:
        raise QuantityError(f"{len(found)} scents from one pot cannot be planned; {MOST_SCENTS} can.")
    return tuple(found)


def base_of(recipe: Recipe, resolution: Resolution) -> Recipe:
    """The recipe without what scents it."""
    scents = {row.index for row in resolution.rows if row.phase is Phase.SCENT}
    return replace(recipe, entries=tuple(each for place, each in enumerate(recipe.entries) if place not in scents))


def part_of_pot(
    recipe: Recipe,
    scent: Scent,
    total_g: float,
    ingredients: Mapping[str, Ingredient],
    names: NameIndex,
) -> tuple[Recipe, float]:
    """A part as a recipe of base and scents, and how much of the base it takes [g].

    Args:
        recipe: what the whole is for.
        scent: of the part.
        total_g: what the part comes to [g].
        ingredients: with the base under POT_KEY.
        names: of what can stand in a row.

    Raises:
        QuantityError: a row that is not understood, or more scent than part.
    """
    rows = tuple(Entry(typed) for typed in scent.rows)
    measured = resolve(_with_base(recipe, rows, total_g), ingredients, names)
    for row in measured.rows[1:]:
        if row.status not in (RowStatus.READ, RowStatus.COMMENT):
            why = row.reason or " ".join(question.text for question in row.questions) or "no amount was said"
            raise QuantityError(f"{scent.name}, “{row.typed}”: {why}")
    scents = measured.read[1:]
    share = fsum((row.percent_mass or 0.0) / 100 for row in scents if row.kind is QuantityKind.PERCENT)
    fixed = fsum(row.grams or 0.0 for row in scents if row.kind is not QuantityKind.PERCENT)
    base_g = total_g * (1 - share) - fixed
    if base_g <= 0:
        raise QuantityError(f"{scent.name}: its scents come to more than the {total_g:.1f} g of its bottles.")
    return _with_base(recipe, rows, base_g), base_g


def _with_base(recipe: Recipe, rows: Sequence[Entry], base_g: float) -> Recipe:
    base = Entry(f"{base_g:.4f} g the base", {"name": POT_KEY})
    return replace(recipe, entries=(base, *rows), container=None)
