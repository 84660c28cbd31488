"""Amounts in the words of the kitchen: the steps in which each thing is measured, on both sides of every change."""

from __future__ import annotations

import pytest

from uptide.core.measures.habits import Habits, Spoons
from uptide.core.measures.say import say_amount, say_number, say_poured, say_quarters, say_spoons, say_weighed

US, METRIC = Habits(), Habits(spoons=Spoons.METRIC)
TEASPOON = 4.92892159375  # mL: a US gallon of 3785.411784 mL by 768; nist-sp-811


@pytest.mark.parametrize(
    ("value", "digits", "words"),
    [
        (0, 4, "0"),
        (1234.56, 4, "1235"),
        (123.456, 4, "123.5"),
        (0.00123456, 4, "0.001235"),
        (-2.5, 4, "-2.5"),
        (100, 4, "100"),
        (0.1, 4, "0.1"),
        (9.9996, 4, "10"),
        (2.34567, 3, "2.35"),
        (2345.67, 2, "2346"),
    ],
)
def test_a_number_has_so_many_digits_and_no_empty_ones(value: float, digits: int, words: str) -> None:
    assert say_number(value, digits) == words


@pytest.mark.parametrize(
    ("value", "words"),
    [(0.25, "¼"), (0.5, "½"), (0.75, "¾"), (1, "1"), (2.75, "2¾"), (0, "0"), (2.9999999999, "3"), (10.25, "10¼")],
)
def test_quarters_are_written_as_fractions(value: float, words: str) -> None:
    assert say_quarters(value) == words


@pytest.mark.parametrize(
    ("teaspoons", "largest", "words"),
    [
        (0.01, "cup", "¼ tsp"),  # never nothing
        (0.374, "cup", "¼ tsp"),
        (0.376, "cup", "½ tsp"),
        (1, "cup", "1 tsp"),
        (1.5, "cup", "½ tbsp"),
        (3, "cup", "1 tbsp"),
        (4.5, "cup", "1½ tbsp"),
        (5, "cup", "1 tbsp + 2 tsp"),
        (12, "cup", "¼ cup"),
        (12, "tbsp", "4 tbsp"),
        (12.25, "cup", "4 tbsp + ¼ tsp"),
        (36, "cup", "¾ cup"),
        (48, "cup", "1 cup"),
        (49.5, "cup", "1 cup + ½ tbsp"),
        (97, "cup", "2 cups + 1 tsp"),
        (5, "tsp", "5 tsp"),
    ],
)
def test_spoons_are_those_one_has_and_what_is_left_goes_to_the_next(teaspoons: float, largest: str, words: str) -> None:
    assert say_spoons(teaspoons * TEASPOON, US, largest) == words
    if largest != "cup":  # a metric cup of 250 mL holds another number of spoons
        assert say_spoons(teaspoons * 5, METRIC, largest) == words


@pytest.mark.parametrize(
    ("millilitres", "words"),
    [
        (0.01, "0.1 mL"),
        (9.94, "9.9 mL"),
        (9.96, "10 mL"),
        (10.2, "10 mL"),
        (10.3, "10.5 mL"),
        (99.6, "99.5 mL"),
        (100.4, "100 mL"),
        (100.6, "101 mL"),
    ],
)
def test_what_is_poured_goes_by_the_steps_of_a_syringe_a_beaker_and_a_jug(millilitres: float, words: str) -> None:
    assert say_poured(millilitres) == words


@pytest.mark.parametrize(
    ("grams", "words"),
    [(0.001, "0.01 g"), (0.016, "0.02 g"), (99.994, "99.99 g"), (100.04, "100 g"), (100.06, "100.1 g")],
)
def test_what_is_weighed_goes_by_the_steps_of_a_fine_and_a_coarse_scale(grams: float, words: str) -> None:
    assert say_weighed(grams) == words


@pytest.mark.parametrize(
    ("grams", "density", "unit", "system", "words"),
    [
        (0.001, 0.9, "drop", "", "1 drop"),
        (0.9 * 1.6 / 20, 0.9, "drop", "", "2 drops"),
        (0.45, 0.9, "drop", "", "10 drops"),
        (0.9 * 0.85, 0.9, "dropper", "", "1 dropper"),  # of 0.85 mL
        (0.1, 0.9, "dropper", "", "½ dropper"),
        (0.9 * 1.35, 0.9, "dropper", "", "1½ droppers"),
        (1000, 0.9, "kg", "", "1 kg"),
        (56.69904625, 0.9, "oz_weight", "", "2 oz by weight"),
        (0.9 * 3 * TEASPOON, 0.9, "tsp", "", "1 tbsp"),
        (0.9 * 48 * TEASPOON, 0.9, "tsp", "", "16 tbsp"),
        (0.9 * 48 * TEASPOON, 0.9, "cup", "", "1 cup"),
        (0.9 * 10, 0.9, "tsp", "metric", "2 metric tsp"),
        (0.9 * 2 * TEASPOON, 0.9, "tsp", "us", "2 US tsp"),
        (0.9 * 28.4130625, 0.9, "fl_oz", "uk", "1 UK fl oz"),
        (0.9 * 500, 0.9, "l", "", "0.5 L"),
    ],
)
def test_an_amount_is_said_in_the_unit_it_was_asked_in(
    grams: float, density: float, unit: str, system: str, words: str
) -> None:
    assert say_amount(grams, density, unit, US, system) == words
