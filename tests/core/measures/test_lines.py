"""The language of amounts, line by line: grams by hand arithmetic (mL times density at 20 °C), or the question.

Volumes: US customary and UK imperial measures of NIST SP 811 and the Weights and Measures Act 1985, metric kitchen
spoons; drops at 20 to the mL, a dropper of 0.85 mL, a capsule of 0.35 g, and heaped spoons are common practice.
Densities are those of the catalogue's tables.
"""

from __future__ import annotations

import csv
from math import prod
from pathlib import Path

import pytest
from tests.conftest import Weigh

from uptide.core.measures.lines import LONGEST, parse_line, split_recipe
from uptide.core.recipe.recipe import RowStatus

LINES = list(csv.DictReader((Path(__file__).parent / "typed_lines.csv").read_text(encoding="utf-8").splitlines()))


def test_there_are_at_least_150_typed_lines() -> None:
    assert len(LINES) >= 150


# In plain letters: with others the name of a test is another when it is collected twice in one process (make mutants).
NAMES = [f"{case['typed']}-{case['container_ml']}".encode("ascii", "xmlcharrefreplace").decode() for case in LINES]


@pytest.mark.parametrize("case", LINES, ids=NAMES)
def test_a_typed_line_means_its_grams_or_asks_its_question(case: dict[str, str], weigh: Weigh) -> None:
    ml = float(case["container_ml"]) if case["container_ml"] else None
    (row,) = weigh(case["typed"], ml).rows

    assert row.typed == case["typed"]
    if case["expected"][0].isdigit():
        grams = prod(float(factor) for factor in case["expected"].split("*"))
        assert row.status is RowStatus.READ, row
        assert row.grams == pytest.approx(grams, rel=2e-5)  # volumes above are given to six digits
    elif case["expected"].startswith("ask "):
        assert row.status is RowStatus.ASKED
        assert [question.key for question in row.questions] == [case["expected"].removeprefix("ask ")]
    elif case["expected"].startswith("assume "):
        assert row.status is RowStatus.READ
        assert [f"assume {q.key} {q.assumed}" for q in row.questions] == [case["expected"]]
    elif case["expected"] in ("comment", "unmeasured"):
        assert row.status == case["expected"]
    else:
        assert row.status is RowStatus.NOT_UNDERSTOOD
        assert case["expected"] in row.reason


@pytest.mark.parametrize(
    ("text", "rows"),
    [
        (
            "2 tbsp grapeseed, 1 tbsp jojoba, 12 drops lavender",
            ["2 tbsp grapeseed", "1 tbsp jojoba", "12 drops lavender"],
        ),
        ("2 tbsp grapeseed; 1 tbsp jojoba", ["2 tbsp grapeseed", "1 tbsp jojoba"]),
        ("2 tbsp grapeseed and 1 tbsp jojoba", ["2 tbsp grapeseed", "1 tbsp jojoba"]),
        ("2 tbsp and 1 tsp jojoba", ["2 tbsp and 1 tsp jojoba"]),
        ("jojoba, 2 tbsp, rosehip, 1 tsp", ["jojoba, 2 tbsp", "rosehip, 1 tsp"]),
        ("2 tbsp sunflower, high oleic", ["2 tbsp sunflower, high oleic"]),
        ("1,5 ml rosehip, 2 ml argan", ["1,5 ml rosehip", "2 ml argan"]),
        ("2 tbsp olive (light, not green), 1 tsp argan", ["2 tbsp olive (light, not green)", "1 tsp argan"]),
        (
            "equal parts almond, apricot and jojoba",
            ["equal parts almond", "equal parts apricot", "equal parts jojoba"],
        ),
        ("lavender and neroli, 6 drops each", ["6 drops each lavender", "6 drops each neroli"]),
        ("6 drops each of lavender and neroli", ["6 drops each lavender", "6 drops each neroli"]),
        # What stands over them or beside them stays.
        ("Base: equal parts olive and argan", ["Base:", "equal parts olive", "equal parts argan"]),
        ("Scent: lavender and neroli, 6 drops each", ["Scent:", "6 drops each lavender", "6 drops each neroli"]),
        (
            "equal parts almond (optional), apricot",
            ["equal parts almond (optional)", "equal parts apricot"],
        ),
        ("Base:\n2 tbsp jojoba\n\n# later\n1 tsp argan", ["Base:", "2 tbsp jojoba", "# later", "1 tsp argan"]),
        (" , , ", [", ,"]),
        ("1 part jojoba : 2 parts argan: 1 part olive", ["1 part jojoba", "2 parts argan", "1 part olive"]),
        ("Base: 2 parts jojoba : 1 part argan", ["Base: 2 parts jojoba", "1 part argan"]),
        ("oils: 2 parts jojoba, scent: 1 part lavender", ["oils: 2 parts jojoba", "scent: 1 part lavender"]),
        # A ratio stands before its names, behind them, or between two.
        ("2:1 jojoba and argan", ["2 parts jojoba", "1 part argan"]),
        ("50:50 jojoba argan", ["50 parts jojoba", "50 parts argan"]),
        ("2:1 high oleic sunflower", ["2:1 high oleic sunflower"]),
        ("jojoba and argan 2:1", ["2 parts jojoba", "1 part argan"]),
        ("jojoba 2:1 argan", ["2 parts jojoba", "1 part argan"]),
        ("jojoba:argan 2:1", ["2 parts jojoba", "1 part argan"]),
        ("jojoba, argan and rose: 3:2:1", ["3 parts jojoba", "2 parts argan", "1 part rose"]),
        ("jojoba and argan 60/40", ["60 parts jojoba", "40 parts argan"]),
        ("jojoba 2:1 argan, 3 drops rose", ["2 parts jojoba", "1 part argan", "3 drops rose"]),
        ("jojoba and argan 1/3", ["jojoba and argan 1/3"]),
        ("calendula 1:5 in olive", ["calendula 1:5 in olive"]),
        ("tamanu 2:1", ["tamanu 2:1"]),
        ("bath for a child of 4: 10 ml almond", ["bath for a child of 4: 10 ml almond"]),
    ],
)
def test_a_pasted_recipe_is_split_into_rows(text: str, rows: list[str]) -> None:
    assert list(split_recipe(text)) == rows


