"""A batch follows from what happened to it: what is in the vessel, what is due, and where all of it went."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.core.making.batch_record import (
    BatchEntry,
    BatchRecord,
    ClosedError,
    EntryKind,
    State,
    batch_number,
)

AT = datetime(2026, 11, 27, 10, 0, tzinfo=UTC)


def line(position: int, target: int, picks: list[list[Any]], *, how: str = "weighed", drops: int = 0) -> dict[str, Any]:
    key = ["olive", "jojoba", "lavender"][position]
    plain = {"typed": key, "key": key, "name": key.title(), "restricted": position == 2, "said": ""}
    return plain | {"position": position, "target_mg": target, "how": how, "drops": drops, "picks": picks}


PLAN: dict[str, Any] = {
    "lines": [
        line(0, 331_000, [["B", 205_800], ["C", 125_200]]),
        line(1, 60_000, []),
        line(2, 1_000, [["L", 1_000]], how="drops", drops=22),
    ],
    "containers": [[4, 100.0]],
    "density": 0.9,
    "step_g": 0.1,
}


def entry(
    seq: int, kind: EntryKind, position: int | None = None, mg: int = 0, code: str = "", **detail: Any
) -> BatchEntry:
    key = "" if position is None else PLAN["lines"][position]["key"]
    return BatchEntry(seq, kind, AT, position=position, key=key, code=code, mg=mg, detail=detail)


def batch(*entries: BatchEntry) -> BatchRecord:
    return BatchRecord(
        "20261127-1", 1, version=1, made_on=date(2026, 11, 27), made_by="Bo", planned_at=AT, plan=PLAN, entries=entries
    )


def test_a_pour_is_split_over_two_lots_and_done_when_it_is_in_its_band() -> None:
    fresh = batch()
    assert (fresh.next_position, fresh.next_pick(0)) == (0, ("B", 205_800))
    first = batch(entry(1, EntryKind.POUR, 0, 205_750, "B"))
    assert (first.next_position, first.next_pick(0)) == (0, ("C", 125_250))
    # A hundredth is near enough: what the bench calls in its band is done.
    assert not batch(entry(1, EntryKind.POUR, 0, 327_600, "B")).is_done(0)
    assert batch(entry(1, EntryKind.POUR, 0, 327_700, "B")).next_position == 1
    assert batch(entry(1, EntryKind.POUR, 0, 331_000, "B")).next_pick(1) == ("", 60_000)


def test_what_is_made_more_of_comes_from_the_last_lot_and_what_was_missing_from_none() -> None:
    more = entry(1, EntryKind.RETARGET, targets=[400_000, 60_000, 1_000])
    assert batch(more, entry(2, EntryKind.POUR, 0, 205_800, "B")).next_pick(0) == ("C", 194_200)
    short = replace(batch(), plan=PLAN | {"lines": [line(0, 331_000, [["B", 205_800]]), *PLAN["lines"][1:]]})
    assert short.next_pick(0) == ("B", 205_800)
    poured = replace(short, entries=(entry(1, EntryKind.POUR, 0, 205_800, "B"),))
    assert poured.next_pick(0) == ("", 125_200)


def test_what_is_taken_back_is_out_and_what_is_left_out_is_not_wanted() -> None:
    poured = [entry(1, EntryKind.POUR, 0, 331_000, "B"), entry(2, EntryKind.POUR, 1, 60_000)]
    assert batch(*poured).in_vessel == (331_000, 60_000, 0)
    back = batch(*poured, entry(3, EntryKind.VOID, of=2))
    assert (back.in_vessel, back.next_position) == ((331_000, 0, 0), 1)
    assert batch(*poured, entry(3, EntryKind.LEFT_OUT, 2)).next_position is None


def test_a_pour_that_was_begun_is_open_until_it_is_confirmed() -> None:
    begun = entry(1, EntryKind.BEGUN, 0, gross_before=250_000)
    assert batch(begun).begun == begun
    assert batch(begun, entry(2, EntryKind.POUR, 0, 5_000)).begun is None
    again = entry(2, EntryKind.BEGUN, 0, gross_before=10)
    assert batch(begun, again).begun == again


def test_vessel_and_contents_have_a_weight_that_they_should_have() -> None:
    begun = entry(1, EntryKind.BEGUN, 0, gross_before=250_000)
    poured = [begun, entry(2, EntryKind.POUR, 0, 331_000, "B"), entry(3, EntryKind.BEGUN, 1, gross_before=581_000)]
    assert batch(*poured).should_weigh == 581_000
    assert batch(*poured, entry(4, EntryKind.REMOVED, mg=31_000)).should_weigh == 550_000
    assert batch(entry(1, EntryKind.BEGUN, 0, gross_before=None)).should_weigh is None


def test_mixture_that_is_taken_out_takes_its_part_of_everything() -> None:
    poured = [entry(1, EntryKind.POUR, 0, 300_000, "B"), entry(2, EntryKind.POUR, 1, 100_000)]
    out = batch(*poured, entry(3, EntryKind.REMOVED, mg=40_000), entry(4, EntryKind.POUR, 1, 10_000))
    assert out.in_vessel == (270_000, 100_000, 0)
    assert [(each.key, round(each.grams, 3)) for each in out.composition] == [("lot:B", 270.0), ("jojoba", 100.0)]
    assert out.balance.poured - out.balance.removed == sum(out.in_vessel)


def test_of_a_dilution_nine_tenths_are_its_carrier() -> None:
    diluted = entry(1, EntryKind.POUR, 2, 2_500, "L", diluted_in="lot:B", diluted_in_name="Olive")
    thing, carrier = batch(diluted).composition
    assert (thing.key, carrier.key) == ("lot:L", "lot:B")
    assert thing.grams == pytest.approx(0.25)
    assert carrier.grams == pytest.approx(2.25)


def test_where_all_of_it_went() -> None:
    poured = [entry(1, EntryKind.POUR, 0, 300_000, "B"), entry(2, EntryKind.REMOVED, mg=20_000)]
    fills = [entry(3 + number, EntryKind.FILLED, mg=90_000, number=number, size_ml=100.0) for number in (1, 2)]
    corrected = entry(9, EntryKind.FILLED, mg=95_000, number=2, size_ml=100.0)
    found = batch(*poured, *fills, corrected, entry(10, EntryKind.LEFTOVER, mg=80_000)).balance
    assert (found.poured, found.removed, found.filled, found.leftover) == (300_000, 20_000, 185_000, 80_000)
    assert found.loss == 15_000


@given(st.lists(st.tuples(st.integers(0, 2), st.integers(1_000, 400_000)), max_size=8), st.floats(0, 0.9))
def test_what_is_in_the_vessel_is_what_was_poured_less_what_was_taken_out(
    pours: list[tuple[int, int]], part: float
) -> None:
    poured = [entry(seq, EntryKind.POUR, position, mg) for seq, (position, mg) in enumerate(pours, start=1)]
    whole = sum(mg for _, mg in pours)
    out = round(part * whole)
    record = batch(*poured, *([entry(99, EntryKind.REMOVED, mg=out)] if out else []))
    assert sum(record.in_vessel) == pytest.approx(whole - out, abs=3)
    assert record.balance.loss == whole - out


def test_closed_is_closed_and_only_remarks_are_added() -> None:
    states = [batch(entry(1, kind)).state for kind in (EntryKind.MIXED, EntryKind.CLOSED, EntryKind.ABANDONED)]
    assert states == [State.MIXED, State.CLOSED, State.ABANDONED]
    closed = batch(entry(1, EntryKind.CLOSED))
    closed.check_may_add(EntryKind.REMARK)
    with pytest.raises(ClosedError, match="only remarks"):
        closed.check_may_add(EntryKind.POUR)
    assert replace(closed, entries=()).state is State.WEIGHING


def test_nothing_goes_into_what_stands_on_the_shelf_as_a_lot() -> None:
    pot = replace(batch(entry(1, EntryKind.MIXED)), plan=PLAN | {"parts": [["dune", 1]]})
    with pytest.raises(ClosedError, match="stands on the shelf as lot"):
        pot.check_may_add(EntryKind.POUR)
    pot.check_may_add(EntryKind.FILLED)
    replace(pot, entries=()).check_may_add(EntryKind.POUR)
    batch(entry(1, EntryKind.MIXED)).check_may_add(EntryKind.POUR)  # of one blend: no lot is made of it


def test_two_pours_of_a_lot_count_together_and_a_dilution_comes_from_its_one_lot() -> None:
    twice = batch(entry(1, EntryKind.POUR, 0, 5_800, "B"), entry(2, EntryKind.POUR, 0, 100_000, "B"))
    assert twice.next_pick(0) == ("B", 100_000)
    nearly = batch(entry(1, EntryKind.POUR, 0, 205_700, "B"))  # what the scale does not show is not wanted
    assert nearly.next_pick(0) == ("C", 125_300)
    full = batch(entry(1, EntryKind.POUR, 0, 400_000, "C"))
    assert full.next_pick(0)[1] == 0

    def diluted(picks: list[list[Any]]) -> BatchRecord:
        of_ten = line(2, 10_000, picks, how="10 % dilution")
        return replace(batch(), plan=PLAN | {"lines": [*PLAN["lines"][:2], of_ten]})

    assert diluted([["L", 1_000], ["M", 9_000]]).next_pick(2) == ("L", 10_000)
    assert diluted([]).next_pick(2) == ("", 10_000)


def test_the_best_before_of_a_closed_record_is_that_of_its_closing() -> None:
    assert batch(entry(1, EntryKind.CLOSED, months=9)).best_before == date(2027, 8, 27)
    assert batch(entry(1, EntryKind.CLOSED, months=None)).best_before is None
    assert batch().best_before is None


def test_a_number_is_that_of_its_day_and_of_no_other_batch() -> None:
    assert batch_number("20261127", []) == "20261127-1"
    assert batch_number("20261127", ["20261127-9", "20261127-10"]) == "20261127-11"
