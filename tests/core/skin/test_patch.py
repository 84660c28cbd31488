"""When to look at a patch test, and what was seen means. Protocols: common practice; ESCD 2015, from memory."""

from __future__ import annotations

from datetime import datetime, timedelta

import pytest

from uptide.core.errors import UptideError
from uptide.core.skin.patch import PROTOCOLS, REACTIONS, Outcome, Saw, outcome, plan, protocol_of

BEGUN = datetime(2026, 11, 25, 18, 30)  # noqa: DTZ001 - by the clock on the wall
TWO_DAYS = PROTOCOLS["two-days"]


def test_twice_for_24_hours_is_looked_at_four_times() -> None:
    looks = plan(TWO_DAYS, BEGUN, {})

    assert [look.due - BEGUN for look in looks] == [timedelta(hours=h) for h in (0.5, 6, 24, 48)]
    assert "again at the same place" in looks[2].words


@pytest.mark.parametrize(("key", "days"), [("open-7", 7), ("open-14", 14)])
def test_the_open_test_is_looked_at_every_day(key: str, days: int) -> None:
    looks = plan(PROTOCOLS[key], BEGUN, {})

    assert len(looks) == days
    assert looks[-1].due == BEGUN + timedelta(days=days)
    assert looks[-1].words.endswith("it is done")


@pytest.mark.parametrize("saw", sorted(REACTIONS))
def test_any_reaction_counts_at_once_and_for_good(saw: Saw) -> None:
    assert outcome(plan(TWO_DAYS, BEGUN, {0: (saw, "")})) is Outcome.REACTED
    assert outcome(plan(TWO_DAYS, BEGUN, {0: (saw, ""), 3: (Saw.NOTHING, "")}), ended=True) is Outcome.REACTED


def test_only_the_last_look_clears() -> None:
    nothing = (Saw.NOTHING, "")

    assert outcome(plan(TWO_DAYS, BEGUN, dict.fromkeys(range(3), nothing))) is Outcome.RUNNING
    assert outcome(plan(TWO_DAYS, BEGUN, dict.fromkeys(range(3), nothing)), ended=True) is Outcome.BROKEN_OFF
    assert outcome(plan(TWO_DAYS, BEGUN, dict.fromkeys(range(4), nothing))) is Outcome.CLEAR
    assert outcome(plan(TWO_DAYS, BEGUN, {1: (Saw.FAINT, ""), 3: nothing})) is Outcome.DOUBTFUL


def test_a_look_is_due_at_its_hour_and_late_half_a_day_after() -> None:
    first = plan(TWO_DAYS, BEGUN, {})[0]

    assert not first.is_due(first.due - timedelta(seconds=1))
    assert first.is_due(first.due)
    assert not first.is_late(first.due + timedelta(hours=12))
    assert first.is_late(first.due + timedelta(hours=12, seconds=1))
    assert not plan(TWO_DAYS, BEGUN, {0: (Saw.NOTHING, "")})[0].is_due(first.due)


def test_an_unknown_protocol_is_refused_with_those_there_are() -> None:
    with pytest.raises(UptideError, match="two-days, open-7, open-14"):
        protocol_of("prick")
