"""The gate before every page, where a passphrase is set: who is not let in is led to the page that asks for it."""

from __future__ import annotations

import hashlib
import re
from typing import Any
from urllib.parse import quote

from fastapi import Request
from itsdangerous import BadSignature, URLSafeTimedSerializer
from starlette.datastructures import Headers
from starlette.requests import cookie_parser
from starlette.responses import JSONResponse, RedirectResponse
from starlette.types import ASGIApp, Receive, Scope, Send

from uptide.workshop.desk import Desk
from uptide.workshop.entrance import Level, Passphrases

COOKIE, ENTER, FIRST = "uptide_entered", "/enter", "/enter/first"
LASTS = 7 * 86_400  # s that one stays let in
OPEN = re.compile(r"/enter|/enter/first|/static/.*|/keeping/feed/[^/]+\.ics")  # the calendar has a secret of its own
# What is shown at the bench: nothing that is about people.
AT_THE_BENCH = re.compile(r"/(?:making|steeping|shelf)(?:/.*)?|/leave")
BENCH_STARTS = "/making"


class Gate:
    """Lets nobody through who did not say a passphrase; without one that is set, everybody.

    `scope["state"]` says as what somebody came in: `level` and `maker`, the name that they gave.
    """

    def __init__(self, app: ASGIApp, passphrases: Passphrases, secret: str, desk: Desk) -> None:
        self.app, self.passphrases, self.signer = app, passphrases, signer_of(passphrases, secret)
        self.desk = desk
        self._programs: dict[str, Level] = {}  # what opened something before, by its digest: telling takes 50 ms

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or send it to where a passphrase is asked for."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        level, maker = self._entered(scope) if self.passphrases else (Level.WHOLE, "")
        scope.setdefault("state", {}).update(level=level, maker=maker)
        path = str(scope["path"])
        if not self.passphrases or OPEN.fullmatch(path):
            await self.app(scope, receive, send)
        elif level is None and scope["method"] == "POST" and not path.startswith("/api/"):
            scope["state"]["asked"] = path  # a form that somebody filled in is given back
            await self.app({**scope, "path": FIRST, "raw_path": FIRST.encode()}, receive, send)
        elif level is None:
            await self._refused(scope)(scope, receive, send)
        elif level is Level.BENCH and not AT_THE_BENCH.fullmatch(path):
            await RedirectResponse(f"{BENCH_STARTS}?said=bench", 303)(scope, receive, send)
        else:
            await self.app(scope, receive, send)

    def _entered(self, scope: Scope) -> tuple[Level | None, str]:
        headers = Headers(scope=scope)
        scheme, _, said = headers.get("authorization", "").partition(" ")
        if str(scope["path"]).startswith("/api/") and scheme.lower() == "bearer":
            return self._of_a_program(said, (scope.get("client") or ("",))[0]), ""
        cookies = cookie_parser(headers.get("cookie", ""))
        try:
            level, maker = self.signer.loads(cookies.get(COOKIE, ""), max_age=LASTS)
            return Level(level), str(maker)
        except (BadSignature, ValueError):
            return None, ""

    def _of_a_program(self, said: str, address: str) -> Level | None:
        """What a program may see that says the passphrase with every request."""
        digest = hashlib.sha256(said.encode("utf-8", "surrogatepass")).hexdigest()
        if digest not in self._programs:
            if self.desk.wait(address):
                return None
            level = self.passphrases.level(said)
            if level is None:
                self.desk.was_wrong(address)
                return None
            self._programs[digest] = level
        return self._programs[digest]

    @staticmethod
    def _refused(scope: Scope) -> JSONResponse | RedirectResponse:
        path = str(scope["path"])
        if path.startswith("/api/") or scope["method"] not in ("GET", "HEAD"):
            why = f"Say the passphrase of the workshop first: at {ENTER}, or as Authorization: Bearer."
            return JSONResponse({"title": "Unauthorized", "status": 401, "detail": why}, 401)
        query = scope["query_string"].decode("latin-1")
        back = quote(path + (f"?{query}" if query else ""), safe="")
        return RedirectResponse(f"{ENTER}?to={back}", 303)


def signer_of(passphrases: Passphrases, secret: str) -> URLSafeTimedSerializer:
    """What signs who was let in: with another passphrase nobody is any more."""
    stamp = hashlib.sha256(f"{passphrases.whole}|{passphrases.bench}".encode()).hexdigest()
    return URLSafeTimedSerializer(secret, salt=f"entered:{stamp}")


def maker_of(request: Request) -> str:
    """The name that somebody gave when they came in; nothing where nobody did."""
    return str(getattr(request.state, "maker", ""))


def level_of(request: Request) -> Level | None:
    """As what somebody came in; None of who did not yet."""
    level: Level | None = request.state.level
    return level


def sign_in(request: Request, level: Level, maker: str) -> dict[str, Any]:
    """The cookie of somebody who said the passphrase, as `set_cookie` takes it."""
    signer: URLSafeTimedSerializer = request.app.state.entered_signer
    return {
        "key": COOKIE,
        "value": signer.dumps([level.value, maker]),
        "max_age": LASTS,
        "httponly": True,
        "samesite": "strict",
        "secure": request.url.scheme == "https",
    }
