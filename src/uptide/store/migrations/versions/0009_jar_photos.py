"""Photos of jars

Revision ID: 0009
Revises: 0008
Create Date: 2026-11-26
"""

from alembic import op
import sqlalchemy as sa

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make room for photos; nothing that is stored changes."""
    op.create_table(
        "jar_photo",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("jar_id", sa.Integer(), nullable=False),
        sa.Column("taken_on", sa.Date(), nullable=False),
        sa.Column("words", sa.String(), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["jar_id"], ["jar.id"], name=op.f("fk_jar_photo_jar_id_jar")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_jar_photo")),
    )
    op.create_index(op.f("ix_jar_photo_jar_id"), "jar_photo", ["jar_id"])


def downgrade() -> None:
    """Take them out again."""
    op.drop_index(op.f("ix_jar_photo_jar_id"), table_name="jar_photo")
    op.drop_table("jar_photo")
