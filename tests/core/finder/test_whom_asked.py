"""Whom the quick line is asked for: behind a recipe, over it, beside a thing."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest
from tests.core.finder.asking import INES, TODAY

from uptide.core.errors import QuantityError
from uptide.core.finder.ask import ask
from uptide.core.finder.known import Known
from uptide.core.skin.wearer import ALLERGIES, Ticks, Wearer
from uptide.core.skin.whom import parted, read_whom


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
        ("30 ml jojoba, 9 ml arnica infused in full sunlight", "", ""),
        ("30 ml jojoba, 9 ml olive infused with arnica for 6 weeks", "", ""),
        (
            "30 ml jojoba, 9 ml olive infused with arnica for Ines",
            "30 ml jojoba, 9 ml olive infused with arnica",
            "for Ines",
        ),
        (
            "30 ml jojoba, 9 ml arnica infused olive in pregnancy",
            "30 ml jojoba, 9 ml arnica infused olive",
            "in pregnancy",
        ),
        (
            "30 ml jojoba, 9 ml arnica infused in the sun for Ines",
            "30 ml jojoba, 9 ml arnica infused in the sun",
            "for Ines",
        ),
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
        ("dry skin serum", "facial oil, for dry skin"),
        ("face", "facial oil"),
        ("summer oil", "body oil"),
        ("sun serum", "body oil"),
        ("dry oil", "body oil"),
        ("sensitive skin serum", "facial oil, for sensitive skin"),
        ("latex balm", "body oil"),
    ],
)
def test_what_stands_over_a_recipe_says_what_and_whom_it_is_for(head: str, said: str, known: Known) -> None:
    found = ask(f"{head}: 50 ml jojoba, 5 drops lavender", known)

    assert found.working.partition(" g, ")[2] == said
    assert "Not read" not in dict(found.lines)


def test_whom_an_infused_oil_is_for_is_no_plant(known: Known) -> None:
    """Almond for Ines, who has a nut allergy: behind an infused oil she was part of its plant."""
    found = ask("30 ml almond, 20 g olive oil infused with rosemary for Ines", known)
    assert "A nut oil." in dict(found.lines)["Stop"]
    unread = ask("30 ml almond, 20 g olive oil infused with rosemary for zorg", known)
    assert dict(unread.lines)["Not read"].startswith("“for zorg”")
    rows, whom = parted("20 g olive oil infused with rosemary for Ines", known.people, TODAY)
    assert (rows, whom and whom.words) == ("20 g olive oil infused with rosemary", "for Ines")


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


@pytest.mark.parametrize("words", ["the plumber", "", "g", "30 ml", "nothing", "a", "skin"])
def test_nobody_is_meant(words: str) -> None:
    assert read_whom(words, {"Ines": INES}, TODAY) is None


@pytest.mark.parametrize(
    "words",
    [
        "30 ml for a ragweed allergy",
        "allergic to nuts in pregnancy",
        "calendula ok with a daisy allergy",
        "olive a nut allergy",
    ],
)
def test_more_than_what_somebody_is_allergic_to_is_no_allergy(words: str) -> None:
    assert read_whom(words, {}, TODAY) is None


def test_an_article_is_no_part_of_an_allergy() -> None:
    found = read_whom("allergic to a hazelnut", {}, TODAY)
    assert found
    assert found.words == "with an allergy to hazelnut"
