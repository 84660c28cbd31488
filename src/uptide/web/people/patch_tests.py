"""Patch tests of a wearer: begun, looked at, broken off, and narrowed down."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse
from pydantic import Field
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import UptideError
from uptide.core.finder.aims import OF_ALLERGY
from uptide.core.safety.caution import Grade
from uptide.core.skin.patch import REACTIONS, SITES, Saw, can_have_begun
from uptide.core.skin.wearer import Wearer
from uptide.store.blends import load_version
from uptide.store.people import begin_test, end_test, load_person, note_look, suspect
from uptide.store.preferences import led_to, remember_form
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.forms import TokenForm
from uptide.web.base.security import check_token, sending
from uptide.web.people.card import draw_card
from uptide.workshop.assessment import assess_here
from uptide.workshop.clock import wall_clock
from uptide.workshop.people import contents_of

LONGEST_NOTE = 400  # characters
router = APIRouter(prefix="/people/{person_id}/tests", include_in_schema=False)


class TestForm(TokenForm):
    """A patch test to begin: of which version (as `3.2`), how, where, since when."""

    blend: str = ""
    protocol: str = "two-days"
    site: str = SITES[0]
    begun: str = ""
    note: str = ""


class LookForm(TokenForm):
    """What was seen."""

    step: int = 0
    saw: Saw = Saw.NOTHING
    note: str = ""


class SuspectForm(TokenForm):
    """What of a blend may be to blame."""

    keys: list[str] = Field(default_factory=list)


@router.post("")
def begin(
    request: Request, person_id: int, form: Annotated[TestForm, Form()], store: Store, shelf: OnShelf
) -> Response:
    """Begin a patch test, unless the blend is stopped for this person: a test lifts no stop."""
    facts = shelf.facts
    number = sending(request, form)
    target = f"/people/{person_id}?said=begun#tests"
    if led_to(store, number) is None:
        person = load_person(store, person_id)
        try:
            blend = _blend_of(form.blend)
            begun = _moment(form.begun)
            if len(form.note) > LONGEST_NOTE:
                raise UptideError(f"This note has {len(form.note)} characters; up to {LONGEST_NOTE} fit.")  # noqa: TRY301
            may_be_tested(person.wearer, blend, store, facts, person_id)
            begin_test(
                store,
                person_id,
                blend=blend,
                protocol=form.protocol,
                site=form.site,
                begun_at=begun,
                contents=contents_of(facts, store, *blend),
                note=form.note,
            )
        except UptideError as error:
            return draw_card(request, person, store, shelf, problem=str(error), begin=form)
        remember_form(store, number, target)
    return RedirectResponse(target, 303)


def _blend_of(text: str) -> tuple[int, int]:
    blend, _, version = text.partition(".")
    if not (re.fullmatch(r"[0-9]{1,9}", blend) and re.fullmatch(r"[0-9]{1,9}", version)):
        raise UptideError("Choose the blend that is tested.")
    return int(blend), int(version)


def _moment(text: str) -> datetime:
    try:
        moment = datetime.fromisoformat(text).replace(tzinfo=None)
    except ValueError as error:
        raise UptideError(f"“{text}” is no day and hour; write it as 2026-11-25T18:30.") from error
    if not can_have_begun(moment, wall_clock()):
        raise UptideError(f"{text} is no hour at which a test began; one of the last two years up to tomorrow can be.")
    return moment


def may_be_tested(wearer: Wearer, blend: tuple[int, int], store: Session, facts: Catalogue, person_id: int) -> None:
    """Refuse a test of what is stopped for somebody, or may hold what they are allergic to.

    Raises:
        UptideError: says which stop holds, or which row is not settled.
    """
    assessment = assessed_for(blend, store, facts, person_id)
    unsettled = assessment.safety.unsettled if assessment.safety else ()
    if unsettled:
        rows = ", ".join(f"“{typed}”" for typed in unsettled)
        raise UptideError(f"Nobody knows yet what {rows} is in this blend: settle it on the bench before it is tested.")
    if assessment.safety and assessment.safety.assumed:
        raise UptideError(f"{assessment.safety.draft} Say on the bench what it is before it is tested.")
    against = [
        c
        for c in assessment.cautions
        if (c.grade is Grade.STOP and not c.is_answered) or (c.rule in OF_ALLERGY and c.who and not c.is_unknown)
    ]
    if against:
        said = " ".join(f"{c.about}: {c.message}" if c.about else c.message for c in against)
        raise UptideError(
            f"Do not test this on {wearer.name}. {said} A patch test lifts no stop, and a food allergy is never tried "
            "out on skin: ask an allergist."
        )


def assessed_for(blend: tuple[int, int], store: Session, facts: Catalogue, person_id: int) -> Assessment:
    """A version of a blend, checked for somebody whoever it was made for."""
    recipe = replace(load_version(store, *blend).recipe, wearer=person_id)
    return assess_here(recipe, facts, store)


@router.post("/{test_id}/looks")
def look(
    request: Request, person_id: int, test_id: int, form: Annotated[LookForm, Form()], store: Store, shelf: OnShelf
) -> Response:
    """Note what was seen."""
    number = sending(request, form)
    said = "reacted" if form.saw in REACTIONS else "looked"
    target = f"/people/{person_id}?said={said}#test-{test_id}"
    if led_to(store, number) is None:
        try:
            if len(form.note) > LONGEST_NOTE:
                raise UptideError(f"This note has {len(form.note)} characters; up to {LONGEST_NOTE} fit.")  # noqa: TRY301
            with store.begin_nested():
                note_look(store, person_id, test_id, form.step, form.saw, form.note)
        except UptideError as error:
            return draw_card(request, load_person(store, person_id), store, shelf, problem=str(error), look=form)
        remember_form(store, number, target)
    return RedirectResponse(target, 303)


@router.post("/{test_id}/end")
def end(request: Request, person_id: int, test_id: int, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Break a test off."""
    check_token(request, form.token)
    end_test(store, person_id, test_id)
    return RedirectResponse(f"/people/{person_id}?said=ended#test-{test_id}", 303)


@router.post("/{test_id}/suspects")
def narrow(
    request: Request, person_id: int, test_id: int, form: Annotated[SuspectForm, Form()], store: Store
) -> Response:
    """Narrow down what somebody reacted to."""
    check_token(request, form.token)
    suspect(store, person_id, test_id, tuple(form.keys))
    return RedirectResponse(f"/people/{person_id}?said=narrowed#test-{test_id}", 303)
