"""A recipe over all its readings: figures span them, and the gravest caution of any stands and says of which."""

from __future__ import annotations

import pytest
from tests.conftest import Weigh

from uptide.core.assessment.assessment import Assessment
from uptide.core.safety.caution import Grade
from uptide.core.safety.check import Safety


def safety(found: Assessment) -> Safety:
    assert found.safety is not None
    return found.safety


def stops(found: Assessment) -> dict[str, str]:
    return {c.rule: c.message for c in found.cautions if c.grade is Grade.STOP}


@pytest.mark.parametrize("key", ["total_mass", "density_20c", "iodine_value", "saponification_value", "scent_share"])
def test_a_figure_holds_what_every_reading_gives(key: str, weigh: Weigh) -> None:
    text = "2 oz rosehip\n3 tbsp jojoba\n10 drops orange"
    open_ = weigh(text).finding(key)
    for unit in ("fl_oz", "oz_weight"):
        settled = weigh(text, answers={0: {"unit": unit}}).finding(key)
        assert open_.low is not None
        assert open_.high is not None
        assert settled.value is not None
        assert open_.low - 1e-9 <= settled.value <= open_.high + 1e-9


def test_a_verdict_that_differs_says_under_which_reading(weigh: Weigh) -> None:
    sun = weigh("30 ml jojoba\n6 drops lime").finding("phototoxicity")

    assert sun.word == "over"
    assert "“none” if “lime” is lime (steam-distilled" in sun.remark
    assert sun.low == 0


def test_a_stop_of_another_reading_stands_and_names_it(weigh: Weigh) -> None:
    plain = stops(weigh("30 ml jojoba\n18 drops orange", answers={1: {"name": "orange-sweet"}}))
    open_ = stops(weigh("30 ml jojoba\n18 drops orange"))

    assert "sun-over" not in plain
    assert open_["sun-over"].startswith("If “orange” is bitter orange (expressed) essential oil: ")


def test_a_stop_that_another_reading_clears_says_so_too(weigh: Weigh) -> None:
    open_ = stops(weigh("30 ml jojoba\n12 drops bergamot"))

    assert open_["sun-over"].startswith("If “bergamot” is bergamot (expressed) essential oil: ")
    assert "sun-over" in stops(weigh("30 ml jojoba\n12 drops bergamot", answers={1: {"name": "bergamot"}}))
    assert "sun-over" not in stops(weigh("30 ml jojoba\n12 drops bergamot", answers={1: {"name": "bergamot-fcf"}}))


def test_a_stop_on_another_thing_is_named_beside_one_that_stands_already(weigh: Weigh) -> None:
    found = weigh("10 ml jojoba\n5 drops cinnamon bark\n6 drops orange")
    over = [c for c in found.cautions if c.rule == "oil-over" and c.grade is Grade.STOP]

    assert {name for c in over for name in c.names} >= {"Bitter orange (expressed) essential oil"}
    assert len(over) > 1
    assert len({(c.rule, c.names) for c in found.cautions}) == len(found.cautions)


def test_what_both_readings_say_is_said_once(weigh: Weigh) -> None:
    text = "30 ml jojoba\n5 drops bergamot"
    open_, settled = weigh(text), weigh(text, answers={1: {"name": "bergamot"}})
    # Both hold limonene; what is not known of the one alone would stand beside it.
    assert [c.names for c in open_.cautions if c.rule == "limonene-peroxides"] == [
        ("Bergamot (expressed) essential oil",)
    ]
    assert {(n.who, n.about, n.message) for n in safety(open_).not_for} == {
        (n.who, n.about, n.message) for n in safety(settled).not_for
    }


def test_what_another_reading_says_in_other_words_stands_beside(weigh: Weigh) -> None:
    found = weigh("30 ml jojoba\n18 drops orange")

    assert [c.message[:40] for c in found.cautions if c.rule == "oil-over"] == [
        "If “orange” is bitter orange (expressed)"
    ]
    assert any(
        n.message.endswith("(if “orange” is bitter orange (expressed) essential oil)") for n in safety(found).not_for
    )


def test_readings_that_are_harmless_one_by_one_are_judged_together(weigh: Weigh) -> None:
    text = "a spoon of jojoba\n3 drops orange"

    def sun(spoon: str = "", orange: str = "") -> tuple[float | None, float | None]:
        answers = {0: {"unit": spoon} if spoon else {}, 1: {"name": orange} if orange else {}}
        found = weigh(text, answers=answers).finding("phototoxicity")
        return found.value, found.high

    assert (sun("tbsp", "orange-bitter")[0] or 2) < 1
    assert sun("tsp", "orange-sweet")[0] == 0
    assert sun()[1] == pytest.approx(sun("tsp", "orange-bitter")[0])
    assert "sun-over" in stops(weigh(text))


def test_it_waits_for_what_is_poured_or_labelled_and_for_nothing_else(weigh: Weigh) -> None:
    by_ounce, by_name = weigh("2 oz jojoba"), weigh("30 ml jojoba\n5 drops orange")
    same_on_the_label = weigh("30 ml sunflower")

    assert safety(by_ounce).draft == "A draft: “oz” is only assumed."
    assert "“orange” is only assumed" in safety(by_name).draft
    assert same_on_the_label.rows[0].questions
    assert not safety(same_on_the_label).is_draft
