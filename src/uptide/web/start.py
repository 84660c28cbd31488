"""The start page: blends, shelf, and the quick line; and how this person measures."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import asdict
from datetime import UTC, datetime
from math import exp
from typing import Annotated, Any
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import Field
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.plants import called
from uptide.core.errors import QuantityError, UptideError
from uptide.core.finder.ask import ask
from uptide.core.finder.filter_grammar import is_asked_of_all_oils
from uptide.core.finder.known import Known
from uptide.core.infusion.words import read_jar_words
from uptide.core.keeping.board import Shown, read_board_words
from uptide.core.measures.habits import (
    DROP_SCHOOLS,
    HELD_ML,
    BareOunce,
    Habits,
    Ounces,
    PartsBy,
    Spoons,
    millilitres_by_weighing,
)
from uptide.core.measures.units import UNITS
from uptide.core.recipe.reading import OUNCE_WORDS
from uptide.core.skin.patch import Outcome
from uptide.store.blends import list_blends
from uptide.store.people import list_people, names_of_people, wearers
from uptide.store.preferences import bottles_that_taught, carried_over, forget_learnt, save_habits
from uptide.web.base.dependencies import Facts, Measures, OnShelf, Store
from uptide.web.base.forms import FieldError, TokenForm, errors_of, in_field, number_of
from uptide.web.base.meanwhile import NOT_TOLD, Both, SeenForm, merged, opened
from uptide.web.base.pages import render
from uptide.web.base.security import check_token
from uptide.web.drawing.turning import MOST_LINES, draw_turning
from uptide.web.drawing.view import View
from uptide.web.views.things import thing_href, thing_until, thing_what
from uptide.workshop.asked_blends import of_own_blend
from uptide.workshop.assessment import assess_here
from uptide.workshop.board import board_of, checks_due
from uptide.workshop.clock import today, wall_clock
from uptide.workshop.desk import Desk
from uptide.workshop.examining import clock_is_behind
from uptide.workshop.finding import is_wish
from uptide.workshop.found import number_leads_to
from uptide.workshop.jars import jars_that_want
from uptide.workshop.shelf import Shelf

router = APIRouter(include_in_schema=False)
BLENDS_SHOWN = 8
NAMED = 4  # things that a line names
LOOKS_NAMED = 6  # lines of bottles that want a look
LABEL_NUMBER = re.compile(r"(?:batch\s+|bottle\s+)?\d{8}-\d+(?:-\d+)?", re.IGNORECASE)  # as it stands on a label


@router.get("/")
def start(request: Request, store: Store, facts: Facts, shelf: OnShelf, habits: Measures, q: str = "") -> HTMLResponse:
    """Show what wants doing, what was worked on last and what turns first; answer the quick line when it asks."""
    blends = list_blends(store)
    board = board_of(store, shelf, Shown(), MOST_LINES)
    return render(
        request,
        "start/start.html",
        blends=blends[:BLENDS_SHOWN],
        more_blends=max(0, len(blends) - BLENDS_SHOWN),
        picture=draw_turning([(each, thing_href(each)) for each in board.things], today()),
        more_things=max(0, board.count - sum(each.count for each in board.things)),
        to_do=(
            *_of_the_data(request, store),
            *_to_look_at(store),
            *_jars_due(store, facts),
            *_bottles_due(store, shelf),
            *_to_use_up(shelf),
        ),
        facts=facts,
        question=q,
        **_quick(q, habits, facts, store, shelf),
    )


def _of_the_data(request: Request, store: Session) -> list[tuple[str, str]]:
    """That the clock is behind or no backup could be made, where that is so."""
    desk: Desk = request.app.state.desk
    found = (clock_is_behind(store, datetime.now(UTC)), desk.backup_problem())
    return [(each, "/data") for each in found if each]


def _to_look_at(store: Session) -> list[tuple[str, str]]:
    """Patch tests of which a look is due, in words, and where they are noted."""
    now = wall_clock()
    return [
        (f"{person.wearer.name}, {test.blend_name}: {look.words}, look now", f"/people/{person.id}")
        for person in list_people(store)
        for test in person.tests
        if test.outcome is Outcome.RUNNING
        for look in test.looks
        if look.is_due(now)
    ]


def _jars_due(store: Session, facts: Catalogue) -> list[tuple[str, str]]:
    """What jars under way want today, in a line each, and where it is noted."""
    wanted = jars_that_want(store, facts, today())
    return [(f"{each.jar.name}, day {each.day}: {each.words}", f"/steeping/jars/{each.jar.id}") for each in wanted]


def _bottles_due(store: Session, shelf: Shelf) -> list[tuple[str, str]]:
    """Bottles that want a look today, those that stand alike in a line."""
    due = checks_due(store, shelf, today(), LOOKS_NAMED + 1)
    found = [(f"{each.name}, {thing_what(each)}: {each.look}", f"/bottles/{each.key}") for each in due[:LOOKS_NAMED]]
    return found + ([("And more that want a look", "/keeping?look=true")] if len(due) > LOOKS_NAMED else [])


def _to_use_up(shelf: Shelf) -> list[tuple[str, str]]:
    """What is over and still stands there, and what should be used up now, in a line each."""
    over = [each for each in shelf.standing if each.life.is_over]
    soon = [each for each in shelf.standing if each.life.ends_soon and not each.life.is_over]
    said = (("Discard, or test before use", over), ("Use up", soon))
    return [
        (f"{what}: {', '.join(each.item.name for each in found[:NAMED])}{_more(len(found) - NAMED)}", "/shelf/lots")
        for what, found in said
        if found
    ]


def _more(count: int) -> str:
    return f" and {count} more" if count > 0 else ""


@router.get("/quick")
def quick(request: Request, store: Store, facts: Facts, shelf: OnShelf, habits: Measures, q: str = "") -> HTMLResponse:
    """Answer the quick line as a fragment, as one types."""
    return render(request, "start/_quick_answer.html", question=q, **_quick(q, habits, facts, store, shelf))


class BoardAnswer(View):
    """What of the board was asked for: a line of it, its first things, and where all of them stand."""

    said: str
    things: tuple[tuple[str, str, str, str], ...]  # page, name, what, until
    href: str


def _of_board(question: str, store: Session, shelf: Shelf) -> BoardAnswer | None:
    shown = read_board_words(question, today())
    if shown is None:
        return None
    board = board_of(store, shelf, shown, NAMED)
    count = board.count
    asked = urlencode({name: "true" if value is True else value for name, value in asdict(shown).items() if value})
    return BoardAnswer(
        said=f"{count} thing{'s' if count != 1 else ''}" if count else "Nothing",
        things=tuple(
            (thing_href(each), each.name, thing_what(each), thing_until(each, today())) for each in board.things
        ),
        href=f"/keeping?{asked}",
    )


def _quick(question: str, habits: Habits, facts: Catalogue, store: Session, shelf: Shelf) -> dict[str, Any]:
    silent: dict[str, Any] = dict.fromkeys(("quick", "quick_board", "quick_number"))
    silent |= {"quick_problem": "", "quick_blend": 0, "quick_jar": False, "quick_wish": False, "quick_shelf": False}
    if not question.strip():
        return silent
    board = _of_board(question, store, shelf)
    if board is not None:
        return silent | {"quick_board": board}
    if LABEL_NUMBER.fullmatch(question.strip()):
        page = number_leads_to(store, question)
        return silent | ({"quick_number": page} if page else {"quick_problem": f"There is no {question.strip()} here."})
    known = Known(
        facts.ingredients,
        facts.names,
        habits=habits,
        people={wearer.name: wearer for wearer in wearers(store)},
        products=facts.product_names,
        today=today(),
        usage_of=lambda product, wearer: facts.usage_of(product, today(), wearer),
        assess=lambda recipe, wearer: assess_here(recipe, facts, store, wearer=wearer),
    )
    wishes = silent | {"quick_wish": True}
    try:
        blend = of_own_blend(question, store, facts, known)
        if blend is None and is_wish(question, facts, store):
            return wishes
        found = blend.answer if blend is not None else ask(question, known)
    except QuantityError as error:
        is_one = is_wish(question, facts, store, least=1)  # “make me a face oil”
        return wishes if is_one else silent | _not_answered(question, error, facts)
    wearer = next((str(number) for number, name in names_of_people(store) if name == found.wearer), found.wearer)
    if blend is not None:
        silent["quick_blend"] = blend.blend_id
    else:
        silent["quick_jar"] = _names_a_jar(question, facts)
    return silent | {"quick": found, "quick_wearer": wearer}


def _not_answered(question: str, error: QuantityError, facts: Catalogue) -> dict[str, Any]:
    """Why a line was not answered, and where else it may be asked."""
    is_jar = _names_a_jar(question, facts)
    return {
        "quick_problem": CAN_BE_A_JAR if is_jar else str(error),
        "quick_jar": is_jar,
        "quick_shelf": is_asked_of_all_oils(question),
    }


CAN_BE_A_JAR = (
    "This can be a jar to steep: what goes into it, how long it stands and what comes out is worked out there."
)


def _names_a_jar(question: str, facts: Catalogue) -> bool:
    """Whether a line can be a jar to plan: it reads as one, of one plant that is known, in nothing that is no oil."""
    try:
        jar = read_jar_words(question)
    except QuantityError:
        return False
    return len(called(jar.plant, facts.plants)) == 1 and (not jar.oil or bool(facts.names.match(jar.oil).keys))


DROP = "drop"
WEIGHED = (DROP, *HELD_ML)  # what can be counted onto a scale


class SettledForm(SeenForm):
    """How a person measures, as far as it is chosen from what there is."""

    spoons: Spoons = Spoons.US
    ounces: Ounces = Ounces.US
    bare_ounce: BareOunce = BareOunce.ASK
    parts_by: PartsBy = PartsBy.VOLUME
    drops: str = "20"
    keeps_by: str = "computed"


class MeasuresForm(SettledForm):
    """The same, and a dropper, pump or cap that was weighed."""

    what: str = DROP
    counted: str = ""
    weighed_g: str = ""
    of: str = "lavender"
    forget: list[str] = Field(default_factory=list)
    forget_held: list[str] = Field(default_factory=list)
    forget_earlier: bool = False


@router.get("/measures")
def show_measures(request: Request, store: Store, facts: Facts, habits: Measures, said: str = "") -> HTMLResponse:
    """Show how this person measures, and what readings of their bottles taught."""
    form = MeasuresForm.model_validate(opened(_settled(habits)).model_dump())
    return _measures(request, form, store, facts, habits, said=KEPT.get(said, ""))


def _settled(measures: Habits | MeasuresForm) -> SettledForm:
    return SettledForm(**{name: getattr(measures, name) for name in SettledForm.model_fields if name not in NOT_TOLD})


KEPT = {
    "kept": "Kept. New sheets use these measures; saved blends keep theirs.",
    "forgotten": "Forgotten. Each bottle goes by its own readings alone.",
}


def _measures(
    request: Request,
    form: MeasuresForm,
    store: Session,
    facts: Catalogue,
    habits: Habits,
    *,
    said: str = "",
    error: UptideError | None = None,
    both: Sequence[Both] = (),
) -> HTMLResponse:
    return render(
        request,
        "start/measures.html",
        422 if error or both else 200,
        both=both,
        habits=habits,
        facts=facts,
        schools=DROP_SCHOOLS,
        weighed=[UNITS[key] for key in WEIGHED],
        held=[(UNITS[key], habits.in_one(key), key in dict(habits.held)) for key in HELD_ML],
        earlier=[(about or "a number alone", _answer_in_words(value, facts)) for _, about, value in habits.earlier],
        problem=str(error or ""),
        errors=errors_of(error),
        said=said,
        form=form,
        taught=bottles_that_taught(store),
        faster=exp(carried_over(store, None)),
    )


def _answer_in_words(value: str, facts: Catalogue) -> str:
    """An answer as a person gave it: an oil by its name, a unit by its word."""
    if value in facts.ingredients:
        return facts.ingredients[value].name
    return OUNCE_WORDS.get(value) or (UNITS[value].plural if value in UNITS else value)


@router.post("/measures/forget-learnt")
def forget(request: Request, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Drop what readings of bottles taught of all others."""
    check_token(request, form.token)
    forget_learnt(store)
    return RedirectResponse("/measures?said=forgotten", 303)


