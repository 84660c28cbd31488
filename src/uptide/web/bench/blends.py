"""The room of blends: the bench, its versions, and what is printed from it."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Form, Query, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.compare import compare
from uptide.core.assessment.verdicts import sentence
from uptide.core.measures.habits import Habits
from uptide.core.measures.names import normalise
from uptide.core.skin.whom import LONGEST_WHOM
from uptide.store.blends import (
    archive_blend,
    create_blend,
    list_blends,
    load_blend,
    load_version,
    rename_blend,
    save_version,
)
from uptide.store.people import names_of_people
from uptide.store.preferences import led_to, remember_form, save_habits
from uptide.store.records import BlendHeader, BlendNameError
from uptide.web.base.dependencies import Facts, Measures, Store
from uptide.web.base.forms import LONGEST_TEXT, TokenForm
from uptide.web.base.pages import render
from uptide.web.base.security import check_token, sending
from uptide.web.bench.form import Sheet, SheetForm, apply, read_sheet, remembered, sheet_form
from uptide.web.bench.page import SAID, WHOLE_PAGE, draw_sheet, reformulated, show_saved
from uptide.web.drawing.ribbon import draw_ribbon
from uptide.web.drawing.tide import tide_view
from uptide.web.views.figures import figure_view
from uptide.web.views.sheet import row_view
from uptide.web.views.verdicts import verdict_views
from uptide.workshop.assessment import assess_here
from uptide.workshop.clock import today

router = APIRouter(tags=["blends"], include_in_schema=False)
PRINTS = ("batch-sheet", "label", "make")

CheckedSheet = Annotated[SheetForm, Depends(sheet_form)]


@router.get("/blends")
def list_all(
    request: Request, store: Store, facts: Facts, q: Annotated[str, Query(max_length=LONGEST_TEXT)] = ""
) -> HTMLResponse:
    """List all blends, those put away below; with `q`, those in whose name or rows all of its words stand."""
    return render(
        request,
        "bench/list.html",
        blends=[blend for blend in list_blends(store) if _holds(blend, q)],
        archived=[blend for blend in list_blends(store, archived=True) if _holds(blend, q)],
        looked_for=q,
        products=facts.products,
    )


def _holds(blend: BlendHeader, words: str) -> bool:
    """Whether all words stand in a blend’s name or in what was typed."""
    text = normalise(" ".join((blend.name, *blend.rows)))
    return all(word in text for word in normalise(words).split())


@router.get("/blends/new")
def new_blend(
    request: Request,
    store: Store,
    facts: Facts,
    habits: Measures,
    recipe: Annotated[str, Query(max_length=LONGEST_TEXT)] = "",
    wearer: Annotated[str, Query(max_length=LONGEST_WHOM)] = "",
    product: str = "body-oil",
    name: Annotated[str, Query(max_length=200)] = "",
) -> HTMLResponse:
    """Show an empty sheet, or one that starts with a recipe, a wearer, a product and a name given in the address."""
    made = facts.product(product or "body-oil")
    form = SheetForm(new=recipe, container_kind=made.container, product=made.key, wearer=wearer, name=name)
    sheet = read_sheet(form, habits, facts, _people(form, store))
    return draw_sheet(
        request,
        form.model_copy(update={"new": sheet.left_over}),
        sheet.recipe,
        facts,
        store,
        habits,
        errors=sheet.errors,
        left_over=sheet.left_over,
    )


@router.get("/blends/{blend_id}")
def show_blend(
    request: Request,
    blend_id: int,
    store: Store,
    facts: Facts,
    habits: Measures,
    said: str = "",
    add: Annotated[str, Query(max_length=LONGEST_TEXT)] = "",
) -> HTMLResponse:
    """Show a blend’s newest version on the bench; `add` is a row that stands in the line for new ones."""
    blend = load_blend(store, blend_id)
    return show_saved(request, blend, blend.newest.number, store, facts, habits, said=said, add=add)


@router.get("/blends/{blend_id}/versions/{number}")
def show_version(
    request: Request, blend_id: int, number: int, store: Store, facts: Facts, habits: Measures, said: str = ""
) -> HTMLResponse:
    """Show one version on the bench; saving it makes it the newest."""
    load_version(store, blend_id, number)
    return show_saved(request, load_blend(store, blend_id), number, store, facts, habits, said=said)


def _people(form: SheetForm, store: Session) -> dict[str, int]:
    """The numbers of the cards by name, where new rows may say for whom they are."""
    return {name: number for number, name in names_of_people(store)} if form.new.strip() else {}


def _habits_of(form: SheetForm, store: Session, habits: Habits) -> Habits:
    """The measures a sheet is read with: those it was saved with, until the person asks for those of today."""
    if form.measures == "saved" and form.blend_id and form.version and form.op != "measures":
        return load_version(store, form.blend_id, form.version).recipe.habits
    return habits


@router.post("/sheet")
def work_sheet(request: Request, form: CheckedSheet, store: Store, facts: Facts, habits: Measures) -> HTMLResponse:
    """Read the sheet again: as one types (only the reading is drawn), or after a button (the rows too)."""
    sheet = read_sheet(form, _habits_of(form, store, habits), facts, _people(form, store))
    if form.op == "measures":
        form = form.model_copy(update={"measures": "today"})
    fragment = request.headers.get("x-sheet") == "fragment"
    if not form.op and fragment:
        return draw_sheet(
            request,
            form,
            sheet.recipe,
            facts,
            store,
            habits,
            template="bench/_reading.html",
            typed_rows=sheet.typed_rows,
            errors=sheet.errors,
        )
    op, _, key = form.op.partition(":")
    if op == "take":
        recipe, refused = reformulated(key, sheet.recipe, facts, store).recipe, ""
    else:
        recipe, refused = apply(form.op, form, sheet, facts)
    learnt = remembered(form, sheet, facts, habits)
    if learnt != habits:
        save_habits(store, learnt)
    return draw_sheet(
        request,
        form,
        recipe,
        facts,
        store,
        habits,
        template="bench/_sheet.html" if fragment else WHOLE_PAGE,
        chooses_whom=sheet.is_whom_typed,
        errors=sheet.errors,
        problem=refused,
        left_over=sheet.left_over,
    )


def _not_saved(
    request: Request, form: SheetForm, sheet: Sheet, facts: Catalogue, store: Session, habits: Habits
) -> HTMLResponse:
    """Say no rather than store something else: the sheet as it was typed, with what is wrong beside its field."""
    return draw_sheet(
        request,
        form,
        sheet.recipe,
        facts,
        store,
        habits,
        refused=True,
        errors=sheet.errors,
        left_over=sheet.left_over,
        problem="Not saved yet: what stands in the marked fields cannot be read.",
    )


@router.post("/blends")
def create(request: Request, form: CheckedSheet, store: Store, facts: Facts, habits: Measures) -> Response:
    """Save a new blend as its version 1; a form sent twice makes one blend."""
    number = sending(request, form)
    known = led_to(store, number)
    if known:
        return RedirectResponse(known, 303)
    sheet = read_sheet(form, habits, facts, _people(form, store))
    if sheet.errors:
        return _not_saved(request, form, sheet, facts, store, habits)
    try:
        blend_id = create_blend(store, form.name, sheet.recipe, form.note)
    except BlendNameError as error:
        return draw_sheet(
            request,
            form,
            sheet.recipe,
            facts,
            store,
            habits,
            name_error=str(error),
            errors=sheet.errors,
        )
    target = _after_saving(form, blend_id, 1, "saved")
    remember_form(store, number, target)
    return RedirectResponse(target, 303)


def _after_saving(form: SheetForm, blend_id: int, version: int, said: str) -> str:
    """Where to go once it is saved: to a print of this version, or back to the bench."""
    if form.then in PRINTS:
        return f"/blends/{blend_id}/versions/{version}/{form.then}"
    return f"/blends/{blend_id}?said={said}"


@router.post("/blends/{blend_id}/versions")
def save(request: Request, blend_id: int, form: CheckedSheet, store: Store, facts: Facts, habits: Measures) -> Response:
    """Save the sheet as the next version, under the name that stands on it."""
    number = sending(request, form)
    known = led_to(store, number)
    if known:
        return RedirectResponse(known, 303)
    form = form.model_copy(update={"blend_id": blend_id})
    sheet = read_sheet(form, _habits_of(form, store, habits), facts, _people(form, store))
    if sheet.errors:
        return _not_saved(request, form, sheet, facts, store, habits)
    newest = load_blend(store, blend_id).newest
    before = newest.number
    if form.seen and form.seen != before and newest.recipe != sheet.recipe:
        return draw_sheet(
            request,
            form,
            sheet.recipe,
            facts,
            store,
            habits,
            conflict=newest,
            problem=f"Not saved yet: version {before} was saved elsewhere since you opened this one.",
        )
    try:
        if form.name != form.seen_name:  # else a name that was given elsewhere meanwhile stays
            rename_blend(store, blend_id, form.name)
    except BlendNameError as error:
        return draw_sheet(
            request,
            form,
            sheet.recipe,
            facts,
            store,
            habits,
            name_error=str(error),
            errors=sheet.errors,
        )
    saved = save_version(store, blend_id, sheet.recipe, form.note)
    target = _after_saving(form, blend_id, saved, "saved" if saved > before else "same")
    remember_form(store, number, target)
    return RedirectResponse(target, 303)


@router.post("/blends/{blend_id}/rename")
def rename(
    request: Request, blend_id: int, form: CheckedSheet, store: Store, facts: Facts, habits: Measures
) -> Response:
    """Rename a blend without saving a version; a refused name is answered beside its field."""
    form = form.model_copy(update={"blend_id": blend_id})
    sheet = read_sheet(form, _habits_of(form, store, habits), facts, _people(form, store))
    try:
        rename_blend(store, blend_id, form.name)
    except BlendNameError as error:
        return draw_sheet(request, form, sheet.recipe, facts, store, habits, name_error=str(error))
    # What was typed and not yet saved stays on the sheet.
    return draw_sheet(request, form, sheet.recipe, facts, store, habits, problem=SAID["renamed"])


@router.post("/blends/{blend_id}/duplicate")
def duplicate(request: Request, blend_id: int, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Copy a blend's newest version into a blend of its own; a form sent twice makes one copy."""
    number = sending(request, form)
    target = led_to(store, number)
    if target is None:
        blend = load_blend(store, blend_id)
        copy = create_blend(store, f"{blend.name[:100]}, copy", blend.newest.recipe, copied_from=blend_id)
        target = f"/blends/{copy}?said=copied"
        remember_form(store, number, target)
    return RedirectResponse(target, 303)


