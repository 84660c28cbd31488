"""No words in used forms: what was typed stood in the token of a form, and outlived the card it was about.

Revision ID: 0005
Revises: 0004
Create Date: 2026-11-26
"""

from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Forget them: they only keep a form that is sent twice from acting twice."""
    op.execute("DELETE FROM used_form WHERE token LIKE '%{%'")


def downgrade() -> None:
    """What was forgotten stays forgotten."""
