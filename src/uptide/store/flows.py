"""What moved where, read for many lots and batches at once: what a trace follows."""

from __future__ import annotations

import json
import re
from collections.abc import Collection, Mapping
from datetime import UTC, date, datetime
from types import MappingProxyType

from sqlalchemy import bindparam, func, select, text
from sqlalchemy.orm import Session

from uptide.core.ledger.movement import MovementKind, grams
from uptide.core.making.batch_record import BatchEntry, EntryKind
from uptide.core.making.trace import BatchFlow, Container
from uptide.store.bottle_board import chunks
from uptide.store.database import POSTGRES
from uptide.store.models import (
    BatchEntryRow,
    BatchRow,
    BlendRow,
    BottleNoteRow,
    BottleRow,
    MovementRow,
    WearerRow,
)

OF_BATCH, OF_JAR = "batch-", "jar-"
WRITTEN_LAST = select(
    *(
        select(func.max(row.id)).scalar_subquery()
        for row in (MovementRow, BatchEntryRow, BottleRow, BottleNoteRow, WearerRow)
    ),
    select(func.count()).where(BottleNoteRow.struck_at.is_not(None)).scalar_subquery(),
    select(func.count(WearerRow.id)).scalar_subquery(),  # somebody is deleted
    select(func.aggregate_strings(BlendRow.name, ",")).scalar_subquery(),  # a blend is renamed
)
MOVED = text(
    "SELECT lot.code AS code, coalesce(r.kind, m.kind) AS kind, max(coalesce(r.token, m.token)) AS token, "
    "sum(m.mg) AS mg "
    "FROM movement m JOIN lot ON lot.id = m.lot_id LEFT JOIN movement r ON r.id = m.reverses "
    "WHERE lot.code IN :codes GROUP BY lot.code, coalesce(r.kind, m.kind), "
    "CASE WHEN coalesce(r.token, m.token) LIKE 'batch-%' THEN 1 WHEN coalesce(r.token, m.token) LIKE 'jar-%' THEN 2 "
    "ELSE 0 END"
).bindparams(bindparam("codes", expanding=True))
# By the index of tokens: “jar-” up to what comes after its dash; what was taken back comes with what it took back.
INTO_JARS = text(
    "SELECT m.token AS token, lot.code AS code, m.mg + coalesce(r.mg, 0) AS mg FROM movement m "
    "JOIN lot ON lot.id = m.lot_id LEFT JOIN movement r ON r.reverses = m.id "
    "WHERE m.token >= 'jar-' AND m.token < 'jar.' AND m.kind = 'use'"
)
# What an entry says that its oil was diluted in. A file may hold what is no JSON any more; PostgreSQL takes none in.
DILUTED_IN = {
    "sqlite": "CASE WHEN json_valid(batch_entry.detail) THEN json_extract(batch_entry.detail, '$.diluted_in') END",
    POSTGRES: "batch_entry.detail ->> 'diluted_in'",
}
BATCHES = {
    dialect: text(
        "SELECT DISTINCT batch.number FROM batch_entry JOIN batch ON batch.id = batch_entry.batch_id "  # noqa: S608
        "JOIN lot ON lot.id = batch_entry.lot_id WHERE lot.code IN :codes "
        "UNION SELECT DISTINCT batch.number FROM batch_entry JOIN batch ON batch.id = batch_entry.batch_id "
        f"WHERE {diluted_in} IN :keys"
    ).bindparams(bindparam("codes", expanding=True), bindparam("keys", expanding=True))
    for dialect, diluted_in in DILUTED_IN.items()
}
ENTRIES = text(
    "SELECT batch_entry.batch_id, batch_entry.seq, batch_entry.kind, batch_entry.position, batch_entry.ingredient, "
    "lot.code, batch_entry.mg, CAST(batch_entry.detail AS TEXT) "
    "FROM batch_entry LEFT JOIN lot ON lot.id = batch_entry.lot_id "
    "WHERE batch_entry.batch_id IN :ids AND batch_entry.kind IN :kinds ORDER BY batch_entry.batch_id, batch_entry.seq"
).bindparams(bindparam("ids", expanding=True), bindparam("kinds", expanding=True))
FILLED = text(
    "SELECT batch_id, number, coalesce(fill_mg, 0), state, place, holder, holder_id, 1 FROM bottle "
    "WHERE batch_id IN :ids ORDER BY batch_id, place_in_batch"
).bindparams(bindparam("ids", expanding=True))
FILLED_ALIKE = text(
    "SELECT batch_id, min(number), sum(coalesce(fill_mg, 0)), state, place, holder, holder_id, count(*) FROM bottle "
    "WHERE batch_id IN :ids GROUP BY batch_id, state, place, holder, holder_id"
).bindparams(bindparam("ids", expanding=True))
SAYS_MORE = re.compile('"(?:of|diluted_in)"')  # in the detail of an entry, what a trace asks for
OF_MIXTURE = (EntryKind.POUR, EntryKind.VOID, EntryKind.REMOVED, EntryKind.LEFTOVER)
KINDS = {kind.value: kind for kind in OF_MIXTURE}
NOTHING: Mapping[str, object] = MappingProxyType({})
SOMETIME = datetime(2000, 1, 1, tzinfo=UTC)  # the moment of an entry, which no trace asks for


