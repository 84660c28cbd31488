"""An oil clears within the range in which its cloud point was published, whatever the melting model says of it."""

from __future__ import annotations

import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.lipids.lipid import Lipid
from uptide.core.physics.solid import NEAR, Melt, Melting, clear_above, cloud_shift

FACTS = shipped_catalogue()


def lipid(key: str) -> Lipid:
    found = FACTS.ingredients[key].lipid
    assert found is not None
    return found


COCOA = lipid("cocoa-butter")
CLEARS = clear_above(Melt.of((Melting(1.0, COCOA, None),))) or 0.0


@pytest.mark.parametrize(
    ("low", "high", "shift"),
    [(-20.0, -10.0, -10.0), (5.0, 9.0, 5.0), (-3.0, 4.0, 0.0), (0.0, 4.0, 0.0)],
    ids=["clears colder", "clears warmer", "agrees", "at the end of its range"],
)
def test_it_is_moved_to_the_near_end_of_its_range(low: float, high: float, shift: float) -> None:
    assert CLEARS > 0
    assert cloud_shift(COCOA, CLEARS + low, CLEARS + high) == pytest.approx(shift, abs=2 * NEAR)


def test_what_sets_at_no_temperature_is_not_moved() -> None:
    assert cloud_shift(lipid("squalane"), 5.0, 9.0) == 0.0
