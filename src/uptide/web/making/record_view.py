"""A batch in the words of its pages: what was poured, what is next, how it adds up, and all that happened."""

from __future__ import annotations

from uptide.core.keeping.bottle import Bottle, State
from uptide.core.making.batch_record import BatchEntry, BatchRecord, EntryKind
from uptide.core.months import say_day
from uptide.web.base.pages import number
from uptide.web.drawing.view import View

GRAMS = 1000.0  # mg


class PourView(View):
    """A line of a batch as it stands."""

    position: int
    name: str
    wanted: str
    poured: str
    lots: str
    standing: str  # done, next, to come


class EntryView(View):
    """Something that happened."""

    seq: int
    when: str
    words: str
    by: str
    is_pour: bool  # that can be taken back
    struck: bool


class RecordView(View):
    """A batch."""

    number: str
    state: str
    sentence: str
    lines: tuple[PourView, ...]
    entries: tuple[EntryView, ...]
    balance: str


def record_view(record: BatchRecord) -> RecordView:
    """A batch in words."""
    containers = " and ".join(f"{count} × {size:g} mL" for count, size in record.plan["containers"])
    by = f" by {record.made_by}" if record.made_by else ""
    return RecordView(
        number=record.number,
        state=record.state.value,
        sentence=f"{containers}, made on {say_day(record.made_on)}{by}: {record.state.value}.",
        lines=tuple(_line(record, line.position) for line in record.lines),
        entries=tuple(_entry(record, each) for each in reversed(record.entries) if each.kind is not EntryKind.BEGUN),
        balance=balance_words(record),
    )


def _line(record: BatchRecord, position: int) -> PourView:
    line = record.lines[position]
    poured, wanted = record.in_vessel[position], record.targets[position]
    lots = list(dict.fromkeys(each.code for each in record.pours if each.position == position and each.code))
    standing = "done" if record.is_done(position) else "next" if position == record.next_position else "to come"
    if wanted == 0 and not poured:
        standing = "left out"
    return PourView(
        position=position,
        name=line.name,
        wanted=f"{wanted / GRAMS:.2f}",
        poured=f"{poured / GRAMS:.2f}" if poured else "–",
        lots=", ".join(lots or [code for code, _ in line.picks]) or "no lot",
        standing=standing,
    )


def _entry(record: BatchRecord, entry: BatchEntry) -> EntryView:
    return EntryView(
        seq=entry.seq,
        when=f"{say_day(entry.at.astimezone())}, {entry.at.astimezone():%H:%M}",
        words=entry_words(record, entry),
        by=entry.by,
        is_pour=entry.kind is EntryKind.POUR and entry.seq not in record.voided,
        struck=entry.seq in record.voided,
    )


def entry_words(record: BatchRecord, entry: BatchEntry) -> str:
    """Something that happened, in a sentence."""
    name = record.lines[entry.position].name if entry.position is not None else ""
    grams, detail = f"{entry.mg / GRAMS:.2f} g", entry.detail
    lot = f" from lot {entry.code}" if entry.code else ""
    how = f"{detail.get('drops')} drops" if detail.get("drops") else str(detail.get("how", ""))
    known = {
        EntryKind.POUR: f"{name}: {grams}{lot} ({how})",
        EntryKind.VOID: f"Pour {detail.get('of')} taken back",
        EntryKind.REMOVED: f"{grams} of the mixture taken out: {detail.get('why', '')}",
        EntryKind.RETARGET: f"Amounts changed: {detail.get('why', '')}",
        EntryKind.LEFT_OUT: f"{name} left out",
        EntryKind.FILLED: f"Bottle {detail.get('number')}: {grams}",
        EntryKind.LEFTOVER: f"{grams} left over",
    }
    if entry.kind in known:
        return known[entry.kind]
    words = str(detail.get("words") or "")
    warm = f" at {detail['celsius']:g} °C" if isinstance(detail.get("celsius"), int | float) else ""
    what = f"{entry.kind.value}{warm}{': ' + words if words else ''}"
    return f"{what[:1].upper()}{what[1:]}"


def balance_words(record: BatchRecord) -> str:
    """Where all of it went, in a sentence."""
    found = record.balance
    if not found.poured:
        return ""
    parts = [f"{found.poured / GRAMS:.1f} g were poured"]
    parts += [f"{found.removed / GRAMS:.1f} g taken out"] if found.removed else []
    if found.filled:
        parts += [f"{found.filled / GRAMS:.1f} g are in {len(record.fills)} bottles"]
        parts += [f"{found.leftover / GRAMS:.1f} g left over"] if found.leftover else []
        parts += [f"{number(found.loss / GRAMS, 1)} g stayed on vessel and funnel"]
    return f"{', '.join(parts)}."


def bottle_lines(bottles: tuple[Bottle, ...]) -> list[tuple[str, str]]:
    """Each bottle with how it stands."""
    return [(each.number, _stands(each)) for each in bottles]


def _stands(bottle: Bottle) -> str:
    if bottle.state is not State.STANDS:
        return f"{bottle.state.value}{f' since {say_day(bottle.ended_on)}' if bottle.ended_on else ''}"
    if bottle.handed is not None:
        return f"{bottle.handed.kind} to {bottle.handed.whom or 'somebody'}, {say_day(bottle.handed.on)}"
    return bottle.place or "here"
