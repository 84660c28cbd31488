"""A few requests at a time: the others wait for their turn, in the order in which they came."""

from __future__ import annotations

from asyncio import Semaphore, timeout

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from uptide.web.base.static_files import PREFIX

# Python works at one thing at a time: sixteen pages that are worked out by turns are all late, the short ones most.
# Several at once still, so that a page that only reads does not wait for one that works out for long.
AT_ONCE, PATIENCE = 3, 1.0  # s
AT_ONCE_ANYWAY = PREFIX  # styles and scripts are files, and a page waits for them


class Turns:
    """Lets so many requests be worked out at once; one that has begun to answer (as what is followed) counts no more.

    Args:
        app: what works them out.
        at_once: how many.
        patience: how long one waits at most, whatever takes so long [s].
    """

    def __init__(self, app: ASGIApp, at_once: int = AT_ONCE, patience: float = PATIENCE) -> None:
        self.app, self._patience = app, patience
        self._free = Semaphore(at_once)

    async def _turn(self) -> bool:
        """Wait for a turn; False where none came, and one goes on without."""
        try:
            async with timeout(self._patience):
                await self._free.acquire()
        except TimeoutError:
            return False
        return True

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Wait for a turn, and give it back when the answer begins or fails."""
        if scope["type"] != "http" or scope["path"].startswith(AT_ONCE_ANYWAY):
            await self.app(scope, receive, send)
            return
        is_mine = await self._turn()

        def give_back() -> None:
            nonlocal is_mine
            if is_mine:
                is_mine = False
                self._free.release()

        async def answering(message: Message) -> None:
            if message["type"] == "http.response.start":
                give_back()
            await send(message)

        try:
            await self.app(scope, receive, answering)
        finally:
            give_back()
