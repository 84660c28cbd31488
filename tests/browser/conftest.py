"""A real browser against a running application, on a database of its own."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
import uvicorn
from playwright.sync_api import ConsoleMessage, Page

from uptide.cli.demo import make_demo
from uptide.web.app import create_app

CHROMIUM = "/usr/bin/chromium"
# Without a sandbox (tests may run as root) and without any connection of the browser's own.
ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-dev-shm-usage",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    for item in items:
        if "browser" in item.path.parts:
            item.add_marker(pytest.mark.browser)


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    return {**browser_type_launch_args, "executable_path": CHROMIUM, "args": ARGUMENTS}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}}


@pytest.fixture(scope="session")
def base_url(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    path: Path = tmp_path_factory.mktemp("browser") / "demo.db"
    make_demo(path)
    listener = socket.socket()
    listener.bind(("127.0.0.1", 0))
    server = uvicorn.Server(uvicorn.Config(create_app(f"sqlite:///{path}"), log_level="warning"))
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listener]}, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    yield f"http://127.0.0.1:{listener.getsockname()[1]}"
    server.should_exit = True
    thread.join(5)
    listener.close()


@pytest.fixture
def page(page: Page) -> Iterator[Page]:
    """A page on which nothing may be written to the console: no script error, no refused style."""
    said: list[str] = []

    def listen(message: ConsoleMessage) -> None:
        if message.type in ("error", "warning") and "Failed to load resource" not in message.text:
            said.append(message.text)

    page.on("console", listen)
    page.on("pageerror", lambda error: said.append(str(error)))
    yield page
    assert said == []
