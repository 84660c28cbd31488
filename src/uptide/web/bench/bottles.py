"""What befell the bottle of a blend: noted, taken out of the account, and what its readings teach."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import UptideError
from uptide.core.keeping.storage_history import EVENT_KINDS, IN_WATER, problem_of
from uptide.core.oxidation.simulate import total_sd
from uptide.store.blends import load_blend
from uptide.store.bottles import add_event, remove_event
from uptide.store.preferences import keep_learnt, led_to, remember_form
from uptide.web.base.dependencies import Facts, Measures, Store
from uptide.web.base.forms import TokenForm, day_of, number_of
from uptide.web.base.security import check_token, sending
from uptide.web.bench.page import show_saved
from uptide.workshop.assessment import assess_here
from uptide.workshop.clock import today

router = APIRouter(prefix="/blends/{blend_id}/events", tags=["blends"], include_in_schema=False)


class EventForm(TokenForm):
    """A note about the bottle of a blend, as it was typed."""

    kind: str = EVENT_KINDS[0]
    on: str = ""
    place: str = ""
    celsius: str = ""
    hours: str = ""
    low: str = ""
    high: str = ""
    smell: str = "fine"
    in_water: str = IN_WATER[0]


@router.post("")
def note_event(
    request: Request, blend_id: int, form: Annotated[EventForm, Form()], store: Store, facts: Facts, habits: Measures
) -> Response:
    """Note something about the bottle of a blend; a form sent twice is one note, and a refused one keeps its fields."""
    number = sending(request, form)
    target = f"/blends/{blend_id}?said=noted"
    if led_to(store, number) is None:
        try:
            event = _event(form)
        except UptideError as error:
            blend = load_blend(store, blend_id)
            return show_saved(
                request, blend, blend.newest.number, store, facts, habits, noting=form, noting_problem=str(error)
            )
        add_event(store, blend_id, event.on, event.kind, dict(event.detail))
        _keep_learnt(store, blend_id, facts)
        remember_form(store, number, target)
    return RedirectResponse(f"{target}#fold-bottle", 303)


@router.post("/{event_id}/remove")
def remove_note(
    request: Request, blend_id: int, event_id: int, form: Annotated[TokenForm, Form()], store: Store, facts: Facts
) -> Response:
    """Take a note out of the account."""
    check_token(request, form.token)
    remove_event(store, blend_id, event_id)
    _keep_learnt(store, blend_id, facts)
    return RedirectResponse(f"/blends/{blend_id}?said=unnoted#fold-bottle", 303)


def _keep_learnt(store: Session, blend_id: int, facts: Catalogue) -> None:
    """Keep what this bottle's readings teach about the person's storage, for their other bottles."""
    shelf_life = assess_here(load_blend(store, blend_id).newest.recipe, facts, store, blend_id).shelf_life
    shift = None
    if shelf_life is not None and shelf_life.posterior is not None and shelf_life.mixture is not None:
        shift = shelf_life.posterior.carried_over(total_sd(shelf_life.mixture.osi_sd))
    keep_learnt(store, blend_id, shift)


@dataclass(frozen=True, slots=True)
class _Noted:
    """Something that befell a bottle, read from its form."""

    on: date
    kind: str
    detail: Mapping[str, object]


def _event(form: EventForm) -> _Noted:
    """Read a note; raise UptideError for what cannot have befallen a bottle."""
    on = day_of(form.on, "day")
    if on is None:
        raise UptideError(f"On which day? Write it as {today().isoformat()}.")
    event = _Noted(on, form.kind, _detail(form))
    problem = problem_of(event, today())
    if problem:
        raise UptideError(problem)
    return event


def _detail(form: EventForm) -> dict[str, object]:
    """What belongs to a kind of note."""
    if form.kind == "moved":
        return {"place": form.place}
    if form.kind == "heated":
        return {"celsius": number_of(form.celsius, "temperature"), "hours": number_of(form.hours, "number of hours")}
    detail: dict[str, object] = {}
    if form.kind in ("strip", "titration"):
        detail["low"] = number_of(form.low, "peroxide value")
    if form.kind == "strip":
        detail["high"] = number_of(form.high, "peroxide value")
    if form.kind == "smell":
        detail["off"] = form.smell == "off"
    if form.kind == "in water":
        detail["saw"] = form.in_water
    return detail
