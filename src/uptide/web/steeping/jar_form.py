"""A jar as it is asked for in its form, and as its form says it: words, fields and the address of a plan."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import TypeVar

from pydantic import BaseModel, Field

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.plants import called
from uptide.core.errors import QuantityError
from uptide.core.infusion.charge import Charge
from uptide.core.infusion.parts import of_part, part_said
from uptide.core.infusion.plan import JarAsk
from uptide.core.infusion.plants import PlantFacts, State
from uptide.core.infusion.straining import Straining
from uptide.core.infusion.words import LONGEST, AlsoWords, JarWords, read_jar_words
from uptide.core.ingredients.infusion import each_plant
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.ingredients.mixture import poured_together
from uptide.core.measures.say import say_number
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.recipe.resolve import resolve
from uptide.web.base.forms import FieldError, in_field, number_of

Kind = TypeVar("Kind", State, Straining)
BY_EYE, BY_WEIGHT = "by eye", "by weight"
MOST = 50_000.0  # g or mL
USUAL_GRAMS = "30"


class JarForm(BaseModel):
    """A jar as it is asked for, in the address: a plan can be kept as a link. Amounts as they were typed."""

    said: str = Field("", max_length=LONGEST)
    plant: str = "calendula"
    part: str = ""
    state: str = ""
    oil: str = Field("Sunflower oil (high oleic)", max_length=LONGEST)
    school: str = BY_WEIGHT
    grams: str = Field(USUAL_GRAMS, max_length=12)
    fill: str = Field("75", max_length=12)
    pressed: bool = False
    to_the_rim: bool = False
    jar_ml: str = Field("500", max_length=12)
    oil_grams: str = Field("", max_length=12)
    method: str = "dark-shelf"
    straining: str = Straining.HAND.value
    water: str = Field("", max_length=12)
    also: str = Field("", max_length=LONGEST)
    width_cm: str = Field("", max_length=12)


def _named(words: str, plants: Mapping[str, PlantFacts]) -> PlantFacts:
    """The plant that is called so, and the part of it; raise QuantityError for none and for several."""
    name, part = part_said(words)
    if part and len(called(name, plants)) == 1:
        return of_part(_named(name, plants), part, plants)
    keys = called(words, plants)
    if len(keys) != 1:
        meant = " or ".join(plants[key].name for key in keys)
        raise QuantityError(
            f"“{words}” is {meant}: say which."
            if meant
            else f"“{words}” is in no table; add it as a plant of your own."
        )
    return plants[keys[0]]


def _also_words(also: AlsoWords) -> str:
    state = f"{also.state.value} " if also.state else ""
    return f"{say_number(also.grams)} g {state}{also.plant}" if also.grams is not None else f"{state}{also.plant}"


def in_fields(form: JarForm, plants: Mapping[str, PlantFacts]) -> JarForm:
    """The form as its words have it: what is said goes before what stands in a field, and the rest stays."""
    if not form.said.strip():
        return form
    with in_field("said"):
        words = read_jar_words(form.said)
        if words.parts is not None:
            words = words.weighed(number_of(form.grams or USUAL_GRAMS, "weight in grams", most=MOST))
        plant = _named(words.plant, plants) if words.plant else None
    said: dict[str, object] = {
        "plant": plant.key if plant else "",
        "state": words.state.value if words.state else plant.usual_state.value if plant else "",
        "also": ", ".join(_also_words(each) for each in words.also),
        "oil": words.oil,
        "school": BY_WEIGHT if words.grams is not None else BY_EYE if words.fill is not None else "",
        "grams": say_number(words.grams) if words.grams is not None else "",
        "fill": say_number(100 * words.fill) if words.fill is not None else "",
        "jar_ml": say_number(words.jar_ml) if words.jar_ml is not None else "",
        "oil_grams": say_number(words.oil_grams) if words.oil_grams is not None else "",
        "method": words.method,
        "straining": words.straining.value if words.straining else "",
        "pressed": words.pressed,
    }
    said = {field: value for field, value in said.items() if value}
    if plant:  # another plant is not of the part that was picked of the last
        said["part"] = plant.as_part
    return form.model_copy(update=said)


def can_steep(item: Ingredient) -> bool:
    """Whether something can be steeped in: an oil that is poured, or a butter that melts."""
    return item.is_fatty and item.kind != "wax"


def read_jar(form: JarForm, facts: Catalogue) -> JarAsk:
    """Read what is asked of a jar; raise an UptideError that says what was wrong, what was found and what can be."""
    plant = _plant(form.plant, facts)
    with in_field("part"):
        plant = of_part(plant, form.part, facts.plants)
    by_weight = form.school == BY_WEIGHT
    with in_field("grams"):
        grams = number_of(form.grams, "weight in grams", most=MOST) if by_weight else None
    with in_field("fill"):
        fill = number_of(form.fill, "part of the jar in percent", most=100) / 100
    with in_field("jar_ml"):
        jar_ml = number_of(form.jar_ml, "size in mL", most=MOST)
    with in_field("oil_grams"):
        oil_grams = number_of(form.oil_grams, "weight in grams", most=MOST) if form.oil_grams.strip() else None
    with in_field("water"):
        water = number_of(form.water, "water content in percent", most=99) / 100 if form.water.strip() else None
    with in_field("width_cm"):
        width = number_of(form.width_cm, "width in cm", most=100) if form.width_cm.strip() else None
    return JarAsk(
        plant=plant,
        state=_one_of(State, form.state or plant.usual_state.value, "state"),
        oil=_oil(form.oil, facts),
        method=form.method,
        jar_ml=jar_ml,
        grams=grams,
        fill=fill,
        pressed=form.pressed,
        to_the_rim=form.to_the_rim,
        oil_grams=oil_grams,
        straining=_one_of(Straining, form.straining, "straining"),
        water=water,
        also=tuple(_also(form.also, facts)),
        width_cm=width,
    )


def _also(text: str, facts: Catalogue) -> Iterator[Charge]:
    """What else goes in, from words such as “10 g dried lavender, 5 g rose”."""
    for words in each_plant(text):
        with in_field("also"):
            try:
                said = read_jar_words(words)
            except QuantityError:
                said = JarWords()
            if not said.plant or said.grams is None or said.also:
                raise QuantityError(f"“{words}”: say each with its grams, as in “10 g dried lavender, 5 g rose”.")
            plant = _named(said.plant, facts.plants)
            yield Charge(plant, said.state or plant.usual_state, said.grams)


def _plant(key: str, facts: Catalogue) -> PlantFacts:
    found = facts.plants.get(key)
    if found is None:
        raise FieldError("plant", f"There is no plant “{key}” in the table.")
    return found


def _one_of(kind: type[Kind], text: str, field: str) -> Kind:
    try:
        return kind(text)
    except ValueError as error:
        raise FieldError(field, f"“{text}” is none of {', '.join(each.value for each in kind)}.") from error


def _oil(name: str, facts: Catalogue) -> Ingredient:
    """The oil that is called so, of several the first that can be steeped in; or several, as a recipe has them."""
    words = each_plant(name)
    if facts.names.exactly(name) or len(words) == 1:
        return _one_oil(name, facts)
    if not any(character.isdigit() for character in name):
        parts = [(_one_oil(each, facts), 1.0) for each in words]
    else:
        rows = resolve(Recipe(tuple(Entry(each) for each in words)), facts.ingredients, facts.names).rows
        read = [(row.typed, row.ingredient, row.grams) for row in rows]
        strange = [typed for typed, oil, grams in read if oil is None or not grams or not can_steep(oil)]
        if strange:
            raise FieldError("oil", f"“{strange[0]}” is not read: say it as in “2 parts olive, 1 part jojoba”.")
        parts = [(oil, grams) for _, oil, grams in read if oil is not None and grams is not None]
    return poured_together(parts)


def _one_oil(name: str, facts: Catalogue) -> Ingredient:
    keys = [key for key in facts.names.match(name).keys if can_steep(facts.ingredients[key])]
    if not keys:
        raise FieldError("oil", f"“{name}” is no oil on the shelf’s list that plant can be steeped in.")
    return facts.ingredients[keys[0]]


def _oil_words(oil: Ingredient) -> str:
    """An oil as its field says it."""
    if oil.lot or not oil.parts:
        return oil.name
    named = ((f"lot {part.lot}" if part.lot else part.name, share) for part, share in oil.parts)
    return ", ".join(f"{say_number(100 * share)} parts {name}" for name, share in named)


def form_of(ask: JarAsk) -> JarForm:
    """The form that asks for a jar."""
    return JarForm(
        plant=ask.plant.key,
        part=ask.plant.as_part,
        state=ask.state.value,
        oil=_oil_words(ask.oil),
        school=BY_EYE if ask.grams is None else BY_WEIGHT,
        grams="" if ask.grams is None else say_number(ask.grams),
        fill=say_number(100 * ask.fill),
        pressed=ask.pressed,
        to_the_rim=ask.to_the_rim,
        jar_ml=say_number(ask.jar_ml),
        oil_grams="" if ask.oil_grams is None else say_number(ask.oil_grams),
        method=ask.method,
        straining=ask.straining.value,
        water="" if ask.water is None else say_number(100 * ask.water),
        also=", ".join(f"{say_number(each.grams)} g {each.state.value} {each.plant.called}" for each in ask.also),
        width_cm="" if ask.width_cm is None else say_number(ask.width_cm),
    )


def asked_of(form: JarForm) -> dict[str, str]:
    """What was asked, as an address says it: what is empty or not ticked is left out."""
    said = {name: value for name, value in form.model_dump().items() if value and name != "said"}
    return {name: "true" if value is True else str(value) for name, value in said.items()}
