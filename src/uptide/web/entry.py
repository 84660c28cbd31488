"""Coming in with the passphrase of the workshop, and going out."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, HTTPException, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from pydantic import Field

from uptide.web.base.forms import TokenForm
from uptide.web.base.gate import BENCH_STARTS, COOKIE, ENTER, FIRST, sign_in
from uptide.web.base.pages import render
from uptide.web.base.security import check_token
from uptide.workshop.desk import Desk
from uptide.workshop.entrance import LONGEST, Level, Passphrases

router = APIRouter(include_in_schema=False)
WRONG = "This is not the passphrase of the workshop."


class EnterForm(TokenForm):
    """What is said at the door."""

    passphrase: str = Field("", max_length=2 * LONGEST)
    maker: str = Field("", max_length=80)
    to: str = Field("/", max_length=2000)


@router.get("/enter")
def ask(request: Request, to: str = "/") -> Response:
    """Ask for the passphrase; where none is set, there is nothing to ask."""
    passphrases: Passphrases = request.app.state.passphrases
    if not passphrases:
        return RedirectResponse("/", 303)
    return _page(request, EnterForm(to=to))


@router.post("/enter")
def enter(request: Request, form: Annotated[EnterForm, Form()]) -> Response:
    """Let somebody in who says it; after several wrong ones, whoever is at that address waits a minute."""
    check_token(request, form.token)
    passphrases: Passphrases = request.app.state.passphrases
    desk: Desk = request.app.state.desk
    address = request.client.host if request.client else ""
    wait = desk.wait(address)
    if wait:
        return _page(request, form, f"That were several wrong ones. Wait {wait:.0f} seconds, and try again.", 429)
    level = passphrases.level(form.passphrase)
    if level is None:
        desk.was_wrong(address)
        return _page(request, form, WRONG, 422)
    desk.was_right(address)
    to = form.to if form.to.startswith("/") and not form.to.startswith(("//", "/\\")) else "/"
    answer = RedirectResponse(BENCH_STARTS if level is Level.BENCH else to, 303)
    answer.set_cookie(**sign_in(request, level, " ".join(form.maker.split())))
    return answer


@router.post(FIRST)
def say_it_first(request: Request) -> Response:
    """Give a form back that was sent by somebody who is not let in, or no longer."""
    raise HTTPException(
        401,
        f"Nothing of this was stored: say the passphrase of the workshop first, at {ENTER} in another tab, and then "
        "send this again.",
    )


@router.post("/leave")
def leave(request: Request, form: Annotated[TokenForm, Form()]) -> Response:
    """Go out: this browser must say the passphrase again."""
    check_token(request, form.token)
    answer = RedirectResponse("/enter", 303)
    answer.delete_cookie(COOKIE, httponly=True, samesite="strict")
    return answer


def _page(request: Request, form: EnterForm, problem: str = "", status: int = 200) -> HTMLResponse:
    return render(request, "start/enter.html", status, form=form, problem=problem)
