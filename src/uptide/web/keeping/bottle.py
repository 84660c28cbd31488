"""A bottle: how it fares, what befell it, who has it; noted where the thing is seen, and struck with a reason."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from sqlalchemy.orm import Session

from uptide.core.errors import UptideError
from uptide.core.keeping.bottle import State
from uptide.core.keeping.storage_history import IN_WATER
from uptide.core.oxidation.surroundings import PLACES
from uptide.store.blends import load_blend
from uptide.store.bottles import load_bottle, worked_of
from uptide.store.people import names_of_people
from uptide.store.preferences import led_to, remember_form
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.forms import errors_of
from uptide.web.base.pages import render
from uptide.web.base.security import sending
from uptide.web.drawing.tide import tide_view
from uptide.web.keeping.bottle_form import GROUPS, KIND_WORDS, OF_PEOPLE, OF_WORDS, NoteForm, StrikeForm, read_note
from uptide.web.keeping.bottle_view import note_view, sentence, sibling_view, until
from uptide.workshop.bottles import fare, note, refresh_meanwhile, stamp, strike
from uptide.workshop.clock import today
from uptide.workshop.shelf import Shelf
from uptide.workshop.trace import held_batches

router = APIRouter(prefix="/bottles/{number}", include_in_schema=False)

SAID = {"noted": "Noted.", "struck": "Struck; it stays to be read, and counts no more.", "made": "It stands here now."}
BOARD = "/keeping?"
FACTS = ("Band", "Learnt", "Limited by")


@router.get("")
def show(request: Request, number: str, store: Store, shelf: OnShelf, said: str = "") -> HTMLResponse:
    """Show a bottle with its tide, its notes and its siblings."""
    return _draw(request, number, store, shelf, said=SAID.get(said, ""))


def _draw(
    request: Request,
    number: str,
    store: Session,
    shelf: Shelf,
    *,
    said: str = "",
    form: NoteForm | None = None,
    error: UptideError | None = None,
) -> HTMLResponse:
    bottle = load_bottle(store, number)
    worked = worked_of(store, number)
    if worked.by != stamp(store):
        refresh_meanwhile(store, shelf.facts, [bottle])
        worked = worked_of(store, number)
    fared = fare(store, shelf.facts, bottle)
    tide = tide_view(fared.assessment, bottle.events, today())
    return render(
        request,
        "keeping/bottle.html",
        422 if error else 200,
        bottle=bottle,
        name=load_blend(store, bottle.blend_id).name,
        sentence=sentence(bottle, worked),
        until=until(bottle, worked, today()),
        look=worked.look if worked.look_on is not None and worked.look_on <= today() else "",
        tide=tide,
        tide_facts=[each for each in tide.facts if each[0] in FACTS] if tide is not None else [],
        notes=[note_view(each, today()) for each in sorted(bottle.notes, key=lambda n: (n.on, n.id), reverse=True)],
        siblings=[sibling_view(each) for each in fared.siblings],
        held=held_batches(store, shelf).get(bottle.batch, ""),
        is_off=bottle.state is State.OFF,
        is_gone=bottle.state is State.GONE,
        reactions=[note_view(each, today()) for each in bottle.reactions],
        patient=next((each.wearer for each in bottle.reactions if each.wearer is not None), None),
        groups=GROUPS,
        of_people=OF_PEOPLE,
        of_words=OF_WORDS,
        kind_words=KIND_WORDS,
        places=tuple(PLACES),
        in_water=IN_WATER,
        people=names_of_people(store),
        today=today(),
        form=form or NoteForm(on=today().isoformat()),
        said=said,
        problem=str(error or ""),
        errors=errors_of(error),
    )


@router.post("/notes")
def add(request: Request, number: str, form: Annotated[NoteForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Note what befell it; it counts at once. A form sent twice is one note, and a refused one keeps its fields."""
    sent = sending(request, form)
    target = led_to(store, sent)
    if target is None:
        try:
            noted = read_note(form, store)
            with store.begin_nested():
                note(store, shelf.facts, number, noted)
        except UptideError as error:
            return _draw(request, number, store, shelf, form=form, error=error)
        seen_on_board = form.back.startswith(BOARD)
        target = form.back if seen_on_board else f"/bottles/{number}?said=noted"
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)


@router.post("/notes/{note_id}/strike")
def strike_out(
    request: Request, number: str, note_id: int, form: Annotated[StrikeForm, Form()], store: Store, shelf: OnShelf
) -> Response:
    """Let a note count no more, for a reason; struck twice is struck once."""
    sent = sending(request, form)
    target = led_to(store, sent)
    if target is None:
        try:
            with store.begin_nested():
                strike(store, shelf.facts, number, note_id, form.why)
        except UptideError as error:
            return _draw(request, number, store, shelf, error=error)
        target = f"/bottles/{number}?said=struck"
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)
