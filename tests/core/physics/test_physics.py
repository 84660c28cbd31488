"""Density and the height of a pour."""

from __future__ import annotations

import re
from math import inf, pi

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import ContainerError
from uptide.core.lipids.lipid import iodine_value, saponification_value
from uptide.core.physics.bottle import LARGEST, SMALLEST, Container
from uptide.core.physics.density import blend_density, density_at, lund_density
from uptide.core.physics.settling import fall_seconds
from uptide.core.physics.solid import state_word


def test_blend_density_adds_volumes() -> None:
    # By hand: 1 / (0.6/0.917 + 0.4/0.864) = 0.89504; naive mean of densities would be 0.8958.
    assert blend_density([(60, 0.917), (40, 0.864)]) == pytest.approx(0.89504, abs=5e-6)


def test_density_falls_by_0_65_mg_per_ml_and_kelvin() -> None:
    assert density_at(0.89504, 20, 35) == pytest.approx(0.88529, abs=5e-6)


def test_lund_is_within_its_error_for_plain_oils(catalogue: Catalogue) -> None:
    """Lund's relation against the tables' densities: Codex STAN 210 mid-ranges, from memory."""
    errors = []
    for key in ("grapeseed", "olive", "sunflower", "sesame", "almond-sweet", "canola", "soybean", "safflower", "corn"):
        item = catalogue.ingredients[key]
        assert item.lipid is not None
        errors.append(abs(lund_density(saponification_value(item.lipid), iodine_value(item.lipid)) - item.density))

    assert sum(errors) / len(errors) < 0.003  # g/mL, its mean error against handbook densities


def test_a_full_bottle_stands_at_its_shoulder_and_half_of_it_half_as_high() -> None:
    bottle = Container("bottle", 100)

    assert bottle.height_mm(100) == pytest.approx(bottle.shoulder_mm)
    assert bottle.height_mm(50) == pytest.approx(bottle.shoulder_mm / 2)
    # A cylinder of 100 mL twice as high as wide: d = (4 V / 2π)^(1/3) = 39.9 mm.
    assert bottle.diameter_mm == pytest.approx(39.9, abs=0.05)


def test_what_is_past_the_shoulder_rises_faster() -> None:
    bottle = Container("dropper", 30)

    assert bottle.height_mm(31) - bottle.height_mm(30) > bottle.height_mm(30) - bottle.height_mm(29)


@pytest.mark.parametrize(("kind", "size"), [("bucket", 30), ("bottle", 0.2), ("bottle", 1e6)])
def test_containers_that_cannot_be_are_refused(kind: str, size: float) -> None:
    with pytest.raises(ContainerError):
        Container(kind, size)


def test_past_the_shoulder_oil_stands_in_a_neck_of_its_own_width() -> None:
    jar = Container("jar", 100)
    neck = pi / 4 * (0.94 * jar.diameter_mm) ** 2  # mm²; a jar is nearly as wide at its neck
    bottle = Container("bottle", 30)

    assert jar.height_mm(110) - jar.height_mm(100) == pytest.approx(10_000 / neck)
    assert pi / 4 * bottle.diameter_mm**2 * bottle.shoulder_mm == pytest.approx(30_000)
    assert bottle.shoulder_mm / bottle.diameter_mm == pytest.approx(2)


@pytest.mark.parametrize(
    ("kind", "size", "said"),
    [
        ("bucket", 30.0, "There is no container called “bucket”; known are dropper, pump, spray, bottle, roller"),
        ("bottle", 0.999 * SMALLEST, "A container of 0.999 mL cannot be filled here; 1 to 20,000 mL can."),
        ("bottle", 1.001 * LARGEST, "A container of 20020 mL cannot be filled here; 1 to 20,000 mL can."),
    ],
)
def test_a_container_that_cannot_be_says_what_can(kind: str, size: float, said: str) -> None:
    assert {Container("jar", SMALLEST).size_ml, Container("jar", LARGEST).size_ml} == {1, 20_000}
    with pytest.raises(ContainerError, match=re.escape(said)):
        Container(kind, size)


@pytest.mark.parametrize(
    ("key", "slope"), [("castor", 0.00068), ("squalane", 0.00060), ("mct", 0.00075), ("", 0.00065)]
)
def test_each_oil_swells_by_its_own_slope(key: str, slope: float) -> None:
    assert density_at(0.95, 25.0, 20.0, key) == pytest.approx(0.95 + 5 * slope)
    assert density_at(0.95, 20.0, 40.0, key) == pytest.approx(0.95 - 20 * slope)


def test_grains_fall_by_the_law_of_stokes_and_not_where_they_are_as_light_as_oil() -> None:
    # 2/9 · (2.6 − 0.9) g/mL · 9.81 m/s² · (5 µm)² / 0.1 Pa s = 0.9265 µm/s, so 5 cm in 53,967 s.
    assert fall_seconds(10, 2.6, 0.9, 100, 0.0) == pytest.approx(53_967, rel=2e-4)
    assert fall_seconds(10, 0.9, 0.9, 100, 0.0) == inf
    assert fall_seconds(10, 0.9005, 0.9, 100, 0.0) < inf


@pytest.mark.parametrize(
    ("below", "above", "at"),
    [
        ("clear", "cloudy", 0.5),
        ("cloudy", "slushy", 4),
        ("slushy", "soft", 12),
        ("soft", "firm", 30),
        ("firm", "hard", 55),
    ],
)
def test_how_solid_fat_is_called(below: str, above: str, at: float) -> None:  # common practice, from memory
    assert (state_word(at - 0.01), state_word(at + 0.01)) == (below, above)
    assert state_word(100) == "hard"


def test_many_grains_hinder_one_another_and_half_of_it_is_a_paste() -> None:
    # Richardson and Zaki 1954: 0.7 to the power of 4.65 is 0.1904, so three tenths of grains fall 5.252 times slower.
    alone = fall_seconds(10, 2.6, 0.9, 100, 0.0)

    assert fall_seconds(10, 2.6, 0.9, 100, 0.3) / alone == pytest.approx(5.252, rel=1e-3)
    assert fall_seconds(10, 2.6, 0.9, 100, 0.49) < inf
    assert fall_seconds(10, 2.6, 0.9, 100, 0.5) == inf
