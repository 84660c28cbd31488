"""Plan a batch of a version: containers, loss, lots and what the scale can weigh, before anything is poured."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import timedelta
from typing import Annotated

from fastapi import APIRouter, Form, Query, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import UptideError
from uptide.core.making.making_plan import MakingAsk, MakingPlan
from uptide.core.making.one_pot import Scent, read_scents
from uptide.core.making.rounding import STEPS_G, How
from uptide.core.making.sizes import MOST_LOSS, ROOM, Amount, fits_words, read_containers
from uptide.core.measures.say import say_number
from uptide.core.recipe.order import ORDER_TITLES, PourOrder, usual_order
from uptide.store.batches import plan_batch
from uptide.store.blends import load_blend, load_version
from uptide.store.preferences import led_to, remember_form
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.forms import FieldError, TokenForm, day_of, errors_of, in_field, number_of
from uptide.web.base.gate import maker_of
from uptide.web.base.pages import render
from uptide.web.base.security import sending
from uptide.web.making.plan_view import plan_view, pot_view
from uptide.web.making.words import warmth_of
from uptide.workshop.assessment import assess_here
from uptide.workshop.clock import today
from uptide.workshop.making import freeze, lots_on_hand
from uptide.workshop.one_pot import begin_pot, plan_pot
from uptide.workshop.shelf import Shelf

router = APIRouter(prefix="/blends/{blend_id}/versions/{number}/make", include_in_schema=False)

BY_FILM, BY_PERCENT = "a film", "percent"
LATEST, EARLIEST = timedelta(days=366), timedelta(days=3660)
SCENTS_HINT = "Morning: 3 x 30 ml; 1% sweet orange\nEvening: 3 x 30 ml; 0.5% lavender"
SMALL = (How.DROPS, How.DILUTED)


class PlanForm(BaseModel):
    """A batch as it is asked for, in the address; amounts as they were typed. Lots stand beside it as “lot-2”."""

    model_config = ConfigDict(extra="allow")
    bottles: str = Field("", max_length=120)
    loss_by: str = BY_FILM
    loss: str = Field("3", max_length=12)
    leftover: str = Field("", max_length=12)
    order: str = Field("", max_length=40)
    step: str = Field("0.1", max_length=12)
    small: str = How.DROPS.value
    made: str = Field("", max_length=12)
    celsius: str = Field("20", max_length=12)
    each_costs: str = Field("", max_length=12)
    scents: str = Field("", max_length=2000)
    made_by: str = Field("", max_length=80)


class BeginForm(PlanForm, TokenForm):
    """The same, sent to begin it."""


@router.get("")
def plan(
    request: Request, blend_id: int, number: int, store: Store, shelf: OnShelf, form: Annotated[PlanForm, Query()]
) -> HTMLResponse:
    """Show a batch as it was asked for; what cannot be read stands beside its field."""
    return _draw(request, blend_id, number=number, store=store, shelf=shelf, form=form)


def _draw(
    request: Request,
    blend_id: int,
    number: int,
    store: Session,
    shelf: Shelf,
    form: PlanForm,
    problem: UptideError | None = None,
) -> HTMLResponse:
    name = load_blend(store, blend_id).name
    version = load_version(store, blend_id, number)
    recipe = assess_here(version.recipe, shelf.facts, store)
    chosen = _chosen(form)
    form = with_usual(form, recipe, shelf)
    form.made_by = form.made_by or maker_of(request)
    view, fits, error = None, "", problem
    try:
        ask = read_ask(form, recipe, chosen)
        scents = _scents(form)
        if scents:
            view = pot_view(plan_pot(store, shelf, recipe, ask, scents), store, shelf)
        else:
            view = plan_view(MakingPlan(ask, recipe, lots_on_hand(store, shelf)), store, shelf.facts)
        filled = [size for each in scents for size in each.containers] or ask.amount.containers
        fits = fits_words(filled, _celsius(form))
    except UptideError as wrong:
        error = error or wrong
    return render(
        request,
        "making/plan.html",
        422 if error else 200,
        blend_id=blend_id,
        number=number,
        name=name,
        form=form,
        view=view,
        chosen=chosen,
        fits=fits,
        scents_hint=SCENTS_HINT,
        draft=recipe.safety.draft if recipe.safety else "",
        orders=[(key.value, words) for key, words in ORDER_TITLES.items()],
        steps=[(f"{step:g}", f"{step:g} g") for step in STEPS_G],
        smalls=[(how.value, how.value) for how in SMALL],
        losses=[(BY_FILM, "a film and 0.4 g a bottle"), (BY_PERCENT, "percent more")],
        today=today(),
        problem=str(error or ""),
        errors=errors_of(error),
    )


def with_usual(form: PlanForm, recipe: Assessment, shelf: Shelf) -> PlanForm:
    """The form with what nobody said: one of its own container, its product’s school, today."""
    product = shelf.facts.product(recipe.recipe.product)
    container = recipe.recipe.container
    size = container.size_ml if container else product.usual_ml
    usual = {
        "bottles": f"1 x {say_number(size)} ml",
        "order": usual_order(product.container).value,
        "made": today().isoformat(),
    }
    return form.model_copy(update={name: value for name, value in usual.items() if not getattr(form, name).strip()})


def _chosen(form: PlanForm) -> dict[int, str]:
    """The lots that were picked by hand, by the place of their line."""
    return {
        int(name.removeprefix("lot-")): str(code)
        for name, code in (form.model_extra or {}).items()
        if name.startswith("lot-") and name.removeprefix("lot-").isdecimal() and code
    }


def _celsius(form: PlanForm) -> float:
    with in_field("celsius"):
        celsius = warmth_of(form.celsius)
    return ROOM if celsius is None else celsius


def _scents(form: PlanForm) -> tuple[Scent, ...]:
    with in_field("scents"):
        return read_scents(form.scents)


def read_ask(form: PlanForm, recipe: Assessment, chosen: Mapping[int, str]) -> MakingAsk:
    """Read how a batch is wanted; raise an UptideError that says what was wrong, what was found and what can be."""
    with in_field("bottles"):
        containers = read_containers(form.bottles)
    with in_field("loss"):
        percent = number_of(form.loss or "0", "loss in percent", most=MOST_LOSS)
    with in_field("leftover"):
        leftover = number_of(form.leftover or "0", "leftover in mL", most=20_000)
    with in_field("made"):
        day = day_of(form.made, "day of making", earliest=today() - EARLIEST, latest=today() + LATEST) or today()
    with in_field("each_costs"):
        price = number_of(form.each_costs, "price", most=10_000) if form.each_costs.strip() else None
    if form.order not in set(PourOrder):
        raise FieldError("order", f"There is no order “{form.order}”; known are {', '.join(PourOrder)}.")
    if form.small not in SMALL:
        raise FieldError("small", f"“{form.small}” is none of {', '.join(SMALL)}.")
    if form.step not in {f"{step:g}" for step in STEPS_G}:
        raise FieldError("step", f"A scale of {form.step} g is not known; {', '.join(f'{s:g}' for s in STEPS_G)} are.")
    _celsius(form)
    whole = recipe.resolution
    density = whole.total_grams / whole.total_millilitres if whole.total_millilitres else 0.0
    return MakingAsk(
        amount=Amount(containers, density, percent if form.loss_by == BY_PERCENT else None, leftover),
        order=PourOrder(form.order),
        day=day,
        step_g=float(form.step),
        small=How(form.small),
        drops_per_ml=recipe.recipe.habits.drops_per_ml,
        chosen=chosen,
        container_price=price,
    )


@router.post("")
def begin(
    request: Request, blend_id: int, number: int, form: Annotated[BeginForm, Form()], store: Store, shelf: OnShelf
) -> Response:
    """Freeze the plan as a batch; a form sent twice is one batch."""
    sent = sending(request, form)
    target = led_to(store, sent)
    if target is None:
        recipe = assess_here(load_version(store, blend_id, number).recipe, shelf.facts, store)
        try:
            ask, scents = read_ask(with_usual(form, recipe, shelf), recipe, _chosen(form)), _scents(form)
            by = form.made_by.strip() or maker_of(request)
            if scents:
                pot = plan_pot(store, shelf, recipe, ask, scents)
                batch = begin_pot(store, pot, blend_id, number, made_by=by)
            else:
                frozen = freeze(MakingPlan(ask, recipe, lots_on_hand(store, shelf)))
                batch = plan_batch(store, blend_id, number, frozen, made_on=ask.day, made_by=by)
        except UptideError as error:
            return _draw(request, blend_id, number=number, store=store, shelf=shelf, form=form, problem=error)
        target = f"/making/{batch}?said=planned"
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)
