"""Feel, clog risk, skin fit, penetration and glide; classes and ratings are common practice, from memory."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest
from tests.core.safety.conftest import FACTS
from tests.core.safety.test_worked_examples import ADULT

from uptide.core.errors import UptideError
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.skin.verdicts import COMEDOGENIC_FROM, OnSkin, feel_class, minutes
from uptide.core.skin.wearer import ANYONE, CONDITIONS, GROUPS, MEDICINES, Ticks, Wearer


def oil(key: str) -> Ingredient:
    return FACTS.ingredient(key)


@pytest.mark.parametrize(
    ("key", "word"),
    [
        ("grapeseed", "fast"),
        ("safflower", "fast"),
        ("rosehip", "fast"),
        ("squalane", "fast"),
        ("almond-sweet", "medium"),
        ("apricot-kernel", "medium"),
        ("argan", "medium"),
        ("jojoba", "medium"),
        ("avocado", "rich"),
        ("olive", "rich"),
        ("castor", "rich"),
        ("shea-butter", "rich"),
    ],
)
def test_how_single_oils_feel(key: str, word: str) -> None:
    found = OnSkin([(10.0, oil(key))]).feel

    # The trade parts dry/fast, medium and slow/rich; our dry and fast are both its first.
    assert found.word == word or {found.word, word} == {"dry", "fast"}


def test_feel_is_averaged_by_mass_and_minutes_grow_with_it() -> None:
    light, rich = oil("grapeseed"), oil("castor")
    mixed = OnSkin([(50.0, light), (50.0, rich)]).feel
    one, other = feel_class(light), feel_class(rich)
    assert one is not None
    assert other is not None

    assert mixed.value == pytest.approx((one[0] + other[0]) / 2)
    assert "By thickness" in mixed.other
    assert list(minutes(1.0)) == pytest.approx([1.0, 3.0])
    assert list(minutes(4.0)) == pytest.approx([10.0, 30.0])
    assert all(minutes(a / 10)[0] < minutes((a + 1) / 10)[0] for a in range(10, 40))


def test_an_ester_that_cuts_the_grease_is_named() -> None:
    assert "cuts the grease" in OnSkin([(80.0, oil("olive")), (20.0, oil("isopropyl-myristate"))]).feel.remark
    assert "cuts the grease" not in OnSkin([(80.0, oil("olive"))]).feel.remark


def test_the_worst_ingredient_counts_from_its_share_on() -> None:
    base, worst = oil("safflower"), oil("coconut")
    at = OnSkin([(100 - COMEDOGENIC_FROM, base), (COMEDOGENIC_FROM, worst)]).comedogenicity
    below = OnSkin([(100 - COMEDOGENIC_FROM + 0.1, base), (COMEDOGENIC_FROM - 0.1, worst)]).comedogenicity

    assert at.value == 4
    assert at.word == "high"
    assert below.value is not None
    assert below.value < 4
    assert "Weighed by mass" in at.other
    assert "linoleic balance" in at.other


def test_three_schools_of_clogging_may_disagree_and_all_are_given() -> None:
    found = OnSkin([(90.0, oil("safflower")), (10.0, oil("coconut"))]).comedogenicity

    assert found.word == "high"
    assert "low" in found.other


def test_an_oil_that_no_list_rates_leaves_it_unknown() -> None:
    strange = replace(oil("jojoba"), key="own", properties={})
    found = OnSkin([(50.0, strange), (50.0, oil("almond-sweet"))]).comedogenicity

    assert found.value is None
    assert "no list rates" in found.remark


def test_linoleic_balance_of_the_two_acids() -> None:
    # Half of an oil of linoleic alone would be 50; grapeseed has some 70 % linoleic to 16 % oleic (Codex ranges).
    assert OnSkin([(1.0, oil("grapeseed"))]).balance == pytest.approx(80, abs=6)
    assert OnSkin([(1.0, oil("squalane"))]).balance is None


def test_skin_fit_answers_for_the_wearer_and_lists_skins_for_anyone() -> None:
    rich = [(100.0, oil("avocado"))]
    oily, dry = replace(ADULT, skin="oily"), replace(ADULT, skin="dry")

    assert OnSkin(rich).fit(oily, 0.0).word == "not for oily skin"
    assert OnSkin(rich).fit(dry, 0.0).word == "suits"
    assert "dry" in OnSkin(rich).fit(ANYONE, 0.0).word
    assert OnSkin(rich).fit(dry, 0.0).other


def test_inflamed_skin_wants_it_plain_and_linoleic() -> None:
    eczema = replace(ADULT, skin="dry", conditions=Ticks.answered(CONDITIONS, "eczema"))

    assert OnSkin([(100.0, oil("olive"))]).fit(eczema, 0.0).word == "not for this skin"
    assert OnSkin([(100.0, oil("safflower"))]).fit(eczema, 0.5).word == "not for this skin"
    assert "plain and linoleic, as advised" in OnSkin([(100.0, oil("safflower"))]).fit(eczema, 0.0).remark


def test_oleic_carriers_carry_things_in_and_a_retinoid_wants_hours_between() -> None:
    retinoid = replace(ADULT, medicines=Ticks.answered(MEDICINES, "retinoid"))

    assert OnSkin([(100.0, oil("olive"))]).penetration(ADULT).word == "carries in"
    assert OnSkin([(100.0, oil("grapeseed"))]).penetration(ADULT).word == "little"
    assert "12 to 14 hours" in OnSkin([(100.0, oil("olive"))]).penetration(retinoid).remark
    assert "12 to 14 hours" not in OnSkin([(100.0, oil("olive"))]).penetration(ADULT).remark


def test_castor_glides_longer_than_an_ester() -> None:
    thick, thin = OnSkin([(100.0, oil("castor"))]).slip, OnSkin([(100.0, oil("isopropyl-myristate"))]).slip

    assert thick.word == "long, and drags"
    assert thin.word == "short: about five minutes"


def test_nothing_in_it_is_said_and_not_guessed() -> None:
    for found in (
        OnSkin([]).feel,
        OnSkin([]).comedogenicity,
        OnSkin([]).fit(ANYONE, 0.0),
        OnSkin([]).penetration(ANYONE),
        OnSkin([]).slip,
    ):
        assert found.value is None
        assert found.remark


@pytest.mark.parametrize("group", GROUPS)
def test_a_card_refuses_what_is_not_known_and_says_what_is(group: str) -> None:
    wrong = {group: Ticks(frozenset({"zorgblat"}))}
    with pytest.raises(UptideError, match=f"{group}: “zorgblat” is not known; known are"):
        Wearer("Ines", **wrong)  # type: ignore[arg-type]


def test_ages_in_words() -> None:
    today = date(2026, 11, 25)

    assert Wearer(born=date(2025, 9, 14)).age_words(today) == "14 months"
    assert Wearer(born=date(1990, 1, 1)).age_words(today) == "36 years"
    assert Wearer().age_words(today) == ""
