"""A thing as it is used: what settles, what it comes out of, whether it can be sold, and what it does in a shower."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from math import inf

import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.assessment.verdicts import verdicts
from uptide.core.figures.finding import Finding
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.oxidation.surroundings import PLACES, Glass, Light, Storage
from uptide.core.physics.bottle import Container
from uptide.core.physics.settling import fall_seconds
from uptide.core.recipe.recipe import Entry, IntendedUse, Recipe

FACTS = shipped_catalogue()


def weighed(
    *rows: str,
    product: str = "body-oil",
    kind: str = "",
    storage: Storage | None = None,
    for_sale: bool = False,
) -> Assessment:
    recipe = Recipe(
        tuple(Entry(row) for row in rows),
        product,
        container=Container(kind, 100) if kind else None,
        storage=storage or Storage(),
        use=IntendedUse(for_sale=for_sale),
    )
    usage = FACTS.usage_context(recipe, date(2026, 11, 25))
    return assess(recipe, FACTS.ingredients, FACTS.names, draws=standard_draws(), usage=usage)


def finding(found: Assessment, key: str) -> Finding:
    return next(each for each in found.findings if each.key == key)


def test_grains_fall_by_stokes_law() -> None:
    """Quartz of 10 µm in water at 20 °C falls 0.09 mm/s (a textbook's example): 5 cm in 556 s; 2/9 Δρ g r²/η."""
    assert fall_seconds(10, 2.65, 1.0, 1.0, 0.0) == pytest.approx(0.05 / 8.99e-5, rel=0.01)
    # Half as large, four times as slow; twice as thick, twice; a tenth of the volume grains, 0.9^-4.65.
    assert fall_seconds(5, 2.65, 1.0, 2.0, 0.1) / fall_seconds(10, 2.65, 1.0, 1.0, 0.0) == pytest.approx(8 * 0.9**-4.65)
    assert fall_seconds(10, 0.9, 0.92, 50, 0.0) == inf
    assert fall_seconds(500, 1.587, 0.92, 50, 0.5) == inf


@pytest.mark.parametrize(
    ("rows", "word"),
    [
        (("60 g grapeseed", "5 g sugar"), "settles in minutes"),
        (("60 g grapeseed", "2 g colloidal oat"), "settles in hours"),
        (("60 g jojoba oil", "2 g kaolin"), "settles in days"),
        (("50 g castor oil", "3 g zinc oxide"), "stays up for months"),
        (("83 g grapeseed", "17 g beeswax", "3 g kaolin"), "stays up"),
        (("60 g shea butter", "3 g kaolin"), "stays up"),
        (("60 g sugar", "20 g jojoba oil"), "a paste"),
    ],
)
def test_solids_stay_up_or_settle(rows: tuple[str, ...], word: str) -> None:  # common practice, sorted by hand
    assert finding(weighed(*rows), "settling").word == word


def test_what_settles_says_how_fast_and_what_would_hold_it_and_the_label_says_to_shake() -> None:
    found = weighed("60 g jojoba oil", "2 g kaolin")
    said = finding(found, "settling")

    assert "Kaolin (white clay) falls 5 cm in" in said.remark
    assert "a wax of 8 % and more, or fat that is soft in the room, holds it" in said.remark
    assert "Shake before use." in [caution.label for caution in found.cautions]
    held = weighed("83 g grapeseed", "17 g beeswax", "3 g kaolin")
    assert "Shake before use." not in [caution.label for caution in held.cautions]
    # In the fridge jojoba sets, and holds it.
    celsius, swing, light = PLACES["fridge"]
    cold = weighed("60 g jojoba oil", "2 g kaolin", storage=Storage("fridge", celsius, swing, light))
    assert finding(cold, "settling").word == "stays up"


def test_an_oil_with_powder_is_never_clear() -> None:
    found = finding(weighed("60 g grapeseed", "2 g kaolin"), "solid_fat_content_22c")
    assert found.word == "cloudy with powder"
    assert "settling" not in {each.key for each in weighed("60 g grapeseed").findings}
    assert finding(weighed("60 g grapeseed"), "solid_fat_content_22c").word == "clear everywhere"


@pytest.mark.parametrize(
    ("rows", "kind", "word", "why"),
    [
        (("100 g MCT",), "spray", "a spray bottle suits", ""),
        (
            ("100 g grapeseed",),
            "spray",
            "not a spray bottle",
            "is too thick for a spray bottle, which wants 40 at most",
        ),
        (("100 g MCT",), "roller", "a roller bottle suits", ""),
        (("100 g isopropyl myristate",), "roller", "not a roller bottle", "too thin for a roller bottle"),
        (("100 g castor oil",), "dropper", "not a dropper bottle", "too thick for a dropper bottle"),
        (("100 g castor oil",), "squeeze", "a squeeze bottle suits", ""),
        (("95 g jojoba oil", "5 g sugar"), "pump", "not a pump bottle", "Sugar would clog a pump bottle"),
        (("80 g shea butter", "20 g olive"), "pump", "not a pump bottle", "it sets at 17 °C"),
        (("80 g shea butter", "20 g olive"), "jar", "a jar suits", ""),
        (("80 g jojoba oil", "20 g beeswax"), "jar", "a jar suits", ""),
        (("80 g jojoba oil", "20 g beeswax"), "squeeze", "not a squeeze bottle", "it sets at 17 °C"),
        (("60 g sugar", "40 g jojoba oil"), "jar", "a jar suits", ""),
        (("100 g jojoba oil",), "jar", "not a jar", "too thin for a jar, which wants 200 and more"),
    ],
)
def test_the_dispenser_suits_the_thing(rows: tuple[str, ...], kind: str, word: str, why: str) -> None:
    found = finding(weighed(*rows, kind=kind), "dispenser")

    assert found.word == word
    assert why.lower() in found.remark.lower()
    assert bool(found.value) is word.startswith("not")


def test_walls_are_judged_by_where_it_stands() -> None:
    sill = Storage("sill", (24.0,) * 12, swing=5.0, light=Light.SUNNY, glass=Glass.CLEAR)
    lit = finding(weighed("100 g jojoba oil", kind="bottle", storage=sill), "dispenser")
    amber = finding(weighed("100 g jojoba oil", kind="bottle", storage=replace(sill, glass=Glass.AMBER)), "dispenser")
    wet = finding(weighed("100 g jojoba oil", product="shower-oil", kind="pump"), "dispenser")

    assert lit.word == "a bottle, with care"
    assert "10 times the light of a room" in lit.remark
    assert amber.word == "a bottle suits"
    assert "glass breaks in a shower" in wet.remark.lower()


def test_nobody_is_warned_of_a_container_that_nobody_named() -> None:
    found = finding(weighed("50 g castor oil", product="facial-oil"), "dispenser")

    assert found.word == "a bottle suits"
    assert "No container is named" in found.remark


def test_what_is_sold_must_hold_a_year_and_that_is_a_verdict_of_its_own() -> None:
    sold, weak = weighed("100 g jojoba oil", for_sale=True), weighed("100 g rosehip", for_sale=True)

    assert finding(sold, "fit_to_sell").word == "holds 12 months"
    assert finding(weak, "fit_to_sell").word == "not 12 months"
    assert weak.shelf_life is not None
    short = 12 - (weak.shelf_life.months or 0)
    assert f"{short} too few" in finding(weak, "fit_to_sell").remark
    assert [v.finding.key for v in verdicts(weak)][:2] == ["keeps_months", "fit_to_sell"]
    assert "fit_to_sell" not in {each.key for each in weighed("100 g rosehip").findings}
    fresh = weighed("50 g olive", "50 g rose water", for_sale=True)
    assert finding(fresh, "fit_to_sell").word == "not fit to sell"


def test_a_shower_oil_speaks_of_the_shower() -> None:
    shower = weighed("60 g jojoba oil", "3 drops lavender", product="shower-oil")
    bath = weighed("60 g jojoba oil", "3 drops lavender", product="bath-oil-floating")

    for found, wrong, right in ((shower, "tub", "shower"), (bath, "shower", "tub")):
        safety = found.safety
        assert safety is not None
        assert safety.bath is not None
        said = " ".join([safety.bath.reason, *(caution.message for caution in found.cautions)])
        assert wrong not in said
        assert right in said
    assert shower.safety is not None
    assert shower.safety.bath is not None
    assert shower.safety.bath.film_skin == pytest.approx(10 / 1.7)
