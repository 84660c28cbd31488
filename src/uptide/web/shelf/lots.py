"""Lots: what stands on the own shelf, how far it has turned, what its certificate says."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any

from fastapi import APIRouter, File, Form, Request, Response, UploadFile
from fastapi.responses import HTMLResponse, PlainTextResponse, RedirectResponse
from sqlalchemy.orm import Session

from uptide.core.errors import QuantityError, UptideError
from uptide.core.ingredients.certificate import Certificate, acids_problem, looks_like, outliers
from uptide.core.ingredients.grade import GRADES
from uptide.core.ledger.movement import MovementKind, grams
from uptide.core.lipids.pasted import FIGURES, PastedTable, read_pasted
from uptide.core.months import say_day
from uptide.formats.certificate_file import certificate_text
from uptide.formats.lots_csv import write_certificates, write_lots, write_own_oils
from uptide.formats.xlsx import text_of
from uptide.store.blends import load_blend, load_version
from uptide.store.ledger import MovementEntry, left_mg, lot_number, movements_of, take
from uptide.store.preferences import led_to, remember_form
from uptide.store.shelf import (
    add_certificate,
    all_lots,
    list_certificates,
    load_lot,
    next_code,
    own_oil_entries,
    remove_certificate,
    save_lot,
    shelf_changed,
)
from uptide.web.base.dependencies import Facts, Measures, OnShelf, Store
from uptide.web.base.forms import LONGEST_TEXT, FieldError, TokenForm, day_of, errors_of
from uptide.web.base.meanwhile import merged, opened
from uptide.web.base.pages import number, render
from uptide.web.base.security import check_token, said_of, sending, signed
from uptide.web.drawing.view import View
from uptide.web.shelf.infused import (
    next_from,
    parentage,
)
from uptide.web.shelf.lot_form import LotForm, draw_lot_form, form_of, lot_of, refuse_unsettled
from uptide.web.shelf.oils import oil_page
from uptide.web.views.lots import lot_words
from uptide.workshop.assessment import assess_here
from uptide.workshop.clock import today
from uptide.workshop.lots import bring_in
from uptide.workshop.shelf import Shelf, StandingLot, lot_name
from uptide.workshop.trace import held_lots, went_into

router = APIRouter(prefix="/shelf/lots", include_in_schema=False)

LARGEST_FILE = 5_000_000  # bytes of a CSV that is brought in: reading stays short
MOVED = {
    MovementKind.RECEIVE: "came",
    MovementKind.USE: "used",
    MovementKind.ADJUST: "put right",
    MovementKind.DISCARD: "thrown out",
    MovementKind.MAKE: "made",
    MovementKind.RETURN: "put back",
}
USED, DISCARDED, COUNTED, RETURNED = "used", "thrown out", "left, as counted", "put back"
WHAT = (USED, DISCARDED, COUNTED, RETURNED)  # what moves by hand
SAID = {
    "kept": "Kept.",
    "strained": "Strained. It can be used in any blend now, and its cautions and words go with it.",
    "read": "The certificate counts from now on wherever this lot is used.",
    "out": "Taken out of the account.",
    "moved": "Entered.",
    "taken-back": "Taken back; both stay in the ledger.",
}


class CertificateForm(TokenForm):
    """A certificate as it was pasted."""

    table: str = ""
    dated_on: str = ""


class MoveForm(TokenForm):
    """A movement of a lot as it was typed."""

    what: str = USED
    amount: str = ""
    on: str = ""
    reason: str = ""


class LotLineView(View):
    """A lot as a line of the list; `spent` is how much of its life is gone [%]."""

    code: str
    key: str
    name: str
    words: str
    ends: str
    spent: float | None
    over: bool
    soon: bool
    supplier: str
    opened: str
    left: str
    price: str
    place: str
    certified: bool


@router.get("")
def list_all(request: Request, store: Store, shelf: OnShelf, said: str = "") -> HTMLResponse:
    """List the lots on hand, the first to end on top, and below them what is used up."""
    return render(
        request,
        "shelf/lots.html",
        **_list_of(store, shelf),
        said=SAID.get(said) or said_of(request, said),
        problem="",
    )


def _list_of(store: Session, shelf: Shelf) -> dict[str, Any]:
    """What the list of lots shows: those on hand, those used up, and those of which nobody knows what they are."""
    held = held_lots(store, shelf)
    return {
        "lots": [_line(each, held) for each in shelf.standing],
        "used_up": shelf.used_up,
        "lost": shelf.lost,
        "facts": shelf.facts,
        "lot_name": lot_name,
        "count": len(shelf.standing),
    }


def _line(each: StandingLot, held: Mapping[str, str]) -> LotLineView:
    lot, life = each.lot, each.life
    price = lot.price_per_100g
    return LotLineView(
        code=lot.code,
        key=each.item.key,
        name=each.item.name.removesuffix(f", lot {lot.code}"),
        words=f"{held[lot.code]}; nobody pours it" if lot.code in held else lot_words(each),
        ends=say_day(life.ends_on),
        spent=None if life.spent is None else 100 * min(1.0, max(0.0, life.spent)),
        over=life.is_over,
        soon=life.ends_soon,
        supplier=lot.supplier,
        opened=say_day(lot.opened_on),
        left=number(lot.left_g, 0),
        price="–" if price is None else f"{number(price, 2)} {lot.currency}",
        place=lot.place,
        certified=not lot.certificate.is_empty,
    )


@router.get(".csv")
def lots_out(store: Store) -> PlainTextResponse:
    """All lots as CSV."""
    return _download("lots.csv", write_lots(all_lots(store)))


@router.get("/certificates.csv")
def certificates_out(store: Store) -> PlainTextResponse:
    """All certificates that count as CSV, each with the table it was read from."""
    found = [
        (lot.code, entry.certificate, entry.typed)
        for lot in all_lots(store)
        for entry in reversed(list_certificates(store, lot.code))
    ]
    return _download("certificates.csv", write_certificates(found))


@router.get("/own-oils.csv")
def own_oils_out(store: Store) -> PlainTextResponse:
    """All oils of one's own as CSV."""
    return _download("own-oils.csv", write_own_oils(own_oil_entries(store)))


