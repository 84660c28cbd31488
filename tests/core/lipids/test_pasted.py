"""A laboratory's table is read in the many ways laboratories write one, and nothing of it is dropped in silence."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.lipids.pasted import read_pasted

ACIDS = shipped_catalogue().acids


@pytest.mark.parametrize(
    ("line", "code", "low", "typical", "high"),
    [
        ("C16:0  6.1 %", "16:0", 6.1, 6.1, 6.1),
        ("C18:1 n-9  62,1", "18:1n9", 62.1, 62.1, 62.1),
        ("18:2 (n-6) 20.1", "18:2n6", 20.1, 20.1, 20.1),
        ("C18:1n7 0.8", "18:1n7", 0.8, 0.8, 0.8),
        ("18:1 70", "18:1n9", 70, 70, 70),  # the isomer that a table means when it gives none
        ("Palmitic acid C16:0\t5.9", "16:0", 5.9, 5.9, 5.9),
        ("Palmitoleic acid 0.3", "16:1n7", 0.3, 0.3, 0.3),
        ("oleic 55 – 75", "18:1n9", 55, 65, 75),
        ("Stearic (C18:0) 2.0 - 5.0   3.4", "18:0", 2.0, 3.4, 5.0),
        ("alpha-linolenic acid: 33 % ISO 12966", "18:3n3", 33, 33, 33),
        ("γ-Linolenic acid 10.2", "18:3n6", 10.2, 10.2, 10.2),
        ("GLA 9", "18:3n6", 9, 9, 9),
        ("C18:3 n-3 <0.2", "18:3n3", 0, 0.1, 0.2),
        ("Erucic acid n.d.", "22:1n9", 0, 0, 0),
        ("gondoic traces", "20:1n9", 0, 0, 0),
        ("Petroselinic acid 41.5", "18:1n12", 41.5, 41.5, 41.5),
    ],
)
def test_acids(line: str, code: str, low: float, typical: float, high: float) -> None:
    read = read_pasted(line, ACIDS)

    assert read.not_read == ()
    (found,) = read.acids.items()
    assert found[0] == code
    assert (found[1].low, found[1].typical, found[1].high) == pytest.approx((low, typical, high))


@pytest.mark.parametrize(
    ("line", "key", "value"),
    [
        ("Peroxide value  1.2 meq O2/kg", "peroxide_value", 1.2),
        ("POV: 3,4", "peroxide_value", 3.4),
        ("Free fatty acids (as oleic) 0.08 %", "free_fatty_acids", 0.08),
        ("Acid value 2 mg KOH/g", "free_fatty_acids", 1.006),  # 2 x 282.468 / 561.056
        ("Total tocopherols 640 mg/kg", "tocopherols", 640),
        ("Rancimat at 110 °C 12.4 h", "induction_time_110c", 12.4),
        ("Induction time at 110 °C: 14 h", "induction_time_110c", 14),
        ("Iodine value 128 g I2/100 g", "iodine_value", 128),
        ("Saponification value 188 - 194", "saponification_value", 191),
        ("Density at 20 °C 0.921", "density", 0.921),
        ("Refractive index 1.4745", "refractive_index", 1.4745),
    ],
)
def test_figures(line: str, key: str, value: float) -> None:
    read = read_pasted(line, ACIDS)

    assert read.not_read == ()
    assert read.figures == {key: pytest.approx(value, rel=1e-3)}


def test_other_constituents_and_the_day() -> None:
    read = read_pasted(
        "Bergapten 0.21 %\nAnalysed 2026-10-02\nMethyl eugenol < 0.02", ACIDS, ["Bergapten", "Methyl eugenol"]
    )

    assert read.constituents == {"Bergapten": 0.21, "Methyl eugenol": 0.01}
    assert read.dated_on == date(2026, 10, 2)
    assert read_pasted("Date: 2.10.2026", ACIDS).dated_on == date(2026, 10, 2)


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("C20:5 1.0", "there is no acid 20:5"),
        ("hello world", "names no fatty acid or figure"),
        ("C16:0 6\nPalmitic 7", "stands there twice; the first, 6 %, is kept"),
        ("Oleic acid 140", "0 to 100 can"),
        ("Peroxide value 900", "0 to 250 can"),
        ("Oleic acid", "it gives no number"),
        ("Oleic 1 2 3 4", "it gives 4 numbers"),
        ("Date 2026-02-31", "no such day"),
    ],
)
def test_what_is_not_read_says_why(text: str, why: str) -> None:
    (found,) = read_pasted(text, ACIDS).not_read

    assert found[0] == text.splitlines()[-1]
    assert why in found[1]


def test_headings_are_passed_over() -> None:
    assert read_pasted("Fatty acid   %\nComposition\n-----\n", ACIDS).not_read == ()


@given(st.text(max_size=200))
def test_it_never_raises_and_every_line_is_accounted_for(text: str) -> None:
    read = read_pasted(text, ACIDS)

    assert all(0 <= amount.low <= amount.typical <= amount.high <= 100 for amount in read.acids.values())
    assert all(line in text for line, _ in read.not_read)
