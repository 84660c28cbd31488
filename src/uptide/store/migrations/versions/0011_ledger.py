"""What is left of a lot is the sum of what moved

Revision ID: 0011
Revises: 0010
Create Date: 2026-11-27
"""

from datetime import date, datetime, timezone
from math import isfinite

from alembic import op
import sqlalchemy as sa

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

MOST_GRAMS = 1e6
REFUSED = ("update", "delete")


def upgrade() -> None:
    """Today's lots come in as received, and as used before there was a ledger; what cannot be read goes into the note."""
    op.create_table(
        "movement",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("lot_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("mg", sa.Integer(), nullable=False),
        sa.Column("happened_on", sa.Date(), nullable=False),
        sa.Column("entered_at", sa.DateTime(), nullable=False),
        sa.Column("entered_by", sa.String(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("reverses", sa.Integer(), nullable=True),
        sa.Column("token", sa.String(), nullable=False),
        sa.CheckConstraint("mg <> 0", name=op.f("ck_movement_moves")),
        sa.ForeignKeyConstraint(["lot_id"], ["lot.id"], name=op.f("fk_movement_lot_id_lot")),
        sa.ForeignKeyConstraint(["reverses"], ["movement.id"], name=op.f("fk_movement_reverses_movement")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_movement")),
        sa.UniqueConstraint("reverses", name=op.f("uq_movement_reverses")),
        sa.UniqueConstraint("token", name=op.f("uq_movement_token")),
    )
    op.create_index("ix_movement_lot_mg", "movement", ["lot_id", "mg"])
    lots, movements = _tables()
    connection = op.get_bind()
    now = datetime.now(timezone.utc).replace(tzinfo=None)
    for lot in connection.execute(sa.select(lots)).mappings().all():
        bought, left = lot["bought_g"], lot["left_g"]
        if not (_is_mass(bought) and _is_mass(left)):
            note = f"Bought and left as they stood before the ledger: {bought}, {left}. {lot['note']}".strip()
            connection.execute(lots.update().where(lots.c.id == lot["id"]).values(note=note))
            continue
        day = lot["received_on"] if isinstance(lot["received_on"], date) else now.date()
        came, used = round(1000 * bought), round(1000 * left) - round(1000 * bought)
        for kind, mg, reason in (("receive", came, ""), ("adjust", used, "used before the ledger")):
            if mg:
                connection.execute(
                    movements.insert().values(
                        lot_id=lot["id"],
                        kind=kind,
                        mg=mg,
                        happened_on=day,
                        entered_at=now,
                        entered_by="",
                        reason=reason,
                        token=f"before-the-ledger-{lot['id']}-{kind}",
                    )
                )
    # The column stays: SQLite drops none that a check names without copying the table, and certificates point at it.
    connection.execute(lots.update().values(left_g=0.0))
    if op.get_bind().dialect.name == "postgresql":
        op.execute(
            "CREATE FUNCTION movement_stays() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RAISE EXCEPTION "
            "'the ledger is only added to' USING ERRCODE = 'integrity_constraint_violation'; END $$"
        )
    for what in REFUSED:
        head = f"CREATE TRIGGER movement_no_{what} BEFORE {what.upper()} ON movement "
        if op.get_bind().dialect.name == "postgresql":
            op.execute(f"{head} FOR EACH ROW EXECUTE FUNCTION movement_stays()")
        else:
            op.execute(f"{head}BEGIN SELECT RAISE(ABORT, 'the ledger is only added to'); END")


def downgrade() -> None:
    """What is left becomes a number again; what moved is lost."""
    for what in REFUSED:
        of = " ON movement" if op.get_bind().dialect.name == "postgresql" else ""
        op.execute(f"DROP TRIGGER movement_no_{what}{of}")
    if op.get_bind().dialect.name == "postgresql":
        op.execute("DROP FUNCTION movement_stays()")
    is_postgres = op.get_bind().dialect.name == "postgresql"
    most, least = ("greatest", "least") if is_postgres else ("max", "min")
    op.execute(
        f"UPDATE lot SET left_g = {most}(0, {least}(bought_g, "
        "(SELECT coalesce(sum(mg), 0) / 1000.0 FROM movement WHERE lot_id = lot.id)))"
    )
    op.drop_index("ix_movement_lot_mg", table_name="movement")
    op.drop_table("movement")


def _tables() -> tuple[sa.Table, sa.Table]:
    metadata = sa.MetaData()
    lots = sa.Table(
        "lot",
        metadata,
        sa.Column("id", sa.Integer()),
        sa.Column("bought_g", sa.Double()),
        sa.Column("left_g", sa.Double()),
        sa.Column("note", sa.String()),
        sa.Column("received_on", sa.Date()),
    )
    return lots, sa.Table("movement", metadata, autoload_with=op.get_bind())


def _is_mass(value: object) -> bool:
    return isinstance(value, (int, float)) and isfinite(value) and 0 <= value <= MOST_GRAMS
