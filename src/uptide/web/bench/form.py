"""The sheet of a blend as a form: from its fields to a recipe, and what each of its buttons does."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import date
from enum import StrEnum
from types import MappingProxyType
from typing import Annotated, TypeVar
from urllib.parse import parse_qsl

from fastapi import Form, Request
from pydantic import Field

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import ContainerError, QuantityError, UnknownKeyError, UptideError
from uptide.core.keeping.storage_history import placed
from uptide.core.measures.amounts import unit_size
from uptide.core.measures.grammar import QuantityKind, read_quantity
from uptide.core.measures.habits import BareOunce, Habits
from uptide.core.measures.lines import parse_line, split_recipe
from uptide.core.measures.names import normalise
from uptide.core.measures.units import UNITS, Dimension
from uptide.core.oxidation.surroundings import OWN_PLACE, Glass, Light, Storage
from uptide.core.physics.bottle import Container
from uptide.core.recipe.assuming import open_readings, read_as
from uptide.core.recipe.edit import normalise_percents, replace_row, set_grade, set_share, step_row, swap
from uptide.core.recipe.naming import NONE_OF_THESE
from uptide.core.recipe.recipe import LONGEST_RECIPE, Entry, IntendedUse, Recipe
from uptide.core.recipe.resolve import resolve
from uptide.core.safety.case import REGIONS
from uptide.core.skin.wearer import Wearer
from uptide.core.skin.whom import LONGEST_WHOM, parted
from uptide.web.base.forms import LONGEST_TEXT, TokenForm, amount_of, day_of, number_of, share_of
from uptide.web.base.security import check_token
from uptide.workshop.assessment import whom_in_words
from uptide.workshop.clock import today

FIRST_SALE, LAST_SALE = date(1950, 1, 1), date(2100, 1, 1)
Value = TypeVar("Value")
Choice = TypeVar("Choice", bound=StrEnum)


class YesNo(StrEnum):
    """A plain answer."""

    YES = "yes"
    NO = "no"


OF_WHAT_IT_IS = ("share", "swap", "stand-in", "grade", "step")
ROW_OPERATIONS = ("remove", "up", "down", "answer", "settle", "remark", *OF_WHAT_IT_IS)

NOBODY: Mapping[str, int] = MappingProxyType({})
FOR_ANYONE: tuple[int | None, str] = (None, "")


class SheetForm(TokenForm):
    """All fields of a sheet; `typed`, `answers` and `share` have one entry a row, in the rows' order."""

    blend_id: int | None = None
    version: int = 0
    seen_name: str = Field("", max_length=400)  # the name it had when it was opened
    seen: int = 0  # the newest version there was when the sheet was opened
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
    then: str = ""  # where to go once it is saved
    picture: str = Field("", max_length=20)
    known: str = Field("", max_length=2000)  # stamps of the parts that the page has as they were drawn
    open: list[str] = Field(default_factory=list)  # the folds that are open, and to be drawn
    place: str = "cool cupboard"
    celsius: str = Field("", max_length=120)
    light: str = ""
    glass: str = "amber"
    material: str = "glass"
    opened: str = "yes"
    ml_a_use: str = Field("", max_length=12)
    uses_a_week: str = Field("7", max_length=12)
    headspace: str = Field("10", max_length=12)
    age: list[str] = Field(default_factory=list)
    pv: list[str] = Field(default_factory=list)
    past: list[str] = Field(default_factory=list)
    wearer: str = Field("", max_length=LONGEST_WHOM)  # the number of a card, or words
    region: str = "EU"
    for_sale: str = "no"
    placed_on: str = Field("", max_length=12)
    night_only: str = "no"
    reason_rule: list[str] = Field(default_factory=list)
    reason: list[str] = Field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Sheet:
    """A recipe read from the form; what could not be read takes its default, and `errors` says so by field.

    A sheet with errors is shown and worked out, and never saved: what would be stored is not what was typed.
    """

    recipe: Recipe
    typed_rows: int
    errors: Mapping[str, str]
    left_over: str = ""  # what was typed in the line for new rows and found no room
    is_whom_typed: bool = False  # whom it is for stood behind the new rows

    @property
    def problem(self) -> str:
        """Everything that keeps it from being saved, in sentences."""
        return " ".join(self.errors.values())


class _Reader:
    """Reads fields one by one and keeps what was wrong with each."""

    def __init__(self) -> None:
        self.errors: dict[str, str] = {}

    def read(self, field: str, way: Callable[[], Value], default: Value) -> Value:
        """The value of a field; the default when it cannot be read, and then why stands beside it."""
        try:
            return way()
        except UptideError as error:
            self.errors[field] = str(error)
            return default


async def sheet_form(request: Request, form: Annotated[SheetForm, Form()]) -> SheetForm:
    """The sheet's form, once its token was checked."""
    check_token(request, form.token)
    return form


