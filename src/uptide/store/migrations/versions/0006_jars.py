"""Jars under way, and what was noted of them

Revision ID: 0006
Revises: 0005
Create Date: 2026-11-26
"""

from alembic import op
import sqlalchemy as sa

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make room for jars; nothing that is stored changes."""
    op.create_table(
        "jar",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("begun_on", sa.Date(), nullable=False),
        sa.Column("asked", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_jar")),
    )
    op.create_table(
        "jar_note",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("jar_id", sa.Integer(), nullable=False),
        sa.Column("happened_on", sa.Date(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("grams", sa.Double(), nullable=True),
        sa.Column("words", sa.String(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["jar_id"], ["jar.id"], name=op.f("fk_jar_note_jar_id_jar")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_jar_note")),
    )
    op.create_index(op.f("ix_jar_note_jar_id"), "jar_note", ["jar_id"])


def downgrade() -> None:
    """Take the jars out again."""
    op.drop_index(op.f("ix_jar_note_jar_id"), table_name="jar_note")
    op.drop_table("jar_note")
    op.drop_table("jar")
