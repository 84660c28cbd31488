"""Photos of a jar: taken in, shown and taken out of the account."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, Request, Response, UploadFile
from fastapi.responses import RedirectResponse

from uptide.core.errors import UptideError
from uptide.store.jars import load_jar
from uptide.store.photos import add_photo, photo_content, remove_photo
from uptide.web.base.dependencies import Facts, Store
from uptide.web.base.forms import FieldError, TokenForm, day_of, in_field
from uptide.web.base.security import check_token
from uptide.web.steeping.jar_page import LONGEST_WORDS, draw_jar
from uptide.workshop.clock import today

router = APIRouter(prefix="/steeping/jars", include_in_schema=False)


@router.post("/{jar_id}/photos")
def bring_photo(
    request: Request,
    jar_id: int,
    store: Store,
    facts: Facts,
    token: Annotated[str, Form()],
    photo: Annotated[UploadFile, File()],
    taken_on: Annotated[str, Form()] = "",
    seen: Annotated[str, Form()] = "",
) -> Response:
    """Take a photo in; what is none stands beside its field."""
    check_token(request, token)
    from uptide.formats.photo import LARGEST_PHOTO, clean_photo  # with what reads pictures: few starts need it

    jar = load_jar(store, jar_id)
    try:
        with in_field("taken_on"):
            on = day_of(taken_on, "day", earliest=jar.begun_on, latest=today()) or today()
        if len(seen) > LONGEST_WORDS:
            raise FieldError("seen", f"This has {len(seen)} characters; up to {LONGEST_WORDS} fit.")
        with in_field("photo"):
            content = clean_photo(photo.file.read(LARGEST_PHOTO + 1))
    except UptideError as error:
        return draw_jar(request, jar, store, facts, seen=seen, error=error)
    add_photo(store, jar_id, content, on, seen.strip())
    return RedirectResponse(f"/steeping/jars/{jar_id}?said=noted#photos", 303)


@router.get("/{jar_id}/photos/{photo_id}.jpg")
def photo(jar_id: int, photo_id: int, store: Store) -> Response:
    """A photo; it never changes under its number."""
    kept = {"cache-control": "private, max-age=31536000, immutable"}
    return Response(photo_content(store, jar_id, photo_id), media_type="image/jpeg", headers=kept)


@router.post("/{jar_id}/photos/{photo_id}/remove")
def take_out(
    request: Request, jar_id: int, photo_id: int, form: Annotated[TokenForm, Form()], store: Store
) -> Response:
    """Take a photo out of the account."""
    check_token(request, form.token)
    remove_photo(store, jar_id, photo_id)
    return RedirectResponse(f"/steeping/jars/{jar_id}?said=unnoted#photos", 303)
