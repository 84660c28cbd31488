"""An infused oil is its oil with what a jar did to it: plants, spent life, colour, and what dissolved."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.plants import plant_named
from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.catalogue.stock import stocked
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError
from uptide.core.ingredients.certificate import Certificate
from uptide.core.ingredients.infusion import Infusion, Steeped, each_plant
from uptide.core.ingredients.lot import Lot
from uptide.core.ingredients.mixture import mixture
from uptide.core.keeping.lot_life import lot_life
from uptide.core.making.label import make_label
from uptide.core.oxidation.history import HeatStep, ageing_spent
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.skin.wearer import ANYONE, Ticks, Wearer

FACTS = shipped_catalogue()
TODAY = date(2026, 11, 26)
WORT = Steeped(
    "St John's wort",
    "Hypericum perforatum",
    inci="Hypericum Perforatum Flower Extract",
    strength=0.125,
    colour="#a3172a",
)
WARM = (HeatStep(50, 6),)


def lot(code: str = "J-1", *, plants: tuple[Steeped, ...] = (WORT,), **changes: object) -> Lot:
    infusion = Infusion(plants, WARM, begun_on=date(2026, 11, 1))
    plain = Lot(code, "olive", received_on=TODAY, bought_g=300, left_g=300, infusion=infusion)
    return replace(plain, **changes)  # type: ignore[arg-type] # a test helper that changes any field


def weigh(facts: Catalogue, *rows: str, wearer: Wearer | None = None, product: str = "body-oil") -> Assessment:
    recipe = Recipe(tuple(Entry(row) for row in rows), product)
    usage = facts.usage_context(recipe, TODAY, wearer or ANYONE)
    return assess(recipe, facts.ingredients, facts.names, facts.prices, draws=standard_draws(), usage=usage)


def stock(*lots: Lot) -> Catalogue:
    return stocked(FACTS, {}, lots, {}, TODAY)


def printed(assessment: Assessment) -> tuple[str, ...]:
    label = make_label(
        "Oil",
        "Body oil",
        left_on=True,
        assessment=assessment,
        size_ml=50,
        batch_code="B",
        made_on=TODAY,
        plant_of=lambda words: plant_named(words, shipped_plants()),
    )
    return label.ingredients


def test_the_jar_costs_the_oil_what_its_heat_costs() -> None:
    plain = Lot("O-1", "olive", received_on=TODAY, bought_g=1000, left_g=1000)
    facts = stock(lot(), plain)
    lives = {each.code: lot_life(each, facts.ingredients[each.key], TODAY, standard_draws()) for each in (lot(), plain)}

    assert (lives["J-1"].peroxides or 0) > (lives["O-1"].peroxides or 0)
    past = facts.ingredients["lot:J-1"].past
    assert past is not None
    assert past.steps == WARM


def test_it_is_named_coloured_and_warned_of_by_its_plants() -> None:
    facts = stock(lot())
    item = facts.ingredients["lot:J-1"]
    assert item.name == "St John's wort in olive oil (virgin), lot J-1"
    assert item.base_key == "olive"
    before = FACTS.ingredients["olive"]
    assert item.colour != before.colour
    assert item.appearance is not None
    assert before.appearance is not None
    assert item.appearance.tint > before.appearance.tint

    found = weigh(facts, "50 g lot J-1")
    assert "st-johns-wort" in {caution.rule for caution in found.cautions}
    assert printed(found) == ("Olea Europaea Fruit Oil", "Hypericum Perforatum Flower Extract")


def test_the_colour_is_that_of_the_worked_figures() -> None:
    """Almond #f6ecb4 with calendula and St John's wort, from the note on steeping; colours of plants assumed."""
    calendula = Steeped("Calendula", colour="#e8a31e")
    for times, yellow, red in ((0.1, "#f4e294", "#ebbf98"), (0.5, "#ebbd40", "#c54f4b"), (2, "#cb5e00", "#630001")):
        assert Infusion((replace(calendula, strength=times / 8),)).colour("#f6ecb4") == yellow
        assert Infusion((replace(WORT, strength=times / 8),)).colour("#f6ecb4") == red
    assert Infusion((Steeped("moss", strength=1.0),)).colour("#f6ecb4") == "#f6ecb4"


def test_it_does_not_stand_for_its_plain_oil() -> None:
    facts = stock(lot(price=30.0, currency="GBP", best_before=date(2027, 1, 1)))

    assert "olive" not in facts.on_hand
    assert "olive" not in facts.prices
    assert "olive" not in facts.best_before
    assert facts.prices["lot:J-1"].per_gram == pytest.approx(0.1)
    assert "St John's wort in olive oil" in facts.best_before["lot:J-1"][1]


