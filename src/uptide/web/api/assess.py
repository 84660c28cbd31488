"""The assessment over HTTP, and the page that describes it."""

from __future__ import annotations

import re
from datetime import date
from functools import partial
from typing import Annotated, Any, Literal

from fastapi import APIRouter, HTTPException, Request
from fastapi.responses import HTMLResponse, JSONResponse
from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import QuantityError, UptideError
from uptide.core.finder.search.measuring import Measure
from uptide.core.finder.search.wish_words import LONGEST_WISH
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import split_recipe
from uptide.core.oxidation.surroundings import Storage
from uptide.core.physics.bottle import CONTAINER_KINDS, Container
from uptide.core.recipe.recipe import LONGEST_RECIPE, Entry, IntendedUse, Recipe
from uptide.core.skin.whom import LONGEST_WHOM, WITHOUT_CARD
from uptide.core.text import whole
from uptide.formats.assessment_json import AssessmentOut, assessment_out
from uptide.formats.find_json import FoundOut, found_out
from uptide.formats.storage_json import StorageIn, storage_in
from uptide.store.people import load_person
from uptide.store.records import NotFoundError
from uptide.web.api.problems import refusals
from uptide.web.base.dependencies import Facts, Measures, Store
from uptide.web.base.forms import LONGEST_TEXT
from uptide.web.base.pages import render
from uptide.workshop.assessment import assess_here, whom_in_words
from uptide.workshop.finding import conflicts_of, find, wish_here

router = APIRouter(prefix="/api", tags=["assess"])


Text = Annotated[str, AfterValidator(whole)]


class ContainerIn(BaseModel):
    """A container by kind and size."""

    model_config = ConfigDict(extra="forbid", strict=True)
    kind: str = Field("bottle", description="What it is.", json_schema_extra={"enum": list(CONTAINER_KINDS)})
    size_ml: float = Field(description="What it holds up to the shoulder [mL].", ge=1, le=20_000)


def _no_boolean(value: object) -> object:
    """JSON's true is not 1 here; 1.0 is, as JSON has one kind of number."""
    if isinstance(value, bool):
        raise ValueError("true and false are no numbers")  # noqa: TRY004 - pydantic turns ValueError into a refusal
    return int(value) if isinstance(value, float) and value.is_integer() else value


def _a_day(value: object) -> object:
    """A day is written out; a number is none."""
    if value is None:
        return None
    if not isinstance(value, str) or not re.fullmatch(r"\d{4}-\d\d-\d\d", value):
        raise ValueError("a day is written as 2026-08-01")
    return date.fromisoformat(value)


Whole = Annotated[int, BeforeValidator(_no_boolean)]
Day = Annotated[date | None, BeforeValidator(_a_day)]


class AnswerIn(BaseModel):
    """The answer to one question of one row."""

    model_config = ConfigDict(extra="forbid")
    row: Whole = Field(description="Place of the row, from 0.", ge=0)
    key: Literal["name", "unit"]
    value: Text


class RecipeIn(BaseModel):
    """A recipe in the words of a person."""

    model_config = ConfigDict(extra="forbid", strict=True)
    recipe: Text = Field(
        description="One thing to a line, or parted by commas.",
        max_length=LONGEST_TEXT,
        examples=["2 tbsp grapeseed, 1 tbsp jojoba, 12 drops lavender"],
    )
    answers: list[AnswerIn] = Field(
        default_factory=list, description="Answers to questions that an earlier call asked."
    )
    product: str = Field(
        "body-oil", description="Key of the product.", json_schema_extra={"enum": list(shipped_catalogue().products)}
    )
    container: ContainerIn | None = None
    wearer: Annotated[int | None, BeforeValidator(_no_boolean)] = Field(
        None, description="Number of the card of whom it is for; none for anyone."
    )
    whom: Text = Field(
        "",
        description=f"Whom it is for in words, as in “{WITHOUT_CARD[1]}”, where no card is meant.",
        max_length=LONGEST_WHOM,
    )
    region: Literal["EU", "UK", "US", "other"] = Field("EU", description="Whose law counts.")
    for_sale: bool = Field(default=False, description="Sold or given in trade.")
    placed_on: Day = Field(None, description="The day on which it is first sold, as 2026-08-01.")
    night_only: bool = Field(default=False, description="Worn by night alone.")
    storage: StorageIn | None = None
    reasons: dict[Text, Text] = Field(
        default_factory=dict, description="Written reasons by rule, for stops that can be answered."
    )


