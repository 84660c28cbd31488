"""Templates, styles and scripts stay readable: the tools that format them leave no line longer than a line of code."""

from __future__ import annotations

from pathlib import Path

import pytest

from uptide.web.base.pages import FOLDER

LONGEST = 120
STATIC = FOLDER.parent / "static"
SOURCES = [*FOLDER.rglob("*.html"), *STATIC.glob("*.js"), *STATIC.glob("*.css")]


@pytest.mark.parametrize("file", SOURCES, ids=lambda file: str(file.relative_to(FOLDER.parent)))
def test_no_line_is_longer_than_a_line_of_code(file: Path) -> None:
    too_long = [
        (number, len(line))
        for number, line in enumerate(file.read_text(encoding="utf-8").splitlines(), 1)
        if len(line) > LONGEST and "unicode-range" not in line
    ]

    assert not too_long