def read_sheet(form: SheetForm, habits: Habits, catalogue: Catalogue, people: Mapping[str, int] = NOBODY) -> Sheet:
    """Read the fields: rows as typed, then what stands in the line for new rows, split into rows.

    While nobody is chosen, what stands behind the new rows may say whom it is for: “for a baby”, or a name of `people`.
    """
    reader = _Reader()
    answers = [dict(parse_qsl(text)) for text in form.answers]
    rows = [
        Entry(typed, _with_past(answers[i] if i < len(answers) else {}, form, i)) for i, typed in enumerate(form.typed)
    ]
    typed, meant = (form.new, None) if form.wearer.strip() else parted(form.new, _named(people), today())
    new = split_recipe(typed)
    room = max(0, LONGEST_RECIPE - len(rows))
    added = [Entry(typed) for typed in new[:room]]
    container = reader.read(
        "container_ml", lambda: read_container(form.container_kind, form.container_ml, habits), None
    )
    product = reader.read("product", lambda: catalogue.product(form.product).key, "body-oil")
    wearer, whom = reader.read("wearer", lambda: read_wearer(form.wearer), FOR_ANYONE)
    if meant is not None:
        wearer, whom = people.get(meant.wearer.name), "" if meant.wearer.name else meant.said
    reasons = {
        rule: reason.strip() for rule, reason in zip(form.reason_rule, form.reason, strict=False) if reason.strip()
    }
    storage, use = read_storage(form, reader), read_use(form, reader)
    recipe = Recipe(
        (*rows, *added),
        product,
        container=container,
        habits=habits,
        storage=storage,
        use=use,
        wearer=wearer,
        whom=whom,
        reasons=reasons,
        usual_ml=catalogue.product(product).usual_ml,
    )
    if len(new) > room:
        reader.errors["new"] = (
            f"This recipe has {len(rows) + len(new)} rows; up to {LONGEST_RECIPE} are weighed. The others stay below, "
            "as they were typed: nothing is saved until there is room for them."
        )
    return Sheet(recipe, len(rows), reader.errors, "\n".join(new[room:]), is_whom_typed=meant is not None)


def _named(people: Mapping[str, int]) -> dict[str, Wearer]:
    return {name: Wearer(name) for name in people}


def read_wearer(text: str) -> tuple[int | None, str]:
    """The number of a card, or whom words mean; neither for anyone.

    Raises:
        QuantityError: for what is neither.
    """
    if re.fullmatch(r"\s*[0-9]{1,9}\s*", text):
        return int(text), ""
    return None, whom_in_words(text)


def _with_past(answers: dict[str, str], form: SheetForm, row: int) -> dict[str, str]:
    """Put what was said of a row's lot among its answers; an emptied field takes the answer out."""
    said = {"age": form.age, "pv": form.pv, "past": form.past}
    for key, fields in said.items():
        if row < len(fields):
            answers = {name: value for name, value in answers.items() if name != key}
            if fields[row].strip():
                answers[key] = fields[row].strip()
    return answers


def read_storage(form: SheetForm, reader: _Reader) -> Storage:
    """Read where it will stand: one of the usual places, or a person's own monthly temperatures."""
    plain = Storage()
    here = reader.read("place", lambda: _placed(form), plain)
    if form.place == OWN_PLACE:
        own = replace(plain, place=OWN_PLACE, celsius=(20.0,) * 12)
        here = reader.read("celsius", lambda: replace(own, celsius=_celsius(form.celsius)), own)
    if form.light:
        here = replace(here, light=reader.read("light", lambda: _one_of(Light, form.light, "light"), here.light))
    glass = reader.read("glass", lambda: _one_of(Glass, form.glass, "glass"), plain.glass)
    here = replace(here, glass=glass)
    here = reader.read("material", lambda: replace(here, material=form.material), here)
    opened = reader.read("opened", lambda: _one_of(YesNo, form.opened, "answer") is YesNo.YES, plain.opened)
    amount = reader.read("ml_a_use", lambda: amount_of(form.ml_a_use or "0", "amount a use"), plain.ml_a_use)
    uses = reader.read("uses_a_week", lambda: amount_of(form.uses_a_week or "0", "number of uses"), plain.uses_a_week)
    here = replace(here, opened=opened, ml_a_use=amount, uses_a_week=uses)
    return reader.read(
        "headspace",
        lambda: replace(here, headspace=amount_of(form.headspace or "0", "share of head room") / 100),
        here,
    )


def _placed(form: SheetForm) -> Storage:
    return Storage() if form.place == OWN_PLACE else placed(Storage(), form.place)


def _celsius(text: str) -> tuple[float, ...]:
    found = tuple(number_of(part, "temperature") for part in text.replace(";", " ").replace(", ", " ").split())
    return found * 12 if len(found) == 1 else found or (20.0,) * 12


