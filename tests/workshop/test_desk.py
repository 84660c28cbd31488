"""What there is once in a workshop is asked by several processes as if it were theirs."""

from __future__ import annotations

import stat
from pathlib import Path
from types import SimpleNamespace
from typing import cast

import pytest

from uptide.store.condition import DatabaseError
from uptide.workshop.daily_copies import DailyCopies
from uptide.workshop.desk import NO_COPIES, Desk, desk_at, shared
from uptide.workshop.entrance import FREE
from uptide.workshop.scale import OnScale, Scale
from uptide.workshop.thermometer import NowWarm, Thermometer

SHOWN, SAID = OnScale(12.5, stable=True, moments=((1.0, 12.5, True),)), NowWarm(49.5, 0.25)


class Shows:
    """An instrument that says what the test says, and whether it was started and stopped."""

    practice: SimpleNamespace | None = None

    def __init__(self, says: object) -> None:
        self.says, self.log = says, list[str]()

    def now(self) -> object:
        return self.says

    def start(self) -> None:
        self.log.append("started")

    def stop(self) -> None:
        self.log.append("stopped")


class Copies(Shows):
    """Backups that are never made."""

    problem = "The disk is full"

    def make(self) -> Path:
        raise DatabaseError("No copy was made.")


def test_every_process_reads_the_same_instruments_and_counts_with_the_others() -> None:
    scale, thermometer, copies = Shows(SHOWN), Shows(SAID), Copies("")
    kept = Desk(cast("Scale", scale), cast("Thermometer", thermometer), cast("DailyCopies", copies), by_itself=True)
    with shared(kept) as address:
        one, other = desk_at(address), desk_at(address)
        assert one.on_scale() == other.on_scale() == SHOWN
        assert one.warmth() == SAID
        assert not one.is_practice()
        for _ in range(FREE):
            one.was_wrong("192.0.2.1")
        assert other.wait("192.0.2.1") > 0
        assert other.wait("192.0.2.2") == 0
        other.was_right("192.0.2.1")
        assert one.wait("192.0.2.1") == 0
        assert one.backup_problem() == "The disk is full"
        with pytest.raises(DatabaseError, match="No copy was made"):
            one.back_up()
        assert stat.S_IMODE(Path(address).parent.stat().st_mode) == 0o700

    assert scale.log == thermometer.log == copies.log == ["started", "stopped"]


def test_who_takes_the_practice_scale_gives_it_to_all() -> None:
    scale, poured = Shows(SHOWN), list[tuple[float, float]]()
    scale.practice = SimpleNamespace(pour=lambda grams, rate: poured.append((grams, rate)))
    with shared(Desk(cast("Scale", scale))) as address:
        desk_at(address).practise(None, 8.0)
        desk_at(address).practise(250.0, 8.0)
        assert desk_at(address).is_practice()

    assert poured == [(250.0, 8.0)]


def test_where_there_is_nothing_each_is_said_to_be_missing() -> None:
    desk, copies = Desk(), Copies("")
    assert (desk.on_scale(), desk.warmth(), desk.is_practice(), desk.backup_problem()) == (None, None, False, "")
    with pytest.raises(DatabaseError, match=NO_COPIES):
        desk.back_up()
    asked_for = Desk(copies=cast("DailyCopies", copies))
    asked_for.start()
    assert copies.log == []  # none is made by itself unless its folder was named
