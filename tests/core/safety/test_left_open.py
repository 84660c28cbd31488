"""What has no amount, or no name yet, is never taken for nothing: presence counts, and sums are unknown."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.figures.oil_profile import allergens_of
from uptide.core.making.label import make_label
from uptide.core.safety.caution import Grade
from uptide.core.safety.check import Safety
from uptide.core.skin.wearer import ALLERGIES, Ticks, Wearer

if TYPE_CHECKING:
    from tests.core.safety.conftest import Checked

BASE = "30 g jojoba"


def safety(assessment: Assessment) -> Safety:
    assert assessment.safety is not None
    return assessment.safety


def grade_of(assessment: Assessment, rule: str) -> Grade | None:
    return next((c.grade for c in safety(assessment).cautions if c.rule == rule), None)


def test_an_allergen_nobody_measured_stops(checked: Checked) -> None:
    found = checked(BASE, "some sesame", wearer=Wearer("Ines", allergies=Ticks.answered(ALLERGIES, "sesame")))
    assert grade_of(found, "sesame") is Grade.STOP
    assert grade_of(found, "not-measured") is Grade.NOTE


def test_every_allergen_family_stops_without_an_amount(checked: Checked, catalogue: Catalogue) -> None:
    wearer = Wearer("Ines", allergies=Ticks(frozenset(ALLERGIES)))
    families: dict[str, str] = {}
    for key, item in catalogue.ingredients.items():
        for family in allergens_of(item) or ():
            families.setdefault(family, key)
    assert len(families) >= 5
    for family, key in families.items():
        name = catalogue.ingredient(key).name
        some, much = (
            checked(BASE, f"{amount} {name}", wearer=wearer, meaning={name: key}) for amount in ("some", "9 g")
        )
        about = {
            c.rule for c in safety(much).cautions if name in c.names and c.grade is not Grade.NOTE and not c.is_unknown
        }
        assert about <= {c.rule for c in safety(some).cautions if name in c.names}, family


@pytest.mark.parametrize("row", ["10 drops kanuka", "some zorgblat", "a splash of lemon"])
@pytest.mark.parametrize("key", ["scent_dose", "phototoxicity", "allergens_declared", "scent_share"])
def test_a_row_that_may_be_a_scent_makes_its_sums_unknown(row: str, key: str, checked: Checked) -> None:
    found = checked(BASE, row).finding(key)
    assert found.value is None
    assert found.word == ""
    assert row in found.remark


def test_a_row_that_can_only_be_a_carrier_leaves_the_sun_as_it_is(checked: Checked) -> None:
    found = checked(BASE, "2 tbsp squalene")
    assert safety(found).unsettled == ("2 tbsp squalene",)
    assert found.finding("phototoxicity").value == 0.0


def test_what_is_over_stays_over(checked: Checked) -> None:
    found = checked(BASE, "3 g lavender", "some neroli")
    assert found.finding("scent_dose").word == "too much"
    assert "Neroli" in found.finding("scent_dose").remark
    phototoxicity = checked(BASE, "1 g bergamot", "some lime", meaning={"bergamot": "bergamot", "lime": "lime"})
    assert phototoxicity.finding("phototoxicity").word == "over"
    assert grade_of(phototoxicity, "sun-over") is Grade.STOP


def test_a_burning_oil_nobody_measured_makes_the_sun_unknown(checked: Checked) -> None:
    found = checked(BASE, "some bergamot", meaning={"bergamot": "bergamot"})
    assert found.finding("phototoxicity").value is None
    assert any(c.rule == "sun-over" and c.is_unknown and "Bergamot" in c.about for c in safety(found).cautions)


def test_water_nobody_measured_is_a_warning_and_measured_a_stop(checked: Checked) -> None:
    assert grade_of(checked(BASE, "a splash of water"), "water-in-oil") is Grade.WARN
    assert grade_of(checked(BASE, "a splash of water", "3 g aloe vera juice"), "water-in-oil") is Grade.STOP
    assert grade_of(checked(BASE), "water-in-oil") is None


def test_a_row_nobody_understands_keeps_it_a_draft(checked: Checked) -> None:
    open_ = safety(checked(BASE, "10 drops kanuka"))
    assert open_.is_draft
    assert "10 drops kanuka" in open_.draft
    assert not safety(checked(BASE, "# 10 drops kanuka")).is_draft
    assert not safety(checked(BASE, "a blob of benzoin")).is_draft


def test_a_label_names_what_nobody_measured(checked: Checked) -> None:
    found = checked("30 g jojoba", "a blob of sesame")
    made = make_label(
        "Try", "Body oil", left_on=True, assessment=found, size_ml=30, batch_code="1", made_on=date(2026, 11, 26)
    )
    assert made.ingredients[-1] == "Sesamum Indicum Seed Oil"
    assert made.allergens == ("sesame",)
    assert any("Not measured: Sesame" in point for point in made.open_points)


@pytest.mark.parametrize("product", ["bath-oil-dispersing", "cleansing-oil"])
def test_nothing_without_an_amount_breaks_anything(product: str, checked: Checked, catalogue: Catalogue) -> None:
    for key, item in list(catalogue.ingredients.items())[::2]:
        found = checked(BASE, f"some {item.name}", product=product, meaning={item.name: key})
        assert grade_of(found, "not-measured") is not None, key
        assert checked(f"some {item.name}", product=product, meaning={item.name: key}).finding("feel").value is None


def test_a_plant_that_makes_skin_burn_is_not_called_harmless_in_the_sun(checked: Checked) -> None:
    found = checked("50 g jojoba", "10 g St John's wort infused olive oil").finding("phototoxicity")

    assert found.word == "careful"
    assert "12 to 24 hours" in found.remark
    assert checked("50 g jojoba").finding("phototoxicity").word == "none"
