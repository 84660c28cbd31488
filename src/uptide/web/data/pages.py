"""The page of what is kept: where it is, its backups, and making one now."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse

from uptide.store.backups import DAYS, MONTHS, WEEKS, copies
from uptide.web.base.dependencies import Store
from uptide.web.base.forms import TokenForm
from uptide.web.base.pages import number, render
from uptide.web.base.security import check_token
from uptide.workshop.desk import Desk

router = APIRouter(prefix="/data", include_in_schema=False)

SAID = {"made": "The backup is made; it was looked through and is sound.", "in": "It is in."}
MEGABYTE = 1e6  # bytes


@router.get("")
def show(request: Request, store: Store, said: str = "") -> HTMLResponse:
    """Show what there is of it."""
    desk: Desk = request.app.state.desk
    where: tuple[Path, Path] | None = request.app.state.backups
    return render(
        request,
        "data/data.html",
        said=SAID.get(said, ""),
        problem=desk.backup_problem(),
        backups=[(each.made_at, _size(each.path.stat().st_size), each.path.name) for each in copies(*where)]
        if where
        else [],
        kept=(DAYS, WEEKS, MONTHS),
        database=(where[0], _size(where[0].stat().st_size)) if where else None,
        folder=where[1] if where else None,
    )


@router.post("/backup")
def back_up_now(request: Request, form: Annotated[TokenForm, Form()], store: Store) -> Response:
    """Make a backup now."""
    check_token(request, form.token)
    desk: Desk = request.app.state.desk
    desk.back_up()
    return RedirectResponse("/data?said=made", 303)


def _size(size: int) -> str:
    return f"{number(size / MEGABYTE, 1)} MB"
