"""The bench of a batch, readable at arm's length: what is poured now, how full its band is, and what the scale says."""

from __future__ import annotations

from uptide.core.making.batch_record import BatchRecord
from uptide.core.making.rounding import How
from uptide.core.making.weighing import LAST, Band, band_of, is_settled, lead, slope
from uptide.web.drawing.view import View
from uptide.workshop.scale import OnScale

GRAMS = 1000.0  # mg
COUNTS_DOWN = 3  # s from when a pour could count by itself until it does
FAR_BELOW = 5  # steps below nothing: the scale was tared, or something was taken off
WIDE = 1.25  # of the target: how far the picture of a pour goes


class NextView(View):
    """The pour that is due: of what, how much, from which lot."""

    position: int
    number: str  # as in “3 of 5”
    name: str
    code: str
    wanted: str
    drops: int
    said: str


class LiveView(View):
    """What the scale says of the pour that is due, as the page shows it."""

    shown: str
    state: str  # below, near, in, over, none, tared
    words: str
    fill: float  # of the picture [%]
    low: float
    high: float
    stable: bool
    fault: str
    counts: bool  # whether it may count by itself


def next_view(record: BatchRecord) -> NextView | None:
    """The pour that is due; None where all are poured."""
    position = record.begun.position if record.begun is not None else record.next_position
    if position is None:
        return None
    line = record.lines[position]
    code, wanted = record.next_pick(position)
    drops = round(line.drops * wanted / line.target_mg) if line.drops and line.target_mg else 0
    return NextView(
        position=position,
        number=f"{position + 1} of {len(record.lines)}",
        name=f"10 % {line.name} in {_carrier(record)}" if line.how == How.DILUTED else line.name,
        code=code,
        wanted=f"{wanted / GRAMS:.2f}",
        drops=drops,
        said=line.said,
    )


def _carrier(record: BatchRecord) -> str:
    free = [line for line in record.lines if not line.restricted]
    return max(free, key=lambda line: line.target_mg).name if free else "the carrier"


def live_view(record: BatchRecord, on_scale: OnScale) -> LiveView:
    """What the scale says of the pour that is due: net of what was on it when the pour began."""
    due = next_view(record)
    step = record.step_mg / GRAMS
    if due is None or on_scale.grams is None:
        return _nothing(on_scale.fault or "Everything is poured.", on_scale.fault)
    before = record.begun.detail.get("gross_before") if record.begun else None
    if before is None:
        shown = f"{on_scale.grams:.1f} g stand on the scale."
        return _nothing(f"{shown} {'Go on from here' if record.begun else 'Begin'} once it is the vessel.")
    wanted = float(due.wanted)
    net = on_scale.grams - before / GRAMS
    band = band_of(wanted, step, restricted=record.lines[due.position].restricted)
    moments = tuple((at, grams - before / GRAMS, stable) for at, grams, stable in on_scale.moments)
    ahead = net + lead(slope([(at, grams) for at, grams, _ in moments]))
    tared = was_tared(record, on_scale)
    state, words = ("tared", tared) if tared else _state(net, ahead, wanted, band, step)
    if state == "tared" and record.should_weigh is not None:
        words += f" Vessel and contents should weigh {record.should_weigh / GRAMS:.1f} g."
    top = WIDE * wanted
    return LiveView(
        shown=f"{net:.2f}" if step < 0.1 else f"{net:.1f}",
        state=state,
        words=words,
        fill=round(100 * min(1.0, max(0.0, net / top)), 2) if top else 0.0,
        low=round(100 * band.low / top, 2) if top else 0.0,
        high=round(100 * min(1.0, band.high / top), 2) if top else 0.0,
        stable=on_scale.stable,
        fault="",
        counts=not tared and is_settled(moments, band, step),
    )


def was_tared(record: BatchRecord, on_scale: OnScale) -> str:
    """What is said where the scale fell to nothing since a pour began, and what lay on it has not come back."""
    step = record.step_mg / GRAMS
    if on_scale.fell_at is None or on_scale.grams is None or record.begun is None:
        return ""
    if on_scale.fell_at <= record.begun.at or on_scale.grams >= on_scale.fell_from - FAR_BELOW * step:
        return ""
    return (
        f"{on_scale.fell_from:.1f} g lay on it, and then nothing: was it tared, or all taken off? Put it back; or type "
        "what was poured, and go on from here."
    )


def _nothing(words: str, fault: str = "") -> LiveView:
    """What stands where there is no pour to be seen."""
    return LiveView(
        shown="–", state="none", words=words, fill=0.0, low=0.0, high=0.0, stable=False, fault=fault, counts=False
    )


def _state(net: float, ahead: float, wanted: float, band: Band, step: float) -> tuple[str, str]:
    if net < -FAR_BELOW * step:
        return "tared", "Less lies on the scale than before: was it tared, or something taken off? Go on from here."
    if net > band.high:
        return "over", f"{net - wanted:.2f} g too much."
    if band.holds(net):
        return "in", "In the band."
    if ahead >= band.low:
        return "near", "Stop: what falls still comes."
    missing = wanted - net
    if missing <= LAST:
        return "near", f"{missing:.2f} g more, drop by drop."
    return "below", f"{missing:.1f} g more."
