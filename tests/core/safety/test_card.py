"""What a card means on the shelf."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

from tests.core.safety.conftest import FACTS, TODAY
from tests.core.safety.test_worked_examples import ADULT

from uptide.core.safety.card import CardSays, card_says, single
from uptide.core.skin.wearer import ALLERGIES, CONDITIONS, Ticks, Wearer


def says(wearer: Wearer) -> CardSays:
    return card_says(wearer, FACTS.ingredients.values(), FACTS.safety, TODAY)


def stopped(card: CardSays) -> dict[str, set[str]]:
    return {each.rule: {item.key for item in each.items} for each in card.applicable_rules}


def test_a_nut_allergy_stops_nut_oils_and_warns_of_the_rare_ones() -> None:
    card = says(replace(ADULT, skin="normal", allergies=Ticks.answered(ALLERGIES, "tree_nut")))

    assert {"almond-sweet", "hazelnut", "walnut"} <= stopped(card)["tree-nut"]
    assert "argan" in stopped(card)["tree-nut-rare"]
    assert "jojoba" not in stopped(card)["tree-nut"]
    suiting = {item.key for item in card.suits}
    assert not suiting & {"almond-sweet", "argan", "peanut", "sesame"}
    assert "jojoba" in suiting


def test_pregnancy_stops_the_listed_scents_and_lowers_the_dose() -> None:
    card = says(replace(ADULT, pregnant=True))

    assert "hyssop" in stopped(card)["pregnancy-list"]
    assert "retinol" in stopped(card)["retinol-pregnancy"]
    assert (card.scent_most, card.scent_suggested) == (1.0, 0.5)


def test_what_was_not_asked_is_listed_and_a_healthy_adult_heeds_nothing() -> None:
    assert says(Wearer("Tove", skin="oily")).not_asked[:2] == ("age", "sensitive or not")
    assert says(ADULT).applicable_rules == ()
    assert says(ADULT).scent_most is None
    assert says(ADULT).suits == ()  # the kind of skin was not asked


def test_broken_skin_stops_everything_without_naming_all_of_it() -> None:
    card = says(replace(ADULT, conditions=Ticks.answered(CONDITIONS, "broken")))

    assert stopped(card)["broken-skin"] == set()


def test_one_thing_by_itself_names_whom_it_is_not_for() -> None:
    almond = single(FACTS.ingredient("almond-sweet"), FACTS.safety, TODAY)
    bergamot = single(FACTS.ingredient("bergamot"), FACTS.safety, TODAY)

    assert "with an allergy to tree nuts" in {each.who for each in almond.not_for}
    assert "with a sunbed or light therapy" in {each.who for each in bergamot.not_for}
    # Nothing that depends on how much of it there is, and nothing that holds of every oil.
    assert [c.rule for c in bergamot.cautions] == ["sun-some", "limonene-peroxides"]
    assert not {"broken-skin", "procedure"} & {each.rule for each in almond.not_for}


def suiting(born_months_ago: float | None = None) -> set[str]:
    born = None if born_months_ago is None else TODAY - timedelta(days=round(born_months_ago * 30.44))
    return {item.key for item in says(replace(ADULT, skin="dry", born=born)).suits}


def test_under_two_years_only_linoleic_oils_and_what_is_inert_are_named() -> None:
    """Oleic oils weaken the barrier of a young skin (Danby 2013, on adults); two years is common practice."""
    younger, older = suiting(23.5), suiting(24.5)

    assert {"olive", "argan", "jojoba"} <= older
    assert not {"olive", "argan"} & younger
    assert "jojoba" in younger


def test_what_is_a_base_may_be_three_tenths_of_a_blend_somewhere() -> None:
    """Of avocado up to 30 % is usual, of sea buckthorn pulp 5 %; common practice, from memory."""
    assert "avocado" in suiting()
    assert {"sea-buckthorn-pulp", "sea-buckthorn-fruit"}.isdisjoint(suiting())
