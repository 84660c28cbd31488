"""How long a blend keeps: the verdict, whose answer is quoted, what limits it, what would help, what befell it."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import UptideError
from uptide.core.keeping.bottle import BottleNote
from uptide.core.keeping.sensitivities import sensitivities
from uptide.core.keeping.shelf_life import School, ShelfLife, StorageHistory
from uptide.core.keeping.storage_history import history_of, made_on, placed
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import split_recipe
from uptide.core.months import months_later
from uptide.core.oxidation.learning import Reading, ReadingKind
from uptide.core.oxidation.simulate import make_draws
from uptide.core.oxidation.surroundings import Glass, Light, Storage
from uptide.core.recipe.recipe import Entry, Recipe

CATALOGUE = shipped_catalogue()
DRAWS = make_draws(np.random.default_rng(5), 1000)


def assessed(
    text: str, storage: Storage | None = None, habits: Habits | None = None, history: StorageHistory | None = None
) -> Assessment:
    entries = tuple(Entry(row) for row in split_recipe(text))
    recipe = Recipe(entries, habits=habits or Habits(), storage=storage or Storage())
    return assess(recipe, CATALOGUE.ingredients, CATALOGUE.names, draws=DRAWS, history=history)


def shelf_life(
    text: str, storage: Storage | None = None, habits: Habits | None = None, history: StorageHistory | None = None
) -> ShelfLife:
    found = assessed(text, storage, habits, history).shelf_life
    assert found is not None
    return found


def test_the_promise_is_whole_months_that_nine_in_ten_reach() -> None:
    found = shelf_life("2 tbsp rosehip, 1 tbsp jojoba")

    assert found.months == int(found.low)
    assert found.low < found.typical < found.high
    assert found.trade_months == 6  # the trade's shortest life of rosehip, common practice
    assert found.trade_oil == "Rosehip seed oil"


def test_nothing_is_promised_past_the_cap() -> None:
    assert shelf_life("50 g meadowfoam", replace(Storage(), celsius=(4.0,) * 12)).months == 24
    assert shelf_life("50 g squalane", replace(Storage(), celsius=(4.0,) * 12)).months == 36


def test_a_supplier_s_date_caps_it_and_is_named() -> None:
    dates = {"jojoba": (3.2, "lot A of Jojoba oil"), "argan": (1.0, "lot B, which is not in it")}
    found = shelf_life("50 g jojoba", history=StorageHistory(supplier=dates))

    assert found.months == 3
    assert found.limited_by == "a supplier’s best before: lot A of Jojoba oil"


@pytest.mark.parametrize(
    ("school", "quoted"), [("computed", School.COMPUTED), ("shortest", School.SHORTEST), ("earlier", School.COMPUTED)]
)
def test_the_school_decides_whose_answer_is_quoted(school: str, quoted: School) -> None:
    found = shelf_life("2 tbsp rosehip, 1 tbsp jojoba", habits=Habits(keeps_by=school))

    assert found.quoted is quoted
    assert found.months == (6 if quoted is School.SHORTEST else found.computed)


def test_warmth_light_and_air_shorten_what_the_fridge_lengthens() -> None:
    here = Storage()
    places = [
        placed(here, "fridge"),
        here,
        placed(here, "bathroom"),
        placed(replace(here, glass=Glass.CLEAR), "sunny shelf"),
    ]
    lives = [shelf_life("2 tbsp rosehip, 1 tbsp jojoba", place).typical for place in places]

    assert lives == sorted(lives, reverse=True)
    assert shelf_life("50 g rosehip", replace(here, opened=False)).typical > shelf_life("50 g rosehip", here).typical


@pytest.mark.parametrize(
    ("text", "storage", "limit"),
    [
        ("50 g grapeseed, 50 g jojoba", Storage(), "Grapeseed oil"),
        ("50 g olive", replace(Storage(), light=Light.SUNNY, glass=Glass.CLEAR), "light"),
        ("50 g almond", replace(Storage(), celsius=(33.0,) * 12), "warmth"),
        ("50 g squalane", Storage(), "ageing"),
        ("50 g meadowfoam", replace(Storage(), celsius=(4.0,) * 12), "the cap of 24 months"),
    ],
)
def test_what_limits_it_is_named(text: str, storage: Storage, limit: str) -> None:
    assert shelf_life(text, storage).limited_by.startswith(limit)


def test_vitamin_e_helps_its_acetate_does_nothing_and_much_is_a_mistake() -> None:
    plain = shelf_life("99 g rosehip")
    helped = shelf_life("99 g rosehip, 0.2% mixed tocopherols")
    acetate = shelf_life("99 g rosehip, 0.2% tocopheryl acetate")
    much = shelf_life("90 g rosehip, 10% mixed tocopherols")

    assert helped.typical > plain.typical
    assert acetate.typical == pytest.approx(plain.typical, rel=0.01)
    assert any("does nothing" in remark for remark in acetate.remarks)
    assert any("sticky" in remark for remark in much.remarks)
    assert much.typical < helped.typical


def test_water_and_unknown_oils_are_refused_with_the_reason() -> None:
    wet, unknown = shelf_life("50 g jojoba, 5 g aloe gel"), shelf_life("50 g infused oil")

    assert wet.months is None
    assert "without water" in wet.reason
    assert "1 to 2 months" in wet.reason
    assert unknown.months is None
    assert "Infused oil" in unknown.reason
    assert assessed("50 g jojoba, 5 g aloe gel").finding("keeps_months").value is None


def test_the_finding_is_the_verdict() -> None:
    assessment = assessed("2 tbsp rosehip, 1 tbsp jojoba")
    assert assessment.shelf_life is not None
    finding = assessment.finding("keeps_months")

    assert (finding.value, finding.low, finding.high) == (
        assessment.shelf_life.months,
        assessment.shelf_life.low,
        assessment.shelf_life.high,
    )
    assert {entry.name for entry in finding.inputs} >= {"Rosehip seed oil", "Jojoba oil (liquid wax)"}


def test_the_tide_rises_and_its_band_contains_its_line() -> None:
    tide = shelf_life("2 tbsp rosehip, 1 tbsp jojoba").tide

    assert [point.typical for point in tide] == sorted(point.typical for point in tide)
    assert all(point.low <= point.typical <= point.high for point in tide)
    assert tide[0].typical == pytest.approx(2.5, rel=0.1)  # two cold-pressed lots, fresh


def test_levers_are_ranked_and_each_gains(catalogue: Catalogue) -> None:
    assessment = assessed("2 tbsp rosehip, 1 tbsp jojoba", placed(replace(Storage(), glass=Glass.CLEAR), "bathroom"))
    read = [(row, row.ingredient) for row in assessment.resolution.read if row.ingredient]
    substitute = catalogue.ingredients["sunflower-high-oleic"]
    found = sensitivities(read, assessment.recipe.storage, DRAWS, StorageHistory(), substitute)
    gains = [sensitivity.months_gained for sensitivity in found]

    assert gains == sorted(gains, reverse=True)
    assert {"the fridge", "amber glass", "Sunflower oil (high oleic) in place of Rosehip seed oil"} <= {
        sensitivity.name for sensitivity in found
    }
    assert all(gain > 0 for gain in gains)
    assert all(
        sensitivity.typical - sensitivity.before == pytest.approx(sensitivity.months_gained) for sensitivity in found
    )


def test_strips_narrow_the_band_and_an_off_smell_ends_it() -> None:
    strips = tuple(Reading(m, ReadingKind.STRIP, low, high) for m, low, high in ((1, 0, 5), (2, 2, 5), (4, 5, 10)))
    before = shelf_life("50 g sunflower oil high linoleic")
    after = shelf_life("50 g sunflower oil high linoleic", history=StorageHistory(readings=strips))
    off = shelf_life("50 g jojoba", history=StorageHistory(readings=(Reading(1, ReadingKind.SMELL, off=True),)))

    assert after.high / after.low < before.high / before.low
    assert off.months == 0
    assert "smelled off" in off.reason


def event(number: int, on: str, kind: str, **detail: object) -> BottleNote:
    return BottleNote(number, date.fromisoformat(on), kind, detail)


def test_events_become_months_since_making() -> None:
    today = date(2026, 11, 24)
    events = [
        event(1, "2026-07-20", "made"),
        event(2, "2026-09-20", "opened"),
        event(3, "2026-10-25", "moved", place="fridge"),
        event(4, "2026-08-01", "heated", celsius=50, hours=6),
        event(5, "2026-11-20", "strip", low=2, high=5),
        event(6, "2026-11-21", "smell", off=False),
    ]
    life = history_of(events, Storage(), today)

    assert made_on(events, today) == date(2026, 7, 20)
    assert life.start_month == 6  # July
    assert [life.moves[m].opened for m in sorted(life.moves)] == [False, True, True]
    assert life.moves[3].place == "fridge"
    assert life.heated[0][0].celsius == 50
    assert [reading.kind.value for reading in life.readings] == ["strip", "smell"]
    assert life.readings[0].months == pytest.approx(123 * 24 / 730.5)


def test_a_making_that_is_noted_later_does_not_undo_an_off_smell() -> None:
    today = date(2026, 11, 24)
    off = event(1, "2026-10-01", "smell", off=True)
    fine = event(2, "2026-10-01", "smell", off=False)
    made = event(3, "2026-11-01", "made")

    for events in ([off, made], [made, off]):
        found = shelf_life("50 g jojoba", history=history_of(events, Storage(), today))
        assert (found.months, bool(found.turned)) == (0, True)
    assert history_of([fine, made], Storage(), today).readings == ()


def test_heat_takes_a_part_of_the_life() -> None:
    events = [event(1, "2026-07-20", "made"), event(2, "2026-07-21", "heated", celsius=110, hours=0.5)]
    heated = shelf_life("50 g sunflower oil high linoleic", history=history_of(events, Storage(), date(2026, 11, 24)))

    assert (
        heated.typical
        < 0.9 * shelf_life("50 g sunflower oil high linoleic", history=StorageHistory(start_month=6)).typical
    )


def test_without_events_it_is_made_today_and_unknown_places_are_refused() -> None:
    today = date(2026, 11, 24)

    assert made_on([], today) == today
    assert history_of([], Storage(), today).start_month == 10
    assert months_later(date(2026, 1, 31), 1) == date(2026, 2, 28)
    with pytest.raises(UptideError, match="no place"):
        placed(Storage(), "attic")


def with_past(**answers: str) -> ShelfLife:
    recipe = Recipe((Entry("90 g jojoba"), Entry("10 g flaxseed", answers)))
    found = assess(recipe, CATALOGUE.ingredients, CATALOGUE.names, draws=DRAWS).shelf_life
    assert found is not None
    return found


def test_an_old_lot_brings_its_peroxides_at_once() -> None:
    fresh, old = with_past(), with_past(pv="60")

    # 10 % of a lot at 60 meq/kg alone brings 6 meq/kg; fresh it brings 0.25.
    assert old.tide[0].typical - fresh.tide[0].typical == pytest.approx(5.75, rel=0.1)
    assert old.typical < fresh.typical


def test_age_and_treatment_count_and_a_measured_value_wins() -> None:
    fresh, aged, infused, pan = (
        with_past(),
        with_past(age="6"),
        with_past(past="sunny sill, clear jar, 3 weeks"),
        with_past(past="pan, 110 °C for 15 min"),
    )

    assert aged.tide[0].typical > fresh.tide[0].typical
    assert infused.tide[0].typical > pan.tide[0].typical > fresh.tide[0].typical
    assert with_past(age="6", pv="2.5").tide[0].typical == pytest.approx(fresh.tide[0].typical, rel=0.05)


def test_what_cannot_be_read_of_a_past_says_nothing() -> None:
    assert with_past(age="old", pv="-3", past="sung to").typical == pytest.approx(with_past().typical)


def test_what_other_bottles_taught_shifts_this_one_until_it_has_readings_of_its_own() -> None:
    plain = shelf_life("50 g sunflower oil high linoleic")
    faster = shelf_life("50 g sunflower oil high linoleic", history=StorageHistory(carried_over=0.3))

    assert faster.typical < plain.typical
    # κ grows by e^0.3; at 17 °C, opened, oxidation and ageing add: by hand from the two medians, to a tenth.
    assert plain.typical / faster.typical == pytest.approx(1.27, abs=0.06)


def test_walls_and_head_room_are_said_and_not_counted() -> None:
    glass, plastic = shelf_life("92 g olive"), shelf_life("92 g olive", replace(Storage(), material="HDPE"))
    roomy = shelf_life("92 g olive", replace(Storage(), headspace=0.5))

    assert plastic.months == glass.months
    assert (plastic.permeation_rise or 0) > 20 * (glass.permeation_rise or 1)
    assert (roomy.closed_ceiling or 0) > (glass.closed_ceiling or 0)


@pytest.mark.parametrize(("peroxides", "is_late"), [("3.4", False), ("3.6", True)])
def test_an_antioxidant_is_said_to_come_late_from_one_past_fresh(peroxides: str, is_late: bool) -> None:
    """Rosehip is cold pressed: fresh at 2.5 meq/kg."""
    recipe = Recipe((Entry("100 g rosehip", {"pv": peroxides}), Entry("0.1 g mixed tocopherols")))
    found = assess(recipe, CATALOGUE.ingredients, CATALOGUE.names, draws=DRAWS).shelf_life
    assert found is not None

    assert any("had begun to turn" in remark for remark in found.remarks) is is_late


def test_an_antioxidant_that_comes_late_does_less() -> None:
    def protection(**answers: str) -> ShelfLife:
        recipe = Recipe(
            (Entry("99.8 g sunflower oil high linoleic", answers), Entry("0.2 g mixed tocopherols, 50 % in oil"))
        )
        found = assess(recipe, CATALOGUE.ingredients, CATALOGUE.names, draws=DRAWS).shelf_life
        assert found is not None
        return found

    early, late, too_late = protection(), protection(pv="6"), protection(pv="11")
    assert early.added.mixed_tocopherols == pytest.approx(1000)  # 0.2 % of a half-strength product
    # 5 meq/kg above fresh halves the gain, 10 leave none.
    assert late.protection - 1 == pytest.approx((early.protection - 1) / 2, rel=0.01)
    assert too_late.protection == 1
    assert any("nothing repairs" in remark for remark in late.remarks)


def test_fresh_plant_in_an_oil_is_outside_the_model() -> None:
    found = with_past(past="infused with fresh plant")

    assert found.months is None
    assert "Flaxseed (linseed) oil was infused with fresh plant" in found.reason
    assert "1 to 2 months" in found.reason


def test_the_trade_s_answer_passes_no_date_and_revives_nothing() -> None:
    trade = Habits(keeps_by="shortest")
    dated = shelf_life("50 g jojoba", habits=trade, history=StorageHistory(supplier={"jojoba": (3.2, "lot A")}))
    turned = assess(
        Recipe((Entry("50 g sunflower oil high linoleic", {"pv": "40"}),), habits=trade),
        CATALOGUE.ingredients,
        CATALOGUE.names,
        draws=DRAWS,
    ).shelf_life

    assert dated.months == 3
    assert turned is not None
    assert turned.months == 0


@pytest.mark.parametrize("answers", [{}, {"past": "pan, 110 °C for 15 min"}, {"pv": "1"}, {"age": "2"}])
def test_fresh_plant_stays_fresh_whatever_else_is_said_of_it(answers: dict[str, str]) -> None:
    recipe = Recipe((Entry("200 g coconut oil infused with fresh turmeric", answers), Entry("20 g jojoba")))
    found = assess(recipe, CATALOGUE.ingredients, CATALOGUE.names, draws=DRAWS).shelf_life

    assert found is not None
    assert found.months is None
    assert "fresh plant" in found.reason
    assert "1 to 2 months" in found.reason
