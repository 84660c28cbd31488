"""A bottle of a blend that was made without the bench: from then on it is a thing of its own."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse
from pydantic import Field

from uptide.core.errors import UptideError
from uptide.core.keeping.storage_history import OLDEST_BOTTLE
from uptide.store.blends import load_blend
from uptide.store.preferences import led_to, remember_form
from uptide.web.base.dependencies import Facts, Measures, Store
from uptide.web.base.forms import TokenForm, day_of, number_of
from uptide.web.base.security import sending
from uptide.web.bench.page import show_saved
from uptide.workshop.bottles import own_bottle
from uptide.workshop.clock import today

router = APIRouter(prefix="/blends/{blend_id}/bottles", tags=["blends"], include_in_schema=False)

MOST_ML = 20_000.0


class BottleForm(TokenForm):
    """A bottle that was made: when, of which version, and how large."""

    version: int = 0
    made: str = Field("", max_length=12)
    size: str = Field("", max_length=12)


@router.post("")
def make(
    request: Request, blend_id: int, form: Annotated[BottleForm, Form()], store: Store, facts: Facts, habits: Measures
) -> Response:
    """Put a bottle of a version on the board; a form sent twice is one bottle."""
    sent = sending(request, form)
    target = led_to(store, sent)
    if target is None:
        blend = load_blend(store, blend_id)
        number = form.version or blend.newest.number
        try:
            day = day_of(form.made, "day of making", earliest=today() - OLDEST_BOTTLE, latest=today()) or today()
            size = abs(number_of(form.size, "size in mL", most=MOST_ML)) if form.size.strip() else 0.0
        except UptideError as error:
            return show_saved(
                request,
                blend,
                number,
                store,
                facts,
                habits,
                bottle={"made": form.made, "size": form.size},
                bottle_problem=str(error),
            )
        target = f"/bottles/{own_bottle(store, facts, blend_id, number, day, size)}?said=made"
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)
