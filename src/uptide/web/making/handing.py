"""The bottles of a batch: where each is, and so many of them given or sold at once."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse
from sqlalchemy.orm import Session

from uptide.core.errors import QuantityError, UptideError
from uptide.core.keeping.bottle import Bottle, BottleNote, Noted, State
from uptide.store.bottles import bottles_of_batch
from uptide.store.people import names_of_people
from uptide.store.preferences import led_to, remember_form
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.forms import FieldError, TokenForm, day_of, in_field, number_of
from uptide.web.base.security import sending
from uptide.web.making.batches import draw_record
from uptide.workshop.bottles import note_many
from uptide.workshop.clock import today

router = APIRouter(prefix="/making/{number}/handouts", include_in_schema=False)

HOW = (Noted.GIVEN.value, Noted.SOLD.value)


class HandForm(TokenForm):
    """So many bottles that go to somebody, as typed."""

    how: str = Noted.GIVEN.value
    count: str = "1"
    wearer: str = ""
    whom: str = ""
    price: str = ""
    on: str = ""


@router.post("")
def hand_out(
    request: Request, number: str, form: Annotated[HandForm, Form()], store: Store, shelf: OnShelf
) -> Response:
    """Give or sell so many bottles of a batch, the first that are here; a form sent twice is one handing out."""
    sent = sending(request, form)
    target = led_to(store, sent)
    if target is None:
        try:
            bottles, noted = _read(form, number, store)
            with store.begin_nested():
                note_many(store, shelf.facts, bottles, noted)
        except UptideError as error:
            return draw_record(request, number, store, shelf, hand=form.model_dump(), error=error)
        target = f"/making/{number}?said=handed#bottles"
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)


def _read(form: HandForm, batch: str, store: Session) -> tuple[tuple[Bottle, ...], BottleNote]:
    """Which bottles go to whom; raise UptideError that says beside which field what was wrong."""
    if form.how not in HOW:
        raise FieldError("how", f"“{form.how}” is none of {', '.join(HOW)}.")
    here = [each for each in bottles_of_batch(store, batch) if each.state is State.STANDS and each.handed is None]
    with in_field("count"):
        count = round(number_of(form.count, "number of bottles", most=1000))
        if not 1 <= count <= len(here):
            raise QuantityError(f"{form.count} cannot go: {len(here)} of them are here.")
    with in_field("on"):
        on = day_of(form.on, "day", latest=today()) or today()
    detail: dict[str, object] = {}
    if form.how == Noted.SOLD and form.price.strip():
        with in_field("price"):
            detail["price"] = number_of(form.price, "price", most=10_000)
    names = dict(names_of_people(store))
    wearer = int(form.wearer) if form.wearer.isdecimal() and int(form.wearer) in names else None
    whom = names[wearer] if wearer is not None else form.whom.strip()[:80]
    if not whom:
        raise FieldError("whom", "To whom? Choose a card, or write a name.")
    return tuple(here[:count]), BottleNote(0, on, kind=form.how, detail=detail, wearer=wearer, whom=whom)