def _one_of(kind: type[Choice], text: str, what: str) -> Choice:
    if text not in {each.value for each in kind}:
        raise QuantityError(f"There is no {what} “{text}”; known are {', '.join(each.value for each in kind)}.")
    return kind(text)


def read_use(form: SheetForm, reader: _Reader) -> IntendedUse:
    """Read whose law counts, whether it is sold, since when, and whether it is worn by night alone."""
    plain = IntendedUse()
    return IntendedUse(
        reader.read("region", lambda: _region(form.region), plain.region),
        reader.read("for_sale", lambda: _one_of(YesNo, form.for_sale, "answer") is YesNo.YES, plain.for_sale),
        reader.read("placed_on", lambda: _first_sold(form.placed_on), plain.placed_on),
        reader.read("night_only", lambda: _one_of(YesNo, form.night_only, "answer") is YesNo.YES, plain.night_only),
    )


def _first_sold(text: str) -> date | None:
    return day_of(text, "day on which it was first sold", earliest=FIRST_SALE, latest=LAST_SALE)


def _region(text: str) -> str:
    if text not in REGIONS:
        raise QuantityError(f"There is no law of “{text}” here; known are {', '.join(REGIONS)}.")
    return text


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

    Operations: `remove:i`, `up:i`, `down:i`, `answer:i:key:value`, `settle:i:key:value` (in all rows that leave open
    the same), `remark:i`, `share:i`, `swap:i:key`, `stand-in:i:key=part,key=part`, `step:i:more`, `step:i:less`,
    `grade:i:key`, `normalise`; all others change nothing.
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


def _made_other(name: str, index: int, detail: str, form: SheetForm, recipe: Recipe, catalogue: Catalogue) -> Recipe:
    """Change how much of what a row is: its share, its oil, the oils in its place, its grade."""
    if name == "share":
        percent = share_of(form.share[index] if index < len(form.share) else "")
        return set_share(recipe, index, percent, catalogue.ingredients, catalogue.names)
    if name == "swap":
        return swap(recipe, index, catalogue.ingredient(detail))
    if name == "grade":
        return set_grade(recipe, index, detail)
    row = resolve(recipe, catalogue.ingredients, catalogue.names).rows[index]
    if name == "step":
        return step_row(recipe, row, 1 if detail == "more" else -1, catalogue.ingredients, catalogue.names)
    oils = [each.partition("=") for each in detail.split(",")]
    return replace_row(recipe, row, [(catalogue.ingredient(key), float(part)) for key, _, part in oils])


def _on_row(name: str, index: int, detail: str, form: SheetForm, recipe: Recipe, catalogue: Catalogue) -> Recipe:
    """Do one thing to one row."""
    entries = list(recipe.entries)
    if not 0 <= index < len(entries):
        raise QuantityError("That row is no longer there.")
    if name in OF_WHAT_IT_IS:
        return _made_other(name, index, detail, form, recipe, catalogue)
    if name == "settle":
        key, _, value = detail.partition(":")
        open_ = open_readings(resolve(recipe, catalogue.ingredients, catalogue.names))
        same = next((each for each in open_ if index in each.rows and each.question.key == key), None)
        return read_as(recipe, same, value) if same is not None else recipe
    if name == "remove":
        del entries[index]
    elif name == "remark":
        entries[index] = Entry(f"# {entries[index].typed}", entries[index].answers)
    elif name in ("up", "down"):
        other = index + (1 if name == "down" else -1)
        if 0 <= other < len(entries):
            entries[index], entries[other] = entries[other], entries[index]
    else:
        key, _, value = detail.partition(":")
        entries[index] = Entry(entries[index].typed, {**entries[index].answers, key: value})
    return replace(recipe, entries=tuple(entries))


def remembered(form: SheetForm, sheet: Sheet, catalogue: Catalogue, habits: Habits) -> Habits:
    """The measures of a person who just answered something: what they said last and, if they want, from now on."""
    op, recipe = form.op, sheet.recipe
    parts = op.split(":", 3)
    if len(parts) != 4 or parts[0] not in ("answer", "settle") or not parts[1].isdecimal():
        return habits
    index, key, value = int(parts[1]), parts[2], parts[3]
    if value == NONE_OF_THESE or index >= len(recipe.entries):
        return habits
    asked = resolve(recipe, catalogue.ingredients, catalogue.names).rows[index].questions
    habits = next((habits.after_answer(key, each.about, value) for each in asked if each.key == key), habits)
    if index not in form.remember:
        return habits
    if key == "unit":
        known = {BareOunce.VOLUME.value, BareOunce.WEIGHT.value}
        return replace(habits, bare_ounce=BareOunce(value)) if value in known else habits
    meaning = normalise(parse_line(recipe.entries[index].typed).name), value
    return replace(habits, meanings=(*(m for m in habits.meanings if m[0] != meaning[0]), meaning))
