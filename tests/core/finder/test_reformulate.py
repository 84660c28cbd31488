"""A blend made over: what stops it is gone, what was typed is not lost, and nothing new is brought in."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.safety.conftest import FACTS, TODAY
from tests.core.safety.test_worked_examples import ADULT

from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.aims import AIMS
from uptide.core.finder.reformulate import Pantry, Variant, reformulate
from uptide.core.finder.substitutes import scent_likeness
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.safety.caution import Grade
from uptide.core.skin.wearer import ALLERGIES, ANYONE, CONDITIONS, Ticks, Wearer

MEANING = {"bergamot": "bergamot", "lemon": "lemon", "sunflower": "sunflower-high-oleic"}
PREGNANT = replace(ADULT, pregnant=True, allergies=Ticks.answered(ALLERGIES, "tree_nut"))


def recipe(*rows: str, product: str = "body-oil") -> Recipe:
    return Recipe(
        tuple(Entry(row, next(({"name": k} for w, k in MEANING.items() if w in row), {})) for row in rows), product
    )


def look(tried: Recipe, wearer: Wearer) -> Assessment:
    return assess(tried, FACTS.ingredients, FACTS.names, usage=FACTS.usage_context(tried, TODAY, wearer))


def pantry(*on_hand: str) -> Pantry:
    return Pantry(
        FACTS.ingredients,
        FACTS.names,
        tables=FACTS.safety,
        today=TODAY,
        on_hand=dict.fromkeys(on_hand, (("A-1", 100.0),)),
    )


def made(
    aim: str, *rows: str, wearer: Wearer = ANYONE, on_hand: tuple[str, ...] = (), product: str = "body-oil"
) -> Variant:
    return reformulate(AIMS[aim], recipe(*rows, product=product), wearer, pantry(*on_hand), look)


def stops(assessment: Assessment) -> set[str]:
    return {c.rule for c in assessment.cautions if c.grade is Grade.STOP}


FOUR = ("2 tbsp sweet almond", "1 tbsp jojoba", "10 drops clary sage", "12 drops bergamot", "1 tsp retinol")


def test_four_stops_for_a_pregnant_wearer_with_a_nut_allergy_clear() -> None:
    variant = made("wearer", *FOUR, wearer=PREGNANT)

    assert {"tree-nut", "retinol-pregnancy", "retinol-law", "scent-over", "sun-over"} <= stops(variant.before)
    assert stops(variant.after) == set()
    assert variant.left == ()
    assert {change.before for change in variant.changes} >= {FOUR[0], FOUR[4]}
    assert all(change.why for change in variant.changes)
    assert len(variant.recipe.entries) == len(FOUR)


def test_what_is_left_out_stays_as_a_remark() -> None:
    variant = made("sensitive", "2 tbsp jojoba", "4 drops lavender")

    assert variant.recipe.entries[1].typed == "# 4 drops lavender"
    assert variant.changes[-1].after == ""
    assert variant.after.finding("scent_dose").value == 0


def test_without_nuts_takes_the_rare_ones_out_as_well_and_brings_no_allergen() -> None:
    variant = made("no-nuts", "2 tbsp sweet almond", "1 tbsp argan", "1 tbsp jojoba")
    bringing = [oil_profile(item).allergens for _, item in variant.after.resolution.parts]

    assert bringing == [frozenset()] * 3
    assert variant.recipe.entries[2].typed == "1 tbsp jojoba"


def test_what_is_open_on_the_shelf_is_taken_first_among_near_ones() -> None:
    plain = made("no-nuts", "2 tbsp sweet almond")
    shelf = made("no-nuts", "2 tbsp sweet almond", on_hand=("sunflower-high-oleic",))

    assert shelf.after.resolution.parts[0][1].key == "sunflower-high-oleic"
    assert plain.after.resolution.parts[0][1].key != "almond-sweet"


def test_for_oily_skin_a_heavy_blend_becomes_a_light_one() -> None:
    variant = made("oily", "3 tbsp avocado", "1 tbsp olive", "1 tbsp jojoba", product="facial-oil")
    fit, comedogenicity = variant.after.finding("skin_fit"), variant.after.finding("comedogenicity")

    assert variant.before.finding("skin_fit").word == "not for oily skin"
    assert fit.word == "suits"
    assert comedogenicity.value is not None
    assert comedogenicity.value <= 2
    assert variant.recipe.entries[2].typed == "1 tbsp jojoba"


def test_for_dry_skin_a_light_blend_becomes_a_richer_one() -> None:
    variant = made("dry", "3 tbsp grapeseed", product="cleansing-oil")

    assert variant.before.finding("skin_fit").word == "light for dry skin"
    assert variant.after.finding("skin_fit").word == "suits"


def test_for_the_sun_the_same_plant_without_furocoumarins_comes_first() -> None:
    variant = made("sun", "3 tbsp jojoba", "4 drops bergamot", "3 drops lemon")
    keys = [item.key for _, item in variant.after.resolution.parts]

    assert keys == ["jojoba", "bergamot-fcf", "lemon-distilled"]
    assert variant.after.finding("phototoxicity").value == 0


def test_too_much_scent_is_lessened_alike_to_what_is_suggested() -> None:
    variant = made("pregnancy", "100 ml jojoba", "30 drops lavender", "20 drops geranium")
    dose = variant.after.safety.dose if variant.after.safety else None
    assert dose is not None

    assert dose.total <= dose.suggested * 1.1
    one, other = (row.percent_mass for row, _ in variant.after.resolution.parts[1:])
    assert one is not None
    assert other is not None
    assert one / other == pytest.approx(1.5, rel=0.25)


def test_what_nothing_in_the_bottle_can_change_is_left_and_named() -> None:
    broken = replace(ADULT, conditions=Ticks.answered(CONDITIONS, "broken"))
    variant = made("wearer", "2 tbsp jojoba", wearer=broken)

    assert variant.changes == ()
    assert [c.rule for c in variant.left] == ["broken-skin"]


def test_a_blend_that_needs_nothing_is_left_as_it_is() -> None:
    variant = made("wearer", "2 tbsp jojoba", wearer=ADULT)

    assert variant.changes == ()
    assert variant.recipe == recipe("2 tbsp jojoba")


def test_likeness_of_scents_by_what_they_hold() -> None:
    one = FACTS.ingredient("bergamot")

    assert scent_likeness(FACTS.safety, one, one) == pytest.approx(1.0)
    assert scent_likeness(FACTS.safety, one, FACTS.ingredient("bergamot-fcf")) > 0.95
    assert scent_likeness(FACTS.safety, one, FACTS.ingredient("wintergreen")) < 0.05
    assert scent_likeness(FACTS.safety, one, FACTS.ingredient("jojoba")) == 0


OILS = st.sampled_from(["sweet almond", "argan", "avocado", "jojoba", "grapeseed", "sesame", "coconut", "wheat germ"])
SCENTED = st.sampled_from(
    ["lavender", "clary sage", "frankincense", "peppermint", "bergamot", "clove bud", "ylang ylang"]
)


@settings(max_examples=25)
@given(
    st.lists(OILS, min_size=1, max_size=4, unique=True),
    st.lists(SCENTED, max_size=3, unique=True),
    st.integers(1, 30),
    st.sampled_from(sorted(AIMS)),
    st.booleans(),
)
def test_no_making_over_adds_a_stop_or_loses_a_row(
    oils: list[str], scents: list[str], drops: int, aim: str, infant: bool
) -> None:
    wearer = replace(PREGNANT, pregnant=False, born=date(2025, 1, 1)) if infant else PREGNANT
    rows = [*(f"1 tbsp {oil}" for oil in oils), *(f"{drops} drops {scent}" for scent in scents)]
    variant = made(aim, *rows, wearer=wearer)

    assert stops(variant.after) <= stops(variant.before)
    assert len(variant.recipe.entries) == len(rows)
    for row, entry in zip(rows, variant.recipe.entries, strict=True):
        assert entry.typed.startswith("# ") or entry.typed.split()[0][0].isnumeric(), row
    untouched = set(rows) - {change.before for change in variant.changes}
    assert untouched <= {entry.typed for entry in variant.recipe.entries}


def test_what_nobody_measured_is_taken_out_too() -> None:
    variant = made("no-nuts", "2 tbsp jojoba", "a blob of hazelnut")

    assert any(c.rule == "tree-nut" for c in variant.before.cautions)
    assert not any(c.rule == "tree-nut" for c in variant.after.cautions)
    assert variant.recipe.entries[0].typed == "2 tbsp jojoba"


def test_a_usual_oil_is_not_swapped_for_a_dear_one() -> None:
    """The likest linoleic oil to avocado is prickly pear, which costs twenty times as much (common practice)."""
    change = made("oily", "54 g avocado", "30 g jojoba").changes[0]

    assert change.after == "54 g Sunflower oil"
    assert "dearer" not in change.effects
    # On hand it may be: what stands on the shelf is paid for.
    levels = {key: item.use.price_level for key, item in FACTS.ingredients.items() if item.use is not None}
    assert levels["prickly-pear-seed"] - levels["avocado"] == 2
    assert {levels[key] for key in ("sunflower", "grapeseed", "olive")} == {1}


def test_a_mildly_clogging_oil_is_lessened_and_one_that_clogs_is_swapped() -> None:
    variant = made("oily", "80 g grapeseed", "10 g avocado", "8 g coconut", product="facial-oil")
    after = {change.before: change.after for change in variant.changes}

    assert after["10 g avocado"].endswith("avocado")
    assert float(after["10 g avocado"].split()[0]) < 0.05 * 98
    assert "Coconut" not in after["8 g coconut"]
    assert (variant.after.finding("comedogenicity").value or 0) <= 2


def test_the_sun_takes_out_nothing_that_does_not_burn() -> None:
    """Too much scent in all stays a stop, which is named; it is not what was asked."""
    variant = made("sun", "30 g jojoba", "12 drops lavender", "12 drops bergamot", "8 drops peppermint")

    assert [change.before for change in variant.changes] == ["12 drops bergamot"]
    assert variant.after.safety is not None
    assert variant.after.safety.phototoxicity is not None
    assert variant.after.safety.phototoxicity.total == 0
    assert "scent-over" in {caution.rule for caution in variant.left}


def test_where_there_is_too_much_scent_all_are_lessened_alike_and_one_drop_goes() -> None:
    """Drops are whole: of one drop there is no fewer but none."""
    variant = made("oily", "30 ml jojoba", "40 drops lavender", "1 drop rose otto")

    assert [entry.typed for entry in variant.recipe.entries] == [
        "30 ml jojoba",
        "9 drops lavender",
        "# 1 drop rose otto",
    ]
