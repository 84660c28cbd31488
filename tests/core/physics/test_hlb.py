"""HLB by hand: means by mass, and where a mean is no answer."""

from __future__ import annotations

from dataclasses import replace

import pytest

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.physics.hlb import (
    TABLES_DIFFER,
    Emulsified,
    Emulsifier,
    HlbError,
    RequiredHlb,
    share_of_two,
)

FACTS = shipped_catalogue()
REQUIRED = {"olive": RequiredHlb(6.0, 7.0, 8.0, ""), "castor": RequiredHlb(12.0, 14.0, 15.0, "")}


def emulsifier(key: str, hlb: float) -> Emulsifier:
    return replace(FACTS.safety.emulsifiers["polysorbate-80"], key=key, hlb=hlb)


EMULSIFIERS = {"mild": emulsifier("mild", 4.0), "strong": emulsifier("strong", 16.0)}


def of(oils: list[tuple[str, float]], *emulsifiers: tuple[str, float]) -> Emulsified:
    return Emulsified.of(oils, list(emulsifiers), required=REQUIRED, known_emulsifiers=EMULSIFIERS)


def test_what_is_required_and_present_are_means_by_mass() -> None:
    found = of([("olive", 30.0), ("castor", 10.0)], ("mild", 1.0), ("strong", 3.0), ("soap", 9.0))

    assert found.required == pytest.approx((30 * 7 + 10 * 14) / 40)  # 8.75
    assert found.required_low == pytest.approx((30 * 6 + 10 * 12) / 40)  # 7.5
    assert found.required_high == pytest.approx((30 * 8 + 10 * 15) / 40)  # 9.75
    assert found.present == pytest.approx((4 + 3 * 16) / 4)  # 13; what no table knows does not count
    assert found.unknown == ()


def test_some_that_no_table_knows_is_left_out_and_much_makes_it_unknown() -> None:
    little, much = 20.0, 21.0  # a fifth of the oils may be strange; assumption
    some = of([("olive", 100 - little), ("strange", little)])
    assert some.required == pytest.approx(7.0)
    assert some.unknown == ("strange",)

    lost = of([("olive", 100 - much), ("strange", much)], ("mild", 0.5))
    assert (lost.required, lost.required_low, lost.required_high) == (None, None, None)
    assert (lost.unknown, lost.present, lost.fits) == (("strange",), 4.0, None)
    assert of([]).required is None
    assert of([("olive", 0.5)]).required == 7.0  # half a gram is an oil as well
    assert of([("olive", 0.5)]).present is None


@pytest.mark.parametrize(
    ("present", "fits"),
    [(-0.01, False), (0.0, True), (6.0, True), (6.01, False)],
)
def test_it_fits_within_the_tables_and_what_they_differ_by(present: float, fits: bool) -> None:
    found = Emulsified(7.0, 6.0, required_high=8.0, present=6.0 - TABLES_DIFFER + present, unknown=())

    assert found.fits is fits


def test_the_share_of_the_higher_of_two() -> None:
    assert share_of_two(10.0, 16.0, 4.0) == pytest.approx(0.5)
    assert share_of_two(7.0, 4.0, 16.0) == pytest.approx(0.25)  # in either order
    assert (share_of_two(4.0, 16.0, 4.0), share_of_two(16.0, 16.0, 4.0)) == (0.0, 1.0)
    for required in (3.9, 16.1):
        with pytest.raises(HlbError, match=rf"An HLB of {required} cannot be made of 4 and 16"):
            share_of_two(required, 16.0, 4.0)
    with pytest.raises(HlbError):
        share_of_two(8.0, 8.0, 8.0)
