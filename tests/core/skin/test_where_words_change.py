"""From which figure on another word is said, as figures: none of them by the name that the code has for it."""

from __future__ import annotations

from datetime import datetime, timedelta

import pytest

from uptide.core.skin.patch import can_have_begun
from uptide.core.skin.verdicts import COMEDOGENICITY_WORDS, FEEL_WORDS, SLIPS, THICK_WORDS, word_of
from uptide.core.skin.wearer import Wearer
from uptide.core.skin.whom import read_whom

NOW = datetime(2026, 11, 28, 12)  # noqa: DTZ001 - the hour on a wall
TODAY = NOW.date()


@pytest.mark.parametrize(
    ("words", "value", "word"),
    [
        # Classes of feel, 1 dry to 4 rich; common practice.
        (FEEL_WORDS, 1.49, "dry"),
        (FEEL_WORDS, 1.5, "fast"),
        (FEEL_WORDS, 2.49, "fast"),
        (FEEL_WORDS, 2.5, "medium"),
        (FEEL_WORDS, 3.39, "medium"),
        (FEEL_WORDS, 3.4, "rich"),
        (FEEL_WORDS, 4.0, "rich"),
        # mPa·s at 32 °C, set to named examples.
        (THICK_WORDS, 35.9, "dry"),
        (THICK_WORDS, 36.0, "fast"),
        (THICK_WORDS, 43.9, "fast"),
        (THICK_WORDS, 44.0, "medium"),
        (THICK_WORDS, 49.9, "medium"),
        (THICK_WORDS, 50.0, "rich"),
        # Of 5; common practice.
        (COMEDOGENICITY_WORDS, 1.49, "low"),
        (COMEDOGENICITY_WORDS, 1.5, "moderate"),
        (COMEDOGENICITY_WORDS, 2.49, "moderate"),
        (COMEDOGENICITY_WORDS, 2.5, "high"),
        # mPa·s at 32 °C, how long a massage oil slips.
        (SLIPS, 32.9, "short: about five minutes"),
        (SLIPS, 33.0, "works for ten minutes"),
        (SLIPS, 59.9, "works for ten minutes"),
        (SLIPS, 60.0, "long, and drags"),
    ],
)
def test_from_where_another_word_is_said(words: tuple[tuple[float, str], ...], value: float, word: str) -> None:
    assert word_of(value, words) == word


@pytest.mark.parametrize(("words", "months"), [("a baby", 6), ("a newborn", 1), ("a toddler", 24), ("a child", 72)])
def test_how_old_is_who_is_only_called_so(words: str, months: float) -> None:
    found = read_whom(words, {}, TODAY)
    assert found
    assert found.wearer.age_months(TODAY) == pytest.approx(months, abs=0.05)


@pytest.mark.parametrize(("words", "months"), [("8 weeks old", 8 * 7 / 30.44), ("3 years old", 36)])
def test_an_age_in_months(words: str, months: float) -> None:
    found = read_whom(words, {}, TODAY)
    assert found
    assert found.wearer.age_months(TODAY) == pytest.approx(months, abs=0.05)


@pytest.mark.parametrize(("days", "counts"), [(-14, True), (14, True), (-15, False), (15, False)])
def test_two_weeks_around_what_was_done_to_the_skin(days: int, *, counts: bool) -> None:
    assert Wearer("Ines", procedure_on=TODAY + timedelta(days=days)).within_procedure(TODAY) is counts


@pytest.mark.parametrize(("days", "can_be"), [(-731, True), (-732, False), (1, True), (1.1, False)])
def test_a_patch_test_of_the_last_two_years_can_be_noted(days: float, *, can_be: bool) -> None:
    assert can_have_begun(NOW + timedelta(days=days), NOW) is can_be
