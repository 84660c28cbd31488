"""What is asked of an infused oil is answered of the plant in it, not of the oil alone."""

from __future__ import annotations

from dataclasses import replace

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import QuantityError
from uptide.core.finder.ask import ask
from uptide.core.finder.known import Known
from uptide.core.measures.names import NameIndex
from uptide.core.safety.person import judge
from uptide.core.skin.wearer import ALLERGIES, HEALTH, MEDICINES, USES, Ticks, Wearer

# What a plant is not for, by its flag in the table, as it is asked.
ASKED = {
    "pregnancy": ("in pregnancy", "while breastfeeding"),
    "epilepsy": ("with epilepsy",),
    "daisy": ("with a daisy allergy", "for a ragweed allergy"),
    "sun": ("in the sun",),
    "g6pd": ("with G6PD deficiency",),
    "children": ("for a child of 3",),
    "intact-skin": ("on broken skin",),
    "salicylate": ("with an aspirin allergy",),
}
WAYS = ("{plant} infused olive oil {whom}", "can I use olive oil infused with {plant} {whom}")
ALONE = "is {plant} oil safe {whom}"  # which may name another thing: sage oil is distilled
HARMLESS = ("nothing known stops it", ": yes,")


@pytest.mark.parametrize("flag", ASKED)
def test_no_plant_is_lost_behind_the_oil_that_it_is_in(flag: str, catalogue: Catalogue, known: Known) -> None:
    plants = {plant.name: plant for plant in catalogue.plants.values() if flag in plant.flags}
    assert plants
    for name in plants:
        for whom in ASKED[flag]:
            for way in WAYS:
                answer = ask(way.format(plant=name, whom=whom), known).answer
                assert f"Olive oil (virgin), infused with {name}: " in answer
                assert not any(words in answer for words in HARMLESS), answer
            try:
                answer = ask(ALONE.format(plant=name, whom=whom), known).answer
            except QuantityError:
                continue
            if answer.startswith(f"{name} oil, base not stated"):
                assert not any(words in answer for words in HARMLESS), answer


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ("comfrey oil in pregnancy", "Comfrey oil, base not stated: not in pregnancy"),
        ("hypericum oil and sun", "Hypericum oil, base not stated: with care in the sun"),
        ("st john's wort oil in the sun", "St john's wort oil, base not stated: with care in the sun"),
        ("rosemary infused olive oil epilepsy", "Olive oil (virgin), infused with rosemary: with care with epilepsy, "),
        ("retinyl palmitate in the sun", "Retinyl palmitate: with care in the sun"),
        ("jojoba infused with calendula for a hazelnut allergy", ", infused with calendula: nothing known stops it"),
        ("herbal oil infused with comfrey in pregnancy", "infused with comfrey: not in pregnancy"),
        ("cayenne in pregnancy", "Cayenne oil, base not stated: "),
        ("mullein flower oil in pregnancy", "Mullein flower oil, base not stated: nothing known stops it"),
        ("arnica flowers oil on broken skin", "Arnica flowers oil, base not stated: not on skin that is broken now"),
        ("can Ines use olive oil infused with cayenne on the face", ", infused with cayenne: "),
        ("infused oil in pregnancy", "Infused oil, base oil not stated: nothing known stops it in pregnancy"),
    ],
)
def test_the_plant_is_answered_of(asked: str, said: str, known: Known) -> None:
    assert said in ask(asked, known).answer


def test_the_plant_counts_in_a_product(known: Known) -> None:
    found = dict(ask("cayenne oil on the face", known).lines)
    assert "Infused with a plant that is not for the face." in " ".join(found.values())


def test_an_oil_of_several_kinds_is_answered_of_each(known: Known) -> None:
    answer = ask("calendula infused sunflower oil daisy allergy", known).answer
    assert answer.count(", infused with calendula: with care with an allergy to daisy") == 3


def test_a_name_that_tells_of_an_infusion_is_a_name(known: Known) -> None:
    own = NameIndex([("jojoba", "zorgweed infused jojoba")], {"jojoba": "carrier"})
    assert "Jojoba oil (liquid wax)" in ask("zorgweed infused jojoba in pregnancy", replace(known, names=own)).answer


@pytest.mark.parametrize(
    "asked",
    [
        "zorgweed infused olive oil in pregnancy",
        "olive oil infused with calendula whatever",
        "comfry oil in pregnancy",  # near it, and not it
        "glycerin infused with comfrey in pregnancy",
        "infused with comfrey in pregnancy",
    ],
)
def test_what_is_no_plant_that_is_known_is_not_answered_of_the_oil(asked: str, known: Known) -> None:
    with pytest.raises(QuantityError, match=r"known here|no measured amount|not in the catalogue"):
        ask(asked, known)


@pytest.mark.parametrize(
    ("plant", "rules", "wearer"),
    [
        ("comfrey", {"comfrey", "plant-pregnancy"}, Wearer("Ines", pregnant=True)),
        ("hypericum", {"st-johns-wort-medicine"}, Wearer("Ines", medicines=Ticks.answered(MEDICINES, "other"))),
        ("calendula", {"daisy-family"}, Wearer("Ines", allergies=Ticks.answered(ALLERGIES, "daisy"))),
        ("rosemary and mint", {"plant-epilepsy"}, Wearer("Ines", health=Ticks.answered(HEALTH, "epilepsy"))),
        ("St John's wort", {"st-johns-wort-sun"}, Wearer("Ines", uses=Ticks.answered(USES, "sun"))),
    ],
)
def test_a_lot_by_itself_is_judged_by_its_plants(
    plant: str, rules: set[str], wearer: Wearer, catalogue: Catalogue, known: Known
) -> None:
    plain = catalogue.ingredients["sunflower"]
    steeped = replace(plain, key="lot:C-1", name="Lot C-1", infused_with=plant)
    mixed = replace(plain, key="lot:C-2", name="Lot C-2", parts=((steeped, 0.5), (plain, 0.5)))
    for item in (steeped, mixed):
        judged = judge(item, wearer, catalogue.safety, known.today)
        assert {each.rule for each in judged.holds} == rules
    assert not judge(plain, wearer, catalogue.safety, known.today).holds
