"""A batch scaled to bottles, and the words of a label."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import date
from io import BytesIO

import pytest
from pypdf import PageObject, PdfReader
from tests.conftest import Weigh

from uptide.core.errors import QuantityError
from uptide.core.making.batch import plan_batch, shortages
from uptide.core.making.batch_sheet import batch_sheet
from uptide.core.making.label import Label, make_label, stated_contents
from uptide.core.recipe.order import PourOrder
from uptide.formats.pdf import label_pdf


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
        "Bath oil", "Bath oil, floating", left_on=False,
        assessment=weigh("2 tbsp almond\n1 tbsp jojoba\n2 tbsp sweet almond oil\n6 drops geranium"),
        size_ml=30, batch_code="20261124-1", made_on=date(2026, 11, 24),
    )  # fmt: skip

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

    assert label.ingredients[0] == "Olea Europaea Fruit Oil (infused with St John's wort)"
    assert "Keep this skin out of the sun for 12 to 24 hours." in label.cautions
    other = made(weigh, "100 g dried calendula infused olive oil", size=109)
    assert other.ingredients[0] == "Olea Europaea Fruit Oil (infused with calendula)"


NINETEEN = (
    "jojoba argan avocado almond grapeseed rosehip borage hazelnut walnut macadamia baobab moringa marula squalane "
    "castor camellia perilla chia tamanu"
)


def test_nineteen_ingredients_stay_legible_and_go_on_a_second_panel(weigh: Weigh) -> None:
    rows = [f"{20 - place} g {name}" for place, name in enumerate(NINETEEN.split())]
    label = made(weigh, "\n".join([*rows, "10 drops lavender", "5 drops ylang ylang", "5 drops geranium"]), size=200)
    many = replace(label, ingredients=label.ingredients * 3, bottles=2)
    one, document = (PdfReader(BytesIO(label_pdf(each))) for each in (label, many))

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


def test_a_sheet_says_how_many_times_the_recipe_it_is(weigh: Weigh) -> None:
    assessment = weigh("30 ml jojoba\n30 ml argan")

    def heading(bottles: int) -> str:
        return batch_sheet(
            plan_batch(assessment, bottles, 60, 0, PourOrder.CARRIERS_FIRST), 1, date(2026, 11, 26)
        ).heading

    assert "3 times the recipe as it is written" in heading(3)
    assert "times the recipe" not in heading(1)
