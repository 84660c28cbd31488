"""From the words a person uses to the ingredient they mean."""

from __future__ import annotations

import pickle
from datetime import date

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.catalogue.stock import stocked
from uptide.core.ingredients.own_oil import OwnOil
from uptide.core.measures.names import OFFERED, NameIndex, essence, normalise
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.recipe.resolve import resolve


@pytest.mark.parametrize(
    ("name", "key"),
    [
        ("Organic, cold-pressed Grapeseed Oil", "grapeseed"),
        ("VITIS VINIFERA SEED OIL", "grapeseed"),
        ("Vitis vinifera", "grapeseed"),
        ("linseed", "flaxseed"),
        ("groundnut oil", "peanut"),
        ("karite butter", "shea-butter"),
        ("Karité", "shea-butter"),
        ("rosa mosqueta", "rosehip-rubiginosa"),
        ("Rosa rubiginosa", "rosehip-rubiginosa"),
        ("St. Ives rosehip", ""),
        ("caprylic/capric triglyceride", "mct"),
        ("MCT oil", "mct"),
        ("ylang-ylang", "ylang-ylang"),
        ("may chang", "litsea"),
        ("rosewater", "rose-hydrosol"),
        ("polysorbate 80", "polysorbate-80"),
        ("castile soap", "liquid-soap"),
        ("epsom salts", "epsom-salt"),
        ("evening primrose", "evening-primrose"),
        ("nigella", "black-cumin"),
        ("seabuckthorn berry oil", "sea-buckthorn-fruit"),
        ("carrot seed essential oil", "carrot-seed-essential"),
        ("jojobba", ""),
        ("almnod oil", ""),
        ("avacado", ""),
        ("Boswellia Carterii Oil", "frankincense"),
        ("Boswellia carterii", ""),  # its distilled oil or its extract
        ("Thymus zygis", "thyme-thymol"),
        ("mandarin petitgrain", "petitgrain-mandarin"),
        ("sweet almonds", "almond-sweet"),
        ("camomile hydrolat", "chamomile-hydrosol"),
        ("rose abs", "rose-absolute"),
        ("rose hip seed oil", "rosehip"),
    ],
)
def test_a_name_is_one_ingredient_or_is_asked_about(name: str, key: str, catalogue: Catalogue) -> None:
    match = catalogue.names.match(name)

    if key:
        assert match.sure
        assert match.keys == (key,)
    else:
        assert not match.sure


@pytest.mark.parametrize(
    "name", ["sunflower", "safflower", "sea buckthorn", "rosemary", "chamomile", "frankincense", "orange"]
)
def test_a_shared_name_offers_all_that_bear_it(name: str, catalogue: Catalogue) -> None:
    match = catalogue.names.match(name)

    assert not match.sure
    assert len(match.keys) >= 2
    assert all(name.split()[0] in catalogue.ingredients[key].name.lower() for key in match.keys)


def test_drops_tell_a_scent_from_a_carrier_and_say_so(catalogue: Catalogue) -> None:
    poured, dropped = catalogue.names.match("carrot seed"), catalogue.names.match("carrot seed", in_drops=True)

    assert set(poured.keys) == {"carrot-seed", "carrot-seed-essential"}
    assert dropped.keys == ("carrot-seed-essential",)
    assert "counted in drops" in dropped.remark


def test_short_words_are_not_guessed(catalogue: Catalogue) -> None:
    assert not catalogue.names.match("nem").sure
    assert not catalogue.names.match("zz").keys


def test_no_more_is_offered_than_a_person_reads(catalogue: Catalogue) -> None:
    assert len(catalogue.names.match("the seed from the market").keys) <= OFFERED


