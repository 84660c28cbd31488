"""What can have befallen a bottle, and what is said of what cannot."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

import pytest

from uptide.core.keeping.storage_history import OLDEST_BOTTLE, problem_of
from uptide.core.oxidation.surroundings import PLACES, Light, usual_place

TODAY = date(2026, 11, 25)


@dataclass(frozen=True)
class Happened:
    kind: str
    on: date
    detail: dict[str, Any]


@pytest.mark.parametrize(
    ("days_ago", "can_be"),
    [(-1, False), (0, True), (OLDEST_BOTTLE.days, True), (OLDEST_BOTTLE.days + 1, False)],
)
def test_a_day_lies_between_the_oldest_bottle_and_today(days_ago: int, can_be: bool) -> None:
    said = problem_of(Happened("opened", TODAY - timedelta(days=days_ago), {}), TODAY)

    assert (said == "") is can_be
    if not can_be:
        assert "cannot be: a day of the last 10 years up to today can." in said


@pytest.mark.parametrize(
    ("kind", "detail", "says"),
    [
        ("exploded", {}, "“exploded” is nothing that is noted of a bottle; known are "),
        ("moved", {"place": "attic"}, "attic"),
        ("moved", {"place": "fridge"}, ""),
        ("heated", {"celsius": 60.0, "hours": 2.0}, ""),
        ("heated", {"celsius": 900.0, "hours": 2.0}, "900 °C is no step"),
        ("strip", {"low": 0.0, "high": 5.0}, ""),
        ("strip", {"low": 5.0, "high": 0.0}, "5"),
        ("titration", {"pv": "x"}, "What belongs to it cannot be read."),
        ("smell", {}, "What belongs to it cannot be read."),
        ("in water", {"saw": "boils"}, "“boils” is nothing it does in water; known are "),
        ("in water", {}, "What belongs to it cannot be read."),
    ],
)
def test_what_belongs_to_it_is_read_by_its_kind(kind: str, detail: dict[str, Any], says: str) -> None:
    said = problem_of(Happened(kind, TODAY, detail), TODAY)

    assert says in said
    assert bool(said) is bool(says)


@pytest.mark.parametrize("place", PLACES)
def test_a_place_is_known_however_it_is_written(place: str) -> None:
    celsius, swing, light = PLACES[place]
    found = usual_place(f" {place.upper()} ", opened=True)

    assert (found.place, found.celsius, found.swing, found.light, found.opened) == (place, celsius, swing, light, True)


def test_a_place_that_nobody_knows_counts_as_a_cool_cupboard() -> None:
    found = usual_place("attic", opened=False)

    assert (found.place, found.celsius[0], found.swing, found.light) == ("cool cupboard", 17.0, 1.0, Light.DARK)
    assert not found.opened
