"""What can hurt somebody: each test is named after what it protects, and failed before it was mended."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest
from tests.core.safety.conftest import FACTS, TODAY, Checked, case_of
from tests.core.safety.test_worked_examples import ADULT

from uptide.core.assessment.assessment import Assessment
from uptide.core.safety.case import RETINOL_MOST, RETINOL_MOST_ON_BODY
from uptide.core.safety.caution import Grade
from uptide.core.safety.check import check
from uptide.core.safety.words import read_words
from uptide.core.skin.wearer import Wearer


def aged(years: float) -> Wearer:
    return replace(ADULT, name="Bo", born=TODAY - timedelta(days=round(365.25 * years)))


def grades(found: Assessment) -> dict[str, str]:
    return {c.rule: c.grade.value for c in found.cautions if not c.is_unknown}


@pytest.mark.parametrize("product", ["body-oil", "balm", "massage-oil", "bath-oil-floating"])
@pytest.mark.parametrize("scent", ["peppermint", "eucalyptus-globulus", "niaouli", "cajuput", "rosemary-camphor"])
def test_what_closes_airways_stays_off_the_chest_of_a_young_child(product: str, scent: str) -> None:
    found = {c.rule: c.grade for c in check(case_of({scent: 0.2}, product, aged(4))).cautions if not c.is_unknown}
    infant = {c.rule: c.grade for c in check(case_of({scent: 0.2}, product, aged(1))).cautions if not c.is_unknown}

    assert found["not-on-the-chest"] is Grade.WARN
    assert infant["breath-infant"] is Grade.STOP
    assert "not-on-the-chest" not in {c.rule for c in check(case_of({scent: 0.2}, product, ADULT)).cautions}


@pytest.mark.parametrize("scent", [key for key, facts in FACTS.safety.scents.items() if facts.stated_age_near_face])
def test_a_bearer_is_known_by_what_it_holds_and_not_by_its_flag_alone(scent: str) -> None:
    facts = FACTS.safety.scents[scent]
    assert (facts.least_age_near_face or 0) >= (facts.stated_age_near_face or 0)


def test_camphor_of_lavandin_is_kept_from_children_though_no_list_names_it() -> None:
    assert FACTS.safety.scents["lavandin"].stated_age_near_face is None
    assert FACTS.safety.scents["lavandin"].least_age_near_face == 10


def test_neem_is_stopped_on_an_infant(checked: Checked) -> None:
    assert grades(checked("30 g jojoba", "3 g neem", wearer=aged(1)))["neem-infant"] == "stop"
    assert "neem-infant" not in grades(checked("30 g jojoba", "3 g neem", wearer=aged(3)))


def test_scalp_oil_that_stays_overnight_counts_as_left_on(checked: Checked) -> None:
    rows = ("50 g jojoba", "0.5 g bergamot expressed")
    assert grades(checked(*rows, product="scalp-hair-oil"))["sun-over"] == "stop"
    washed = checked(*rows, product="cleansing-oil")
    stays = checked(*rows, product="cleansing-oil", texts={"note": "Left on overnight."})
    assert "sun-over" not in grades(washed)
    assert grades(stays)["sun-over"] == "stop"


# Most in what is rinsed off [%], from memory: EU law's Annex III, and IFRA for the two barks and opopanax.
RINSED = [
    ("tagetes", 0.1),
    ("peru-balsam", 0.4),
    ("lemon-verbena-absolute", 0.2),
    ("opopanax", 0.6),
    ("cinnamon-bark", 0.07),
    ("cassia", 0.05),
]


@pytest.mark.parametrize(("scent", "most"), RINSED)
def test_what_is_rinsed_off_has_ceilings(scent: str, most: float) -> None:
    def grade(share: float) -> str:
        found = check(case_of({scent: share}, "shower-oil", ADULT)).cautions
        return next((c.grade.value for c in found if c.rule == "oil-over"), "ok")

    assert grade(most) == "ok"
    assert grade(most + 0.01) == "stop"
    assert all(c.source for c in check(case_of({scent: most + 0.01}, "shower-oil", ADULT)).cautions)


def test_methyl_n_methylanthranilate_is_limited_by_law_in_what_is_rinsed_off() -> None:
    # Half of mandarin leaf oil: 0.2 % of it is in 0.4 % of the oil.
    for share, fires in ((0.39, False), (0.42, True)):
        found = {c.rule for c in check(case_of({"petitgrain-mandarin": share}, "shower-oil", ADULT)).cautions}
        assert ("methylanthranilate-law" in found) is fires


@pytest.mark.parametrize(
    "note",
    ["Take one teaspoon daily.", "Drink it warm.", "Swallow a capsule.", "Give a spoonful every day", "by mouth"],
)
def test_swallowing_an_infused_oil_is_refused(note: str, checked: Checked) -> None:
    found = checked("100 g olive oil infused with rosemary", texts={"note": note})
    assert grades(found)["by-mouth-oil"] == "stop"


@pytest.mark.parametrize("note", ["Do not swallow.", "Never drink it.", "Not to be swallowed.", "2 capsules vitamin E"])
def test_a_warning_not_to_swallow_is_no_advice_to(note: str, checked: Checked) -> None:
    assert "by-mouth-oil" not in grades(checked("100 g olive", texts={"note": note}))


def test_an_open_row_of_one_percent_leaves_the_shares_known(checked: Checked) -> None:
    small, large = checked("30 g rosehip", "1% kanuka"), checked("30 g rosehip", "3% kanuka")

    assert small.finding("iodine_value").value is not None
    assert large.finding("iodine_value").value is None


def test_an_open_row_makes_no_stop_of_ten_drops(checked: Checked) -> None:
    found = checked("2 oz calendula", "2 fl oz jojoba", "2 fl oz avocado", "10 drops lavender")

    assert "neat" not in grades(found)
    assert not [c for c in found.cautions if c.grade is Grade.STOP]
    assert [c.rule for c in found.cautions if c.grade is Grade.WARN] == ["not-settled"]
    for key in ("scent_dose", "scent_share", "phototoxicity", "comedogenicity", "feel", "iodine_value", "keeps_months"):
        if key != "keeps_months":
            assert found.finding(key).value is None, key
            assert "“2 oz calendula”" in found.finding(key).remark
    assert [row.percent_mass for row in found.rows] == [None] * 4
    assert found.acids == ()
    assert found.safety is not None
    assert "“2 oz calendula” is not settled" in found.safety.draft


def test_what_no_share_changes_is_known_while_a_row_is_open(checked: Checked) -> None:
    nuts = checked("2 oz calendula", "20 g hazelnut", wearer=ADULT.with_ticks("allergies", "tree_nut"))
    pregnant = checked("2 oz calendula", "1 g retinol", wearer=replace(ADULT, pregnant=True))
    wet = checked("2 oz calendula", "20 g aloe vera gel")

    assert grades(nuts)["tree-nut"] == "stop"
    assert grades(pregnant)["retinol-pregnancy"] == "stop"
    assert [c.grade for c in wet.cautions if c.rule == "water-in-oil"] == [Grade.WARN]
    assert checked("2 oz light olive oil", "20 g jojoba").finding("scent_dose").value == 0


def test_half_aloe_gel_separates_and_is_not_clear(checked: Checked) -> None:
    found = checked("51 g aloe vera gel", "49 g jojoba")

    assert found.finding("solid_fat_content_22c").word == "separates"
    assert "51 %" in found.finding("solid_fat_content_22c").remark
    assert grades(found)["water-separates"] == "warn"
    assert checked("100 g squalane").finding("solid_fat_content_22c").word == "clear everywhere"
    assert checked("99 g squalane", "0.9 g aloe vera gel").finding("solid_fat_content_22c").word == "clear everywhere"


def test_a_dispersing_bath_oil_says_to_keep_water_out(checked: Checked) -> None:
    assert "keep-water-out" in grades(checked("80 g sunflower high oleic", "20 g ps80", product="bath-oil-dispersing"))


def test_eleven_percent_of_vitamin_e_is_warned_of_with_its_reason(checked: Checked) -> None:
    found = checked("89 g jojoba", "11 g mixed tocopherols")
    caution = next(c for c in found.cautions if c.rule == "far-too-much-vitamin-e")

    assert caution.grade is Grade.WARN
    assert caution.why


def test_diluted_retinol_is_entered_and_stands_against_its_limit(checked: Checked) -> None:
    # 5 g of 10 % in 100 g are 0.5 % retinol: over 0.3 on a face and 0.05 on a body.
    found = checked("95 g jojoba", "5 g retinol 10% in MCT", product="facial-oil")
    finding = found.finding("retinol_equivalents")

    assert finding.value == pytest.approx(0.5, abs=1e-6)
    assert finding.word == "over"
    assert grades(found)["retinol-law"] == "stop"
    assert {item.key for _, item in found.resolution.parts} == {"jojoba", "retinol", "mct"}
    little = checked("99 g jojoba", "1 g 1 % retinol in MCT", product="body-oil").finding("retinol_equivalents")
    assert little.value == pytest.approx(0.01, abs=1e-6)
    assert little.word == "within"


def test_a_dilution_of_what_may_be_two_things_is_open(checked: Checked) -> None:
    row = checked("95 g jojoba", "5 g bergamot 10% in MCT").rows[1]
    assert row.ingredient is None
    assert "write which" in row.reason


def test_the_limits_of_vitamin_a_stand_once_in_the_rules_as_in_the_figure() -> None:
    rule = next(rule for rule in FACTS.safety.rules if rule.key == "retinol-law")
    assert rule.what == read_words(f"re>{RETINOL_MOST:g}|area:body&re>{RETINOL_MOST_ON_BODY:g}")
