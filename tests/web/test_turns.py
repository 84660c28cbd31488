"""A few requests are worked out at once, the others in the order in which they came."""

from __future__ import annotations

import asyncio
from typing import Any

from starlette.types import Message, Receive, Scope, Send

from uptide.web.base.turns import Turns

SCOPE: dict[str, Any] = {"type": "http"}


class Works:
    """An application that answers when it is told to, and says who is worked out."""

    def __init__(self) -> None:
        self.begun: list[str] = []
        self.go_on = asyncio.Event()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        self.begun.append(scope["path"])
        if scope["path"] == "/followed":
            await send({"type": "http.response.start"})
        await self.go_on.wait()
        if scope["path"] == "/broken":
            raise RuntimeError
        await send({"type": "http.response.start"})


async def _heard() -> Message:
    return {}


async def _said(message: Message) -> None:
    pass


async def _ask(at_once: int, paths: tuple[str, ...]) -> tuple[list[str], list[str]]:
    """Whose work has begun before any is done, and in which order all were."""
    works = Works()
    turns = Turns(works, at_once)
    asked = [asyncio.create_task(turns({**SCOPE, "path": path}, _heard, _said)) for path in paths]
    for _ in range(10):
        await asyncio.sleep(0)
    at_first = list(works.begun)
    works.go_on.set()
    await asyncio.gather(*asked, return_exceptions=True)
    return at_first, works.begun


def test_so_many_at_once_and_the_rest_in_their_order() -> None:
    at_first, in_all = asyncio.run(_ask(2, ("/a", "/b", "/c", "/d")))
    assert at_first == ["/a", "/b"]
    assert in_all == ["/a", "/b", "/c", "/d"]


def test_what_is_followed_keeps_nobody_waiting() -> None:
    at_first, _ = asyncio.run(_ask(1, ("/followed", "/followed", "/a", "/b")))
    assert at_first == ["/followed", "/followed", "/a"]


def test_styles_and_scripts_wait_for_nothing() -> None:
    at_first, _ = asyncio.run(_ask(1, ("/a", "/static/base.css", "/b")))
    assert at_first == ["/a", "/static/base.css"]


def test_nobody_waits_for_ever() -> None:
    async def ask() -> list[str]:
        works = Works()
        turns = Turns(works, 1, patience=0.01)
        asked = [asyncio.create_task(turns({**SCOPE, "path": path}, _heard, _said)) for path in ("/long", "/short")]
        await asyncio.sleep(0.1)
        begun = list(works.begun)
        works.go_on.set()
        await asyncio.gather(*asked)
        return begun

    assert asyncio.run(ask()) == ["/long", "/short"]


def test_one_that_fails_gives_its_turn_back() -> None:
    _, in_all = asyncio.run(_ask(1, ("/broken", "/a")))
    assert in_all == ["/broken", "/a"]
