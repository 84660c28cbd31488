"""Whole results against texts that were read and approved: no word, no source and no figure changes unseen.

What is right in them is held by the tests of each part; here a change of anything that a person is told is red.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path

import pytest
from tests.core.said.saying import lines_of

Approve = Callable[[str, Mapping[str, object]], None]


@pytest.fixture
def approve(request: pytest.FixtureRequest) -> Approve:
    """Hold what is said, by its headings, against what was approved; with --approve it is written anew, to be read."""
    anew = request.config.getoption("--approve")

    def _approve(name: str, said: Mapping[str, object]) -> None:
        file = Path(__file__).parent / "approved" / f"{name}.txt"
        lines = [
            line
            for heading, value in said.items()
            for line in (f"# {heading.replace(chr(10), ' / ')}", *lines_of(value), "")
        ]
        if anew:
            file.write_text("\n".join(lines), encoding="utf-8")
        assert lines == file.read_text(encoding="utf-8").split("\n")

    return _approve
