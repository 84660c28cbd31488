"""Plants of one's own: said in a form, kept and changed; nothing typed is lost."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import Field

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import UptideError
from uptide.core.infusion.judging import FLAG_WORDS
from uptide.core.infusion.own_plant import KEY, OwnPlant
from uptide.store.plants import own_plants, save_own_plant
from uptide.store.preferences import led_to, remember_form
from uptide.store.records import NotFoundError
from uptide.web.base.dependencies import Facts, Store
from uptide.web.base.forms import FieldError, TokenForm, errors_of, in_field, number_of
from uptide.web.base.pages import render
from uptide.web.base.security import sending

router = APIRouter(prefix="/steeping/plants", include_in_schema=False)

FIGURES = {
    "water_fresh": "water content in percent",
    "bulk": "density in g/mL",
    "months_dried": "number of months",
    "months_fresh": "number of months",
}


class PlantForm(TokenForm):
    """A plant as it was typed; what is empty is as of the plant that it is like."""

    name: str = ""
    like: str = "calendula"
    botanical_name: str = ""
    inci: str = ""
    water_fresh: str = ""
    bulk: str = ""
    months_dried: str = ""
    months_fresh: str = ""
    flags: list[str] = Field(default_factory=list)
    heed: str = ""


@router.get("")
def show(request: Request, facts: Facts, store: Store, key: str = "", name: str = "", said: str = "") -> HTMLResponse:
    """Show the own plants, and the form for one: new, or as it was last given."""
    form = PlantForm(name=name[:120])
    if key:
        known = own_plants(store).get(key)
        if known is None:
            raise NotFoundError(f"There is no plant “{key}” of your own.")
        form = _form_of(known)
    return _draw(request, facts, store, form, said="Kept." if said else "")


def _draw(
    request: Request,
    facts: Catalogue,
    store: Store,
    form: PlantForm,
    *,
    said: str = "",
    error: UptideError | None = None,
) -> HTMLResponse:
    shipped = sorted((p for key, p in facts.plants.items() if not key.startswith(KEY)), key=lambda plant: plant.name)
    return render(
        request,
        "steeping/plants.html",
        422 if error else 200,
        form=form,
        own=[(key, plant.name) for key, plant in own_plants(store).items()],
        likes=[(plant.key, f"{plant.name}, {plant.part}") for plant in shipped],
        flags=[(flag, words) for flag, (_, words) in FLAG_WORDS.items()],
        problem=str(error or ""),
        errors=errors_of(error),
        said=said,
    )


def _form_of(own: OwnPlant) -> PlantForm:
    figures = {name: "" if (value := getattr(own, name)) is None else f"{value:g}" for name in FIGURES}
    return PlantForm(
        name=own.name,
        like=own.like,
        botanical_name=own.botanical_name,
        inci=own.inci,
        flags=sorted(own.flags),
        heed=own.heed,
        **figures,
    )


@router.post("")
def keep(request: Request, form: Annotated[PlantForm, Form()], facts: Facts, store: Store) -> Response:
    """Keep a plant of one's own; what cannot be read stands beside its field."""
    sent = sending(request, form)
    target = "/steeping/plants?said=kept"
    if led_to(store, sent) is None:
        try:
            own = _plant(form, facts)
        except UptideError as error:
            return _draw(request, facts, store, form, error=error)
        save_own_plant(store, own)
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)


def _plant(form: PlantForm, facts: Catalogue) -> OwnPlant:
    if form.like not in facts.plants or form.like.startswith(KEY):
        raise FieldError("like", f"There is no plant “{form.like}” in the table that it could be like.")
    strange = sorted(set(form.flags) - set(FLAG_WORDS))
    if strange:
        raise FieldError("flags", f"“{strange[0]}” is nothing that is known of a plant.")
    figures: dict[str, Any] = {}
    for name, what in FIGURES.items():
        with in_field(name):
            text = getattr(form, name)
            figures[name] = number_of(text, what) if text.strip() else None
    with in_field("name"):
        own = OwnPlant(
            form.name.strip(),
            form.like,
            form.botanical_name.strip(),
            form.inci.strip(),
            flags=frozenset(form.flags),
            heed=form.heed.strip(),
        )
        if any(own.name.casefold() == plant.name.casefold() for key, plant in facts.plants.items() if key != own.key):
            raise FieldError("name", f"“{own.name}” stands in the table already.")
    for name, value in figures.items():
        with in_field(name):
            own = replace(own, **{name: value})
    return own