@router.post("/blends/{blend_id}/archive")
def archive(request: Request, blend_id: int, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Put a blend away."""
    check_token(request, form.token)
    archive_blend(store, blend_id, archived=True)
    return RedirectResponse(f"/blends/{blend_id}?said=archived", 303)


@router.post("/blends/{blend_id}/restore")
def restore(request: Request, blend_id: int, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Take a blend out again."""
    check_token(request, form.token)
    archive_blend(store, blend_id, archived=False)
    return RedirectResponse(f"/blends/{blend_id}?said=restored", 303)


@router.get("/blends/{blend_id}/compare")
def compare_versions(
    request: Request, blend_id: int, store: Store, facts: Facts, before: int | None = None, after: int | None = None
) -> HTMLResponse:
    """Show two versions beside each other; the last two unless others are asked for."""
    blend = load_blend(store, blend_id)
    newest = blend.newest.number
    later = load_version(store, blend_id, after or newest)
    earlier = load_version(store, blend_id, before or max(1, later.number - 1))
    was, now = (assess_here(version.recipe, facts, store) for version in (earlier, later))
    comparison = compare(was, now)
    both = zip(verdict_views(was, facts), verdict_views(now, facts), strict=False)
    rows = [
        (
            change,
            row_view(change.before, {}) if change.before else None,
            row_view(change.after, {}) if change.after else None,
        )
        for change in comparison.rows
    ]
    figures = [
        (change, figure_view(change.before, facts.sources), figure_view(change.after, facts.sources))
        for change in comparison.findings
    ]
    return render(
        request,
        "bench/compare.html",
        blend=blend,
        earlier=earlier,
        later=later,
        rows=rows,
        figures=figures,
        verdicts=[(b, a) for b, a in both if (b.word, b.beside) != (a.word, a.beside)],
        sentences=(
            sentence(was, facts.product(was.recipe.product).name),
            sentence(now, facts.product(now.recipe.product).name),
        ),
        ribbons=(draw_ribbon(was.acids, strips=False), draw_ribbon(now.acids, strips=False)),
        tide=tide_view(now, (), today(), was.shelf_life),
    )
