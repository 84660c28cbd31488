"""A trace loses no gram: what came of a lot is left, thrown out, used or in something, forward as back."""

from __future__ import annotations

from datetime import UTC, date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.core.making.batch_record import BatchEntry, EntryKind
from uptide.core.making.trace import (
    BOTTLE,
    PLANT,
    TAKEN_OUT,
    VESSEL,
    BatchFlow,
    Container,
    JarFlow,
    LotFlow,
    Trace,
    people_of,
)

AT = datetime(2026, 11, 27, tzinfo=UTC)
DAY = date(2026, 11, 27)


def pour(seq: int, code: str, grams: float, **detail: object) -> BatchEntry:
    return BatchEntry(
        seq, EntryKind.POUR, at=AT, by="", position=seq, key=code, code=code, mg=round(1000 * grams), detail=detail
    )


def batch(number: str, *entries: BatchEntry, bottles: tuple[Container, ...] = ()) -> BatchFlow:
    return BatchFlow(number, "Dune", made_on=DAY, entries=entries, bottles=bottles)


def test_a_worked_trace_through_a_jar_into_a_bottle() -> None:
    # 460 of 500 g in the jar are O-1 (92 %), 409.3 g were strained, 180 g of it went into 600 g: 27.6 % of the batch is
    # O-1, 25.25 g of a bottle of 91.5 g; 376.6 g went on, 83.44 g into plant and loss.
    jar = JarFlow(1, "Calendula", poured={"O-1": 460.0, "O-2": 40.0}, oil=500.0, lot="J-1", out=409.3)
    made = batch("1", pour(1, "J-1", 180), pour(2, "X", 420), bottles=(Container("1-1", 91.5),))
    lots = {"O-1": LotFlow("O-1", "Olive", 460.0, 0.0), "J-1": LotFlow("J-1", "Calendula in olive", 409.3, 229.3)}
    trace = Trace("O-1", lots, (jar,), (made,))
    ((found, share),) = trace.reached
    assert found is made
    assert share == pytest.approx(0.276)
    assert next(each.grams for each in trace.ends if each.kind == BOTTLE) == pytest.approx(25.25, abs=0.01)
    assert trace.by(PLANT) == pytest.approx(83.44, abs=0.01)
    assert trace.came - trace.by(PLANT) == pytest.approx(376.6, abs=0.05)
    # Of 60 g that were taken out of the vessel again 27.6 % are O-1.
    out = Trace("O-1", lots, (jar,), (batch("1", *made.entries, BatchEntry(3, EntryKind.REMOVED, AT, mg=60_000)),))
    assert out.by(TAKEN_OUT) == pytest.approx(16.56, abs=0.01)
    assert sum(each.grams for each in trace.ends) == pytest.approx(460)


def test_what_of_a_plant_dissolved_is_no_oil() -> None:
    jar = JarFlow(1, "Resin", poured={"O-1": 100.0}, oil=100.0, lot="J-1", out=108.0, dissolved=0.08)
    assert jar.share_of("O-1") == pytest.approx(0.92)
    assert JarFlow(2, "empty", {}, 0.0).share_of("O-1") == 0


def test_of_a_dilution_a_tenth_is_the_thing_and_the_rest_its_carrier() -> None:
    made = batch("1", pour(1, "LA", 10, diluted_in="lot:OL"), pour(2, "OL", 90))
    assert made.poured == pytest.approx({"LA": 1.0, "OL": 99.0})
    assert made.shares == pytest.approx({"LA": 0.01, "OL": 0.99})
    unknown = batch("1", pour(1, "LA", 10, diluted_in="olive"))
    assert unknown.shares == pytest.approx({"LA": 0.1})


def test_what_was_taken_back_was_never_poured() -> None:
    void = BatchEntry(3, EntryKind.VOID, AT, detail={"of": 1})
    assert batch("1", pour(1, "A", 10), pour(2, "B", 5), void).poured == {"B": 5.0}


grams = st.floats(1, 900)


