"""A planned jar in the words of its pages, and every jar in a line."""

from __future__ import annotations

from urllib.parse import urlencode

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.figures.citing import listed
from uptide.core.infusion.figures import figures_of
from uptide.core.infusion.following import JarUnderWay
from uptide.core.infusion.judging import cautions_of, say_share, verdict_of
from uptide.core.infusion.methods import METHODS, Method
from uptide.core.infusion.plan import JarPlan
from uptide.core.infusion.schedule import due_of
from uptide.core.infusion.water import water_at
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.say import say_number
from uptide.core.months import say_day
from uptide.store.jars import Jar, list_jars
from uptide.web.base.pages import number
from uptide.web.drawing.view import View
from uptide.web.steeping.jar_form import JarForm, asked_of
from uptide.web.views.figures import FigureView, cite, figure_view
from uptide.workshop.clock import today
from uptide.workshop.jars import jar_today, price_of

DAY, WEEK = 24.0, 168.0  # h
LEAST_MONTHS = 0.1
DAMP_ROOM = 0.70  # humidity of a kitchen in a wet month


class MethodView(View):
    """What a way of steeping would cost this oil, and when most has passed over."""

    key: str
    title: str
    takes: str
    costs: str
    months: str
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
    figures: tuple[FigureView, ...]


class JarLine(View):
    """A jar in the list: what it is, how long it stands, and what is due; `ended_in` says what came of it."""

    id: int
    name: str
    day: int
    begun: str
    due: tuple[str, ...]
    says: tuple[tuple[str, str], ...]
    ended_in: str


def jars_today(store: Session, facts: Catalogue) -> list[tuple[Jar, JarUnderWay | None]]:
    """Every jar as it stands today; None beside one whose plan can be read no more."""
    return [(jar, jar_today(jar, facts, today())) for jar in list_jars(store)]


def jar_line(jar: Jar, under_way: JarUnderWay | None) -> JarLine:
    """A jar in the words of a line; one that can be read no more still has its name, its day and its notes."""
    return JarLine(
        id=jar.id,
        name=jar.name,
        day=under_way.day if under_way else (today() - jar.begun_on).days,
        begun=say_day(jar.begun_on),
        due=tuple(task.words for task in due_of(under_way)) if under_way else (),
        says=tuple((said.grade.value, said.message) for said in under_way.says) if under_way else (),
        ended_in=under_way.outcome if under_way else "",
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
        figures=tuple(figure_view(each, facts.sources) for each in figures_of(plan)),
    )


def _amounts(plan: JarPlan) -> list[tuple[str, str]]:
    covers = plan.covers
    each = [f"{one.grams:.0f} g {one.plant.called}" for one in plan.charges] if plan.ask.also else []
    of = f": {listed(each)}" if each else ""
    of += ", and as much again half way" if plan.method.charges > 1 else ""
    return [
        ("Plant", f"{plan.plant_grams:.0f} g, {100 * plan.water:.0f} % of it water{of}"),
        ("Oil in all", f"{plan.oil_grams:.0f} g, {plan.oil_ml:.0f} mL"),
        ("By weight", f"1 to {say_number(plan.ratio, 3)}"),
        ("By volume", f"1 of plant, as it lies in the jar, to {say_number(plan.oil_ml / covers.bed_ml, 2)}"),
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
            months=_months(plan, method),
            chosen=method is plan.method,
            href=f"/steeping?{urlencode(asked_of(form) | {'method': method.key})}",
        )
        for method in METHODS.values()
    ]


def _months(plan: JarPlan, method: Method) -> str:
    """What a way takes of the oil’s life, in months of standing in the dark at 20 °C."""
    if not plan.life_by_method or plan.oxidation_months is None:
        return "–"
    months = min(1.0, plan.life_by_method[method]) * plan.oxidation_months
    return "under 0.1" if months < LEAST_MONTHS else f"{months:.1f}"


def _after(plan: JarPlan, facts: Catalogue) -> list[tuple[str, str]]:
    plants = [each.plant for each in plan.charges]
    said = [
        ("Keeps", f"{say_number(plan.months)} months at most from straining; sooner where the oil itself ends first"),
        ("On the label", ", ".join(filter(None, [*_inci(plan.ask.oil), *(plant.inci for plant in plants)]))),
        ("Extract in it", f"about {say_number(plan.extract_in_oil, 2)} %"),
    ]
    if plan.scent_bound:
        said.append(("Scent in it", f"at most {say_number(plan.scent_bound, 2)} %, if all of it passes over"))
    if plan.twice is not None:
        which = "The second charge" if plan.method.charges > 1 else "A second charge"
        said.append((which, f"as much plant again makes it {say_number(plan.twice, 3)} times as strong as once"))
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
