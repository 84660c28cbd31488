"""Density and the height of a pour."""

from __future__ import annotations

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import ContainerError
from uptide.core.lipids.lipid import iodine_value, saponification_value
from uptide.core.physics.bottle import Container
from uptide.core.physics.density import LUND_ERROR, blend_density, density_at, lund_density


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

    assert sum(errors) / len(errors) < LUND_ERROR


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