@router.post("/measures")
def keep_measures(
    request: Request, form: Annotated[MeasuresForm, Form()], store: Store, facts: Facts, habits: Measures
) -> Response:
    """Keep how this person measures; a dropper is calibrated when drops were counted and weighed."""
    check_token(request, form.token)
    settled, both = merged(_settled(form).model_copy(update={"seen": form.seen}), _settled(habits))
    form = form.model_copy(update=settled.model_dump(exclude={"token"}))
    if both:
        return _measures(request, form, store, facts, habits, both=both)
    try:
        drops_per_ml = habits.own_drops_per_ml
        held = tuple(each for each in habits.held if each[0] not in form.forget_held)
        if form.counted.strip() or form.weighed_g.strip():
            millilitres = _calibrate(form, facts)
            if form.what == DROP:
                drops_per_ml = 1 / millilitres
            else:
                held = (*(each for each in held if each[0] != form.what), (form.what, millilitres))
        changed = Habits(
            spoons=form.spoons,
            ounces=form.ounces,
            bare_ounce=form.bare_ounce,
            parts_by=form.parts_by,
            drops=form.drops,
            own_drops_per_ml=drops_per_ml,
            meanings=tuple(meaning for meaning in habits.meanings if meaning[0] not in form.forget),
            keeps_by=form.keeps_by,
            held=held,
            earlier=() if form.forget_earlier else habits.earlier,
        )
    except UptideError as error:
        return _measures(request, form, store, facts, habits, error=error)
    save_habits(store, changed)
    return RedirectResponse("/measures?said=kept", 303)


def _calibrate(form: MeasuresForm, facts: Facts) -> float:
    """Millilitres in one of what was counted."""
    if form.what not in WEIGHED:
        raise QuantityError(f"“{form.what}” is not counted onto a scale; known are {', '.join(WEIGHED)}.")
    match = facts.names.match(form.of, in_drops=form.what == DROP)
    if not match.sure:
        raise FieldError("of", f"“{form.of}” is not one oil of the catalogue; name the oil that was counted.")
    with in_field("counted"):
        counted = number_of(form.counted, f"number of {UNITS[form.what].plural}")
    with in_field("weighed_g"):
        grams = number_of(form.weighed_g, "weight in grams")
    return millilitres_by_weighing(counted, grams, facts.ingredients[match.keys[0]].density)
