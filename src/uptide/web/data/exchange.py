"""Everything out as a file, and an export back in: looked at first, then brought in by a second tap."""

from __future__ import annotations

import re
import secrets
import shutil
import time
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, File, Form, Query, Request, Response, UploadFile
from fastapi.responses import HTMLResponse, RedirectResponse
from platformdirs import user_cache_path
from pydantic import BaseModel
from sqlalchemy.orm import Session

from uptide.core.errors import UptideError
from uptide.store.database import OWNER_ALONE, OWNER_ALONE_IN
from uptide.web.base.dependencies import Store
from uptide.web.base.forms import TokenForm
from uptide.web.base.pages import number, render
from uptide.web.base.security import check_token
from uptide.workshop.clock import today
from uptide.workshop.exchanging import bring_in, export_packed, plan_import, plan_in_words

router = APIRouter(prefix="/data", include_in_schema=False)

MOST_MEGABYTES, MEGABYTE = 500, 1e6
FOLDER, LOOKED_AT = "incoming", ".zip"
NAME = re.compile(r"[A-Za-z0-9_-]{20,60}")
KEPT_SECONDS = 86_400  # that a file waits for its second tap


class ExportQuery(BaseModel):
    """What is asked out."""

    people: bool = False


class BringForm(TokenForm):
    """The second tap: which file, and whether what differs is taken from it."""

    incoming: str = ""
    take_differing: bool = False


@router.get("/export.zip")
def export(store: Store, asked: Annotated[ExportQuery, Query()]) -> Response:
    """Everything as a ZIP of plain files; people only where they are asked for."""
    name = f"uptide-{today().isoformat()}{'-with-people' if asked.people else ''}.zip"
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(export_packed(store, people=asked.people), media_type="application/zip", headers=headers)


@router.post("/import")
def look_at(
    request: Request, store: Store, token: Annotated[str, Form()], file: Annotated[UploadFile, File()]
) -> HTMLResponse:
    """Keep an export for a second tap; show what would come in, or every bad line of it."""
    check_token(request, token)
    if (file.size or 0) > MOST_MEGABYTES * MEGABYTE:
        raise UptideError(
            f"This file has {number((file.size or 0) / MEGABYTE, 0)} MB; up to {MOST_MEGABYTES} MB are read here. "
            "`uptide import` reads larger ones."
        )
    folder = _folder(request)
    _clear(folder)
    name = secrets.token_urlsafe(24)
    kept = folder / f"{name}{LOOKED_AT}"
    kept.touch(mode=OWNER_ALONE)
    try:
        with kept.open("wb") as held:
            shutil.copyfileobj(file.file, held)
        return _looked(request, store, kept, file.filename or "the file")
    except UptideError:
        kept.unlink(missing_ok=True)
        raise


def _looked(request: Request, store: Session, kept: Path, called: str) -> HTMLResponse:
    try:
        plan = plan_import(store, kept)
    except UptideError as error:  # which calls it by where it is kept
        raise UptideError(str(error).replace(str(kept), called)) from error
    if plan.problems:
        kept.unlink()
    return render(
        request,
        "data/incoming.html",
        422 if plan.problems else 200,
        called=called,
        problems=plan.problems,
        lines=plan_in_words(plan),
        differing=len(plan.changes),
        is_new=bool(plan.new),
        incoming=kept.stem,
    )


@router.post("/import/now")
def bring(request: Request, form: Annotated[BringForm, Form()], store: Store) -> Response:
    """Bring in what was looked at, as it fits the database now."""
    check_token(request, form.token)
    kept = _folder(request) / f"{form.incoming}{LOOKED_AT}"
    if not NAME.fullmatch(form.incoming) or not kept.is_file():
        raise UptideError(
            "This file is no longer here: it is in already, or waited for more than a day. Send it again."
        )
    bring_in(store, plan_import(store, kept), take_differing=form.take_differing)
    kept.unlink()
    return RedirectResponse("/data?said=in", 303)


def _folder(request: Request) -> Path:
    """Where files wait for a second tap: beside the database, or where this machine keeps what is passing for one."""
    where: tuple[Path, Path] | None = request.app.state.backups
    parent = where[0].parent if where else user_cache_path("uptide", appauthor=False)
    folder = parent / FOLDER
    folder.mkdir(mode=OWNER_ALONE_IN, exist_ok=True, parents=True)
    return folder


def _clear(folder: Path) -> None:
    """Take away what waited too long: an export with people in it should not lie about."""
    for each in folder.glob(f"*{LOOKED_AT}"):
        if time.time() - each.stat().st_mtime > KEPT_SECONDS:
            each.unlink(missing_ok=True)
