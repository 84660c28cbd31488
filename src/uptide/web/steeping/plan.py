"""Plan a jar: what goes in, what comes out, what it costs and what speaks against it, before anything is cut."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import UptideError
from uptide.core.infusion.learning import learn, taught_words
from uptide.core.infusion.methods import METHODS
from uptide.core.infusion.parts import PARTS
from uptide.core.infusion.plan import JarPlan
from uptide.core.infusion.plants import State
from uptide.core.infusion.straining import Straining
from uptide.web.base.dependencies import Facts, Store
from uptide.web.base.forms import errors_of
from uptide.web.base.pages import render
from uptide.web.steeping.jar_form import BY_EYE, BY_WEIGHT, JarForm, asked_of, can_steep, in_fields, read_jar
from uptide.web.steeping.jar_views import jar_line, jar_view, jars_today
from uptide.workshop.clock import today

router = APIRouter(prefix="/steeping", include_in_schema=False)


@router.get("")
def plan(request: Request, facts: Facts, store: Store, form: Annotated[JarForm, Query()]) -> HTMLResponse:
    """Show a jar as it was asked for, and those under way; what cannot be read stands beside its field."""
    return draw_plan(request, facts, store, form)


def draw_plan(
    request: Request, facts: Catalogue, store: Session, form: JarForm, *, begin_problem: str = "", begun_on: str = ""
) -> HTMLResponse:
    """Draw the page of plans; `begin_problem` is why a jar could not be begun."""
    stored = jars_today(store, facts)
    jar, error, taught = None, None, ""
    try:
        form = in_fields(form, facts.plants)
        asked = read_jar(form, facts)
        learnt = learn(asked.plant, [under_way for _, under_way in stored if under_way is not None])
        jar = jar_view(JarPlan(replace(asked, plant=learnt.plant)), facts, form)
        taught = taught_words(learnt)
    except UptideError as problem:
        error = problem
    plants, jars = facts.plants, [jar_line(*each) for each in stored]
    chosen = plants.get(form.plant)
    return render(
        request,
        "steeping/plan.html",
        422 if error or begin_problem else 200,
        form=form,
        jar=jar,
        taught=taught,
        asked=asked_of(form),
        begin_problem=begin_problem,
        begun_on=begun_on or today().isoformat(),
        today=today(),
        under_way=[each for each in jars if not each.ended_in],
        ended=[each for each in jars if each.ended_in],
        problem=str(error or ""),
        errors=errors_of(error),
        plants=[(key, plant.name) for key, plant in sorted(plants.items(), key=lambda pair: pair[1].name)],
        oils=sorted(item.name for item in facts.ingredients.values() if can_steep(item)),
        part_options=[("", chosen.part if chosen else "as is usual"), *((part, part) for part in PARTS)],
        state_options=[(each.value, each.value) for each in State],
        state=form.state or (chosen.usual_state if chosen else State.DRIED),
        method_options=[(method.key, method.title) for method in METHODS.values()],
        way_options=[(each.value, each.value) for each in Straining],
        school_options=[(each, each) for each in (BY_WEIGHT, BY_EYE)],
    )
