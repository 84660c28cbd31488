"""An axis of a picture: there and back, and round figures on it."""

from __future__ import annotations

import pytest

from uptide.web.drawing.axes import Axis


def test_what_stands_at_a_pixel_is_the_figure_that_was_put_there() -> None:
    axis = Axis([12.0, 60.0, 31.0], 380.0, 34.0)

    for value in (12.0, 31.0, 60.0):
        assert axis.figure(axis.at(value)) == pytest.approx(value, abs=0.05)
    assert 34 < axis.at(60) < axis.at(12) < 380


@pytest.mark.parametrize(
    ("values", "words"),
    [([12, 60], ["20", "40", "60"]), ([0.2, 0.9], ["0.25", "0.5", "0.75"]), ([3, 3], ["3"])],
)
def test_round_figures_are_marked(values: list[float], words: list[str]) -> None:
    found = [said for _, said in Axis(values, 0, 100).ticks()]

    assert set(words) <= set(found)
    assert len(found) <= 7
