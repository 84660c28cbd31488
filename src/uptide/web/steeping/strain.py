"""Strain a jar: its weighings, what was expected, and the lot that comes of it."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from sqlalchemy.orm import Session

from uptide.core.errors import QuantityError, UptideError
from uptide.core.infusion.following import JarUnderWay
from uptide.core.infusion.plants import DAMP
from uptide.core.infusion.straining import Straining
from uptide.core.ingredients.lot import Lot
from uptide.core.measures.say import say_number
from uptide.core.oxidation.surroundings import PLACES
from uptide.store.jars import Jar, load_jar
from uptide.store.preferences import led_to, remember_form
from uptide.store.records import NotFoundError
from uptide.store.shelf import all_lots, next_code
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.forms import FieldError, TokenForm, day_of, errors_of, in_field, number_of
from uptide.web.base.pages import number, render
from uptide.web.base.security import sending
from uptide.workshop.clock import today
from uptide.workshop.jars import Weighed, jar_today, lot_of_jar, price_of, strain_jar
from uptide.workshop.shelf import Shelf

router = APIRouter(prefix="/steeping/jars", include_in_schema=False)

MOST_GRAMS, MOST_PRICE = 100_000.0, 1e6
USUAL_PLACE = "cool cupboard"
USUAL_LAYERS, FOR_HAIRS = 2, 4  # of cloth; common practice


class StrainForm(TokenForm):
    """A straining as it was typed."""

    on: str = ""
    how: str = ""
    out: str = ""
    marc: str = ""
    dregs: str = ""
    code: str = ""
    place: str = USUAL_PLACE
    price: str = ""
    currency: str = ""


@router.get("/{jar_id}/strain")
def ask_straining(request: Request, jar_id: int, store: Store, shelf: OnShelf) -> Response:
    """Show what is weighed when a jar is strained, and what is expected of it; a jar that is a lot leads to it."""
    jar, under_way = _open(store, jar_id, shelf)
    made = lot_of_jar(all_lots(store), jar_id)
    if made is not None:
        return RedirectResponse(f"/shelf/lots/{made.code}", 303)
    price = price_of(under_way.plan.ask.oil, shelf.facts)
    end = under_way.ended
    form = StrainForm(
        on=(end.on if end else today()).isoformat(),
        how=under_way.plan.ask.straining.value,
        out=f"{end.grams:g}" if end is not None and end.grams is not None else "",
        code=next_code([lot.code for lot in all_lots(store)]),
        price=number(price.per_gram * under_way.plan.oil_grams, 2) if price else "",
        currency=price.currency if price else "",
    )
    return _draw(request, jar, under_way, form)


def _open(store: Session, jar_id: int, shelf: Shelf) -> tuple[Jar, JarUnderWay]:
    """A jar that can be strained.

    Raises:
        NotFoundError: there is none, or what was asked of it can be read no more.
    """
    jar = load_jar(store, jar_id)
    under_way = jar_today(jar, shelf.facts, today())
    if under_way is None:
        raise NotFoundError(f"What was planned of jar {jar_id} can be read no more: enter its oil as a lot by hand.")
    return jar, under_way


def _draw(
    request: Request, jar: Jar, under_way: JarUnderWay, form: StrainForm, error: UptideError | None = None
) -> HTMLResponse:
    plan = under_way.plan
    hairs = any("hairs" in each.plant.flags for each in plan.charges)
    return render(
        request,
        "steeping/strain.html",
        422 if error else 200,
        jar=jar,
        form=form,
        problem=str(error or ""),
        errors=errors_of(error),
        ways=[
            (how.value, "nothing: the plant keeps it all" if out is None else f"about {out:.0f} g")
            for how, out in plan.out.items()
        ],
        damp=any(each.state in DAMP for each in plan.charges),
        layers=FOR_HAIRS if hairs else USUAL_LAYERS,
        wet=not under_way.water_is_gone,
        says=[(said.grade.value, said.message) for said in under_way.says],
        must_leave=say_number(plan.must_leave, 2),
        warm=plan.method.strained_at,
        places=tuple(PLACES),
        begun_on=jar.begun_on,
        ended=under_way.ended is not None,
        today=today(),
    )


@router.post("/{jar_id}/strain")
def strain(
    request: Request, jar_id: int, form: Annotated[StrainForm, Form()], store: Store, shelf: OnShelf
) -> Response:
    """Strain a jar: note its weighings and put its oil on the shelf; a form sent twice makes one lot."""
    sent = sending(request, form)
    target = led_to(store, sent)
    if target is None:
        jar, under_way = _open(store, jar_id, shelf)
        try:
            with store.begin_nested():
                code = _strain(jar, under_way, form, store, shelf)
        except UptideError as error:
            return _draw(request, jar, under_way, form, error)
        target = f"/shelf/lots/{code}?said=strained"
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)


def _strain(jar: Jar, under_way: JarUnderWay, form: StrainForm, store: Session, shelf: Shelf) -> str:
    """Note the weighings and keep the lot; return its code."""
    with in_field("on"):
        on = day_of(form.on, "day", earliest=jar.begun_on, latest=today()) or today()
    try:
        how = Straining(form.how)
    except ValueError as error:
        raise FieldError("how", f"“{form.how}” is none of {', '.join(Straining)}.") from error
    out = _grams(form.out, "out")
    if not out:
        raise FieldError("out", "How much oil came out? Weigh it, in grams.")
    marc, dregs = _grams(form.marc, "marc"), _grams(form.dregs, "dregs")
    with in_field("price"):
        price = number_of(form.price, "price", most=MOST_PRICE) if form.price.strip() else None
    code = form.code.strip()
    if f"lot:{code}" in shelf.facts.ingredients:
        raise FieldError("code", f"A lot “{code}” stands on the shelf already; give this one another code.")

    weighed = Weighed(on, how, out=out, marc=marc, dregs=dregs)
    plain = Lot(code, "", price=price, currency=form.currency.strip().upper(), place=form.place.strip(), note=jar.name)
    strain_jar(store, jar, under_way, weighed, plain)
    return code


def _grams(text: str, field: str) -> float | None:
    if not text.strip():
        return None
    with in_field(field):
        grams = number_of(text, "weight in grams", most=MOST_GRAMS)
        if grams < 0:
            raise QuantityError(f"{text} g is below nothing; 0 to {MOST_GRAMS:,.0f} can be.")
        return grams