def _download(name: str, text: str) -> PlainTextResponse:
    return PlainTextResponse(
        text, media_type="text/csv; charset=utf-8", headers={"content-disposition": f'attachment; filename="{name}"'}
    )


@router.post("/bring-in")
def bring_file_in(
    request: Request, store: Store, shelf: OnShelf, token: Annotated[str, Form()], file: Annotated[UploadFile, File()]
) -> Response:
    """Bring a CSV of lots, certificates or own oils in; a file with a bad row changes nothing."""
    check_token(request, token)
    raw = file.file.read(LARGEST_FILE + 1)
    try:
        if len(raw) > LARGEST_FILE:
            raise UptideError(f"The file is larger than {LARGEST_FILE // 1000} kB; split it.")  # noqa: TRY301
        with store.begin_nested():
            name = file.filename or "the file"
            said = bring_in(name, text_of(name, raw), shelf.facts, store)
    except UptideError as error:
        return render(request, "shelf/lots.html", 422, **_list_of(store, shelf), problem=str(error))
    return RedirectResponse(f"/shelf/lots?said={signed(request, said)}", 303)


@router.get("/new")
def new_lot(
    request: Request, store: Store, shelf: OnShelf, of: str = "", blend: int | None = None, version: int | None = None
) -> HTMLResponse:
    """Show the form for a new lot: of an oil, or of a version of a blend that was made."""
    form = LotForm(
        ingredient=shelf.facts.ingredients[of].name if of in shelf.facts.ingredients else of,
        code=next_code([lot.code for lot in all_lots(store)]),
        received_on=today().isoformat(),
    )
    if blend is not None and version is not None:
        made = assess_here(load_version(store, blend, version).recipe, shelf.facts, store)
        amount = f"{made.resolution.total_grams:.0f}"
        made_of = {"blend": blend, "version": version, "ingredient": load_blend(store, blend).name}
        form = form.model_copy(update=made_of | {"bought_g": amount, "left_g": amount})
    return draw_lot_form(request, form, shelf, "")


