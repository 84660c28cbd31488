"""What a program is told when it is refused (RFC 9457), and what it must bring to write (RFC 9110)."""

from __future__ import annotations

import hashlib
import json
from http import HTTPStatus
from typing import Annotated, Any

from fastapi import Depends, Header, HTTPException, Request
from fastapi.responses import JSONResponse
from pydantic import BaseModel, Field
from sqlalchemy.orm import Session

from uptide.store.preferences import led_to, remember_form

MEDIA_TYPE = "application/problem+json"
ELSEWHERE = ("cross-site", "same-site")  # what a browser says of a page of somebody else


class ProblemOut(BaseModel):
    """Why a request was refused."""

    type: str = Field(description="What kind of problem it is; the status says it all.")
    title: str
    status: int
    detail: str = Field(description="What was wrong, what was found, and what is allowed.")


def problem(status: int, detail: str, headers: Any = None) -> JSONResponse:
    """An answer that says why."""
    title = HTTPStatus(status).phrase
    said = ProblemOut(type="about:blank", title=title, status=status, detail=detail)
    return JSONResponse(said.model_dump(), status, headers, media_type=MEDIA_TYPE)


def refusals(**why: str) -> dict[int | str, dict[str, Any]]:
    """Refusals of a route for its description, each by its status: `refusals(s404="There is none.")`."""
    schema = ProblemOut.model_json_schema()
    return {
        int(status[1:]): {"description": words, "content": {MEDIA_TYPE: {"schema": schema}}}
        for status, words in why.items()
    }


# What is said of a route that reads one record, of one that writes, and of one that writes over what there is.
NOT_THERE = refusals(s404="There is none of that number.", s422="What is asked for is not of the shape below.")
REFUSED = NOT_THERE | refusals(
    s400="It cannot be; the detail says why.",
    s403="Sent by a page of another site.",
    s409="The key was used, or somebody else is at it.",
    s415="Not sent as JSON.",
)
REFUSED_OVER = REFUSED | refusals(s412="It has changed since.", s428="No If-Match.")


def _of_a_program(request: Request) -> None:
    """Refuse what a page of somebody else made a browser send: it could not send JSON as such unasked."""
    if request.headers.get("sec-fetch-site", "") in ELSEWHERE:
        raise HTTPException(403, "A page of another site sent this; nothing was changed.")
    if request.headers.get("content-type", "").partition(";")[0].strip().lower() != "application/json":
        raise HTTPException(415, "Send it as application/json; nothing was changed.")


Writing = Depends(_of_a_program)
IdempotencyKey = Annotated[
    str,
    Header(
        description="A word of your own for this request: sent again with it, it is done once. Another request needs "
        "another.",
        max_length=200,
    ),
]
IfMatch = Annotated[
    str, Header(description="The ETag of what you changed: where it has changed since, nothing is overwritten.")
]


class Once:
    """A request that is done once, however often it is sent under its key."""

    def __init__(self, store: Session, request: Request, key: str, body: BaseModel) -> None:
        self._store, self.token = store, f"api:{hashlib.sha256(key.encode()).hexdigest()}" if key else ""
        self._digest = etag_of([request.url.path, body.model_dump(mode="json")])

    def before(self) -> str:
        """Where it led when it was sent before; nothing for the first time. Another body under the key is refused."""
        known = led_to(self._store, self.token) if self.token else None
        if known is None:
            return ""
        digest, _, target = known.partition(" ")
        if digest != self._digest:
            raise HTTPException(409, "This Idempotency-Key was sent with another request; take a new one for this.")
        return target

    def done(self, target: str) -> None:
        """Note where it led."""
        if self.token:
            remember_form(self._store, self.token, f"{self._digest} {target}")


def etag_of(value: object) -> str:
    """An ETag of plain data: the same for the same."""
    said = json.dumps(value, sort_keys=True, default=str).encode()
    return f'"{hashlib.sha256(said).hexdigest()[:32]}"'


def check_match(if_match: str, etag: str, what: str) -> None:
    """Refuse to write over what the writer has not seen."""
    if not if_match:
        raise HTTPException(428, f"Say which {what} you changed: send its ETag as If-Match ({etag} now).")
    if if_match.strip() not in (etag, "*"):
        raise HTTPException(
            412, f"This {what} has changed since you read it (it is {etag} now); read it again. Nothing was changed."
        )
