"""What a plant is not for holds of its leaves and berries too, and what nobody knows is never nothing."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import assess
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.safety.caution import Caution
from uptide.core.skin.wearer import ALLERGIES, HEALTH, Ticks, Wearer

INES = Wearer(
    "Ines",
    pregnant=True,
    allergies=Ticks.answered(ALLERGIES, "daisy", "aspirin"),
    health=Ticks.answered(HEALTH, "epilepsy", "g6pd"),
)


def cautions(catalogue: Catalogue, typed: str) -> dict[str, Caution]:
    recipe = Recipe((Entry(typed),))
    usage = catalogue.usage_context(recipe, date(2026, 11, 28), INES)
    return {c.rule: c for c in assess(recipe, catalogue.ingredients, catalogue.names, usage=usage).cautions}


def test_parts_of_a_plant_are_that_plant(catalogue: Catalogue) -> None:
    flagged = [plant for plant in catalogue.plants.values() if plant.flags]
    assert len(flagged) > 20
    for plant in flagged:
        plain = cautions(catalogue, f"30 g {plant.name} infused olive oil")
        fired = {rule for rule in plain if rule.startswith("plant-")}
        for said in (f"dried {plant.name} leaves", f"{plant.name} flowers", f"organic {plant.name}"):
            for typed in (f"30 g {said} infused olive oil", f"30 g olive oil infused with {said}"):
                assert fired <= set(cautions(catalogue, typed)), typed
                assert "plant-unknown" not in cautions(catalogue, typed), typed


@pytest.mark.parametrize(
    ("typed", "rule"),
    [
        ("30 g sage leaves infused olive oil", "plant-pregnancy"),
        ("30 g juniper berries infused olive oil", "plant-pregnancy"),
        ("30 g licorice root infused olive oil", "plant-pregnancy"),
        ("30 g olive oil infused with rosemary needles", "plant-epilepsy"),
        ("30 g olive oil infused with peppermint tops and calendula", "plant-g6pd"),
        ("30 g cottonwood buds infused jojoba", "plant-salicylate"),
    ],
)
def test_as_people_write_it(typed: str, rule: str, catalogue: Catalogue) -> None:
    found = cautions(catalogue, typed)[rule]
    assert (found.who, found.is_unknown) == ("Ines", False)


def test_all_that_is_named_in_one_breath_counts(catalogue: Catalogue) -> None:
    found = cautions(catalogue, "30 g peppermint sage hedge-cut infused olive oil")
    assert {"plant-g6pd", "plant-pregnancy"} <= set(found)
    assert "plant-unknown" not in found


def test_where_no_plants_are_known_none_is_unknown(catalogue: Catalogue) -> None:
    bare = replace(catalogue, safety=replace(catalogue.safety, plants={}))
    assert "plant-unknown" not in cautions(bare, "30 g zorgweed infused olive oil")


def test_what_nobody_knows_is_said(catalogue: Catalogue) -> None:
    found = cautions(catalogue, "30 g olive oil infused with zorgweed and sage")["plant-unknown"]
    assert found.is_unknown
    assert found.message == "Unknown: whom “zorgweed” is not for. No plant of that name is known here."
    assert found.names == ("Olive oil (virgin)",)
    assert "plant-unknown" not in cautions(catalogue, "30 g olive oil")
