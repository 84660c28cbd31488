"""Whom a blend was made for, in words where nobody's card was meant

Revision ID: 0016
Revises: 0015
Create Date: 2026-11-28
"""

from alembic import op
import sqlalchemy as sa

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make room for the words; what is stored was said without any."""
    op.add_column("blend_version", sa.Column("whom", sa.String(), nullable=False, server_default=""))


def downgrade() -> None:
    """Take them out again."""
    op.drop_column("blend_version", "whom")
