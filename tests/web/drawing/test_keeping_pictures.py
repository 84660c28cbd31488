"""Pictures of keeping: as wide as the grams, as long as the months, and no more of them than can be read."""

from __future__ import annotations

import re
from datetime import UTC, date, datetime, timedelta

import pytest

from uptide.core.keeping.board import Kind, Thing
from uptide.core.making.batch_record import BatchEntry, EntryKind
from uptide.core.making.trace import BatchFlow, Container, JarFlow, LotFlow, Trace
from uptide.web.drawing.flow import GONE, HERE, MOST_BATCHES, draw_flow
from uptide.web.drawing.keeping_lines import TODAY, WIDTH, draw_ebb, line_of, ticks

DAY = date(2026, 11, 27)
AT = datetime(2026, 11, 27, tzinfo=UTC)


def thing(ends: int | None, turns: int | None = None, *, is_off: bool = False) -> Thing:
    ends_on = None if ends is None else DAY + timedelta(days=ends)
    turns_on = None if turns is None else DAY + timedelta(days=turns)
    return Thing(Kind.LOT, "A", "Olive", ends_on=ends_on, turns_on=turns_on, is_off=is_off)


def test_a_line_is_as_long_as_it_keeps_over_a_year_and_a_half() -> None:
    half = line_of(thing(274, 400), DAY)  # nine of the eighteen months ahead
    assert half.end == pytest.approx(TODAY + (WIDTH - TODAY) / 2, abs=1)
    assert half.end < half.doubt < WIDTH
    assert not half.runs_on
    assert line_of(thing(900), DAY).runs_on
    for gone in (thing(-3, -2), thing(300, is_off=True), thing(None)):
        assert line_of(gone, DAY).end == TODAY
    assert [words for _, words in ticks(DAY)] == ["Nov", "Feb", "May", "Aug", "Nov", "Feb"]


def test_the_ebb_steps_down_where_things_end() -> None:
    drawn = draw_ebb((10, 10, 5, 0), DAY)
    assert drawn is not None
    assert [count for *_, count in drawn.months] == [0, 5, 5]
    assert [words for _, words in drawn.levels] == ["10", "5"]
    heights = [float(y) for y in re.findall(r"L[\d.]+,([\d.]+)", drawn.path)]
    assert heights[0] == min(heights)
    assert drawn.path.endswith("Z")
    assert draw_ebb((0, 0), DAY) is None


def pour(seq: int, code: str, grams: float) -> BatchEntry:
    return BatchEntry(seq, EntryKind.POUR, at=AT, by="", position=seq, key=code, code=code, mg=round(1000 * grams))


def traced(count: int) -> Trace:
    batches = tuple(
        BatchFlow(
            f"{n}",
            "Dune",
            made_on=DAY,
            entries=(pour(1, "L", 10.0 + n), pour(2, "J", 5.0)),
            bottles=(
                Container(f"{n}-1", 6.0),
                Container(f"{n}-2", 4.0, holder="Ines"),
                Container(f"{n}-3", 2.0, state="gone"),
            ),
        )
        for n in range(1, count + 1)
    )
    direct = sum(batch.poured["L"] for batch in batches)
    jar = JarFlow(1, "Calendula", poured={"L": 400.0}, oil=400.0, lot="J", out=360.0)
    lots = {
        "L": LotFlow("L", "Olive", 400.0 + direct + 100.0, 100.0),
        "J": LotFlow("J", "Calendula in olive", 360.0, 360.0 - 5.0 * count),
    }
    return Trace("L", lots, (jar,), batches)


def test_every_gram_is_on_the_picture_once() -> None:
    drawn = draw_flow(traced(3))
    assert drawn is not None
    by_title = {node.title: node for node in drawn.nodes}
    assert {"lot L", "Calendula", "Dune, 1", HERE, GONE, "bottles with Ines", "left", "plant and jar"} <= set(by_title)
    whole = by_title["lot L"]
    assert whole.grams == "536.0 g"
    last = [node for node in drawn.nodes if node.is_last]
    assert sum(node.high for node in last) == pytest.approx(whole.high, rel=0.02)
    assert by_title["lot L"].x < by_title["Calendula"].x < by_title["Dune, 1"].x < by_title[HERE].x
    assert len({node.x for node in last}) == 1


def test_of_many_batches_the_smaller_are_one() -> None:
    drawn = draw_flow(traced(MOST_BATCHES + 5))
    assert drawn is not None
    titles = [node.title for node in drawn.nodes]
    assert sum(title.startswith("Dune") for title in titles) == MOST_BATCHES == 10
    assert "5 more batches" in titles
    assert draw_flow(Trace("L", {"L": LotFlow("L", "x", 0.0, 0.0)}, (), ())) is None
