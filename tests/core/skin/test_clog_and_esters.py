"""Where a school's rule has an edge it is shown, “suits” never stands without what clogs, and esters are known."""

from __future__ import annotations

import re
from datetime import date

import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.assessment.verdicts import sentence
from uptide.core.figures.finding import Finding
from uptide.core.lipids.lipid import saponification_value
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Entry, Recipe

FACTS = shipped_catalogue()


def weighed(*rows: str) -> Assessment:
    recipe = Recipe(tuple(Entry(row) for row in rows))
    usage = FACTS.usage_context(recipe, date(2026, 11, 25))
    return assess(recipe, FACTS.ingredients, FACTS.names, draws=standard_draws(), usage=usage)


def finding(found: Assessment, key: str) -> Finding:
    return next(each for each in found.findings if each.key == key)


def by_mass(found: Assessment) -> float:
    said = re.search(r"Weighed by mass: (\d\.\d)", finding(found, "comedogenicity").other)
    assert said is not None
    return float(said[1])


def test_the_edge_of_the_school_of_the_worst_is_said_on_both_sides() -> None:
    below = weighed("96 g sunflower oil high linoleic", "4 g wheat germ oil")
    at = weighed("95 g sunflower oil high linoleic", "5 g wheat germ oil")
    far = weighed("80 g sunflower oil high linoleic", "20 g wheat germ oil")

    assert [finding(each, "comedogenicity").value for each in (below, at, far)] == [0, 5, 5]
    assert (
        "Left out by this school, and 5 of 5 from 5 % on: Wheat germ oil, 4 %."
        in finding(below, "comedogenicity").remark
    )
    assert "With less than 5 % of it this school says 0." in finding(at, "comedogenicity").remark
    assert "this school says" not in finding(far, "comedogenicity").remark
    # The other school is continuous: a hundredth of a rating of five more.
    assert by_mass(at) - by_mass(below) == pytest.approx(0.05, abs=0.051)


def test_what_clogs_stands_in_the_sentence_that_says_whom_it_suits() -> None:
    found = weighed("50 g isopropyl myristate")

    assert finding(found, "skin_fit").word == "suits normal, dry and mature (clog rating 5 of 5)"
    assert "(clog rating 5 of 5)" in sentence(found, "Face oil")
    assert "clog rating" not in sentence(weighed("50 g squalane"), "Face oil")


@pytest.mark.parametrize(
    ("ester", "density", "thin"),
    [
        ("coco-caprylate", 0.860, 9.0),
        ("isopropyl palmitate", 0.853, 7.0),
        ("ethylhexyl palmitate", 0.856, 12.0),
        ("C12-15 alkyl benzoate", 0.925, 13.0),
    ],
)
def test_a_blend_with_half_of_an_ester_has_a_life_a_feel_and_a_thickness(
    ester: str, density: float, thin: float
) -> None:
    """Densities and viscosities as trade sheets have them, from memory; the blend by the logarithms, by hand."""
    found = weighed(f"46 g {ester}", "54 g jojoba oil")
    life = found.shelf_life

    assert life is not None
    assert (life.months or 0) >= 18
    assert finding(found, "feel").value == pytest.approx(0.46 * (2 if "hexyl" in ester else 1) + 0.54 * 3)
    assert finding(found, "density_20c").value == pytest.approx(100 / (46 / density + 54 / 0.864), rel=2e-3)
    jojoba = finding(weighed("50 g jojoba oil"), "viscosity_25c").value
    assert jojoba is not None
    assert finding(found, "viscosity_25c").value == pytest.approx(thin**0.46 * jojoba**0.54, rel=1e-3)
    assert finding(found, "solid_fat_content_22c").value == 0


def test_esters_saponify_as_their_molar_masses_say() -> None:
    """Isopropyl palmitate 298.5 g/mol: 56106/298.5 = 188; ethylhexyl palmitate 368.6: 152; by hand."""
    for key, mass in (("isopropyl-palmitate", 298.5), ("ethylhexyl-palmitate", 368.6)):
        lipid = FACTS.ingredient(key).lipid
        assert lipid is not None
        assert saponification_value(lipid) == pytest.approx(56_106 / mass, rel=0.01)


def test_isopropyl_palmitate_sets_in_a_cool_room_and_is_clear_in_the_bathroom() -> None:
    found = weighed("50 g isopropyl palmitate").setting

    assert found is not None
    assert found.clear_above == pytest.approx(14, abs=0.2)