def test_what_had_befallen_the_lot_before_it_was_poured_goes_along() -> None:
    bottle = Lot("O-1", "olive", received_on=date(2026, 1, 1), opened_on=date(2026, 1, 1), bought_g=1000, left_g=500)
    infusion = replace(lot().infusion or Infusion((WORT,)), oil_lot="O-1")
    fresh, old = stock(lot()), stock(bottle, lot(infusion=infusion))
    first, second = (each.ingredients["lot:J-1"].past for each in (fresh, old))

    assert first is not None
    assert second is not None
    assert second.steps == WARM
    assert second.ageing > first.ageing
    # As it was on the day of the jar: ten months, and not the days since.
    assert sum(step.hours for step in second.aged) == pytest.approx(304 * 24, rel=0.01)
    # A peroxide value of after straining tells of all of it, but of ageing.
    certified = replace(lot(infusion=infusion), certificates=(Certificate(TODAY, {}, {"peroxide_value": 9.0}),))
    read = stock(bottle, certified).ingredients["lot:J-1"].past
    assert read is not None
    assert (read.peroxide_value, read.steps, read.aged) == (9.0, (), ())
    assert read.ageing == pytest.approx(second.ageing + ageing_spent(WARM))


def test_an_oil_that_is_infused_twice_has_both_behind_it() -> None:
    second = Infusion((Steeped("Calendula", strength=0.1),), (HeatStep(60, 2),), begun_on=TODAY, oil_lot="J-1")
    circle = replace(lot().infusion or second, oil_lot="J-3")
    facts = stock(lot(), lot("J-2", infusion=second), lot("J-3", infusion=circle))
    past = facts.ingredients["lot:J-2"].past

    assert past is not None
    assert past.steps == (*WARM, HeatStep(60, 2))
    found = weigh(facts, "50 g lot J-2")
    assert "st-johns-wort" in {caution.rule for caution in found.cautions}
    assert set(printed(found)) == {
        "Olea Europaea Fruit Oil",
        "Calendula Officinalis Flower Extract",
        "Hypericum Perforatum Flower Extract",
    }
    assert "lot:J-3" in facts.ingredients  # poured on itself: it opens


def test_what_dissolves_is_an_ingredient_of_its_own() -> None:
    resin = Steeped("Pine/spruce resin", inci="Colophonium", strength=0.11, dissolved=0.096)
    berry = Steeped("Sea buckthorn berry", strength=0.2, dissolved=0.03, dissolved_as="sea-buckthorn-fruit")
    facts = stock(lot(plants=(resin, berry, replace(WORT, strength=0.1))))
    found = weigh(facts, "100 g lot J-1")
    held = {item.name: row.grams or 0.0 for row, item in found.resolution.parts}

    assert held["Pine/spruce resin, dissolved"] == pytest.approx(9.6)
    assert held["Sea buckthorn berry, dissolved"] == pytest.approx(3.0)
    assert printed(found)[:2] == ("Olea Europaea Fruit Oil", "Colophonium")
    assert "plant-sensitiser" in {caution.rule for caution in found.cautions}


def test_coffee_that_gives_its_own_oil_shifts_the_acids() -> None:
    # Roasted coffee oil is 44 % linoleic acid (from memory), olive 9 %: 10 % of it adds 3 to 4 points.
    coffee = Steeped("Coffee", strength=0.2, dissolved=0.1, dissolved_as="coffee")
    found = {
        typed: {part.acid.code: part.percent for part in weigh(stock(lot(plants=(coffee,))), typed).acids}
        for typed in ("100 g olive", "100 g lot J-1")
    }
    assert 3 < found["100 g lot J-1"]["18:2n6"] - found["100 g olive"]["18:2n6"] < 4


def test_water_that_may_be_left_is_outside_the_model() -> None:
    infusion = replace(lot().infusion or Infusion((WORT,)), fresh_plant=True)
    found = weigh(stock(lot(infusion=infusion)), "100 g lot J-1")

    assert found.shelf_life is not None
    assert found.shelf_life.months is None
    assert "infused with fresh plant" in found.shelf_life.reason


@pytest.mark.parametrize(
    ("plant", "wearer", "product", "rule"),
    [
        ("Sage", Wearer(pregnant=True), "body-oil", "plant-pregnancy"),
        ("Rosemary", Wearer(health=Ticks(frozenset({"epilepsy"}))), "body-oil", "plant-epilepsy"),
        ("Peppermint leaf", Wearer(health=Ticks(frozenset({"g6pd"}))), "body-oil", "plant-g6pd"),
        ("Poplar bud", Wearer(allergies=Ticks(frozenset({"aspirin"}))), "body-oil", "plant-salicylate"),
        ("Alkanet root", Wearer(conditions=Ticks(frozenset({"broken"}))), "body-oil", "plant-broken-skin"),
        ("Cinnamon", None, "facial-oil", "plant-face"),
        ("Burdock root", Wearer(allergies=Ticks(frozenset({"daisy"}))), "body-oil", "daisy-family"),
        ("Turmeric", None, "body-oil", "stain"),
        ("Lavender", None, "body-oil", "plant-scented"),
    ],
)
def test_what_a_plant_is_not_for_is_said_of_any_blend_with_it(
    plant: str, wearer: Wearer | None, product: str, rule: str
) -> None:
    facts = stock(lot(plants=(Steeped(plant, strength=0.1),)))

    assert rule in {c.rule for c in weigh(facts, "50 g lot J-1", wearer=wearer, product=product).cautions}
    assert rule in {
        c.rule for c in weigh(facts, f"50 g {plant} infused olive oil", wearer=wearer, product=product).cautions
    }
    plain = stock(lot(plants=(Steeped("Self-heal", strength=0.1),)))
    assert rule not in {c.rule for c in weigh(plain, "50 g lot J-1", wearer=wearer, product=product).cautions}


