"""A laboratory's table is read in the many ways laboratories write one, and nothing of it is dropped in silence."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.lipids.certificate_table import found_of_table
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


@pytest.mark.parametrize(
    ("line", "within", "beyond"),
    [
        ("Peroxide value {} meq/kg", "249", "251"),
        ("Free fatty acids {} %", "29.9", "30.1"),
        ("Acid value {} mg KOH/g", "59.9", "60.1"),
        ("Total tocopherols {} mg/kg", "19900", "20100"),
        ("Induction time at 110 °C {} h", "0.11", "0.09"),
        ("Induction time at 110 °C {} h", "499", "501"),
        ("Iodine value {} g I2/100 g", "259", "261"),
        ("Saponification value {} mg KOH/g", "399", "401"),
        ("Density at 20 °C {}", "0.751", "0.749"),
        ("Density at 20 °C {}", "1.199", "1.201"),
        ("Refractive index {}", "1.401", "1.399"),
        ("Refractive index {}", "1.599", "1.601"),
    ],
)
def test_what_no_oil_can_have_is_handed_back(line: str, within: str, beyond: str) -> None:
    """Where a figure can lie is policy: far beyond every oil in print, so that a slip of the comma is caught."""
    assert read_pasted(line.format(within), ACIDS).not_read == ()
    ((typed, why),) = read_pasted(line.format(beyond), ACIDS).not_read
    assert typed == line.format(beyond)
    assert " can" in why


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
        # Whichever way round: a lot that failed must not pass for its limit.
        ("Peroxide value 10 max 12", "one number is a limit, and nobody can tell which"),
        ("Peroxide value 1.8 max. 10", "one number is a limit, and nobody can tell which"),
        ("Linoleic acid 58,5 % min 55", "one number is a limit, and nobody can tell which"),
        ("Date 2026-02-31", "no such day"),
    ],
)
def test_what_is_not_read_says_why(text: str, why: str) -> None:
    (found,) = read_pasted(text, ACIDS).not_read

    assert found[0] == text.splitlines()[-1]
    assert why in found[1]


CITRUS = ["Bergapten", "Methyl eugenol", "Eugenol"]


@pytest.mark.parametrize(
    ("line", "found"),
    [
        ("Eugenol 1.5 %", {"Eugenol": 1.5}),
        ("methyl eugenol 0.4", {"Methyl eugenol": 0.4}),  # the longer name, as it stands in the tables
        ("5-MOP 15 ppm", {"Bergapten": 0.0015}),
        ("5-methoxypsoralen 20 mg/kg", {"Bergapten": 0.002}),
        ("Bergapten 3 µg/g", {"Bergapten": 0.0003}),
        ("Eugenol 100 %", {"Eugenol": 100}),
    ],
)
def test_a_constituent_is_read_in_percent_and_by_the_million(line: str, found: dict[str, float]) -> None:
    read = read_pasted(line, ACIDS, CITRUS)

    assert read.not_read == ()
    assert read.constituents == pytest.approx(found)


@pytest.mark.parametrize(
    ("line", "code"),
    [
        ("α-Linolenic acid 12", "18:3n3"),
        ("ALPHA LINOLENIC 12", "18:3n3"),
        ("gamma - linolenic acid 12", "18:3n6"),
        ("PALMITOLEIC ACID 12", "16:1n7"),
        ("C18:3 (n-6) 12", "18:3n6"),
        ("18:3-eleo 12", "18:3-ELEO"),
        ("C18:3 12", "18:3n3"),
        ("C16:0 n-3 12", "16:0"),  # no isomer of it is known: the acid itself is
    ],
)
def test_an_acid_is_known_by_each_of_its_names(line: str, code: str) -> None:
    read = read_pasted(line, ACIDS)

    assert read.not_read == ()
    assert {key: (each.low, each.typical, each.high) for key, each in read.acids.items()} == {code: (12, 12, 12)}


def test_an_acid_value_says_what_it_was_made_of_and_gives_way_to_what_was_measured() -> None:
    alone = read_pasted("Acid value 0.4 mg KOH/g", ACIDS)
    both = read_pasted("Acid value 0.4\nFFA 0.3 %", ACIDS)

    assert alone.figures == {"free_fatty_acids": 0.2012}
    assert alone.remarks == ("An acid value of 0.4 is 0.20 % of free oleic acid.",)
    assert both.figures == {"free_fatty_acids": 0.3}
    assert both.remarks == ()


@pytest.mark.parametrize(
    ("words", "low", "typical", "high"),
    [
        ("3 - 5", 3, 4, 5),
        ("3 to 5", 3, 4, 5),
        ("3..5", 3, 4, 5),
        ("less than 3", 0, 1.5, 3),
        ("max 3", 3, 3, 3),  # all that is known
        ("max 5 4", 4, 4, 4),
        ("4 5 max", 4, 4, 4),
        ("5 max 4", 4, 4, 4),
        ("4 (max. 5)", 4, 4, 4),
        ("4 min 5,5", 5.5, 5.5, 5.5),
        ("5 - 3", 3, 4, 5),
        ("3 5 4", 3, 4, 5),
        ("absent", 0, 0, 0),
        ("100", 100, 100, 100),
    ],
)
def test_an_amount_is_a_number_a_range_or_what_it_is_under(words: str, low: float, typical: float, high: float) -> None:
    read = read_pasted(f"Oleic acid {words}", ACIDS)

    assert read.not_read == ()
    assert [(each.low, each.typical, each.high) for each in read.acids.values()] == [(low, typical, high)]


@pytest.mark.parametrize(("value", "is_read"), [("0", True), ("250", True), ("250.5", False)])
def test_a_figure_at_the_end_of_what_can_be_is_read(value: str, *, is_read: bool) -> None:
    assert (read_pasted(f"Peroxide value {value}", ACIDS).figures != {}) is is_read


def test_a_day_counts_where_it_is_called_one_or_stands_alone() -> None:
    assert read_pasted("02.10.2026", ACIDS).dated_on == date(2026, 10, 2)
    assert read_pasted("Issued 2026-10-02", ACIDS).dated_on == date(2026, 10, 2)
    assert read_pasted("Peroxide value 1.2 2026-10-02", ACIDS).dated_on is None
    assert read_pasted("Issued 2026-10-02", ACIDS).not_read == ()


TABLE = """Certificate of analysis
Lot 7
Parameter [unit];Specification (%);Result:;Method
Oleic acid;15 - 25;19.2;ISO 12966-4
Peroxide value;max 10;1.8;ISO 3960;x
Analysed 2026-10-02
;;;
Linoleic acid;58 - 78;68.3"""


def test_of_a_table_with_what_was_asked_for_only_what_was_found_counts() -> None:
    assert found_of_table(TABLE.splitlines()) == (
        "Certificate of analysis",
        "Lot 7",
        "Oleic acid 19.2",
        "Peroxide value 1.8 x",
        "Analysed 2026-10-02",
        "",
        "Linoleic acid 68.3",
    )
    no_table = ["Result;Oleic", "Spec;Method", "Oleic; 62,1"]
    assert found_of_table(no_table) == tuple(no_table)


def test_headings_are_passed_over() -> None:
    assert read_pasted("Fatty acid   %\nComposition\n-----\n", ACIDS).not_read == ()


@given(st.text(max_size=200))
def test_it_never_raises_and_every_line_is_accounted_for(text: str) -> None:
    read = read_pasted(text, ACIDS)

    assert all(0 <= amount.low <= amount.typical <= amount.high <= 100 for amount in read.acids.values())
    assert all(line in text for line, _ in read.not_read)
