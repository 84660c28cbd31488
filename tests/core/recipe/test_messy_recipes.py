"""Twenty recipes in the ways people write them: nearly all are answered at once, and none takes more than one tap."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest
from tests.conftest import Weigh

from uptide.core.recipe.recipe import RowStatus

RECIPES = (Path(__file__).parent / "messy_recipes.txt").read_text(encoding="utf-8").split("---\n")
MOST_TAPS = 1
FIGURES = ("feel", "comedogenicity", "scent_dose", "phototoxicity", "total_mass")


def test_there_are_twenty() -> None:
    assert len(RECIPES) == 20


@pytest.mark.parametrize("text", RECIPES, ids=[text.splitlines()[0] for text in RECIPES])
def test_every_figure_stands_after_one_tap_at_most(text: str, weigh: Weigh, capsys: pytest.CaptureFixture[str]) -> None:
    found = weigh(text)
    taps = [row.typed for row in found.rows if row.status not in (RowStatus.READ, RowStatus.COMMENT)]
    with capsys.disabled():
        sys.stdout.write(f"{len(taps)} taps: {text.splitlines()[0]}\n" if taps else "")

    assert len(taps) <= MOST_TAPS
    if not taps:
        assert [key for key in FIGURES if found.finding(key).value is None] == []
    weighed = [row for row in found.rows if row.status is RowStatus.READ]
    assert sum(row.percent_mass or 0.0 for row in weighed) == pytest.approx(100)