def test_an_own_infusion_is_offered_first_where_a_name_may_mean_it() -> None:
    facts = stock(lot(plants=(Steeped("Calendula", "Calendula officinalis"), Steeped("Lavender"))))
    asked = weigh(facts, "50 g calendula oil").resolution.rows[0].questions[0]

    assert [option.value for option in asked.options[:2]] == ["lot:J-1", "infused-oil"]
    assert weigh(facts, "30 g jojoba", "12 drops lavender").resolution.rows[1].questions == ()


def test_plants_are_named_one_by_one() -> None:
    assert each_plant("calendula & rose petals, Pine/spruce resin") == ("calendula", "rose petals", "Pine/spruce resin")
    assert each_plant(" ") == ()


def test_what_cannot_be_is_refused() -> None:
    def too_much() -> Infusion:
        return Infusion((Steeped("a", dissolved=0.6), Steeped("b", dissolved=0.6)))

    for said, make in (
        ("name the plant", lambda: Infusion(())),
        ("without a name", lambda: Steeped(" ")),
        ("11 g of plant", lambda: Steeped("moss", strength=11.0)),
        ("1 of an oil", lambda: Steeped("moss", dissolved=1.0)),
        ("More plant", too_much),
    ):
        with pytest.raises(QuantityError, match=said):
            make()


CLOVE = Steeped("Clove", strength=0.08, scent="clove-bud", scent_percent=1.44)  # 18 % of scent, 1 to 12.5


def test_the_scent_that_may_have_passed_over_counts_at_its_most() -> None:
    held = FACTS.safety.scents["clove-bud"].constituents["EUGENOL"].high
    safety = weigh(stock(lot(plants=(CLOVE,))), "50 g lot J-1", "50 g jojoba").safety
    assert safety is not None
    assert safety.allergens is not None
    (eugenol,) = [each for each in safety.allergens.declared if each.name == "EUGENOL"]

    assert (eugenol.typical, eugenol.only_at_most) == (0.0, True)
    assert eugenol.high == pytest.approx(0.5 * 1.44 / 100 * held)
    over = {each.amount.name: each.surely for each in safety.over}
    assert over["EUGENOL"] is False  # perhaps: 0.5 % is the most on skin
    little = weigh(stock(lot(plants=(CLOVE,))), "30 g lot J-1", "970 g jojoba").safety
    assert little is not None
    assert "EUGENOL" not in {each.amount.name for each in little.over}


def test_two_infusions_add_up_and_a_distilled_oil_with_them() -> None:
    second = Infusion((CLOVE,), begun_on=TODAY, oil_lot="J-1")
    facts = stock(lot(plants=(CLOVE,)), lot("J-2", infusion=second))
    assert facts.ingredients["lot:J-2"].scented_by == (("clove-bud", 1.44), ("clove-bud", 1.44))

    def eugenol(*rows: str) -> float:
        safety = weigh(facts, *rows).safety
        assert safety is not None
        assert safety.allergens is not None
        return next(each.high for each in safety.allergens.declared if each.name == "EUGENOL")

    assert eugenol("100 g lot J-2") == pytest.approx(2 * eugenol("100 g lot J-1"))
    drops = eugenol("100 g jojoba", "1 g clove bud essential oil")
    both = eugenol("100 g lot J-1", "1 g clove bud essential oil")
    assert both == pytest.approx(drops + eugenol("100 g lot J-1") * 100 / 101)


def test_every_oil_that_was_poured_together_takes_the_colour() -> None:
    both = lot(ingredient="oils:olive=0.600000+jojoba=0.400000")
    facts = stock(both)
    parts = facts.ingredients["lot:J-1"].parts
    assert [part.base_key for part, _ in parts] == ["olive", "jojoba"]
    for part, _ in parts:
        plain = FACTS.ingredients[part.base_key]
        assert part.colour == (both.infusion or Infusion((WORT,))).colour(plain.colour) != plain.colour
        assert part.infused_with == "St John's wort"


def test_what_an_infused_oil_is_a_part_of_is_infused() -> None:
    """A dilution or a lot of a blend is poured for no plain oil where a part of it was steeped with something."""
    jojoba, olive = (FACTS.ingredient(key) for key in ("jojoba", "olive"))
    plain = mixture("mix", "Mixed", [(jojoba, 0.5), (olive, 0.5)])
    steeped = mixture("mix", "Mixed", [(jojoba, 0.5), (replace(olive, infused_with="rose"), 0.5)])

    assert (plain.is_infused, steeped.is_infused) == (False, True)
    assert steeped.stands_for == ("mix",) == (steeped.stock_key,)
