"""What moves in and out of a lot by hand: used, thrown out, counted afresh, brought back, and taken back again."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse

from uptide.core.errors import QuantityError, UptideError
from uptide.core.ledger.movement import Movement, MovementKind, counted, milligrams, taken
from uptide.store.ledger import add_movement, left_mg, lot_number, take_back
from uptide.store.preferences import led_to, remember_form
from uptide.store.shelf import load_lot, shelf_changed
from uptide.web.base.dependencies import Measures, OnShelf, Store
from uptide.web.base.forms import FieldError, TokenForm, day_of, in_field
from uptide.web.base.gate import maker_of
from uptide.web.base.security import sending
from uptide.web.shelf.lots import COUNTED, DISCARDED, RETURNED, USED, WHAT, MoveForm, draw_lot
from uptide.web.views.amounts import grams_said
from uptide.workshop.clock import today

router = APIRouter(prefix="/shelf/lots/{code}/movements", include_in_schema=False)


@router.post("")
def move(
    request: Request, code: str, form: Annotated[MoveForm, Form()], store: Store, shelf: OnShelf, habits: Measures
) -> Response:
    """Enter a movement; what cannot be read stands beside its field as it was typed."""
    sent = sending(request, form)
    target = f"/shelf/lots/{code}?said=moved#moved"
    if led_to(store, sent) is None:
        lot = load_lot(store, code)
        density = shelf.facts.ingredients[lot.key].spoon_density if lot.key in shelf.facts.ingredients else None
        try:
            with in_field("amount"):
                grams = grams_said(form.amount, density, habits)
                if grams is None or grams < 0:
                    raise QuantityError("How much? Write grams or a volume, such as “40” or “50 ml”.")
            with in_field("on"):
                on = day_of(form.on, "day", latest=today()) or today()
            number = lot_number(store, code)
            movements = movements_said(form.what, form.reason, milligrams(grams), left_mg(store, number))
            with store.begin_nested(), in_field("amount"):
                for movement in movements:
                    add_movement(store, number, movement, on=on, by=maker_of(request))
        except UptideError as error:
            return draw_lot(request, code, store, shelf, moving=form, error=error)
        shelf_changed(store)
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)


def movements_said(what: str, reason: str, mg: int, left: int) -> tuple[Movement, ...]:
    """What goes into the ledger [mg]; a fact is never refused: what was used beyond what was known is found first."""
    reason = reason.strip()
    if what == USED:
        return taken(left, mg, reason)
    if what == DISCARDED:
        if not reason:
            raise FieldError("reason", "Say why it was thrown out: who looks later wants to know.")
        return (Movement(MovementKind.DISCARD, -mg, reason),)
    if what == COUNTED:
        return counted(left, mg, reason or "counted")
    if what == RETURNED:
        return (Movement(MovementKind.RETURN, mg, reason),)
    raise FieldError("what", f"“{what}” is none of {', '.join(WHAT)}.")


@router.post("/{movement_id}/take-back")
def undo(
    request: Request, code: str, movement_id: int, form: Annotated[TokenForm, Form()], store: Store
) -> RedirectResponse:
    """Take a movement back by its opposite; both stay in the ledger."""
    sent = sending(request, form)
    target = f"/shelf/lots/{code}?said=taken-back#moved"
    if led_to(store, sent) is None:
        take_back(store, code, movement_id, by_hand=True, by=maker_of(request))
        shelf_changed(store)
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)
