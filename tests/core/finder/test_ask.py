"""The quick line: what is asked in a few words, and the answer in one line."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.errors import QuantityError
from uptide.core.finder.ask import ask
from uptide.core.finder.known import BASE, Known, is_of_animals
from uptide.core.finder.yes_or_no import _of_plants
from uptide.core.ingredients.ingredient import Phase
from uptide.core.keeping.storage_history import placed
from uptide.core.measures.habits import Habits
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.oxidation.surroundings import Storage
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.safety.case import Case, UsageContext
from uptide.core.safety.check import check
from uptide.core.safety.maximum_dose import maximum_dose_of, mixed_in
from uptide.core.skin.wearer import ALLERGIES, Ticks, Wearer
from uptide.core.skin.whom import read_whom

TODAY = date(2026, 11, 25)
INES = Wearer("Ines", allergies=Ticks.answered(ALLERGIES, "tree_nut"), skin="combination")


@pytest.fixture
def known(catalogue: Catalogue) -> Known:
    return known_of(catalogue)


def known_of(catalogue: Catalogue) -> Known:
    return Known(
        catalogue.ingredients,
        catalogue.names,
        habits=Habits(),
        people={"Ines": INES},
        products=catalogue.product_names,
        today=TODAY,
        usage_of=lambda product, wearer: catalogue.usage_of(product, TODAY, wearer),
        assess=lambda recipe, wearer: assess(
            recipe,
            catalogue.ingredients,
            catalogue.names,
            draws=standard_draws(),
            usage=catalogue.usage_context(recipe, TODAY, wearer),
        ),
    )


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


def test_what_a_child_bears_on_the_body_and_not_near_the_face(known: Known) -> None:
    assert "Near the face: not under 6 years." in ask("peppermint for a 3 year old", known).working
    assert "Near the face" not in ask("peppermint for a 7 year old", known).working


def test_citrus_by_the_ounce(known: Known) -> None:
    # Common practice: a limit of 0.4 % is two drops to the fluid ounce.
    both = ask("bergamot in 1 fl oz", known)

    assert both.answer.startswith("Bergamot (expressed) essential oil: 2 drops at most; Bergamot FCF")
    assert "burn in the sun" in dict(both.lines)["Bergamot (expressed) essential oil"]


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
    "asked",
    [
        "10 drops lavender and 5 drops rose otto in 30 ml",
        "10 drops lavender 5 drops rose otto in 30 ml",
        "10 drops lavender, 5 drops rose otto into 30 ml for a baby",
    ],
)
def test_scents_in_a_bottle_of_nothing_are_thought_into_an_oil(asked: str, known: Known) -> None:
    """10 and 5 drops at 20 to the mL: 0.442 and 0.214 g, in 29.25 mL of an oil of 0.912: 0.656 of 27.3 g."""
    found = ask(asked, known)
    lines = dict(found.lines)

    assert lines["Assumed"] == "Sunflower oil (high oleic), since no oil is named."
    assert lines["Scent"].startswith("2.39 % at most.")
    assert found.recipe.splitlines()[-1] == "Sunflower oil (high oleic) up to 30 ml"
    assert ("at 6 months" in found.working) == asked.endswith("baby")


@pytest.mark.parametrize(
    "asked",
    [
        "10 drops lavender, 5 drops rose otto in 30 ml jojoba",
        "5 ml jojoba, 3 drops rose otto",
        "20 ml jojoba, 10 ml argan in 30 ml",
    ],
)
def test_where_an_oil_is_named_none_is_assumed(asked: str, known: Known) -> None:
    assert "Assumed" not in dict(ask(asked, known).lines)


@pytest.mark.parametrize(
    "recipe",
    [
        "12 drops lavender in 30 ml jojoba",
        "2% lavender in 30 ml jojoba",
        "2% lavender, 1% tea tree, 30 ml jojoba",
        "30 ml jojoba, 2% lavender",
    ],
)
def test_a_share_among_rows_is_a_recipe(recipe: str, known: Known) -> None:
    assert ask(recipe, known).answer.startswith("Feels")


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


@pytest.mark.parametrize("words", ["peppermint and lavender", "peppermint, lavender", "peppermint + lavender"])
def test_the_most_of_each_of_several_is_not_of_all_together(words: str, known: Known) -> None:
    said = ask(f"{words} in 100 ml", known).answer

    assert said.startswith("Of each alone, not of all together: Peppermint essential oil: ")
    assert "; Lavender (true) essential oil: " in said
    assert ask(f"{words} for Ines", known).answer.count("for Ines") == 2
    assert not ask("bergamot in 100 ml", known).answer.startswith("Of each")


@pytest.mark.parametrize("name", ["Bo", "Face", "Body", "Massage", "Balm", "Bath oil"])
def test_a_card_goes_before_a_product_of_its_name(name: str, known: Known) -> None:
    wearer = Wearer(name, allergies=Ticks.answered(ALLERGIES, "tree_nut"), pregnant=True)
    with_them = replace(known, people={name: wearer})

    assert ask(f"sage in 30 ml for {name}", with_them).answer.endswith(f"none for {name}")
    brief = ask(f"2 tbsp sweet almond, 1 tbsp jojoba for {name}", with_them)
    assert brief.wearer == name
    assert "A nut oil." in dict(brief.lines)["Stop"]


@pytest.mark.parametrize("words", ["b", "fac", "bo", "mass"])
def test_a_piece_of_a_word_is_no_product(words: str, known: Known) -> None:
    with pytest.raises(QuantityError, match="neither a product nor somebody"):
        ask(f"lavender in 30 ml for {words}", known)


@pytest.mark.parametrize("age", ["121 year", "999999999 year", "99999 month"])
def test_nobody_is_so_old(age: str) -> None:
    assert read_whom(f"a {age} old", {}, TODAY) is None


@pytest.mark.parametrize(
    ("words", "born", "said"),
    [
        ("2 weeks old", date(2026, 7, 7), "at 2 weeks"),
        ("a 27 day old", None, ""),
        ("a 3-week-old baby", date(2026, 6, 30), "at 3 weeks"),
        ("baby, 4 weeks", date(2026, 6, 23), "at 1 month"),
        ("6wk old", date(2026, 6, 9), "at 1 month"),
        ("a newborn", date(2026, 6, 21), "at 1 month"),
        ("baby of 6", date(2026, 1, 19), "at 6 months"),
    ],
)
def test_an_age_may_be_in_weeks(words: str, born: date | None, said: str) -> None:
    found = read_whom(words, {}, date(2026, 7, 21))

    assert (found and (found.wearer.born, found.words)) == (born and (born, said))


@pytest.mark.parametrize(("days", "said"), [(27, "3 weeks"), (28, "1 month"), (0, "0 weeks"), (7, "1 week")])
def test_the_first_four_weeks_are_said_in_weeks(days: int, said: str) -> None:
    assert Wearer(born=TODAY - timedelta(days=days)).age_words(TODAY) == said


@pytest.mark.parametrize(
    ("typed", "recipe", "whom"),
    [
        ("30 ml jojoba 3 drops clove in pregnancy", "30 ml jojoba 3 drops clove", "in pregnancy"),
        ("30 ml jojoba, 3 drops clove, when breastfeeding", "30 ml jojoba, 3 drops clove", "when breastfeeding"),
        ("30 ml jojoba, 3 drops clove with asthma", "30 ml jojoba, 3 drops clove", "with asthma"),
        ("3 drops clove, 30 ml jojoba on the face of a newborn", "3 drops clove, 30 ml jojoba", "at 1 month"),
        ("30 ml jojoba, 5 ml rose on the face in pregnancy", "30 ml jojoba, 5 ml rose", "in pregnancy"),
        ("30 ml jojoba, 9 ml arnica infused in the sun", "", ""),
    ],
)
def test_whom_stands_behind_a_recipe_with_other_words_than_for(
    typed: str, recipe: str, whom: str, known: Known
) -> None:
    found = ask(typed, known)

    assert found.recipe == (recipe or typed)
    assert found.working.endswith(f", {whom}" if whom else "body oil")
    assert bool(found.wearer) == bool(whom)


@pytest.mark.parametrize(
    ("head", "said"),
    [
        ("massage oil for my pregnant sister", "massage oil, in pregnancy"),
        ("baby massage oil", "massage oil, at 6 months"),
        ("a 3 year old’s face oil", "facial oil, at 3 years"),
        ("for a 2 year old", "body oil, at 2 years"),
        ("bath for a child of 4", "bath oil, floating, at 4 years"),
        ("summer oil for Ines", "body oil, for Ines"),
        ("dry skin serum", "body oil, for dry skin"),
        ("face", "facial oil"),
        ("summer oil", "body oil"),
        ("sun serum", "body oil"),
        ("dry oil", "body oil"),
        ("sensitive skin serum", "body oil, for sensitive skin"),
        ("latex balm", "body oil"),
    ],
)
def test_what_stands_over_a_recipe_says_what_and_whom_it_is_for(head: str, said: str, known: Known) -> None:
    found = ask(f"{head}: 50 ml jojoba, 5 drops lavender", known)

    assert found.working.partition(" g, ")[2] == said
    assert "Not read" not in dict(found.lines)


def test_whom_a_heading_names_that_nobody_knows_is_said(known: Known) -> None:
    found = ask("summer oil for zorg: 50 ml jojoba, 5 drops lavender", known)

    assert dict(found.lines)["Not read"] == "“for zorg” is neither a product nor somebody known here."
    assert found.wearer == ""
    both = ask("summer oil for Ines: 50 ml jojoba, 5 drops lavender for zorg", known)
    assert (both.wearer, dict(both.lines)["Not read"][:10]) == ("Ines", "“for zorg”")
    with pytest.raises(QuantityError, match="ask one after the other"):
        ask("oil for Ines: 50 ml jojoba, 5 drops lavender for a baby", known)


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ("tea tree neat", "Tea tree essential oil: not neat; at most 2 % of a body oil"),
        ("can I use lavender undiluted on the face", "not neat; at most 1 % in facial oil"),
        ("5 ml of tea tree neat", "not neat; at most 2 % of a body oil"),
        ("1 drop tea tree neat", "not neat; at most 2 % of a body oil"),
        ("is lavender safe undiluted for a baby", "not neat; at most 0.5 % of a body oil at 6 months"),
        ("neat lavender on my skin", "not neat; at most 3 % of a body oil"),
        ("jojoba neat", "Jojoba oil (liquid wax): feels medium"),
    ],
)
def test_no_scent_is_worn_undiluted(asked: str, said: str, known: Known) -> None:
    assert said in ask(asked, known).answer


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ("rosemary epilepsy", "not with epilepsy"),
        ("rosemary and epilepsy", "not with epilepsy"),
        ("bergamot and the sun", "Bergamot (expressed) essential oil: not in the sun"),
        ("bergamot before sunbathing", "Bergamot (expressed) essential oil: not in the sun"),
        ("argan nut allergy", "with care with an allergy to tree nuts"),
        ("aspirin allergy and wintergreen", "not with an allergy to aspirin"),
        ("7 months pregnant lavender", "with care in pregnancy"),
        ("clary sage first trimester", "with care in pregnancy"),
        ("lavender for a burn", "not on skin that is broken now"),
        ("sweet almond Ines", "not for Ines"),
    ],
)
def test_a_thing_and_somebody_side_by_side_are_a_question(asked: str, said: str, known: Known) -> None:
    assert said in ask(asked, known).answer


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ("coconut oil for a coconut allergy", "Coconut oil: not with an allergy to coconut"),
        ("is argan ok with a chestnut allergy", "Argan oil: with care with an allergy to chestnut"),
        ("argan for a zorg allergy", "Argan oil: unknown with an allergy to zorg"),
    ],
)
def test_an_allergy_that_no_card_lists_is_looked_for_in_its_own_words(asked: str, said: str, known: Known) -> None:
    assert ask(asked, known).answer.startswith(said)


def test_what_a_thing_holds_is_no_question_of_an_allergy_but_where_one_is_known(known: Known) -> None:
    with pytest.raises(QuantityError):
        ask("does argan contain oleic acid", known)


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


def test_room_ends_where_the_first_stop_begins(catalogue: Catalogue) -> None:
    base = catalogue.ingredient(BASE)
    usage = catalogue.usage_of("body-oil", TODAY)

    def stops(percent: float, key: str, where: UsageContext = usage) -> bool:
        made: Case = mixed_in(percent, catalogue.ingredient(key), base, where)
        return bool(check(made).open_stops)

    for key in list(catalogue.safety.scents)[::6]:
        if catalogue.ingredient(key).phase is not Phase.SCENT:
            continue  # rosemary extract against oxidation
        room = maximum_dose_of(catalogue.ingredient(key), base, usage)
        assert room.why, key
        assert stops(room.most * 1.002 or 0.001, key), key
        assert not room.most or not stops(room.most * 0.998, key), key
        assert room.suggested <= room.most


@pytest.mark.parametrize("words", ["the plumber", "", "g", "30 ml", "nothing", "a", "skin"])
def test_nobody_is_meant(words: str) -> None:
    assert read_whom(words, {"Ines": INES}, TODAY) is None


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