@st.composite
def workshops(draw: st.DrawFn) -> Trace:
    """A lot that goes into a jar, into batches by itself and through the jar, and of one batch into the next."""
    into_jar, out = draw(grams), draw(st.floats(0.1, 1.0))
    jar = JarFlow(1, "a jar", {"L": into_jar, "Z": draw(grams)}, 0.0)
    oil = sum(jar.poured.values())
    jar = JarFlow(1, "a jar", poured=jar.poured, oil=oil, lot="J", out=out * oil)
    first_l, first_j, other = draw(grams), draw(st.floats(0, 1)) * jar.out, draw(grams)
    entries = [pour(1, "L", first_l), pour(2, "J", first_j), pour(3, "", other)]
    removed = draw(st.floats(0, 0.9)) * (first_l + first_j + other)
    entries.append(BatchEntry(4, EntryKind.REMOVED, AT, mg=round(1000 * removed)))
    in_it = sum(e.mg for e in entries[:3]) / 1000 - entries[3].mg / 1000
    left_over = draw(st.floats(0, 0.5)) * in_it
    entries.append(BatchEntry(5, EntryKind.LEFTOVER, AT, mg=round(1000 * left_over)))
    bottles = (Container("1-1", 0.2 * in_it), Container("1-2", 0.1 * in_it, holder="Wren", holder_id=3))
    first = batch("1", *entries, bottles=bottles)
    again = draw(st.floats(0, 1)) * first.leftover
    second = batch("2", pour(1, "B-1", again), pour(2, "L", draw(grams)), bottles=(Container("2-1", 5.0),))
    left, thrown, hand = draw(grams), draw(grams), draw(grams)
    poured = first.poured["L"] + second.poured["L"] + into_jar
    lots = {
        "L": LotFlow("L", "olive", came=left + thrown + hand + poured, left=left, thrown_out=thrown, by_hand=hand),
        "J": LotFlow("J", "infused", jar.out, jar.out - first.poured["J"]),
        "B-1": LotFlow("B-1", "rest", first.leftover, first.leftover - second.poured["B-1"]),
    }
    return Trace("L", lots, (jar,), (first, second))


@given(workshops())
def test_mass_is_conserved_along_a_trace(trace: Trace) -> None:
    assert sum(each.grams for each in trace.ends) == pytest.approx(trace.came, rel=1e-6)
    for made, share in trace.reached:
        of_it = [each for each in trace.ends if each.through == made.number]
        poured = sum(g * trace.share_of_lot(code) for code, g in made.poured.items())
        out = sum(each.grams for each in of_it if each.kind in (BOTTLE, VESSEL, TAKEN_OUT))
        assert out + share * made.leftover == pytest.approx(poured, rel=1e-6)


@given(workshops())
def test_forward_and_back_agree(trace: Trace) -> None:
    first, second = sorted(trace.batches, key=lambda each: each.number)
    jar = trace.jars[0]
    back = first.shares.get("L", 0.0) + first.shares.get("J", 0.0) * jar.share_of("L")
    assert trace.share_of_batch(first) == pytest.approx(back)
    assert trace.share_of_batch(second) == pytest.approx(
        second.shares.get("L", 0.0) + second.shares.get("B-1", 0.0) * back
    )


def test_what_leads_back_to_itself_comes_to_an_end() -> None:
    one = batch("1", pour(1, "B-2", 10), pour(2, "L", 10))
    other = batch("2", pour(1, "B-1", 10))
    assert 0 < Trace("L", {"L": LotFlow("L", "x", 10, 0)}, (), (one, other)).share_of_batch(one) < 1


def test_who_has_some_is_known_by_card_or_name() -> None:
    made = batch(
        "1",
        pour(1, "L", 10),
        bottles=(
            Container("1-1", 3, holder="Wren", holder_id=3),
            Container("1-2", 3, holder="Bo"),
            Container("1-3", 3),
        ),
    )
    found = people_of(Trace("L", {"L": LotFlow("L", "x", 10, 0)}, (), (made,)).ends)
    assert {who: [each.key for each in ends] for who, ends in found.items()} == {
        (3, "Wren"): ["1-1"],
        (None, "Bo"): ["1-2"],
    }
