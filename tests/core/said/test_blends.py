"""What is said of a blend, of what may hurt somebody above all."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from tests.core.said.conftest import Approve

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.ingredients.ingredient import Phase
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.physics.bottle import Container
from uptide.core.recipe.recipe import Entry, IntendedUse, Recipe
from uptide.core.safety.card import answer_for, card_says, single
from uptide.core.safety.maximum_dose import maximum_dose_of
from uptide.core.skin.wearer import GROUPS, Ticks, Wearer
from uptide.core.skin.whom import read_whom

FACTS, TODAY = shipped_catalogue(), date(2026, 11, 25)
SAFETY = ("safety", "remarks")
WHOLE = ("findings", "remarks", "on_skin", "shelf_life", "setting", "looks", "acids", "bottle")


def blend(*rows: str, product: str = "body-oil", wearer: Wearer | None = None, **more: Any) -> Assessment:
    texts, reasons, ml = more.pop("texts", None), more.pop("reasons", {}), more.pop("ml", None)
    container = Container("bottle", ml) if ml else None
    recipe = Recipe(tuple(map(Entry, rows)), product, container, use=IntendedUse(**more), reasons=reasons)
    usage = FACTS.usage_context(recipe, TODAY, wearer or Wearer(), texts)
    return assess(recipe, FACTS.ingredients, FACTS.names, draws=standard_draws(), usage=usage)


def person(**said: Any) -> Wearer:
    """Somebody who was asked everything, and of whom only this holds."""
    asked = {"sensitive": False, "pregnant": False, "planning": False, "breastfeeding": False}
    return Wearer(**{"name": "Wren", "born": date(1990, 5, 1), **asked, **ticked(), **said})


def ticked(**held: str) -> dict[str, Ticks]:
    return {group: Ticks.answered(known, *held.get(group, "").split()) for group, known in GROUPS.items()}


BLENDS: dict[str, dict[str, Any]] = {
    "face-for-anyone": {
        "rows": ("2 tbsp rosehip", "1 tbsp jojoba", "12 drops lavender", "3 drops expressed bergamot"),
        "product": "facial-oil",
    },
    "in-pregnancy": {
        "rows": ("2 tbsp sweet almond", "5 drops clary sage", "3 drops rosemary verbenone", "1 tsp retinol"),
        "wearer": person(pregnant=True, **ticked(allergies="tree_nut")),
    },
    "for-a-baby": {
        "rows": ("100 ml sunflower", "2 drops peppermint", "1 drop eucalyptus globulus", "1 tsp chamomile hydrosol"),
        "wearer": Wearer("Linnet", born=date(2026, 2, 1)),
    },
    "for-sale": {
        "rows": ("90 ml grapeseed", "40 drops lemon", "20 drops lemongrass", "10 drops clove bud", "5 ml vitamin E"),
        "for_sale": True,
        "texts": {"name": "Heals eczema", "note": "natural SPF 20, cures acne"},
        "ml": 100,
    },
    "a-bath-that-floats": {
        "rows": ("50 ml jojoba", "30 drops cinnamon bark", "10 g epsom salt", "5 g sodium bicarbonate"),
        "product": "bath-oil-floating",
    },
    "a-bath-that-mixes": {
        "rows": ("50 ml jojoba", "15 ml polysorbate 80", "20 drops lavender"),
        "product": "bath-oil-dispersing",
    },
    "rinsed-off": {"rows": ("80 ml castor", "20 ml polysorbate 80", "20 drops tea tree"), "product": "cleansing-oil"},
    "rinsed-off-by-too-little": {
        "rows": ("95 ml castor", "2 ml polysorbate 80", "a blob of retinol"),
        "product": "cleansing-oil",
        "texts": {"name": "Anti-ageing, heals rosacea"},
    },
    "a-bath-that-parts": {
        "rows": ("80 ml jojoba", "20 ml sorbitan laurate", "1 tsp retinol", "5 drops expressed lime"),
        "product": "bath-oil-dispersing",
        "wearer": person(born=None, sensitive=None, **ticked(skin="", uses="sunbed")),
    },
    "in-the-sun": {
        "rows": ("100 ml olive", "20 drops expressed lime", "20 drops expressed bergamot", "2 drops rue"),
        "wearer": person(skin="dry", tone="fair", dislikes="olive", **ticked(uses="sun", medicines="photosensitiser")),
    },
    "with-medicines": {
        "rows": ("100 ml olive", "20 drops wintergreen", "10 drops sweet birch", "10 drops garlic"),
        "wearer": person(**ticked(medicines="anticoagulant", health="asthma epilepsy")),
    },
    "allergies-in-own-words": {
        "rows": ("100 ml sesame", "10 drops chamomile", "10 drops lavender", "1 g lanolin"),
        "wearer": person(other_allergies="sesame seeds, linalool, daisies, zinnwaldite", dislikes="chamomile"),
        "reasons": {"named-allergy": "asked her, it was the shell"},
    },
    "steeped": {
        "rows": ("50 ml st john's wort infused olive oil", "20 ml infused oil", "1 tbsp arnica oil", "10 ml argan"),
        "wearer": person(skin="combination", procedure_on=date(2026, 11, 20), procedure="a peel"),
    },
    "open-rows": {"rows": ("2 tbsp olive", "a splash of lavender", "some aloe gel", "a dash of zorgblat", "2 g lemon")},
    "an-old-one": {"rows": ("2 tbsp linseed, 3 years old", "20 drops tea tree, opened 2 years ago", "5 drops lime")},
}
MIXED: dict[str, dict[str, Any]] = {
    "whole-face": {
        "rows": ("2 tbsp rosehip", "1 tbsp jojoba", "12 drops lavender", "1% mixed tocopherols"),
        "product": "facial-oil",
        "ml": 50,
    },
    "whole-balm": {"rows": ("40 g shea butter", "10 g beeswax", "30 ml coconut", "20 ml hemp", "5 drops frankincense")},
}


@pytest.mark.parametrize("name", BLENDS)
def test_what_may_hurt(name: str, approve: Approve) -> None:
    said: dict[str, Any] = dict(BLENDS[name])
    found = blend(*said.pop("rows"), **said)
    figures = [each for each in found.findings if each.key in ("dose", "scent", "phototoxicity", "allergens", "bath")]
    approve(f"safety-{name}", {key: getattr(found, key) for key in SAFETY} | {"figures": figures})


def test_what_may_hurt_of_things_by_themselves(approve: Approve) -> None:
    items = [FACTS.ingredients[key] for key in ("almond-sweet", "lavender", "bergamot", "infused-oil", "retinol")]
    ines = person(skin="oily", sensitive=None, **ticked(allergies="tree_nut", conditions="eczema"))
    said = read_whom("pregnant", {}, TODAY)
    assert said is not None
    base, usage = FACTS.ingredients["jojoba"], FACTS.usage_of("facial-oil", TODAY, ines)
    found: dict[str, object] = {}
    for who in (ines, Wearer("Linnet", born=date(2020, 1, 5))):
        found[f"the card of {who.name}"] = card_says(who, items, FACTS.safety, TODAY)
    for item in items:
        found[f"{item.key} by itself"] = single(item, FACTS.safety, TODAY)
        found[f"{item.key} in pregnancy"] = answer_for(item, said, FACTS.safety, TODAY)
        if item.phase is Phase.SCENT:
            found[f"the most of {item.key}"] = maximum_dose_of(item, base, usage)
    approve("safety-alone", found)


@pytest.mark.parametrize("name", MIXED)
def test_what_it_is(name: str, approve: Approve) -> None:
    said: dict[str, Any] = dict(MIXED[name])
    found = blend(*said.pop("rows"), **said)
    approve(name, {key: getattr(found, key) for key in WHOLE})
