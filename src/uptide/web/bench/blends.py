"""The room of blends: the bench, its versions, and what is printed from it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from types import MappingProxyType
from typing import Annotated, TypeVar

from fastapi import APIRouter, Depends, Form, Query, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.assessment.compare import compare
from uptide.core.assessment.verdicts import sentence
from uptide.core.errors import UptideError
from uptide.core.finder.aims import AIMS
from uptide.core.finder.reformulate import Pantry, Variant, reformulate
from uptide.core.keeping.sensitivities import Sensitivity, sensitivities
from uptide.core.keeping.shelf_life import ShelfLife
from uptide.core.keeping.storage_history import EVENT_KINDS, IN_WATER, history_of
from uptide.core.measures.habits import Habits
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.oxidation.surroundings import PLACES
from uptide.core.recipe.recipe import Recipe
from uptide.core.skin.wearer import Wearer
from uptide.store.blends import (
    archive_blend,
    create_blend,
    list_blends,
    load_blend,
    load_version,
    rename_blend,
    save_version,
)
from uptide.store.bottles import list_events
from uptide.store.people import names_of_people, wearer_of
from uptide.store.preferences import led_to, remember_form, save_habits
from uptide.store.reading import unread_words
from uptide.store.records import Blend, BlendNameError, BottleEvent, Version
from uptide.web.base.dependencies import Facts, Measures, Store
from uptide.web.base.forms import LONGEST_TEXT, TokenForm
from uptide.web.base.pages import render
from uptide.web.base.security import check_token, sending
from uptide.web.bench.begin import begin_view
from uptide.web.bench.form import Sheet, SheetForm, apply, read_sheet, remembered, sheet_form
from uptide.web.drawing.ribbon import draw_ribbon
from uptide.web.drawing.tide import TideView, tide_view
from uptide.web.views.bottled import BottledView, bottled_view
from uptide.web.views.figures import figure_view
from uptide.web.views.fit import FitView, VariantView, fit_view, variant_view, whom_of
from uptide.web.views.picture import chosen_picture, picture_view
from uptide.web.views.sheet import row_view, sheet_view
from uptide.web.views.verdicts import verdict_views
from uptide.workshop.assessment import assess_here
from uptide.workshop.clock import today

router = APIRouter(tags=["blends"], include_in_schema=False)

TYPED_FIELDS = ("celsius", "ml_a_use", "uses_a_week", "headspace", "placed_on")
WHOLE_PAGE = "bench/bench.html"
BOTTLES_KEPT = 64
PRINTS = ("batch-sheet", "label")
SUBSTITUTE = "sunflower-high-oleic"  # plain, light and stable: what a weak oil is swapped for

CheckedSheet = Annotated[SheetForm, Depends(sheet_form)]


@router.get("/blends")
def list_all(request: Request, store: Store, facts: Facts) -> HTMLResponse:
    """List all blends, those put away below."""
    return render(
        request,
        "bench/list.html",
        blends=list_blends(store),
        archived=list_blends(store, archived=True),
        products=facts.products,
    )


@router.get("/blends/new")
def new_blend(
    request: Request, store: Store, facts: Facts, habits: Measures,
    recipe: Annotated[str, Query(max_length=LONGEST_TEXT)] = "", wearer: str = "", product: str = "body-oil",
    name: Annotated[str, Query(max_length=200)] = "",
) -> HTMLResponse:  # fmt: skip
    """Show an empty sheet, or one that starts with a recipe, a wearer, a product and a name given in the address."""
    made = facts.product(product or "body-oil")
    form = SheetForm(new=recipe, container_kind=made.container, product=made.key, wearer=wearer[:12], name=name)
    sheet = read_sheet(form, habits, facts)
    return _bench(
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


def show_saved(
    request: Request,
    blend: Blend,
    number: int,
    store: Session,
    facts: Catalogue,
    habits: Habits,
    *,
    said: str = "",
    add: str = "",
    noting: object | None = None,
    noting_problem: str = "",
) -> HTMLResponse:
    """Draw a saved version; `noting` is a note about its bottle that was refused, with what is wrong with it."""
    version, blend_id = load_version(store, blend.id, number), blend.id
    unread = dict(version.unread)
    if version.recipe.product not in facts.products:
        unread["product"] = unread_words(version.recipe.product)
    texts = _texts(blend.name, version.note)
    assessment = assess_here(version.recipe, facts, store, blend_id, texts, events=())
    return _draw(
        request,
        Drawn(assessment, blend, facts, store),
        WHOLE_PAGE,
        422 if noting_problem else 200,
        sheet=sheet_view(assessment, facts, blend.name, blend_id, number, archived=blend.archived),
        noting=noting,
        noting_problem=noting_problem,
        at_bottle=said in ("noted", "unnoted"),
        said=SAID.get(said, "").format(number=number),
        stored=said in ("saved", "same"),
        new_text=add,
        errors=unread,
        problem=" ".join(f"{field.replace('_', ' ')}: {words}" for field, words in unread.items()),
        measures="saved",
        measures_differ=version.recipe.habits != habits,
        tide=tide_view(assessment, (), today()),
        fit=fit_view(assessment, facts, names_of_people(store)),
        shown=picture_view(chosen_picture(request), assessment, facts),
    )


@dataclass(frozen=True, slots=True)
class Drawn:
    """What a sheet is drawn from: its assessment, the blend it belongs to, and where those are known."""

    assessment: Assessment
    blend: Blend | None
    facts: Catalogue
    store: Session


def _draw(
    request: Request, drawn: Drawn, template: str, status: int, *, opened: Sequence[str] = (), **context: object
) -> HTMLResponse:
    """Draw a sheet, whole or in part; `context` is laid over what a sheet has when nothing is said of it."""
    events = list_events(drawn.store, drawn.blend.id) if drawn.blend and template == WHOLE_PAGE else ()
    plain: dict[str, object] = {
        "blend": drawn.blend,
        "bottled": _bottled(request, drawn, events) if events else None,
        "at_bottle": False,
        "noting": None,
        "noting_problem": "",
        "conflict": None,
        "stored": False,
        "refused": False,
        "name_error": None,
        "new_text": "",
        "extra": (),
        "note": "",
        "begin": begin_view(drawn.store, is_begun=bool(drawn.assessment.rows)),
        "variant": None,
        "sensitivities": None,
        "kinds": EVENT_KINDS,
        "in_water": IN_WATER,
        "places": tuple(PLACES),
        "today": today(),
        "fold_open": lambda name: name in opened,
        "is_drawn": lambda name: template == WHOLE_PAGE or name in opened,
    }
    return render(request, template, status, **(plain | context))


def _bottled(request: Request, drawn: Drawn, events: Sequence[BottleEvent]) -> BottledView | None:
    """How a bottle fares that was made of the newest version: what befell it counts there, and nowhere else.

    Worked out once for what is noted, and for the shelf as it stands.
    """
    blend = drawn.blend
    if blend is None:
        raise UptideError("A blend that was never saved has no bottle.")
    known: dict[object, BottledView | None] = request.app.state.bottles
    key = (blend.id, blend.newest.number, tuple(event.id for event in events), today(), id(drawn.facts))
    if key not in known:
        if len(known) >= BOTTLES_KEPT:
            known.clear()
        found = assess_here(blend.newest.recipe, drawn.facts, drawn.store, blend.id, events=events)
        known[key] = bottled_view(tide_view(found, events, today()))
    return known[key]


SAID = {
    "saved": "Saved as version {number}.",
    "same": "Nothing changed since version {number}; no new version was made.",
    "renamed": "Renamed.",
    "archived": "Put away. It is still in the list of blends, below.",
    "restored": "Taken out again.",
    "noted": "Noted.",
    "unnoted": "Taken out of the account.",
    "copied": "This is a copy; the blend it came from is unchanged.",
}


def _bench(
    request: Request,
    form: SheetForm,
    recipe: Recipe,
    facts: Catalogue,
    store: Session,
    habits: Habits,
    *,
    template: str = WHOLE_PAGE,
    typed_rows: int | None = None,
    left_over: str = "",
    refused: bool = False,
    conflict: Version | None = None,
    name_error: str | None = None,
    errors: Mapping[str, str] = MappingProxyType({}),
    problem: str = "",
) -> HTMLResponse:
    """Draw the sheet, whole or in part, from what its form holds."""
    texts = _texts(form.name, form.note)
    assessment = assess_here(recipe, facts, store, form.blend_id, texts, events=())
    people = names_of_people(store)
    sheet = sheet_view(assessment, facts, form.name, form.blend_id, form.version)
    blend = load_blend(store, form.blend_id) if form.blend_id else None
    if "container_ml" in errors:
        sheet = sheet.model_copy(update={"container_ml": form.container_ml})
    baseline = _baseline(request, blend, facts, store) if blend else None
    shown = len(sheet.reading.rows) if typed_rows is None else typed_rows
    rows = sheet.reading.rows
    sheet = sheet.model_copy(
        update={
            "container_kind": form.container_kind or sheet.container_kind,
            "archived": blend.archived if blend else False,
            "reading": sheet.reading.model_copy(update={"rows": rows[:shown]}),
        }
    )
    return _draw(
        request,
        Drawn(assessment, blend, facts, store),
        template,
        422 if name_error or refused else 409 if conflict else 200,
        opened=(
            *form.open,
            *(["keeping"] if set(errors) & set(TYPED_FIELDS) else []),
            *(["keeping"] if form.op == "sensitivities" else []),
        ),
        refused=bool(name_error or refused or conflict),
        conflict=conflict,
        sheet=sheet,
        name_error=name_error,
        errors=errors,
        problem=problem,
        measures=form.measures,
        measures_differ=form.measures == "saved" and recipe.habits != habits,
        new_text=form.new if typed_rows is not None else left_over,
        extra=rows[shown:],
        note=form.note,
        tide=_as_typed(tide_view(assessment, (), today(), baseline), form, errors),
        fit=_as_typed(fit_view(assessment, facts, people), form, errors),
        shown=picture_view(chosen_picture(request, form.picture), assessment, facts),
        variant=_variant(form, recipe, facts, store, whom_of(people, recipe.wearer)),
        sensitivities=_sensitivities(assessment, facts) if form.op == "sensitivities" else None,
    )


Typed = TypeVar("Typed", TideView, FitView, "TideView | None")


def _as_typed(view: Typed, form: SheetForm, errors: Mapping[str, str]) -> Typed:
    """A view in which a field that could not be read shows what was typed in it, and not what is worked with."""
    if view is None:
        return view
    names = {"celsius": "own_celsius"}
    typed = {names.get(field, field): getattr(form, field) for field in errors if field in TYPED_FIELDS}
    return view.model_copy(update={name: text for name, text in typed.items() if name in type(view).model_fields})


def _texts(name: str, note: str) -> dict[str, str]:
    """What is read for claims, by where it stands."""
    return {where: text for where, text in (("name", name), ("note", note)) if text.strip()}


def _reformulated(key: str, recipe: Recipe, facts: Catalogue, store: Session) -> Variant:
    """A blend made over for an aim, checked as the bench checks it but for how it keeps."""
    if key not in AIMS:
        raise UptideError(f"A blend is not made over for “{key}”; known are {', '.join(AIMS)}.")

    def look(tried: Recipe, wearer: Wearer) -> Assessment:
        usage = facts.usage_context(tried, today(), wearer)
        return assess(tried, facts.ingredients, facts.names, usage=usage)

    pantry = Pantry(facts.ingredients, facts.names, facts.safety, today(), facts.on_hand)
    return reformulate(AIMS[key], recipe, wearer_of(store, recipe.wearer), pantry, look)


def _variant(form: SheetForm, recipe: Recipe, facts: Catalogue, store: Session, whom: str) -> VariantView | None:
    op, _, key = form.op.partition(":")
    return variant_view(_reformulated(key, recipe, facts, store), facts, whom) if op == "reformulate" else None


def _baseline(request: Request, blend: Blend, facts: Catalogue, store: Session) -> ShelfLife | None:
    """How the newest saved version keeps: the pinned line behind the one that is being changed; worked out once."""
    known: dict[tuple[int, int, date], ShelfLife | None] = request.app.state.baselines
    key = (blend.id, blend.newest.number, today())
    if key not in known:
        known.clear()
        known[key] = assess_here(blend.newest.recipe, facts, store, blend.id, events=()).shelf_life
    return known[key]


def _sensitivities(assessment: Assessment, facts: Catalogue) -> tuple[Sensitivity, ...]:
    read = assessment.resolution.parts
    history = history_of((), assessment.recipe.storage, today())
    return sensitivities(read, assessment.recipe.storage, standard_draws(), history, facts.ingredients[SUBSTITUTE])


def _habits_of(form: SheetForm, store: Session, habits: Habits) -> Habits:
    """The measures a sheet is read with: those it was saved with, until the person asks for those of today."""
    if form.measures == "saved" and form.blend_id and form.version and form.op != "measures":
        return load_version(store, form.blend_id, form.version).recipe.habits
    return habits


@router.post("/sheet")
def work_sheet(request: Request, form: CheckedSheet, store: Store, facts: Facts, habits: Measures) -> HTMLResponse:
    """Read the sheet again: as one types (only the reading is drawn), or after a button (the rows too)."""
    sheet = read_sheet(form, _habits_of(form, store, habits), facts)
    if form.op == "measures":
        form = form.model_copy(update={"measures": "today"})
    fragment = request.headers.get("x-sheet") == "fragment"
    if not form.op and fragment:
        return _bench(
            request, form, sheet.recipe, facts, store, habits, template="bench/_reading.html",
            typed_rows=sheet.typed_rows, errors=sheet.errors,
        )  # fmt: skip
    op, _, key = form.op.partition(":")
    if op == "take":
        recipe, refused = _reformulated(key, sheet.recipe, facts, store).recipe, ""
    else:
        recipe, refused = apply(form.op, form, sheet, facts)
    learnt = remembered(form, form.op, recipe, habits)
    if learnt != habits:
        save_habits(store, learnt)
    return _bench(
        request, form, recipe, facts, store, habits,
        template="bench/_sheet.html" if fragment else WHOLE_PAGE,
        errors=sheet.errors, problem=refused, left_over=sheet.left_over,
    )  # fmt: skip


def _not_saved(
    request: Request, form: SheetForm, sheet: Sheet, facts: Catalogue, store: Session, habits: Habits
) -> HTMLResponse:
    """Say no rather than store something else: the sheet as it was typed, with what is wrong beside its field."""
    return _bench(
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
    sheet = read_sheet(form, habits, facts)
    if sheet.errors:
        return _not_saved(request, form, sheet, facts, store, habits)
    try:
        blend_id = create_blend(store, form.name, sheet.recipe, form.note)
    except BlendNameError as error:
        return _bench(
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
    sheet = read_sheet(form, _habits_of(form, store, habits), facts)
    if sheet.errors:
        return _not_saved(request, form, sheet, facts, store, habits)
    newest = load_blend(store, blend_id).newest
    before = newest.number
    if form.seen and form.seen != before and newest.recipe != sheet.recipe:
        return _bench(
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
        return _bench(
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
    sheet = read_sheet(form, _habits_of(form, store, habits), facts)
    try:
        rename_blend(store, blend_id, form.name)
    except BlendNameError as error:
        return _bench(request, form, sheet.recipe, facts, store, habits, name_error=str(error))
    # What was typed and not yet saved stays on the sheet.
    return _bench(request, form, sheet.recipe, facts, store, habits, problem=SAID["renamed"])


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