def written_last(session: Session) -> tuple[object, ...]:
    """What was written last of all that a trace follows: while it stays the same, the trace does."""
    return tuple(session.execute(WRITTEN_LAST).one())


def ledger_of(session: Session, codes: Collection[str]) -> dict[str, tuple[float, float, float, float]]:
    """Of each lot what came, is left, was thrown out, and was used by hand [g]; what was taken back moved nothing."""
    found = {code: [0, 0, 0, 0] for code in codes}
    for part in chunks(sorted(codes)):
        for row in session.execute(MOVED, {"codes": part}):
            sums = found[row.code]
            sums[1] += row.mg
            if row.kind == MovementKind.DISCARD:
                sums[2] -= row.mg
            elif row.kind != MovementKind.USE:
                sums[0] += row.mg
            elif not row.token.startswith((OF_BATCH, OF_JAR)):
                sums[3] -= row.mg
    return {code: (grams(a), grams(b), grams(c), grams(d)) for code, (a, b, c, d) in found.items()}


def poured_into_jars(session: Session) -> dict[int, dict[str, float]]:
    """What was poured from which lot into which jar [g]."""
    found: dict[int, dict[str, float]] = {}
    for row in session.execute(INTO_JARS):
        number = row.token.removeprefix(OF_JAR).partition("-")[0]
        if number.isdecimal() and row.mg < 0:
            lots = found.setdefault(int(number), {})
            lots[row.code] = lots.get(row.code, 0.0) + grams(-row.mg)
    return found


def batches_from(session: Session, codes: Collection[str]) -> set[str]:
    """Numbers of the batches that lots were poured into, also as the carrier of a dilution."""
    found: set[str] = set()
    batches = BATCHES[session.get_bind().dialect.name]
    for part in chunks(sorted(codes)):
        keys = [f"lot:{code}" for code in part]
        found |= set(session.scalars(batches, {"codes": part, "keys": keys}))
    return found


def flows_of(session: Session, numbers: Collection[str], *, each_bottle: bool = False) -> tuple[BatchFlow, ...]:
    """Batches with what was poured, taken out and left over, and their bottles, together where they are alike."""
    entries: dict[int, list[BatchEntry]] = {}
    bottles: dict[int, list[Container]] = {}
    heads: list[tuple[int, str, str, date]] = []
    for part in chunks(sorted(numbers)):
        query = select(BatchRow.id, BatchRow.number, BlendRow.name, BatchRow.made_on).join(
            BlendRow, BlendRow.id == BatchRow.blend_id
        )
        heads += [(r[0], r[1], r[2], r[3]) for r in session.execute(query.where(BatchRow.number.in_(part)))]
    for ids in chunks([head[0] for head in heads]):
        asked = {"ids": ids, "kinds": [kind.value for kind in OF_MIXTURE]}
        for row_id, seq, kind, position, ingredient, code, mg, said in session.execute(ENTRIES, asked).all():
            detail = json.loads(said) if SAYS_MORE.search(said) else NOTHING
            entry = BatchEntry(
                seq,
                KINDS[kind],
                at=SOMETIME,
                by="",
                position=position,
                key=ingredient,
                code=code or "",
                mg=mg or 0,
                detail=detail,
            )
            entries.setdefault(row_id, []).append(entry)
        found = session.execute(FILLED if each_bottle else FILLED_ALIKE, {"ids": ids}).all()
        for batch_id, number, mg, state, place, holder, holder_id, count in found:
            one = Container(
                number, grams(mg), state=state, place=place, holder=holder, holder_id=holder_id, count=count
            )
            bottles.setdefault(batch_id, []).append(one)
    return tuple(
        BatchFlow(
            number,
            name,
            made_on=made_on,
            entries=tuple(entries.get(row_id, ())),
            bottles=tuple(bottles.get(row_id, ())),
        )
        for row_id, number, name, made_on in heads
    )
