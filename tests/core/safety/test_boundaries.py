"""At a limit is not over it; a hair more is. Limits from the tables, which name their sources."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta

import pytest
from tests.core.safety.conftest import FACTS, TODAY, case_of, part
from tests.core.safety.test_worked_examples import ADULT, grade

from uptide.core.ingredients.ingredient import LotPast
from uptide.core.oxidation.history import HeatStep
from uptide.core.safety.case import RETINOL_EQUIVALENT, Case
from uptide.core.safety.check import check
from uptide.core.safety.judge import evaluate
from uptide.core.safety.limits import ALL_PRODUCTS, NEW_PRODUCTS, allergens_of
from uptide.core.safety.phototoxicity import phototoxicity_of
from uptide.core.safety.tables import Constituent
from uptide.core.safety.words import read_words
from uptide.core.skin.wearer import MEDICINES, Ticks, Wearer

HAIR = 1e-6  # percentage points


def rules(case: Case) -> set[str]:
    return {c.rule for c in check(case).cautions}


@pytest.mark.parametrize(
    ("product", "wearer", "most"),
    [
        ("facial-oil", ADULT, 1.0),  # common practice
        ("body-oil", ADULT, 3.0),
        ("roller-bottle", ADULT, 5.0),  # a small spot, job brief
        ("body-oil", replace(ADULT, pregnant=True), 1.0),  # tisserand-young-2014, from memory
        ("body-oil", replace(ADULT, sensitive=True), 0.5),
        ("body-oil", replace(ADULT, born=date(2025, 11, 1)), 0.5),
    ],
)
def test_the_most_scent(product: str, wearer: Wearer, most: float) -> None:
    assert "scent-over" not in rules(case_of({"lavender": most}, product, wearer))
    assert "scent-over" in rules(case_of({"lavender": most + HAIR}, product, wearer))


@pytest.mark.parametrize("key", ["bergamot", "lemongrass", "clove-bud", "ylang-ylang", "peppermint"])
def test_an_oil_s_own_limit(key: str) -> None:
    limit = FACTS.safety.scents[key].most_leave_on
    assert limit is not None

    assert grade(case_of({key: limit}, "roller-bottle", ADULT), "oil-over", "oil-near") == "warn"
    assert grade(case_of({key: limit + HAIR}, "roller-bottle", ADULT), "oil-over", "oil-near") == "stop"
    assert grade(case_of({key: 0.8 * limit}, "roller-bottle", ADULT), "oil-over", "oil-near") == "ok"


@pytest.mark.parametrize(
    ("share", "fires"),
    [(2.0, "sun-near"), (2.0 + HAIR, "sun-over"), (1.6, "sun-some"), (1.6 + HAIR, "sun-near"), (HAIR, "sun-some")],
)
def test_the_sum_for_the_sun_of_lemon_with_its_limit_of_2_percent(share: float, fires: str) -> None:
    fired = rules(case_of({"lemon": share}, wearer=ADULT))

    assert {rule for rule in fired if rule.startswith("sun-") and rule != "sun-unsure"} == {fires}


@pytest.mark.parametrize(("product", "most"), [("facial-oil", 0.3), ("body-oil", 0.05)])
def test_vitamin_a_in_eu_law_as_retinol_equivalents(product: str, most: float) -> None:
    # Regulation (EU) 2024/996, from memory: 0.05 % in body lotion, 0.3 % in all else.
    ester = most / RETINOL_EQUIVALENT["retinyl-palmitate"]

    assert "retinol-law" not in rules(case_of({"retinol": most}, product, ADULT))
    assert "retinol-law" in rules(case_of({"retinol": most + HAIR}, product, ADULT))
    assert "retinol-law" not in rules(case_of({"retinyl-palmitate": ester}, product, ADULT))
    assert "retinol-law" in rules(case_of({"retinyl-palmitate": ester + HAIR}, product, ADULT))
    assert "retinol-law" not in rules(case_of({"retinol": 1.0}, product, ADULT, region="US"))


@pytest.mark.parametrize(("product", "threshold"), [("body-oil", 0.001), ("shower-oil", 0.01)])
def test_an_allergen_is_declared_above_its_threshold(product: str, threshold: float) -> None:
    linalool = 50.0  # % certified, so that typical and most are the same
    item = replace(FACTS.ingredient("lavender"), constituents={"LINALOOL": linalool})
    at = case_of({"lavender": 100 * threshold / linalool}, product, ADULT, items={"lavender": item})
    over = case_of({"lavender": 100 * (threshold + HAIR) / linalool}, product, ADULT, items={"lavender": item})

    assert "LINALOOL" not in {each.name for each in allergens_of(at).declared}
    assert "LINALOOL" in {each.name for each in allergens_of(over).declared}


def test_the_list_of_allergens_changes_on_its_days() -> None:
    def names(placed: date | None, today: date, region: str = "EU") -> str:
        return allergens_of(
            case_of({"lavender": 1.0}, wearer=ADULT, placed_on=placed, today=today, region=region)
        ).list_name

    before, after = NEW_PRODUCTS, NEW_PRODUCTS + timedelta(days=1)
    too_late = ALL_PRODUCTS + timedelta(days=1)
    assert names(before, before).startswith("24")
    assert names(after, after).startswith("81")
    assert names(before, TODAY).startswith("24")
    assert names(before, ALL_PRODUCTS).startswith("24")
    assert names(before, too_late).startswith("81")
    assert names(TODAY, TODAY, "UK").startswith("24")
    late = case_of({"lavender": 1.0}, wearer=ADULT, placed_on=before, today=too_late)
    assert "allergen-list" in rules(late)


@pytest.mark.parametrize(
    ("at", "over", "rule", "wearer"),
    [
        (lambda x: {"aloe-gel": 1.0 + x}, HAIR, "water-in-oil", ADULT),
        (lambda x: {"mixed-tocopherols": 2.0 + x}, HAIR, "too-much-vitamin-e", ADULT),
        (lambda x: {"lavender": 50.0 + x}, HAIR, "neat", ADULT),
    ],
)
def test_a_share_at_a_bound_and_just_over(
    at: Callable[[float], dict[str, float]], over: float, rule: str, wearer: Wearer
) -> None:
    assert rule not in rules(case_of(at(0.0), wearer=wearer))
    assert rule in rules(case_of(at(over), wearer=wearer))


def test_oleic_acid_at_half_of_the_carriers() -> None:
    rich, poor = FACTS.ingredient("olive"), FACTS.ingredient("sunflower")
    assert rich.lipid is not None
    assert poor.lipid is not None
    assert rich.lipid.acids is not None
    assert poor.lipid.acids is not None
    high, low = (100 * acids.share_of("18:1n9") for acids in (rich.lipid.acids, poor.lipid.acids))
    share = 100 * (50 - low) / (high - low)
    retinoid = replace(ADULT, medicines=Ticks.answered(MEDICINES, "retinoid"))

    def made(olive: float) -> Case:
        whole = (part("olive", olive), part("sunflower", 100 - olive))
        return replace(case_of({}, wearer=retinoid), parts=whole)

    assert "oleic-retinoid" not in rules(made(share))
    assert "oleic-retinoid" in rules(made(share + 0.001))


def test_a_procedure_rests_for_fourteen_days_on_both_sides() -> None:
    def fired(day: date) -> bool:
        return "procedure" in rules(case_of({}, wearer=replace(ADULT, procedure_on=day)))

    assert fired(date(2026, 11, 11))
    assert fired(date(2026, 12, 9))
    assert not fired(date(2026, 11, 10))
    assert not fired(date(2026, 12, 10))


def test_conifers_and_limonene_are_asked_for_their_peroxides_where_the_law_is() -> None:
    """Annex III, from memory: below 10 mmol/L for pine, fir, spruce and cypress, below 20 for limonene."""

    def asked(oil: str, region: str = "EU") -> set[str]:
        return rules(case_of({oil: 0.5}, wearer=ADULT, region=region)) & {"conifer-peroxides", "limonene-peroxides"}

    assert asked("pine-scots") >= {"conifer-peroxides"}
    assert asked("orange-sweet") == {"limonene-peroxides"}
    assert asked("lavender") == set()
    assert asked("pine-scots", "US") == set()


@pytest.mark.parametrize(
    ("key", "where", "years"), [("peppermint", "face", 6), ("niaouli", "face", 10), ("peppermint", "any", 2)]
)
def test_a_scent_is_not_for_anybody_younger_than_its_years(key: str, where: str, years: int) -> None:
    """Ages by Tisserand and Young, from memory; a birthday is the day from which it may be."""
    birthday = TODAY.replace(year=TODAY.year - years)
    for born, is_too_young in ((birthday + timedelta(days=31), True), (birthday - timedelta(days=31), False)):
        case = case_of({key: 0.1}, wearer=replace(ADULT, born=born))
        assert evaluate(read_words(f"younger-than:{where}"), case).answer is is_too_young, (key, born)


@pytest.mark.parametrize(("words", "answer"), [("age<12y", False), ("age<13y", None), ("age<11y", False)])
def test_who_is_pregnant_is_no_child_of_twelve_where_nobody_asked_the_age(words: str, answer: bool | None) -> None:
    pregnant = case_of({"peppermint": 0.1}, wearer=Wearer("Una", pregnant=True))

    assert evaluate(read_words(words), pregnant).answer is answer
    assert evaluate(read_words(words), case_of({}, wearer=Wearer("Una"))).answer is None


@pytest.mark.parametrize(("celsius", "was_heated"), [(29.0, False), (30.0, False), (31.0, True)])
def test_a_lot_was_heated_above_a_hot_room(celsius: float, was_heated: bool) -> None:
    """No room is warmer than 30 °C for long; common practice."""
    oil = part("olive", 100.0)
    stood = LotPast(steps=(HeatStep(celsius, 24.0),))
    case = replace(case_of({}), parts=(replace(oil, row=replace(oil.row, past=stood)),))

    assert evaluate(read_words("past:heated"), case).answer is was_heated


def test_fifteen_parts_in_a_million_of_bergapten_are_the_most() -> None:
    """IFRA, from memory: 0.6 % of an oil that is certified to hold 0.25 % of bergapten are 15 mg/kg."""
    certified = {"bergamot": replace(FACTS.ingredient("bergamot"), constituents={"BERGAPTEN": 0.25})}
    found = phototoxicity_of(case_of({"bergamot": 0.6}, items=certified))

    assert found.bergapten_ppm == pytest.approx(15.0)
    assert found.total == pytest.approx(1.0)


@pytest.mark.parametrize(("menthol", "years"), [(4.9, None), (5.0, None), (5.1, 6.0)])
def test_more_than_a_twentieth_of_menthol_keeps_a_scent_from_a_small_face(menthol: float, years: float | None) -> None:
    scent = replace(
        FACTS.safety.scents["lavender"],
        stated_age_near_face=None,
        constituents={"MENTHOL": Constituent(menthol, menthol, menthol)},
    )

    assert scent.least_age_near_face == years
