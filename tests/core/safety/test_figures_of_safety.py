"""The figures of safety word for word: what they are, what they were made of, and how they say what is open."""

from __future__ import annotations

from dataclasses import replace

import pytest
from tests.core.safety.conftest import FACTS, case_of

from uptide.core.figures.finding import Finding, Input
from uptide.core.safety.case import Case
from uptide.core.safety.check import check
from uptide.core.safety.figures import safety_findings


def found(case: Case) -> dict[str, Finding]:
    return {each.key: each for each in safety_findings(case, check(case))}


def most(of: Input) -> float:
    """What it comes to at most [%], as it is written."""
    return float(of.unit.split(", ")[1].split(" %")[0])


def unmeasured(case: Case, key: str) -> Case:
    """The same with one thing in it of which nobody knows how much."""
    parts = (replace(part, measured=False, typical=0.0, high=0.0) if part.key == key else part for part in case.parts)
    return replace(case, parts=tuple(parts))


@pytest.mark.parametrize(
    ("lemon", "word", "value"),
    [(0.2, "some", 0.1), (1.6, "some", 0.8), (1.62, "near the limit", 0.81), (2.2, "over", 1.1)],
)
def test_what_burns_in_the_sun_is_its_share_over_its_limit(lemon: float, word: str, value: float) -> None:
    sun = found(case_of({"lemon": lemon}))["phototoxicity"]

    assert FACTS.safety.scents["lemon"].phototoxic_limit == 2.0
    assert (sun.word, sun.sources, sun.confidence) == (word, ("ifra",), "medium")
    assert sun.value == pytest.approx(value)
    (made_of,) = sun.inputs
    assert (made_of.name, made_of.source, made_of.locator) == (
        "Lemon (expressed) essential oil",
        "ifra",
        "cold-pressed",
    )
    assert made_of.value == pytest.approx(value)
    assert made_of.unit == f"= {lemon:g} % / 2 %"
    assert sun.remark == "Left on skin: 1 is the most. Expressed oils count, distilled ones do not."
    assert sun.other.startswith("With a certificate of bergapten for every citrus oil, its limit of 15 mg/kg")


def test_rinsed_off_by_night_and_unsure_are_said() -> None:
    rinsed = found(case_of({"lemon": 1.0}, "shower-oil"))["phototoxicity"]
    night = found(case_of({"lemon": 1.0}, night_only=True))["phototoxicity"]
    unsure = found(case_of({"opopanax": 0.5}))["phototoxicity"]
    none = found(case_of({"lavender": 0.5}))["phototoxicity"]

    assert rinsed.remark.startswith("Rinsed off: outside the rule. ")
    assert night.remark.endswith(" Made for the night alone, the skin should still be covered next day.")
    assert (unsure.word, unsure.value) == ("unsure", 0.0)
    assert unsure.remark.endswith(" Unsure: Opopanax (sweet myrrh) essential oil.")
    assert (none.word, none.value, none.remark) == ("none", 0.0, "None of its scents burns in the sun.")


def test_what_is_not_measured_leaves_the_sum_open_and_what_is_over_stays_over() -> None:
    little = unmeasured(case_of({"lemon": 0.2, "bergamot": 0.1}), "bergamot")
    open_ = found(little)["phototoxicity"]
    assert (open_.value, open_.word) == (None, "")
    assert open_.remark.startswith("At least 0.10. Not measured: Bergamot (expressed) essential oil. Left on skin")

    much = found(unmeasured(case_of({"lemon": 3.0, "bergamot": 0.1}), "bergamot"))["phototoxicity"]
    assert much.value == pytest.approx(1.5)
    assert much.word == "over"
    row = found(replace(case_of({"lemon": 0.2}), may_be_scent=("a drop of moss", "b")))["phototoxicity"]
    assert row.remark.startswith("At least 0.10. Not counted: “a drop of moss”, “b”. ")


def test_allergens_are_those_above_the_line_with_what_each_comes_to() -> None:
    case = case_of({"lavender": 1.0})
    declared = found(case)["allergens_declared"]
    linalool = FACTS.safety.scents["lavender"].constituents["LINALOOL"]
    held = {each.name: each for each in declared.inputs}

    assert declared.value is not None
    assert declared.value == declared.high == sum(most(each) > 0.001 for each in declared.inputs)
    assert held["linalool"].value == pytest.approx(linalool.typical / 100)
    assert held["linalool"].unit == f"% typically, {linalool.high / 100:.2g} % at most"
    assert (held["linalool"].source, held["linalool"].locator) == ("eu-2023-1545", "")
    assert declared.remark.startswith("Above 0.001 %, by ")
    assert (declared.word, declared.confidence) == ("declare", "medium")
    assert declared.sources == ("eu-1223-2009", "eu-2023-1545")
    assert declared.other == (
        f"By typical values alone it would be {declared.low:.0f}; rinsed off, the threshold is 0.01 %, left on 0.001 %."
    )
    rinsed = found(case_of({"lavender": 1.0}, "shower-oil"))["allergens_declared"]
    assert rinsed.remark.startswith("Above 0.01 %, by ")
    plain = found(case_of({}))["allergens_declared"]
    assert (plain.value, plain.word) == (0.0, "none")
    open_ = found(unmeasured(case, "lavender"))["allergens_declared"]
    assert open_.value is None
    assert open_.remark.startswith("Unknown. Not measured: Lavender (true) essential oil.")


@pytest.mark.parametrize(
    ("share", "word", "is_over"), [(0.2, "within", False), (0.7, "above suggested", False), (3.5, "too much", True)]
)
def test_scent_is_within_above_what_is_suggested_or_too_much(share: float, word: str, *, is_over: bool) -> None:
    dose = found(case_of({"lavender": share}, "facial-oil"))["scent_dose"]

    assert dose.word == word
    assert dose.value == pytest.approx(share, rel=0.03)
    assert dose.value is not None
    assert (dose.value > 1.0) is is_over  # the most on a face
    assert "% is suggested, 1 % the most here (facial oil 1 %)." in dose.remark
    (made_of,) = dose.inputs
    assert made_of.name == "Lavender (true) essential oil"


def test_vitamin_a_counts_as_the_retinol_in_it() -> None:
    """0.2 % of the acetate, 286.45 of 328.49 of it retinol: 0.1744 %; law bears 0.3 % on a face, 0.05 on a body."""
    face = found(case_of({"retinyl-acetate": 0.2}, "facial-oil"))["retinol_equivalents"]
    body = found(case_of({"retinyl-acetate": 0.2}, "body-oil"))["retinol_equivalents"]

    assert face.value == body.value == pytest.approx(0.2 * 286.45 / 328.49)
    assert (face.word, body.word) == ("within", "over")
    assert "retinol_equivalents" not in found(case_of({"lavender": 1.0}))
