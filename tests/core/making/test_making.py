"""A batch scaled to bottles, and the words of a label."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import date
from io import BytesIO
from types import SimpleNamespace
from typing import Any

import pytest
from pypdf import PageObject, PdfReader
from tests.conftest import Weigh

from uptide.catalogue.plants import plant_named
from uptide.catalogue.shipped import shipped_plants
from uptide.core.errors import QuantityError
from uptide.core.making.batch import as_written, plan_batch, plan_total, shortages
from uptide.core.making.batch_sheet import batch_sheet, cleaner_words
from uptide.core.making.clean_batch import cleaner
from uptide.core.making.label import Label, make_label, stated_contents
from uptide.core.making.sheets import one_label
from uptide.core.recipe.order import PourOrder
from uptide.formats.label_pdf import labels_pdf


def test_a_batch_fills_its_bottles_with_the_loss_on_top(weigh: Weigh) -> None:
    batch = plan_batch(weigh("2 tbsp jojoba\n1 tbsp argan"), 12, 30, 5, PourOrder.CARRIERS_FIRST)

    assert sum(step.millilitres for step in batch.steps) == pytest.approx(12 * 30 * 1.05)
    assert batch.steps[-1].after_grams == pytest.approx(batch.total_grams)


def test_a_batch_says_its_measures_in_spoons_with_the_error_of_rounding(weigh: Weigh) -> None:
    # 3 tbsp make 44.36 mL; 300 mL are 6.763 times that: 13.526 tbsp = 200 mL, said to a quarter teaspoon.
    step = plan_batch(weigh("2 tbsp jojoba\n1 tbsp argan"), 10, 30, 0, PourOrder.CARRIERS_FIRST).steps[0]

    assert step.said == "13½ tbsp"
    assert step.said_error == pytest.approx(100 * (13.5 * 14.78676 - 200) / 200, abs=0.01)


def test_the_order_is_the_school_s(weigh: Weigh) -> None:
    blend = weigh("12 drops lavender\n1% mixed tocopherols\n2 tbsp jojoba")
    first = {order: plan_batch(blend, 1, 30, 0, order).steps[0].ingredient.key for order in PourOrder}

    assert first == {
        PourOrder.CARRIERS_FIRST: "jojoba",
        PourOrder.SCENT_FIRST: "lavender",
        PourOrder.AS_TYPED: "lavender",
    }


def test_many_drops_are_weighed_rather(weigh: Weigh) -> None:
    steps = plan_batch(weigh("12 drops lavender\n2 tbsp jojoba"), 20, 30, 0, PourOrder.AS_TYPED).steps

    assert steps[0].weigh_rather


def test_what_was_not_read_is_listed_and_not_left_out_in_silence(weigh: Weigh) -> None:
    batch = plan_batch(weigh("2 tbsp jojoba\na blob of benzoin"), 1, 30, 0, PourOrder.AS_TYPED)

    assert [row.typed for row in batch.unmeasured] == ["a blob of benzoin"]


@pytest.mark.parametrize(("bottles", "size", "loss"), [(0, 30, 0), (1001, 30, 0), (1, 0, 0), (1, 30, -1), (1, 30, 51)])
def test_a_batch_that_cannot_be_made_is_refused(weigh: Weigh, bottles: int, size: float, loss: float) -> None:
    with pytest.raises(QuantityError, match="can"):
        plan_batch(weigh("2 tbsp jojoba"), bottles, size, loss, PourOrder.AS_TYPED)


def test_a_blend_with_nothing_in_it_makes_no_batch(weigh: Weigh) -> None:
    with pytest.raises(QuantityError, match="nothing to make"):
        plan_batch(weigh("zorgblat"), 1, 30, 0, PourOrder.AS_TYPED)


def test_a_label_lists_inci_by_mass_each_once_and_names_the_allergy_family(weigh: Weigh) -> None:
    label = make_label(
        "Bath oil",
        "Bath oil, floating",
        left_on=False,
        assessment=weigh("2 tbsp almond\n1 tbsp jojoba\n2 tbsp sweet almond oil\n6 drops geranium"),
        size_ml=30,
        batch_code="20261124-1",
        made_on=date(2026, 11, 24),
    )

    assert label.ingredients[:2] == ("Prunus Amygdalus Dulcis Oil", "Simmondsia Chinensis Seed Oil")
    assert label.ingredients[2] == "Pelargonium Graveolens Flower Oil"
    assert {"Citronellol", "Geraniol", "Linalool"} <= set(label.ingredients[3:])
    assert label.allergens == ("tree nut",)
    assert any("not with an allergy to tree nuts" in words for words in map(str.lower, label.cautions))
    assert "Slippery in bath and shower." in label.cautions


@pytest.mark.parametrize(
    ("volume", "stated"), [(21.7391, "21 mL"), (30.0, "30 mL"), (99.99, "99 mL"), (153.0, "150 mL")]
)
def test_contents_are_stated_at_or_under_what_is_in_it(volume: float, stated: str) -> None:
    # 20 g at 0.92 g/mL are 21.739 mL: labelled 21 mL (common practice).
    assert stated_contents(volume) == stated


def page_code(page: PageObject) -> str:
    contents = page.get_contents()
    return contents.get_data().decode("latin-1") if contents is not None else ""


def made(weigh: Weigh, text: str, size: float = 30, bottles: int = 1, ml: float | None = None) -> Label:
    return make_label(
        "Blend",
        "Body oil",
        left_on=True,
        assessment=weigh(text, ml),
        size_ml=size,
        batch_code="x-1",
        made_on=date(2026, 9, 1),
        bottles=bottles,
        plant_of=lambda words: plant_named(words, shipped_plants()),
    )


def test_a_label_counts_from_the_day_of_making_and_names_the_planned_size(weigh: Weigh) -> None:
    label = made(weigh, "50 ml jojoba", size=50, bottles=12)

    assert (label.contents, label.made_on, label.bottles) == ("50 mL", date(2026, 9, 1), 12)


def test_a_recipe_that_does_not_fit_its_bottle_says_so_on_the_label(weigh: Weigh) -> None:
    assert any("makes 120 mL, and a bottle of 30 mL holds 30 mL" in p for p in made(weigh, "120 ml jojoba").open_points)
    assert any("12 bottles of 50 mL hold 600 mL" in p for p in made(weigh, "50 ml jojoba", 50, 12).open_points)
    assert not any("The recipe as it stands" in p for p in made(weigh, "30 ml jojoba").open_points)


def test_an_infused_plant_is_named_on_the_label_with_its_caution(weigh: Weigh) -> None:
    label = made(weigh, "100 g olive oil infused with St John's wort", size=109)

    # Oil and extract, each by its mass (eu-1223-2009, Article 19); a premix is taken apart (common practice).
    assert label.ingredients == ("Olea Europaea Fruit Oil", "Hypericum Perforatum Flower Extract")
    assert any("if it was another plant than Hypericum perforatum" in point for point in label.open_points)
    assert "Keep this skin out of the sun for 12 to 24 hours." in label.cautions


def test_an_extract_stands_by_its_mass_and_a_plant_of_no_table_in_plain_words(weigh: Weigh) -> None:
    # 0.62 % of 100 g are 0.62 g: between 1 g and 0.5 g.
    label = made(weigh, "100 g dried calendula infused olive oil\n0.5 g jojoba\n1 g argan oil", size=111)
    assert label.ingredients == (
        "Olea Europaea Fruit Oil",
        "Argania Spinosa Kernel Oil",
        "Calendula Officinalis Flower Extract",
        "Simmondsia Chinensis Seed Oil",
    )
    # The extract is part of the 100 g: of the oil there are 99.38 g, less than 99.6 g.
    close = made(weigh, "100 g calendula infused olive oil\n99.6 g argan oil", size=218)
    assert close.ingredients[:2] == ("Argania Spinosa Kernel Oil", "Olea Europaea Fruit Oil")
    other = made(weigh, "100 g moss infused olive oil", size=109)
    assert other.ingredients[0] == "Olea Europaea Fruit Oil (infused with moss)"
    assert "“moss” is named in plain words: add the INCI name of its extract." in other.open_points
    genus = made(weigh, "100 g salvia infused olive oil", size=109)  # of two plants
    assert genus.ingredients[0] == "Olea Europaea Fruit Oil (infused with salvia)"
    both = made(weigh, "100 g calendula and rose infused olive oil", size=109)
    assert set(both.ingredients[1:]) == {"Calendula Officinalis Flower Extract", "Rosa Damascena Flower Extract"}
    half = made(weigh, "100 g calendula and moss infused olive oil", size=109)
    assert half.ingredients == (
        "Olea Europaea Fruit Oil (infused with moss)",
        "Calendula Officinalis Flower Extract",
    )


NINETEEN = (
    "jojoba argan avocado almond grapeseed rosehip borage hazelnut walnut macadamia baobab moringa marula squalane "
    "castor camellia perilla chia tamanu"
)


def test_nineteen_ingredients_stay_legible_and_go_on_a_second_panel(weigh: Weigh) -> None:
    rows = [f"{20 - place} g {name}" for place, name in enumerate(NINETEEN.split())]
    label = made(weigh, "\n".join([*rows, "10 drops lavender", "5 drops ylang ylang", "5 drops geranium"]), size=200)
    many = replace(label, ingredients=label.ingredients * 3, bottles=2)
    one, document = (PdfReader(BytesIO(labels_pdf([each], one_label(90, 62), region="EU"))) for each in (label, many))

    assert len(one.pages) == 1

    assert len(document.pages) == 4  # two panels a bottle
    assert "second panel" in document.pages[0].extract_text()
    assert "Ingredients:" in document.pages[1].extract_text()
    sizes = {
        float(size)
        for page in (*one.pages, *document.pages)
        for size in re.findall(r"/F\d+\S* ([\d.]+) Tf", page_code(page))
    }
    assert min(sizes) >= 5.0


def test_what_the_shelf_cannot_give_is_said(weigh: Weigh) -> None:
    batch = plan_batch(weigh("2 tbsp jojoba\n1 tbsp argan"), 6, 30, 0, PourOrder.CARRIERS_FIRST)
    short = shortages(batch, {"jojoba": (("J-1", 20.0), ("J-2", 5.0)), "argan": (("A-1", 500.0),)})

    assert [each.what for each in short] == ["Jojoba oil (liquid wax)"]
    assert "25 g left" in short[0].words
    assert short[0].wanted_g == pytest.approx(6 * 30 * 2 / 3 * 0.864, rel=0.01)


def test_what_one_lot_cannot_give_is_no_matter_of_the_others(weigh: Weigh) -> None:
    batch = plan_batch(weigh("2 tbsp jojoba\n1 tbsp argan"), 6, 30, 0, PourOrder.CARRIERS_FIRST)
    first = batch.steps[0]
    wanted = first.grams
    of_lot = replace(first, ingredient=replace(first.ingredient, key="lot:J-2", base="jojoba", lot="J-2", name="J-2"))
    twice = replace(batch, steps=(of_lot, of_lot))

    def short(one: float, other: float) -> list[tuple[object, ...]]:
        lots = {"jojoba": (("J-1", one), ("J-2", other))}
        return [(each.what, each.wanted_g, each.left_g) for each in shortages(twice, lots)]

    assert short(10_000.0, wanted) == [("J-2", pytest.approx(2 * wanted), wanted)]
    assert short(0.0, 2 * wanted) == []
    assert short(0.0, 2 * wanted - 0.4) == []  # half a gram is not called missing
    assert short(0.0, 2 * wanted - 0.6) != []
    assert [each.what for each in shortages(twice, {})] == ["J-2"]  # a lot that is no more


SUN = "Keep this skin out of the sun for 12 hours."
VITAMIN_A = "Contains Vitamin A. Consider your daily intake before use."


def test_a_label_warns_of_the_sun_where_it_stays_on_and_burns(weigh: Weigh) -> None:
    def cautions(text: str, *, left_on: bool = True) -> tuple[str, ...]:
        made_of = weigh(text)
        day = date(2026, 9, 1)
        return make_label(
            "Blend", "Oil", left_on=left_on, assessment=made_of, size_ml=30, batch_code="x-1", made_on=day
        ).cautions

    assert SUN in cautions("30 ml jojoba\n2 drops bergamot expressed")
    assert SUN not in cautions("30 ml jojoba\n2 drops bergamot expressed", left_on=False)
    assert SUN not in cautions("30 ml jojoba\n2 drops lavender")
    assert "Slippery in bath and shower." not in cautions("30 ml jojoba")


@pytest.mark.parametrize(("region", "is_said"), [("EU", True), ("UK", True), ("US", False), ("other", False)])
def test_vitamin_a_is_named_where_the_law_asks_for_it(region: str, is_said: bool, weigh: Weigh) -> None:
    # Regulation (EU) 2024/996: “Contains Vitamin A. Consider your daily intake before use.”; from memory.
    def cautions(text: str) -> tuple[str, ...]:
        found = weigh(text)
        there = replace(found, recipe=replace(found.recipe, use=replace(found.recipe.use, region=region)))
        day = date(2026, 9, 1)
        return make_label(
            "Blend", "Oil", left_on=True, assessment=there, size_ml=30, batch_code="x-1", made_on=day
        ).cautions

    assert (VITAMIN_A in cautions("30 ml jojoba\n1 g retinol 10% in MCT")) == is_said
    assert VITAMIN_A not in cautions("30 ml jojoba")


def test_a_label_says_until_when_or_why_not(weigh: Weigh) -> None:
    found = weigh("30 ml jojoba\n2 drops lavender")

    def made_of(months: int | None) -> Label:
        life: Any = SimpleNamespace(months=months, reason="Nobody knows.")  # all of it that a label asks for
        there = replace(found, shelf_life=life)
        return make_label(
            "Blend", "Oil", left_on=True, assessment=there, size_ml=30, batch_code="x-1", made_on=date(2026, 9, 1)
        )

    assert made_of(3).best_before == date(2026, 12, 1)
    assert any("from this printing on" in point for point in made_of(3).open_points)
    for months, said in ((0, "Do not bottle it."), (None, "write it by hand. Nobody knows.")):
        label = made_of(months)
        assert (label.best_before, any(said in point for point in label.open_points)) == (None, True)
    assert any("Fragrance allergens are named above 0.001 %" in point for point in made_of(3).open_points)
    assert not any("Fragrance allergens" in point for point in made(weigh, "30 ml jojoba").open_points)


@pytest.mark.parametrize("bottles", [1, 3, 7])
def test_what_is_measured_by_volume_stands_in_steps_that_can_be_read(bottles: int, weigh: Weigh) -> None:
    assessment = weigh("60% grapeseed\n30% jojoba\n9.5% rosehip\n0.5% vitamin E", 30)
    batch = plan_batch(assessment, bottles, 30, 3, PourOrder.CARRIERS_FIRST)

    for step in batch.steps:
        amount = float(step.said.removesuffix(" mL"))
        grain = 0.1 if amount < 10 else 0.5 if amount < 100 else 1
        assert amount / grain == pytest.approx(round(amount / grain), abs=1e-6)
        assert abs(amount - step.millilitres) <= grain / 2 + 1e-9 or amount == grain


def test_what_is_solid_is_melted_first_and_scent_goes_in_last(weigh: Weigh) -> None:
    assessment = weigh("5 drops lavender\n30 g jojoba\n10 g beeswax\n20 g shea butter\n1% vitamin E")
    batch = plan_batch(assessment, 1, 60, 0, PourOrder.CARRIERS_FIRST)

    assert [step.ingredient.key for step in batch.steps[:2]] == ["beeswax", "shea-butter"]
    assert batch.steps[-1].ingredient.key == "lavender"
    assert batch.mixing.startswith("Melt wax and butter first")
    assert "below 40 °C" in batch.mixing
    whipped = replace(assessment, recipe=replace(assessment.recipe, product="whipped-butter"))
    assert "whip, chill again" in plan_batch(whipped, 1, 60, 0, PourOrder.CARRIERS_FIRST).mixing
    liquid = plan_batch(weigh("30 ml jojoba\n30 ml argan"), 1, 60, 0, PourOrder.CARRIERS_FIRST)
    assert "Invert" in liquid.mixing


def test_the_recipe_as_it_is_written_is_poured_in_order_and_not_scaled(weigh: Weigh) -> None:
    assessment = weigh("12 drops lavender\n2 tbsp jojoba\n3.1161 g argan")
    batch = as_written(assessment, PourOrder.CARRIERS_FIRST)
    sheet = batch_sheet(batch, 1, date(2026, 11, 26))

    assert (batch.factor, batch.is_as_written, cleaner(assessment, batch)) == (1.0, True, None)
    assert [line.measured for line in sheet.lines] == ["2 tbsp", "3.12 g", "12 drops"]
    assert "The recipe as it is written" in sheet.heading
    assert "loss" not in sheet.heading


@pytest.mark.parametrize(
    "text",
    [
        "5 tsp grapeseed\n1 tbsp jojoba\n1 tsp argan\n6 drops lavender",
        "3 droppers squalane\n2 tsp jojoba",
        "3 capsules vitamin E\n30 ml jojoba",
    ],
)
def test_the_size_that_is_offered_measures_cleanly_fills_the_bottles_and_is_near(text: str, weigh: Weigh) -> None:
    assessment = weigh(text)
    plans = [
        plan_batch(assessment, bottles, size, loss, PourOrder.CARRIERS_FIRST)
        for bottles in (1, 2, 3)
        for size in (10, 25, 30)
        for loss in (0, 1, 3, 6, 9)
    ]
    offered = [(batch, found) for batch in plans if (found := cleaner(assessment, batch)) is not None]

    assert len(offered) > len(plans) / 4
    for batch, found in offered:
        assert (
            max(abs(step.said_error) for step in found.steps if " mL" not in step.said and "drop" not in step.said) <= 1
        )
        assert found.total_ml >= batch.bottles * batch.bottle_ml * (1 - 1e-6)
        assert found.total_ml <= 1.15 * batch.total_ml * (1 + 1e-6)
        assert sum(step.grams for step in found.steps) == pytest.approx(found.total_grams)


@pytest.mark.parametrize(("more", "is_offered"), [(1.14, True), (1.16, False)])
def test_no_size_is_offered_that_would_leave_much_over(more: float, is_offered: bool, weigh: Weigh) -> None:
    assessment = weigh("1 capsule vitamin E\n30 ml jojoba")  # next after one capsule: two, or none
    batch = plan_batch(assessment, 1, assessment.resolution.total_millilitres / more, 0, PourOrder.CARRIERS_FIRST)

    assert (cleaner(assessment, batch) is not None) is is_offered


def test_awkward_spoons_are_offered_a_clean_size_with_the_change_it_makes(weigh: Weigh) -> None:
    # 5 tsp + 1 tsp are 29.57 mL. Of 30.9 mL a spoon would be 1.045 tsp; a quarter more of the whole is too much, and
    # 6.25 tsp (30.81 mL) makes it 5.21 + 1.04: none of those is clean. Twice 30 mL and 3 % are 61.8: 10.5 + 2.1 tsp.
    assessment = weigh("5 tsp grapeseed\n1 tsp jojoba")
    batch = plan_batch(assessment, 2, 29, 6, PourOrder.CARRIERS_FIRST)
    found = cleaner(assessment, batch)
    assert found is not None

    assert found.total_ml == pytest.approx(2 * 29.5735, rel=1e-4)
    assert [step.said for step in found.steps] == ["3 tbsp + 1 tsp", "2 tsp"]
    words = cleaner_words(batch, found)
    assert words.startswith("59.1 mL instead of 61.5 measures cleanly: 3 tbsp + 1 tsp Grapeseed oil, 2 tsp Jojoba")
    assert "2.3 mL less, so that less is left for loss" in words
    assert cleaner(assessment, found) is None
    assert "in a size that measures cleanly" in batch_sheet(found, 1, date(2026, 11, 26)).heading


def test_what_is_weighed_or_counted_needs_no_cleaner_size(weigh: Weigh) -> None:
    for text in ("30 g jojoba\n12 drops lavender", "70% jojoba\n30% argan", "2 US fl oz jojoba\n10 ml argan"):
        assessment = weigh(text, 60)
        assert cleaner(assessment, plan_batch(assessment, 3, 60, 3, PourOrder.CARRIERS_FIRST)) is None


def test_a_total_that_does_not_fill_the_bottles_is_refused(weigh: Weigh) -> None:
    assessment = weigh("2 tbsp jojoba")
    batch = plan_batch(assessment, 2, 30, 3, PourOrder.CARRIERS_FIRST)

    assert plan_total(assessment, batch, 60).total_ml == 60
    with pytest.raises(QuantityError, match="do not fill 2 bottles"):
        plan_total(assessment, batch, 59)


def test_the_order_of_a_balm_names_what_melts_first(weigh: Weigh) -> None:
    balm = plan_batch(weigh("10 g beeswax\n40 g olive"), 1, 60, 0, PourOrder.CARRIERS_FIRST)
    oil = plan_batch(weigh("10 g jojoba\n40 g olive"), 1, 60, 0, PourOrder.CARRIERS_FIRST)

    assert batch_sheet(balm, 1, date(2026, 11, 26)).order.startswith("Order: what melts first and warm")
    assert batch_sheet(oil, 1, date(2026, 11, 26)).order.startswith("Order: carriers")


def test_a_sheet_says_how_many_times_the_recipe_it_is(weigh: Weigh) -> None:
    assessment = weigh("30 ml jojoba\n30 ml argan")

    def heading(bottles: int) -> str:
        return batch_sheet(
            plan_batch(assessment, bottles, 60, 0, PourOrder.CARRIERS_FIRST), 1, date(2026, 11, 26)
        ).heading

    assert "3 times the recipe as it is written" in heading(3)
    assert "times the recipe" not in heading(1)
