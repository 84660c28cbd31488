"""Draw a page: the one Jinja environment, its filters (which only format), and the form token."""

from __future__ import annotations

import re
from collections.abc import Collection
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from urllib.parse import urlencode
from zlib import crc32

from fastapi import Request
from fastapi.responses import HTMLResponse
from fastapi.templating import Jinja2Templates
from jinja2 import Environment, FileSystemLoader, StrictUndefined
from jinja2.ext import Extension
from markupsafe import Markup, escape

from uptide import __version__
from uptide.core.months import say_day
from uptide.web.base import svg
from uptide.web.base.gate import level_of
from uptide.web.base.kept_templates import kept_templates
from uptide.web.base.security import COOKIE, browser_id, make_token
from uptide.web.base.static_files import files_stamp
from uptide.workshop.entrance import Level

UNKNOWN = "unknown"
# The rooms: where each is, how it is called, and where else it is; at the bench there are no others than its own.
ROOMS = (
    ("/shelf", "Shelf", "/shelf"),
    ("/blends", "Blends", "/blends"),
    ("/steeping", "Steeping", "/steeping"),
    ("/making", "Making", "/making"),
    ("/keeping", "Keeping", "/bottles"),
    ("/people", "People", "/people"),
    ("/measures", "Measures", "/measures"),
)
AT_THE_BENCH = ("Shelf", "Steeping", "Making")
CODE = re.compile(r"\b[A-Z]+(?:-[A-Z0-9]+)*-\d+\b")
INDENT = re.compile(r"\n[ \t]+")
FOLDER = Path(__file__).parents[1] / "templates"


def number(value: float | None, decimals: int = 1) -> str:
    r"""Write a number with fixed decimals and thin spaces between thousands; `unknown` for none.

    >>> number(1234.56, 1), number(None)
    ('1\u2009234.6', 'unknown')
    """
    return UNKNOWN if value is None else f"{value:,.{decimals}f}".replace(",", "\u2009")


def small_number(value: float | None) -> str:
    """Write grams or millilitres as a scale of 0.01 g shows them: three digits, never more than two decimals.

    >>> small_number(0.5304), small_number(27.267), small_number(341.11)
    ('0.53', '27.3', '341')
    """
    if value is None:
        return UNKNOWN
    decimals = 2 if abs(value) < 10 else 1 if abs(value) < 100 else 0
    return number(value, decimals)


def moment(value: datetime) -> str:
    """Write a moment in UTC to the minute."""
    return f"{say_day(value)}, {value.astimezone(UTC):%H:%M} UTC"


class WithoutIndents(Extension):
    """Leaves the indents of a template out of the page: they are a third of what would be sent at every key."""

    def preprocess(self, source: str, name: str | None, filename: str | None = None) -> str:
        """The source with one blank for each indent: it still parts words after a tag whose line break is trimmed."""
        return INDENT.sub("\n ", source)


def unbroken(text: str) -> Markup:
    """Text in which no code is broken in two at its hyphen, as in “lot SR-0418”."""
    return Markup(CODE.sub(r'<span class="text-nowrap">\g<0></span>', str(escape(text))))  # noqa: S704 - escaped


def unless_known(part: Markup, known: Collection[str]) -> Markup:
    """A part of a page with a stamp of what it says, in its `data-swap`; nothing where the browser has that already."""
    stamp = f"{crc32(part.encode()):08x}"
    return Markup() if stamp in known else part.replace("data-swap", Markup(f'data-swap="{stamp}"'), 1)  # noqa: S704


def _environment() -> Environment:
    environment = Environment(
        loader=FileSystemLoader(FOLDER),
        autoescape=True,
        auto_reload=False,
        bytecode_cache=kept_templates(Path(__file__)),
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
        extensions=[WithoutIndents],
    )
    environment.filters |= {
        "number": number,
        "small": small_number,
        "day": say_day,
        "moment": moment,
        "px": svg.px,
        "answers": lambda answers: urlencode(dict(answers)),
        "unless_known": unless_known,
        "unbroken": unbroken,
        "words": lambda key: str(key).replace("_", " "),
    }
    environment.globals |= {"version": __version__, "files_stamp": files_stamp(), "svg": svg}
    return environment


_templates = Jinja2Templates(env=_environment())


def piece(template: str, macro: str, *arguments: object) -> Markup:
    """Draw one macro of a template, for what is drawn once and shown often."""
    return Markup(getattr(_templates.env.get_template(template).module, macro)(*arguments))  # noqa: S704 - it was escaped


def render(request: Request, template: str, status: int = 200, **context: Any) -> HTMLResponse:
    """Draw a template with a fresh form token; the browser gets its cookie with the first page."""
    level = level_of(request)
    door = {
        "sees_all": level is Level.WHOLE,
        "has_door": bool(request.app.state.passphrases),
        "rooms_shown": [room for room in ROOMS if level and (level is Level.WHOLE or room[1] in AT_THE_BENCH)],
    }
    context = {"question": "", "said": "", **door, **context, "token": make_token(request)}
    response = _templates.TemplateResponse(request, template, context, status_code=status)
    if COOKIE not in request.cookies:
        response.set_cookie(
            COOKIE,
            browser_id(request),
            httponly=True,
            samesite="strict",
            secure=request.url.scheme == "https",
            max_age=400 * 86400,
        )
    return response
