"""The first tables: blends, versions, lots, preferences"""

from alembic import op
import sqlalchemy as sa


revision = '0001'
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.create_table('blend',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('archived_at', sa.DateTime(), nullable=True),
    sa.Column('copied_from', sa.Integer(), nullable=True),
    sa.ForeignKeyConstraint(['copied_from'], ['blend.id'], name=op.f('fk_blend_copied_from_blend')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_blend'))
    )
    op.create_table('lot',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('code', sa.String(), nullable=False),
    sa.Column('ingredient', sa.String(), nullable=False),
    sa.Column('supplier', sa.String(), nullable=False),
    sa.Column('received_on', sa.Date(), nullable=True),
    sa.Column('opened_on', sa.Date(), nullable=True),
    sa.Column('best_before', sa.Date(), nullable=True),
    sa.Column('bought_g', sa.Double(), nullable=False),
    sa.Column('left_g', sa.Double(), nullable=False),
    sa.Column('price', sa.Double(), nullable=True),
    sa.Column('currency', sa.String(), nullable=False),
    sa.Column('place', sa.String(), nullable=False),
    sa.CheckConstraint('bought_g > 0', name=op.f('ck_lot_bought')),
    sa.CheckConstraint('left_g >= 0 AND left_g <= bought_g', name=op.f('ck_lot_left')),
    sa.CheckConstraint('price IS NULL OR price >= 0', name=op.f('ck_lot_price')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_lot')),
    sa.UniqueConstraint('code', name=op.f('uq_lot_code'))
    )
    with op.batch_alter_table('lot', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_lot_ingredient'), ['ingredient'], unique=False)

    op.create_table('preference',
    sa.Column('key', sa.String(), nullable=False),
    sa.Column('value', sa.JSON(), nullable=False),
    sa.PrimaryKeyConstraint('key', name=op.f('pk_preference'))
    )
    op.create_table('used_form',
    sa.Column('token', sa.String(), nullable=False),
    sa.Column('used_at', sa.DateTime(), nullable=False),
    sa.Column('led_to', sa.String(), nullable=False),
    sa.PrimaryKeyConstraint('token', name=op.f('pk_used_form'))
    )
    op.create_table('blend_version',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('blend_id', sa.Integer(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('saved_at', sa.DateTime(), nullable=False),
    sa.Column('note', sa.String(), nullable=False),
    sa.Column('product', sa.String(), nullable=False),
    sa.Column('container_kind', sa.String(), nullable=True),
    sa.Column('container_ml', sa.Double(), nullable=True),
    sa.Column('habits', sa.JSON(), nullable=False),
    sa.ForeignKeyConstraint(['blend_id'], ['blend.id'], name=op.f('fk_blend_version_blend_id_blend')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_blend_version')),
    sa.UniqueConstraint('blend_id', 'number', name=op.f('uq_blend_version_blend_id'))
    )
    with op.batch_alter_table('blend_version', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_blend_version_blend_id'), ['blend_id'], unique=False)

    op.create_table('blend_entry',
    sa.Column('version_id', sa.Integer(), nullable=False),
    sa.Column('position', sa.Integer(), nullable=False),
    sa.Column('typed', sa.String(), nullable=False),
    sa.Column('answers', sa.JSON(), nullable=False),
    sa.ForeignKeyConstraint(['version_id'], ['blend_version.id'], name=op.f('fk_blend_entry_version_id_blend_version')),
    sa.PrimaryKeyConstraint('version_id', 'position', name=op.f('pk_blend_entry'))
    )



def downgrade() -> None:

    op.drop_table('blend_entry')
    with op.batch_alter_table('blend_version', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_blend_version_blend_id'))

    op.drop_table('blend_version')
    op.drop_table('used_form')
    op.drop_table('preference')
    with op.batch_alter_table('lot', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_lot_ingredient'))

    op.drop_table('lot')
    op.drop_table('blend')

