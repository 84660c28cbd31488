"""What an assessment says of a blend, and that it stays silent about what it does not know."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.conftest import Weigh

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.ingredients.ingredient import Price
from uptide.core.methods.every import METHODS
from uptide.core.recipe.recipe import Entry, Recipe

CATALOGUE = shipped_catalogue()


def test_a_blend_of_one_oil_has_that_oil_s_values(weigh: Weigh) -> None:
    assessment = weigh("100 g olive")

    # Codex STAN 33-1981, virgin olive oil, from memory: iodine value 75-94, saponification value 184-196.
    assert 75 <= (assessment.finding("iodine_value").value or 0) <= 94
    assert 184 <= (assessment.finding("saponification_value").value or 0) <= 196


def test_iodine_value_of_a_blend_is_the_mean_by_mass(weigh: Weigh) -> None:
    parts = [weigh(f"100 g {name}").finding("iodine_value").value or 0 for name in ("grapeseed", "jojoba", "squalane")]
    blend = weigh("50 g grapeseed\n30 g jojoba\n20 g squalane").finding("iodine_value").value

    assert blend == pytest.approx(0.5 * parts[0] + 0.3 * parts[1] + 0.2 * parts[2])


def test_squalane_dilutes_the_blend_and_not_the_share_of_fatty_acids(weigh: Weigh) -> None:
    pure, diluted = weigh("50 g grapeseed"), weigh("50 g grapeseed\n50 g squalane")

    assert diluted.finding("linoleic_share").value == pytest.approx(pure.finding("linoleic_share").value)
    assert diluted.finding("fatty_acid_mass").value == pytest.approx((pure.finding("fatty_acid_mass").value or 0) / 2)


def test_acids_make_100_and_each_is_the_sum_of_its_oils(weigh: Weigh) -> None:
    acids = weigh("2 tbsp grapeseed\n1 tbsp jojoba\n1 tsp castor").acids

    assert sum(part.percent for part in acids) == pytest.approx(100)
    for part in acids:
        assert sum(share for _, share in part.parts) == pytest.approx(part.percent)
    unsaturation = [part.acid.double_bonds for part in acids]
    assert unsaturation == sorted(unsaturation)


def test_an_oil_of_unknown_composition_makes_the_figures_unknown_and_is_named(weigh: Weigh) -> None:
    finding = weigh("50 g jojoba\n50 g infused oil").finding("iodine_value")

    assert finding.value is None
    assert "Infused oil" in finding.remark


def test_a_trace_of_unknown_composition_is_left_out_and_said(weigh: Weigh) -> None:
    finding = weigh("99 g jojoba\n1 g beeswax").finding("iodine_value")

    assert finding.value == pytest.approx(83.12, abs=0.01)
    assert "Beeswax" in finding.remark


def test_nothing_typed_gives_unknown_and_no_zero(weigh: Weigh) -> None:
    assert all(finding.value is None and finding.remark for finding in weigh("").findings)


def test_scent_counts_the_upper_end(weigh: Weigh) -> None:
    finding = weigh("10 to 15 drops lavender\ntop up to 30 ml with jojoba").finding("scent_share")
    heavy = 15 / 20 * 0.884

    assert finding.value == finding.high
    assert (finding.low or 0) < (finding.value or 0)
    assert finding.value == pytest.approx(100 * heavy / (29.375 * 0.864 + heavy), rel=1e-3)


def test_cost_is_the_sum_of_prices_or_unknown_with_the_missing_lot_named(catalogue: Catalogue) -> None:
    recipe = Recipe((Entry("50 g jojoba"), Entry("50 g argan")))
    jojoba, argan = Price(0.03, "GBP", "lot A"), Price(0.05, "GBP", "lot B")

    def cost(**prices: Price) -> tuple[float | None, str]:
        finding = assess(recipe, catalogue.ingredients, catalogue.names, prices).finding("cost")
        return finding.value, finding.remark

    assert cost(jojoba=jojoba, argan=argan)[0] == pytest.approx(4.0)
    assert cost(jojoba=jojoba) == (None, "Unknown: no lot of Argan oil with a price stands on your shelf.")
    assert cost(jojoba=jojoba, argan=Price(0.05, "EUR", "lot B"))[0] is None


def test_too_much_for_the_container_is_said_with_the_figure(weigh: Weigh) -> None:
    assessment = weigh("3 tbsp jojoba", ml=30)

    assert assessment.bottle is not None
    assert assessment.bottle.past_shoulder_ml == pytest.approx(14.36, abs=0.01)
    assert any("14.4 mL too much" in remark for remark in assessment.remarks)


def test_pours_stand_on_one_another_and_scent_comes_last(weigh: Weigh) -> None:
    bottle = weigh("12 drops lavender\n1 tbsp jojoba\n1% mixed tocopherols\n1 tbsp argan", ml=60).bottle
    assert bottle is not None

    assert [pour.phase.value for pour in bottle.pours] == ["carriers", "carriers", "protection", "scent"]
    for below, above in zip(bottle.pours, bottle.pours[1:], strict=False):
        assert above.bottom_mm == pytest.approx(below.top_mm)


@pytest.mark.parametrize(
    ("recipe", "rule"),
    [
        ("1 tbsp almond", "unnamed-wearer"),
        ("1 tbsp aloe gel", "water-in-oil"),
        ("5 drops neroli", "neat"),
    ],
)
def test_cautions_name_what_is_in_it(weigh: Weigh, recipe: str, rule: str) -> None:
    assert rule in {caution.rule for caution in weigh(recipe).cautions}
    assert "usual-care" in {caution.rule for caution in weigh(recipe).cautions}


def test_every_finding_has_a_method_whose_sources_and_own_are_in_the_catalogue(
    weigh: Weigh, catalogue: Catalogue
) -> None:
    for finding in weigh("2 tbsp grapeseed\n12 drops lavender").findings:
        for key in (*METHODS[finding.method].sources, *finding.sources):
            assert key in catalogue.sources, (finding.key, key)


@given(scale=st.floats(0.01, 100))
def test_scaling_the_batch_changes_no_share(scale: float) -> None:
    def shares(factor: float) -> list[float | None]:
        recipe = Recipe((Entry(f"{30 * factor:.6f} g grapeseed"), Entry(f"{20 * factor:.6f} g jojoba")))
        found = assess(recipe, CATALOGUE.ingredients, CATALOGUE.names)
        return [
            found.finding(key).value for key in ("iodine_value", "linoleic_share", "density_20c", "fatty_acid_mass")
        ]

    assert shares(scale) == pytest.approx(shares(1), rel=1e-4)


def test_every_single_thing_can_be_assessed_alone(catalogue: Catalogue) -> None:
    for key, item in catalogue.ingredients.items():
        recipe = Recipe((Entry(f"100 g {item.name}", {"name": key}),))
        usage = catalogue.usage_context(recipe, date(2026, 11, 25))
        found = assess(recipe, catalogue.ingredients, catalogue.names, usage=usage)

        assert found.resolution.total_grams == pytest.approx(100), key
