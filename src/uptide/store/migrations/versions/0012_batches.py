"""Batches and what happened to them

Revision ID: 0012
Revises: 0011
Create Date: 2026-11-27
"""

from alembic import op
import sqlalchemy as sa

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

REFUSED = ("update", "delete")


def upgrade() -> None:
    """Make room for them; nothing that is stored changes."""
    op.create_table(
        "batch",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("number", sa.String(), nullable=False),
        sa.Column("blend_id", sa.Integer(), nullable=False),
        sa.Column("blend_version", sa.Integer(), nullable=False),
        sa.Column("planned_at", sa.DateTime(), nullable=False),
        sa.Column("made_on", sa.Date(), nullable=False),
        sa.Column("made_by", sa.String(), nullable=False),
        sa.Column("plan", sa.JSON(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("holder", sa.String(), nullable=False),
        sa.Column("held_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["blend_id"], ["blend.id"], name=op.f("fk_batch_blend_id_blend")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_batch")),
        sa.UniqueConstraint("number", name=op.f("uq_batch_number")),
    )
    op.create_index(op.f("ix_batch_blend_id"), "batch", ["blend_id"])
    op.create_table(
        "batch_entry",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("batch_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=True),
        sa.Column("ingredient", sa.String(), nullable=False),
        sa.Column("lot_id", sa.Integer(), nullable=True),
        sa.Column("mg", sa.Integer(), nullable=True),
        sa.Column("detail", sa.JSON(), nullable=False),
        sa.Column("happened_at", sa.DateTime(), nullable=False),
        sa.Column("entered_by", sa.String(), nullable=False),
        sa.Column("token", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["batch_id"], ["batch.id"], name=op.f("fk_batch_entry_batch_id_batch")),
        sa.ForeignKeyConstraint(["lot_id"], ["lot.id"], name=op.f("fk_batch_entry_lot_id_lot")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_batch_entry")),
        sa.UniqueConstraint("batch_id", "seq", name=op.f("uq_batch_entry_batch_id")),
        sa.UniqueConstraint("token", name=op.f("uq_batch_entry_token")),
    )
    op.create_index(op.f("ix_batch_entry_lot_id"), "batch_entry", ["lot_id"])
    if op.get_bind().dialect.name == "postgresql":
        op.execute(
            "CREATE FUNCTION batch_entry_stays() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RAISE EXCEPTION "
            "'what happened to a batch is only added to' USING ERRCODE = 'integrity_constraint_violation'; END $$"
        )
    for what in REFUSED:
        head = f"CREATE TRIGGER batch_entry_no_{what} BEFORE {what.upper()} ON batch_entry "
        if op.get_bind().dialect.name == "postgresql":
            op.execute(f"{head} FOR EACH ROW EXECUTE FUNCTION batch_entry_stays()")
        else:
            op.execute(f"{head}BEGIN SELECT RAISE(ABORT, 'what happened to a batch is only added to'); END")


def downgrade() -> None:
    """Take them out again."""
    for what in REFUSED:
        of = " ON batch_entry" if op.get_bind().dialect.name == "postgresql" else ""
        op.execute(f"DROP TRIGGER batch_entry_no_{what}{of}")
    if op.get_bind().dialect.name == "postgresql":
        op.execute("DROP FUNCTION batch_entry_stays()")
    op.drop_index(op.f("ix_batch_entry_lot_id"), table_name="batch_entry")
    op.drop_table("batch_entry")
    op.drop_index(op.f("ix_batch_blend_id"), table_name="batch")
    op.drop_table("batch")
