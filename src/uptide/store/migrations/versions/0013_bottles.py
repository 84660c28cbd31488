"""Bottles are things: what befell the bottle of a blend moves to a bottle of its own

Revision ID: 0013
Revises: 0012
Create Date: 2026-11-27
"""

from datetime import date, datetime, timezone
import json

from alembic import op
import sqlalchemy as sa

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

LEARNT = "learnt_rates"


def upgrade() -> None:
    """Every blend of whose bottle something was noted gets one; every filled container of a batch is one."""
    op.create_table(
        "bottle",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("number", sa.String(), nullable=False),
        sa.Column("batch_id", sa.Integer(), nullable=True),
        sa.Column("place_in_batch", sa.Integer(), nullable=False),
        sa.Column("blend_id", sa.Integer(), nullable=False),
        sa.Column("blend_version", sa.Integer(), nullable=False),
        sa.Column("size_ml", sa.Double(), nullable=False),
        sa.Column("fill_mg", sa.Integer(), nullable=True),
        sa.Column("filled_on", sa.Date(), nullable=False),
        sa.Column("place", sa.String(), nullable=False),
        sa.Column("opened_on", sa.Date(), nullable=True),
        sa.Column("holder_id", sa.Integer(), nullable=True),
        sa.Column("holder", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("made_on", sa.Date(), nullable=False),
        sa.Column("ends_on", sa.Date(), nullable=True),
        sa.Column("turns_on", sa.Date(), nullable=True),
        sa.Column("limited_by", sa.String(), nullable=False),
        sa.Column("look_on", sa.Date(), nullable=True),
        sa.Column("look", sa.String(), nullable=False),
        sa.Column("ended_on", sa.Date(), nullable=True),
        sa.Column("worked_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["batch_id"], ["batch.id"], name=op.f("fk_bottle_batch_id_batch")),
        sa.ForeignKeyConstraint(["blend_id"], ["blend.id"], name=op.f("fk_bottle_blend_id_blend")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_bottle")),
        sa.UniqueConstraint("number", name=op.f("uq_bottle_number")),
    )
    traced = ["batch_id", "state", "place", "holder", "holder_id", "fill_mg", "number"]
    op.create_index("ix_bottle_batch", "bottle", traced)
    op.create_index("ix_bottle_board", "bottle", ["state", "ends_on", "batch_id"])
    op.create_index("ix_bottle_holder", "bottle", ["holder", "look_on"])
    op.create_index("ix_bottle_holder_id", "bottle", ["holder_id"])
    op.create_index("ix_bottle_place", "bottle", ["place"])
    op.create_index("ix_batch_state", "batch", ["state"])
    op.create_index(op.f("ix_bottle_blend_id"), "bottle", ["blend_id"])
    op.create_table(
        "bottle_note",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("bottle_id", sa.Integer(), nullable=False),
        sa.Column("happened_on", sa.Date(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("detail", sa.JSON(), nullable=False),
        sa.Column("wearer_id", sa.Integer(), nullable=True),
        sa.Column("whom", sa.String(), nullable=False),
        sa.Column("entered_at", sa.DateTime(), nullable=False),
        sa.Column("struck_at", sa.DateTime(), nullable=True),
        sa.Column("struck_why", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["bottle_id"], ["bottle.id"], name=op.f("fk_bottle_note_bottle_id_bottle")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_bottle_note")),
    )
    op.create_index(op.f("ix_bottle_note_bottle_id"), "bottle_note", ["bottle_id"])
    op.create_index(op.f("ix_bottle_note_wearer_id"), "bottle_note", ["wearer_id"])
    op.add_column("lot", sa.Column("status", sa.String(), nullable=False, server_default=""))
    op.add_column("lot", sa.Column("status_why", sa.String(), nullable=False, server_default=""))
    connection = op.get_bind()
    bottles = _move_notes(connection)
    _keep_what_was_learnt(connection, bottles)
    _fill_bottles(connection)
    op.drop_index(op.f("ix_bottle_event_blend_id"), table_name="bottle_event")
    op.drop_table("bottle_event")


def _move_notes(connection: sa.Connection) -> dict[int, int]:
    """A bottle for every blend of whose bottle anything was noted; also what was taken out again goes along."""
    # As text: what can be read no more is carried over as it is.
    notes = connection.execute(
        sa.text("SELECT id, blend_id, happened_on, kind, detail, removed_at FROM bottle_event ORDER BY id")
    ).all()
    now = datetime.now(timezone.utc).replace(tzinfo=None)
    bottles: dict[int, int] = {}
    taken: dict[str, int] = {}
    for blend_id in dict.fromkeys(note.blend_id for note in notes):
        own = [note for note in notes if note.blend_id == blend_id]
        counted = [note for note in own if note.removed_at is None] or own
        made = [note.happened_on for note in counted if note.kind == "made"]
        day = _day(made[-1] if made else min(str(note.happened_on) for note in counted))
        taken[f"{day:%Y%m%d}"] = taken.get(f"{day:%Y%m%d}", 0) + 1
        found = connection.execute(
            sa.text(
                "INSERT INTO bottle (number, batch_id, place_in_batch, blend_id, blend_version, size_ml, fill_mg, "
                "filled_on, place, opened_on, holder_id, holder, state, made_on, ends_on, turns_on, limited_by, "
                "look_on, look, ended_on, worked_by) VALUES (:number, NULL, 0, :blend, :version, :size, NULL, :day, "
                "'', NULL, NULL, '', 'stands', :day, NULL, NULL, '', NULL, '', NULL, '')"
            ),
            {
                "number": f"{day:%Y%m%d}-0-{taken[f'{day:%Y%m%d}']}",
                "blend": blend_id,
                **_version(connection, blend_id, day),
                "day": day.isoformat(),
            },
        )
        bottles[blend_id] = int(found.lastrowid)
    for note in notes:
        connection.execute(
            sa.text(
                "INSERT INTO bottle_note (bottle_id, happened_on, kind, detail, wearer_id, whom, entered_at, "
                "struck_at, struck_why) VALUES (:bottle, :on, :kind, :detail, NULL, '', :at, :struck, :why)"
            ),
            {
                "bottle": bottles[note.blend_id],
                "on": note.happened_on,
                "kind": note.kind,
                "detail": note.detail,
                "at": now.isoformat(" "),
                "struck": note.removed_at,
                "why": "taken out" if note.removed_at is not None else "",
            },
        )
    return bottles


def _day(stored: object) -> date:
    """A day as it is stored; today where it can be none."""
    try:
        return date.fromisoformat(str(stored)[:10])
    except ValueError:
        return datetime.now(timezone.utc).date()


def _version(connection: sa.Connection, blend_id: int, day: date) -> dict[str, object]:
    """The version that was the newest on a day, else the newest of all: by it the bottle was worked out until now."""
    rows = connection.execute(
        sa.text("SELECT number, saved_at, container_ml FROM blend_version WHERE blend_id = :blend ORDER BY number"),
        {"blend": blend_id},
    ).all()
    if not rows:
        return {"version": 1, "size": 0.0}
    earlier = [row for row in rows if str(row.saved_at)[:10] <= day.isoformat()]
    row = (earlier or rows)[-1]
    size = row.container_ml
    return {"version": row.number, "size": float(size) if isinstance(size, (int, float)) else 0.0}


def _keep_what_was_learnt(connection: sa.Connection, bottles: dict[int, int]) -> None:
    """What a bottle taught was kept by its blend, and is kept by the bottle."""
    stored = connection.execute(sa.text("SELECT value FROM preference WHERE key = :key"), {"key": LEARNT}).scalar()
    known = json.loads(stored) if isinstance(stored, str) else stored
    if isinstance(known, dict):
        moved = {str(bottles[int(key)]): rate for key, rate in known.items() if key.isdecimal() and int(key) in bottles}
        connection.execute(
            sa.text("UPDATE preference SET value = :value WHERE key = :key"),
            {"key": LEARNT, "value": json.dumps(moved)},
        )


def _fill_bottles(connection: sa.Connection) -> None:
    """Every container that a batch was filled into, as it was entered last."""
    rows = connection.execute(
        sa.text(
            "SELECT batch_entry.mg, batch_entry.detail, batch.id AS batch_id, batch.number, batch.blend_id, "
            "batch.blend_version, batch.made_on FROM batch_entry JOIN batch ON batch.id = batch_entry.batch_id "
            "WHERE batch_entry.kind = 'container filled' ORDER BY batch_entry.id"
        )
    ).all()
    last = {}
    for row in rows:
        detail = json.loads(row.detail) if isinstance(row.detail, str) else row.detail
        if isinstance(detail, dict) and isinstance(detail.get("number"), int):
            last[row.batch_id, detail["number"]] = (row, detail)
    for (batch_id, place), (row, detail) in last.items():
        size = detail.get("size_ml")
        connection.execute(
            sa.text(
                "INSERT INTO bottle (number, batch_id, place_in_batch, blend_id, blend_version, size_ml, fill_mg, "
                "filled_on, place, opened_on, holder_id, holder, state, made_on, ends_on, turns_on, limited_by, "
                "look_on, look, ended_on, worked_by) VALUES (:number, :batch, :place, :blend, :version, :size, :mg, "
                ":day, '', NULL, NULL, '', 'stands', :day, NULL, NULL, '', NULL, '', NULL, '')"
            ),
            {
                "number": f"{row.number}-{place}",
                "batch": batch_id,
                "place": place,
                "blend": row.blend_id,
                "version": row.blend_version,
                "size": float(size) if isinstance(size, (int, float)) else 0.0,
                "mg": row.mg,
                "day": row.made_on,
            },
        )


def downgrade() -> None:
    """What befell bottles of no batch goes back to their blends; what was noted of batches' bottles is lost."""
    op.create_table(
        "bottle_event",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("blend_id", sa.Integer(), nullable=False),
        sa.Column("happened_on", sa.Date(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("detail", sa.JSON(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["blend_id"], ["blend.id"], name=op.f("fk_bottle_event_blend_id_blend")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_bottle_event")),
    )
    op.create_index(op.f("ix_bottle_event_blend_id"), "bottle_event", ["blend_id"])
    op.execute(
        "INSERT INTO bottle_event (blend_id, happened_on, kind, detail, removed_at) "
        "SELECT bottle.blend_id, bottle_note.happened_on, bottle_note.kind, bottle_note.detail, bottle_note.struck_at "
        "FROM bottle_note JOIN bottle ON bottle.id = bottle_note.bottle_id WHERE bottle.batch_id IS NULL "
        "ORDER BY bottle_note.id"
    )
    op.drop_index("ix_batch_state", table_name="batch")
    op.drop_column("lot", "status_why")
    op.drop_column("lot", "status")
    op.drop_table("bottle_note")
    op.drop_table("bottle")
