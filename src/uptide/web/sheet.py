"""The sheet of a blend as a form: from its fields to a recipe, and what each of its buttons does."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from math import isfinite
from typing import Annotated
from urllib.parse import parse_qsl

from fastapi import Form, Request
from pydantic import BaseModel, Field

from uptide.catalogue.load import Catalogue
from uptide.core.blend.bottle_life import placed
from uptide.core.blend.edit import normalise_percents, set_share, swap
from uptide.core.blend.naming import NONE_OF_THESE
from uptide.core.blend.recipe import LONGEST_RECIPE, Entry, Recipe, Use
from uptide.core.blend.resolve import resolve
from uptide.core.errors import ContainerError, QuantityError, UnknownKeyError, UptideError
from uptide.core.measures.amounts import unit_size
from uptide.core.measures.grammar import QuantityKind, read_quantity
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import parse_line, split_recipe
from uptide.core.measures.names import normalise
from uptide.core.measures.units import UNITS, Dimension
from uptide.core.oxidation.surroundings import OWN_PLACE, Glass, Light, Storage
from uptide.core.physics.bottle import Container
from uptide.core.safety.case import REGIONS
from uptide.web.security import check_token

ROW_OPERATIONS = ("remove", "up", "down", "answer", "share", "swap")
LONGEST_TEXT = 20_000  # characters in one paste


class TokenForm(BaseModel):
    """A form with nothing but its token."""

    token: str = ""


class SheetForm(TokenForm):
    """All fields of a sheet; `typed`, `answers` and `share` have one entry a row, in the rows' order."""

    blend_id: int | None = None
    version: int = 0
    name: str = ""
    note: str = Field("", max_length=500)
    product: str = "body-oil"
    container_kind: str = ""
    container_ml: str = Field("", max_length=40)
    measures: str = "today"
    typed: list[str] = Field(default_factory=list)
    answers: list[str] = Field(default_factory=list)
    share: list[str] = Field(default_factory=list)
    remember: list[int] = Field(default_factory=list)
    new: str = Field("", max_length=LONGEST_TEXT)
    op: str = ""
    place: str = "cool cupboard"
    celsius: str = Field("", max_length=120)
    light: str = ""
    glass: str = "amber"
    wall: str = "glass"
    opened: str = "yes"
    ml_a_use: str = Field("", max_length=12)
    uses_a_week: str = Field("7", max_length=12)
    head_room: str = Field("10", max_length=12)
    age: list[str] = Field(default_factory=list)
    pv: list[str] = Field(default_factory=list)
    past: list[str] = Field(default_factory=list)
    wearer: str = Field("", max_length=12)
    region: str = "EU"
    for_sale: str = "no"
    placed_on: str = Field("", max_length=12)
    night_only: str = "no"
    reason_rule: list[str] = Field(default_factory=list)
    reason: list[str] = Field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Sheet:
    """A recipe read from the form; `container_error` says what is wrong with the size that was typed."""

    recipe: Recipe
    typed_rows: int
    container_error: str = ""
    problem: str = ""


def sheet_form(request: Request, form: Annotated[SheetForm, Form()]) -> SheetForm:
    """The sheet's form, once its token was checked."""
    check_token(request, form.token)
    return form


def read_sheet(form: SheetForm, habits: Habits, catalogue: Catalogue) -> Sheet:
    """Read the fields: rows as typed, then what stands in the line for new rows, split into rows."""
    answers = [dict(parse_qsl(text)) for text in form.answers]
    rows = [
        Entry(typed, _with_past(answers[i] if i < len(answers) else {}, form, i)) for i, typed in enumerate(form.typed)
    ]
    added = [Entry(typed) for typed in split_recipe(form.new)]
    container, error = None, ""
    try:
        container = read_container(form.container_kind, form.container_ml, habits)
    except UptideError as refused:
        error = str(refused)
    product = form.product if form.product in catalogue.products else "body-oil"
    storage = Storage()
    try:
        storage = read_storage(form)
    except (UptideError, ValueError) as refused:
        error = " ".join(filter(None, [error, str(refused)]))
    use = Use()
    try:
        use = read_use(form)
    except UptideError as refused:
        error = " ".join(filter(None, [error, str(refused)]))
    wearer = int(form.wearer) if form.wearer.isdigit() else None
    reasons = {
        rule: reason.strip() for rule, reason in zip(form.reason_rule, form.reason, strict=False) if reason.strip()
    }
    recipe = Recipe((*rows, *added), product, container, habits, storage, use, wearer, reasons)
    problem = ""
    if len(recipe.entries) > LONGEST_RECIPE:
        problem = (
            f"This recipe has {len(recipe.entries)} rows; up to {LONGEST_RECIPE} are weighed. All of them are kept."
        )
    return Sheet(recipe, len(rows), error, problem)


