"""What the trade takes for granted, as the job describes it; every value here is common practice."""

from __future__ import annotations

import pytest
from tests.conftest import Weigh
from tests.core.safety.conftest import FACTS, Checked
from tests.core.safety.test_worked_examples import ADULT

from uptide.core.measures.habits import Habits
from uptide.core.skin.verdicts import suits_skin
from uptide.core.skin.wearer import SKINS


@pytest.mark.parametrize(("drops", "bottle_ml"), [(10, 10), (5, 5)])
def test_five_percent_needs_as_many_drops_as_the_bottle_has_millilitres_at_20_to_the_ml(
    drops: int, bottle_ml: int
) -> None:
    assert drops / 20 / bottle_ml == pytest.approx(0.05)


def test_one_percent_of_15_ml_is_about_4_drops_in_the_finer_school() -> None:
    drops = 0.01 * 15 * 30

    assert drops == pytest.approx(4.5, abs=0.6)


def test_six_drops_in_15_ml_are_2_percent_by_volume(weigh: Weigh) -> None:
    lavender = weigh("15 ml jojoba\n6 drops lavender").rows[1]

    assert lavender.percent_volume == pytest.approx(2.0, abs=0.05)


def test_the_same_drops_in_three_schools_stand_as_a_number(checked: Checked) -> None:
    # A recipe of 6 fl oz with 42 drops: about 1.2 % at 20 drops to the mL.
    dose = checked("6 fl oz jojoba", "42 drops lavender", wearer=ADULT).finding("scent_dose")

    assert "at 20 drops to the mL" in dose.other
    at_20, at_30, at_45 = (float(part.split(" %")[0].split()[-1]) for part in dose.other.split(" at ")[:3])
    assert at_20 / at_30 == pytest.approx(1.5, rel=0.02)
    assert at_20 / at_45 == pytest.approx(2.25, rel=0.03)
    assert at_20 == pytest.approx(1.2, abs=0.08)


@pytest.mark.parametrize(("percent", "drops"), [(2.0, 12), (4.0, 24), (0.4, 2)])
def test_a_citrus_limit_as_drops_in_a_fluid_ounce(percent: float, drops: int) -> None:
    assert percent / 100 * 29.5735 * 20 == pytest.approx(drops, abs=0.5)


@pytest.mark.parametrize(("row", "key"), [("12 drops lemon", "lemon"), ("2 drops bergamot", "bergamot")])
def test_as_many_drops_in_a_fluid_ounce_stand_at_the_limit_for_the_sun(checked: Checked, row: str, key: str) -> None:
    # The rule of thumb goes by volume, the limit by mass: the two differ by the densities, 0.85 to 0.88 over 0.87.
    phototoxicity = checked("1 fl oz jojoba", row, wearer=ADULT, meaning={key: key}).finding("phototoxicity")

    assert phototoxicity.value == pytest.approx(1.0, abs=0.15)


@pytest.mark.parametrize(("droppers", "word"), [(2, "a slight tint"), (6, "a plain tint")])
def test_two_droppers_of_sea_buckthorn_tint_fair_skin_a_little_and_six_visibly(
    weigh: Weigh, droppers: int, word: str
) -> None:
    few = weigh(f"50 ml jojoba\n{droppers} droppers sea buckthorn fruit oil").finding("skin_tint")
    none = weigh("60 ml jojoba").finding("skin_tint")

    assert few.value is not None
    assert none.value is not None
    assert few.value > 2 * none.value
    assert (few.word, none.word) == (word, "no tint")


def test_more_sea_buckthorn_tints_more(weigh: Weigh) -> None:
    two, six = (weigh(f"50 ml jojoba\n{n} droppers sea buckthorn fruit oil").finding("skin_tint").value for n in (2, 6))
    assert two is not None
    assert six is not None
    assert six > 1.5 * two


@pytest.mark.parametrize("oil", ["grapeseed", "safflower", "sunflower", "rosehip", "evening-primrose"])
def test_light_linoleic_oils_are_for_oily_skin(oil: str) -> None:
    assert suits_skin(FACTS.ingredient(oil), "oily")


@pytest.mark.parametrize("oil", ["avocado", "olive", "castor", "macadamia", "cocoa-butter", "coconut"])
def test_heavy_oils_are_not_for_oily_skin(oil: str) -> None:
    assert not suits_skin(FACTS.ingredient(oil), "oily")


@pytest.mark.parametrize("oil", ["avocado", "olive", "castor", "shea-butter"])
def test_rich_oils_are_for_dry_and_mature_skin(oil: str) -> None:
    assert suits_skin(FACTS.ingredient(oil), "dry")
    assert suits_skin(FACTS.ingredient(oil), "mature")


@pytest.mark.parametrize("oil", ["olive", "almond-sweet", "apricot-kernel", "argan"])
def test_medium_oils_and_olive_are_for_normal_skin(oil: str) -> None:
    assert suits_skin(FACTS.ingredient(oil), "normal")


@pytest.mark.parametrize("oil", ["squalane", "mct", "jojoba"])
def test_what_has_few_such_acids_is_for_oily_skin_too(oil: str) -> None:
    assert suits_skin(FACTS.ingredient(oil), "oily")


@pytest.mark.parametrize("row", ["100 g coconut oil", "100 g cocoa butter", "50 g coconut oil\n50 g squalane"])
def test_a_butter_with_few_c18_acids_is_not_for_oily_skin_for_that(row: str, weigh: Weigh) -> None:
    said = weigh(row).finding("skin_fit")
    assert "oily" not in said.remark
    assert "dry" in said.remark


@pytest.mark.parametrize("skin", SKINS)
def test_jojoba_is_for_all(skin: str) -> None:
    assert suits_skin(FACTS.ingredient("jojoba"), skin)


def test_ten_percent_of_vitamin_e_is_a_mistake_and_half_a_percent_is_none(checked: Checked) -> None:
    much = {c.rule for c in checked("90 g jojoba", "10 g mixed tocopherols", wearer=ADULT).cautions}
    usual = {c.rule for c in checked("99.5 g jojoba", "0.5 g mixed tocopherols", wearer=ADULT).cautions}

    some = {c.rule for c in checked("97 g jojoba", "3 g mixed tocopherols", wearer=ADULT).cautions}

    assert "far-too-much-vitamin-e" in much
    assert "too-much-vitamin-e" in some
    assert not {"too-much-vitamin-e", "far-too-much-vitamin-e"} & usual


def test_a_roller_bottle_bears_five_percent_and_a_large_area_does_not(checked: Checked) -> None:
    rows = ("top up with jojoba", "10 drops lavender")
    spot = {c.rule for c in checked(*rows, product="roller-bottle", wearer=ADULT, ml=10).cautions}
    body = {c.rule for c in checked(*rows, product="body-oil", wearer=ADULT, ml=10).cautions}

    assert "scent-over" not in spot
    assert "scent-over" in body


def test_the_default_dropper_counts_the_dose_rather_too_high() -> None:
    assert Habits().drops_per_ml == 20
