"""A plant is found by its name among parts of plants and what is said of them."""

from __future__ import annotations

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.ingredients.plant_names import NO_NAME, NamedPlants, named_plants

NAMES = {
    "sage",
    "st johns wort",
    "tea",
    "green tea",
    "clove",
    "juniper",
    "hops",
    "rose",
    "rosemary",
    "poppy",
    "balm",
    "peach",
}


@pytest.mark.parametrize(
    ("words", "names", "is_all"),
    [
        ("sage", ("sage",), True),
        ("Dried Sage leaves", ("sage",), True),
        ("leaf of the sage", ("sage",), True),
        ("juniper berries, crushed", ("juniper",), True),
        ("cloves", ("clove",), True),
        ("hops", ("hops",), True),
        ("poppies", ("poppy",), True),
        ("peaches", ("peach",), True),
        ("St. John’s wort", ("st johns wort",), True),
        ("green tea", ("green tea",), True),
        ("rose petals", ("rose",), True),
        ("roses rosemary", ("rose", "rosemary"), True),
        ("sage green tea", ("green tea", "sage"), True),  # the longest first
        ("sage in the sun", ("sage",), False),
        ("rose geranium", ("rose",), False),
        ("sagebrush", (), False),
        ("dried leaves", (), False),
        ("", (), False),
    ],
)
def test_names_within_words(words: str, names: tuple[str, ...], is_all: bool) -> None:
    assert named_plants(words, {*NAMES, "poppy", "peach"}) == NamedPlants(names, is_all)


def test_a_part_is_no_plant() -> None:
    """“Balm leaf” is not whatever else ends in leaf."""
    assert named_plants("balm leaf", NAMES | {"leaf"}) == NamedPlants(("balm",), is_all=True)
    assert named_plants("leaf", NAMES | {"leaf"}) == NamedPlants((), is_all=False)


def test_no_name_in_the_table_is_a_part(catalogue: Catalogue) -> None:
    assert NO_NAME.isdisjoint(catalogue.safety.plants)
    for name in catalogue.safety.plants:
        assert named_plants(name, catalogue.safety.plants) == NamedPlants((name,), is_all=True)
    for plant in catalogue.plants.values():
        assert named_plants(plant.name, catalogue.safety.plants).is_all, plant.name
        assert named_plants(f"dried {plant.name} leaves", catalogue.safety.plants).is_all, plant.name


class _Counted(set[str]):
    """Names that count how often they are looked into."""

    looked = 0

    def __contains__(self, name: object) -> bool:
        self.looked += 1
        return super().__contains__(name)


def test_long_words_take_no_longer_than_they_are() -> None:
    looked = []
    for count in (10, 20):
        names = _Counted(NAMES)
        named_plants("zorgs " * count, names)
        looked.append(names.looked)
    assert looked[1] < 4 * looked[0]