def _with_past(answers: dict[str, str], form: SheetForm, row: int) -> dict[str, str]:
    """Put what was said of a row's lot among its answers; an emptied field takes the answer out."""
    said = {"age": form.age, "pv": form.pv, "past": form.past}
    for key, fields in said.items():
        if row < len(fields):
            answers = {name: value for name, value in answers.items() if name != key}
            if fields[row].strip():
                answers[key] = fields[row].strip()
    return answers


def read_storage(form: SheetForm) -> Storage:
    """Read where it will stand: one of the usual places, or a person's own monthly temperatures."""
    glass = Glass(form.glass) if form.glass in set(Glass) else Glass.AMBER
    storage = Storage(glass=glass, wall=form.wall, opened=form.opened != "no")
    if form.place == OWN_PLACE:
        found = [number_of(text, "temperature") for text in form.celsius.replace(";", " ").replace(", ", " ").split()]
        celsius = tuple(found * 12 if len(found) == 1 else found)
        storage = replace(storage, place=OWN_PLACE, celsius=celsius or (20.0,) * 12, light=Light.DARK)
    else:
        storage = placed(storage, form.place)
    if form.light in set(Light):
        storage = replace(storage, light=Light(form.light))
    return replace(
        storage,
        ml_a_use=number_of(form.ml_a_use or "0", "amount a use"),
        uses_a_week=number_of(form.uses_a_week or "0", "number of uses"),
        head_room=number_of(form.head_room or "0", "share of head room") / 100,
    )


def read_use(form: SheetForm) -> Use:
    """Read whose law counts, whether it is sold, since when, and whether it is worn by night alone."""
    placed = form.placed_on.strip()
    try:
        placed_on = date.fromisoformat(placed) if placed else None
    except ValueError as error:
        raise UptideError(f"“{placed}” is no day on which it was first sold; write it as 2026-08-01.") from error
    region = form.region if form.region in REGIONS else "EU"
    return Use(region, form.for_sale == "yes", placed_on, form.night_only == "yes")


def number_of(text: str, what: str, most: float = 1000) -> float:
    """Read a number with a decimal point or comma; raise QuantityError that says what it should have been."""
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError as error:
        raise QuantityError(f"“{text}” is not a {what}; write a number.") from error
    if not isfinite(value):
        raise QuantityError(f"“{text}” is not a {what}; write a number.")
    if abs(value) > most:
        raise QuantityError(f"{text} is too much for a {what}; up to {most:g} is read.")
    return value


def read_container(kind: str, size: str, habits: Habits) -> Container | None:
    """Read a container's size as people say it: `30`, `30 ml`, `2 oz` (bottles go by volume); None when left empty."""
    text = size.strip()
    if not text:
        return None
    try:
        quantity = read_quantity(text)
    except QuantityError as error:
        raise ContainerError(f"“{text}” is not a size; write it as “30 mL” or “2 fl oz”.") from error
    term = quantity.terms[0] if len(quantity.terms) == 1 else None
    if term is None or quantity.kind not in (QuantityKind.MEASURE, QuantityKind.BARE):
        raise ContainerError(f"“{text}” is not a size; write it as “30 mL” or “2 fl oz”.")
    key = {"": "ml", "oz": "fl_oz"}.get(term.unit, term.unit)
    if UNITS[key].dimension is not Dimension.VOLUME:
        raise ContainerError(f"“{text}” is not a volume; a container is chosen by mL or fl oz.")
    return Container(kind or "bottle", term.typical * unit_size(UNITS[key], habits, term.system))


