"""The ledger: whole milligrams, a reason where one is needed, and never less than nothing."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.core.errors import QuantityError
from uptide.core.ledger.movement import (
    BEFORE,
    FOUND,
    Movement,
    MovementKind,
    balance,
    check_left,
    counted,
    grams,
    milligrams,
    opening,
    taken,
)

MG = st.integers(1, 10**9)


def test_the_worked_ledger_of_a_lot_comes_to_nothing() -> None:
    # +920 g; 710 g before the ledger; 331 g refused, 121 g short; 198 g used; the heel of 12 g adjusted away.
    first = opening(920_000, 210_000)
    assert [(each.kind, each.mg, each.reason) for each in first] == [
        (MovementKind.RECEIVE, 920_000, ""),
        (MovementKind.ADJUST, -710_000, BEFORE),
    ]
    with pytest.raises(QuantityError, match=r"210.00 g are left and 331.00 g are asked for: 121.00 g are missing"):
        check_left(balance(first), Movement(MovementKind.USE, -331_000))
    left = check_left(balance(first), Movement(MovementKind.USE, -198_000))
    assert left == 12_000
    assert check_left(left, Movement(MovementKind.ADJUST, -12_000, "heel")) == 0


def test_floats_would_not_come_to_nothing() -> None:
    assert 0.3 - 0.1 - 0.1 - 0.1 != 0
    assert milligrams(0.3) - 3 * milligrams(0.1) == 0


@given(MG, MG)
def test_what_is_taken_never_leaves_less_than_nothing_and_what_was_found_is_said(left: int, wanted: int) -> None:
    movements = taken(left, wanted, "batch 1")
    after = left
    for movement in movements:
        after = check_left(after, movement)
    assert after == max(0, left - wanted)
    assert movements[-1] == Movement(MovementKind.USE, -wanted, "batch 1")
    assert [each.reason for each in movements[:-1]] == [FOUND] * (wanted > left)


@given(MG, MG)
def test_counting_puts_it_right_and_what_is_right_is_left_alone(known: int, left: int) -> None:
    assert known + balance(counted(known, left, "counted")) == left
    assert counted(known, known, "counted") == ()


@given(st.sampled_from(MovementKind), MG)
def test_what_is_taken_back_is_as_if_it_never_was(kind: MovementKind, mg: int) -> None:
    sign = -1 if kind in (MovementKind.USE, MovementKind.DISCARD) else 1
    movement = Movement(kind, sign * mg, "why")
    assert balance([movement, movement.undone]) == 0
    assert movement.undone.reason == "taken back: why"


@pytest.mark.parametrize(
    ("kind", "mg", "reason", "why"),
    [
        (MovementKind.USE, 5, "", "cannot be “use”"),
        (MovementKind.RECEIVE, -5, "", "cannot be “receive”"),
        (MovementKind.ADJUST, 5, " ", "needs a reason"),
        (MovementKind.DISCARD, -5, "", "needs a reason"),
        (MovementKind.USE, 0, "", "cannot move"),
        (MovementKind.RECEIVE, 10**9 + 1, "", "cannot move"),
    ],
)
def test_what_cannot_move_is_refused(kind: MovementKind, mg: int, reason: str, why: str) -> None:
    with pytest.raises(QuantityError, match=why):
        Movement(kind, mg, reason)


def test_grams_and_back() -> None:
    assert grams(milligrams(12.3456)) == 12.346
    assert Movement(MovementKind.RECEIVE, 10**9).mg
