"""Read one row on its own: which thing is meant, which amount, and what must be asked."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from uptide.core.errors import QuantityError
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.amounts import Grams, grams_of
from uptide.core.measures.grammar import BY_VOLUME, FEW, FEW_WORDS, Quantity, QuantityKind, Term
from uptide.core.measures.habits import BareOunce, Habits
from uptide.core.measures.lines import Line, parse_line
from uptide.core.measures.names import NameIndex
from uptide.core.measures.say import say_number
from uptide.core.measures.units import UNITS, Dimension
from uptide.core.recipe.naming import name_row
from uptide.core.recipe.recipe import Entry, Option, Question, Recipe, Row, RowStatus

PART = "part"  # what a number alone may count, beside units
BARE_UNITS = ("drop", "ml", "g", "tsp", "tbsp", "fl_oz", PART)
UNCLEAR = frozenset(key for key, unit in UNITS.items() if unit.dimension is Dimension.UNCLEAR)
NO_SIZE = (Dimension.IU, Dimension.CAPSULES)  # nothing is filled up to so many
SPOON_CHOICES = ("tsp", "dessertspoon", "tbsp")
TOCOPHEROLS = frozenset({"mixed-tocopherols", "mixed-tocopherols-50", "tocopheryl-acetate"})
NO_IU = "are not known here: write grams, as they stand on its label."
BLEND_DENSITY = 0.92  # g/mL of most blends: what a percentage by volume is counted at
SAME_AGAIN = 0.15  # of an amount: said a second time, it may be rounded by so much
UK_TABLESPOONS = {"tbsp_15": "15 mL, as sold today", "tbsp_18": "17.8 mL, as in old books"}
ASKED_TO_WEIGH = frozenset({"pump", "capful"})  # no two are alike
OUNCE_WORDS = {"fl_oz": "fluid ounces, by volume", "oz_weight": "ounces on the scale, by weight"}


@dataclass(frozen=True, slots=True)
class Draft:
    """A row on its way: its ingredient and quantity, or why it has none; `mass` once it is weighed."""

    row: Row
    ingredient: Ingredient | None = None
    quantity: Quantity | None = None
    mass: Grams | None = None


def read_row(
    index: int, entry: Entry, recipe: Recipe, ingredients: Mapping[str, Ingredient], names: NameIndex
) -> Draft:
    """Read one row: its ingredient and quantity, or the question or reason why it has none yet."""
    line = parse_line(entry.typed)
    blank = Row(index, entry.typed, RowStatus.NOT_UNDERSTOOD, line, kind=line.quantity.kind if line.quantity else None)
    if line.is_comment:
        return Draft(replace(blank, status=RowStatus.COMMENT))
    if line.problem:
        return Draft(replace(blank, reason=line.problem))
    if not line.name:
        said = line.quantity.words if line.quantity else entry.typed
        return Draft(replace(blank, reason=f"“{said}” of what? Name the oil, as in “{said} jojoba”."))
    ingredient, row = name_row(blank, line, entry.answers, recipe.habits, ingredients, names)
    row = replace(row, remark="; ".join(filter(None, [line.aside, row.remark])))
    if line.quantity is None or line.quantity.kind is QuantityKind.VAGUE:
        if line.quantity is None:
            reason = f"How much {ingredient.name if ingredient else line.name}? Say it as in “2 tbsp {line.name}”."
        else:
            reason = f"“{line.quantity.words}” is not a number. Count the drops or measure it, and write that."
        return Draft(replace(row, status=RowStatus.NOT_UNDERSTOOD, reason=row.reason or reason), ingredient)
    quantity, row = _unit_row(row, line, line.quantity, entry.answers, recipe.habits, ingredient)
    if row.status is not RowStatus.READ or ingredient is None or quantity is None:
        return Draft(row, ingredient)
    return Draft(row, ingredient, quantity)


def _unit_row(
    row: Row, line: Line, quantity: Quantity, answers: Mapping[str, str], habits: Habits, ingredient: Ingredient | None
) -> tuple[Quantity | None, Row]:
    """Settle units that mean several things: a bare number, a bare spoon, a bare ounce, a British tablespoon."""
    quantity = _of_its_size(_british(quantity), line.restated)
    terms = (*quantity.terms, *([quantity.bottle] if quantity.bottle else []))
    dimensions = {UNITS[term.unit].dimension for term in terms if term.unit}
    if Dimension.BLOBS in dimensions:
        return None, _blob(row, ingredient, next(UNITS[t.unit].singular for t in terms if t.unit))
    if reason := _refusal(quantity, terms, line, ingredient):
        return None, replace(row, status=RowStatus.NOT_UNDERSTOOD, reason=reason)
    quantity, row = _as_said(quantity, line, habits, ingredient, row)
    if quantity.kind is not QuantityKind.BARE and Dimension.UNCLEAR not in dimensions:
        return quantity, row
    unclear = next((t.unit for t in terms if t.unit in UNCLEAR), "")
    question, choices = {
        "": (f"{quantity.words} of what?", BARE_UNITS),
        "spoon": ("Which spoon?", SPOON_CHOICES),
        "oz": ("Which ounces?", tuple(OUNCE_WORDS)),
        "uk_tbsp": ("Which British tablespoon?", tuple(UK_TABLESPOONS)),
    }[unclear]
    meant: str | None = answers.get("unit", "")
    if meant not in choices:
        meant = _meant_ounce(line, quantity, habits, ingredient) if unclear == "oz" else None
        if meant == "oz_weight" and ingredient is not None and ingredient.is_solid:
            row = replace(row, remark="; ".join(filter(None, [row.remark, "a solid: ounces by weight"])))
    if meant:
        quantity = _with_unit(quantity, unclear, meant)
        return quantity, replace(row, kind=quantity.kind) if meant == PART else row
    return None, _ask(row, question, choices, quantity, habits, ingredient)


def _refusal(quantity: Quantity, terms: tuple[Term, ...], line: Line, ingredient: Ingredient | None) -> str:
    """Why an amount that can be read cannot be of this thing, or be filled up to; empty where it can."""
    dimensions = {UNITS[term.unit].dimension for term in terms if term.unit}
    vague = sorted({term.unit for term in terms} & UNCLEAR)
    if Dimension.IU in dimensions and ingredient is not None and ingredient.base_key not in TOCOPHEROLS:
        return f"International units of {line.name} {NO_IU}"
    if quantity.bottle is not None and UNITS[quantity.bottle.unit].dimension in NO_SIZE:
        return f"“{quantity.words}”: what something is filled up to is said in millilitres or grams."
    if len(vague) > 1:
        words = " and ".join(UNITS[unit].singular for unit in vague)
        return f"“{quantity.words}” adds {words}, and each may be one of several. Say which, as in fl oz or tbsp."
    if quantity.kind is QuantityKind.FILL and ingredient is not None and ingredient.phase is Phase.SCENT:
        return f"Nothing is topped up with a scent. Write how many drops of {line.name}."
    return ""


def _british(quantity: Quantity) -> Quantity:
    """A tablespoon that is said to be British means one of two."""

    def settle(term: Term) -> Term:
        return replace(term, unit="uk_tbsp", system="") if (term.unit, term.system) == ("tbsp", "uk") else term

    return replace(quantity, terms=tuple(settle(term) for term in quantity.terms))


def _of_its_size(quantity: Quantity, restated: Quantity | None) -> Quantity:
    """A bottle or a jar of which the brackets say what it holds, as in “1 bottle (30 ml) argan”: so many times that."""
    if quantity.kind is not QuantityKind.BOTTLE_SHARE or quantity.bottle is not None:
        return quantity
    if restated is None or restated.kind is not QuantityKind.MEASURE or len(restated.terms) != 1:
        return quantity
    (held,) = restated.terms
    if UNITS[held.unit].dimension is Dimension.VOLUME:
        return replace(quantity, bottle=held)
    (count,) = quantity.terms
    whole = replace(held, low=count.low * held.low, high=count.high * held.high)
    return replace(quantity, kind=QuantityKind.MEASURE, terms=(whole,))


def _as_said(
    quantity: Quantity, line: Line, habits: Habits, ingredient: Ingredient | None, row: Row
) -> tuple[Quantity, Row]:
    """What is read otherwise than it might be meant is said beside the row: a few, a share by volume."""
    said = [row.remark] if row.remark else []
    if quantity.kind is QuantityKind.PERCENT and ingredient is not None:
        term = quantity.terms[0]
        if term.system == BY_VOLUME:
            factor = ingredient.spoon_density / BLEND_DENSITY
            term = replace(term, low=term.low * factor, high=term.high * factor, system="")
            quantity = replace(quantity, terms=(term,))
            said.append(f"by volume: {say_number(term.typical, 3)} % by mass in a blend of {BLEND_DENSITY} g/mL")
    elif weighed := [
        term.unit for term in quantity.terms if term.unit in ASKED_TO_WEIGH and not dict(habits.held).get(term.unit)
    ]:
        least, taken, most = habits.in_one(weighed[0])
        said.append(
            f"a {UNITS[weighed[0]].singular} is taken as {taken:g} mL and may be {least:g} to {most:g}: weigh yours, "
            "under Measures"
        )
    elif quantity.approximate and FEW_WORDS.search(quantity.words):
        said.append(f"“a few” is read as {FEW[0]:g} to {FEW[1]:g}")
    amounts = {quantity.kind, line.restated.kind} if line.restated is not None else set()
    if line.restated is not None and ingredient is not None and amounts == {QuantityKind.MEASURE}:
        said += _contradiction(quantity, line.restated, ingredient)
    return quantity, replace(row, remark="; ".join(said))


def _contradiction(quantity: Quantity, restated: Quantity, ingredient: Ingredient) -> list[str]:
    """That an amount is given twice and is not the same; nothing where it is, or where one is unclear."""
    try:
        plain = Habits()
        one, other = (grams_of(each.terms, ingredient.spoon_density, plain).typical for each in (quantity, restated))
    except QuantityError:
        return []
    if abs(one - other) <= SAME_AGAIN * max(one, other):
        return []
    return [f"it says {quantity.words} and {restated.words}, which are not the same: {quantity.words} is counted"]


def _blob(row: Row, ingredient: Ingredient | None, word: str) -> Row:
    if row.status is RowStatus.ASKED:
        return row
    reason = f"A {word} cannot be weighed by eye: it stands on the sheet and is not counted. Weigh it to count it."
    return replace(row, status=RowStatus.UNMEASURED if ingredient else row.status, reason=row.reason or reason)


def _meant_ounce(line: Line, quantity: Quantity, habits: Habits, ingredient: Ingredient | None) -> str | None:
    """What a bare ounce means without asking: said again in brackets, a bottle, a solid, or this person's habit."""
    if line.restated is not None:  # 1 oz (30 mL)
        dimensions = {UNITS[term.unit].dimension for term in line.restated.terms}
        if dimensions <= {Dimension.VOLUME, Dimension.MASS} and len(dimensions) == 1:
            return "fl_oz" if Dimension.VOLUME in dimensions else "oz_weight"
    if quantity.bottle is not None:
        return "fl_oz"  # bottles are sold by volume
    if ingredient is not None and ingredient.is_solid:
        return "oz_weight"
    return None if habits.bare_ounce is BareOunce.ASK else habits.bare_ounce.value


