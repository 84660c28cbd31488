"""A real browser against a running application, on a database of its own."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

import pytest
from bench.measure import ARGUMENTS, CHROMIUM, running
from playwright.sync_api import ConsoleMessage, Locator, Page


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
def base_url() -> Iterator[str]:
    with running() as base:
        yield base


def forget_answers(page: Page, base: str) -> None:
    """What other stories answered is taken first in the next recipe: in each nobody has answered anything yet."""
    measures = page.request.get(f"{base}/measures").text()
    token = re.search(r'name="token"\s+value="([^"]+)"', measures)
    if "forget_earlier" in measures and token:
        page.request.post(f"{base}/measures", form={"token": token[1], "forget_earlier": "true"})


def unfold(page: Page, fold: str) -> None:
    """Open a fold of the bench; it is drawn anew when it opens, and that is waited for."""
    page.wait_for_selector(f"#fold-{fold} > summary")
    page.evaluate(
        """fold => new Promise((drawn) => {
            document.addEventListener("uptide:painted", drawn, { once: true });
            document.querySelector(`#fold-${fold} > summary`).click();
        }).then(() => null)""",
        fold,
    )


def figure(page: Page, key: str) -> Locator:
    """What stands as a figure’s value, or as the word of a verdict."""
    return page.locator(f"#figure-{key} > summary :is(.value, .word)")


def paste(page: Page, text: str) -> None:
    """Paste as a person does: a clipboard event on the line for new rows."""
    page.get_by_label("Add a row").evaluate(
        """(field, text) => { const data = new DataTransfer(); data.setData("text/plain", text);
        const how = { clipboardData: data, bubbles: true, cancelable: true };
        field.dispatchEvent(new ClipboardEvent("paste", how)); }""",
        text,
    )


def number(page: Page, key: str) -> float:
    found = re.search(r"[\d.]+", figure(page, key).inner_text().replace("\u2009", ""))
    return float(found[0]) if found else float("nan")


@pytest.fixture
def page(page: Page, base_url: str) -> Iterator[Page]:
    """A page on which nothing may be written to the console: no script error, no refused style."""
    forget_answers(page, base_url)
    said: list[str] = []

    def listen(message: ConsoleMessage) -> None:
        if message.type in ("error", "warning") and "Failed to load resource" not in message.text:
            said.append(message.text)

    page.on("console", listen)
    page.on("pageerror", lambda error: said.append(str(error)))
    yield page
    assert said == []
