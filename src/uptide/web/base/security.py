"""What every answer carries and every form must bring: policy headers, and a signed token per form."""

from __future__ import annotations

import hashlib
import secrets
from typing import Any, Protocol

from fastapi import HTTPException, Request
from itsdangerous import BadSignature, URLSafeSerializer
from starlette.datastructures import MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from uptide.web.base.static_files import FOR_GOOD, PREFIX, is_for_good

COOKIE = "uptide_form"
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; "
    "connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)
HEADERS = {
    "content-security-policy": POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
}


class FormWithToken(Protocol):
    """A form that this application handed out."""

    token: str

    def model_dump(self, *, exclude: set[str]) -> dict[str, Any]:
        """Its fields."""
        ...


class PolicyHeaders:
    """Put the security headers on every answer."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on; add the headers when the answer starts."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def send_with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                if not str(scope["path"]).startswith(PREFIX):
                    headers.setdefault("cache-control", "no-store")  # names and health stay in no cache
                elif is_for_good(scope["query_string"], message["status"]):
                    headers.setdefault("cache-control", FOR_GOOD)
                for name, value in HEADERS.items():
                    headers.setdefault(name, value)
            await send(message)

        await self.app(scope, receive, send_with_headers)


def browser_id(request: Request) -> str:
    """The random name of this browser, from its cookie; made when it has none yet (`render` sets it)."""
    known = request.cookies.get(COOKIE) or getattr(request.state, "browser_id", "")
    request.state.browser_id = known or secrets.token_urlsafe(18)
    return str(request.state.browser_id)


def make_token(request: Request) -> str:
    """A token for one form: signed, bound to this browser, and different each time."""
    signer = URLSafeSerializer(request.app.state.form_secret, salt="form")
    token = signer.dumps([browser_id(request), secrets.token_urlsafe(9)])
    return token if isinstance(token, str) else token.decode()


def check_token(request: Request, token: str) -> str:
    """Return the form's own number; refuse a form that this application did not hand to this browser."""
    signer = URLSafeSerializer(request.app.state.form_secret, salt="form")
    try:
        browser, number = signer.loads(token)
    except (BadSignature, ValueError) as error:
        raise HTTPException(403, _REFUSED) from error
    if not secrets.compare_digest(str(browser), request.cookies.get(COOKIE, "")):
        raise HTTPException(403, _REFUSED)
    return str(number)


def sending(request: Request, form: FormWithToken) -> str:
    """What makes two sendings of a form the same: its own number, where it goes, and all that stands in it.

    No word of it is kept. Going back, changing something and sending it again is another sending. Raises as
    `check_token` does.
    """
    content = repr((request.url.path, form.model_dump(exclude={"token", "op"}))).encode("utf-8", "surrogatepass")
    return f"{check_token(request, form.token)}:{hashlib.sha256(content).hexdigest()}"


def signed(request: Request, words: str) -> str:
    """Words that are to be said on the page that is led to, so that an address says nothing of anybody else's."""
    made = URLSafeSerializer(request.app.state.form_secret, salt="said").dumps(words)
    return made if isinstance(made, str) else made.decode()


def said_of(request: Request, made: str) -> str:
    """The words that `signed` was given; nothing where it was not."""
    try:
        return str(URLSafeSerializer(request.app.state.form_secret, salt="said").loads(made))
    except BadSignature:
        return ""


_REFUSED = (
    "This form did not come from a page that this application gave to this browser, or the page is from before a "
    "restart. Nothing was changed."
)
