"""Colours against the published values of the standard, and what a film of oil does to skin by hand arithmetic."""

from __future__ import annotations

from math import exp

import pytest

from uptide.core.physics.colour import (
    FILM,
    PER_STEP,
    SKIN_TONES,
    Rgb,
    difference,
    linear,
    on_skin,
    steps_of_tint,
    through,
    written,
)

# CIE L*, a*, b* (D65, 2°) of the primaries of sRGB and of a gray, as IEC 61966-2-1 and CIE 15 have them; from memory.
LAB: dict[str, Rgb] = {
    "#ffffff": (100.0, 0.0, 0.0),
    "#ff0000": (53.24, 80.09, 67.20),
    "#00ff00": (87.73, -86.18, 83.18),
    "#0000ff": (32.30, 79.19, -107.86),
    "#808080": (53.585, 0.0, 0.0),
    "#010101": (0.2742, 0.0, 0.0),  # on the straight part of both curves: 24389/27 · 1/255/12.92
    "#000000": (0.0, 0.0, 0.0),
}


@pytest.mark.parametrize("first", LAB)
@pytest.mark.parametrize("second", LAB)
def test_a_difference_is_the_distance_of_two_published_colours(first: str, second: str) -> None:
    apart = sum((a - b) ** 2 for a, b in zip(LAB[first], LAB[second], strict=True)) ** 0.5

    assert difference(first, second) == pytest.approx(apart, abs=0.06)
    if {first, second} == {"#010101", "#000000"}:
        assert difference(first, second) == pytest.approx(apart, rel=1e-3)


@pytest.mark.parametrize(("colour", "light"), [("#0a0a0a", 0.003035), ("#0b0b0b", 0.003347), ("#bcbcbc", 0.502886)])
def test_light_is_that_of_the_standard_on_both_parts_of_its_curve(colour: str, light: float) -> None:
    assert linear(colour) == pytest.approx((light,) * 3, abs=1e-6)
    assert written(linear(colour)) == colour


def test_a_channel_that_is_written_as_none_lets_half_a_step_through() -> None:
    # IEC 61966-2-1: the darkest steps are a straight line of slope 12.92; half of one in 255 is what 00 may hide.
    half_black = through([(0.5, "#000000"), (0.5, "#ffffff")])

    assert half_black == pytest.approx(((0.5 / 255 / 12.92) ** 0.5,) * 3, rel=1e-6)


def test_a_film_takes_the_light_that_its_strongest_channel_is_scaled_to() -> None:
    skin = SKIN_TONES["medium"]
    # Blue that lets through 1/e of blue and half of that ln in green: of tint 9 it takes FILM / PER_STEP-th of FILM.
    oil = written((1.0, exp(-0.5), exp(-1.0)))
    taken = FILM * 0.1 * PER_STEP
    red, green, blue = linear(skin)
    by_hand = written((red, green * exp(-taken / 2), blue * exp(-taken)))

    assert on_skin([(0.1, oil, 9.0)], skin) == by_hand
    assert on_skin([(0.05, oil, 9.0), (0.05, oil, 9.0)], skin) == by_hand
    assert on_skin([(0.9, "#ffffff", 10.0)], skin) == skin  # clear as water


def test_a_step_of_tint_is_a_factor_and_what_is_clear_has_none() -> None:
    faint, strong = written((1.0, 1.0, exp(-0.2))), written((1.0, 1.0, exp(-0.2 / PER_STEP**2)))

    assert steps_of_tint(faint, strong) == pytest.approx(2, abs=0.05)
    assert steps_of_tint(strong, faint) == pytest.approx(-2, abs=0.05)
    assert steps_of_tint("#ffffff", strong) == steps_of_tint(strong, "#ffffff") == 0.0
    assert steps_of_tint("#ffffff", "#ffffff") == 0.0
