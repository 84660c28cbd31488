"""The oils of the calibration set, and bottles that stand at 20 °C in the dark."""

from __future__ import annotations

import numpy as np
import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.oxidation.oil import OilOxidation
from uptide.core.oxidation.simulate import Draws, make_draws
from uptide.core.oxidation.surroundings import Storage

CLOSED = Storage("closed at 20 °C", (20.0,) * 12, 0.0, opened=False)


@pytest.fixture(scope="session")
def oils(catalogue: Catalogue) -> dict[str, OilOxidation]:
    return {key: item.oxidation for key, item in catalogue.ingredients.items() if item.oxidation is not None}


@pytest.fixture(scope="session")
def draws() -> Draws:
    return make_draws(np.random.default_rng(1), 20_000)