# What was typed, and what it must never be taken for: another substance, another plant, another part or preparation.
@pytest.mark.parametrize(
    ("typed", "offered"),
    [
        ("squalene", ["squalane"]),
        ("kanuka", ["manuka"]),
        ("morinda", ["moringa"]),
        ("calendula oil", ["infused-oil", "calendula-co2"]),
        ("rosehip CO2", ["rosehip"]),
        ("light olive oil", ["olive"]),
        ("carrot oil", ["carrot-seed", "carrot-seed-essential", "infused-oil"]),
        ("cocoa", ["cocoa-butter"]),
        ("peanut butter", ["peanut"]),
        ("almond butter", ["almond-sweet"]),
        ("rosemary hydrosol", []),
        ("vaseline", ["mineral-oil"]),
        ("vitamin A", ["retinol", "retinyl-palmitate", "retinyl-acetate"]),
    ],
)
def test_another_substance_is_never_taken_for_the_one_typed(
    typed: str, offered: list[str], catalogue: Catalogue
) -> None:
    match = catalogue.names.match(typed)

    assert not match.sure
    assert list(match.keys[: len(offered)]) == offered


def test_inci_and_botanical_names_decide_exactly(catalogue: Catalogue) -> None:
    for key, item in catalogue.ingredients.items():
        if item.inci:
            assert key in catalogue.names.match(item.inci).keys, key
            sharing = [k for k, other in catalogue.ingredients.items() if other.inci == item.inci]
            assert catalogue.names.match(item.inci).sure is (len(sharing) == 1), key


def test_a_slip_between_two_names_is_asked_about() -> None:
    index = NameIndex([("a", "moringa"), ("b", "moringo")], {"a": "carrier", "b": "carrier"})

    assert set(index.match("moringe").keys) == {"a", "b"}
    assert not index.match("moringe").sure


def test_normal_form_and_essence() -> None:
    assert normalise("  Cupuaçu--Butter! ") == "cupuacu butter"
    assert essence("organic cold pressed sweet almond oil") == "sweet almond"
    assert essence("oil") == "oil"  # nothing would be left


@pytest.mark.parametrize(
    ("name", "key"),
    [
        ("high oleic sunflower", "sunflower-high-oleic"),
        ("high-linoleic safflower oil", "safflower"),
        ("almond sweet", "almond-sweet"),
    ],
)
def test_the_order_of_the_words_of_a_name_makes_no_other_thing(name: str, key: str, catalogue: Catalogue) -> None:
    assert catalogue.names.match(name).keys == (key,)
    assert catalogue.names.match(name).sure


@pytest.mark.parametrize(
    ("name", "typed"),
    [
        ("椿油", "10 ml 椿油"),
        ("Rørkål oil", "2 tbsp rorkal"),
        ("Кедровое масло", "5 g кедровое масло"),
        ("भृंगराज", "1 tsp भृंगराज"),
    ],
)
def test_names_in_all_scripts_are_kept_and_found(name: str, typed: str) -> None:
    own = OwnOil(name)
    facts = stocked(shipped_catalogue(), {own.key: own}, (), {}, date(2026, 11, 26))
    row = resolve(Recipe((Entry(typed),)), facts.ingredients, facts.names).rows[0]

    assert row.ingredient is not None
    assert row.ingredient.name == name


def test_two_names_that_differ_in_letters_beyond_ascii_stay_two() -> None:
    assert OwnOil("椿油").key != OwnOil("菜油").key
    assert normalise("é è") == "e e"


def test_a_code_means_its_lot_unless_it_is_a_name_already() -> None:
    names, kinds = [("olive", "Olive oil"), ("rose-otto", "Rose otto")], {"olive": "oil", "rose-otto": "essential_oil"}
    codes = [("lot:A-1", "A-1"), ("lot:olive", "olive"), ("lot:B-2", "A-1")]
    index = NameIndex(names, {**kinds, "lot:A-1": "oil", "lot:olive": "oil", "lot:B-2": "oil"}, codes)

    assert index.match("a 1").keys == ("lot:A-1",)
    assert index.match("Olive oil").keys == index.match("olive").keys == ("olive",)
    assert not index.match("a 2").sure
    kept = pickle.loads(pickle.dumps(index))  # noqa: S301 - its own, as the catalogue is kept read
    assert kept.match("A-1") == index.match("A-1")
    assert kept.match("rose otto").sure
