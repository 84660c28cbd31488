"""A sheet as a page: drawn from a saved version, or from what its form holds, whole or in the parts that changed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import TypeVar

from fastapi import Request
from fastapi.responses import HTMLResponse
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import UptideError
from uptide.core.finder.aims import AIMS
from uptide.core.finder.reformulate import Pantry, Variant, reformulate
from uptide.core.keeping.sensitivities import Sensitivity, sensitivities
from uptide.core.keeping.shelf_life import ShelfLife
from uptide.core.keeping.storage_history import history_of
from uptide.core.measures.habits import Habits
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.oxidation.surroundings import PLACES
from uptide.core.recipe.recipe import Recipe
from uptide.core.skin.wearer import ANYONE, Wearer
from uptide.store.blends import (
    load_blend,
    load_version,
)
from uptide.store.bottle_board import Wanted, board
from uptide.store.bottles import wishes_of_blend
from uptide.store.people import names_of_people
from uptide.store.reading import unread_words
from uptide.store.records import Blend, Version
from uptide.web.base.pages import render
from uptide.web.bench.begin import begin_view
from uptide.web.bench.form import SheetForm
from uptide.web.bench.stand_ins import stand_ins_view
from uptide.web.drawing.tide import TideView, tide_view
from uptide.web.views.fit import FitView, VariantView, fit_view, variant_view, whom_of
from uptide.web.views.parts import EVERY_PART, Parts
from uptide.web.views.picture import chosen_picture, picture_view
from uptide.web.views.sheet import sheet_view
from uptide.web.views.things import MadeView, thing_href, thing_until, thing_what
from uptide.workshop.assessment import assess_here, worn_by
from uptide.workshop.board import thing_of
from uptide.workshop.clock import today

TYPED_FIELDS = ("celsius", "ml_a_use", "uses_a_week", "headspace", "placed_on")
WHOLE_PAGE = "bench/bench.html"
MADE_SHOWN = 12  # lines of what was made of a blend
SUBSTITUTE = "sunflower-high-oleic"  # plain, light and stable: what a weak oil is swapped for


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
    bottle: Mapping[str, str] | None = None,
    bottle_problem: str = "",
) -> HTMLResponse:
    """Draw a saved version; `bottle` is one of it that was made and refused, with what is wrong with it."""
    version = blend.newest if number == blend.newest.number else load_version(store, blend.id, number)
    unread = dict(version.unread)
    if version.recipe.product not in facts.products:
        unread["product"] = unread_words(version.recipe.product)
    texts = _texts(blend.name, version.note)
    assessment = assess_here(version.recipe, facts, store, texts=texts)
    return _draw(
        request,
        Drawn(assessment, blend, facts, store),
        WHOLE_PAGE,
        422 if bottle_problem else 200,
        sheet=sheet_view(assessment, facts, blend.name, blend.id, number, archived=blend.archived),
        bottle_problem=bottle_problem,
        bottle=bottle or {"made": today().isoformat(), "size": ""},
        said=SAID.get(said, "").format(number=number),
        stored=said in ("saved", "same"),
        new_text=add,
        errors=unread,
        problem=" ".join(f"{field.replace('_', ' ')}: {words}" for field, words in unread.items()),
        measures="saved",
        measures_differ=not version.recipe.habits.measures_like(habits),
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
    plain: dict[str, object] = {
        "blend": drawn.blend,
        "made": _made(drawn) if template == WHOLE_PAGE else (),
        "wishes": _wishes(drawn) if template == WHOLE_PAGE else (),
        "bottle_problem": "",
        "bottle": {"made": today().isoformat(), "size": ""},
        "conflict": None,
        "stored": False,
        "refused": False,
        "chooses_whom": False,
        "name_error": None,
        "new_text": "",
        "extra": (),
        "note": "",
        "begin": begin_view(drawn.store, is_begun=bool(drawn.assessment.rows)),
        "variant": None,
        "sensitivities": None,
        "stand_ins": None,
        "known": frozenset(),
        "places": tuple(PLACES),
        "today": today(),
        "fold_open": lambda name: name in opened,
        "parts": EVERY_PART if template == WHOLE_PAGE else Parts.only(opened),
    }
    return render(request, template, status, **(plain | context))


def _wishes(drawn: Drawn) -> tuple[str, ...]:
    """What those who have bottles of it wish of the next version, since the newest was saved."""
    if drawn.blend is None:
        return ()
    found = wishes_of_blend(drawn.store, drawn.blend.id, drawn.blend.newest.saved_at)
    return tuple(f"{each.whom or 'Somebody'} wished: {each.words}" for each in found)


def _made(drawn: Drawn) -> tuple[MadeView, ...]:
    """What was made of a blend and is not gone, those that stand alike in a line."""
    if drawn.blend is None:
        return ()
    groups = board(drawn.store, Wanted(blend_id=drawn.blend.id), MADE_SHOWN)
    things = [thing_of(each) for each in groups]
    return tuple(
        MadeView(href=thing_href(each), what=thing_what(each), until=thing_until(each, today())) for each in things
    )


SAID = {
    "saved": "Saved as version {number}.",
    "same": "Nothing changed since version {number}; no new version was made.",
    "renamed": "Renamed.",
    "archived": "Put away. It is still in the list of blends, below.",
    "restored": "Taken out again.",
    "copied": "This is a copy; the blend it came from is unchanged.",
}


def draw_sheet(
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
    chooses_whom: bool = False,
    conflict: Version | None = None,
    name_error: str | None = None,
    errors: Mapping[str, str] = MappingProxyType({}),
    problem: str = "",
) -> HTMLResponse:
    """Draw the sheet, whole or in part, from what its form holds."""
    texts = _texts(form.name, form.note)
    assessment = assess_here(recipe, facts, store, texts=texts)
    # The list to choose from stands on a page; an answer to an edit needs no more than the name of who was chosen.
    people = names_of_people(store) if template == WHOLE_PAGE or chooses_whom or recipe.wearer else ()
    opened = (
        *form.open,
        *(["keeping"] if form.op == "sensitivities" or set(errors) & set(TYPED_FIELDS) else []),
    )
    parts = EVERY_PART if template == WHOLE_PAGE else Parts.only(opened)
    picture = chosen_picture(request, form.picture)
    sheet = sheet_view(assessment, facts, form.name, form.blend_id, form.version, parts=parts)
    blend = load_blend(store, form.blend_id) if form.blend_id else None
    if "container_ml" in errors:
        sheet = sheet.model_copy(update={"container_ml": form.container_ml})
    baseline = _baseline(blend, facts, store) if blend else None
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
        opened=opened,
        known=frozenset(form.known.split()),
        chooses_whom=chooses_whom,
        refused=bool(name_error or refused or conflict),
        conflict=conflict,
        sheet=sheet,
        name_error=name_error,
        errors=errors,
        problem=problem,
        measures=form.measures,
        measures_differ=form.measures == "saved" and not recipe.habits.measures_like(habits),
        new_text=form.new if typed_rows is not None else left_over,
        extra=rows[shown:],
        note=form.note,
        tide=_as_typed(
            tide_view(assessment, (), today(), baseline, in_words=picture == "tide" or "keeping" in parts), form, errors
        ),
        fit=_as_typed(fit_view(assessment, facts, people), form, errors),
        shown=picture_view(picture, assessment, facts),
        variant=_variant(form, recipe, facts, store, whom_of(people, recipe)),
        sensitivities=_sensitivities(assessment, facts) if form.op == "sensitivities" else None,
        stand_ins=stand_ins_view(form.op, assessment, facts, store),
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


def reformulated(key: str, recipe: Recipe, facts: Catalogue, store: Session) -> Variant:
    """A blend made over for an aim, checked as the bench checks it but for how it keeps."""
    if key not in AIMS:
        raise UptideError(f"A blend is not made over for “{key}”; known are {', '.join(AIMS)}.")

    def look(tried: Recipe, wearer: Wearer) -> Assessment:
        usage = facts.usage_context(tried, today(), wearer)
        return assess(tried, facts.ingredients, facts.names, usage=usage)

    pantry = Pantry(facts.ingredients, facts.names, tables=facts.safety, today=today(), on_hand=facts.on_hand)
    return reformulate(AIMS[key], recipe, worn_by(recipe, store), pantry, look)


def _variant(form: SheetForm, recipe: Recipe, facts: Catalogue, store: Session, whom: str) -> VariantView | None:
    op, _, key = form.op.partition(":")
    return variant_view(reformulated(key, recipe, facts, store), facts, whom) if op == "reformulate" else None


def _baseline(blend: Blend, facts: Catalogue, store: Session) -> ShelfLife | None:
    """How the newest saved version keeps, whoever wears it: the pinned line behind the one that is being changed."""
    return assess_here(blend.newest.recipe, facts, store, wearer=ANYONE).shelf_life


def _sensitivities(assessment: Assessment, facts: Catalogue) -> tuple[Sensitivity, ...]:
    read = assessment.resolution.parts
    history = history_of((), assessment.recipe.storage, today())
    return sensitivities(read, assessment.recipe.storage, standard_draws(), history, facts.ingredients[SUBSTITUTE])
