"""What goes into the model of keeping: oils, what protects them, what befell them; and what it does not speak of."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import cast

import numpy as np
import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import assess
from uptide.core.errors import UptideError
from uptide.core.ingredients.ingredient import Ingredient, LotPast
from uptide.core.keeping.bottle import BottleNote
from uptide.core.keeping.findings import shelf_life_findings
from uptide.core.keeping.limiting import limited_by
from uptide.core.keeping.mixing import antioxidants_of, mixture_of
from uptide.core.keeping.shelf_life import School, ShelfLife, StorageHistory, refusal, shelf_life_of
from uptide.core.keeping.storage_history import history_of, made_on, placed
from uptide.core.oxidation.history import HeatStep
from uptide.core.oxidation.learning import Reading, ReadingKind
from uptide.core.oxidation.mixture import TRACE
from uptide.core.oxidation.rate import rate_constant
from uptide.core.oxidation.simulate import Simulation, make_draws, simulate
from uptide.core.oxidation.surroundings import Glass, Light, Storage, oxygen_through
from uptide.core.recipe.recipe import Entry, Recipe, Row

DRAWS = make_draws(np.random.default_rng(1), 1000)
MADE, TODAY = date(2026, 7, 20), date(2026, 11, 24)
CUPBOARD, NEW = Storage(), StorageHistory()
Read = list[tuple[Row, Ingredient]]


def read_of(catalogue: Catalogue, *rows: str) -> Read:
    recipe = Recipe(tuple(Entry(row) for row in rows))
    usage = catalogue.usage_context(recipe, date(2026, 11, 25))
    found = assess(recipe, catalogue.ingredients, catalogue.names, usage=usage)
    return [(row, row.ingredient) for row in found.resolution.read if row.ingredient]


def test_wax_dilutes_and_what_protects_is_dissolved_in_the_oils(catalogue: Catalogue) -> None:
    found = mixture_of(read_of(catalogue, "60 g olive", "30 g beeswax", "10 g mixed tocopherols", "5 g lavender"))

    assert {part.oil.key: part.share for part in found.parts} == pytest.approx({"olive": 2 / 3, "beeswax": 1 / 3})
    (wax,) = (part for part in found.parts if part.oil.key == "beeswax")
    assert (wax.oil.is_inert, wax.oil.light, wax.oil.source, wax.oil.limit_pv) == (True, 0.0, "definition", 10.0)
    assert found.oxidisable == pytest.approx(2 / 3)
    assert found.dissolved == pytest.approx(10 / 100)  # scent is none of it
    held = 2 / 3 * 0.9
    assert found.rancidity == pytest.approx((1 + TRACE**2) * held**2 / (held**2 + TRACE**2))


def test_what_was_added_twice_counts_twice_and_by_its_strength(catalogue: Catalogue) -> None:
    read = read_of(
        catalogue, "98.8 g olive", "0.6 g mixed tocopherols", "0.4 g mixed tocopherols", "0.2 g rosemary extract"
    )
    whole, fifty = (catalogue.ingredients[key].protects for key in ("mixed-tocopherols", "mixed-tocopherols-50"))
    assert whole is not None
    assert fifty is not None
    assert (whole[0], fifty[0]) == ("mixed_tocopherols", "mixed_tocopherols")
    found = antioxidants_of(read)

    assert found.mixed_tocopherols == pytest.approx(1e6 * 1.0 * whole[1] / 100)
    assert found.carnosic_acid > 0
    assert antioxidants_of(read_of(catalogue, "100 g olive")).is_empty


@pytest.mark.parametrize(
    ("rows", "said", "trade"),
    [
        (("10 g lavender",), "There is no oil in it yet.", None),
        (
            ("80 g olive", "20 g water"),
            "The model is for oils without water, and there is 20 % in this. The trade gives such a thing 1 to 2 "
            "months in the fridge: mould and bacteria end it before rancidity does.",
            1.0,
        ),
        (("100 g olive", "1 g water"), "", None),  # a hundredth and less
        (("98.9 g olive", "1.1 g water"), "The model is for oils without water, and there is 1 % in this.", 1.0),
        (("100 g beeswax",), "", None),
    ],
)
def test_what_the_model_does_not_speak_of_is_said(
    catalogue: Catalogue, rows: tuple[str, ...], said: str, trade: float | None
) -> None:
    found = refusal(read_of(catalogue, *rows), School.SHORTEST)

    if not said:
        assert found is None
        return
    assert found is not None
    assert found.reason.startswith(said)
    assert (found.months, found.quoted, found.trade_months) == (None, School.SHORTEST, trade)


def test_what_is_not_in_the_catalogue_and_what_was_steeped_fresh_are_named(catalogue: Catalogue) -> None:
    (olive, jojoba) = read_of(catalogue, "60 g olive", "40 g jojoba")
    strange = replace(jojoba[1], name="Moss oil", oxidation=None, kind="carrier")
    moss = refusal([olive, (jojoba[0], strange), (jojoba[0], strange)], School.COMPUTED)
    assert moss is not None
    assert moss.reason == "Unknown: the composition of Moss oil is not in the catalogue (57 %)."
    fresh = [(replace(row, past=LotPast(fresh_plant=True)), item) for row, item in (olive, jojoba)]
    steeped = refusal(fresh, School.COMPUTED)
    assert steeped is not None
    assert steeped.reason == (
        "The model does not apply: Olive oil (virgin), Jojoba oil (liquid wax) was infused with fresh plant, which "
        "leaves water in it. The trade gives that 1 to 2 months: mould and bacteria end it before rancidity does."
    )
    assert (steeped.trade_months, steeped.quoted) == (1.0, School.COMPUTED)


@pytest.mark.parametrize(("grams", "oil"), [(5.0, "Rosehip seed oil"), (4.9, "Jojoba oil (liquid wax)")])
def test_the_trade_s_shortest_lived_oil_is_more_than_a_trace(catalogue: Catalogue, grams: float, oil: str) -> None:
    read = read_of(catalogue, f"{grams} g rosehip", f"{100 - grams} g jojoba")
    found = shelf_life_of(read, Storage(), School.COMPUTED, DRAWS, StorageHistory())
    lives = {item.name: item.oxidation.trade_life for _, item in read if item.oxidation}

    assert found.trade_oil == oil
    assert found.trade_months == (lives[oil] or (None,))[0]


def test_every_heat_of_a_month_takes_its_part_of_the_life_at_the_pooled_and_protected_rate(
    catalogue: Catalogue,
) -> None:
    read = read_of(catalogue, "60 g rosehip", "40 g olive", "0.2 g mixed tocopherols")
    steps = HeatStep(60.0, 8.0, air=1.5), HeatStep(50.0, 3.0)
    heated = StorageHistory(start_month=3, heated={2: steps})
    found = shelf_life_of(read, Storage(), School.COMPUTED, DRAWS, heated)
    oils = found.mixture
    assert oils is not None
    assert oils.induction_hours is not None
    assert found.protection > 1
    hours = oils.induction_hours * found.protection
    at_60, at_50 = (float(rate_constant(hours, oils.fresh_pv, kelvin)) for kelvin in (333.15, 323.15))
    dose = at_60 * 1.5 * 8.0 + at_50 * 3.0
    by_hand = simulate(oils, Storage(), DRAWS, start_month=3, protection=found.protection, heated={2: dose})

    assert [found.low, found.typical, found.high] == pytest.approx([by_hand.quantile(q) for q in (0.1, 0.5, 0.9)])
    assert found.typical < shelf_life_of(read, Storage(), School.COMPUTED, DRAWS, StorageHistory(start_month=3)).typical


def note(on: str, kind: str, **detail: object) -> BottleNote:
    return BottleNote(1, date.fromisoformat(on), kind, detail)


def test_what_befell_a_bottle_stands_in_the_month_in_which_it_did() -> None:
    at_home = Storage(glass=Glass.CLEAR, opened=True)
    found = history_of(
        [
            note("2026-11-20", "titration", low=4.5),
            note("2026-07-20", "made"),
            note("2026-07-20", "heated", celsius=50, hours=6),
            note("2026-07-24", "heated", celsius=60, hours=1),
            note("2026-09-25", "opened"),
            note("2026-10-25", "moved", place="bathroom"),
            note("2026-11-20", "smell", off=False),
            note("2026-11-21", "strip", low=2, high=5),
        ],
        at_home,
        TODAY,
    )

    assert (found.start_month, found.made_on) == (6, MADE)
    assert found.heated == {0: (HeatStep(50.0, 6.0), HeatStep(60.0, 1.0))}
    assert sorted(found.moves) == [0, 2, 3]
    assert found.moves[0] == replace(at_home, opened=False)
    assert found.moves[2] == at_home
    assert found.moves[3] == placed(at_home, "bathroom")
    kinds = [(reading.kind, reading.low, reading.high, reading.off) for reading in found.readings]
    assert kinds == [
        (ReadingKind.TITRATION, 4.5, 4.5, False),
        (ReadingKind.SMELL, 0.0, 0.0, False),
        (ReadingKind.STRIP, 2.0, 5.0, False),
    ]
    assert [reading.months for reading in found.readings] == pytest.approx(
        [123 / 30.4375, 123 / 30.4375, 124 / 30.4375]
    )


def test_what_smelled_off_before_the_noted_day_of_making_stays_off() -> None:
    off, fine = note("2026-07-10", "smell", off=True), note("2026-07-11", "smell", off=False)
    found = history_of([off, fine, note("2026-07-20", "made")], Storage(), TODAY)

    assert found.readings == (Reading(0.0, ReadingKind.SMELL, off=True),)
    assert found.moves == {}
    same_day = history_of([note("2026-07-20", "smell", off=True), note("2026-07-20", "made")], Storage(), TODAY)
    assert len(same_day.readings) == 1


def test_a_bottle_was_made_when_it_is_noted_or_when_anything_first_was() -> None:
    opened, water = note("2026-09-20", "opened"), note("2026-08-01", "in water", saw="beads")

    assert made_on([water, opened, note("2026-07-20", "made"), note("2026-07-25", "made")], TODAY) == date(2026, 7, 25)
    assert made_on([water, opened], TODAY) == date(2026, 9, 20)
    assert made_on([water], TODAY) == made_on([], TODAY) == TODAY


def test_a_place_has_its_own_warmth_swing_and_light() -> None:
    found = placed(Storage(glass=Glass.CLEAR, headspace=0.3), "sunny shelf")

    assert (found.place, found.celsius, found.swing, found.light) == ("sunny shelf", (24.0,) * 12, 5.0, Light.SUNNY)
    assert (found.glass, found.headspace) == (Glass.CLEAR, 0.3)
    with pytest.raises(UptideError, match="There is no place “moon”; known are cool cupboard, bathroom, fridge"):
        placed(Storage(), "moon")


def kept(catalogue: Catalogue, *rows: str, storage: Storage = CUPBOARD, history: StorageHistory = NEW) -> ShelfLife:
    return shelf_life_of(read_of(catalogue, *rows), storage, School.COMPUTED, DRAWS, history)


def test_air_in_the_bottle_and_through_its_wall_lets_so_much_peroxide_grow(catalogue: Catalogue) -> None:
    """50 mL: a cylinder of radius (50 / 4π)^⅓ = 1.5847 cm and four times that high, 78.90 cm² of wall and ends."""
    row, olive = read_of(catalogue, "45.75 g olive")[0]
    read = [(replace(row, grams=45.75, millilitres=50.0), olive)]
    storage = replace(CUPBOARD, material="PET", headspace=0.2, ml_a_use=0.5, uses_a_week=14.0)
    found = shelf_life_of(read, storage, School.COMPUTED, DRAWS, NEW)

    # PET lets 0.0032 · 10⁴ cm³ through a m² and mm a day at an atmosphere; see its worked line in surroundings.
    through = oxygen_through("PET", 78.90, 0.7) * 365 / 24.055
    assert found.permeation_rise == pytest.approx(2 * through / 0.04575, rel=1e-3)
    # 10 mL of air and what 50 mL of oil hold: 10 · 0.2095 / 24.055 + 1.3 · 0.05 = 0.15209 mmol.
    assert found.closed_ceiling == pytest.approx(2 * 0.15209 / 0.04575, rel=1e-3)
    # 7 mL a week: 50/7 weeks of 168 h, in months of 730.5 h.
    assert found.used_up_months == pytest.approx(50 / 7 * 168 / 730.5)
    assert "Used as stated, it lasts 1.6 months." in found.remarks
    assert kept(catalogue, "100 g olive").used_up_months is None


def test_the_tide_goes_on_past_what_one_in_ten_reach(catalogue: Catalogue) -> None:
    found = kept(catalogue, "100 g rosehip")

    assert [point.month for point in found.tide] == list(range(int(1.25 * found.high) + 4))


@pytest.mark.parametrize(
    ("rows", "storage", "limit"),
    [
        (("100 g squalane",), CUPBOARD, "ageing: odours, hydrolysis, packaging"),
        (("60 g rosehip", "40 g jojoba"), CUPBOARD, "Rosehip seed oil"),
        (("100 g rosehip",), CUPBOARD, "Rosehip seed oil"),
        (("100 g rosehip",), replace(placed(CUPBOARD, "sunny shelf"), glass=Glass.CLEAR), "light"),
        (("50 g olive", "50 g high oleic sunflower"), placed(CUPBOARD, "hot car"), "warmth"),
    ],
)
def test_what_ends_it_is_what_costs_it_most(
    catalogue: Catalogue, rows: tuple[str, ...], storage: Storage, limit: str
) -> None:
    assert kept(catalogue, *rows, storage=storage).limited_by == limit


def test_a_supplier_s_date_and_the_cap_end_it_where_they_come_first(catalogue: Catalogue) -> None:
    dated = StorageHistory(supplier={"rosehip": (1.5, "lot R-1, 10 Jan 2027")})
    late = StorageHistory(supplier={"rosehip": (50.0, "lot R-1, 10 Jan 2031")})

    assert (
        kept(catalogue, "100 g rosehip", history=dated).limited_by == "a supplier’s best before: lot R-1, 10 Jan 2027"
    )
    assert kept(catalogue, "100 g rosehip", history=late).limited_by == "Rosehip seed oil"
    fresh = kept(catalogue, "100 g rosehip")
    soon = kept(catalogue, "100 g rosehip", history=dated)
    assert (soon.months, soon.undated) == (1, fresh.months)
    cold = replace(CUPBOARD, celsius=(4.0,) * 12, opened=False)
    capped = kept(catalogue, "100 g jojoba", storage=cold)
    assert (capped.limited_by, capped.undated) == ("the cap of 24 months that no promise passes", 24)


def test_what_smelled_off_is_over_even_where_the_model_does_not_speak(catalogue: Catalogue) -> None:
    off = StorageHistory(readings=(Reading(1.0, ReadingKind.SMELL, off=True),))
    wet = kept(catalogue, "80 g olive", "20 g water", history=off)
    fine = kept(catalogue, "80 g olive", "20 g water")

    assert fine.turned == ""
    assert wet.turned
    assert wet.reason == f"{wet.turned} {fine.reason}"
    assert wet.months is None


@pytest.mark.parametrize(("read_at", "has_turned"), [(20.0, False), (21.0, True)])
def test_of_what_the_model_does_not_cover_only_what_is_above_every_limit_has_turned(
    catalogue: Catalogue, read_at: float, has_turned: bool
) -> None:
    """No oil is given more than 20 meq/kg: Codex Standard 33 for virgin olive oil, from memory."""
    history = replace(NEW, readings=(Reading(1.0, ReadingKind.TITRATION, read_at, read_at),))
    found = shelf_life_of(
        read_of(catalogue, "50 g olive", "5 g rose hydrosol"), CUPBOARD, School.COMPUTED, DRAWS, history
    )

    assert found.months is None
    assert bool(found.turned) is has_turned


@pytest.mark.parametrize(("aged", "limit"), [(0.52, "ageing: odours, hydrolysis, packaging"), (0.48, "Olive oil")])
def test_ageing_ends_what_has_aged_by_half_when_it_turns(catalogue: Catalogue, aged: float, limit: str) -> None:
    class Aged:
        months = 12

        def quantile(self, part: float) -> float:
            return 6.0

        def ageing(self, months: int) -> float:
            return aged

    read = read_of(catalogue, "100 g olive")
    said = limited_by(
        read,
        mixture_of(read),
        storage=CUPBOARD,
        draws=DRAWS,
        protection=1.0,
        start_month=0,
        result=cast("Simulation", Aged()),
        cap=24.0,
        supplier=None,
    )

    assert said.startswith(limit)


def test_remarks_say_what_else_is_to_be_known(catalogue: Catalogue) -> None:
    def said(*rows: str) -> str:
        return " ".join(kept(catalogue, *rows).remarks)

    assert "Tocopheryl acetate does nothing" in said("99 g olive", "1 g tocopheryl acetate")
    assert "Waxes are counted as inert" in said("90 g olive", "10 g beeswax")
    assert "2.1 % of vitamin E is sticky and protects no better than 0.1 to 0.5 %." in said(
        "97.9 g olive", "2.1 g mixed tocopherols"
    )
    assert "of vitamin E is sticky" not in said("98.1 g olive", "1.9 g mixed tocopherols")
    assert "The rules of mixing disagree" in said("50 g flaxseed", "50 g jojoba")
    assert said("100 g olive") == ""


def test_the_figures_of_keeping_show_what_they_were_made_of(catalogue: Catalogue) -> None:
    life = kept(catalogue, "60 g rosehip", "30 g olive", "10 g squalane", "0.1 g mixed tocopherols")
    months, cox, hours = shelf_life_findings(life, {"rosehip": "Rosehip", "olive": "Olive"})
    oils = life.mixture
    assert oils is not None

    assert [months.key, cox.key, hours.key] == ["keeps_months", "cox_value", "induction_time_110c"]
    assert (months.value, months.low, months.high, months.confidence) == (life.months, life.low, life.high, "low")
    assert [(each.name, each.unit, each.source) for each in months.inputs] == [
        ("Rosehip", "h at 110 °C", "oxidation-calibration"),
        ("Olive", "h at 110 °C", "oxidation-calibration"),
        ("Protection factor of what was added", "×", ""),
        ("Limit of the peroxide value", "meq/kg", ""),
        ("Half of such bottles reach", "months", ""),
    ]
    rosehip = next(part for part in oils.parts if part.oil.key == "rosehip")
    assert [months.inputs[0].value, months.inputs[0].share] == pytest.approx([rosehip.oil.osi_hours, 60])
    assert months.inputs[0].locator == f"virgin, Cox value {rosehip.oil.cox:.2f}"
    assert months.inputs[0].confidence == rosehip.oil.confidence
    assert [each.value for each in months.inputs[2:]] == [life.protection, oils.limit_pv, life.typical]
    assert months.sources == ("ozilgen-1990", "oxidation-calibration")
    shortest = f" The trade’s shortest-lived oil, {life.trade_oil}, gives {life.trade_months:.0f} months."
    assert months.remark == f"Limited by {life.limited_by}.{shortest}"
    assert (cox.value, cox.confidence, cox.sources, cox.remark) == (oils.cox, "medium", ("cox-1980",), "")
    assert [each.name for each in cox.inputs] == ["Rosehip", "Olive"]
    assert [each.value for each in cox.inputs] == [rosehip.oil.cox, oils.parts[1].oil.cox]
    assert [each.share for each in cox.inputs] == pytest.approx([60, 30])
    assert (hours.value, hours.low, hours.high) == (oils.induction_hours, oils.careful_hours, oils.induction_hours)
    assert (hours.inputs, hours.sources, hours.confidence, hours.remark) == (
        months.inputs[:2],
        months.sources,
        "low",
        "",
    )


def test_of_what_cannot_be_worked_out_the_figures_say_why(catalogue: Catalogue) -> None:
    wet = shelf_life_findings(kept(catalogue, "80 g olive", "20 g water"), {})
    still = shelf_life_findings(kept(catalogue, "100 g squalane"), {})

    assert [(each.key, each.value) for each in wet] == [("keeps_months", None), ("cox_value", None)]
    assert all(each.remark.startswith("The model is for oils without water") for each in wet)
    assert (still[2].value, still[2].remark, still[2].inputs) == (None, "Nothing in it can oxidise.", ())
    assert (still[1].value, still[1].inputs) == (0.0, ())
