"""Plan a jar: what goes in, what comes out, what it costs and what speaks against it, before anything is cut."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import Annotated, TypeVar
from urllib.parse import urlencode

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse
from pydantic import BaseModel, Field
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.plants import called
from uptide.core.errors import QuantityError, UptideError
from uptide.core.figures.citing import listed
from uptide.core.infusion.charge import Charge
from uptide.core.infusion.following import JarUnderWay
from uptide.core.infusion.judging import cautions_of, say_share, verdict_of
from uptide.core.infusion.learning import learn, taught_words
from uptide.core.infusion.methods import METHODS
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import PlantFacts, State
from uptide.core.infusion.straining import Straining
from uptide.core.infusion.water import water_at
from uptide.core.infusion.words import LONGEST, AlsoWords, JarWords, read_jar_words
from uptide.core.ingredients.infusion import each_plant
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.ingredients.mixture import poured_together
from uptide.core.measures.say import say_number
from uptide.core.months import say_day
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.recipe.resolve import resolve
from uptide.store.jars import Jar, list_jars
from uptide.web.base.dependencies import Facts, Store
from uptide.web.base.forms import FieldError, errors_of, in_field, number_of
from uptide.web.base.pages import number, render
from uptide.web.drawing.view import View
from uptide.web.views.figures import cite
from uptide.workshop.clock import today
from uptide.workshop.jars import jar_today, price_of

router = APIRouter(prefix="/steeping", include_in_schema=False)

DAY, WEEK = 24.0, 168.0  # h
Kind = TypeVar("Kind", State, Straining)
DAMP_ROOM = 0.70  # humidity of a kitchen in a wet month
BY_EYE, BY_WEIGHT = "by eye", "by weight"
MOST = 50_000.0  # g or mL


class JarForm(BaseModel):
    """A jar as it is asked for, in the address: a plan can be kept as a link. Amounts as they were typed."""

    said: str = Field("", max_length=LONGEST)
    plant: str = "calendula"
    state: str = ""
    oil: str = Field("Sunflower oil (high oleic)", max_length=LONGEST)
    school: str = BY_WEIGHT
    grams: str = Field("30", max_length=12)
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


class MethodView(View):
    """What a way of steeping would cost this oil, and when most has passed over."""

    key: str
    title: str
    takes: str
    costs: str
    chosen: bool
    href: str  # the same jar, steeped so


class JarView(View):
    """A planned jar in words."""

    verdict: str
    cautions: tuple[tuple[str, str], ...]
    amounts: tuple[tuple[str, str], ...]
    water: tuple[tuple[str, str], ...]
    yields: tuple[tuple[str, str, bool], ...]
    methods: tuple[MethodView, ...]
    done: str
    after: tuple[tuple[str, str], ...]
    source: str
    colour: str


@router.get("")
def plan(request: Request, facts: Facts, store: Store, form: Annotated[JarForm, Query()]) -> HTMLResponse:
    """Show a jar as it was asked for, and those under way; what cannot be read stands beside its field."""
    return draw_plan(request, facts, store, form)


def draw_plan(
    request: Request, facts: Catalogue, store: Session, form: JarForm, *, begin_problem: str = "", begun_on: str = ""
) -> HTMLResponse:
    """Draw the page of plans; `begin_problem` is why a jar could not be begun."""
    jar, error, taught = None, None, ""
    try:
        form = in_fields(form, facts.plants)
        asked = read_jar(form, facts)
        learnt = learn(asked.plant, under_way_here(store, facts))
        jar = jar_view(JarPlan(replace(asked, plant=learnt.plant)), facts, form)
        taught = taught_words(learnt)
    except UptideError as problem:
        error = problem
    plants, jars = facts.plants, jars_here(store, facts)
    chosen = plants.get(form.plant)
    return render(
        request,
        "steeping/plan.html",
        422 if error or begin_problem else 200,
        form=form,
        jar=jar,
        taught=taught,
        asked=_asked(form),
        begin_problem=begin_problem,
        begun_on=begun_on or today().isoformat(),
        today=today(),
        under_way=[each for each in jars if not each.ended_in],
        ended=[each for each in jars if each.ended_in],
        problem=str(error or ""),
        errors=errors_of(error),
        plants=[(key, plant.name) for key, plant in sorted(plants.items(), key=lambda pair: pair[1].name)],
        oils=sorted(item.name for item in facts.ingredients.values() if _can_steep(item)),
        state_options=[(each.value, each.value) for each in State],
        state=form.state or (chosen.usual_state if chosen else State.DRIED),
        method_options=[(method.key, method.title) for method in METHODS.values()],
        way_options=[(each.value, each.value) for each in Straining],
        school_options=[(each, each) for each in (BY_WEIGHT, BY_EYE)],
    )


class JarLine(View):
    """A jar in the list: what it is, how long it stands, and what is due; `ended_in` says what came of it."""

    id: int
    name: str
    day: int
    begun: str
    due: tuple[str, ...]
    says: tuple[tuple[str, str], ...]
    ended_in: str


def under_way_here(store: Session, facts: Catalogue) -> list[JarUnderWay]:
    """Every jar of which the plan can be read."""
    found = (jar_today(jar, facts, today()) for jar in list_jars(store))
    return [jar for jar in found if jar is not None]


def jars_here(store: Session, facts: Catalogue) -> list[JarLine]:
    """Every jar in a line, those under way and those that have ended."""
    return [jar_line(jar, jar_today(jar, facts, today())) for jar in list_jars(store)]


def jar_line(jar: Jar, under_way: JarUnderWay | None) -> JarLine:
    """A jar in the words of a line; one that can be read no more still has its name, its day and its notes."""
    return JarLine(
        id=jar.id,
        name=jar.name,
        day=under_way.day if under_way else (today() - jar.begun_on).days,
        begun=say_day(jar.begun_on),
        due=tuple(task.words for task in under_way.due) if under_way else (),
        says=tuple((said.grade.value, said.message) for said in under_way.says) if under_way else (),
        ended_in=under_way.outcome if under_way else "",
    )


def _named(words: str, plants: Mapping[str, PlantFacts]) -> PlantFacts:
    """The plant that is called so; raise QuantityError for none and for several."""
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
    return form.model_copy(update={field: value for field, value in said.items() if value})


def _can_steep(item: Ingredient) -> bool:
    """Whether something can be steeped in: an oil that is poured, or a butter that melts."""
    return item.is_fatty and item.kind != "wax"


def read_jar(form: JarForm, facts: Catalogue) -> JarAsk:
    """Read what is asked of a jar; raise an UptideError that says what was wrong, what was found and what can be."""
    plant = _plant(form.plant, facts)
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
        strange = [typed for typed, oil, grams in read if oil is None or not grams or not _can_steep(oil)]
        if strange:
            raise FieldError("oil", f"“{strange[0]}” is not read: say it as in “2 parts olive, 1 part jojoba”.")
        parts = [(oil, grams) for _, oil, grams in read if oil is not None and grams is not None]
    return poured_together(parts)


def _one_oil(name: str, facts: Catalogue) -> Ingredient:
    keys = [key for key in facts.names.match(name).keys if _can_steep(facts.ingredients[key])]
    if not keys:
        raise FieldError("oil", f"“{name}” is no oil on the shelf’s list that plant can be steeped in.")
    return facts.ingredients[keys[0]]


def _oil_words(oil: Ingredient) -> str:
    """An oil as its field says it."""
    if oil.lot or not oil.parts:
        return oil.name
    return ", ".join(f"{say_number(100 * share)} parts {part.name}" for part, share in oil.parts)


def form_of(ask: JarAsk) -> JarForm:
    """The form that asks for a jar."""
    return JarForm(
        plant=ask.plant.key,
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
        also=", ".join(f"{say_number(each.grams)} g {each.state.value} {each.plant.name}" for each in ask.also),
        width_cm="" if ask.width_cm is None else say_number(ask.width_cm),
    )


def jar_view(plan: JarPlan, facts: Catalogue, form: JarForm) -> JarView:
    """A planned jar in the words of the page."""
    cautions = cautions_of(plan, [facts.ingredients[key] for key in facts.on_hand if key in facts.ingredients])
    plant = plan.ask.plant
    return JarView(
        verdict=verdict_of(plan, cautions),
        cautions=tuple((caution.grade.value, caution.message) for caution in cautions),
        amounts=tuple(_amounts(plan)),
        water=tuple(_water(plan)),
        yields=tuple(
            (how.value, "nothing: the plant keeps it all" if out is None else f"{out:.0f} g", how is plan.ask.straining)
            for how, out in plan.out.items()
        ),
        methods=tuple(_methods(plan, form)),
        done=_about(plan.done_after_hours),
        after=tuple(_after(plan, facts)),
        source=cite(plant.source, "", facts.sources),
        colour=plan.colour,
    )


def _amounts(plan: JarPlan) -> list[tuple[str, str]]:
    covers = plan.covers
    each = [f"{one.grams:.0f} g {one.plant.name}" for one in plan.charges] if plan.ask.also else []
    of = f": {listed(each)}" if each else ""
    return [
        ("Plant", f"{plan.plant_grams:.0f} g, {100 * plan.water:.0f} % of it water{of}"),
        ("Oil in all", f"{plan.oil_grams:.0f} g, {plan.oil_ml:.0f} mL"),
        ("By weight", f"1 to {say_number(plan.ratio, 3)}"),
        ("To cover it at once", f"{covers.at_once + covers.above:.0f} g"),
        ("Top up on day 1", f"{covers.top_up:.0f} g, when the air has left the plant and the level has sunk"),
        (
            "Head room",
            f"{100 * plan.head_room:.0f} % of a jar of {plan.ask.jar_ml:.0f} mL, {plan.width_cm:.1f} cm wide",
        ),
    ]


def _water(plan: JarPlan) -> list[tuple[str, str]]:
    found = plan.jar_water
    said = [
        ("Activity in the jar", f"{found.activity:.2f}; {found.grows.value} can live in it"),
        ("Clear", f"above {plan.clouds_below:.0f} °C, once strained at {plan.method.strained_at:.0f} °C"),
    ]
    if plan.must_leave:
        said.append(("Must leave", f"{say_number(plan.must_leave, 2)} g of water"))
        said.append(("Dried first", f"from {plan.plant_grams:.0f} g to {plan.dry_to:.0f} g, until it snaps"))
        hours = plan.dries_in_hours or 0.0
        said.append(
            ("In the air", "2 to 4 weeks in bundles of five or six stems, until brittle; wilting a day is not enough")
        )
        said.append(("In the oven", "about 5 h at its lowest, the door ajar"))
        said.append(("Or driven off", f"{_about(hours)} in a wide pot at 60 °C, stirred and open"))
    stops = 100 * water_at(DAMP_ROOM)
    said.append(
        (
            "In a damp room",
            f"at {100 * DAMP_ROOM:.0f} % humidity it stops at {stops:.0f} % water: weight that no longer changes is "
            "not dry there; finish it warm, at 35 to 40 °C",
        )
    )
    return said


def _methods(plan: JarPlan, form: JarForm) -> list[MethodView]:
    return [
        MethodView(
            key=method.key,
            title=method.title,
            takes=method.takes,
            costs=say_share(min(1.0, plan.life_by_method[method])) if plan.life_by_method else "unknown",
            chosen=method is plan.method,
            href=f"/steeping?{urlencode(_asked(form) | {'method': method.key})}",
        )
        for method in METHODS.values()
    ]


def _asked(form: JarForm) -> dict[str, str]:
    """What was asked, as an address says it: what is empty or not ticked is left out."""
    said = {name: value for name, value in form.model_dump().items() if value and name != "said"}
    return {name: "true" if value is True else str(value) for name, value in said.items()}


def _after(plan: JarPlan, facts: Catalogue) -> list[tuple[str, str]]:
    plants = [each.plant for each in plan.charges]
    said = [
        ("Keeps", f"{say_number(plan.months)} months at most from straining; sooner where the oil itself ends first"),
        ("On the label", ", ".join(filter(None, [*_inci(plan.ask.oil), *(plant.inci for plant in plants)]))),
        ("Extract in it", f"about {say_number(sum(plant.extract_in_oil for plant in plants), 2)} %"),
    ]
    if plan.scent_bound:
        said.append(("Scent in it", f"at most {say_number(plan.scent_bound, 2)} %, if all of it passes over"))
    if plan.twice is not None:
        said.append(("A second charge", f"as much plant again makes it {say_number(plan.twice, 3)} times as strong"))
    price = price_of(plan.ask.oil, facts)
    cost = plan.cost_per_gram(price.per_gram) if price is not None else None
    if price is not None and cost is not None:
        per_ml = cost * plan.ask.oil.density
        words = (
            f"{number(100 * cost, 2)} {price.currency} for 100 g, {number(100 * per_ml, 2)} for 100 mL, the oil alone"
        )
        said.append(("Costs", words))
    return said


def _inci(oil: Ingredient) -> list[str]:
    return [part.inci for part, _ in oil.parts] or [oil.inci]


def _about(hours: float) -> str:
    """A time in words that fit its doubt."""
    if hours < 2 * DAY:
        return f"about {max(1, round(hours))} h"
    if hours < 3 * WEEK:
        return f"about {round(hours / DAY)} days"
    return f"about {round(hours / WEEK)} weeks"
