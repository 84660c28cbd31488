"""A lot as a form: shown as it is known, and read as it was typed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from types import MappingProxyType
from typing import Literal

from fastapi import Request
from fastapi.responses import HTMLResponse
from sqlalchemy.orm import Session

from uptide.core.errors import QuantityError, UptideError
from uptide.core.ingredients.grade import GRADES, grade_said, without_grade
from uptide.core.ingredients.lot import Lot
from uptide.core.ingredients.mixture import known_oil
from uptide.core.measures.habits import Habits
from uptide.core.oxidation.surroundings import PLACES
from uptide.core.recipe.recipe import Recipe
from uptide.core.recipe.resolve import resolve
from uptide.store.blends import load_blend
from uptide.store.shelf import (
    MOST_PRICE,
)
from uptide.web.base.forms import day_of, in_field, number_of
from uptide.web.base.meanwhile import Both, SeenForm
from uptide.web.base.pages import render
from uptide.web.shelf.infused import (
    STATES,
    WAYS,
    InfusionForm,
    ends_with_plants,
    infusion_fields,
    read_infusion,
)
from uptide.web.views.amounts import grams_said
from uptide.workshop.shelf import Shelf


class LotForm(InfusionForm, SeenForm):
    """A lot as a form; numbers and days as they were typed."""

    code: str = ""
    known: str = ""
    ingredient: str = ""
    supplier: str = ""
    supplier_lot: str = ""
    received_on: str = ""
    opened_on: str = ""
    best_before: str = ""
    bought_g: str = ""
    left_g: str = ""
    price: str = ""
    currency: str = ""
    place: str = "cool cupboard"
    container: str = ""
    note: str = ""
    grade: Literal["", "refined", "unrefined", "co2"] = ""
    blend: int | None = None
    version: int | None = None
    jar: bool = False  # it came of a jar, which says what it is infused with


def draw_lot_form(
    request: Request,
    form: LotForm,
    shelf: Shelf,
    problem: str,
    status: int = 422,
    errors: Mapping[str, str] = MappingProxyType({}),
    both: Sequence[Both] = (),
) -> HTMLResponse:
    """Draw the form of a lot, with what was wrong beside its field."""
    return render(
        request,
        "shelf/lot_form.html",
        status if problem or both else 200,
        form=form,
        problem=problem,
        errors=errors,
        both=both,
        places=tuple(PLACES),
        states=[(each, each) for each in STATES],
        ways=list(WAYS.items()),
        grades=[("", "as usual"), *((grade.key, grade.name) for grade in GRADES.values())],
        names=sorted({item.name for item in shelf.facts.ingredients.values() if not item.lot}),
        count=len(shelf.standing),
    )


def refuse_unsettled(recipe: Recipe, shelf: Shelf) -> None:
    """A lot must be known to the last row: what it is goes into every blend that it is used in."""
    open_ = resolve(recipe, shelf.facts.ingredients, shelf.facts.names).not_for_good
    if open_:
        rows = ", ".join(f"“{row.typed}”" for row in open_)
        raise UptideError(f"Nobody knows yet what {rows} is in this blend: settle it on the bench, and save it, first.")


def lot_of(form: LotForm, shelf: Shelf, habits: Habits, known: Lot | None) -> Lot:
    """Read a lot from its form; raise an UptideError that says what was wrong in which field."""
    made = (form.blend, form.version) if form.blend and form.version else None
    infusion = read_infusion(form, known, shelf.facts)
    with in_field("ingredient"):
        steeped = known is not None and known.infusion is not None  # what was poured on stays what it was
        key = known.ingredient if known and steeped else "" if made else _key_of(form.ingredient, shelf)
    oil = known_oil(key, shelf.facts.ingredients) if key else None
    density = oil.spoon_density if oil else None
    with in_field("bought_g"):
        bought = grams_said(form.bought_g, density, habits)
        if bought is None:
            raise QuantityError("How much came? Give the grams or millilitres, as on the label.")
    with in_field("left_g"):
        left = grams_said(form.left_g, density, habits)
    days = {}
    for field in ("received_on", "opened_on", "best_before"):
        with in_field(field):
            days[field] = day_of(getattr(form, field), "day")
    with in_field("price"):
        price = _number(form.price, "price")
    if infusion is not None and days["best_before"] is None:
        days["best_before"] = ends_with_plants(infusion, days["received_on"], shelf.facts)
    return Lot(
        code=form.known or form.code.strip(),
        ingredient=key,
        supplier=form.supplier.strip(),
        received_on=days["received_on"],
        opened_on=days["opened_on"],
        best_before=days["best_before"],
        bought_g=bought,
        left_g=bought if left is None else left,
        price=price,
        currency=form.currency.strip().upper(),
        place=form.place.strip(),
        supplier_lot=form.supplier_lot.strip(),
        container=form.container.strip(),
        note=form.note.strip(),
        grade=form.grade or ("" if made or steeped else grade_said(form.ingredient)),
        made_from=made,
        infusion=infusion,
    )


def _key_of(name: str, shelf: Shelf) -> str:
    """The oil of the shelf’s list that is called so; raise QuantityError where it is none, or one of several."""
    match = shelf.facts.names.match(without_grade(name))
    if not match.sure:
        meant = " or ".join(shelf.facts.ingredients[k].name for k in match.keys)
        raise QuantityError(
            f"“{name}” is one of several: {meant}; name the one it is."
            if meant
            else f"“{name}” is not on the shelf’s list; add it as an oil of your own first."
        )
    return shelf.facts.ingredients[match.keys[0]].base_key


def _number(text: str, what: str) -> float | None:
    return number_of(text, what, most=MOST_PRICE) if text.strip() else None


def form_of(lot: Lot, store: Session, shelf: Shelf) -> LotForm:
    """A lot as a form to change."""
    made = lot.made_from or (None, None)
    plain = ("supplier", "supplier_lot", "currency", "place", "container", "note", "grade")
    return LotForm(
        code=lot.code,
        known=lot.code,
        ingredient=_name_of(lot, store, shelf),
        received_on=_iso(lot.received_on),
        opened_on=_iso(lot.opened_on),
        best_before=_iso(lot.best_before),
        bought_g=f"{lot.bought_g:.10g}",
        left_g=f"{lot.left_g:.10g}",
        price="" if lot.price is None else f"{lot.price:g}",
        blend=made[0],
        version=made[1],
        jar=lot.infusion is not None and lot.infusion.jar is not None,
        **{name: getattr(lot, name) for name in plain},
        **infusion_fields(lot.infusion),
    )


def _name_of(lot: Lot, store: Session, shelf: Shelf) -> str:
    """What a lot is of, as its form says it."""
    if lot.made_from is not None:
        return load_blend(store, lot.made_from[0]).name
    if not lot.ingredient and lot.infusion is not None:
        return f"lot {lot.infusion.oil_lot}"
    known = known_oil(lot.ingredient, shelf.facts.ingredients)
    return known.name if known else lot.ingredient


def _iso(value: date | None) -> str:
    return value.isoformat() if value else ""