def _with_unit(quantity: Quantity, unclear: str, unit: str) -> Quantity:
    def settle(term: Term) -> Term:
        return replace(term, unit=unit) if term.unit == unclear else term

    if unit == PART:
        return replace(quantity, kind=QuantityKind.PARTS)
    kind = QuantityKind.MEASURE if quantity.kind is QuantityKind.BARE else quantity.kind
    bottle = settle(quantity.bottle) if quantity.bottle else None
    return replace(quantity, kind=kind, terms=tuple(settle(term) for term in quantity.terms), bottle=bottle)


def _ask(
    row: Row, text: str, units: Sequence[str], quantity: Quantity, habits: Habits, ingredient: Ingredient | None
) -> Row:
    options = []
    for unit in units:
        weighs = ""
        label = OUNCE_WORDS.get(unit) or UK_TABLESPOONS.get(unit) or (UNITS[unit].plural if unit in UNITS else "parts")
        if unit in UNITS and ingredient is not None and quantity.bottle is None:
            unclear = (
                "" if quantity.kind is QuantityKind.BARE else next(t.unit for t in quantity.terms if t.unit in UNCLEAR)
            )
            grams = grams_of(_with_unit(quantity, unclear, unit).terms, ingredient.spoon_density, habits).typical
            weighs = f"{say_number(grams, 3)} g"
        options.append(Option(unit, label, weighs))
    if row.status is RowStatus.NOT_UNDERSTOOD:
        return row  # first things first: a name nobody knows
    unclear = next((t.unit for t in (*quantity.terms, *filter(None, [quantity.bottle])) if t.unit in UNCLEAR), "")
    asked = Question("unit", text, tuple(options), about=unclear)
    return replace(row, status=RowStatus.ASKED, questions=(*row.questions, asked))
