"""The quick line: what is asked in a few words, and the answer in one line."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.finder.asking import known_of

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import QuantityError
from uptide.core.finder.ask import ask
from uptide.core.finder.known import Known, is_of_animals
from uptide.core.finder.yes_or_no import _of_plants
from uptide.core.keeping.storage_history import placed
from uptide.core.oxidation.surroundings import Storage
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.skin.wearer import Wearer


@pytest.mark.parametrize(
    ("question", "says"),
    [
        # Sums in the words of a sentence; 20 drops to the mL, common practice.
        ("how many drops is 2% of 30 ml?", "12 drops"),
        ("how many drops in 2 ml", "40 drops"),
        ("How many grams in 2 tbsp grapeseed?", "27.27 g"),
        ("what is 2 tbsp of olive in grams", "27.02 g"),
        ("what's 3 tsp in tbsp", "1 tbsp"),
        ("2% in 30 ml", "0.6 mL"),
        ("6 drops in 15 ml", "2 % by volume"),
        # An oil for somebody.
        ("argan for Ines", "Argan oil: with care for Ines"),
        ("can ines use sweet almond?", "Sweet almond oil: not for Ines"),
        ("does jojoba suit oily skin?", "yes, for oily skin"),
        ("avocado for oily skin", "not for oily skin"),
        ("avocado with retinol", "with care with a retinoid"),
        ("is sage ok in pregnancy", "not in pregnancy"),
        ("sage when breastfeeding", "not when breastfeeding"),
        ("can a pregnant woman use sage", "not in pregnancy"),
        ("hazelnut with a nut allergy", "not with an allergy to tree nuts"),
        ("wintergreen with blood thinners", "not with blood thinners"),
        ("lavender for a newborn", "not at 1 month"),
        ("peppermint for a 1 year old", "not at 12 months"),
        ("peppermint for a 3 year old", "with care at 3 years"),
        ("peppermint for a 30 year old", "nothing known stops it at 30 years"),
        ("peppermint for a child of 3", "with care at 3 years"),
        ("peppermint for a baby aged 6 months", "not at 6 months"),
        ("lavender on broken skin", "not on skin that is broken now"),
        ("bergamot expressed in the sun", "not in the sun"),
        ("bergamot fcf in the sun", "nothing known stops it in the sun"),
        (
            "sunflower for oily skin",
            "Sunflower oil (high linoleic): yes, for oily skin; Sunflower oil (mid oleic): not",
        ),
        # Room for a scent: a facial oil bears 1 %, a roller 5 %, tisserand-young-2014 and common practice.
        ("lavender in 30 ml of facial oil", "6 drops at most"),
        ("lavender in 10 ml roller bottle", "Lavender (true) essential oil: 10 drops at most"),
        ("how many drops of lavender in 100 ml", "62 drops at most"),
        ("cinnamon bark in 30 ml", "less than one drop"),
        ("sage in 30 ml for pregnancy", "none in pregnancy"),
        ("lavender in 30 ml for a newborn", "none at 1 month"),
        # For whom and for what may stand before the size, and counts as much there.
        ("lavender for a newborn in 30 ml", "none at 1 month"),
        ("lavender for a 3 year old in 50 ml", "20 drops at most at 3 years"),
        ("lavender for my daughter of 3 in 50 ml", "20 drops at most at 3 years"),
        ("lavender in 50 ml for a 3yo", "20 drops at most at 3 years"),
        ("lavender for Ines in 30 ml of facial oil", "6 drops at most for Ines"),
        ("lavender for the face in 30 ml", "6 drops at most"),
        # A share of a scent, by volume as a spoon has it, and whether that is too much.
        ("2% lavender in 30 ml", "Lavender (true) essential oil: 12 drops"),
        ("30 ml at 2% lavender", "Lavender (true) essential oil: 12 drops"),
        ("1% dilution of lavender for 50 ml", "Lavender (true) essential oil: 10 drops"),
        ("2% lavender in 30 ml for a newborn", "12 drops, too much at 1 month: none of it"),
        ("2% lavender in 30 ml of facial oil", "12 drops, too much: 1 % at most, 6 drops"),
        ("10% clove bud in 30 ml", "60 drops, too much: 0.5 % at most"),
        # So many drops of it, at 20 to the mL: 0.5 of 30 mL, and by mass 0.442 of 26.5 g.
        ("10 drops lavender in 30 ml", "Lavender (true) essential oil: 1.67 % by volume"),
        ("10 drops of lavender in 30 ml for a baby", "1.6 % by mass, too much at 6 months: 0.5 % at most, 3 drops"),
        ("10 drops lavender 30 ml for a baby", "1.6 % by mass, too much at 6 months: 0.5 % at most"),
        ("30 ml with ten drops lavender", "1.67 % by volume"),
        ("5 to 10 drops lavender per 30 ml for the face", "1.6 % by mass, too much: 1 % at most"),
        ("a drop of clove bud in 10 ml for the face", "0.57 % by mass, too much: 0.5 % at most, less than one drop"),
        # Vitamin E: common practice.
        ("how much vitamin e for 200 ml", "Mixed tocopherols (vitamin E): 0.18 to 0.91 g, 3.9 to 20 drops"),
        ("vitamin e acetate in 100 ml", "protects no oil"),
        ("vitamin e in 100 ml for a soy allergy", "(vitamin E): with care with an allergy to soy: "),
        # Whom counts of what is no fat as well, and each of two.
        ("honey for a bee allergy on the face", "Honey: with care with an allergy to bee products; as facial oil"),
        ("bergamot expressed in pregnancy and in the sun", "not in the sun"),
        ("sage in pregnancy and the sun", "not in pregnancy; Sage"),
        ("lavender for a baby of 3 in 30 ml", "at 3 months"),
        # Yes or no.
        ("is beeswax vegan", "Beeswax: of an animal"),
        ("is marula vegan", "Marula oil: nothing of animals"),
        ("is bergamot expressed phototoxic", "not in the sun"),
        ("does lavender burn in the sun", "nothing known stops it in the sun"),
        ("is argan a nut", "with care with an allergy to tree nuts"),
        ("does wheat germ contain gluten", "with care with an allergy to wheat"),
        ("is jojoba nut free", "Jojoba oil (liquid wax): nothing known stops it with an allergy to tree nuts"),
        # Of one measure, and of ounces that may be either: 29.57 mL and 28.35 g (NIST Handbook 44, appendix C).
        ("how many drops per ml", "20 drops"),
        ("how many ml in a tablespoon", "14.79 mL"),
        ("1 cup in g of olive", "216.1 g"),
        ("2 oz in ml", "59.15 mL as fluid ounces"),
        ("2 oz in g", "56.7 g as ounces by weight"),
        ("2 oz of jojoba in g", "51.1 g as fluid ounces; 56.7 g as ounces by weight"),
        ("dilution 2% 30ml", "0.6 mL"),
        # In a product, without a size; the limits are those of the product, tisserand-young-2014.
        ("clove bud on the face", "Clove bud essential oil: at most 0.5 % in facial oil"),
        ("can I use lavender on my face", "Lavender (true) essential oil: at most 1 % in facial oil"),
        ("lavender for a baby in the bath", "none in bath oil, floating at 6 months"),
        ("lavender in a roller bottle", "at most 5 % in roller bottle for a small spot"),
        ("argan on the eye area", "Argan oil as under-eye roll-on"),
        ("tea tree on the scalp", "Tea tree essential oil: at most 2 % in scalp and hair oil"),
        ("hazelnut for Ines on the face", "Hazelnut oil: not for Ines; as facial oil: feels"),
        ("can Ines use clove bud on the face", "at most 0.5 % in facial oil for Ines"),
        ("is rosehip good for the face", "Rosehip seed oil as facial oil: feels dry"),
        ("tea tree with cats", "with care with animals in the home"),
        ("can I use tea tree around my dog", "with care with animals in the home"),
        ("can I use argan", "Argan oil: feels medium"),
    ],
)
def test_what_is_asked_and_answered(question: str, says: str, known: Known) -> None:
    assert says in ask(question, known).answer


@pytest.mark.parametrize(
    ("question", "says"),
    [
        ("jojoba for the cat", "about the skin of people"),
        ("2 tbsp jojoba, 6 drops tea tree on my dog", "can kill a cat"),
        ("jojoba for the plumber", "no measured amount"),
        ("tea tree for pets", "about the skin of people"),
        ("can I drink peppermint", "call a poison centre now"),
        ("2 drops lavender in my tea", "Nothing here is for swallowing"),
        ("castor in the eyes", "nor for eyes, ears, nose or mouth"),
        ("clove bud by mouth for a 3 year old", "call a poison centre now"),
        ("jojoba in 30 ml", "no measured amount"),
        ("zorgblat for Ines", "is not in the catalogue"),
        ("lavender and zorgblat in 30 ml", "“zorgblat” is not in the catalogue"),
        ("lavender in 30 ml for the plumber", "is neither a product nor somebody known"),
        ("lavender for the plumber in 30 ml", "is neither a product nor somebody known"),
        ("lavender for Ines in 30 ml for a baby", "for Ines and at 6 months: ask one after the other"),
        ("lavender for the face in 30 ml of bath oil", "for two products at once"),
        ("hm", "no measured amount"),
        ("?", "no measured amount"),
    ],
)
def test_what_nobody_understands_is_said(question: str, says: str, known: Known) -> None:
    with pytest.raises(QuantityError, match=says):
        ask(question, known)


def test_a_whole_recipe_in_brief(known: Known) -> None:
    typed = "2 tbsp grapeseed, 1 tbsp jojoba, 12 drops lavender"
    brief = ask(typed, known)
    lines = dict(brief.lines)

    assert brief.answer == "Feels fast; keeps 5 months; suits oily, combination and normal"
    assert brief.working == "45 mL, 40.6 g, body oil"
    assert brief.recipe == typed
    assert lines["Keeps"].startswith("Limited by Grapeseed oil.")
    assert lines["Scent"].startswith("1.31 % at most.")
    assert "under 3 months" in lines["Not"]
    assert "in pregnancy" in lines["With care"]
    assert "Not settled" not in lines


def test_a_whole_recipe_for_somebody(known: Known) -> None:
    brief = ask("2 tbsp sweet almond, 1 tbsp jojoba for Ines", known)

    assert dict(brief.lines)["Stop"].startswith("Sweet almond oil: A nut oil.")
    assert (brief.recipe, brief.wearer) == ("2 tbsp sweet almond, 1 tbsp jojoba", "Ines")
    assert "light for dry skin" in ask("2 tbsp grapeseed, 1 tbsp rosehip, for dry skin", known).answer
    assert "Stop" in dict(ask("2 tbsp jojoba, 1 tbsp grapeseed, 5 drops sage for pregnancy", known).lines)


def test_for_whom_a_recipe_is_and_nobody_knows_is_said_first(known: Known) -> None:
    found = ask("2 tbsp grapeseed, 12 drops peppermint for my friend", known)

    assert found.lines[0] == ("Not read", "“for my friend” is neither a product nor somebody known here.")
    assert "Not settled" not in dict(found.lines)  # what is read counts
    assert found.recipe.endswith("for my friend")  # and what is typed goes along
    assert "Not read" not in dict(ask("2 tbsp grapeseed, 12 drops peppermint for a 3yo", known).lines)


@pytest.mark.parametrize(
    ("question", "place", "where"),
    [
        ("how long does argan keep in the fridge", "fridge", "in a fridge"),
        ("does argan keep well on the windowsill", "sunny shelf", "on a sunny shelf"),
        ("argan keeps in a bathroom", "bathroom", "in a bathroom"),
        ("does argan go rancid", "cool cupboard", "in a cool cupboard"),
    ],
)
def test_how_long_it_keeps_where_it_stands(question: str, place: str, where: str, known: Known) -> None:
    recipe = Recipe((Entry("100 g argan"),), "body-oil", storage=placed(Storage(), place))
    months = known.assess(recipe, Wearer()).finding("keeps_months").value
    found = ask(question, known)

    assert found.answer == f"Argan oil: keeps {months:.0f} months from fresh"
    assert f"in use, {where}." in found.working


def test_the_colder_and_darker_the_longer(known: Known) -> None:
    kept = [ask(f"argan keeps in the {place}", known).answer for place in ("fridge", "cupboard", "bathroom", "sun")]
    months = [int("".join(filter(str.isdecimal, said))) for said in kept]

    assert months == sorted(set(months), reverse=True)


def test_an_ounce_says_what_the_other_would_be(known: Known) -> None:
    assert ask("2 oz in ml", known).remark == "An ounce may be either; one by weight is 28.35 g."


def test_a_place_that_nobody_knows_is_said(known: Known) -> None:
    with pytest.raises(QuantityError, match="“the moon” is no place known here; known are cool cupboard"):
        ask("how long does argan keep on the moon", known)


def test_a_mixture_is_as_vegan_as_what_is_in_it(known: Known) -> None:
    wax, olive = known.ingredients["beeswax"], known.ingredients["olive"]
    own = replace(olive, key="own:mine", name="Mine")

    assert is_of_animals(replace(olive, key="lot:B", parts=((olive, 0.9), (wax, 0.1))))
    assert is_of_animals(replace(olive, key="lot:B", parts=((olive, 0.9), (own, 0.1)))) is None
    assert is_of_animals(replace(olive, key="lot:B", parts=((olive, 1.0),))) is False


def test_an_own_oil_is_not_called_vegan(known: Known) -> None:
    own = replace(known.ingredients["olive"], key="own:mine", name="Mine")
    found = _of_plants(own)

    assert found.answer == "Mine: nobody has said what it is made of"


def test_a_whole_recipe_for_a_product(known: Known) -> None:
    face = ask("2 tbsp grapeseed, 1 tbsp jojoba, 12 drops lavender for the face", known)

    assert face.product == "facial-oil"
    assert dict(face.lines)["Stop"].startswith("Lavender (true) essential oil: Too much scent")


def test_a_product_for_somebody_is_both(known: Known) -> None:
    said = ask("lavender in 30 ml of facial oil for a child of 3", known)
    face, child = ask("lavender in 30 ml of facial oil", known), ask("lavender in 30 ml for a child of 3", known)

    assert "in 30 mL of facial oil; 0.25 % is suggested, 1 drop." in said.working
    assert said.answer.endswith("at 3 years")
    drops = [int(answer.answer.split(": ")[1].split()[0]) for answer in (said, face, child)]
    assert drops[0] <= min(drops[1:])
    assert ask("sage in 50 ml of body oil in pregnancy", known).answer.endswith("none in pregnancy")
    brief = ask("2 tbsp sweet almond, 1 tbsp jojoba for the face for Ines", known)
    assert (brief.product, brief.wearer) == ("facial-oil", "Ines")
    assert "nut oil" in dict(brief.lines)["Stop"]


@pytest.mark.parametrize(
    "asked",
    [
        ", for Ines",
        "and neat",
        "safe oils for babies",
        "which essential oils are safe in pregnancy",
        "the best oil for a baby",
    ],
)
def test_what_names_no_one_thing_is_not_taken_for_one(asked: str, known: Known) -> None:
    with pytest.raises(QuantityError):  # “safe oils” were sage oil
        ask(asked, known)


def test_a_recipe_that_is_too_long_is_not_cut_in_silence(known: Known) -> None:
    with pytest.raises(QuantityError, match="up to 4000 are read here"):
        ask("1 g jojoba, " * 400, known)


def test_a_recipe_that_is_not_settled_says_so_first(known: Known) -> None:
    lines = dict(ask("2 tbsp hazelnut, 10 drops kanuka, 5 g water", known).lines)

    assert lines["Not settled"] == "“10 drops kanuka”"
    assert lines["Scent"].startswith("Unknown.")
    assert lines["Stop"].startswith("Water: Brings water")


ASKED = ("for", "in", "2%", "30 ml", "bergamot", "lavender", "Ines", "oily skin", "how many", "drops", "of", "2 tbsp",
         "jojoba", ",", "nut allergy", "1/0", "-5", "ml", "#", "infused", "olive oil", "top up", "a 0 year old", "can",
         "use", "is", "(", "1e9", "blob")  # fmt: skip


@settings(max_examples=60)
@given(st.lists(st.sampled_from(ASKED), max_size=7).map(" ".join))
def test_whatever_is_asked_is_answered_or_refused_in_words(question: str) -> None:
    try:
        said = ask(question, known_of(shipped_catalogue())).answer
    except QuantityError as error:
        said = str(error)
    assert said