@router.post("")
def keep_lot(
    request: Request, form: Annotated[LotForm, Form()], store: Store, shelf: OnShelf, habits: Measures
) -> Response:
    """Keep a lot, new or changed; a form sent twice is one lot."""
    sent = sending(request, form)
    target = led_to(store, sent)
    if target is None:
        try:
            known = load_lot(store, form.known) if form.known else None
            lot = lot_of(form, shelf, habits, known)
            if known is not None:
                mine = form_of(lot, store, shelf).model_copy(update={"seen": form.seen})
                mine, both = merged(mine, form_of(known, store, shelf))
                if both:
                    return draw_lot_form(request, mine, shelf, "", both=both)
                lot = lot_of(mine, shelf, habits, known)
            if lot.made_from is not None:
                refuse_unsettled(load_version(store, *lot.made_from).recipe, shelf)
            if not form.known and lot.key in shelf.facts.ingredients:
                raise FieldError("code", f"A lot “{lot.code}” stands on the shelf already; give this one another code.")
            with store.begin_nested():
                save_lot(store, lot)
        except UptideError as error:
            return draw_lot_form(request, form, shelf, str(error), errors=errors_of(error))
        target = f"/shelf/lots/{lot.code}?said=kept"
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)


@router.get("/{code}")
def show_lot(request: Request, code: str, store: Store, shelf: OnShelf, said: str = "") -> HTMLResponse:
    """Show one lot: how far it has turned, what its certificate says, and the oil as this lot has it."""
    return draw_lot(request, code, store, shelf, said=SAID.get(said, ""))


def draw_lot(
    request: Request,
    code: str,
    store: Session,
    shelf: Shelf,
    *,
    said: str = "",
    problem: str = "",
    table: str = "",
    dated_on: str = "",
    read: PastedTable | None = None,
    moving: MoveForm | None = None,
    error: UptideError | None = None,
) -> HTMLResponse:
    """Draw the page of a lot, with what was typed and could not be read."""
    lot = load_lot(store, code)
    if lot.key not in shelf.facts.ingredients:
        lost = f"Nobody knows any more what “{lot.ingredient}” is; name its oil afresh, and nothing else is lost."
        return draw_lot_form(request, form_of(lot, store, shelf), shelf, lost, 200)
    item = shelf.facts.ingredient(lot.key)
    base = shelf.facts.ingredients.get(item.base_key) if item.base_key != item.key else None
    standing = next((each for each in shelf.standing if each.lot.code == code), None)
    held = held_lots(store, shelf)
    certificate = lot.certificate
    found = outliers(certificate, base) if base is not None and not lot.made_from else ()
    other = looks_like(certificate, base, shelf.facts.ingredients.values()) if base and not lot.made_from else None
    blend = load_blend(store, lot.made_from[0]).name if lot.made_from else ""
    read = read or PastedTable()
    return render(
        request,
        "shelf/lot.html",
        422 if problem or error else 200,
        lot=lot,
        moved=[_moved(entry) for entry in movements_of(store, code)],
        went=[(each.number, f"{each.grams:.2f} g, {100 * each.share:.1f} % of it") for each in went_into(store, code)],
        move_options=[(each, each) for each in WHAT],
        moving=moving or MoveForm(on=today().isoformat()),
        errors=errors_of(error),
        today=today(),
        oil=oil_page(item, shelf),
        base=base,
        grade=GRADES[lot.grade].name if lot.grade in GRADES else "",
        blend=blend,
        parentage=parentage(lot, item, shelf.facts),
        price_per_100ml=None if lot.price_per_100g is None else lot.price_per_100g * item.density,
        next_from=next_from(lot.code) if lot.infusion else (),
        state=lot_words(standing) if standing else "used up",
        standing=_line(standing, held) if standing else None,
        held=held.get(lot.code, ""),
        life=standing.life if standing else None,
        certificates=list_certificates(store, code),
        figure_titles={key: f"{figure.title} {{}} {figure.unit}".strip() for key, figure in FIGURES.items()},
        outliers=[
            _outlier_words(o.title, o.found, beyond=o.beyond, low=o.low, high=o.high, unit=o.unit, oil=base.name)
            for o in found
        ]
        if base
        else [],
        unusable=acids_problem(certificate, base, shelf.facts.acids) if base and not lot.made_from else "",
        looks_like=f"It is more like {other[0].name} than {base.name}: is it one?" if other and base else "",
        read=read,
        acids=[(shelf.facts.acids[acid], amount) for acid, amount in read.acids.items()],
        acid_names={acid: a.common_name for acid, a in shelf.facts.acids.items()},
        table=table,
        dated_on=dated_on,
        problem=problem,
        said=said,
        count=len(shelf.standing),
    )