def apply(op: str, form: SheetForm, sheet: Sheet, catalogue: Catalogue) -> tuple[Recipe, str]:
    """Do what a button of the sheet says; return the changed recipe and, when it could not be done, why.

    Operations: `remove:i`, `up:i`, `down:i`, `answer:i:key:value`, `share:i`, `swap:i:key`, `normalise`; all others
    change nothing.
    """
    name, _, rest = op.partition(":")
    recipe = sheet.recipe
    try:
        if name == "emulsify":
            return add_emulsifiers(recipe, rest, catalogue), ""
        if name == "normalise":
            return normalise_percents(recipe, catalogue.ingredients, catalogue.names), ""
        if name not in ROW_OPERATIONS:
            return recipe, ""
        place, _, detail = rest.partition(":")
        return _on_row(name, int(place), detail, form, recipe, catalogue), ""
    except (QuantityError, UnknownKeyError) as error:
        return recipe, str(error)
    except ValueError:
        return recipe, f"“{op}” is not something this sheet can do."


def add_emulsifiers(recipe: Recipe, wanted: str, catalogue: Catalogue) -> Recipe:
    """Put emulsifiers in, given as `key=percent,key=percent`: in the place of those that are in it, else as new rows.

    Raises:
        QuantityError: shares that are no numbers.
    """
    try:
        shares = {key: float(share) for key, _, share in (each.partition("=") for each in wanted.split(","))}
    except ValueError as error:
        raise QuantityError(f"“{wanted}” is no pair of emulsifiers.") from error
    known = resolve(recipe, catalogue.ingredients, catalogue.names)
    old = {row.index for row in known.read if row.ingredient and row.ingredient.key in catalogue.safety.emulsifiers}
    entries = [
        Entry(f"# {entry.typed}", entry.answers) if index in old else entry
        for index, entry in enumerate(recipe.entries)
    ]
    for key, share in shares.items():
        entries.append(Entry(f"{share:.2g} % {catalogue.ingredient(key).name}", {"name": key}))
    return replace(recipe, entries=tuple(entries))


def _on_row(name: str, index: int, detail: str, form: SheetForm, recipe: Recipe, catalogue: Catalogue) -> Recipe:
    """Do one thing to one row."""
    entries = list(recipe.entries)
    if not 0 <= index < len(entries):
        raise QuantityError("That row is no longer there.")
    if name == "share":
        percent = _percent(form.share[index] if index < len(form.share) else "")
        return set_share(recipe, index, percent, catalogue.ingredients, catalogue.names)
    if name == "swap":
        return swap(recipe, index, catalogue.ingredient(detail))
    if name == "remove":
        del entries[index]
    elif name in ("up", "down"):
        other = index + (1 if name == "down" else -1)
        if 0 <= other < len(entries):
            entries[index], entries[other] = entries[other], entries[index]
    else:
        key, _, value = detail.partition(":")
        entries[index] = Entry(entries[index].typed, {**entries[index].answers, key: value})
    return replace(recipe, entries=tuple(entries))


def _percent(text: str) -> float:
    try:
        return float(text.replace(",", ".").rstrip("% "))
    except ValueError as error:
        raise QuantityError(f"“{text}” is not a share; write a number of percent above 0 and below 100.") from error


def remembered(form: SheetForm, op: str, recipe: Recipe) -> tuple[str, str] | None:
    """The (name, key) pair that a person wants to be understood from now on, if they said so with this answer."""
    parts = op.split(":", 3)
    if len(parts) != 4 or parts[0] != "answer" or parts[2] != "name" or not parts[1].isdigit():
        return None
    index = int(parts[1])
    if parts[3] == NONE_OF_THESE or index not in form.remember or index >= len(recipe.entries):
        return None
    return normalise(parse_line(recipe.entries[index].typed).name), parts[3]
