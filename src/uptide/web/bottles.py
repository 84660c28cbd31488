"""What befell the bottle of a blend: noted, taken out of the account, and what its readings teach."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse
from sqlalchemy.orm import Session

from uptide.catalogue.load import Catalogue
from uptide.core.blend.bottle_life import IN_WATER, KINDS, placed, read_event
from uptide.core.errors import UptideError
from uptide.core.oxidation.history import HeatStep
from uptide.core.oxidation.simulate import total_sd
from uptide.core.oxidation.surroundings import Storage
from uptide.store.blends import load_blend
from uptide.store.bottles import add_event, remove_event
from uptide.store.preferences import keep_learnt, led_to, remember_form
from uptide.web.dependencies import Facts, Store
from uptide.web.security import check_token, sending
from uptide.web.sheet import TokenForm, number_of
from uptide.web.workshop import assess_here

router = APIRouter(prefix="/blends/{blend_id}/events", tags=["blends"], include_in_schema=False)


class EventForm(TokenForm):
    """A note about the bottle of a blend."""

    kind: str
    on: date
    place: str = ""
    celsius: str = ""
    hours: str = ""
    low: str = ""
    high: str = ""
    smell: str = "fine"
    in_water: str = IN_WATER[0]


@router.post("")
def note_event(
    request: Request, blend_id: int, form: Annotated[EventForm, Form()], store: Store, facts: Facts
) -> Response:
    """Note something about the bottle of a blend; a form sent twice is one note."""
    number = sending(request, form)
    target = f"/blends/{blend_id}?said=noted"
    if led_to(store, number) is None:
        add_event(store, blend_id, form.on, form.kind, _detail(form))
        _keep_learnt(store, blend_id, facts)
        remember_form(store, number, target)
    return RedirectResponse(f"{target}#tide", 303)


@router.post("/{event_id}/remove")
def remove_note(
    request: Request, blend_id: int, event_id: int, form: Annotated[TokenForm, Form()], store: Store, facts: Facts
) -> Response:
    """Take a note out of the account."""
    check_token(request, form.token)
    remove_event(store, blend_id, event_id)
    _keep_learnt(store, blend_id, facts)
    return RedirectResponse(f"/blends/{blend_id}?said=unnoted#tide", 303)


def _keep_learnt(store: Session, blend_id: int, facts: Catalogue) -> None:
    """Keep what this bottle's readings teach about the person's storage, for their other bottles."""
    keeping = assess_here(load_blend(store, blend_id).newest.recipe, facts, store, blend_id).keeping
    shift = None
    if keeping is not None and keeping.posterior is not None and keeping.pool is not None:
        shift = keeping.posterior.carried_over(total_sd(keeping.pool.osi_sd))
    keep_learnt(store, blend_id, shift)


def _detail(form: EventForm) -> dict[str, object]:
    """What belongs to a kind of note, checked as the model will read it."""
    if form.kind not in KINDS:
        raise UptideError(f"“{form.kind}” is nothing that is noted of a bottle; known are {', '.join(KINDS)}.")
    if form.kind == "moved":
        return {"place": placed(Storage(), form.place).place}
    if form.kind == "heated":
        step = HeatStep(number_of(form.celsius, "temperature"), number_of(form.hours, "number of hours"))
        return {"celsius": step.celsius, "hours": step.hours}
    detail: dict[str, object] = {}
    if form.kind == "strip":
        detail = {"low": number_of(form.low, "peroxide value"), "high": number_of(form.high, "peroxide value")}
    elif form.kind == "titration":
        detail = {"low": number_of(form.low, "peroxide value")}
    elif form.kind == "smell":
        detail = {"off": form.smell == "off"}
    elif form.kind == "in water":
        if form.in_water not in IN_WATER:
            raise UptideError(f"“{form.in_water}” is nothing it does in water; known are {', '.join(IN_WATER)}.")
        return {"saw": form.in_water}
    if detail:
        read_event(form.kind, 0.0, detail)
    return detail
