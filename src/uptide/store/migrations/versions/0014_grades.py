"""A lot may be of a grade: refined, unrefined, or drawn out by carbon dioxide

Revision ID: 0014
Revises: 0013
Create Date: 2026-11-27
"""

from alembic import op
import sqlalchemy as sa

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Nobody has said it of any lot yet."""
    op.add_column("lot", sa.Column("grade", sa.String(), server_default="", nullable=False))


def downgrade() -> None:
    """What was said of it goes into the note, so that it is not lost."""
    lots = sa.table("lot", sa.column("grade", sa.String()), sa.column("note", sa.String()))
    said = sa.literal("Grade: ") + lots.c.grade + sa.literal(". ") + lots.c.note
    op.get_bind().execute(lots.update().where(lots.c.grade != "").values(note=said))
    op.drop_column("lot", "grade")
