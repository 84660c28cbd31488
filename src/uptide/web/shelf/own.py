"""Oils of one's own: said in a form, kept, and changed; nothing typed is lost."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Any

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import field_validator

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import QuantityError, UptideError
from uptide.core.ingredients.own_oil import FAMILIES, LONGEST_NAME, OWN_KINDS, OwnOil, own_ingredient
from uptide.core.lipids.pasted import PastedTable, read_pasted
from uptide.store.preferences import led_to, remember_form
from uptide.store.shelf import own_oil, save_own_oil
from uptide.web.base.dependencies import Facts, Store
from uptide.web.base.forms import LONGEST_TEXT, FieldError, errors_of, in_field, number_of
from uptide.web.base.meanwhile import Both, SeenForm, merged, opened
from uptide.web.base.pages import render
from uptide.web.base.security import sending

router = APIRouter(prefix="/shelf", include_in_schema=False)


@router.get("/own")
def new_own(request: Request, facts: Facts, name: str = "") -> HTMLResponse:
    """Show the form for an oil of one's own; of a name that was asked for elsewhere."""
    return _own_form(request, OwnForm(name=name[:LONGEST_NAME]), PastedTable(), facts)


class OwnForm(SeenForm):
    """An oil of one's own: what it is, and the table its acids are read from."""

    key: str = ""
    name: str = ""
    kind: str = "carrier"
    inci: str = ""
    botanical_name: str = ""
    allergen_family: str = ""
    note: str = ""
    colour: str = "#f3e7b5"
    tint: str = "2"
    solid: bool = False
    table: str = ""

    @field_validator("table")
    @classmethod
    def _as_it_is_kept(cls, typed: str) -> str:
        """A browser sends other ends of lines than it was given."""
        return typed.replace("\r\n", "\n")


def _own_form(
    request: Request,
    form: OwnForm,
    read: PastedTable,
    facts: Catalogue,
    *,
    key: str = "",
    error: UptideError | None = None,
    both: Sequence[Both] = (),
    trouble: str = "",
) -> HTMLResponse:
    """The form; `error` is why it could not be kept, `trouble` what of the stored oil cannot be read."""
    return render(
        request,
        "shelf/own.html",
        422 if error or both else 200,
        both=both,
        form=form,
        read=read,
        acids=[(facts.acids[code], amount) for code, amount in read.acids.items()],
        problem=trouble or str(error or ""),
        errors=errors_of(error),
        kinds=OWN_KINDS,
        families=FAMILIES,
        key=key,
    )


@router.get("/own/{key}")
def edit_own(request: Request, key: str, store: Store, facts: Facts) -> HTMLResponse:
    """Show the form with what was last said of an oil of one's own."""
    own, typed = own_oil(store, key)
    form = opened(_form_of(key, own, typed))
    trouble = [f"{field.replace('_', ' ')}: {words}" for field, words in own.unread.items()]
    if key in facts.ingredients and own.acids and facts.ingredients[key].lipid is None:
        trouble.append("Its acids are no profile and are not used; its other figures are.")
    return _own_form(request, form, read_pasted(typed, facts.acids), facts, key=key, trouble=" ".join(trouble))


def _form_of(key: str, own: OwnOil, typed: str) -> OwnForm:
    """An oil of one's own in the words of its form."""
    return OwnForm(
        key=key,
        name=own.name,
        kind=own.kind,
        inci=own.inci,
        botanical_name=own.botanical_name,
        allergen_family=own.allergen_family,
        note=own.note,
        colour=own.colour,
        tint=str(own.tint),
        solid=own.solid,
        table=typed,
    )


@router.post("/own")
def keep_own(request: Request, form: Annotated[OwnForm, Form()], store: Store, facts: Facts) -> Response:
    """Keep an oil of one's own; what cannot be read is said, and nothing typed is lost."""
    sent = sending(request, form)
    target = led_to(store, sent)
    if target is not None:
        return RedirectResponse(target, 303)
    read = read_pasted(form.table[:LONGEST_TEXT], facts.acids)
    try:
        if form.key:  # what is changed is there
            form, both = merged(form, _form_of(form.key, *own_oil(store, form.key)))
            read = read_pasted(form.table[:LONGEST_TEXT], facts.acids)
            if both:
                return _own_form(request, form, read, facts, key=form.key, both=both)
        own = _own_oil(form, read)
        key = form.key or own.key
        with in_field("table"):
            own_ingredient(own, facts.acids, key)
        if not form.key and key in facts.ingredients:
            raise FieldError("name", f"“{own.name}” stands on the shelf already; change it there.")
    except UptideError as error:
        return _own_form(request, form, read, facts, key=form.key, error=error)
    save_own_oil(store, own, form.table, form.key)
    target = f"/shelf/{key}?said=kept"
    remember_form(store, sent, target)
    return RedirectResponse(target, 303)


def _own_oil(form: OwnForm, read: PastedTable) -> OwnOil:
    """The oil as the form says it, set field by field: what cannot be is said beside the field it stands in."""
    with in_field("tint"):
        tint = number_of(form.tint, "colour strength")
        if tint != int(tint):
            raise QuantityError(f"{form.tint} is no colour strength; a whole number from 1 (pale) to 10 (deep) is.")
    said: dict[str, Any] = {
        "kind": form.kind,
        "inci": form.inci.strip(),
        "botanical_name": form.botanical_name.strip(),
        "allergen_family": form.allergen_family,
        "note": form.note.strip(),
        "colour": form.colour,
        "tint": int(tint),
        "solid": form.solid,
    }
    with in_field("name"):
        own = OwnOil(form.name.strip(), acids=read.acids, figures=read.figures)
    for field, value in said.items():
        with in_field(field):
            own = replace(own, **{field: value})
    return own
