"""Plants of one's own

Revision ID: 0010
Revises: 0009
Create Date: 2026-11-26
"""

from alembic import op
import sqlalchemy as sa

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make room for them; nothing that is stored changes."""
    op.create_table(
        "own_plant",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("entered_at", sa.DateTime(), nullable=False),
        sa.Column("said", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_own_plant")),
    )
    op.create_index(op.f("ix_own_plant_key"), "own_plant", ["key"])


def downgrade() -> None:
    """Take them out again."""
    op.drop_index(op.f("ix_own_plant_key"), table_name="own_plant")
    op.drop_table("own_plant")
