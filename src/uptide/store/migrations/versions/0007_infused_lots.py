"""What a lot was infused with

Revision ID: 0007
Revises: 0006
Create Date: 2026-11-26
"""

from alembic import op
import sqlalchemy as sa

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make room for it; nothing that is stored changes."""
    with op.batch_alter_table("lot") as lot:
        lot.add_column(sa.Column("infusion", sa.JSON(), nullable=True))


def downgrade() -> None:
    """Take it out again."""
    with op.batch_alter_table("lot") as lot:
        lot.drop_column("infusion")
