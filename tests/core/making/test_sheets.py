"""Sheets of labels by their dimensions: every label lies on its paper, letters are as high as the law has them."""

from __future__ import annotations

import pytest

from uptide.core.errors import QuantityError
from uptide.core.making.sheets import (
    PAPERS,
    SHEETS,
    Sheet,
    code_mm,
    in_fluid_ounces,
    letters_of_contents,
    one_label,
)


@pytest.mark.parametrize("sheet", SHEETS.values(), ids=SHEETS.keys())
def test_every_label_lies_on_its_paper_and_none_on_another(sheet: Sheet) -> None:
    width, height = PAPERS[sheet.paper]
    places = [sheet.at(place) for place in range(sheet.count)]
    for left, top in places:
        assert 0 <= left <= width - sheet.width + 0.05
        assert 0 <= top <= height - sheet.height + 0.05
    assert len(set(places)) == sheet.count
    assert sheet.pitch[0] >= sheet.width
    assert sheet.pitch[1] >= sheet.height
    # Centred: as much is left on the right as on the left, to a tenth of a millimetre.
    right = width - max(left for left, _ in places) - sheet.width
    assert right == pytest.approx(sheet.corner[0], abs=0.11)
    assert min(sheet.written) > 15


def test_the_table_of_sheets() -> None:
    assert [sheet.count for sheet in SHEETS.values()] == [21, 14, 8, 18, 12, 24, 48, 65, 24, 15, 12, 30, 10, 12]
    assert SHEETS["a4-63x38"].at(4) == pytest.approx((7.25 + 66.0, 15.15 + 38.1))
    assert SHEETS["a4-round-50"].written[0] == pytest.approx(50 * 0.7071 - 2, abs=0.01)
    assert SHEETS["a4-63x38"].sheets_for(20, first=2) == 2
    assert SHEETS["a4-63x38"].sheets_for(19, first=2) == 1


def test_letters_of_the_contents_are_as_high_as_the_law_has_them() -> None:
    # 76/211/EEC: to 50 mL 2 mm, to 200 mL 3, to 1000 mL 4, above 6; from memory.
    assert [letters_of_contents(ml, "EU", 0) for ml in (50, 51, 200, 1000, 1001)] == [2, 3, 3, 4, 6]
    # 16 CFR 500: by the main panel, 1/16 inch to 5 square inches, 1/8 to 25; from memory.
    assert [letters_of_contents(0, "US", inches * 645.16) for inches in (5, 25, 100, 400, 401)] == pytest.approx(
        [1.5875, 3.175, 4.7625, 6.35, 12.7]
    )


@pytest.mark.parametrize(
    ("millilitres", "said"),
    [
        (10, "0.33"),
        (15, "0.5"),
        (30, "1.01"),
        (50, "1.69"),
        (60, "2.02"),
        (100, "3.38"),
        (150, "5.07"),
        (200, "6.76"),
        (250, "8.45"),
        (500, "16.9"),
    ],
)
def test_fluid_ounces_are_cut_to_two_places(millilitres: float, said: str) -> None:
    assert in_fluid_ounces(millilitres) == f"{said} fl oz"


def test_a_single_label_and_its_code() -> None:
    assert one_label(90, 62).written == (86, 58)
    assert code_mm() == pytest.approx(11.6)
    for size in ((10, 62), (90, 5), (500, 62)):
        with pytest.raises(QuantityError, match="cannot be set"):
            one_label(*size)
