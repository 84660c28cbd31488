"""What a thermometer said of a jar

Revision ID: 0008
Revises: 0007
Create Date: 2026-11-26
"""

from alembic import op
import sqlalchemy as sa

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make room for readings; nothing that is stored changes."""
    op.create_table(
        "jar_reading",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("jar_id", sa.Integer(), nullable=False),
        sa.Column("read_at", sa.DateTime(), nullable=False),
        sa.Column("celsius", sa.Double(), nullable=False),
        sa.Column("typed", sa.Boolean(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["jar_id"], ["jar.id"], name=op.f("fk_jar_reading_jar_id_jar")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_jar_reading")),
    )
    op.create_index(op.f("ix_jar_reading_jar_id"), "jar_reading", ["jar_id"])


def downgrade() -> None:
    """Take them out again."""
    op.drop_index(op.f("ix_jar_reading_jar_id"), table_name="jar_reading")
    op.drop_table("jar_reading")
