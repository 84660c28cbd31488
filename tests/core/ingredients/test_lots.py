"""A lot is its oil with what is known better of it: acids, age, price; and a mixture is what went into it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import date

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.catalogue.stock import stocked
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import ProfileError, UptideError
from uptide.core.ingredients.certificate import Certificate, acids_problem, certified_profile, looks_like, outliers
from uptide.core.ingredients.lot import Lot, lot_ingredient
from uptide.core.ingredients.own_oil import OwnOil, own_ingredient
from uptide.core.keeping.lot_life import lot_life
from uptide.core.keeping.shelf_life import StorageHistory
from uptide.core.lipids.lipid import iodine_value
from uptide.core.lipids.pasted import AcidAmount
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Entry, Recipe

FACTS = shipped_catalogue()
TODAY = date(2026, 11, 25)
DRAWS = standard_draws()
HIGH_OLEIC = {"16:0": 4.1, "18:0": 3.0, "18:1n9": 78.6, "18:2n6": 12.9}


def amounts(percent: Mapping[str, float]) -> dict[str, AcidAmount]:
    return {code: AcidAmount(value, value, value) for code, value in percent.items()}


def certificate(
    acids: Mapping[str, float] | None = None, dated: date | None = None, figures: Mapping[str, float] | None = None
) -> Certificate:
    return Certificate(dated, amounts(acids or {}), figures or {})


def lot(ingredient: str = "sunflower", *certificates: Certificate, **changes: object) -> Lot:
    plain = Lot("A-1", ingredient, bought_g=1000, left_g=500, certificates=certificates)
    return replace(plain, **changes)  # type: ignore[arg-type] # a test helper that changes any field


def stock(*lots: Lot, made: dict[tuple[int, int], tuple[str, Recipe]] | None = None) -> Catalogue:
    return stocked(FACTS, {}, lots, dict((made or {}).items()), TODAY)


def weigh(facts: Catalogue, *rows: str) -> Assessment:
    return assess(Recipe(tuple(Entry(row) for row in rows)), facts.ingredients, facts.names, draws=standard_draws())


def test_a_certificate_wins_over_the_catalogue() -> None:
    facts = stock(lot("sunflower", certificate(HIGH_OLEIC)))
    usual, ours = weigh(facts, "100 g sunflower high linoleic"), weigh(facts, "100 g A-1")

    # By hand: 78.6 of 98.6 % oleic; closed to 100 it is 79.7.
    assert ours.finding("oleic_share").value == pytest.approx(79.7, abs=0.05)
    assert ours.finding("iodine_value").value == pytest.approx(0.860 * 79.7 + 1.732 * 13.1, abs=0.3)  # AOCS factors
    assert (ours.finding("iodine_value").value or 0) < (usual.finding("iodine_value").value or 0) - 30
    assert (ours.finding("keeps_months").value or 0) > (usual.finding("keeps_months").value or 0)
    assert ours.finding("oleic_share").confidence == "high"


def test_a_certificate_narrows_the_band() -> None:
    facts = stock(
        lot("sunflower", certificate({"16:0": 6.2, "18:0": 4.0, "18:1n9": 27.0, "18:2n6": 62.0, "18:3n3": 0.3}))
    )
    usual, ours = (weigh(facts, row).finding("iodine_value") for row in ("100 g sunflower high linoleic", "100 g A-1"))
    assert usual.low is not None
    assert usual.high is not None
    assert ours.low is not None
    assert ours.high is not None

    assert ours.high - ours.low < 0.5 * (usual.high - usual.low)


def test_what_a_certificate_does_not_list_keeps_its_usual_part_of_the_rest() -> None:
    base = FACTS.ingredient("olive")
    assert base.lipid is not None
    profile = certified_profile(amounts({"18:1n9": 80.0}), FACTS.acids, base.lipid.acids)
    usual = base.lipid.acids
    assert usual is not None

    assert profile.share_of("18:1n9") == pytest.approx(0.80)
    ratio = usual.share_of("16:0") / usual.share_of("18:2n6")
    assert profile.share_of("16:0") / profile.share_of("18:2n6") == pytest.approx(ratio)


@pytest.mark.parametrize(
    ("acids", "why"),
    [({"18:1n9": 80.0, "18:2n6": 40.0}, "sum to 120.0 %"), ({"18:1n9": 50.0}, "nothing is known of the other")],
)
def test_acids_that_cannot_be_a_profile_are_refused(acids: dict[str, float], why: str) -> None:
    with pytest.raises(ProfileError, match=why):
        certified_profile(amounts(acids), FACTS.acids)


def test_acids_of_what_has_none_are_refused_and_never_break_the_shelf() -> None:
    impossible = certificate({"18:1n9": 100.0}, figures={"density": 0.81})
    assert "has no fatty acids" in acids_problem(impossible, FACTS.ingredient("squalane"), FACTS.acids)
    assert "has no fatty acids" in acids_problem(impossible, FACTS.ingredient("lavender"), FACTS.acids)

    item = stock(lot("squalane", impossible)).ingredients["lot:A-1"]  # as an older file may hold it
    assert item.lipid is FACTS.ingredient("squalane").lipid
    assert item.density == 0.81


def test_what_lies_outside_the_published_range_is_called_out() -> None:
    base = FACTS.ingredient("sunflower")
    found = outliers(certificate(HIGH_OLEIC), base)

    # Codex STAN 210, from memory: oleic acid of linoleic sunflower 14.0 to 39.4 %.
    assert found[0].title == "Oleic"
    assert found[0].beyond == pytest.approx(78.6 - 39.4)
    named = looks_like(certificate(HIGH_OLEIC), base, FACTS.ingredients.values())
    assert named is not None
    assert named[0].key == "sunflower-high-oleic"  # the same plant before another


def test_a_usual_lot_is_like_its_own_oil() -> None:
    base = FACTS.ingredient("olive")
    usual = certificate({"16:0": 11.5, "18:0": 2.7, "18:1n9": 74.0, "18:2n6": 8.5, "18:3n3": 0.7})

    assert outliers(usual, base) == ()
    assert looks_like(usual, base, FACTS.ingredients.values()) is None


def test_an_induction_time_that_was_measured_is_used_and_is_surer() -> None:
    base = FACTS.ingredient("sunflower")
    ours = lot_ingredient(lot("sunflower", certificate(figures={"induction_time_110c": 9.0})), base, FACTS.acids, TODAY)
    assert ours.oxidation is not None
    assert base.oxidation is not None

    assert ours.oxidation.osi_hours == 9.0
    assert ours.oxidation.osi_sd < base.oxidation.osi_sd


def test_a_lot_brings_its_age_into_the_blend() -> None:
    fresh = lot(received_on=TODAY)
    old = lot(received_on=date(2026, 2, 1), opened_on=date(2026, 3, 1))
    warm = replace(old, place="bathroom")
    keeps = [weigh(stock(each), "100 g A-1").finding("keeps_months") for each in (fresh, old, warm)]

    assert [finding.high for finding in keeps] == sorted((f.high for f in keeps), key=lambda h: -(h or 0))
    assert (keeps[0].value or 0) > (keeps[1].value or 0)


def test_a_measured_peroxide_value_counts_from_its_day() -> None:
    today = lot("grapeseed", certificate(dated=TODAY, figures={"peroxide_value": 6.0}))
    item = stock(today).ingredients["lot:A-1"]
    assert item.past is not None

    assert item.past.peroxide_value == 6.0
    assert item.past.aged == ()
    earlier = stock(lot("grapeseed", certificate(dated=date(2026, 5, 25), figures={"peroxide_value": 6.0})))
    life, then = lot_life(today, item, TODAY, DRAWS), lot_life(today, earlier.ingredients["lot:A-1"], TODAY, DRAWS)
    assert life.peroxides == pytest.approx(6.0)
    assert (then.peroxides or 0) > 6.0
    assert (then.months_left or 0) < (life.months_left or 0)


def test_a_share_that_is_one_number_is_known_to_three_percent_of_it_or_a_fifth_of_a_point() -> None:
    """How well two laboratories agree: common practice."""
    found = {share.acid.code: share for share in certified_profile(amounts(HIGH_OLEIC), FACTS.acids).shares}
    oleic, stearic = found["18:1n9"], found["18:0"]

    assert (oleic.low / oleic.typical, oleic.high / oleic.typical) == pytest.approx((0.97, 1.03))
    # 3.0 ± 0.2 of a sum of 98.6
    assert (stearic.low, stearic.high) == pytest.approx((0.028, 0.032), rel=0.02)
    assert stearic.high / stearic.typical == pytest.approx(3.2 / 3.0)


def test_the_last_certificate_that_says_something_wins() -> None:
    first = certificate(HIGH_OLEIC, date(2026, 1, 1), {"peroxide_value": 1.0, "tocopherols": 500})
    second = certificate(dated=date(2026, 9, 1), figures={"peroxide_value": 4.0})
    merged = lot("sunflower", first, second).certificate

    assert merged.figures == {"peroxide_value": 4.0, "tocopherols": 500}
    assert merged.acids == first.acids
    assert merged.dated_on == date(2026, 9, 1)


def test_a_lot_lasts_no_longer_than_its_supplier_says() -> None:
    each = lot("jojoba", best_before=date(2026, 12, 5))
    life = lot_life(each, stock(each).ingredients["lot:A-1"], TODAY, DRAWS)

    assert life.ends_on == date(2026, 12, 5)
    assert life.limited_by == "the supplier’s best before"
    assert life.ends_soon
    assert lot_life(each, stock(each).ingredients["lot:A-1"], date(2026, 12, 6), DRAWS).is_over


def test_a_lot_keeps_as_long_by_itself_as_a_blend_of_it_does() -> None:
    """One road: the same history, the same draws, the same place; whole months are what differs."""
    for ingredient, place in (("sunflower", "bathroom"), ("rosehip", "fridge"), ("squalane", "cool cupboard")):
        each = lot(ingredient, received_on=date(2026, 4, 1), opened_on=date(2026, 6, 1), place=place)
        facts = stock(each)
        alone = lot_life(each, facts.ingredients["lot:A-1"], TODAY, DRAWS)
        recipe = Recipe((Entry("100 g A-1"),), storage=each.storage)
        history = StorageHistory(start_month=TODAY.month - 1)
        blend = assess(recipe, facts.ingredients, facts.names, draws=DRAWS, history=history).shelf_life
        assert blend is not None

        assert alone.months_left == pytest.approx(min(blend.low, 36.0 if ingredient == "squalane" else 24.0))
        assert alone.typical == pytest.approx(blend.typical)


@pytest.mark.parametrize(
    "rows", [("90 g grapeseed", "10 g olive", "0.5 g mixed tocopherols"), ("80 g olive", "20 g aloe vera gel")]
)
def test_a_lot_of_a_blend_is_protected_and_refused_as_the_blend_is(rows: tuple[str, ...]) -> None:
    made = lot("", made_from=(3, 1), received_on=TODAY)
    facts = stock(made, made={(3, 1): ("Blend", Recipe(tuple(Entry(row) for row in rows)))})
    alone = lot_life(made, facts.ingredients["lot:A-1"], TODAY, DRAWS)
    blend = assess(
        Recipe((Entry("100 g A-1"),), storage=made.storage),
        facts.ingredients,
        facts.names,
        draws=DRAWS,
        history=StorageHistory(start_month=TODAY.month - 1),
    ).shelf_life
    assert blend is not None

    assert (alone.months_left is None) == (blend.months is None) == ("aloe" in rows[-1])
    if blend.months is not None:
        assert blend.protection > 1
        assert alone.months_left == pytest.approx(min(blend.low, 24.0))


def test_what_a_lot_has_aged_is_gone_for_the_blend_too() -> None:
    """Squalane cannot oxidise: ageing alone ends it, 36 months at 20 °C (docs/keeping.md), and three years are gone."""
    old = lot("squalane", received_on=date(2023, 11, 25), opened_on=date(2023, 11, 25), place="")
    facts = stock(old)
    life = lot_life(old, facts.ingredients["lot:A-1"], TODAY, DRAWS)
    kept, fresh = weigh(facts, "100 g A-1").shelf_life, weigh(facts, "100 g squalane").shelf_life
    half = weigh(facts, "50 g A-1", "50 g squalane").shelf_life
    assert kept is not None and fresh is not None and half is not None  # noqa: PT018 - for the types

    assert kept.typical == pytest.approx(life.typical)
    assert kept.low == 0.0
    assert kept.typical < 0.2 * fresh.typical
    assert kept.typical < half.typical < fresh.typical


def test_a_measured_peroxide_value_takes_no_ageing_back() -> None:
    came = date(2024, 1, 1)
    found = [
        lot("squalane", received_on=came),
        *(
            lot("squalane", certificate(dated=day, figures={"peroxide_value": 0.0}), received_on=came)
            for day in (came, TODAY)
        ),
    ]
    lives = [lot_life(each, stock(each).ingredients["lot:A-1"], TODAY, DRAWS).typical for each in found]

    assert lives == [pytest.approx(lives[0])] * 3
    fresh = lot("squalane", received_on=TODAY)
    assert (lives[0] or 0) < 0.6 * (lot_life(fresh, stock(fresh).ingredients["lot:A-1"], TODAY, DRAWS).typical or 0)


def test_what_has_no_model_has_its_supplier_s_date_or_nothing() -> None:
    dated, bare = lot("lavender", best_before=date(2027, 1, 1)), lot("lavender")

    assert lot_life(dated, FACTS.ingredient("lavender"), TODAY, DRAWS).ends_on == date(2027, 1, 1)
    assert lot_life(bare, FACTS.ingredient("lavender"), TODAY, DRAWS).months_left is None


def test_two_lots_of_one_oil_in_one_blend_are_one_oil_in_the_figures() -> None:
    facts = stock(lot("olive"), replace(lot("olive"), code="A-2"))
    both, one = weigh(facts, "50 g A-1", "50 g A-2"), weigh(facts, "100 g olive")

    for key in ("oleic_share", "iodine_value", "density_20c", "solid_fat_content_22c"):
        assert both.finding(key).value == pytest.approx(one.finding(key).value)


RECIPE = Recipe((Entry("60 g olive"), Entry("30 g jojoba"), Entry("10 g sweet orange essential oil")))


def test_a_mixture_counts_as_what_went_into_it() -> None:
    made = replace(lot(""), ingredient="", made_from=(1, 1))
    facts = stock(made, made={(1, 1): ("Base", RECIPE)})
    mixed = weigh(facts, "100 g A-1")
    plain = assess(RECIPE, FACTS.ingredients, FACTS.names)

    for key in ("oleic_share", "iodine_value", "density_20c", "fatty_acid_mass", "viscosity_25c"):
        assert mixed.finding(key).value == pytest.approx(plain.finding(key).value), key
    # Its scent is still scent; the range of the drops it was counted in is gone, since the row is weighed.
    assert mixed.finding("scent_share").value == pytest.approx(10.0)
    assert [row.typed for row in mixed.rows] == ["100 g A-1"]


def test_a_mixture_may_be_made_of_a_mixture_that_came_before_and_of_none_that_came_later() -> None:
    first = replace(lot(""), ingredient="", made_from=(1, 1))
    second = replace(first, code="A-2", made_from=(2, 1))
    recipes = {(1, 1): ("Base", RECIPE), (2, 1): ("Second", Recipe((Entry("50 g A-1"), Entry("50 g olive"))))}
    facts = stock(first, second, made=recipes)
    # By hand: half of 60 % and half of 100 % olive.
    parts = {item.base_key: share for item, share in facts.ingredients["lot:A-2"].parts}
    assert parts["olive"] == pytest.approx(0.8, abs=1e-9) or sum(
        share for item, share in facts.ingredients["lot:A-2"].parts if item.base_key == "olive"
    ) == pytest.approx(0.8)

    itself = {(1, 1): ("Itself", Recipe((Entry("50 g A-1"), Entry("50 g olive"))))}
    facts = stock(first, made=itself)
    assert [item.base_key for item, _ in facts.ingredients["lot:A-1"].parts] == ["olive"]


def test_the_price_is_that_of_the_oldest_open_lot() -> None:
    closed = replace(lot("jojoba"), code="closed", bought_g=100, left_g=50, received_on=date(2020, 1, 1), price=1.0)
    newer = replace(closed, code="newer", opened_on=date(2026, 2, 1), price=9.0)
    older = replace(closed, code="older", opened_on=date(2026, 1, 1), price=7.0)
    empty = replace(closed, code="empty", opened_on=date(2025, 1, 1), price=5.0, left_g=0.0)
    free = replace(closed, code="free of charge", ingredient="argan", price=None)
    prices = stock(closed, newer, older, empty, free).prices

    assert prices["jojoba"].per_gram == pytest.approx(0.07)
    assert prices["lot:empty"].per_gram == pytest.approx(0.05)  # a blend that names it still knows what it cost
    assert "argan" not in prices


def test_a_code_is_taken_letter_by_letter() -> None:
    facts = stock(lot("olive"))

    assert facts.names.match("A-1").keys == ("lot:A-1",)
    assert facts.names.match("olive A-1").keys == ("lot:A-1",)
    assert "lot:A-1" not in facts.names.match("A-2").keys
    named = stock(replace(lot("olive"), code="jojoba"))
    assert named.names.match("jojoba").keys == ("jojoba",)  # a code that is also a name stays a name


def test_an_own_oil_is_estimated_where_it_says_nothing() -> None:
    own = OwnOil("Rock samphire seed oil", acids=amounts({"16:0": 7, "18:1n12": 42, "18:1n9": 29, "18:2n6": 22}))
    item = own_ingredient(own, FACTS.acids)
    assert item.lipid is not None
    assert item.oxidation is not None

    assert item.key == "own:rock-samphire-seed-oil"
    assert item.density_basis.source == "lund"
    assert iodine_value(item.lipid) == pytest.approx(0.860 * 71 + 1.732 * 22, abs=0.5)
    assert item.oxidation.source == "oxidation-estimate"
    bare = own_ingredient(OwnOil("Something"), FACTS.acids)
    assert bare.lipid is None
    assert bare.density_basis.confidence == "low"


@pytest.mark.parametrize(
    ("said", "why"),
    [
        ({"name": " "}, "needs a name"),
        ({"name": "x", "kind": "soup"}, "is not a kind"),
        ({"name": "x", "tint": 11}, "1 \\(pale\\)"),
    ],
)
def test_an_own_oil_that_cannot_be_says_why(said: dict[str, object], why: str) -> None:
    with pytest.raises(UptideError, match=why):
        OwnOil(**said)  # type: ignore[arg-type] # on purpose