@pytest.mark.parametrize(
    "text",
    [
        # With oily hands nobody looks for a comma: a name, and the next amount begins.
        "2 tbsp grapeseed | 1 tbsp jojoba | 12 drops lavender",
        "1 cup olive | 1/2 cup coconut | ½ cup castor",
        "two drops rose | half a cup olive | a drop of clary sage",
        "10 ml jojoba (organic) | 3 drops rose",
        "6 lavender | 3 rose",
        "2-3 drops lavender | about 20 ml jojoba | a dozen drops rose | heaped tsp beeswax",
        "1 tsp (5 ml) jojoba | 2 tsp (10 ml) argan",
        "100g olive | 20g beeswax | then add 5 drops lavender",
        "70% jojoba | 30% argan",
        "2 parts jojoba | 1 part argan",
        # Or an amount, and the next name.
        "jojoba 30 ml | clove bud 3 drops | rose 1 drop",
        "jojoba 70% | argan 30%",
        "lavender 40/42 5 drops | jojoba 30 ml",
        # One thing: a number in a name, an amount said twice, an age, a share, what it is for, another choice.
        "5 ml polysorbate 80",
        "1 tsp vitamin e 400 iu",
        "vitamin E 1000 IU oil 5 ml",
        "1 tbsp jojoba 15 ml",
        "12 drops lavender 30 ml",
        "30 ml argan 1 month old",
        "5 ml lavender 2% strong",
        "12 drops lavender per 30 ml jojoba",
        "10 drops lavender 5 drops each neroli",
        "1 tbsp almond or 1 tbsp olive",
        "1 bottle 30 ml argan",
    ],
)
def test_what_follows_without_a_comma_is_a_row_of_its_own(text: str) -> None:
    assert list(split_recipe(text.replace(" | ", " "))) == text.split(" | ")
    assert list(split_recipe(f"{text.replace(' | ', ' ')} and 5 ml castor")) == [*text.split(" | "), "5 ml castor"]


def test_a_line_too_long_to_read_is_kept_and_says_so() -> None:
    line = parse_line("1 ml " + "x" * LONGEST)

    assert line.typed.endswith("x")
    assert str(LONGEST) in line.problem


@pytest.mark.parametrize(
    ("pasted", "rows"),
    [
        ("Oil\tGrams\nGrapeseed\t30\nJojoba\t12,5\n\t42,5", ("30 g Grapeseed", "12,5 g Jojoba", "Total 42,5")),
        ("Amount;Ingredient\n2 tbsp;jojoba\n12 drops;lavender", ("2 tbsp jojoba", "12 drops lavender")),
        ("Name\tQty\tUnit\nOlive\t3\ttbsp\nCastor\t10 %\t", ("3 tbsp Olive", "10 % Castor")),
        (
            "INCI name,%\nVitis Vinifera Seed Oil,70\nCocos Nucifera Oil,30",
            ("70 % Vitis Vinifera Seed Oil", "30 % Cocos Nucifera Oil"),
        ),
        ("Oil\tml\nPhase A\nOlive\t30\nVitamin E\t", ("Phase A", "30 ml Olive", "Vitamin E")),
    ],
)
def test_a_table_from_a_spreadsheet_is_read_by_its_header(pasted: str, rows: tuple[str, ...]) -> None:
    assert split_recipe(pasted) == rows


def test_what_only_looks_like_a_table_is_read_as_words() -> None:
    assert split_recipe("2 tbsp jojoba, 1 tbsp olive\n3 drops lavender") == (
        "2 tbsp jojoba",
        "1 tbsp olive",
        "3 drops lavender",
    )
    assert split_recipe("oil, warm\n30 g olive") == ("oil", "warm", "30 g olive")


@pytest.mark.parametrize(
    ("text", "rows"),
    [
        ("2 tbsp jojoba (organic, raw), 1 tbsp argan", ("2 tbsp jojoba (organic, raw)", "1 tbsp argan")),
        ("1,5 g rose, 2 g argan", ("1,5 g rose", "2 g argan")),
        ("2 g argan), 3 g olive", ("2 g argan)", "3 g olive")),
        ("2 g argan ((a, b), c), 3 g olive", ("2 g argan ((a, b), c)", "3 g olive")),
        ("10 g olive,5 g argan", ("10 g olive", "5 g argan")),
    ],
)
def test_a_comma_parts_rows_but_no_number_and_no_bracket(text: str, rows: tuple[str, ...]) -> None:
    assert split_recipe(text) == rows


def test_what_stands_behind_capsules_is_kept_beside_them() -> None:
    line = parse_line("2 vitamin E capsules (400 IU)")

    assert (line.name, line.aside) == ("vitamin E", "400 IU")
