"""The page of what is kept: where it is, its backups, and making one now."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse

from uptide.store.backups import DAYS, MONTHS, WEEKS
from uptide.store.condition import DatabaseError
from uptide.web.base.dependencies import Store
from uptide.web.base.forms import TokenForm
from uptide.web.base.pages import number, render
from uptide.web.base.security import check_token
from uptide.workshop.daily_copies import DailyCopies

router = APIRouter(prefix="/data", include_in_schema=False)

SAID = {"made": "The backup is made; it was looked through and is sound.", "in": "It is in."}
NO_FILE = "This database is no file: back it up by the means of its own server."
MEGABYTE = 1e6  # bytes


@router.get("")
def show(request: Request, store: Store, said: str = "") -> HTMLResponse:
    """Show what there is of it."""
    copies: DailyCopies | None = request.app.state.copies
    return render(
        request,
        "data/data.html",
        said=SAID.get(said, ""),
        copies=copies,
        backups=[(each.made_at, _size(each.path.stat().st_size), each.path.name) for each in copies.made]
        if copies
        else [],
        kept=(DAYS, WEEKS, MONTHS),
        database=(copies.database, _size(copies.database.stat().st_size)) if copies else None,
    )


@router.post("/backup")
def back_up_now(request: Request, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Make a backup now."""
    check_token(request, form.token)
    copies: DailyCopies | None = request.app.state.copies
    if copies is None:
        raise DatabaseError(NO_FILE)
    copies.make()
    return RedirectResponse("/data?said=made", 303)


def _size(size: int) -> str:
    return f"{number(size / MEGABYTE, 1)} MB"
