"""What would help most is what the same simulation says of the same bottle with one thing changed."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import assess
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.keeping.findings import fit_to_sell
from uptide.core.keeping.limiting import fewer, median_months
from uptide.core.keeping.mixing import antioxidants_of, mixture_of
from uptide.core.keeping.sensitivities import Sensitivity, sensitivities
from uptide.core.keeping.shelf_life import School, ShelfLife, StorageHistory
from uptide.core.keeping.storage_history import placed
from uptide.core.oxidation.mixture import mix_oils
from uptide.core.oxidation.protection import protection_factor
from uptide.core.oxidation.simulate import make_draws
from uptide.core.oxidation.surroundings import Glass, Light, Storage
from uptide.core.recipe.recipe import Entry, Recipe, Row

DRAWS = make_draws(np.random.default_rng(1), 1000)
SILL = placed(replace(Storage(), glass=Glass.CLEAR, opened=True), "sunny shelf")
JUNE = StorageHistory(start_month=5)


def read_of(catalogue: Catalogue, *rows: str) -> list[tuple[Row, Ingredient]]:
    recipe = Recipe(tuple(Entry(row) for row in rows))
    usage = catalogue.usage_context(recipe, date(2026, 11, 25))
    found = assess(recipe, catalogue.ingredients, catalogue.names, usage=usage)
    return [(row, row.ingredient) for row in found.resolution.read if row.ingredient]


def helped(catalogue: Catalogue, *rows: str, by: str = "sunflower-high-oleic") -> dict[str, Sensitivity]:
    found = sensitivities(read_of(catalogue, *rows), SILL, DRAWS, JUNE, catalogue.ingredients[by])
    return {each.name: each for each in found}


def test_each_help_is_the_same_bottle_with_one_thing_changed(catalogue: Catalogue) -> None:
    rows = ("60 g rosehip", "40 g jojoba", "0.1 g mixed tocopherols")
    read, few = read_of(catalogue, *rows), fewer(DRAWS)
    oils, added = mixture_of(read), antioxidants_of(read)

    def typical(storage: Storage = SILL, *, tocopherols: float = 0.0, carnosic: float = 0.0) -> float:
        more = replace(
            added,
            mixed_tocopherols=added.mixed_tocopherols + tocopherols,
            carnosic_acid=added.carnosic_acid + carnosic,
        )
        return median_months(oils, storage, few, protection_factor(more, oils.gamma, oils.alpha, oils.cox), 5)

    now = typical()
    fridge = replace(SILL, celsius=(4.0,) * 12, swing=1.0, light=Light.DARK)
    by_hand = {
        "0.1 % mixed tocopherols": typical(tocopherols=1000.0),
        "0.1 % rosemary extract (10 % carnosic acid)": typical(carnosic=100.0),
        "amber glass": typical(replace(SILL, glass=Glass.AMBER)),
        "the dark": typical(replace(SILL, light=Light.DARK)),
        "the fridge": typical(fridge),
        "smaller bottles, each opened when the last is empty": (now + typical(replace(SILL, opened=False))) / 2,
    }
    found = helped(catalogue, *rows)

    assert added.mixed_tocopherols > 0
    for name, months in by_hand.items():
        if months - now > 0.05:
            assert found[name].typical == pytest.approx(months), name
            assert found[name].months_gained == pytest.approx(months - now), name
            assert found[name].before == pytest.approx(now)
        else:
            assert name not in found
    assert {"amber glass", "the dark", "the fridge"} <= found.keys()


def test_the_weakest_oil_is_the_one_that_brings_most_to_oxidise(catalogue: Catalogue) -> None:
    found = helped(catalogue, "60 g olive", "40 g rosehip", "20 g squalane")
    read = read_of(catalogue, "60 g olive", "40 g rosehip", "20 g squalane")
    oils = mixture_of(read)
    steady = catalogue.ingredients["sunflower-high-oleic"].oxidation
    assert steady is not None
    mixed = mix_oils([replace(part, oil=steady) if part.oil.key == "rosehip" else part for part in oils.parts])
    protection = protection_factor(antioxidants_of(read), mixed.gamma, mixed.alpha, mixed.cox)

    name = "Sunflower oil (high oleic) in place of Rosehip seed oil"
    assert found[name].typical == pytest.approx(median_months(mixed, SILL, fewer(DRAWS), protection, 5))
    assert not any("in place of" in each for each in helped(catalogue, "100 g high oleic sunflower"))
    assert not any("in place of" in each for each in helped(catalogue, "100 g squalane"))
    assert helped(catalogue, "50 g olive", "50 g water") == {}  # the model does not speak of it


@pytest.mark.parametrize(
    ("months", "word", "said"),
    [
        (12, "holds 12 months", "Nine bottles in ten hold 12 months where it will stand, and 12 are wanted."),
        (11, "not 12 months", "It holds 11 months, 1 too few. “What would help most” says what lengthens it."),
    ],
)
def test_what_is_sold_must_hold_a_year(catalogue: Catalogue, months: int, word: str, said: str) -> None:
    mixture = mixture_of(read_of(catalogue, "100 g olive"))
    life = ShelfLife(months, School.COMPUTED, reason="", low=11.2, high=19.5, mixture=mixture)
    (found,) = fit_to_sell(life)

    assert (found.value, found.low, found.high, found.word) == (months, 11.2, 19.5, word)
    assert found.remark == f"{said} A model is no stability test: keep bottles of each batch and look at them."
    assert (found.sources, found.confidence) == (("common-practice",), "low")


def test_what_nobody_knows_is_not_fit_to_sell() -> None:
    (found,) = fit_to_sell(ShelfLife(None, School.COMPUTED, reason="It holds water."))

    assert (found.value, found.word) == (None, "not fit to sell")
    assert found.remark == "Unknown, so not fit to sell: It holds water."
