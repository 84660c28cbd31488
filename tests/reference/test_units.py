"""Kitchen units against pint's own registry, which holds NIST SP 811 and the imperial units."""

from __future__ import annotations

import pint
import pytest

from uptide.core.measures.units import SIZES, UNITS, Dimension, size_of

PINT: pint.UnitRegistry[float] = pint.UnitRegistry()
VOLUMES = {
    "millilitre": "milliliter", "centilitre": "centiliter", "decilitre": "deciliter", "litre": "liter",
    "us_gallon": "gallon", "us_quart": "quart", "us_pint": "pint", "us_cup": "cup", "us_fluid_ounce": "fluid_ounce",
    "us_tablespoon": "tablespoon", "us_teaspoon": "teaspoon", "uk_gallon": "imperial_gallon",
    "uk_quart": "imperial_quart", "uk_pint": "imperial_pint", "uk_fluid_ounce": "imperial_fluid_ounce",
}  # fmt: skip
MASSES = {"gram": "gram", "milligram": "milligram", "kilogram": "kilogram", "ounce_weight": "ounce", "pound": "pound"}
# What the registry has not: a dessertspoon is two teaspoons (common practice), metric spoons are whole mL.
METRIC = {"metric_cup": 250, "metric_tablespoon": 15, "metric_dessertspoon": 10, "metric_teaspoon": 5}


@pytest.mark.parametrize(("ours", "theirs"), VOLUMES.items())
def test_volumes_are_those_of_the_registry(ours: str, theirs: str) -> None:
    assert size_of(ours) == pytest.approx(PINT.Quantity(1, theirs).to("milliliter").magnitude, rel=1e-9)


@pytest.mark.parametrize(("ours", "theirs"), MASSES.items())
def test_masses_are_those_of_the_registry(ours: str, theirs: str) -> None:
    assert size_of(ours) == pytest.approx(PINT.Quantity(1, theirs).to("gram").magnitude, rel=1e-9)


def test_every_size_is_checked_and_every_unit_has_one() -> None:
    assert set(SIZES) == {*VOLUMES, *MASSES} | {
        *METRIC,
        "us_dessertspoon",
        "uk_cup",
        "au_tablespoon",
        "old_uk_tablespoon",
    }
    assert {name: size_of(name) for name in METRIC} == METRIC
    assert size_of("us_dessertspoon") == 2 * size_of("us_teaspoon")
    assert size_of("uk_cup") == pytest.approx(size_of("uk_pint") / 2)
    assert size_of("old_uk_tablespoon") == pytest.approx(size_of("uk_fluid_ounce") * 5 / 8)
    assert size_of("au_tablespoon") == 20  # AS 1325, from memory
    measured = [unit for unit in UNITS.values() if unit.dimension in (Dimension.VOLUME, Dimension.MASS)]
    assert all(name in SIZES for unit in measured for _, name in unit.by_system)