class MovedView(View):
    """A movement in the words of the page."""

    id: int
    on: str
    amount: str
    words: str
    struck: bool
    can_be_taken_back: bool


def _moved(entry: MovementEntry) -> MovedView:
    movement = entry.movement
    return MovedView(
        id=entry.id,
        on=say_day(entry.on),
        amount=f"{grams(movement.mg):+.2f} g",
        words=", ".join(filter(None, [MOVED[movement.kind], movement.reason, entry.by])),
        struck=entry.taken_back,
        can_be_taken_back=entry.reverses is None and movement.kind is not MovementKind.RECEIVE and not entry.elsewhere,
    )


def _outlier_words(title: str, found: float, beyond: float, low: float, high: float, unit: str, oil: str) -> str:
    side = "above" if beyond > 0 else "below"
    return (
        f"{title} {number(found)}: {number(abs(beyond))} {'points' if unit.startswith('%') else unit} {side} the "
        f"published range for {oil}, {number(low)} to {number(high)}."
    )


@router.get("/{code}/edit")
def edit_lot(request: Request, code: str, store: Store, shelf: OnShelf) -> HTMLResponse:
    """Show the form with what is known of a lot."""
    return draw_lot_form(request, opened(form_of(load_lot(store, code), store, shelf)), shelf, "")


@router.post("/{code}/certificates")
def add(
    request: Request, code: str, form: Annotated[CertificateForm, Form()], store: Store, facts: Facts, shelf: OnShelf
) -> Response:
    """Read a certificate and let it count for this lot; what was not read is said, and nothing pasted is lost."""
    sent = sending(request, form)
    target = led_to(store, sent)
    if target is not None:
        return RedirectResponse(target, 303)
    lot = load_lot(store, code)
    read = read_pasted(form.table[:LONGEST_TEXT], facts.acids, facts.safety.constituent_names)
    try:
        dated = day_of(form.dated_on, "day") or read.dated_on
        certificate = Certificate(dated, read.acids, read.figures, read.constituents)
        problem = "Nothing in it was read: give acids or figures, one to a line." if certificate.is_empty else ""
        base = facts.ingredients.get(lot.ingredient)
        problem = problem or (acids_problem(certificate, base, facts.acids) if base is not None else "")
    except QuantityError as error:
        problem = str(error)
    if problem:
        return draw_lot(
            request, code, store, shelf, problem=problem, table=form.table, dated_on=form.dated_on, read=read
        )
    add_certificate(store, code, certificate, form.table)
    target = f"/shelf/lots/{code}?said=read"
    remember_form(store, sent, target)
    return RedirectResponse(target, 303)


@router.post("/{code}/certificates/file")
def look_at_file(
    request: Request,
    code: str,
    store: Store,
    shelf: OnShelf,
    token: Annotated[str, Form()],
    file: Annotated[UploadFile, File()],
) -> HTMLResponse:
    """Show what a laboratory's file says, and what of it is understood; nothing counts before it was looked at."""
    check_token(request, token)
    raw = file.file.read(LARGEST_FILE + 1)
    try:
        if len(raw) > LARGEST_FILE:
            raise UptideError(f"The file is larger than {LARGEST_FILE // 1000} kB.")  # noqa: TRY301
        text = certificate_text(file.filename or "the file", raw)[:LONGEST_TEXT]
    except UptideError as error:
        return draw_lot(request, code, store, shelf, problem=str(error))
    read = read_pasted(text, shelf.facts.acids, shelf.facts.safety.constituent_names)
    dated = read.dated_on.isoformat() if read.dated_on else ""
    return draw_lot(request, code, store, shelf, table=text, dated_on=dated, read=read)


@router.post("/{code}/certificates/{certificate_id}/remove")
def take_out(
    request: Request, code: str, certificate_id: int, form: Annotated[TokenForm, Form()], store: Store
) -> Response:
    """Take a certificate out of the account."""
    check_token(request, form.token)
    remove_certificate(store, code, certificate_id)
    return RedirectResponse(f"/shelf/lots/{code}?said=out", 303)


@router.post("/{code}/used-up")
def use_up(request: Request, code: str, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Say that nothing of a lot is left; it stays known to the blends that name it."""
    check_token(request, form.token)
    left = left_mg(store, lot_number(store, code))
    if left > 0:
        take(store, code, left, "used up")
        shelf_changed(store)
    return RedirectResponse("/shelf/lots", 303)
