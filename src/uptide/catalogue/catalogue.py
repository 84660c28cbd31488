"""The catalogue as it stands in memory: every published fact, immutable."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date

from uptide.core.errors import UnknownKeyError
from uptide.core.infusion.plants import PlantFacts
from uptide.core.ingredients.ingredient import Ingredient, Price
from uptide.core.lipids.fatty_acids import FattyAcid
from uptide.core.measures.names import NameIndex
from uptide.core.recipe.recipe import Recipe
from uptide.core.safety.case import Purpose, UsageContext
from uptide.core.safety.tables import EMPTY, SafetyTables
from uptide.core.skin.wearer import ANYONE, Wearer


@dataclass(frozen=True, slots=True)
class Source:
    """Where a figure is from."""

    key: str
    citation: str
    licence: str
    how_read: str


@dataclass(frozen=True, slots=True)
class Product:
    """A kind of product."""

    key: str
    name: str
    left_on: bool
    area: str
    usual_ml: float
    container: str
    note: str


@dataclass(frozen=True, eq=False)
class Catalogue:
    """Every published fact the application computes with; loaded once, so that identity is equality."""

    acids: Mapping[str, FattyAcid]
    ingredients: Mapping[str, Ingredient]
    sources: Mapping[str, Source]
    products: Mapping[str, Product]
    names: NameIndex
    synonyms: tuple[tuple[str, str], ...] = ()  # (ingredient key, a name beside its own)
    asked: Mapping[str, tuple[tuple[str, ...], str]] = field(default_factory=dict)  # names that are asked about
    on_hand: Mapping[str, tuple[tuple[str, float], ...]] = field(default_factory=dict)  # (lot code, g left) by oil
    prices: Mapping[str, Price] = field(default_factory=dict)  # by ingredient, and by lot
    best_before: Mapping[str, tuple[date, str]] = field(default_factory=dict)  # the supplier's, of the lot in use
    safety: SafetyTables = EMPTY
    plants: Mapping[str, PlantFacts] = field(default_factory=dict)  # what is steeped, by key

    def product(self, key: str) -> Product:
        """The product of this key; raise UnknownKeyError that lists those there are."""
        if key not in self.products:
            raise UnknownKeyError(f"There is no product “{key}”; known are {', '.join(self.products)}.")
        return self.products[key]

    def usage_context(
        self, recipe: Recipe, today: date, wearer: Wearer = ANYONE, texts: Mapping[str, str] | None = None
    ) -> UsageContext:
        """What is around a recipe: where on the body its product goes, whether it is rinsed off, and the rest."""
        product, use = self.product(recipe.product), recipe.use
        purpose = Purpose(
            product=product.key,
            area=product.area,
            rinsed=not product.left_on,
            region=use.region,
            for_sale=use.for_sale,
            placed_on=use.placed_on,
            night_only=use.night_only,
            usual_ml=product.usual_ml,
            usual_container=product.container,
        )
        return UsageContext(self.safety, purpose, wearer=wearer, today=today, texts=texts or {})

    def usage_of(self, product: str, today: date, wearer: Wearer = ANYONE) -> UsageContext:
        """What is around a product of which nothing more is known."""
        return self.usage_context(Recipe((), product), today, wearer)

    @property
    def product_names(self) -> dict[str, str]:
        """The names of the products by their keys."""
        return {key: product.name for key, product in self.products.items()}

    def ingredient(self, key: str) -> Ingredient:
        """The ingredient of this key; raise UnknownKeyError if there is none."""
        if key not in self.ingredients:
            raise UnknownKeyError(f"There is no ingredient “{key}” in the catalogue.")
        return self.ingredients[key]


def names_of(ingredients: Mapping[str, Ingredient], synonyms: Iterable[tuple[str, str]]) -> Iterator[tuple[str, str]]:
    """All names of each ingredient: key, name with and without its bracket, INCI, botanical names, synonyms."""
    for key, item in ingredients.items():
        yield key, key
        yield key, item.name
        yield key, re.sub(r"\s*\([^)]*\)", "", item.name)
        if item.inci:
            yield key, item.inci
        genus = item.botanical_name.split(" ")[0]
        for species in re.split(r" or | / ", re.sub(r"\([^)]*\)", "", item.botanical_name)):
            whole = re.sub(r"^[A-Z]\. ", f"{genus} ", species.strip())
            if whole:
                yield key, whole if " " in whole else f"{genus} {whole}"
    yield from synonyms