@router.post(
    "/assess",
    responses=refusals(
        s400="The recipe, its product or its container cannot be.",
        s404="There is no card of that number, or nobody whom the words mean.",
        s422="The body is not of the shape below.",
    ),
)
def assess_recipe(body: RecipeIn, store: Store, facts: Facts, habits: Measures) -> AssessmentOut:
    """Assess a recipe: its rows in grams, every figure with its doubt, cautions, and what was not understood."""
    return assessment_out(assess_here(recipe_of(body, store, facts, habits), facts, store))


def recipe_of(body: RecipeIn, store: Session, facts: Catalogue, habits: Habits) -> Recipe:
    """The recipe that a body says.

    Raises:
        UptideError: too many rows, a product or a container that cannot be, two ways to say whom it is for.
        HTTPException: 404 for a wearer without a card, or words that mean nobody.
    """
    lines = split_recipe(body.recipe)
    if len(lines) > LONGEST_RECIPE:
        raise UptideError(f"The recipe has {len(lines)} rows; up to {LONGEST_RECIPE} are weighed.")
    facts.product(body.product)
    container = Container(body.container.kind, body.container.size_ml) if body.container else None
    entries = tuple(
        Entry(typed, {answer.key: answer.value for answer in body.answers if answer.row == i})
        for i, typed in enumerate(lines)
    )
    try:
        whom = whom_in_words(body.whom)
        if body.wearer is not None:
            load_person(store, body.wearer)
    except (NotFoundError, QuantityError) as error:
        raise HTTPException(404, str(error)) from error
    if body.wearer is not None and whom:
        raise UptideError("“wearer” and “whom” say two things; say whom it is for by one of them.")
    use = IntendedUse(body.region, body.for_sale, body.placed_on, body.night_only)
    storage = storage_in(body.storage) if body.storage else Storage()
    return Recipe(
        entries,
        body.product,
        container=container,
        habits=habits,
        storage=storage,
        use=use,
        wearer=body.wearer,
        whom=whom,
        reasons=body.reasons,
    )


class WishIn(BaseModel):
    """What a blend should be, in the words of a person."""

    model_config = ConfigDict(extra="forbid", strict=True)
    wish: Text = Field(
        description="Limits in words; commas may part them.",
        min_length=1,
        max_length=LONGEST_WISH,
        examples=["30 ml face oil, linoleic over 35, keeps 4 months, no nuts, steadiest"],
    )
    measure: Measure = Field(Measure.GRAMS, description="What the answers are rounded to.", strict=False)


@router.post(
    "/find",
    responses=refusals(s400="The body cannot be read.", s422="The body is not of the shape below."),
)
def find_blends(body: WishIn, store: Store, facts: Facts, habits: Measures) -> FoundOut:
    """Find blends that keep a wish, each confirmed by its assessment; where there are none, what excludes what.

    Nothing is looked for where a part of the wish was not understood.
    """
    read, wearer = wish_here(body.wish, facts, store)
    if read.not_read:
        return found_out(read, (), None)
    look = partial(assess_here, catalogue=facts, store=store, wearer=read.described)
    found = tuple(find(read, facts, look, habits, body.measure, wearer=wearer))
    return found_out(read, found, None if found else conflicts_of(read, facts).found())


@router.get("/openapi.json", include_in_schema=False)
def openapi(request: Request) -> JSONResponse:
    """The description of this API, in OpenAPI."""
    return JSONResponse(request.app.openapi())


@router.get("/docs", include_in_schema=False)
def docs(request: Request) -> HTMLResponse:
    """The same description as a page to read."""
    schema: dict[str, Any] = request.app.openapi()
    return render(request, "api/docs.html", schema=schema)
