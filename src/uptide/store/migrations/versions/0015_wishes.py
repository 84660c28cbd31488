"""Wishes that are kept, to be asked again when the shelf has changed

Revision ID: 0015
Revises: 0014
Create Date: 2026-11-27
"""

from alembic import op
import sqlalchemy as sa

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make room for them; nothing that is stored changes."""
    op.create_table(
        "wish",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("said", sa.String(), nullable=False),
        sa.Column("measure", sa.String(), nullable=False),
        sa.Column("kept_at", sa.DateTime(), nullable=False),
        sa.Column("shelf", sa.Integer(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_wish")),
    )


def downgrade() -> None:
    """Take them out again."""
    op.drop_table("wish")
