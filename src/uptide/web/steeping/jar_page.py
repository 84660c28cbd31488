"""The page of a jar: how it stands, what is due, what was noted, how warm it is, and the plan behind it."""

from __future__ import annotations

from fastapi import Request
from fastapi.responses import HTMLResponse
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import UptideError
from uptide.core.infusion.following import JarNote, JarUnderWay, NoteKind
from uptide.core.infusion.schedule import due_of
from uptide.core.months import say_day
from uptide.store.jars import Jar
from uptide.store.photos import photos_of
from uptide.store.readings import thermometer_stands_in
from uptide.store.shelf import all_lots
from uptide.web.base.forms import TokenForm, errors_of
from uptide.web.base.pages import render
from uptide.web.drawing.jar_time import draw_jar_time
from uptide.web.steeping.jar_form import form_of
from uptide.web.steeping.jar_views import jar_line, jar_view
from uptide.web.steeping.warmth_view import ReadingForm, warmth_of
from uptide.workshop.clock import today
from uptide.workshop.jars import jar_today, lot_of_jar

LONGEST_WORDS = 500


class NoteForm(TokenForm):
    """A note as it was typed."""

    kind: str = NoteKind.LOOKED.value
    on: str = ""
    grams: str = ""
    words: str = ""


def draw_jar(
    request: Request,
    jar: Jar,
    store: Session,
    facts: Catalogue,
    *,
    said: str = "",
    noting: NoteForm | None = None,
    typed: ReadingForm | None = None,
    seen: str = "",
    error: UptideError | None = None,
) -> HTMLResponse:
    """Draw the page of a jar, with what was typed and could not be read."""
    under_way = jar_today(jar, facts, today())
    plan = under_way.plan if under_way else None
    return render(
        request,
        "steeping/jar.html",
        422 if error else 200,
        jar=jar,
        line=jar_line(jar, under_way),
        under_way=under_way,
        due=due_of(under_way) if under_way else (),
        view=jar_view(plan, facts, form_of(plan.ask)) if plan else None,
        done=say_day(under_way.done_on) if under_way else "",
        about=say_day(under_way.about_done_on) if under_way else "",
        entries=[(entry.id, say_day(entry.note.on), _words(entry.note)) for entry in reversed(jar.entries)],
        kinds=[(kind.value, kind.value) for kind in NoteKind],
        time=draw_jar_time(under_way) if under_way else None,
        photos=photos_of(store, jar.id),
        seen=seen,
        lot=lot_of_jar(all_lots(store), jar.id),
        can_be_strained=under_way is not None
        and (under_way.ended is None or under_way.ended.kind is NoteKind.STRAINED),
        balance=_balance_words(under_way) if under_way else "",
        typed=typed or ReadingForm(),
        warmth=warmth_of(jar, under_way, request, thermometer_stands_in(store)),
        noting=noting or NoteForm(on=today().isoformat()),
        today=today(),
        problem=str(error or ""),
        errors=errors_of(error),
        said=said,
    )


def _balance_words(under_way: JarUnderWay) -> str:
    """Whether what was weighed adds up; nothing before it was."""
    found = under_way.balance
    if found is None:
        return ""
    if not found.is_worth_saying:
        return "What was weighed adds up."
    more = "is missing" if found.unexplained > 0 else "is too much"
    return (
        f"By its weighings {abs(found.unexplained):.0f} g {more}, and nothing explains it: spilled, or weighed wrongly."
    )


def _words(note: JarNote) -> str:
    grams = f", {note.grams:g} g" if note.grams is not None else ""
    words = note.words or ("all well" if note.kind in (NoteKind.LOOKED, NoteKind.SMELL) else "")
    return f"{note.kind.value}{grams}{': ' + words if words else ''}"
