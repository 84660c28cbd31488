"""The list of ingredients: names and the one percent of each region; colourants last."""

from __future__ import annotations

from dataclasses import replace

import pytest

from uptide.catalogue.plants import plant_named
from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.making.ingredient_list import Listed, in_any_order, listed_ingredients, name_in
from uptide.core.making.label import Symbol, symbol_of
from uptide.core.recipe.recipe import Entry, IntendedUse, Recipe

FACTS = shipped_catalogue()


def assessed(text: str, region: str) -> Assessment:
    recipe = Recipe(tuple(Entry(row) for row in text.splitlines()), "facial-oil", use=IntendedUse(region))
    return assess(recipe, FACTS.ingredients, FACTS.names, {})


def names(text: str, region: str) -> list[str]:
    found = listed_ingredients(assessed(text, region), lambda words: plant_named(words, shipped_plants()))
    return [each.name for each in found]


@pytest.mark.parametrize(
    ("inci", "plain", "english"),
    [
        # As the INCI dictionary writes them for the US, from memory.
        ("Helianthus Annuus Seed Oil", "Sunflower oil (high linoleic)", "Helianthus Annuus (Sunflower) Seed Oil"),
        ("Vitis Vinifera Seed Oil", "Grapeseed oil", "Vitis Vinifera (Grape) Seed Oil"),
        ("Prunus Amygdalus Dulcis Oil", "Sweet almond oil", "Prunus Amygdalus Dulcis (Sweet Almond) Oil"),
        ("Oryza Sativa Bran Oil", "Rice bran oil", "Oryza Sativa (Rice) Bran Oil"),
        ("Argania Spinosa Kernel Oil", "Argan oil", "Argania Spinosa (Argan) Kernel Oil"),
        ("Lavandula Angustifolia Oil", "Lavender (true) essential oil", "Lavandula Angustifolia (Lavender) Oil"),
        ("Moringa Oleifera Seed Oil", "Moringa seed oil", "Moringa Oleifera Seed Oil"),
        ("Squalane", "", "Squalane"),
        ("Aqua", "", "Water"),
        ("Parfum", "", "Fragrance"),
        ("Cera Alba", "", "Beeswax"),
    ],
)
def test_names_in_the_us_are_english_and_elsewhere_as_they_are(inci: str, plain: str, english: str) -> None:
    assert name_in(inci, plain, "US") == english
    assert name_in(inci, plain, "EU") == name_in(inci, plain, "UK") == inci


def test_a_list_is_by_mass_in_the_names_of_its_region() -> None:
    text = "60 g sunflower\n39 g beeswax\n1 g safflower high oleic\n2 g safflower"
    assert names(text, "EU") == ["Helianthus Annuus Seed Oil", "Cera Alba", "Carthamus Tinctorius Seed Oil"]
    assert names(text, "US")[1:] == ["Beeswax", "Carthamus Tinctorius (Safflower) Seed Oil"]


def test_at_exactly_one_percent_the_regions_differ() -> None:
    listed = [Listed("Oil", 98.0), Listed("At it", 1.0), Listed("Below", 0.9), Listed("Loose", None)]
    assert in_any_order(listed, "EU") == in_any_order(listed, "UK") == ("Below",)
    assert in_any_order(listed, "US") == ("At it", "Below")
    assert in_any_order([replace(listed[1], percent=1.002)], "US") == ()


def test_shares_are_of_the_whole() -> None:
    found = listed_ingredients(assessed("99 g olive\n1 g jojoba", "EU"))
    assert [each.percent for each in found] == pytest.approx([99.0, 1.0])


def test_what_is_there_for_its_colour_stands_last_under_its_number() -> None:
    text = "50 g olive oil infused with annatto\n50 g jojoba\n0.01 g lavender"
    assert names(text, "EU")[-1] == "CI 75120"
    assert names(text, "US")[-1] == "Annatto"
    listed = listed_ingredients(assessed(text, "EU"), lambda words: plant_named(words, shipped_plants()))
    assert (listed[-1].percent or 0) > (listed[-2].percent or 0)  # last, and not for its weight


@pytest.mark.parametrize(
    ("months", "region", "symbol"),
    [
        (30, "EU", Symbol.HOURGLASS),
        (31, "EU", Symbol.OPEN_JAR),
        (31, "UK", Symbol.OPEN_JAR),
        (31, "US", None),
        (None, "EU", None),
        (0, "EU", None),
    ],
)
def test_what_keeps_longer_than_30_months_bears_the_open_jar(
    months: int | None, region: str, symbol: Symbol | None
) -> None:
    # Regulation (EC) 1223/2009, Article 19 (1) c.
    assert symbol_of(months, region) is symbol
