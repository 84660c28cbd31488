"""What share of the whole a part is, typically and at most, by hand; and what is unknown because a row is open."""

from __future__ import annotations

from dataclasses import replace

import pytest
from tests.core.safety.conftest import FACTS, case_of

from uptide.core.measures.lines import Line
from uptide.core.recipe.recipe import Row, RowStatus
from uptide.core.safety.case import parts_of
from uptide.core.safety.judge import Answer, evaluate
from uptide.core.safety.words import read_words


def row(key: str, grams: float, most: float) -> tuple[Row, object]:
    item = FACTS.ingredient(key)
    read = Row(0, key, status=RowStatus.READ, line=Line(key), ingredient=item, grams=grams, grams_high=most)
    return read, item


def test_the_most_of_a_scent_counts_all_scents_at_their_most_and_the_oil_as_it_is() -> None:
    rows = [row("jojoba", 90.0, 120.0), row("lavender", 4.0, 5.0), row("lemon", 1.0, 5.0)]
    parts = {part.key: part for part in parts_of(rows)}  # type: ignore[arg-type] # an ingredient beside its row

    assert {key: part.typical for key, part in parts.items()} == pytest.approx(
        {"jojoba": 100 * 90 / 95, "lavender": 100 * 4 / 95, "lemon": 100 / 95}
    )
    # 90 g of oil and 10 g of scents at most; of the oil more than all cannot be.
    assert [parts[key].high for key in ("lavender", "lemon")] == pytest.approx([5.0, 5.0])
    assert parts["jojoba"].high == 100.0
    assert parts_of([row("jojoba", 0.0, 0.0)]) == ()  # type: ignore[list-item]


@pytest.mark.parametrize("words", ["oleic>70|water>3", "water>3|oleic>70", "water>3|re>1"])
def test_a_doubt_that_stays_goes_before_one_that_waits_for_an_open_row(words: str) -> None:
    """How much oleic acid there is waits for the row, and is said once for all; of the water it is said by its name."""
    case = replace(case_of({"rose-hydrosol": 5.0, "retinol": 1.0}), waiting=("5 g zorgblat",))

    assert evaluate(read_words(words), case) == Answer(None, (FACTS.ingredient("rose-hydrosol").name,))
    assert evaluate(read_words("oleic>70|tint>5"), case).waits
