"""Containers: sizes as they are sold, and their shapes by hand arithmetic. Sizes and shapes: common practice."""

from __future__ import annotations

from math import pi

import pytest
from tests.conftest import Weigh

from uptide.core.physics.bottle import Container

SOLD = (5, 10, 15, 20, 30, 50, 60, 100, 120, 150, 200, 250, 300, 500, 1000, 2000, 2500, 5000, 10_000)


@pytest.mark.parametrize(("size", "larger"), list(zip(SOLD, (*SOLD[1:], None), strict=True)))
def test_what_fills_a_size_that_is_sold_is_put_in_it_and_a_little_more_in_the_next(
    size: int, larger: int | None, weigh: Weigh
) -> None:
    assert put_in(f"{size} ml jojoba", weigh) == size
    if larger is not None:
        assert put_in(f"{1.03 * size} ml jojoba", weigh) == larger


def put_in(recipe: str, weigh: Weigh) -> float:
    bottle = weigh(recipe).bottle
    assert bottle is not None
    return bottle.container.size_ml


# Diameter of a cylinder of 100 mL that is so many diameters high, (4 V / (pi s))^(1/3), worked out by hand.
@pytest.mark.parametrize(
    ("kind", "diameter", "neck"),
    [
        ("dropper", 43.0, 0.42),
        ("pump", 38.7, 0.40),
        ("spray", 38.1, 0.38),
        ("bottle", 39.9, 0.40),
        ("roller", 34.1, 0.75),
        ("squeeze", 37.6, 0.36),
        ("jar", 59.0, 0.94),
    ],
)
def test_the_shape_of_a_kind(kind: str, diameter: float, neck: float) -> None:
    held = Container(kind, 100)

    assert held.diameter_mm == pytest.approx(diameter, abs=0.05)
    assert held.shoulder_mm * pi / 4 * held.diameter_mm**2 == pytest.approx(100_000)
    over = held.height_mm(101) - held.shoulder_mm
    assert over == pytest.approx(1000 / (pi / 4 * (neck * diameter) ** 2), rel=0.01)
