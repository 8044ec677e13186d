"""Tapped vessels: what is done to them, what their taps are made of, heaters and what power costs, draws from a stirred vessel."""

import sqlalchemy as sa
from alembic import op

from kyklos.store.records.base import UtcTime

revision = '0016'
down_revision = '0015'


def upgrade() -> None:
    """A table of its own for the care; the rest belongs to what is there."""
    op.create_table(
        'upkeep',
        sa.Column('vessel_id', sa.Integer(), nullable=False),
        sa.Column('at', UtcTime(), nullable=False),
        sa.Column('what', sa.String(), nullable=False),
        sa.Column('celsius', sa.Float(), nullable=True),
        sa.Column('before_mm', sa.Float(), nullable=True),
        sa.Column('after_mm', sa.Float(), nullable=True),
        sa.Column('note', sa.String(), nullable=False, server_default=''),
        sa.Column('id', sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(['vessel_id'], ['vessel.id'], name=op.f('fk_upkeep_vessel_id_vessel')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_upkeep')),
    )
    op.create_index(op.f('ix_upkeep_vessel_id'), 'upkeep', ['vessel_id'], unique=False)
    with op.batch_alter_table('vessel', schema=None) as batch_op:
        batch_op.add_column(sa.Column('tap_made_of', sa.String(), nullable=False, server_default=''))
        batch_op.add_column(sa.Column('heater_w', sa.Float(), nullable=True))
    with op.batch_alter_table('household', schema=None) as batch_op:
        batch_op.add_column(sa.Column('power_price', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('glass_l', sa.Float(), nullable=True))
    with op.batch_alter_table('addition', schema=None) as batch_op:
        batch_op.add_column(sa.Column('honey_share', sa.Float(), nullable=True))
    with op.batch_alter_table('transfer', schema=None) as batch_op:
        batch_op.add_column(sa.Column('stirred', sa.Boolean(), nullable=False, server_default=sa.false()))
