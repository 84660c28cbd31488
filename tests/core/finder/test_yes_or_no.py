"""What is asked with yes or no is answered of each thing that is named, and nothing else is taken for it."""

from __future__ import annotations

from dataclasses import replace

import pytest
from tests.core.finder.asking import known_of

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import QuantityError
from uptide.core.finder.ask import ask
from uptide.core.finder.known import Known
from uptide.core.finder.yes_or_no import yes_or_no

FACTS = shipped_catalogue()
KNOWN = known_of(FACTS)


@pytest.mark.parametrize(
    ("asked", "said", "about"),
    [
        ("is beeswax vegan", "Beeswax: of an animal, not vegan", "beeswax"),
        ("are lanolin vegan", "Lanolin: of an animal, not vegan", "lanolin"),
        ("is jojoba plant-based", "Jojoba oil (liquid wax): nothing of animals in it", "jojoba"),
        ("is bergamot fcf phototoxic", "nothing known stops it in the sun", "bergamot-fcf"),
        ("does expressed lime burn in the sun", "Lime (expressed) essential oil: not in the sun", "lime"),
        ("does wheat germ contain gluten", "Wheat germ oil: with care with an allergy to wheat", "wheat-germ"),
        ("is hazelnut oil nut-free", "Hazelnut oil: not with an allergy to tree nuts", "hazelnut"),
        ("is hazelnut a tree nut", "Hazelnut oil: not with an allergy to tree nuts", "hazelnut"),
    ],
)
def test_a_question_of_yes_or_no_is_answered(asked: str, said: str, about: str) -> None:
    found = yes_or_no(asked, KNOWN)

    assert found is not None
    assert said in found.answer
    assert found.about == about


def test_of_what_is_vegan_the_maker_is_to_be_asked_and_of_an_own_oil_nobody_knows() -> None:
    found = yes_or_no("is argan vegan", KNOWN)
    assert found is not None
    assert found.working == "Ask the maker what else was used."
    own = replace(FACTS.ingredients["argan"], key="own:reef", name="Argan oil")
    of_the_house = replace(KNOWN, ingredients={**KNOWN.ingredients, "argan": own})
    asked = yes_or_no("is argan vegan", of_the_house)
    assert asked is not None
    assert asked.answer == "Argan oil: nobody has said what it is made of"


@pytest.mark.parametrize("asked", ["argan vegan", "does argan contain oleic acid", "is argan light", "vegan oils"])
def test_what_asks_something_else_is_not_answered_here(asked: str) -> None:
    assert yes_or_no(asked, KNOWN) is None


@pytest.mark.parametrize(
    "asked", ["does coconut have SPF", "sunscreen", "carrot seed as a sunblock", "raspberry SPF 30"]
)
def test_no_oil_is_a_sunscreen(asked: str, known: Known) -> None:
    assert ask(asked, known).answer == "No plant oil is a sunscreen: use a tested product"


@pytest.mark.parametrize("asked", ["lighter than jojoba for Ines", "oils like jojoba for Ines"])
def test_what_is_asked_beside_an_oil_is_asked_of_the_shelf(asked: str, known: Known) -> None:
    with pytest.raises(QuantityError):
        ask(asked, known)


@pytest.mark.parametrize("asked", ["bergamot in the sun", "cleansing oil to remove sunscreen"])
def test_the_sun_and_what_washes_a_sunscreen_off_are_other_questions(asked: str, known: Known) -> None:
    try:
        said = ask(asked, known).answer
    except QuantityError as error:
        said = str(error)
    assert "sunscreen: use" not in said
